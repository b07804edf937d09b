package fill_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shelf"
)

// A product used as it comes costs what is taken of it: two sprays of some 1.2 ml a panel of 0.8 m2, a ribbon of 5 ml a
// tyre (model).
func TestWhatIsUsedNeatCosts(t *testing.T) {
	j := plantest.Shelved(plantest.Job(1), procedure.SpraySeal, procedure.TyreGel)
	j.LookOver.Service, j.LookOver.TyreShine = "signature", true
	p := plantest.Resolve(t, starters.Maintenance(), j)
	seal, gel := plantest.Find(p, "seal"), plantest.Find(p, "tyres")
	assert.InDelta(t, 3*seal.Area, seal.Taken, 0.1)
	assert.InDelta(t, 20, gel.Taken, 0.01, "four tyres")
	assert.InDelta(t, 10*(seal.Taken+gel.Taken)/10, float64(p.Cost), 1)

	own := starters.Maintenance()
	for i, stage := range own.Stages {
		for k, s := range stage.Steps {
			if s.ID == "seal" {
				own.Stages[i].Steps[k].Uses = &procedure.Consumption{Fixed: 40}
			}
		}
	}
	assert.InDelta(t, 40, plantest.Find(plantest.Resolve(t, own, j), "seal").Taken, 0.01, "the procedure says how much")
}

// A sprayer is mixed once for all its steps, costs what is taken out of it, and what is left is told; a bucket and a foam
// bottle are poured away and cost whole.
func TestAVesselIsMixedOnce(t *testing.T) {
	j := plantest.Shelved(plantest.Job(2), procedure.Degreaser, procedure.FoamProduct, procedure.Shampoo)
	p := plantest.Resolve(t, starters.Maintenance(), j)
	wheels := plantest.MadeFrom(p, "wheels")
	require.Len(t, wheels, 4)
	mixed := wheels[0].Mix
	require.NotNil(t, mixed)
	assert.InDelta(t, 60, mixed.Takes.Ml(), 0.01, "one wheel")
	for _, w := range wheels[1:] {
		assert.Nil(t, w.Mix)
		require.NotNil(t, w.Drawn)
		assert.Equal(t, mixed.Vessel, w.Drawn.Vessel)
	}
	left := 1000. - 4*60
	if bugs := plantest.Find(p, "bugs"); bugs != nil && bugs.Drawn != nil {
		left -= bugs.Drawn.Takes.Ml()
	}
	assert.InDelta(t, left, mixed.Left.Ml(), 1)
	foam, fill := plantest.Find(p, "foam"), plantest.Find(p, "fill")
	assert.Zero(t, foam.Mix.Left.Ml())
	assert.InDelta(t, foam.Mix.Millis.Ml(), foam.Taken, 0.1, "a foam bottle does one car")
	assert.InDelta(t, fill.Mix.Millis.Ml(), fill.Taken, 0.1)
	spent := 0.0
	for _, s := range p.Likely() {
		if s.ProductID != "" || s.Mix != nil && s.Mix.ID != "" {
			spent += s.Taken
		}
	}
	assert.Contains(t, p.Warnings, "Nothing on the shelf is a citrus pre-wash: it is counted at no cost.")
	assert.InDelta(t, spent, float64(p.Cost), 1, "a ml costs one")
}

// Two to four ounces a bucket: stronger from grade 3 on (docs/trade.md, section 7).
func TestADoseIsStrongerWhereItIsDirtier(t *testing.T) {
	p := starters.Maintenance()
	strong, err := measure.NewRatio(1, 100, measure.PartsPlusParts)
	require.NoError(t, err)
	for i, stage := range p.Stages {
		for k, s := range stage.Steps {
			if s.ID == "fill" {
				d := *s.Dose
				d.Stronger = []procedure.Strength{{When: procedure.Min(condition.GradeLower, 3), Ratio: strong}}
				p.Stages[i].Steps[k].Dose = &d
			}
		}
	}
	light := plantest.Find(plantest.Resolve(t, p, plantest.Job(1)), "fill").Mix
	heavy := plantest.Find(plantest.Resolve(t, p, plantest.Job(3)), "fill").Mix
	assert.InDelta(t, 24, light.Millis.Ml(), 0.1)
	assert.InDelta(t, 120, heavy.Millis.Ml(), 0.1)
}

// Besides the people a wash costs product, laundering and water, each of its own.
func TestWhatAWashCosts(t *testing.T) {
	j := plantest.Job(1)
	j.Launder, j.WaterPrice = 40, 350
	p := plantest.Resolve(t, starters.Maintenance(), j)
	assert.Equal(t, p.Cost, p.Costs.Product)
	assert.EqualValues(t, 40*p.Costs.Used, p.Costs.Cloths)
	assert.GreaterOrEqual(t, p.Costs.Used, 5, "mitt, wheel mitt, two drying towels, a shut towel")
	assert.InDelta(t, 350*p.Litres/1000, float64(p.Costs.Water), 1)
	four := plantest.Resolve(t, starters.RinselessTowels(), j)
	assert.GreaterOrEqual(t, four.Costs.Used, four.Towels)
}

// A dose that is counted comes out as it is counted, stronger where a condition holds, with a second product in the same
// bucket, each with its cost (by hand: 5 pumps of 4 ml at 20.00 a litre are 0.40, 30 ml of booster at 30.00 are 0.90).
func TestADoseIsCounted(t *testing.T) {
	pumps := func(n float64) *procedure.Counted {
		return &procedure.Counted{Count: n, Unit: procedure.ByPump, Each: measure.Ml(4)}
	}
	p := plantest.Families(t)["F6"].Edited(func(_ string, steps []procedure.Step) []procedure.Step {
		for i := range steps {
			if steps[i].ID == "fill" {
				d := *steps[i].Dose
				d.Fill, d.Counted = measure.Ml(15_000), pumps(3)
				d.Stronger = []procedure.Strength{{When: procedure.Min(condition.GradeOverall, 3), Ratio: d.Ratio, Counted: pumps(5)}}
				d.Extras = []procedure.Extra{{Class: procedure.WaxShampoo, Counted: procedure.Counted{Count: 30, Unit: procedure.ByMl}}}
				steps[i].Dose = &d
			}
		}
		return steps
	})
	job := plantest.Typical("F6")
	job.Shelf = []shelf.Product{{ID: "a", Name: "Plain", Class: procedure.Shampoo, CostPerL: 2000},
		{ID: "b", Name: "Booster", Class: procedure.WaxShampoo, CostPerL: 3000}}
	made, err := fill.Resolve(p, job)
	require.NoError(t, err)
	assert.InDelta(t, 12, plantest.Find(made, "fill").Mix.Millis.Ml(), 0.01)
	for z := range job.LookOver.Grades {
		job.LookOver.Grades[z] = 3
	}
	made, err = fill.Resolve(p, job)
	require.NoError(t, err)
	fill := plantest.Find(made, "fill")
	assert.InDelta(t, 20, fill.Mix.Millis.Ml(), 0.01)
	require.Len(t, fill.Added, 1)
	assert.Equal(t, plan.Added{Product: "Booster", ID: "b", Class: procedure.WaxShampoo, Ml: 30, Counts: "30 ml"}, fill.Added[0])
	assert.EqualValues(t, 130, made.Cost, "minor units")
	assert.True(t, slices.ContainsFunc(made.Fetch(), func(f plan.Fetched) bool { return f.What == "Booster" }))
}
