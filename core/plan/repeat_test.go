package plan

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/vehicle"
)

// A mist repeats itself as often as the foam would dry: never where it may dry by the school, more often the drier the air,
// each with its minutes; where the plan says that it is kept, the wet clock agrees.
func TestAMistRepeatsItself(t *testing.T) {
	salt := families(t)["F9"]
	job := typical("F9")
	job.LookOver.Place.Cover = climate.InShade
	made, err := Resolve(salt, job)
	require.NoError(t, err)
	assert.Len(t, mists(made), 1, "it may dry here: one mist before it is touched")

	job.LookOver.Pins = map[condition.Fact]string{condition.SoapDries: condition.ReWet}
	job.Vehicle.Shade = vehicle.White
	times := []int{}
	for _, humid := range []float64{0.95, 0.8, 0.6} {
		job.Weather = climate.Weather{Air: climate.Air{Temp: 14, RH: humid}, Wind: 1, Diffuse: 100}
		made, err = Resolve(salt, job)
		require.NoError(t, err)
		all := mists(made)
		times = append(times, len(all))
		minutes := 0.0
		for k, s := range all {
			minutes += s.Minutes
			assert.Equal(t, "mist", s.base())
			if len(all) > 1 {
				assert.Contains(t, s.Title, "of")
			}
			if k > 0 {
				assert.Contains(t, s.Rewets, all[k-1].ID)
			}
		}
		assert.InDelta(t, float64(len(all)), minutes, 0.01, "a minute each")
		assert.Len(t, made.find("foam-off").Ends, len(all)+1, "the foam and every mist come off")
		if len(made.Line.Late) == 0 {
			problem, line := laidOut(t, made, 1)
			assert.True(t, line.Feasible)
			assert.Empty(t, made.WetFaults(problem.Work, line, job), "at %.0f %%", humid*100)
		}
	}
	t.Log(times)
	assert.IsNonDecreasing(t, times)
	assert.Greater(t, times[len(times)-1], times[0])
}

func mists(p Plan) []FilledStep {
	var all []FilledStep
	for _, s := range p.Steps {
		if strings.HasPrefix(s.ID, "mist") {
			all = append(all, s)
		}
	}
	return all
}
