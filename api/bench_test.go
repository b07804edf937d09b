package api_test

import (
	"maps"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uskel/demo/demotest"
)

// BenchmarkReads reads the demo's views over loopback. It reports the 95th percentile, which is to stay under 15 ms,
// the ratio of the median to that of a reply without the database, which does not depend on the machine, and the
// number of statements.
func BenchmarkReads(b *testing.B) {
	s := open(b)
	c := s.as("maren")
	looked := c.booking("CAB 14")
	running := c.booking("VLT 30")
	audited := c.booking("TID 101")
	plain := median(times(c, "/api/words", 100))
	for name, path := range map[string]string{"yard": "/api/yard", "plan": "/api/bookings/" + looked.ID + "/plan",
		"look-over": "/api/bookings/" + looked.ID + "/look-over",
		"wash":      "/api/washes/" + running.WashID, "audit": "/api/audits/" + audited.AuditID,
		"audits": "/api/audits", "training": "/api/training",
		"times": "/api/times?days=14", "procedures": "/api/procedures", "shelf": "/api/shelf",
		"people": "/api/people", "day": "/api/day", "rest of a wash": "/api/washes/" + running.WashID + "/timeline"} {
		b.Run(name, func(b *testing.B) {
			statements := 0
			stop := s.store.Watch(func(string) { statements++ })
			took := times(c, path, max(b.N, 40))
			stop()
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
			b.ReportMetric(float64(median(took))/float64(plain), "times-plain")
			b.ReportMetric(float64(statements)/float64(len(took)), "statements")
		})
	}
}

// BenchmarkGrownReads reads every view of a demo that was grown to 50,000 washes (USKEL_GROWN says otherwise): the
// 95th percentile alone and with eight callers at once, which are to stay under 300 ms and 1.5 s, and the ratio to
// the same read of the demo as it was loaded.
func BenchmarkGrownReads(b *testing.B) {
	washes := 50_000
	if said := os.Getenv("USKEL_GROWN"); said != "" {
		var err error
		washes, err = strconv.Atoi(said)
		require.NoError(b, err)
	}
	s := demotest.Open(b)
	require.NoError(b, s.MarkKind(ctx, true))
	young := serve(b, s).as("maren")
	before := map[string]time.Duration{}
	for path, address := range reads(b, young) {
		before[path] = median(times(young, address, 10))
	}
	require.NoError(b, s.Grow(ctx, washes, func(int) {}))
	c := serve(b, s).as("maren")
	all := reads(b, c)
	for _, path := range slices.Sorted(maps.Keys(all)) {
		b.Run(strings.TrimPrefix(path, "/"), func(b *testing.B) {
			first := times(c, all[path], 1)[0]
			alone := times(c, all[path], 20)
			slices.Sort(alone)
			var callers sync.WaitGroup
			together := make([][]time.Duration, 8)
			for k := range together {
				callers.Go(func() { together[k] = times(c, all[path], 5) })
			}
			callers.Wait()
			crowd := slices.Concat(together...)
			slices.Sort(crowd)
			b.ReportMetric(ms(first), "first-ms")
			b.ReportMetric(ms(alone[len(alone)*95/100]), "p95-ms")
			b.ReportMetric(ms(crowd[len(crowd)*95/100]), "p95-of-8-ms")
			b.ReportMetric(float64(median(alone))/float64(before[path]), "times-young")
		})
	}
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

func times(c *caller, path string, n int) []time.Duration {
	took := make([]time.Duration, n)
	for i := range took {
		start := time.Now()
		if got := c.get(path); got.status >= 500 {
			c.t.Errorf("%s: %d", path, got.status)
		}
		took[i] = time.Since(start)
	}
	return took
}

func median(took []time.Duration) time.Duration {
	sorted := slices.Clone(took)
	slices.Sort(sorted)
	return sorted[len(sorted)/2]
}
