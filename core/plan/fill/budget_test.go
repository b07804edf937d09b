package fill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/condition"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
)

// What to drop first when time is short: never a rinse, a pre-wash, the contact wash or the drying. Common practice,
// no source.
func TestWhatToDropFirst(t *testing.T) {
	j := plantest.Job(2)
	j.LookOver.Service, j.LookOver.TyreShine = "signature", true
	whole := plantest.Resolve(t, starters.Maintenance(), j)
	assert.Empty(t, whole.Drops(whole.Minutes), "it fits")
	first := whole.Drops(whole.Minutes - 0.1)
	assert.Len(t, first, 1)
	assert.Equal(t, "tips", first[0].Step)
	more := whole.Drops(whole.Minutes - first[0].Minutes - 1)
	assert.Equal(t, "tyres", more[1].Step)
	for budget := whole.Minutes; budget > 0; budget -= 3 {
		saved := 0.0
		for _, d := range whole.Drops(budget) {
			s := plantest.Find(whole, d.Step)
			assert.NotContains(
				t,
				[]procedure.Technique{
					procedure.Rinse,
					procedure.Apply,
					procedure.ContactWash,
					procedure.Dry,
					procedure.Inspect,
				},
				s.Technique,
				d.Title,
			)
			assert.NotEmpty(t, d.Costs)
			saved += d.Minutes
		}
		if saved < whole.Minutes-budget {
			assert.Equal(t, whole.Drops(0), whole.Drops(budget), "all that may go is named when it is not enough")
		}
	}
	j.LookOver.Budget = 30
	assert.NotEmpty(t, plantest.Resolve(t, starters.Maintenance(), j).Drop)
}

// A jet at 4.5 l/min for some nine minutes, twelve litres of bucket, three of mixes: common practice for a shop wash.
func TestWaterIsCounted(t *testing.T) {
	jet := plantest.Resolve(t, starters.Maintenance(), plantest.Job(1))
	assert.InDelta(t, 55, jet.Litres, 15)
	dry := plantest.Job(0)
	dry.LookOver.Place.Supply, dry.LookOver.Place.Runoff = condition.Carried, false
	assert.InDelta(t, 8.1, plantest.Resolve(t, starters.RinselessTowels(), dry).Litres, 0.3, "2 US gal, and half a litre out of the sprayer")
}
