package store

import (
	"context"
	"errors"
	"time"

	"github.com/jackc/pgx/v5"
)

// Authenticator is somebody's authenticator app: its shared secret, since when it is asked for, and how many recovery codes are left.
type Authenticator struct {
	Secret string
	On     *time.Time // nil while it is being set up
	Left   int
}

// Authenticator finds somebody's; the zero value when they have none.
func (s *Store) Authenticator(ctx context.Context, personID string) (Authenticator, error) {
	var a Authenticator
	err := s.Pool.QueryRow(ctx, `SELECT secret, on_at,
			(SELECT count(*) FROM recovery_codes r WHERE r.person_id = a.person_id AND r.used_at IS NULL)
		FROM authenticators a WHERE person_id = $1`, personID).Scan(&a.Secret, &a.On, &a.Left)
	if errors.Is(err, pgx.ErrNoRows) {
		return a, nil
	}
	return a, translate(err, "authenticator")
}

// OfferAuthenticator keeps a secret until its first code is typed; ErrTaken when one is on already.
func (s *Store) OfferAuthenticator(ctx context.Context, personID, secret string) error {
	done, err := s.Pool.Exec(ctx, `INSERT INTO authenticators (person_id, secret) VALUES ($1, $2)
		ON CONFLICT (person_id) DO UPDATE SET secret = excluded.secret WHERE authenticators.on_at IS NULL`, personID, secret)
	if err == nil && done.RowsAffected() == 0 {
		return of("authenticator", ErrTaken)
	}
	return translate(err, "authenticator")
}

// TurnOn asks for an authenticator from now on, once its secret has made a code at a step of its clock, and keeps the hashes of its
// recovery codes; ErrStale when it is on already or another was begun meanwhile.
func (s *Store) TurnOn(ctx context.Context, personID, secret string, step int64, hashes []string, at time.Time) error {
	done, err := s.Pool.Exec(ctx, `WITH turned AS (UPDATE authenticators SET on_at = $3, last_step = $4
			WHERE person_id = $1 AND secret = $2 AND on_at IS NULL RETURNING person_id)
		INSERT INTO recovery_codes (person_id, hash) SELECT person_id, unnest($5::text[]) FROM turned`, personID, secret, at, step, hashes)
	if err == nil && done.RowsAffected() == 0 {
		return of("authenticator", ErrStale)
	}
	return translate(err, "authenticator")
}

// UseStep reports whether a step of an authenticator's clock is new, and takes it: a code that somebody saw over a shoulder opens nothing.
func (s *Store) UseStep(ctx context.Context, personID string, step int64) (bool, error) {
	done, err := s.Pool.Exec(ctx, "UPDATE authenticators SET last_step = $2 WHERE person_id = $1 AND on_at IS NOT NULL AND last_step < $2",
		personID, step)
	return err == nil && done.RowsAffected() == 1, translate(err, "authenticator")
}

// UseRecovery reports whether a recovery code is one that was not used yet, and uses it.
func (s *Store) UseRecovery(ctx context.Context, personID, hash string, at time.Time) (bool, error) {
	done, err := s.Pool.Exec(ctx, "UPDATE recovery_codes SET used_at = $3 WHERE person_id = $1 AND hash = $2 AND used_at IS NULL",
		personID, hash, at)
	return err == nil && done.RowsAffected() == 1, translate(err, "authenticator")
}

// TurnOff asks for no authenticator any more; ErrNotFound when there is none.
func (s *Store) TurnOff(ctx context.Context, personID string) error {
	done, err := s.Pool.Exec(ctx, "DELETE FROM authenticators WHERE person_id = $1", personID)
	if err == nil && done.RowsAffected() == 0 {
		return NoSuch("authenticator")
	}
	return translate(err, "authenticator")
}
