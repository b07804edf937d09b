package crew

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
	"uskel/core/schedule"
)

// A step that runs is taken to need its length, and past that a tenth of it: it is not done, or it would have been
// tapped.
func TestARunningStepEndsLaterThanNow(t *testing.T) {
	work := []schedule.Work{
		{ID: "a", Step: "dry", Seconds: 300},
		{ID: "b", Step: "dry", Seconds: 100},
		{ID: "c", Step: "look", Seconds: 60},
	}
	for _, c := range []struct {
		says       string
		d          Progress
		now        measure.Seconds
		start, end measure.Seconds // of the second piece, which is the last quarter
	}{
		{"in time", Progress{Started: 1000}, 1100, 1300, 1400},
		{"over its time", Progress{Started: 1000}, 1560, 1450, 1600},
		{"done", Progress{Started: 1000, Ended: 1200}, 5000, 1150, 1200},
	} {
		got := c.d.pin(work, 1, c.now)
		assert.Equal(t, []measure.Seconds{c.start, c.end}, []measure.Seconds{got.Start, got.End}, c.says)
	}
}
