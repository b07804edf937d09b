package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// typical is the vehicle a family is meant for.
func typical(family string) Job {
	j := job(1)
	level := func(g, lower contact.Grade) {
		for _, p := range j.Vehicle.Body.Parts() {
			j.LookOver.Grades[p.Zone] = g
			if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
				j.LookOver.Grades[p.Zone] = lower
			}
		}
	}
	j.LookOver.Place.Blower = true
	coat := func(days int, water condition.WaterSeen) {
		j.LookOver.Protection = condition.Protection{Kind: condition.Coating, AgeDays: days, Water: water}
	}
	indoors := func() {
		j.LookOver.Place.Cover, j.LookOver.Place.Supply, j.LookOver.Place.Runoff = climate.Indoors, condition.Carried, false
	}
	level(1, 2)
	switch family {
	case "F1":
		j.LookOver.Place.Supply = condition.Hose
		level(1, 1)
	case "F2":
		j.LookOver.Place.Supply, j.LookOver.Budget, j.LookOver.Service = condition.Hose, 30, "express"
		level(1, 1)
	case "F3":
		level(1, 1)
		j.LookOver.Service = "show"
	case "F4":
		coat(80, condition.Flat)
	case "F5":
		coat(50, condition.Beads)
	case "F7":
		level(3, 3)
	case "F8":
		level(2, 3)
		j.Weather.Temp = 3
	case "F9":
		level(3, 4)
		j.LookOver.Salt, j.Weather.Temp, j.LookOver.Place.Cover = true, 2, climate.OpenSky
	case "F10":
		j.Vehicle.Body = vehicle.Saloon
		level(1, 1)
	case "F11":
		j.Vehicle.Body, j.LookOver.Budget = vehicle.Estate, 15
		j.Vehicle.Wheels.Inches = 17
		level(1, 1)
	case "F12", "F13", "F14", "F15":
		indoors()
		level(1, 1)
		if family == "F13" {
			j.Weather.Temp = 3
		}
		if family == "F15" {
			j.LookOver.Budget = 45
		}
	case "F16":
		indoors()
		level(0, 0)
	case "F17":
		j.LookOver.TyreShine = true
		j.Menu = condition.Menu{{ID: "basic", Name: "Wheels", Level: condition.Basic, Tyres: condition.GlossTyres}}
	case "F18":
		level(3, 3)
	}
	return j
}

// timed is a plan's time without set-up and put-away, as the trade claims it.
func timed(p Plan) float64 {
	minutes := p.Minutes
	for _, s := range p.Steps {
		if s.Stage == "Set up" || s.Stage == "Put away" {
			minutes -= s.Minutes
		}
	}
	return minutes
}

func families(t *testing.T) map[string]procedure.Procedure {
	t.Helper()
	all := map[string]procedure.Procedure{}
	for _, p := range procedure.Starters() {
		all[p.Family] = p
	}
	require.Len(t, all, 18)
	return all
}

// Every family on its own typical vehicle: order, quantities and claimed time of docs/trade.md, section 5, for one
// person with the default rates. Common practice, no source, every row of it.
func TestFamiliesAsTheTradeKnowsThem(t *testing.T) {
	all := families(t)
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
		made, err := Resolve(all[c.family], typical(c.family))
		if !assert.NoError(t, err, c.family) {
			continue
		}
		at := map[string]int{}
		for i, s := range made.Steps {
			if _, seen := at[s.base()]; !seen {
				at[s.base()] = i
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
			if s := made.find(id); assert.NotNil(t, s, id) && assert.NotNil(t, s.Mix, id) {
				assert.InDelta(t, ml, s.Mix.Millis.Ml(), 0.05, "%s: %s", c.family, id)
			}
		}
		took := timed(made)
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
	all := families(t)
	mitts, err := Resolve(all["F18"], typical("F18"))
	require.NoError(t, err)
	assert.Contains(t, mitts.find("mitts").Cloth, "long-pile mitt")
	touchless, err := Resolve(all["F10"], typical("F10"))
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
		j := typical(family)
		j.LookOver.Service = "" // whatever there is
		choices := Choose(procedure.Starters(), j)
		assert.Equal(t, Recommended, choices[0].Verdict, family)
		assert.Contains(t, accept, choices[0].Family, "%s: %v", family, choices[0].Why)
		for _, c := range choices {
			assert.NotEmpty(t, c.Why, c.Family)
		}
	}
}

// Disagreements settle by condition, and a pin of the wash beats one of the procedure, which beats one of the shop.
func TestDisagreementsAreSettled(t *testing.T) {
	by := func(j Job, p procedure.Procedure, fact condition.Fact) procedure.Settled {
		made, err := Resolve(p, j)
		require.NoError(t, err)
		for _, s := range made.Settled {
			if s.Fact == fact {
				return s
			}
		}
		t.Fatalf("%s is not settled", fact)
		return procedure.Settled{}
	}
	care := procedure.CareWash()
	shade := typical("F5")
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
	sun := typical("F5")
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

	j := typical("F5")
	j.Pins = procedure.Pins{condition.FoamFrom: condition.FromTop}
	assert.Equal(t, "the shop", by(j, care, condition.FoamFrom).By)
	care.Pins = procedure.Pins{condition.FoamFrom: condition.FromBottom, condition.FoamAtAll: condition.Yes}
	assert.Equal(t, "this procedure", by(j, care, condition.FoamFrom).By)
	j.LookOver.Pins = procedure.Pins{condition.FoamFrom: condition.FromTop}
	s := by(j, care, condition.FoamFrom)
	assert.Equal(t, "this wash", s.By)
	assert.Equal(t, condition.FromTop, s.Value)
	made, err := Resolve(care, j)
	require.NoError(t, err)
	assert.Contains(t, made.find("foam").Text, "From the top down")
	for _, s := range made.Settled {
		assert.NotContains(t, []condition.Fact{condition.DishSoap, condition.MittsOrBuckets, condition.SpongeUse}, s.Fact,
			"no step of this wash follows from it, so it is not shown as settled")
	}
	assert.Greater(t, len(made.Settled), 8)
}

// Wheels are done during foam in shade and before it in sun, and the plan saves the dwell.
func TestWheelsDuringFoamSaveTheDwell(t *testing.T) {
	shade := typical("F5")
	shade.LookOver.Place.Cover = climate.Indoors
	for z := range shade.LookOver.Grades {
		shade.LookOver.Grades[z] = 1
	}
	during := resolve(t, procedure.CareWash(), shade)
	shade.LookOver.Pins = procedure.Pins{condition.WheelsWhen: condition.First}
	first := resolve(t, procedure.CareWash(), shade)
	assert.Less(t, during.Minutes, first.Minutes)
	assert.NotNil(t, during.find("wheels-during"))
	assert.NotNil(t, first.find("wheels"))
}

// Until every painted zone is graded nothing is recommended: any of them may be the worst, which decides.
func TestNothingIsRecommendedUnseen(t *testing.T) {
	j := job(1)
	delete(j.LookOver.Grades, vehicle.Roof)
	for _, c := range Choose(procedure.Starters(), j) {
		assert.NotEqual(t, Recommended, c.Verdict, c.Title)
	}
	j.LookOver.Grades = nil
	a := condition.Assess(j.Vehicle, j.LookOver, nil)
	assert.Equal(t, "not yet looked at", a.Name)
	assert.False(t, a.Looked())
}
