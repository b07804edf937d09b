package api_test

import (
	"slices"
	"testing"
	"time"
)

// BenchmarkReads reads the demo's views over loopback. It reports the 95th percentile, which is to stay under 15 ms, the ratio
// of the median to that of a reply without the database, which does not depend on the machine, and the number of statements.
func BenchmarkReads(b *testing.B) {
	s := open(b)
	c := s.as("maren")
	looked := c.booking("CAB 14")
	running := c.booking("VLT 30")
	audited := c.booking("TID 101")
	plain := median(times(c, "/api/words", 100))
	for name, path := range map[string]string{"yard": "/api/yard", "plan": "/api/bookings/" + looked.ID + "/plan", "look-over": "/api/bookings/" + looked.ID + "/look-over",
		"wash": "/api/washes/" + running.WashID, "audit": "/api/audits/" + audited.AuditID, "audits": "/api/audits", "training": "/api/training",
		"times": "/api/times?days=14", "procedures": "/api/procedures", "shelf": "/api/shelf", "people": "/api/people", "day": "/api/day", "rest of a wash": "/api/washes/" + running.WashID + "/timeline"} {
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

func times(c *caller, path string, n int) []time.Duration {
	took := make([]time.Duration, n)
	for i := range took {
		start := time.Now()
		c.get(path).is(200)
		took[i] = time.Since(start)
	}
	return took
}

func median(took []time.Duration) time.Duration {
	sorted := slices.Clone(took)
	slices.Sort(sorted)
	return sorted[len(sorted)/2]
}
