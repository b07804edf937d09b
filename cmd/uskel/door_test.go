package main

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/shop"
	"uskel/core/wash"
	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

var answered = []string{
	"setup",
	"--name",
	"Quay Wash",
	"--units",
	"us",
	"--currency",
	"$",
	"--time-zone",
	"America/New_York",
	"--places",
	"garage, mobile",
	"--lead",
	"Una Wick",
	"--sign-in",
	"Una",
}

// On the terminal a shop is set up by flags and the environment, or by asking, once.
func TestSettingUpOnTheTerminal(t *testing.T) {
	t.Setenv("DATABASE_URL", storetest.Bare(t))
	t.Setenv("USKEL_PASSWORD", "short")
	_, err := said(t, "", answered...)
	assert.ErrorContains(t, err, "at least 10 letters")
	t.Setenv("USKEL_PASSWORD", "gravel lantern quay")
	text, err := said(t, "", answered...)
	require.NoError(t, err)
	assert.Contains(t, text, "Quay Wash is set up")
	_, err = said(t, "", answered...)
	assert.ErrorContains(t, err, "holds a shop already")

	s, err := store.Open(ctx, os.Getenv("DATABASE_URL"))
	require.NoError(t, err)
	defer s.Close()
	una, err := s.PersonBySignIn(ctx, "una")
	require.NoError(t, err)
	assert.Equal(t, shop.Owner, una.Role)
	ok, err := argon2id.ComparePasswordAndHash("gravel lantern quay", una.PasswordHash)
	require.NoError(t, err)
	assert.True(t, ok)

	// Whoever has the machine lets a lead in who forgot the password.
	text, err = said(t, "", "code", "UNA")
	require.NoError(t, err)
	assert.Regexp(t, `\w{4}-\w{4}`, text)
	una, err = s.Person(ctx, una.ID)
	require.NoError(t, err)
	assert.Empty(t, una.PasswordHash)
	_, err = said(t, "", "code", "nobody")
	assert.ErrorContains(t, err, "nobody signs in")

	// And takes a lost authenticator away.
	_, err = said(t, "", "authenticator-off", "una")
	assert.ErrorContains(t, err, "has none on")
	require.NoError(t, s.OfferAuthenticator(ctx, una.ID, "GEZDGNBVGY3TQOJQ"))
	require.NoError(t, s.TurnOn(ctx, una.ID, "GEZDGNBVGY3TQOJQ", 1, []string{"a hash"}, time.Now()))
	text, err = said(t, "", "authenticator-off", " UNA ")
	require.NoError(t, err)
	assert.Contains(t, text, "by name and password alone")
	now, err := s.Authenticator(ctx, una.ID)
	require.NoError(t, err)
	assert.Equal(t, store.Authenticator{}, now)
}

func TestSettingUpAsks(t *testing.T) {
	t.Setenv("DATABASE_URL", storetest.Bare(t))
	_, err := said(t, "Quay Wash\n", "setup")
	assert.ErrorContains(t, err, "say it, by --units")
	text, err := said(t, "Quay Wash\n\n\n\n\nUna Wick\nuna\ngravel lantern quay\n", "setup")
	require.NoError(t, err)
	assert.Contains(t, text, "Where do you wash?")
	assert.Contains(t, text, "Quay Wash is set up")
	_, err = said(t, "", "setup", "--dance")
	assert.Error(t, err)
	_, err = said(t, "", "setup", "now")
	assert.ErrorContains(t, err, `does not take "now"`)
}

// A file of answers says all that the set-up page asks.
func TestSettingUpByAnswers(t *testing.T) {
	t.Setenv("DATABASE_URL", storetest.Bare(t))
	t.Setenv("USKEL_PASSWORD", "gravel lantern quay")
	path := filepath.Join(t.TempDir(), "answers.json")
	write := func(text string) { require.NoError(t, os.WriteFile(path, []byte(text), 0o600)) }
	write(`{"shopName":"Quay Wash","colour":"blue"}`)
	_, err := said(t, "", "setup", "--answers", path)
	assert.ErrorContains(t, err, "colour")
	write(`{"shopName":"Quay Wash","units":"furlongs"}`)
	_, err = said(t, "", "setup", "--answers", path)
	assert.ErrorContains(t, err, "metric or us")
	write(`{"shopName":"Quay Wash","units":"metric","currency":"€","timeZone":"Europe/Lisbon","latitude":38.7,
		"places":[{"kind":"open yard","runoff":true}],"water":{"hardness":9,"unit":"German degrees"},"shelf":["shampoo"],
		"prices":[{"service":"basic","amount":4500}],"founder":{"name":"Una Wick","signIn":"una"}}`)
	text, err := said(t, "", "setup", "--answers", path)
	require.NoError(t, err)
	assert.Contains(t, text, "Quay Wash is set up")
	s, err := store.Open(ctx, os.Getenv("DATABASE_URL"))
	require.NoError(t, err)
	defer s.Close()
	water, _, err := s.Supply(ctx)
	require.NoError(t, err)
	assert.InDelta(t, 9*17.848, float64(water.Hardness), 0.01)
	latitude, _, err := s.Where(ctx)
	require.NoError(t, err)
	assert.InDelta(t, 38.7, latitude, 1e-9)
}

// A server that finds an empty database prints a code, another at each start; of a shop it prints none.
func TestTheCodeIsPrinted(t *testing.T) {
	s, err := store.Open(ctx, storetest.Bare(t))
	require.NoError(t, err)
	defer s.Close()
	printed := regexp.MustCompile(`works once: (\S{9})`)
	codes := make([]string, 2)
	for i := range codes {
		var out strings.Builder
		require.NoError(t, offerSetUp(ctx, s, "https://wash.example", &out))
		require.Regexp(t, printed, out.String())
		assert.Contains(t, out.String(), "https://wash.example")
		codes[i] = printed.FindStringSubmatch(out.String())[1]
	}
	hash, err := s.SetupCode(ctx)
	require.NoError(t, err)
	for i, want := range []bool{false, true} {
		ok, err := argon2id.ComparePasswordAndHash(codes[i], hash)
		require.NoError(t, err)
		assert.Equal(t, want, ok, "the newest counts")
	}
	require.NoError(
		t,
		s.AddPerson(ctx, store.Person{ID: store.NewID(), Name: "A", SignIn: "a", Role: shop.Lead, Active: true}),
	)
	var out strings.Builder
	require.NoError(t, offerSetUp(ctx, s, "x", &out))
	assert.Empty(t, out.String())
}

// rowsOf are the rows of every table that a backup carries, in words, by table.
func rowsOf(t *testing.T, database string, tables []string) map[string][]string {
	t.Helper()
	conn, err := pgx.Connect(ctx, database)
	require.NoError(t, err)
	defer conn.Close(ctx)
	rows := map[string][]string{}
	for _, table := range tables {
		got, err := conn.Query(ctx, "SELECT x::text FROM "+table+" x ORDER BY 1")
		require.NoError(t, err)
		rows[table], err = pgx.CollectRows(got, pgx.RowTo[string])
		require.NoError(t, err)
	}
	return rows
}

// A backup that is taken while taps come in, restored elsewhere, is the shop at one moment: row by row what stands in
// the original, less the taps that came after.
func TestABackupWhileTapsComeIn(t *testing.T) {
	url := storetest.URL(t, "demo of three days", func(s *store.Store) error {
		return demo.Load(ctx, s, time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC), 3)
	})
	t.Setenv("DATABASE_URL", url)
	dir := t.TempDir()
	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer s.Close()
	views, err := s.Bookings(
		ctx,
		time.Date(2026, 4, 14, 0, 0, 0, 0, time.UTC),
		time.Date(2026, 4, 15, 0, 0, 0, 0, time.UTC),
	)
	require.NoError(t, err)
	var running *store.Wash
	for _, v := range views {
		if v.Wash != nil && v.Wash.FinishedAt == nil {
			running = v.Wash
		}
	}
	require.NotNil(t, running, "somebody is washing")

	stopping, stop := context.WithCancel(ctx)
	var taps sync.WaitGroup
	taps.Go(func() {
		for n := 1; stopping.Err() == nil; n++ {
			e := wash.Event{
				ID:   store.NewID(),
				Kind: wash.Note,
				Text: fmt.Sprint("note ", n),
				By:   running.WasherID,
				At:   time.Now().UTC(),
				Seq:  1000 + n,
			}
			if _, err := s.Tap(ctx, running.ID, []wash.Event{e}, time.Now()); err != nil {
				t.Error(err)
				return
			}
		}
	})
	text, err := said(t, "", "backup", "--to", dir, "--keep", "2")
	stop()
	taps.Wait()
	require.NoError(t, err)
	file := strings.TrimSpace(text)
	require.FileExists(t, file)

	elsewhere := storetest.Bare(t)
	text, err = said(t, "", "restore", "--into", elsewhere, file)
	require.NoError(t, err)
	assert.Contains(t, text, fmt.Sprintf("%d people", len(demo.Hands)))
	counts, err := s.Counts(ctx)
	require.NoError(t, err)
	tables := []string{}
	for table := range counts {
		if table != "sessions" {
			tables = append(tables, table)
		}
	}
	before, after := rowsOf(t, url, tables), rowsOf(t, elsewhere, tables)
	for _, table := range tables {
		if table == "wash_events" {
			assert.Subset(t, before[table], after[table])
			continue
		}
		assert.Equal(t, before[table], after[table], table)
	}

	// Nothing is overwritten, a rehearsal leaves nothing behind, and old backups go.
	_, err = said(t, "", "restore", "--into", elsewhere, file)
	assert.ErrorContains(t, err, "nothing is overwritten")
	text, err = said(t, "", "restore", "--rehearse", file)
	require.NoError(t, err)
	assert.Contains(t, text, fmt.Sprintf("%d people", len(demo.Hands)))
	// The recipe for a copy elsewhere (docs/running.md): another machine has the file alone, and a PostgreSQL of its own. What was cut
	// off on the way does not pass a rehearsal.
	whole, err := os.ReadFile(file)
	require.NoError(t, err)
	copied, cut := filepath.Join(t.TempDir(), filepath.Base(file)), filepath.Join(t.TempDir(), filepath.Base(file))
	require.NoError(t, os.WriteFile(copied, whole, 0o600))
	require.NoError(t, os.WriteFile(cut, whole[:len(whole)*2/3], 0o600))
	t.Setenv("DATABASE_URL", storetest.Bare(t))
	text, err = said(t, "", "restore", "--rehearse", copied)
	require.NoError(t, err)
	assert.Contains(t, text, fmt.Sprintf("%d people", len(demo.Hands)))
	_, err = said(t, "", "restore", "--rehearse", cut)
	require.Error(t, err)
	t.Setenv("DATABASE_URL", url)
	var left int
	require.NoError(
		t,
		s.Pool.QueryRow(ctx, "SELECT count(*) FROM pg_database WHERE datname LIKE 'uskel_rehearsal%'").Scan(&left),
	)
	assert.Zero(t, left)
	_, err = said(t, "", "restore", file)
	assert.ErrorContains(t, err, "--into")
	for _, old := range []string{"uskel-20200101-000000.dump", "uskel-20200102-000000.dump", "uskel-20200103-000000.dump"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, old), nil, 0o600))
	}
	_, err = said(t, "", "backup", "--to", dir, "--keep", "2")
	require.NoError(t, err)
	all, err := backups(dir)
	require.NoError(t, err)
	assert.Len(t, all, 2)
	assert.Contains(t, all, file)
}

// A backup that cannot be written leaves nothing that looks like one.
func TestABackupThatIsBrokenOff(t *testing.T) {
	t.Setenv("DATABASE_URL", "postgres://uskel@127.0.0.1:1/nothing")
	dir := t.TempDir()
	_, err := said(t, "", "backup", "--to", dir)
	require.Error(t, err)
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Empty(t, left)
	_, err = said(t, "", "backup")
	assert.ErrorContains(t, err, "--to")
}

// On a full disk there is no backup, and nothing that looks like one.
func TestABackupOnAFullDisk(t *testing.T) {
	t.Setenv("DATABASE_URL", storetest.URL(t, "empty", nil))
	dir := storetest.SmallDisk(t, 1)
	_ = os.WriteFile(filepath.Join(dir, "junk"), make([]byte, 2<<20), 0o600) // as much as there is room for
	_, err := said(t, "", "backup", "--to", dir)
	require.Error(t, err)
	all, err := backups(dir)
	require.NoError(t, err)
	assert.Empty(t, all)
	assert.False(t, disk(dir).well)
}

// The doctor is content with a shop that is well, and names each thing that is not.
func TestTheDoctor(t *testing.T) {
	url := storetest.URL(t, "empty", nil)
	t.Setenv("DATABASE_URL", url)
	dir := t.TempDir()
	t.Setenv("BACKUPS", dir)
	text, err := said(t, "", "doctor")
	assert.ErrorIs(t, err, errIll)
	assert.Contains(t, text, "there is none in")
	_, err = said(t, "", "backup")
	require.NoError(t, err)
	text, err = said(t, "", "doctor")
	require.NoError(t, err, text)
	for _, what := range []string{"database", "schema", "clock", "notices", "backups", "disk"} {
		assert.Regexp(t, "well +"+what, text)
	}

	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer s.Close()
	_, err = s.Pool.Exec(ctx, "INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, true)")
	require.NoError(t, err)
	text, err = said(t, "", "doctor")
	assert.ErrorIs(t, err, errIll)
	assert.Contains(t, text, "start the newer uskel")
	_, err = said(t, "", "migrate")
	assert.ErrorIs(t, err, store.ErrNewer)
	_, err = said(t, "", "serve")
	assert.ErrorIs(t, err, store.ErrNewer, "an old program keeps its hands off")

	old := time.Now().Add(-50 * time.Hour)
	all, err := backups(dir)
	require.NoError(t, err)
	require.NoError(t, os.Chtimes(all[0], old, old))
	assert.Contains(t, backupAge(dir, time.Now()).says, "50h0m0s old")

	t.Setenv("DATABASE_URL", "postgres://uskel@127.0.0.1:1/nothing")
	text, err = said(t, "", "doctor")
	assert.ErrorIs(t, err, errIll)
	assert.Contains(t, text, "does not answer")
}

// Files of readings are taken out of a directory once each; one that cannot be is set aside with the reason.
func TestReadingsAreDropped(t *testing.T) {
	s := storetest.Open(t)
	dir := t.TempDir()
	now := time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC)
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	write("mast.csv", "kind,at,temp_c,rh_percent,wind_m_s,sky\nweather,2026-04-14T11:50:00Z,12,70,3,clear\n")
	write("wrong.csv", "kind,temp_c\nweather,warm\n")
	write("half.part", "kind")
	took, err := takeDropped(ctx, s, dir, now)
	assert.Equal(t, 1, took)
	assert.ErrorContains(t, err, "line 2: temp_c")
	took, err = takeDropped(ctx, s, dir, now)
	require.NoError(t, err)
	assert.Zero(t, took)
	assert.FileExists(t, filepath.Join(dir, "mast.csv.taken"))
	assert.FileExists(t, filepath.Join(dir, "wrong.csv.refused"))
	reason, err := os.ReadFile(filepath.Join(dir, "wrong.csv.refused.txt"))
	require.NoError(t, err)
	assert.Contains(t, string(reason), "temp_c")
	readings, _, err := s.Told(ctx, now.Add(-time.Hour), now)
	require.NoError(t, err)
	require.Len(t, readings, 1)
	assert.InDelta(t, 12, float64(readings[0].Temp), 1e-9)
}

// While the database is away files of readings stay where they are.
func TestDroppedReadingsWaitForTheDatabase(t *testing.T) {
	s, err := store.Open(ctx, "postgres://uskel@127.0.0.1:1/nothing")
	require.NoError(t, err)
	defer s.Close()
	dir := t.TempDir()
	path := filepath.Join(dir, "mast.csv")
	require.NoError(t, os.WriteFile(path, []byte("kind,hardness_mg_l\nwater,120\n"), 0o600))
	_, err = takeDropped(ctx, s, dir, time.Now())
	require.Error(t, err)
	assert.FileExists(t, path)
}

// Started on a database without a table, the program makes them, prints the code, and the shop is set up over HTTP.
func TestServingFromNothing(t *testing.T) {
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	address := free.Addr().String()
	require.NoError(t, free.Close())
	t.Setenv("DATABASE_URL", storetest.Bare(t))
	t.Setenv("ADDRESS", address)
	serving, stop := context.WithCancel(ctx)
	var out lockedBuffer
	ended := make(chan error, 1)
	go func() { ended <- run(serving, []string{"serve"}, strings.NewReader(""), &out) }()
	code := regexp.MustCompile(`works once: (\S{9})`)
	require.Eventually(t, func() bool { return code.MatchString(out.String()) }, 30*time.Second, 20*time.Millisecond)
	body := `{"code":"` + code.FindStringSubmatch(out.String())[1] + `","shopName":"Quay Wash",
		"units":"metric","currency":"€","timeZone":"UTC",
		"founder":{"name":"Una Wick","signIn":"una","password":"gravel lantern quay"}}`
	require.Eventually(t, func() bool {
		got, err := http.Post("http://"+address+"/api/setup", "application/json", strings.NewReader(body))
		if err != nil {
			return false
		}
		defer got.Body.Close()
		return got.StatusCode == http.StatusOK
	}, 30*time.Second, 50*time.Millisecond)
	stop()
	require.NoError(t, <-ended)
}

// lockedBuffer is a buffer that one writes and another reads.
type lockedBuffer struct {
	mu sync.Mutex
	b  strings.Builder
}

func (l *lockedBuffer) Write(text []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(text)
}

func (l *lockedBuffer) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.String()
}

// The doctor finds what would be found too late: a backup that is empty or that others can read, a dump program that is too old, a
// folder of readings that is not there, a disk that is full, and a password that is wrong rather than a server that is away.
func TestTheDoctorFindsWhatIsFoundTooLate(t *testing.T) {
	url := storetest.URL(t, "empty", nil)
	t.Setenv("DATABASE_URL", url)
	dir := t.TempDir()
	t.Setenv("BACKUPS", dir)
	_, err := said(t, "", "backup")
	require.NoError(t, err)
	all, err := backups(dir)
	require.NoError(t, err)
	info, err := os.Stat(all[0])
	require.NoError(t, err)
	assert.EqualValues(t, 0o600, info.Mode().Perm())
	ill := func(says string) {
		t.Helper()
		text, err := said(t, "", "doctor")
		assert.ErrorIs(t, err, errIll)
		assert.Contains(t, text, says)
	}
	text, err := said(t, "", "doctor")
	require.NoError(t, err, text)
	require.NoError(t, os.Chmod(all[0], 0o644))
	ill("others on this machine can read")
	require.NoError(t, os.Chmod(all[0], 0o600))
	whole, err := os.ReadFile(all[0])
	require.NoError(t, err)
	for _, broken := range [][]byte{{}, whole[:40], []byte("not a dump")} {
		require.NoError(t, os.WriteFile(all[0], broken, 0o600))
		ill("cannot be restored")
	}
	require.NoError(t, os.WriteFile(all[0], whole, 0o600))

	t.Setenv("READINGS", filepath.Join(dir, "nowhere"))
	ill("the folder READINGS names")
	t.Setenv("READINGS", dir)

	tools := t.TempDir()
	old := "#!/bin/sh\necho 'pg_dump (PostgreSQL) 9.6.1'\n"
	require.NoError(t, os.WriteFile(filepath.Join(tools, "pg_dump"), []byte(old), 0o700))
	path := os.Getenv("PATH")
	t.Setenv("PATH", tools+":"+path)
	ill("or every backup fails")
	t.Setenv("PATH", path)

	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer s.Close()
	storetest.FillDisk(t, s, "disk_probe")
	ill("the disk of the database is full")
	_, err = s.Pool.Exec(ctx, "DROP TRIGGER full_disk ON disk_probe")
	require.NoError(t, err)

	assert.Contains(t, whyAway(&pgconn.PgError{Code: "28P01"}), "the password")
	assert.Contains(t, whyAway(&pgconn.PgError{Code: "3D000"}), "no database of that name")
	assert.Contains(t, whyAway(errors.New("refused")), "does not answer")
	text, err = said(t, "", "doctor")
	require.NoError(t, err, text)
}
