// Package store keeps the shop in PostgreSQL. It is the only place that knows the database.
package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"uskel/core/procedure"
)

//go:embed migrations/*.sql
var migrationFiles embed.FS

// Store is the shop's database.
type Store struct {
	Pool      *pgxpool.Pool
	db        *gorm.DB
	published *published
	book      *book
	signed    *signedFindings
	seen      *watched
}

// The errors callers tell apart.
var (
	ErrNotFound = errors.New("not found")
	// ErrStale means that somebody else saved first.
	ErrStale = errors.New("changed by someone else meanwhile")
	// ErrTaken means that a name or a place is used already.
	ErrTaken = errors.New("taken")
)

// About is one of the errors that callers tell apart, and of what it is said.
type About struct {
	What string
	kind error
}

func (r *About) Error() string { return r.What + ": " + r.kind.Error() }

// Unwrap is which of the errors it is.
func (r *About) Unwrap() error { return r.kind }

func of(what string, kind error) error { return &About{what, kind} }

// NoSuch says of what was asked for that there is none.
func NoSuch(what string) error { return of(what, ErrNotFound) }

// stale says of what somebody else saved first.
func stale(what string) error { return of(what, ErrStale) }

// Open connects. One pool serves GORM, migrations and sessions. It does not wait for the server: a database that is
// away makes operations fail until it is back.
func Open(ctx context.Context, url string) (*Store, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("database address: %w", err)
	}
	config.MaxConns = 12
	config.ConnConfig.ConnectTimeout = 3 * time.Second
	// A statement that runs or waits too long is ended: it would hold its connection from everybody else.
	config.ConnConfig.RuntimeParams["statement_timeout"] = limit(statementLimit)
	config.ConnConfig.RuntimeParams["lock_timeout"] = limit(lockLimit)
	config.ConnConfig.RuntimeParams["idle_in_transaction_session_timeout"] = limit(statementLimit)
	seen := &watched{}
	config.ConnConfig.Tracer = seen
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, fmt.Errorf("database: %w", err)
	}
	conns := sql.OpenDB(patient{stdlib.GetPoolConnector(pool)})
	conns.SetMaxIdleConns(0) // the pool keeps them
	db, err := gorm.Open(postgres.New(postgres.Config{Conn: conns}), &gorm.Config{
		TranslateError: true, SkipDefaultTransaction: true, DisableAutomaticPing: true,
		Logger: logger.Discard, NowFunc: func() time.Time { return time.Now().UTC().Truncate(time.Microsecond) },
	})
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("database: %w", err)
	}
	return &Store{pool, db, &published{docs: map[publishedKey]procedure.Procedure{}}, &book{}, &signedFindings{}, seen}, nil
}

// How long a statement may run, wait for a row that somebody holds, and wait for a connection.
const (
	statementLimit  = 20 * time.Second
	lockLimit       = 8 * time.Second
	connectionLimit = 5 * time.Second
)

// limit is a span as PostgreSQL reads it.
func limit(d time.Duration) string { return fmt.Sprintf("%d", d.Milliseconds()) }

// patient waits for a connection only so long: when all are busy, somebody is told to come again rather than kept
// waiting.
type patient struct{ driver.Connector }

// Connect gives a connection from the pool.
func (p patient) Connect(ctx context.Context) (driver.Conn, error) {
	waiting, done := context.WithTimeout(ctx, connectionLimit)
	defer done()
	conn, err := p.Connector.Connect(waiting)
	if err != nil && ctx.Err() == nil && waiting.Err() != nil {
		return nil, errBusy
	}
	return conn, err
}

// errBusy means that every connection was in use for too long.
var errBusy = errors.New("every connection to the database is busy")

// Close ends all connections.
func (s *Store) Close() { s.Pool.Close() }

// Migrate brings the schema up to date. Servers that start at once wait for each other.
func (s *Store) Migrate(ctx context.Context) error {
	if _, beyond, err := s.Schema(ctx); err != nil {
		return err
	} else if beyond > 0 {
		return ErrNewer
	}
	return s.migrations(func(provider *goose.Provider) error {
		_, err := provider.Up(ctx)
		return err
	})
}

// Schema is how many migrations the database lacks, and how many it has that this program does not know: then a newer
// one has been here, and this one keeps its hands off. It is one small question, as screens ask it every few seconds.
func (s *Store) Schema(ctx context.Context) (lacks, beyond int, err error) {
	files, err := fs.Glob(migrationFiles, "migrations/*.sql")
	if err != nil {
		return 0, 0, err
	}
	var there bool
	if err := s.Pool.QueryRow(ctx, "SELECT to_regclass('goose_db_version') IS NOT NULL").
		Scan(&there); err != nil ||
		!there {
		return len(files), 0, translate(err, "schema")
	}
	var known int
	err = s.Pool.QueryRow(ctx, `SELECT count(DISTINCT version_id) FILTER (WHERE version_id <= $1),
		count(DISTINCT version_id) FILTER (WHERE version_id > $1)
		FROM goose_db_version WHERE is_applied AND version_id > 0`, len(files)).Scan(&known, &beyond)
	return max(0, len(files)-known), beyond, translate(err, "schema")
}

// ErrNewer means that the database was brought up to date by a newer program than this one.
var ErrNewer = errors.New(
	"a newer uskel has brought this database up to date: start that one, or restore a backup of before",
)

// Clock is the database's clock.
func (s *Store) Clock(ctx context.Context) (time.Time, error) {
	var at time.Time
	err := s.Pool.QueryRow(ctx, "SELECT clock_timestamp()").Scan(&at)
	return at, translate(err, "clock")
}

// ServerVersion is the number of the database's release: 15 of 15.18.
func (s *Store) ServerVersion(ctx context.Context) (int, error) {
	var version int
	err := s.Pool.QueryRow(ctx, "SELECT current_setting('server_version_num')::int / 10000").Scan(&version)
	return version, translate(err, "version")
}

// Counts are how many rows each of Uskel's tables holds.
func (s *Store) Counts(ctx context.Context) (map[string]int, error) {
	counts := map[string]int{}
	for _, table := range ours {
		var there bool
		if err := s.Pool.QueryRow(ctx, "SELECT to_regclass($1) IS NOT NULL", table).Scan(&there); err != nil {
			return nil, translate(err, table)
		}
		if !there {
			continue
		}
		var n int
		if err := s.Pool.QueryRow(ctx, "SELECT count(*) FROM "+table).Scan(&n); err != nil {
			return nil, translate(err, table)
		}
		counts[table] = n
	}
	return counts, nil
}

func (s *Store) migrations(do func(*goose.Provider) error) error {
	files, err := fs.Sub(migrationFiles, "migrations")
	if err != nil {
		return err
	}
	config := s.Pool.Config().ConnConfig.Copy()
	for _, limited := range []string{"statement_timeout", "lock_timeout", "idle_in_transaction_session_timeout"} {
		delete(config.RuntimeParams, limited) // a migration takes the time it takes
	}
	db := stdlib.OpenDB(*config)
	defer db.Close()
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db, files, goose.WithSessionLocker(locker))
	if err != nil {
		return err
	}
	return do(provider)
}

// Connections are those to the database.
type Connections struct {
	All, InUse, Most int
	Waited           time.Duration // for connections, in all
}

// Connections says how the connections are used.
func (s *Store) Connections() Connections {
	now := s.Pool.Stat()
	return Connections{int(now.TotalConns()), int(now.AcquiredConns()), int(now.MaxConns()), now.AcquireDuration()}
}

// Ping says whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.Pool.Ping(ctx) }

// inside is the store within a transaction.
func (s *Store) inside(tx *gorm.DB) *Store {
	return &Store{s.Pool, tx, s.published, s.book, s.signed, s.seen}
}

func (s *Store) with(ctx context.Context) *gorm.DB { return s.db.WithContext(ctx) }

// Away reports whether the database cannot be reached, is going down, or has no room: what fails for that may be sent
// again.
func Away(err error) bool {
	var connect *pgconn.ConnectError
	var pg *pgconn.PgError
	var network net.Error
	if errors.As(err, &connect) || errors.As(err, &network) || errors.Is(err, errBusy) {
		return true
	}
	if errors.As(err, &pg) {
		if pg.Code == queryCanceled || pg.Code == lockNotAvailable {
			return true
		}
		return strings.HasPrefix(pg.Code, "57P") || strings.HasPrefix(pg.Code, "08") ||
			strings.HasPrefix(pg.Code, "53") ||
			strings.HasPrefix(pg.Code, "58")
	}
	text := err.Error()
	return strings.Contains(text, "conn closed") || strings.Contains(text, "unexpected EOF") ||
		strings.Contains(text, "connection reset") ||
		strings.Contains(text, "broken pipe")
}

// Denied reports whether the database refuses the name or the password.
func Denied(err error) bool { return coded(err, "28P01", "28000") }

// NoDatabase reports whether the server has no database of the name that was asked for.
func NoDatabase(err error) bool { return coded(err, "3D000") }

func coded(err error, codes ...string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && slices.Contains(codes, pg.Code)
}

// Full reports whether the database's disk is full: what is asked is answered, and nothing is kept until somebody makes room.
func Full(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == diskFull || strings.Contains(pg.Message, "No space left on device"))
}

// Room says whether there is room to write, by writing a megabyte that does not get smaller and taking it back.
func (s *Store) Room(ctx context.Context) error {
	tx, err := s.Pool.Begin(ctx)
	if err != nil {
		return translate(err, "disk")
	}
	defer func() { _ = tx.Rollback(context.WithoutCancel(ctx)) }()
	_, err = tx.Exec(ctx, "INSERT INTO disk_probe SELECT string_agg(md5(random()::text), '') FROM generate_series(1, 32768)")
	return translate(err, "disk")
}

// What PostgreSQL says when there is no room left.
const diskFull = "53100"

// duplicateKey is PostgreSQL's unique_violation.
const duplicateKey = "23505"

// What PostgreSQL says when a statement took too long, or waited too long for a row.
const (
	queryCanceled    = "57014"
	lockNotAvailable = "55P03"
)

// Watch calls a function with each statement, whoever sends it, until it is stopped: for counting queries in tests
// and benchmarks. One watches at a time.
func (s *Store) Watch(see func(sql string)) (stop func()) {
	s.seen.see.Store(&see)
	return func() { s.seen.see.Store(nil) }
}

// watched tells of statements. The beginning and the end of a transaction are none.
type watched struct {
	see atomic.Pointer[func(string)]
}

// TraceQueryStart is called before a statement.
func (w *watched) TraceQueryStart(ctx context.Context, _ *pgx.Conn, q pgx.TraceQueryStartData) context.Context {
	if see := w.see.Load(); see != nil && !slices.Contains(bounds, strings.ToLower(q.SQL)) {
		(*see)(q.SQL)
	}
	return ctx
}

// TraceQueryEnd is called after it.
func (w *watched) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}

// bounds are what begins and ends transactions, and asks whether a connection still lives.
var bounds = []string{"begin", "commit", "rollback", "-- ping", ";"}

// translate turns the database's errors into the package's.
func translate(err error, what string) error {
	switch {
	case err == nil:
		return nil
	case errors.Is(err, gorm.ErrRecordNotFound):
		return of(what, ErrNotFound)
	case errors.Is(err, gorm.ErrDuplicatedKey):
		return of(what, ErrTaken)
	}
	return fmt.Errorf("%s: %w", what, err)
}

// Unkeepable reports whether a text holds what the database cannot keep: a NUL, which JSON may hold (PostgreSQL's
// character_not_in_repertoire and untranslatable_character).
func Unkeepable(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "22021" || pg.Code == "22P05")
}

// find reads one row by its key.
func find[T any](ctx context.Context, s *Store, what string, where string, args ...any) (T, error) {
	var row T
	err := s.with(ctx).Where(where, args...).Take(&row).Error
	return row, translate(err, what)
}

// list reads rows in an order.
func list[T any](ctx context.Context, s *Store, what, order, where string, args ...any) ([]T, error) {
	rows := []T{}
	err := s.with(ctx).Where(where, args...).Order(order).Find(&rows).Error
	return rows, translate(err, what)
}

// ours are the tables the migrations make.
var ours = []string{
	"people",
	"sessions",
	"settings",
	"vehicles",
	"bookings",
	"look_overs",
	"procedures",
	"checklists",
	"second_looks",
	"calibrations",
	"calibration_walks",
	"second_grades",
	"disputes",
	"remedies",
	"photos",
	"photo_pictures",
	"products",
	"washes",
	"wash_events",
	"audits",
	"audit_items",
	"sign_offs",
	"drills",
	"drafts",
	"stock",
	"cloths",
	"notices",
	"standards",
	"goose_db_version",
	"yards",
	"visit_moves",
	"corrections",
	"audit_remarks",
	"use_days",
	"sign_in_limits",
	"known_devices",
	"authenticators",
	"recovery_codes",
	"digit_tries",
	"shop_kind",
	"sign_in_codes",
	"absences",
	"cases",
	"recalls",
	"own_cases",
	"drill_runs",
	"rubrics",
	"watched",
	"changes_seen",
	"setup_code",
	"devices",
	"sign_ins",
	"readings",
	"blind_offers",
	"disk_probe",
	"looks_read",
}

// Clear drops everything; the next Migrate starts from nothing. It refuses when the database holds tables that are
// not Uskel's.
func (s *Store) Clear(ctx context.Context) error {
	var others []string
	err := s.with(ctx).
		Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' AND "+
			"table_name NOT IN ?", ours).
		Scan(&others).
		Error
	if err != nil {
		return err
	}
	if len(others) > 0 {
		return fmt.Errorf("this database holds other tables (%s): name one of Uskel's own", strings.Join(others, ", "))
	}
	_, err = s.Pool.Exec(ctx, "DROP SCHEMA public CASCADE; CREATE SCHEMA public")
	return err
}
