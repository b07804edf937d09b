package fill_test

import (
	"math/rand"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/plantest"
	"uskel/core/plan/wet"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// Full sun that cannot be avoided: a side is rinsed, washed, rinsed and dried before the next, the sunny side before the
// shaded one. In shade the same procedure is done for the whole car. Common practice, no source (docs/trade.md, section 20).
func TestSidesInSunTheWholeCarInShade(t *testing.T) {
	shade := plantest.Resolve(t, starters.HoseTwoBucket(), plantest.Typical("F1"))
	assert.Empty(t, plantest.MadeFrom(shade, "mitt"))
	assert.Len(t, plantest.MadeFrom(shade, "wheels"), 4, "wheels one by one anyway")

	for azimuth, sunny := range map[float64]string{90: "right", 270: "left"} {
		sun := plantest.Resolve(t, starters.HoseTwoBucket(), plantest.InSun(azimuth))
		var order []string
		for _, s := range sun.Steps {
			if s.Part != nil && s.Part.Round == "sides" {
				order = append(order, s.ID)
			}
		}
		require.Len(t, order, 20, "four steps on five sides")
		for i := 0; i < len(order); i += 4 {
			_, side, _ := strings.Cut(order[i], plan.PartSign)
			assert.Equal(t, []string{"rinse@" + side, "mitt@" + side, "final@" + side, "towel@" + side}, order[i:i+4])
		}
		other := map[string]string{"left": "right", "right": "left"}[sunny]
		assert.Less(t, slices.Index(order, "mitt@"+sunny), slices.Index(order, "mitt@"+other), "the sunny side first")
	}
}

// Whatever a round is over, its parts together are the step: every zone once, the same area, about the same minutes, and
// what one step refers to is that of its own part.
func TestPartsAreTheWhole(t *testing.T) {
	for _, p := range starters.Starters() {
		if len(p.Rounds) == 0 {
			continue
		}
		j := plantest.Typical(p.Family)
		whole := p
		whole.Rounds, whole.Stages = nil, slices.Clone(p.Stages)
		for i := range whole.Stages {
			whole.Stages[i].Steps = slices.Clone(p.Stages[i].Steps)
			for k := range whole.Stages[i].Steps {
				whole.Stages[i].Steps[k].Round, whole.Stages[i].Steps[k].Once = "", procedure.EachPart
			}
		}
		once, inParts := plantest.Resolve(t, whole, j), plantest.Resolve(t, p, j)
		for _, s := range once.Steps {
			parts := plantest.MadeFrom(inParts, s.ID)
			if len(parts) == 0 {
				continue
			}
			zones, area, minutes := map[vehicle.Zone]bool{}, 0.0, 0.0
			for n, part := range parts {
				assert.Equal(t, n+1, part.Part.N)
				assert.Equal(t, s.Title, part.Whole)
				area, minutes = area+part.Area, minutes+part.Minutes
				for _, z := range part.Zones {
					assert.False(t, zones[z], "%s: %s twice on %s", p.Family, s.ID, z)
					zones[z] = true
				}
				for _, id := range part.Ends {
					assert.NotNil(t, plantest.Find(inParts, id), "%s ends %s", part.ID, id)
				}
			}
			assert.Len(t, zones, len(s.Zones), "%s %s", p.Family, s.ID)
			assert.InDelta(t, s.Area, area, 0.05, "%s %s", p.Family, s.ID)
			assert.InEpsilon(t, s.Minutes, minutes, 0.15, "%s %s: a rinse or two more a part", p.Family, s.ID)
		}
	}
}

// Sections are as large as keeps every film in time and no larger: by the wet clock, laid out for one person, nothing of a
// section of several zones dries. A dry hot day never takes fewer sections than a cool damp one.
func TestSectionsAreSizedByTheDay(t *testing.T) {
	rng := rand.New(rand.NewSource(7))
	p := starters.RinselessMitt()
	several := 0
	for range 40 {
		j := plantest.Typical("F14")
		j.LookOver.Place.Cover, j.LookOver.Place.Heading = climate.InShade, 360*rng.Float64()
		j.Weather = climate.Weather{Air: climate.Air{Temp: measure.Celsius(8 + 22*rng.Float64()), RH: 0.3 + 0.6*rng.Float64()},
			Wind: 2 * rng.Float64(), Diffuse: 100}
		made := plantest.Resolve(t, p, j)
		parts := plantest.MadeFrom(made, "mitt")
		warmer := j
		warmer.Weather.Temp, warmer.Weather.RH = j.Weather.Temp+6, j.Weather.RH*0.8
		assert.GreaterOrEqual(t, len(plantest.MadeFrom(plantest.Resolve(t, p, warmer), "mitt")), len(parts))
		if len(parts) < 2 {
			continue
		}
		several++
		work, laid := plantest.Alone(t, made)
		require.True(t, laid.Feasible, "%v", laid.Why)
		for _, w := range film.Check(wet.WetActs(made, work, laid, j.Vehicle.Body), j.Windows()) {
			at := slices.IndexFunc(made.Steps, func(s plan.FilledStep) bool { return s.ID == w.On })
			if at >= 0 && len(made.Steps[at].Zones) > 1 {
				assert.NotEqual(t, film.Dried, w.Outcome, "%s on the %s at %v", w.On, w.Zone, j.Weather.Air)
			}
		}
	}
	assert.Greater(t, several, 5)
}

// Rounds can take their parts as given and the dirtiest last; a step once before or after them is done once.
func TestTheOrderOfParts(t *testing.T) {
	p := starters.HoseTwoBucket()
	p.Rounds = slices.Clone(p.Rounds)
	keys := func(p procedure.Procedure, j plan.Job) (all []string) {
		for _, s := range plantest.MadeFrom(plantest.Resolve(t, p, j), "wheels") {
			all = append(all, s.Part.Key)
		}
		return all
	}
	j := plantest.Typical("F1")
	assert.Equal(t, []string{"fl", "fr", "rr", "rl"}, keys(p, j), "a walk round the car")
	p.Rounds[0].Order, p.Rounds[0].Given = procedure.AsGiven, []string{"rl", "rr", "fl", "fr"}
	assert.Equal(t, p.Rounds[0].Given, keys(p, j))
	p.Rounds[0].Order, p.Rounds[0].Given = procedure.DirtiestLast, nil
	j.LookOver.Grades[vehicle.WheelFR] = 3
	assert.Equal(t, []string{"fl", "rr", "rl", "fr"}, keys(p, j))

	for i := range p.Stages {
		p.Stages[i].Steps = slices.Clone(p.Stages[i].Steps)
		for k := range p.Stages[i].Steps {
			if p.Stages[i].Steps[k].ID == "fill" {
				p.Stages[i].Steps[k].Round, p.Stages[i].Steps[k].Once = "sides", procedure.OnceBefore
			}
		}
	}
	require.NoError(t, p.Check())
	made := plantest.Resolve(t, p, plantest.InSun(90))
	assert.NotNil(t, plantest.Find(made, "fill"))
	assert.Empty(t, plantest.MadeFrom(made, "fill"), "once")
}

// What is only on one part is taken off in that part only: the rinse of another side has nothing to do with it.
func TestAPartEndsItsOwn(t *testing.T) {
	p := starters.HoseTwoBucket()
	p.Stages = slices.Clone(p.Stages)
	for i := range p.Stages {
		p.Stages[i].Steps = slices.Clone(p.Stages[i].Steps)
		for k := range p.Stages[i].Steps {
			if s := &p.Stages[i].Steps[k]; s.ID == "bugs" || s.ID == "citrus" || s.ID == "fill" {
				s.Round = "sides"
			}
		}
	}
	require.NoError(t, p.Check())
	j := plantest.InSun(90)
	j.LookOver.Bonded = []condition.Bonded{{Matter: condition.Bugs, Zone: vehicle.Front}}
	made := plantest.Resolve(t, p, j)
	require.NotEmpty(t, plantest.MadeFrom(made, "bugs"))
	for _, rinse := range plantest.MadeFrom(made, "rinse") {
		for _, id := range rinse.Ends {
			if plantest.Find(made, id) == nil {
				continue // a step that was left out
			}
			assert.True(t, strings.HasSuffix(id, plan.PartSign+rinse.Part.Key), "%s ends %s", rinse.ID, id)
		}
	}
}

// Alone one finishes a wheel before the next; two people share the wheels out.
func TestWheelsAreSharedOut(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	_, one := plantest.LaidOut(t, made, 1)
	done := measure.Seconds(0)
	for _, key := range procedure.OverWheels.PartKeys() {
		first, last := plantest.Spans(one, "wheels"+plan.PartSign+key)
		assert.GreaterOrEqual(t, first, done, "one wheel at a time")
		done = last
	}
	_, two := plantest.LaidOut(t, made, 2)
	hands := map[string]bool{}
	for _, s := range two.Slots {
		if strings.HasPrefix(s.Step, "wheels"+plan.PartSign) {
			hands[s.Who] = true
		}
	}
	assert.Len(t, hands, 2)
	_, last := plantest.Spans(two, "wheels")
	first, _ := plantest.Spans(two, "wheels")
	assert.Less(t, last-first, done-first)
	assert.Less(t, two.Finish, one.Finish)
}

// Two people wash a side each, each with a mitt.
func TestTwoWashASideEach(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	work, _ := crew.Work(made, "", 2)
	var sides []schedule.Place
	for _, w := range work {
		if w.Step == "mitt" {
			sides = append(sides, w.At)
		}
	}
	assert.Equal(t, []schedule.Place{schedule.LeftSide, schedule.RightSide}, sides)
}

// A label that allows 30 s: one wheel at a time, each wheel's cleaner off before the next goes on; five minutes allow all
// four first (docs/trade.md, section 16).
func TestAShortLabelMeansOneWheelAtATime(t *testing.T) {
	j := plantest.Typical("F17")
	for label, parts := range map[measure.Seconds]int{30: 4, 5 * measure.Minute: 0} {
		j.Shelf = []shelf.Product{{ID: "gel", Name: "Gel", Class: procedure.WheelCleaner, DwellMax: label}}
		p := plantest.Resolve(t, starters.WheelsOnly(), j)
		assert.Len(t, plantest.MadeFrom(p, "soak"), parts, label)
		for _, s := range p.Steps {
			if s.Origin() == "soak" && s.Dwell != nil {
				assert.LessOrEqual(t, s.Dwell.To, label)
			}
		}
		assert.True(t, parts > 0 || plantest.Find(p, "soak") != nil)
	}
}

// What is wetted again must be by when the film dries, or, where it may dry, by when it must be off, less what putting on and taking off
// add for the zone that waits longest: sooner than that, never later (docs/models.md, wet clock).
func TestCoverComesBeforeTheFilmDries(t *testing.T) {
	covered := 0
	for _, p := range starters.Starters() {
		for _, s := range plantest.Resolve(t, p, plantest.Typical(p.Family)).Steps {
			if s.Dwell == nil || s.Dwell.CoverBy == 0 {
				continue
			}
			covered++
			usable := 0.9 * float64(s.Dwell.Window)
			if s.Dwell.MayDry {
				usable = float64(s.Dwell.Full)
			}
			assert.Less(t, float64(s.Dwell.CoverBy), usable, "%s, %s", p.Family, s.ID)
		}
	}
	assert.Positive(t, covered)
}
