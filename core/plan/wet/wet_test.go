package wet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/plantest"
	"uskel/core/plan/wet"
	"uskel/core/procedure/starters"
	"uskel/core/vehicle"
)

// The wet clock, which shares nothing with the schedule, follows every starter in the weather it is meant for, laid out
// for one person: nothing dries, nothing is left on, nothing is touched before it has worked, and no
// label is overrun.
func TestTheWetClockFollowsTheStarters(t *testing.T) {
	followed := 0
	for _, p := range starters.Starters() {
		job := plantest.Typical(p.Family)
		made, err := fill.Resolve(p, job)
		require.NoError(t, err)
		work, laid := plantest.Alone(t, made)
		require.True(t, laid.Feasible, "%s: %v", p.Title, laid.Why)
		for _, w := range film.Check(wet.WetActs(made, work, laid, job.Vehicle.Body), job.Windows()) {
			followed++
			if w.Outcome != film.LeftOn && w.By < 15*measure.Second {
				continue
			}
			assert.Equal(t, film.Kept, w.Outcome, "%s: %s on the %s", p.Title, w.On, w.Zone)
		}
	}
	assert.Greater(t, followed, 200, "coats on zones")
}

// What is found is said by product and place: the front comes last under the mitt, and the foam has waited longest there.
func TestWetFaultsAreSaid(t *testing.T) {
	job := plantest.Typical("F3")
	made, err := fill.Resolve(starters.Enthusiast(), job)
	require.NoError(t, err)
	work, laid := plantest.Alone(t, made)
	assert.Empty(t, wet.WetFaults(made, work, laid, job), "as it is planned")
	foam := plantest.Find(made, "foam")
	foam.Dwell.Full -= 6 * 60 // a bottle with a stricter label, after all was laid out
	faults := wet.WetFaults(made, work, laid, job)
	require.Len(t, faults, 1)
	f := faults[0]
	assert.Equal(t, film.OverLabel, f.Outcome)
	assert.Regexp(t, `^Foam stays on up to .+ past its time: .+\.$`, f.Says)
	assert.Contains(t, f.Zones, vehicle.Front, "washed last")
	assert.Positive(t, f.At)
	assert.False(t, wet.Dries(faults), "its label is over, and it is still wet")
	assert.True(t, wet.Dries([]plan.WetFault{{Outcome: film.OverLabel}, {Outcome: film.Dried}}))
	assert.Less(t, f.At, laid.Finish)
}

// In the sun the same plan fails where it must: the wet clock names the side that the sun is on.
func TestTheWetClockNamesTheSide(t *testing.T) {
	job := plantest.Typical("F6")
	job.LookOver.Place.Cover, job.LookOver.Place.Heading = climate.OpenSky, 0
	job.Vehicle.Shade = vehicle.Dark
	job.Weather = climate.Weather{Air: climate.Air{Temp: 30, RH: 0.35}, Wind: 3, Direct: 850, Diffuse: 100,
		SunAltitude: 25, SunAzimuth: 90}
	windows := job.Windows()
	right := windows(vehicle.UpperRight, climate.FoamFilm, 0)
	left := windows(vehicle.UpperLeft, climate.FoamFilm, 0)
	assert.Less(t, 2*right, left, "the nose points north and the sun stands in the east")
	coat := film.Coat{Film: climate.FoamFilm, Product: true}
	route := film.Down(plan.FilledStep{Zones: []vehicle.Zone{vehicle.UpperLeft, vehicle.UpperRight}}.Parts(vehicle.Hatch))
	mean := (left + right) / 2
	acts := []film.Act{{ID: "foam", End: 60, Route: route, On: &coat},
		{ID: "rinse", Start: 60 + mean, End: 120 + mean, Route: route, Off: []string{"foam"}}}
	for _, w := range film.Check(acts, windows) {
		assert.Equal(t, w.Zone == vehicle.UpperRight, w.Outcome == film.Dried, "%s", w.Zone)
	}
}
