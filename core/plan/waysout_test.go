package plan

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// In full sun and wind nothing keeps the foam of a care wash: what does is tried, not said by heart, and each way out that
// is told keeps every dwell by the wet clock.
func TestWaysOutKeepEveryDwell(t *testing.T) {
	j := underSun(job(2))
	j.Vehicle.Shade = vehicle.Dark
	j.Weather.Temp, j.Weather.RH, j.Weather.Wind = 33, 0.25, 5
	j.LookOver.Place.Name, j.LookOver.Place.ID = "Open bay", "open"
	p := procedure.Maintenance()
	made := resolve(t, p, j)
	require.False(t, made.Keeps(j), "else there is nothing to find a way out of")

	roofed := j.LookOver.Place
	roofed.Cover, roofed.Name, roofed.ID = climate.Indoors, "Covered bay", "covered"
	evening := j.Weather
	evening.Temp, evening.RH, evening.Wind, evening.Direct, evening.SunAltitude = 19, 0.7, 1, 0, -2
	noon := time.Date(2026, 7, 1, 12, 0, 0, 0, time.UTC)
	where := Elsewhere{Places: []condition.Place{j.LookOver.Place, roofed}, Hours: []HourAir{{noon.Add(8 * time.Hour), evening}},
		Promised: noon.Add(10 * time.Hour)}
	ways := WaysOut(p, j, made, where)
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
		again := resolve(t, p, then)
		assert.True(t, again.Keeps(then), w.Says)
		assert.Equal(t, again.Minutes, w.Minutes)
	}
	where.Promised = noon.Add(8 * time.Hour)
	for _, w := range WaysOut(p, j, made, where) {
		assert.Zero(t, w.At, "an hour after which the promise is missed is none")
	}
	clock := func(at time.Time) string { return at.Format("15:04") }
	assert.Equal(t, "At 20:00: 61 min, 12 less.", WayOut{At: noon.Add(8 * time.Hour), Minutes: 61, More: -12}.Words(clock))
	assert.Equal(t, "In Covered bay: 70 min, as long as it is.", WayOut{Says: "In Covered bay", Minutes: 70, More: 0.4}.Words(clock))

	mild := job(1)
	kept := resolve(t, p, mild)
	require.True(t, kept.Keeps(mild))
	assert.Empty(t, WaysOut(p, mild, kept, where), "what keeps needs none")
}

// A procedure that is misted again or done in sections is one that could be published.
func TestOtherWaysAreProcedures(t *testing.T) {
	for _, p := range procedure.Starters() {
		before := procedure.Markdown(p)
		if misted, ok := mistedAgain(p); ok {
			assert.NoError(t, misted.Check(), p.Family)
		}
		if parts, ok := inSections(p); ok {
			assert.NoError(t, parts.Check(), p.Family)
			assert.Greater(t, len(parts.Rounds), len(p.Rounds))
		}
		assert.Equal(t, before, procedure.Markdown(p), "the procedure itself stays as it was")
	}
}
