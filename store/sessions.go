package store

import (
	"context"
	"time"
)

// Sessions keeps sign-ins for the session manager. A session is found by a hash of its token and of the very table it
// was put into: nobody who reads the database can sign in with what stands there, and a restored backup, whose table
// is another, brings back no sign-in that was ended since.
type Sessions struct{ store *Store }

// Sessions are the shop's sign-ins.
func (s *Store) Sessions() Sessions { return Sessions{s} }

// keyed is a session's key in the database, made of the token in the statement's first parameter.
const keyed = `encode(sha256(convert_to($1 || ' ' || 'sessions'::regclass::oid::text, 'UTF8')), 'hex')`

// FindCtx gives a session's data, if it is there and has not ended.
func (x Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	rows, err := x.store.Pool.Query(
		ctx,
		"SELECT data FROM sessions WHERE token = "+keyed+" AND expiry > clock_timestamp()",
		token,
	)
	if err != nil {
		return nil, false, translate(err, "session")
	}
	defer rows.Close()
	var data []byte
	found := rows.Next()
	if found {
		err = rows.Scan(&data)
	}
	if err == nil {
		rows.Close()
		err = rows.Err()
	}
	return data, found && err == nil, err
}

// CommitCtx stores a session, which is JSON and says of which sign-in it is.
func (x Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	_, err := x.store.Pool.Exec(ctx, "INSERT INTO sessions (token, data, expiry, sign_in_id) VALUES ("+keyed+`, $2, $3,
			nullif(convert_from($2, 'UTF8')::jsonb->'values'->>'signIn', '')::uuid)
		ON CONFLICT (token) DO UPDATE SET data = excluded.data, expiry = excluded.expiry, sign_in_id = excluded.sign_in_id`,
		token, data, expiry)
	return translate(err, "session")
}

// DeleteCtx ends a session, and tells the screens that follow with it.
func (x Sessions) DeleteCtx(ctx context.Context, token string) error {
	_, err := x.store.Pool.Exec(ctx, "DELETE FROM sessions WHERE token = "+keyed, token)
	return translate(err, "session")
}

// Find, Commit and Delete are for callers without a context.
func (x Sessions) Find(token string) ([]byte, bool, error) {
	return x.FindCtx(context.Background(), token)
}

// Commit stores a session.
func (x Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return x.CommitCtx(context.Background(), token, data, expiry)
}

// Delete ends a session.
func (x Sessions) Delete(token string) error { return x.DeleteCtx(context.Background(), token) }

// Key is what a session is told by when it ends.
func (x Sessions) Key(ctx context.Context, token string) (string, error) {
	var key string
	err := x.store.Pool.QueryRow(ctx, "SELECT "+keyed, token).Scan(&key)
	return key, translate(err, "session")
}

// Limit is a measure of sign-in tries: so many at once, then one more each time.
type Limit struct {
	Key   string
	Burst float64
	Every time.Duration
}

// TakeTry takes one try from every limit, or reports that one of them has none left. It counts before a password is
// looked at, and for all servers on the database together, so that many tries at once are no more tries.
func (s *Store) TakeTry(ctx context.Context, limits ...Limit) (bool, error) {
	// A clock that went back would have tries wait until it has caught up.
	keys := make([]string, len(limits))
	for i, l := range limits {
		keys[i] = l.Key
	}
	_, err := s.Pool.Exec(ctx, `UPDATE sign_in_limits SET at = clock_timestamp() WHERE key = ANY($1) AND at > clock_timestamp()`, keys)
	if err != nil {
		return false, translate(err, "sign-in")
	}
	tx, err := s.Pool.Begin(ctx)
	if err != nil {
		return false, translate(err, "sign-in")
	}
	defer func() { _ = tx.Rollback(context.WithoutCancel(ctx)) }()
	for _, l := range limits {
		done, err := tx.Exec(
			ctx,
			`INSERT INTO sign_in_limits AS l (key, tokens, at) VALUES ($1, $2::float8 - 1, clock_timestamp())
			ON CONFLICT (key) DO UPDATE SET at = clock_timestamp(),
				tokens = least($2::float8, l.tokens + extract(epoch FROM clock_timestamp() - l.at)::float8 / $3::float8) - 1
			WHERE least($2::float8, l.tokens + extract(epoch FROM clock_timestamp() - l.at)::float8 / $3::float8) >= 1`,
			l.Key,
			l.Burst,
			l.Every.Seconds(),
		)
		if err != nil {
			return false, translate(err, "sign-in")
		}
		if done.RowsAffected() == 0 {
			return false, nil
		}
	}
	return true, translate(tx.Commit(ctx), "sign-in")
}

// GiveTryBack gives the try back that a right password took.
func (s *Store) GiveTryBack(ctx context.Context, limits ...Limit) error {
	for _, l := range limits {
		_, err := s.Pool.Exec(
			ctx,
			"UPDATE sign_in_limits SET tokens = least($2::float8, tokens + 1) WHERE key = $1",
			l.Key,
			l.Burst,
		)
		if err != nil {
			return translate(err, "sign-in")
		}
	}
	return nil
}

// SignedIn gives the try back that a right password took, and remembers the device by the hash of its token: there a stranger's
// tries at the name do not lock its owner out.
func (s *Store) SignedIn(ctx context.Context, personID, device string, limits ...Limit) error {
	if err := s.GiveTryBack(ctx, limits...); err != nil {
		return err
	}
	_, err := s.Pool.Exec(ctx, `INSERT INTO known_devices (person_id, token_hash, at) VALUES ($1, $2, clock_timestamp())
		ON CONFLICT (person_id, token_hash) DO UPDATE SET at = clock_timestamp()`, personID, device)
	return translate(err, "sign-in")
}

// KnownOn reports whether a person signed in on a device before, by the hash of its token.
func (s *Store) KnownOn(ctx context.Context, personID, device string) (bool, error) {
	var known bool
	err := s.Pool.QueryRow(ctx, "SELECT EXISTS (SELECT 1 FROM known_devices WHERE person_id = $1 AND token_hash = $2)",
		personID, device).Scan(&known)
	return known, translate(err, "sign-in")
}

// Wrong digits that a shared tablet takes in a night, over all people and of one of them: of the 10,000 there are, whoever holds
// the tablet finds somebody's with a chance of one in a hundred, and one named person's of one in eight hundred.
const (
	mostTries   = 100
	mostTriesOf = 12
	nightOfTry  = "12 hours"
)

// TakeDigits takes a try at somebody's digits on a tablet, before they are looked at, or reports that there is none left. Tries at
// once wait for each other.
func (s *Store) TakeDigits(ctx context.Context, deviceID, personID string) (try int64, may bool, err error) {
	tx, err := s.Pool.Begin(ctx)
	if err != nil {
		return 0, false, translate(err, "digits")
	}
	defer func() { _ = tx.Rollback(context.WithoutCancel(ctx)) }()
	if _, err := tx.Exec(ctx, "SELECT pg_advisory_xact_lock(hashtext('digits ' || $1))", deviceID); err != nil {
		return 0, false, translate(err, "digits")
	}
	var all, of int
	err = tx.QueryRow(ctx, `SELECT count(*), count(*) FILTER (WHERE person_id = $2) FROM digit_tries
		WHERE device_id = $1 AND at > clock_timestamp() - interval '`+nightOfTry+`'`, deviceID, personID).Scan(&all, &of)
	if err != nil || all >= mostTries || of >= mostTriesOf {
		return 0, false, translate(err, "digits")
	}
	err = tx.QueryRow(ctx, "INSERT INTO digit_tries (device_id, person_id) VALUES ($1, $2) RETURNING id", deviceID, personID).Scan(&try)
	if err != nil {
		return 0, false, translate(err, "digits")
	}
	return try, true, translate(tx.Commit(ctx), "digits")
}

// RightDigits takes back the try that was right. The wrong ones before it stay: whoever guesses signs in as themselves between.
func (s *Store) RightDigits(ctx context.Context, try int64) error {
	_, err := s.Pool.Exec(ctx, "DELETE FROM digit_tries WHERE id = $1", try)
	return translate(err, "digits")
}

// ClearDigits lets a tablet take digits again, when a lead says so.
func (s *Store) ClearDigits(ctx context.Context, deviceID string) error {
	_, err := s.Pool.Exec(ctx, "DELETE FROM digit_tries WHERE device_id = $1", deviceID)
	return translate(err, "digits")
}

// How long what is kept about sign-ins is of use.
const (
	limitsKept = "1 hour"
	placesKept = "90 days"
)

// Sweep lets go of sessions that have ended and of what is no longer of use about sign-ins.
func (s *Store) Sweep(ctx context.Context) error {
	_, err := s.Pool.Exec(ctx, `WITH a AS (DELETE FROM sessions WHERE expiry < clock_timestamp()),
		b AS (DELETE FROM sign_in_limits WHERE at < clock_timestamp() - interval '`+limitsKept+`'),
		c AS (DELETE FROM sign_ins i WHERE seen_at < clock_timestamp() - interval '`+placesKept+`'
			AND NOT EXISTS (SELECT 1 FROM sessions x WHERE x.sign_in_id = i.id)),
		d AS (DELETE FROM digit_tries WHERE at < clock_timestamp() - interval '`+nightOfTry+`')
		DELETE FROM known_devices WHERE at < clock_timestamp() - interval '`+placesKept+`'`)
	return translate(err, "sign-ins")
}

// MarkKind says once what kind of shop the database holds.
func (s *Store) MarkKind(ctx context.Context, demo bool) error {
	_, err := s.Pool.Exec(ctx, "INSERT INTO shop_kind (demo) VALUES ($1) ON CONFLICT DO NOTHING", demo)
	return translate(err, "shop")
}

// Ahead is how far a demo's own clock goes ahead of the machine's; none in a real shop, or before there are tables.
func (s *Store) Ahead(ctx context.Context) (time.Duration, error) {
	if ours, err := s.IsDemo(ctx); err != nil || !ours {
		return 0, err
	}
	var seconds int
	err := s.Pool.QueryRow(ctx, "SELECT coalesce((SELECT ahead_seconds FROM shop_kind), 0)").Scan(&seconds)
	return time.Duration(seconds) * time.Second, translate(err, "shop")
}

// GoAhead sets how far a demo's own clock goes ahead.
func (s *Store) GoAhead(ctx context.Context, by time.Duration) error {
	_, err := s.Pool.Exec(ctx, "UPDATE shop_kind SET ahead_seconds = $1 WHERE demo", int(by/time.Second))
	return translate(err, "shop")
}

// IsDemo reports whether the database was marked as a demo. One without a mark, or without tables yet, is none.
func (s *Store) IsDemo(ctx context.Context) (bool, error) {
	var there bool
	err := s.Pool.QueryRow(ctx, "SELECT to_regclass('shop_kind') IS NOT NULL").Scan(&there)
	if err != nil || !there {
		return false, translate(err, "shop")
	}
	var demo bool
	err = s.Pool.QueryRow(ctx, "SELECT coalesce((SELECT demo FROM shop_kind), false)").Scan(&demo)
	return demo, translate(err, "shop")
}

// Empty reports whether nobody is in the database, or it has no tables yet.
func (s *Store) Empty(ctx context.Context) (bool, error) {
	var there bool
	err := s.Pool.QueryRow(ctx, "SELECT to_regclass('people') IS NOT NULL").Scan(&there)
	if err != nil || !there {
		return !there, translate(err, "shop")
	}
	var anybody bool
	err = s.Pool.QueryRow(ctx, "SELECT EXISTS (SELECT 1 FROM people)").Scan(&anybody)
	return !anybody, translate(err, "shop")
}
