package store_test

import (
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uskel/core/wash"
	"uskel/store"
	"uskel/store/storetest"
)

const (
	clients = 4
	perSend = 20 // taps in a batch
)

// BenchmarkTapIngest sends taps in batches, as devices do that were away, from four at once, and compares with bare
// inserts of rows like these into the same table by PostgreSQL's own pgbench in the same run: once with the table's
// triggers and keys, which is what any insert there costs, and once into a copy without any. Budget: at least half.
func BenchmarkTapIngest(b *testing.B) {
	database := storetest.URL(b, "demo at noon", fillDemo)
	s, err := store.Open(ctx, database)
	require.NoError(b, err)
	defer s.Close()
	w := running(b, s)
	washes := copies(b, s, w, clients*40)
	_, err = s.Pool.Exec(ctx, "CREATE SEQUENCE bench_no MINVALUE 1000000")
	require.NoError(b, err)
	bare := pgbench(b, database, "wash_events", w)
	_, err = s.Pool.Exec(ctx, "CREATE TABLE bare_events AS SELECT * FROM wash_events WITH NO DATA")
	require.NoError(b, err)
	barest := pgbench(b, database, "bare_events", w)

	b.ResetTimer()
	began := time.Now()
	next, sent := make(chan string, b.N), 0
	for i := range b.N {
		next <- washes[i%len(washes)]
		sent += perSend
	}
	close(next)
	var sending sync.WaitGroup
	for range clients {
		sending.Go(func() {
			for id := range next {
				_, err := s.Tap(ctx, id, taps(perSend, w.WasherID), noon)
				require.NoError(b, err)
			}
		})
	}
	sending.Wait()
	rate := float64(sent) / time.Since(began).Seconds()
	b.ReportMetric(rate, "taps/s")
	b.ReportMetric(bare, "bare/s")
	b.ReportMetric(rate/bare, "of-bare")
	b.ReportMetric(rate/barest, "of-no-keys")
}

func taps(n int, by string) []wash.Event {
	list := make([]wash.Event, n)
	for i := range list {
		list[i] = event(wash.Note, "a chip on the tailgate", i, by)
	}
	return list
}

// copies makes washes like one, each with a booking of its own.
func copies(b testing.TB, s *store.Store, w store.Wash, n int) []string {
	var ids []string
	rows, err := s.Pool.Query(
		ctx,
		`WITH made AS (INSERT INTO bookings (id, vehicle_id, arrives_at, promised_at, service, place, washer_id)
			SELECT gen_random_uuid(), vehicle_id, arrives_at, promised_at, service, place, washer_id
			FROM bookings, generate_series(1, $2) WHERE id = $1 RETURNING id)
		INSERT INTO washes (id, booking_id, plan, steps, uses, washer_id, created_at)
			SELECT gen_random_uuid(), made.id, plan, steps, uses, washer_id, created_at FROM washes, made WHERE washes.booking_id = $1 RETURNING id`,
		w.BookingID,
		n,
	)
	require.NoError(b, err)
	defer rows.Close()
	for rows.Next() {
		var id string
		require.NoError(b, rows.Scan(&id))
		ids = append(ids, id)
	}
	require.NoError(b, rows.Err())
	return ids
}

// pgbench inserts batches of rows into a table for two seconds, and gives rows a second.
func pgbench(b *testing.B, database, table string, w store.Wash) float64 {
	bins, err := filepath.Glob("/usr/lib/postgresql/*/bin/pgbench")
	require.NoError(b, err)
	require.NotEmpty(b, bins, "pgbench comes with Debian's postgresql package")
	script := filepath.Join(b.TempDir(), "insert.sql")
	text := "INSERT INTO " + table + " (id, wash_id, kind, step, at, seq, body, undoes, by_id, received_at, " +
		"detail, no) VALUES\n"
	for i := range perSend {
		if i > 0 {
			text += ",\n"
		}
		text += fmt.Sprintf(
			"(gen_random_uuid(), '%s', 'note', 'a chip on the tailgate', '2026-04-14T12:%02d:%02dZ', %d, '', '', "+
				"'%s', now(), '{}', nextval('bench_no'))",
			w.ID,
			i/60,
			i%60,
			i,
			w.WasherID,
		)
	}
	require.NoError(b, os.WriteFile(script, []byte(text+";\n"), 0o600))
	u, err := url.Parse(database)
	require.NoError(b, err)
	out, err := exec.Command(bins[len(bins)-1], "-n", "-M", "prepared", "-f", script, "-c", strconv.Itoa(clients),
		"-j", "2", "-T", "2", "-h", u.Hostname(), "-p", u.Port(), "-U", u.User.Username(), u.Path[1:]).
		CombinedOutput()
	require.NoError(b, err, string(out))
	found := regexp.MustCompile(`tps = ([0-9.]+)`).FindSubmatch(out)
	require.NotNil(b, found, string(out))
	tps, err := strconv.ParseFloat(string(found[1]), 64)
	require.NoError(b, err)
	return tps * perSend
}
