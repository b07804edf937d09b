// Package storetest gives each test a database of its own on a real PostgreSQL.
package storetest

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"fmt"
	"io"
	"net"
	"net/url"
	"os"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"uskel/store"
)

// templates are databases that tests copy, by what they are called: made once in a test binary, and in a run of several once for all
// of them.
var templates = struct {
	sync.Mutex
	made map[string]string
}{made: map[string]string{}}

// server is the address of the test server, which ./run test starts.
func server(t testing.TB) string {
	t.Helper()
	address := os.Getenv("USKEL_TEST_DATABASE")
	require.NotEmpty(
		t,
		address,
		"these tests need PostgreSQL: start them with ./run test, which sets USKEL_TEST_DATABASE",
	)
	return address
}

func name(prefix string) string { return prefix + "_" + fmt.Sprintf("%x", []byte(rand.Text()[:10])) }

func execute(address, sql string) error {
	ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
	defer cancel()
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, sql)
	return err
}

func at(address, database string) string {
	u, err := url.Parse(address)
	if err != nil {
		panic(err)
	}
	u.Path = "/" + database
	return u.String()
}

// prepare gives a template database, migrated and filled.
func prepare(address, called string, fill func(*store.Store) error) (string, error) {
	templates.Lock()
	defer templates.Unlock()
	if database, made := templates.made[called]; made {
		return database, nil
	}
	database, err := share(address, called, fill)
	if err == nil {
		templates.made[called] = database
	}
	return database, err
}

// share makes a template database, or finds the one that another binary of the same run has made: ./run test names the run. Whoever comes
// second waits for the first.
func share(address, called string, fill func(*store.Store) error) (string, error) {
	run := os.Getenv("USKEL_TEST_RUN")
	if run == "" {
		return build(address, name("template"), fill)
	}
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return "", err
	}
	defer conn.Close(ctx) // which lets go of the lock
	database := fmt.Sprintf("template_%s_%x", run, sha256.Sum224([]byte(called)))[:60]
	if _, err := conn.Exec(ctx, "SELECT pg_advisory_lock(hashtextextended($1, 0))", database); err != nil {
		return "", err
	}
	var there bool
	err = conn.QueryRow(ctx, "SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)", database).Scan(&there)
	if err != nil || there {
		return database, err
	}
	made, err := build(address, name("template"), fill)
	if err != nil {
		return "", err
	}
	_, err = conn.Exec(ctx, fmt.Sprintf("ALTER DATABASE %s RENAME TO %s", made, database)) // only what is whole has the name
	return database, err
}

// build makes a database, migrated and filled.
func build(address, database string, fill func(*store.Store) error) (string, error) {
	if err := execute(address, "CREATE DATABASE "+database); err != nil {
		return "", err
	}
	s, err := store.Open(context.Background(), at(address, database))
	if err != nil {
		return "", err
	}
	defer s.Close() // nobody may be connected to a database that is copied
	if err := s.Migrate(context.Background()); err != nil {
		return "", err
	}
	if fill != nil {
		err = fill(s)
	}
	return database, err
}

// URL makes a database of the test's own and gives its address. Databases called the same are filled alike, in all packages, so that the
// name says all that differs: fill runs once, and the others are copies.
func URL(t testing.TB, called string, fill func(*store.Store) error) string {
	t.Helper()
	address := server(t)
	from, err := prepare(address, called, fill)
	require.NoError(t, err)
	database := name("test")
	require.NoError(t, execute(address, fmt.Sprintf("CREATE DATABASE %s TEMPLATE %s", database, from)))
	t.Cleanup(func() { _ = execute(address, "DROP DATABASE IF EXISTS "+database+" WITH (FORCE)") })
	return at(address, database)
}

// Bare makes an empty database without tables and gives its address.
func Bare(t testing.TB) string {
	t.Helper()
	address := server(t)
	database := name("bare")
	require.NoError(t, execute(address, "CREATE DATABASE "+database))
	t.Cleanup(func() { _ = execute(address, "DROP DATABASE IF EXISTS "+database+" WITH (FORCE)") })
	return at(address, database)
}

// Open makes a migrated, empty database and opens it.
func Open(t testing.TB) *store.Store { t.Helper(); return open(t, URL(t, "empty", nil)) }

// OpenFilled opens a database filled as URL says.
func OpenFilled(t testing.TB, called string, fill func(*store.Store) error) *store.Store {
	t.Helper()
	return open(t, URL(t, called, fill))
}

func open(t testing.TB, url string) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), url)
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

// Wire stands between the application and its database, so that a test can cut it.
type Wire struct {
	listener net.Listener
	to       string
	mu       sync.Mutex
	cut      bool
	open     map[net.Conn]bool
}

// NewWire gives a wire to the database at an address, and the address of its near end.
func NewWire(t testing.TB, address string) (*Wire, string) {
	t.Helper()
	u, err := url.Parse(address)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	w := &Wire{listener: listener, to: u.Host, open: map[net.Conn]bool{}}
	go w.carry()
	t.Cleanup(func() { _ = listener.Close(); w.Cut() })
	u.Host = listener.Addr().String()
	return w, u.String()
}

func (w *Wire) carry() {
	for {
		near, err := w.listener.Accept()
		if err != nil {
			return
		}
		far, err := net.Dial("tcp", w.to)
		if err != nil || !w.hold(near, far) {
			_ = near.Close()
			continue
		}
		go w.copy(near, far)
		go w.copy(far, near)
	}
}

func (w *Wire) hold(conns ...net.Conn) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	for _, c := range conns {
		if w.cut {
			_ = c.Close()
			continue
		}
		w.open[c] = true
	}
	return !w.cut
}

func (w *Wire) copy(to, from net.Conn) {
	_, _ = io.Copy(to, from)
	_ = to.Close()
	_ = from.Close()
}

// Cut ends every connection and lets none through until Mend.
func (w *Wire) Cut() {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.cut = true
	for c := range w.open {
		_ = c.Close()
	}
	clear(w.open)
}

// Mend lets connections through again.
func (w *Wire) Mend() {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.cut = false
}

// FillDisk makes PostgreSQL refuse to write into some tables as it does when its disk is full (SQLSTATE 53100), until the trigger
// full_disk is dropped.
func FillDisk(t testing.TB, s *store.Store, tables ...string) {
	t.Helper()
	_, err := s.Pool.Exec(context.Background(), `CREATE OR REPLACE FUNCTION full_disk() RETURNS trigger LANGUAGE plpgsql AS $$
		BEGIN RAISE EXCEPTION 'could not extend file: No space left on device' USING ERRCODE = '53100'; END $$`)
	require.NoError(t, err)
	for _, table := range tables {
		_, err := s.Pool.Exec(context.Background(),
			"CREATE TRIGGER full_disk BEFORE INSERT OR UPDATE ON "+table+" FOR EACH ROW EXECUTE FUNCTION full_disk()")
		require.NoError(t, err)
	}
}
