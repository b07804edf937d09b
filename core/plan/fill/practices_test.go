package fill_test

import (
	"encoding/json"
	"maps"
	"math/rand"
	"os"
	"slices"
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
	"uskel/core/plan/wet"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/prove"
	"uskel/core/vehicle"
)

// held is what a practice is held to, by the title of its inputs.
type held struct {
	family    string
	service   string         // what was ordered; a maintenance wash when unsaid
	first     bool           // the chooser recommends it
	pins      procedure.Pins // how it is settled by those who do it so
	order     []string       // steps of the procedure, in the order in which each is begun
	inRounds  map[string]int
	whole     []string           // steps done once for the whole car
	ml        map[string]float64 // within 5 %
	dwell     map[string][2]float64
	rinses    [2]int
	perRinse  int // panels under the mitt, at least, before the car is rinsed
	cloths    map[string]string
	risk      [2]float64
	minutes   [2]float64 // without set-up and put-away; within 15 % of what people say, where they say it
	says      []string   // in some caution, warning, title or instruction
	notInPlan []string
	takes     []condition.Matter // not under "will not remove"
}

// Twelve practices: common practice, no source; their inputs and ours are in testdata/practices.json.
var practicesHeld = map[string]held{
	"Large pickup, hose with jet nozzle, full sun": {
		family: "F1", first: true,
		order:    []string{"wheels", "rinse", "mitt", "final", "towel", "seal", "tyres"},
		inRounds: map[string]int{"wheels": 4, "rinse": 5, "mitt": 5, "final": 5, "towel": 5},
		rinses:   [2]int{20, 30}, risk: [2]float64{20, 80}, ml: map[string]float64{"fill": 24},
		says: []string{"Scratch risk", "Spray sealant, panel by panel", "Tyre dressing, water-based", "Wring"},
	},
	"Coated car, iron and spots, service every 2 to 3 months": {
		family: "F4", service: "coating-service", first: true,
		order: []string{"wheels", "foam", "foam-off", "mitt", "final", "iron", "iron-off", "dry-spots", "spots", "fill-again",
			"wash-again",
			"topup", "glass", "gloss", "gloss-again"},
		takes: []condition.Matter{condition.Iron, condition.WaterSpots},
		ml:    map[string]float64{"fill": 24, "fill-again": 24},
		dwell: map[string][2]float64{"foam": {3, 5}}, risk: [2]float64{0, 20},
	},
	"Coated, under a roof, wheels during the foam": {
		family: "F5", first: true,
		order:    []string{"foam", "wheels-during", "foam-off", "mitt", "final", "towel"},
		inRounds: map[string]int{"wheels-during": 4}, whole: []string{"foam", "mitt"},
		rinses: [2]int{4, 8}, risk: [2]float64{0, 20}, notInPlan: []string{"wheels"},
	},
	"Electric car with glass roof, evening": {
		family: "F6", first: true, order: []string{"bugs", "foam", "foam-off", "mitt", "final"},
		says: []string{"no jet at the port"}, risk: [2]float64{0, 20},
	},
	"Coated saloon washed weekly, bugs": {
		family: "F10", service: "touchless", first: true, order: []string{"rinse", "foam", "foam-off", "blow", "roll"},
		dwell: map[string][2]float64{"foam": {5, 10}}, minutes: [2]float64{15, 20}, says: []string{"some may be left"},
	},
	"Low hybrid, salt, full sun": {
		family: "F9", first: true, pins: procedure.Pins{condition.OverFoam: condition.WashOver},
		order: []string{"salt-foam", "wheels", "fill", "mist", "mitt", "badges", "shuts", "under", "final", "towel", "dry-wheels"},
		ml:    map[string]float64{"salt-foam": 250}, risk: [2]float64{40, 80}, notInPlan: []string{"foam-off", "foam"},
		says: []string{"It may dry here", "Scratch risk", "soap the finished wheel again", "Two soap buckets and one rinse",
			"Sunny side first, flats before uprights"},
	},
	"Large white sport utility, ten minutes": {
		family: "F11", service: "ten-minutes", first: true,
		order:  []string{"soak", "wheels-off", "rinse", "foam", "mitt", "final", "towel", "glass"},
		cloths: map[string]string{"mitt": "2 of wet plush towel"}, minutes: [2]float64{0, 10}, notInPlan: []string{"shuts"},
		risk: [2]float64{0, 40},
	},
	"Coated, cloudy": {
		family: "F5", first: true, pins: procedure.Pins{condition.ShutsWhen: condition.WithTheWash},
		order:     []string{"foam", "wheels-during", "foam-off", "shuts-clean", "mitt"},
		notInPlan: []string{"wheels"}, cloths: map[string]string{"mitt": "2 long-pile mitts, one for the lower band"},
	},
	"Coated, sunny": {
		family: "F5", first: true, pins: procedure.Pins{condition.ShutsWhen: condition.WithTheWash},
		order: []string{"wheels", "foam", "foam-off", "shuts-clean", "mitt"}, notInPlan: []string{"wheels-during"},
	},
	"Winter indoors, light, coated": {
		family: "F13", first: true, order: []string{"mix", "wet", "sponge", "dry", "wheels"},
		ml: map[string]float64{"mix": 2 * 29.5735}, rinses: [2]int{4, 8}, risk: [2]float64{0, 20},
	},
	"Car park, no hose, two buckets": {
		family: "F14", order: []string{"mix", "wet", "mitt", "dry", "wheels"},
		ml: map[string]float64{"mix": 2.5 * 29.5735}, risk: [2]float64{20, 60}, says: []string{"Scratch risk"},
	},
	"Quick upkeep, pressure pre-rinse": {
		family: "F15", order: []string{"rinse", "wet", "mitt", "dry", "glass"}, risk: [2]float64{0, 20},
	},
	"Roadster in a garage": {
		family: "F1", order: []string{"wheels", "rinse", "mitt", "final", "towel", "shuts", "tyres"},
		whole: []string{"mitt"}, risk: [2]float64{0, 40}, says: []string{"Wring"}, perRinse: 4,
		cloths: map[string]string{"towel": "2 waffle drying towels"},
	},
}

func TestTheTwelvePractices(t *testing.T) {
	all := plantest.Families(t)
	for _, p := range practices(t) {
		want, pinned := practicesHeld[p.Title]
		require.True(t, pinned, p.Title)
		job := plan.Job{Vehicle: p.Vehicle, LookOver: p.LookOver, Weather: p.Weather, Hardness: 90, Solids: 150}
		if want.service != "" {
			job.LookOver.Service = want.service
		}
		if want.first {
			assert.Equal(t, want.family, judge.Choose(starters.Starters(), job)[0].Family, "%s: recommended", p.Title)
		}
		job.LookOver.Pins = want.pins // whom the chooser advises has not settled it otherwise
		made, err := fill.Resolve(all[want.family], job)
		if !assert.NoError(t, err, p.Title) {
			continue
		}
		want.holds(t, p.Title, made)
	}
}

// holds checks a plan against what its practice is held to.
func (want held) holds(t *testing.T, title string, made plan.Plan) {
	t.Helper()
	last := -1
	for _, id := range want.order {
		at := slices.IndexFunc(made.Steps, func(s plan.FilledStep) bool { return s.Origin() == id })
		assert.Greater(t, at, last, "%s: %s is begun after what stands before it", title, id)
		last = max(last, at)
	}
	for id, parts := range want.inRounds {
		assert.Len(t, plantest.MadeFrom(made, id), parts, "%s: %s part by part", title, id)
	}
	for _, id := range want.whole {
		assert.Empty(t, plantest.MadeFrom(made, id), "%s: %s for the whole car", title, id)
	}
	for _, id := range want.notInPlan {
		assert.Nil(t, plantest.Find(made, id), "%s: no %s", title, id)
	}
	for _, m := range want.takes {
		assert.False(t, slices.ContainsFunc(made.OutScope, func(o condition.OutOfScope) bool { return o.Matter == m }),
			"%s: takes off %s", title, m)
	}
	for id, ml := range want.ml {
		if s := plantest.Find(made, id); assert.NotNil(t, s, id) && assert.NotNil(t, s.Mix, id) {
			assert.InEpsilon(t, ml, s.Mix.Millis.Ml(), 0.05, "%s: %s", title, id)
		}
	}
	for id, span := range want.dwell {
		if s := plantest.Find(made, id); assert.NotNil(t, s, id) && assert.NotNil(t, s.Dwell, id) {
			assert.GreaterOrEqual(t, s.Dwell.From.Minutes(), span[0], "%s: %s", title, id)
			assert.LessOrEqual(t, s.Dwell.To.Minutes(), span[1], "%s: %s", title, id)
		}
	}
	for id, cloth := range want.cloths {
		if s := plantest.Find(made, id); assert.NotNil(t, s, id) {
			assert.Equal(t, cloth, s.Cloth, title)
		}
	}
	if want.rinses != [2]int{} {
		assert.GreaterOrEqual(t, made.Rinses, want.rinses[0], "%s: rinses", title)
		assert.LessOrEqual(t, made.Rinses, want.rinses[1], "%s: rinses", title)
	}
	if s := plantest.Find(made, "mitt"); want.perRinse > 0 && assert.NotNil(t, s) {
		assert.GreaterOrEqual(t, s.Panels.PerRinse, want.perRinse, "%s: panels before the rinse", title)
	}
	if want.risk != [2]float64{} {
		assert.GreaterOrEqual(t, made.Index, want.risk[0], "%s: scratch risk", title)
		assert.LessOrEqual(t, made.Index, want.risk[1], "%s: scratch risk", title)
	}
	if want.minutes != [2]float64{} {
		assert.GreaterOrEqual(t, plantest.Timed(made), want.minutes[0]*0.85, "%s: minutes", title)
		assert.LessOrEqual(t, plantest.Timed(made), want.minutes[1]*1.15, "%s: minutes", title)
	}
	for _, says := range want.says {
		assert.Contains(t, plantest.AllWords(made), says, title)
	}
	assert.Empty(t, made.Line.Late, "%s: every dwell can be kept by one person", title)
}

// Whatever the car, the weather and the crew: where the schedule says that its dwells are kept, the wet clock, which shares
// nothing with it, finds nothing that dries, stays on too long or is touched too soon, but in two of a hundred at most: a
// product under another that is done in other sections (2,000 were tried: 10 of 800). There the plan's page says so.
func TestKeptIsKept(t *testing.T) {
	rng := rand.New(rand.NewSource(31))
	starters := starters.Starters()
	kept, missed := 0, 0
	tried := prove.Seeds(t, 250)
	for range tried {
		p := starters[rng.Intn(len(starters))]
		j := plantest.Typical(p.Family)
		j.Vehicle.Body = vehicle.Body(vehicle.Body("").Values()[rng.Intn(len(vehicle.Body("").Values()))])
		j.Vehicle.Shade = []vehicle.Shade{vehicle.Dark, vehicle.White, vehicle.Silver}[rng.Intn(3)]
		for _, z := range slices.Sorted(maps.Keys(j.LookOver.Grades)) { // in one order, so that every run tries the same cars
			j.LookOver.Grades[z] = min(4, max(0, j.LookOver.Grades[z]+contact.Grade(rng.Intn(3)-1)))
		}
		if j.LookOver.Place.Cover != climate.Indoors {
			j.LookOver.Place.Cover = []climate.Cover{climate.OpenSky, climate.InShade}[rng.Intn(2)]
		}
		j.Weather = climate.Weather{Air: climate.Air{Temp: measure.Celsius(2 + 28*rng.Float64()), RH: 0.3 + 0.6*rng.Float64()},
			Wind: 3 * rng.Float64(), Diffuse: 100, Direct: 700 * rng.Float64(), SunAltitude: 35, SunAzimuth: 360 * rng.Float64()}
		made, err := fill.Resolve(p, j)
		if err != nil || len(made.Line.Late) > 0 {
			continue
		}
		problem, line := plantest.LaidOut(t, made, 1+rng.Intn(3))
		if !line.Feasible {
			continue
		}
		kept++
		if faults := wet.WetFaults(made, problem.Work, line, j); len(faults) > 0 {
			missed++
			assert.NotEmpty(t, faults[0].Says)
		}
	}
	assert.Greater(t, 4*kept, tried)
	assert.LessOrEqual(t, missed*50, kept)
}

// practice is one way in which practised people wash, as its inputs stand in testdata/practices.json.
type practice struct {
	Row      int
	Title    string
	Vehicle  vehicle.Vehicle
	LookOver condition.LookOver
	Weather  climate.Weather
}

func practices(t *testing.T) []practice {
	t.Helper()
	text, err := os.ReadFile("testdata/practices.json")
	require.NoError(t, err)
	var file struct{ Practices []practice }
	require.NoError(t, json.Unmarshal(text, &file))
	require.Len(t, file.Practices, 13, "twelve, one of them in two weathers")
	return file.Practices
}
