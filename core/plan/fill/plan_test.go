package fill_test

import (
	"encoding/json"
	"fmt"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/judge"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/prove"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// Values of docs/trade.md: F12 under 60 min and 6 to 8 towels on a light mid-size car; mitt wash 8 to 15 min, wheels 3 to 4
// min each, foam 1.5 to 2, pressure rinse 2 to 3, towel dry 4 to 6. Common practice, no source.
func TestTimesAndCountsOfTheTrade(t *testing.T) {
	light := plantest.Job(1)
	light.LookOver.Protection = condition.Protection{Kind: condition.Bare}
	rinseless := plantest.Resolve(t, starters.RinselessTowels(), light)
	assert.Less(t, rinseless.Minutes, 60.0)
	assert.InDelta(t, 6.5, rinseless.Towels, 1.5)

	for g := contact.Grade(1); g <= 3; g++ {
		p := plantest.Resolve(t, starters.Maintenance(), plantest.Job(g))
		size := 0.85
		within := func(id string, low, high float64) {
			s := plantest.Find(p, id)
			require.NotNil(t, s, id)
			assert.GreaterOrEqual(t, s.Minutes, low*size-0.1, "%s at grade %d", id, g)
			assert.LessOrEqual(t, s.Minutes, high+0.1, "%s at grade %d", id, g)
		}
		within("mitt", 8, 15)
		within("foam", 1.5, 2)
		within("rinse", 2, 3)
		within("towel", 4, 6)
	}
	wheel := plantest.Find(plantest.Resolve(t, starters.Maintenance(), plantest.Job(0)), "wheels").Minutes
	assert.True(t, wheel >= 3 && wheel <= 4, "a wheel takes 3 to 4 min, got %.1f", wheel)
}

// Amounts: docs/trade.md, section 7. Common practice, no source.
func TestAmountsForTheVesselInHand(t *testing.T) {
	p := plantest.Resolve(t, starters.Maintenance(), plantest.Job(3))
	foam := plantest.Find(p, "foam").Mix
	assert.Equal(t, measure.Ml(100), foam.Millis, "100 ml + 900 ml")
	assert.Equal(t, measure.Ml(900), foam.Water)
	assert.Equal(t, "1 in 10", foam.Readings.OnePartIn)
	assert.Equal(t, measure.Ml(24), plantest.Find(p, "fill").Mix.Millis, "20 ml per 10 l in 12 l")
	assert.InDelta(t, 2000.0/6, plantest.Find(p, "citrus-heavy").Mix.Millis.Ml(), 1e-6, "5:1, water first, in a 2 l sprayer")

	dry := plantest.Job(1)
	dry.LookOver.Place.Runoff = false
	towels := plantest.Resolve(t, starters.RinselessTowels(), dry)
	assert.InDelta(t, 1, plantest.Find(towels, "mix").Mix.Millis.In(measure.USFluidOunce), 1e-9, "1 fl oz to 2 gal")
}

func TestTheSameProcedureGivesTwoPlans(t *testing.T) {
	clean, dirty := plantest.Job(1), plantest.Job(3)
	dirty.LookOver.Salt = true
	dirty.LookOver.Bonded = []condition.Bonded{
		{Matter: condition.Bugs, Zone: vehicle.Front},
		{Matter: condition.Tar, Zone: vehicle.LowerLeft},
	}
	dirty.LookOver.Service = "signature"
	a, b := plantest.Resolve(t, starters.Maintenance(), clean), plantest.Resolve(t, starters.Maintenance(), dirty)
	assert.Nil(t, plantest.Find(a, "under"))
	assert.NotNil(t, plantest.Find(b, "under"), "salt: the underside is rinsed")
	assert.Nil(t, plantest.Find(a, "bugs"))
	assert.NotNil(t, plantest.Find(b, "citrus-heavy"))
	assert.NotNil(t, plantest.Find(b, "seal"))
	assert.Greater(t, b.Minutes, a.Minutes)
	assert.Contains(t, plantest.Find(b, "under").Because, "Because salt is on it.")
	assert.Contains(t, b.Scope, "tar on lower doors and sill, left")
	for _, p := range []plan.Plan{a, b} {
		bases := map[string]bool{}
		for _, s := range p.Steps {
			bases[s.Origin()] = true
		}
		assert.Equal(t, len(starters.Maintenance().Steps()), len(bases)+len(p.Out), "every step is in or out")
		for _, out := range p.Out {
			assert.NotEmpty(t, out.Because, out.ID)
		}
		for _, s := range p.Steps {
			assert.NotEmpty(t, s.Because, s.ID)
			assert.NotEmpty(t, s.Figures, "%s: its minutes say where they come from", s.ID)
		}
		assert.LessOrEqual(t, p.Index, float64(contact.DefaultAim))
	}
}

func TestRefusalsNameTheFact(t *testing.T) {
	caked := plantest.Job(3)
	_, err := fill.Resolve(starters.RinselessTowels(), caked)
	assert.ErrorContains(t, err, "the overall grade is 4 (asked: at most 2)")
	noDrain := plantest.Job(1)
	noDrain.LookOver.Place.Runoff = false
	_, err = fill.Resolve(starters.Maintenance(), noDrain)
	assert.ErrorContains(t, err, "may not run off")
	fresh := plantest.Job(1)
	fresh.LookOver.Watch = []vehicle.Watch{vehicle.FreshCoating}
	for _, p := range starters.Starters() {
		_, err = fill.Resolve(p, fresh)
		assert.ErrorContains(t, err, "must not be washed")
	}
}

func TestTheChooserRecommendsWhatDoesNoHarm(t *testing.T) {
	verdicts := func(j plan.Job) map[string]plan.Suitability {
		v := map[string]plan.Suitability{}
		for _, c := range judge.Choose(starters.Starters(), j) {
			v[c.Family] = c.Verdict
			assert.NotEmpty(t, c.Why)
			assert.Equal(t, c.Verdict == plan.Refused, c.Plan == nil)
		}
		return v
	}
	caked := verdicts(plantest.Job(3))
	assert.Equal(t, plan.Recommended, caked["F6"], "caked soil")
	for _, gentle := range []string{"F2", "F10", "F11", "F12", "F13", "F14", "F15", "F16"} {
		assert.Equal(t, plan.Refused, caked[gentle], "%s on caked soil", gentle)
	}
	carried := plantest.Job(0)
	carried.LookOver.Place.Supply, carried.LookOver.Place.Runoff = condition.Carried, false
	dry := verdicts(carried)
	assert.Equal(t, plan.Recommended, dry["F12"], "no drain")
	for _, rinses := range []string{"F1", "F2", "F3", "F5", "F6", "F7", "F10", "F17", "F18"} {
		assert.Equal(t, plan.Refused, dry[rinses], "%s without a drain", rinses)
	}
	both := verdicts(plantest.Job(1))
	assert.Equal(t, plan.Recommended, both["F6"], "moderate soil low down: rinsing first is kinder")
	assert.Equal(t, plan.Possible, both["F12"])
}

func TestDwellFollowsTheDay(t *testing.T) {
	mild := plantest.Find(plantest.Resolve(t, starters.Maintenance(), plantest.Job(2)), "foam").Dwell
	assert.False(t, mild.Shortened)
	assert.EqualValues(t, 600, mild.To)
	assert.Positive(t, mild.Spread, "putting on and taking off take time, which counts for drying")

	sunny := plantest.Job(2)
	sunny.LookOver.Place.Cover = climate.OpenSky
	sunny.Vehicle.Shade = vehicle.Dark
	sunny.Weather = climate.Weather{
		Air:         climate.Air{Temp: 28, RH: 0.4},
		Wind:        2,
		Direct:      800,
		Diffuse:     100,
		SunAltitude: 40,
		SunAzimuth:  270,
	}
	p := plantest.Resolve(t, starters.Maintenance(), sunny)
	foam := plantest.Find(p, "foam")
	assert.True(t, foam.Dwell.Shortened)
	assert.Less(t, foam.Dwell.To, mild.To/2)
	assert.Greater(t, foam.Dwell.Sections, 1)
	assert.Equal(t, 1, plantest.Find(p, "mitt").Panels.PerRinse, "one panel at a time in full sun")
	assert.Greater(
		t,
		p.Rinses,
		plantest.Resolve(t, starters.Maintenance(), plantest.Job(2)).Rinses,
		"foam that dries does less, so the mitt is rinsed more",
	)
}

// Common practice: about four shaded panels may wait before a rinse.
func TestPanelsBeforeTheCarIsRinsed(t *testing.T) {
	cool := plantest.Job(1)
	cool.Weather = climate.Weather{Air: climate.Air{Temp: 18, RH: 0.6}, Wind: 1, Diffuse: 60}
	panels := plantest.Find(plantest.Resolve(t, starters.Maintenance(), cool), "mitt").Panels
	assert.InDelta(t, 4, panels.PerRinse, 1)
	assert.InDelta(t, 2, panels.PerFace, 0.5, "two panels a face, when light")
}

func TestLabelAndWatchListReachTheSteps(t *testing.T) {
	j := plantest.Job(2)
	j.Shelf = []shelf.Product{
		{
			Name:     "Tidewrack foam",
			Class:    procedure.FoamProduct,
			DwellMax: 300,
			CostPerL: 900,
			Cautions: "eye protection",
		},
	}
	j.LookOver.Watch = []vehicle.Watch{vehicle.FilmEdges}
	j.LookOver.Budget = 20
	p := plantest.Resolve(t, starters.Maintenance(), j)
	foam := plantest.Find(p, "foam")
	assert.EqualValues(t, 300, foam.Dwell.Full, "the label wins")
	assert.Equal(t, "Tidewrack foam", foam.Mix.Product)
	assert.EqualValues(t, 90, p.Cost, "100 ml at 9.00 a litre")
	assert.Contains(t, plantest.Find(p, "rinse").Cautions, vehicle.FilmEdges.Means())
	assert.Contains(t, p.Warnings[0], "there are 20")
}

// Any look-over gives either a refusal with reasons or a sound plan.
func TestPlansAreSoundOnAnyJob(t *testing.T) {
	rng := rand.New(rand.NewSource(8))
	for range prove.Seeds(t, 300) {
		j := plantest.Job(0)
		for z := range j.LookOver.Grades {
			j.LookOver.Grades[z] = contact.Grade(rng.Intn(5))
		}
		j.Vehicle.Body = vehicle.Body(vehicle.Body("").Values()[rng.Intn(7)])
		j.LookOver.Place.Cover = climate.Cover(climate.Cover("").Values()[rng.Intn(3)])
		j.LookOver.Salt, j.LookOver.TyreShine = rng.Intn(2) == 0, rng.Intn(2) == 0
		j.Weather = climate.Weather{
			Air:         climate.Air{Temp: measure.Celsius(2 + 30*rng.Float64()), RH: 0.2 + 0.8*rng.Float64()},
			Wind:        5 * rng.Float64(),
			Direct:      900 * rng.Float64(),
			Diffuse:     100,
			SunAltitude: 60 * rng.Float64(),
			SunAzimuth:  360 * rng.Float64(),
		}
		for _, c := range judge.Choose(starters.Starters(), j) {
			if c.Plan == nil {
				require.NotEmpty(t, c.Why)
				continue
			}
			_, err := json.Marshal(c.Plan)
			require.NoError(t, err, "no infinities in a plan")
			for _, s := range c.Plan.Steps {
				require.GreaterOrEqual(t, s.Minutes, 0.0)
				if s.Dwell != nil {
					require.LessOrEqual(t, s.Dwell.From, s.Dwell.To)
					require.LessOrEqual(t, s.Dwell.To, s.Dwell.Full)
				}
			}
		}
	}
}

func BenchmarkResolveSixtySteps(b *testing.B) {
	p, j := plantest.SixtySteps(), plantest.Job(2)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := fill.Resolve(p, j); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkChoose(b *testing.B) {
	ps, j := starters.Starters(), plantest.Job(2)
	b.ReportAllocs()
	for b.Loop() {
		judge.Choose(ps, j)
	}
}

func BenchmarkResolveHundredSteps(b *testing.B) {
	p, j := plantest.HundredSteps(), plantest.Job(2)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := fill.Resolve(p, j); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkRankFifty(b *testing.B) {
	var ps []procedure.Procedure
	for i := range 50 {
		p := starters.Starters()[i%18]
		p.ID = fmt.Sprintf("p%d", i)
		ps = append(ps, p)
	}
	j := plantest.Job(1)
	b.ReportAllocs()
	for b.Loop() {
		judge.Choose(ps, j)
	}
}
