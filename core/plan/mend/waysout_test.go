package mend_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/plan/judge"
	"uskel/core/plan/mend"
	"uskel/core/plan/plantest"
	"uskel/core/procedure/starters"
	"uskel/core/vehicle"
)

// In full sun and wind nothing keeps the foam of a care wash: what does is tried, not said by heart, and each way out that
// is told keeps every dwell by the wet clock.
func TestWaysOutKeepEveryDwell(t *testing.T) {
	j := plantest.UnderSun(plantest.Job(2))
	j.Vehicle.Shade = vehicle.Dark
	j.Weather.Temp, j.Weather.RH, j.Weather.Wind = 33, 0.25, 5
	j.LookOver.Place.Name, j.LookOver.Place.ID = "Open bay", "open"
	p := starters.Maintenance()
	made := plantest.Resolve(t, p, j)
	require.False(t, judge.Keeps(made, j), "else there is nothing to find a way out of")

	roofed := j.LookOver.Place
	roofed.Cover, roofed.Name, roofed.ID = climate.Indoors, "Covered bay", "covered"
	evening := j.Weather
	evening.Temp, evening.RH, evening.Wind, evening.Direct, evening.SunAltitude = 19, 0.7, 1, 0, -2
	noon := time.Date(2026, 7, 1, 12, 0, 0, 0, time.UTC)
	where := mend.Elsewhere{Places: []condition.Place{j.LookOver.Place, roofed},
		Hours:    []mend.HourAir{{At: noon.Add(8 * time.Hour), Weather: evening}},
		Promised: noon.Add(10 * time.Hour)}
	ways := mend.WaysOut(p, j, made, where)
	require.Len(t, ways, 2)
	assert.LessOrEqual(t, ways[0].Minutes, ways[1].Minutes)
	for _, w := range ways {
		then := j
		switch {
		case w.Place != "":
			then.LookOver.Place = roofed
		case !w.At.IsZero():
			then.Weather = evening
		default:
			continue // the procedure itself was changed
		}
		again := plantest.Resolve(t, p, then)
		assert.True(t, judge.Keeps(again, then), w.Says)
		assert.Equal(t, again.Minutes, w.Minutes)
	}
	where.Promised = noon.Add(8 * time.Hour)
	for _, w := range mend.WaysOut(p, j, made, where) {
		assert.Zero(t, w.At, "an hour after which the promise is missed is none")
	}
	clock := func(at time.Time) string { return at.Format("15:04") }
	assert.Equal(t, "At 20:00: 61 min, 12 less.", mend.WayOut{At: noon.Add(8 * time.Hour), Minutes: 61, More: -12}.Words(clock))
	assert.Equal(t, "In Covered bay: 70 min, as long as it is.", mend.WayOut{Says: "In Covered bay", Minutes: 70, More: 0.4}.Words(clock))

	mild := plantest.Job(1)
	kept := plantest.Resolve(t, p, mild)
	require.True(t, judge.Keeps(kept, mild))
	assert.Empty(t, mend.WaysOut(p, mild, kept, where), "what keeps needs none")
}
