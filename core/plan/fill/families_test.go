package fill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/judge"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/vehicle"
)

// Every family on its own typical vehicle: order, quantities and claimed time of docs/trade.md, section 5, for one
// person with the default rates. Common practice, no source, every row of it.
func TestFamiliesAsTheTradeKnowsThem(t *testing.T) {
	all := plantest.Families(t)
	for _, c := range []struct {
		family   string
		order    []string           // ids of steps in the plan, in this order
		ml       map[string]float64 // product by step
		from, to float64            // claimed minutes; 0 where none is claimed
	}{
		{"F1", []string{"wheels", "rinse", "mitt", "final", "towel", "seal"}, map[string]float64{"wheels": 200, "fill": 24}, 0, 0},
		{"F2", []string{"soak", "fill", "wheels-off", "spray", "ready", "rinse", "mitt", "suds", "final", "towel",
			"seal", "tips"}, map[string]float64{"spray": 2000. / 11}, 0, 30},
		{"F3", []string{"wheels", "rinse", "foam", "fill", "mitt", "final", "blow", "towel", "inside"}, map[string]float64{"foam": 100}, 45, 60},
		{"F4", []string{"wheels", "foam", "foam-off", "mitt", "final", "iron", "iron-off", "topup", "glass"},
			map[string]float64{"fill": 24}, 0, 0},
		{"F5", []string{"foam", "foam-off", "fill", "mitt", "final", "blow", "towel", "topup"}, nil, 0, 0},
		{"F6", []string{"rinse", "wheels", "foam", "foam-off", "mitt", "final", "blow", "towel", "shuts", "look"},
			map[string]float64{"foam": 100, "fill": 24, "wheels": 1000. / 11}, 0, 0},
		{"F7", []string{"rinse", "wheels", "citrus", "citrus-off", "foam", "badges", "fill", "foam-off", "mitt",
			"final", "towel", "glass"}, map[string]float64{"wheels": 200, "citrus": 2000. / 11}, 0, 0},
		{"F8", []string{"wheels", "foam", "foam-off", "pad", "pad-lower", "badges", "final", "sheet", "towel"},
			map[string]float64{"foam": 40, "wheels": 500. / 11}, 0, 0},
		{"F9", []string{"salt-foam", "wheels", "mist", "foam-off", "mitt", "badges", "shuts", "under", "final",
			"towel"}, map[string]float64{"salt-foam": 250}, 0, 0},
		{"F10", []string{"rinse", "foam", "foam-off", "blow", "roll"}, map[string]float64{"foam": 100}, 15, 20},
		{"F11", []string{"soak", "wheels-off", "rinse", "foam", "mitt", "final", "towel", "glass"}, nil, 0, 10},
		{"F12", []string{"mix", "wet", "towels", "wax", "dry", "wheels", "shuts"}, map[string]float64{"mix": 29.5735}, 0, 60},
		{"F13", []string{"mix", "wet", "sponge", "dry", "wheels"}, map[string]float64{"mix": 2 * 29.5735}, 0, 0},
		{"F14", []string{"mix", "wet", "mitt", "dry", "wax", "glass", "wheels"}, map[string]float64{"mix": 2.5 * 29.5735}, 0, 0},
		{"F15", []string{"mix", "wet", "mitt", "dry", "glass"}, nil, 0, 0},
		{"F16", []string{"mist", "buff", "glass"}, nil, 0, 0},
		{"F17", []string{"soak", "agitate", "rinse", "dry", "gloss", "gloss-again"}, map[string]float64{"soak": 200}, 0, 0},
		{"F18", []string{"rinse", "wheels", "foam", "foam-off", "mitts", "final"}, nil, 0, 0},
	} {
		made, err := fill.Resolve(all[c.family], plantest.Typical(c.family))
		if !assert.NoError(t, err, c.family) {
			continue
		}
		at := map[string]int{}
		for i, s := range made.Steps {
			if _, seen := at[s.Origin()]; !seen {
				at[s.Origin()] = i
			}
		}
		previous := -1
		for _, id := range c.order {
			i, there := at[id]
			if assert.True(t, there, "%s: step %s is in the plan", c.family, id) {
				assert.Greater(t, i, previous, "%s: %s comes after what stands before it", c.family, id)
				previous = i
			}
		}
		for id, ml := range c.ml {
			if s := plantest.Find(made, id); assert.NotNil(t, s, id) && assert.NotNil(t, s.Mix, id) {
				assert.InDelta(t, ml, s.Mix.Millis.Ml(), 0.05, "%s: %s", c.family, id)
			}
		}
		took := plantest.Timed(made)
		if c.family == "F2" { // the only claim that counts set-up and put-away
			took = made.Minutes
		}
		if c.to > 0 {
			assert.GreaterOrEqual(t, took, c.from, c.family)
			assert.LessOrEqual(t, took, c.to, c.family)
		}
		assert.Empty(t, made.Line.Late, "%s: every dwell can be kept by one person", c.family)
		assert.Less(t, made.Index, 25.0, c.family)
		if c.family != "F17" {
			assert.Empty(t, made.Undone, c.family)
			assert.LessOrEqual(t, made.Film, 150.0, c.family)
		}
	}
}

// A many-mitt wash and a towel wash count their cloths; touchless leaves 90 to 95 % clean and more. Common practice,
// no source.
func TestWhatFamiliesLeave(t *testing.T) {
	all := plantest.Families(t)
	mitts, err := fill.Resolve(all["F18"], plantest.Typical("F18"))
	require.NoError(t, err)
	assert.Contains(t, plantest.Find(mitts, "mitts").Cloth, "long-pile mitt")
	touchless, err := fill.Resolve(all["F10"], plantest.Typical("F10"))
	require.NoError(t, err)
	taken := 1 - touchless.Film/contact.SoilOf(1).All()
	assert.GreaterOrEqual(t, taken, 0.90)
	assert.Zero(t, touchless.Index, "nothing touches")
}

// The family made for a condition is recommended in it, and never one that the condition forbids.
func TestTheFamilyMadeForItIsRecommended(t *testing.T) {
	for family, accept := range map[string][]string{
		"F1": {"F1"}, "F2": {"F2"}, "F4": {"F4"}, "F5": {"F5", "F10"}, "F6": {"F6"}, "F9": {"F9"}, "F10": {"F10"},
		"F11": {"F10", "F11"}, "F12": {"F12"}, "F16": {"F16"},
	} {
		j := plantest.Typical(family)
		j.LookOver.Service = "" // whatever there is
		choices := judge.Choose(starters.Starters(), j)
		assert.Equal(t, plan.Recommended, choices[0].Verdict, family)
		assert.Contains(t, accept, choices[0].Family, "%s: %v", family, choices[0].Why)
		for _, c := range choices {
			assert.NotEmpty(t, c.Why, c.Family)
		}
	}
}

// Disagreements settle by condition, and a pin of the wash beats one of the procedure, which beats one of the shop.
func TestDisagreementsAreSettled(t *testing.T) {
	by := func(j plan.Job, p procedure.Procedure, fact condition.Fact) procedure.Settled {
		made, err := fill.Resolve(p, j)
		require.NoError(t, err)
		for _, s := range made.Settled {
			if s.Fact == fact {
				return s
			}
		}
		t.Fatalf("%s is not settled", fact)
		return procedure.Settled{}
	}
	care := starters.CareWash()
	shade := plantest.Typical("F5")
	shade.LookOver.Place.Cover = climate.Indoors
	for z := range shade.LookOver.Grades {
		shade.LookOver.Grades[z] = 1
	}
	assert.Equal(
		t,
		condition.DuringFoam,
		by(shade, care, condition.WheelsWhen).Value,
		"in cool shade wheels are done while foam works",
	)
	sun := plantest.Typical("F5")
	sun.LookOver.Place.Cover = climate.OpenSky
	sun.Weather = climate.Weather{
		Air:         climate.Air{Temp: 26, RH: 0.4},
		Wind:        2,
		Direct:      700,
		Diffuse:     100,
		SunAltitude: 45,
		SunAzimuth:  200,
	}
	assert.Equal(t, condition.First, by(sun, care, condition.WheelsWhen).Value, "in the sun they come first")

	j := plantest.Typical("F5")
	j.Pins = procedure.Pins{condition.FoamFrom: condition.FromTop}
	assert.Equal(t, "the shop", by(j, care, condition.FoamFrom).By)
	care.Pins = procedure.Pins{condition.FoamFrom: condition.FromBottom, condition.FoamAtAll: condition.Yes}
	assert.Equal(t, "this procedure", by(j, care, condition.FoamFrom).By)
	j.LookOver.Pins = procedure.Pins{condition.FoamFrom: condition.FromTop}
	s := by(j, care, condition.FoamFrom)
	assert.Equal(t, "this wash", s.By)
	assert.Equal(t, condition.FromTop, s.Value)
	made, err := fill.Resolve(care, j)
	require.NoError(t, err)
	assert.Contains(t, plantest.Find(made, "foam").Text, "From the top down")
	for _, s := range made.Settled {
		assert.NotContains(t, []condition.Fact{condition.DishSoap, condition.MittsOrBuckets, condition.SpongeUse}, s.Fact,
			"no step of this wash follows from it, so it is not shown as settled")
	}
	assert.Greater(t, len(made.Settled), 8)
}

// Wheels are done during foam in shade and before it in sun, and the plan saves the dwell.
func TestWheelsDuringFoamSaveTheDwell(t *testing.T) {
	shade := plantest.Typical("F5")
	shade.LookOver.Place.Cover = climate.Indoors
	for z := range shade.LookOver.Grades {
		shade.LookOver.Grades[z] = 1
	}
	during := plantest.Resolve(t, starters.CareWash(), shade)
	shade.LookOver.Pins = procedure.Pins{condition.WheelsWhen: condition.First}
	first := plantest.Resolve(t, starters.CareWash(), shade)
	assert.Less(t, during.Minutes, first.Minutes)
	assert.NotNil(t, plantest.Find(during, "wheels-during"))
	assert.NotNil(t, plantest.Find(first, "wheels"))
}

// Until every painted zone is graded nothing is recommended: any of them may be the worst, which decides.
func TestNothingIsRecommendedUnseen(t *testing.T) {
	j := plantest.Job(1)
	delete(j.LookOver.Grades, vehicle.Roof)
	for _, c := range judge.Choose(starters.Starters(), j) {
		assert.NotEqual(t, plan.Recommended, c.Verdict, c.Title)
	}
	j.LookOver.Grades = nil
	a := condition.Assess(j.Vehicle, j.LookOver, nil)
	assert.Equal(t, "not yet looked at", a.Name)
	assert.False(t, a.Looked())
}
