package fill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/plan/fill"
	"uskel/core/plan/plantest"
	"uskel/core/plan/wet"
	"uskel/core/vehicle"
)

// A mist repeats itself as often as the foam would dry: never where it may dry by the school, more often the drier the air,
// each with its minutes; where the plan says that it is kept, the wet clock agrees.
func TestAMistRepeatsItself(t *testing.T) {
	salt := plantest.Families(t)["F9"]
	job := plantest.Typical("F9")
	job.LookOver.Place.Cover = climate.InShade
	made, err := fill.Resolve(salt, job)
	require.NoError(t, err)
	assert.Len(t, plantest.Mists(made), 1, "it may dry here: one mist before it is touched")

	job.LookOver.Pins = map[condition.Fact]string{condition.SoapDries: condition.ReWet}
	job.Vehicle.Shade = vehicle.White
	times := []int{}
	for _, humid := range []float64{0.95, 0.8, 0.6} {
		job.Weather = climate.Weather{Air: climate.Air{Temp: 14, RH: humid}, Wind: 1, Diffuse: 100}
		made, err = fill.Resolve(salt, job)
		require.NoError(t, err)
		all := plantest.Mists(made)
		times = append(times, len(all))
		minutes := 0.0
		for k, s := range all {
			minutes += s.Minutes
			assert.Equal(t, "mist", s.Origin())
			if len(all) > 1 {
				assert.Contains(t, s.Title, "of")
			}
			if k > 0 {
				assert.Contains(t, s.Rewets, all[k-1].ID)
			}
		}
		assert.InDelta(t, float64(len(all)), minutes, 0.01, "a minute each")
		assert.Len(t, plantest.Find(made, "foam-off").Ends, len(all)+1, "the foam and every mist come off")
		if len(made.Line.Late) == 0 {
			problem, line := plantest.LaidOut(t, made, 1)
			assert.True(t, line.Feasible)
			assert.Empty(t, wet.WetFaults(made, problem.Work, line, job), "at %.0f %%", humid*100)
		}
	}
	t.Log(times)
	assert.IsNonDecreasing(t, times)
	assert.Greater(t, times[len(times)-1], times[0])
}
