package crew_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// Every family can be laid out for one to three people: every dwell kept, no more than a minute longer than one
// person in the written order (walking and tools counted), within 6 % of the bound (the widest is wheels only: four
// of everything alike), and quicker with a second person.
func TestEveryFamilyIsLaidOut(t *testing.T) {
	for _, p := range starters.Starters() {
		made := plantest.Resolve(t, p, plantest.Typical(p.Family))
		last := measure.Seconds(0)
		for people := 1; people <= 3; people++ {
			problem, line := plantest.LaidOut(t, made, people)
			require.True(t, line.Feasible, "%s with %d: %v", p.Family, people, line.Why)
			if people == 1 {
				assert.LessOrEqual(t, line.Finish.Minutes(), made.Minutes+1, p.Family)
				total := measure.Seconds(0)
				for _, w := range problem.Work {
					total += w.Seconds
				}
				assert.GreaterOrEqual(t, line.Finish, total, p.Family)
			} else {
				assert.LessOrEqual(t, line.Finish, last, "%s with %d", p.Family, people)
			}
			if people < 3 { // with three, the one chain of wet work decides, and the bound sees less of it
				assert.LessOrEqual(t, line.Gap, 0.06, "%s with %d", p.Family, people)
			}
			last = line.Finish
		}
	}
}

// waitedOut is what a plan takes when every dwell is waited out, min.
func waitedOut(made plan.Plan) float64 {
	total := 0.0
	for _, s := range made.Steps {
		total += s.Minutes
		if s.Dwell != nil && !s.Dwell.Each {
			total += s.Dwell.From.Minutes()
		}
	}
	return total
}

// docs/trade.md, F2 and section 13: filling the buckets while the wheel cleaner works and readying the hose while the
// spray does saves three to five minutes and more; common practice.
func TestOverlapSavesMinutesInTheExpressWash(t *testing.T) {
	made := plantest.Resolve(t, starters.Express(), plantest.Typical("F2"))
	p, line := plantest.LaidOut(t, made, 1)
	assert.GreaterOrEqual(t, waitedOut(made)-line.Finish.Minutes(), 3.0)
	assert.Less(t, line.Finish.Minutes(), 30.0, "claimed: under 30 min")
	assert.Equal(
		t,
		"all round first, then off in the same order",
		crew.Turns(p, line, "soak"),
		"three minutes' dwell: no time to stand beside one wheel",
	)
	assert.Empty(t, crew.Turns(p, line, "mitt"))

	buckets, _ := plantest.Spans(line, "fill")
	rinse, _ := plantest.Spans(line, "rinse")
	assert.Less(t, buckets, rinse, "filled while something works, not after")
	_, two := plantest.LaidOut(t, made, 2)
	assert.GreaterOrEqual(t, waitedOut(made)-two.Finish.Minutes(), 5.0)
}

// docs/trade.md, section 8: wheels while foam works, if the drying window is longer than the wheel work; in the sun they
// come first.
func TestWheelsDuringFoamInShadeNotInSun(t *testing.T) {
	shade := plantest.Typical("F5")
	shade.LookOver.Place.Cover, shade.Weather.RH = climate.InShade, 0.9
	shade.Vehicle.Wheels.Inches = 15
	for _, part := range shade.Vehicle.Body.Parts() {
		if part.Band == vehicle.Wheels {
			shade.LookOver.Grades[part.Zone] = 1
		}
	}
	made := plantest.Resolve(t, starters.CareWash(), shade)
	require.NotNil(t, plantest.Find(made, "wheels-during"))
	_, line := plantest.LaidOut(t, made, 1)
	_, foamOn := plantest.Spans(line, "foam")
	wheels, wheelsDone := plantest.Spans(line, "wheels-during")
	rinse, _ := plantest.Spans(line, "foam-off")
	assert.GreaterOrEqual(t, wheels, foamOn)
	assert.LessOrEqual(t, wheelsDone, rinse)
	assert.GreaterOrEqual(t, waitedOut(made)-line.Finish.Minutes(), 4.0)

	sun := shade
	sun.LookOver.Place.Cover = climate.OpenSky
	sun.Weather = climate.Weather{
		Air:         climate.Air{Temp: 27, RH: 0.4},
		Wind:        2,
		Direct:      750,
		Diffuse:     120,
		SunAltitude: 50,
		SunAzimuth:  180,
	}
	made = plantest.Resolve(t, starters.CareWash(), sun)
	require.Nil(t, plantest.Find(made, "wheels-during"))
	p, line := plantest.LaidOut(t, made, 1)
	if !line.Feasible { // the foam dries before one person can rinse it: said in words, nothing is broken silently
		assert.Contains(t, strings.Join(line.Why, " "), "must come off by")
		return
	}
	_, wheelsDone = plantest.Spans(line, "wheels")
	foam, _ := plantest.Spans(line, "foam")
	assert.LessOrEqual(t, wheelsDone, foam)
	assert.NotEmpty(t, p.Lags)
}

// What must come before what, whoever does it (docs/trade.md, sections 5 and 6; common practice, no source).
func TestTheOrderOfTheTradeHolds(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	_, line := plantest.LaidOut(t, made, 3)
	after := func(later, sooner string) {
		begins, _ := plantest.Spans(line, later)
		_, ends := plantest.Spans(line, sooner)
		assert.GreaterOrEqual(t, begins, ends, "%s after %s", later, sooner)
	}
	after("wheels", "setup")
	after("foam", "wheels")
	after("foam-off", "foam")
	after("mitt", "foam-off")
	after("mitt", "fill")
	after("final", "mitt")
	after("blow", "final")
	after("shuts", "towel")
	after("look", "shuts")
	after("away", "towel")
}

// A pressure washer is busy only while water runs: two people share one over four wheels (docs/trade.md, section 20).
func TestTwoShareAPressureWasherOverTheWheels(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	p := plantest.Able(2)
	p.Work, p.Lags = crew.Work(made, "", 2)
	p.Equip()
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 3000})
	require.NoError(t, err)
	require.True(t, line.Feasible, line.Why)
	both, who := false, map[string]string{}
	for _, a := range line.Slots {
		if !strings.HasPrefix(a.Step, "wheels@") {
			continue
		}
		if before, there := who[a.Step]; there {
			assert.Equal(t, before, a.Who, "whoever brushed it rinses it")
		}
		who[a.Step] = a.Who
		for _, b := range line.Slots {
			both = both || strings.HasPrefix(b.Step, "wheels@") && a.Who != b.Who && a.Start < b.End && b.Start < a.End
		}
	}
	assert.True(t, both, "two wheels are in hand at a time")
}

func TestPiecesAreNamedWhereTheyAre(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	work, _ := crew.Work(made, "car", 2)
	var wheels, towels []schedule.Work
	for _, w := range work {
		assert.True(t, strings.HasPrefix(w.ID, "car:"))
		switch {
		case strings.HasPrefix(w.Step, "wheels@"):
			wheels = append(wheels, w)
		case w.Step == "towel":
			towels = append(towels, w)
		}
	}
	require.Len(t, wheels, 8, "each is brushed, and rinsed when that is done")
	assert.Equal(t, "Wheel, tyre and arch, front left", wheels[0].Title)
	assert.Equal(t, "Rinse: Wheel, tyre and arch, front left", wheels[1].Title)
	assert.Equal(t, schedule.FrontLeft, wheels[0].At)
	require.Len(t, towels, 2, "a side each for two people")
	assert.Equal(t, schedule.LeftSide, towels[0].At)

	job := plantest.Typical("F6")
	job.Arranged = plan.Arranged{Procedure: starters.Maintenance().ID, Without: []string{"shuts"}}
	without, _ := crew.Work(plantest.Resolve(t, starters.Maintenance(), job), "", 1)
	assert.False(t, slices.ContainsFunc(without, func(w schedule.Work) bool { return w.Step == "shuts" }))
	alone, _ := crew.Work(made, "", 1)
	assert.Len(
		t,
		slices.DeleteFunc(alone, func(w schedule.Work) bool { return w.Step != "towel" }),
		1,
		"nobody to share with",
	)
}

// Product that would dry before all of it is on is put on and taken off part by part.
func TestPartsAreRinsedPartByPart(t *testing.T) {
	j := plantest.Typical("F6")
	made := plantest.Resolve(t, starters.Maintenance(), j)
	for i := range made.Steps {
		if made.Steps[i].ID == "foam" {
			made.Steps[i].Dwell.Sections = 2
		}
	}
	work, lags := crew.Work(made, "", 1)
	count := func(step string) (n int) {
		for _, w := range work {
			if w.Step == step {
				n++
			}
		}
		return n
	}
	assert.Equal(t, []int{2, 2}, []int{count("foam"), count("foam-off")})
	for _, l := range lags {
		if l.From == "foam#1" && l.Max != nil {
			assert.Equal(t, "foam-off#1", l.To)
		}
	}
}

// Foam over citrus keeps it wet: it must be covered before it dries, and only its label ends it then.
func TestCoveredProductIsHeldByItsLabel(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F7"))
	citrus := plantest.Find(made, "citrus")
	require.NotNil(t, citrus)
	require.NotNil(t, plantest.Find(made, "foam"))
	_, lags := crew.Work(made, "", 1)
	cover, off := false, false
	for _, l := range lags {
		if l.From != "citrus" || l.Max == nil {
			continue
		}
		if l.To == "foam" {
			cover = l.Cover
			assert.Equal(t, citrus.Dwell.To, *l.Max)
		} else {
			off = true
			assert.Equal(t, citrus.Dwell.Full-citrus.Dwell.Spread, *l.Max, "the zone that waits longest too")
		}
	}
	assert.True(t, cover && off)
}

// A brush waits until the product has worked; where the step works it in fresh it does not. Between two coats of a
// dressing there is a wait, and no film that dries.
func TestBrushingWaitsForTheProduct(t *testing.T) {
	p := starters.WheelsOnly()
	least := func(p procedure.Procedure) measure.Seconds {
		made := plantest.Resolve(t, p, plantest.Typical("F17"))
		_, lags := crew.Work(made, "", 1)
		for _, l := range lags {
			if l.From == "soak#1" && l.To == "agitate#1" {
				return l.Min
			}
		}
		return -1
	}
	assert.Equal(t, 3*measure.Minute, least(p))
	for i := range p.Stages {
		for k := range p.Stages[i].Steps {
			if p.Stages[i].Steps[k].ID == "agitate" {
				p.Stages[i].Steps[k].Fresh = true
			}
		}
	}
	assert.Zero(t, least(p))
	coats := plantest.Find(plantest.Resolve(t, starters.WheelsOnly(), plantest.Typical("F17")), "gloss").Dwell
	assert.True(t, coats.Waits)
	assert.Equal(t, coats.Full, coats.To, "no drying cuts it short")
}

func TestRestHoldsWhatHasHappened(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	done := map[string]crew.Progress{
		"setup":     {Started: 0, Ended: 200, Who: "A"},
		"rinse":     {Started: 210, Ended: 400, Who: "A"},
		"wheels@fl": {Started: 410, Who: "A"},
		"shuts":     {Skipped: true},
	}
	p := plantest.Able(1)
	p.Work, p.Lags = crew.Rest(made, "", 1, done, 600)
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 20_000})
	require.NoError(t, err)
	require.True(t, line.Feasible, line.Why)
	require.NoError(t, schedule.Validate(p, line))
	first, last := plantest.Spans(line, "wheels@fl")
	assert.Equal(t, measure.Seconds(410), first)
	wheels := measure.Seconds(plantest.Find(made, "wheels").Minutes * 60)
	assert.InDelta(t, float64(410+wheels), float64(last), 120, "it runs to its likely end")
	begins, _ := plantest.Spans(line, "shuts")
	assert.Less(t, begins, measure.Seconds(0), "skipped")
	for _, s := range line.Slots {
		if _, begun := done[s.Step]; !begun {
			assert.GreaterOrEqual(t, s.Start, measure.Seconds(600))
		}
	}
	p.Work, p.Lags = crew.Rest(made, "", 1, done, 3000)
	line, err = schedule.Solve(p, schedule.Options{Seed: 1, Effort: 20_000})
	require.NoError(t, err)
	_, last = plantest.Spans(line, "wheels@fl")
	assert.Greater(t, last, measure.Seconds(3000), "far over its time, and still not done")
}

// A trainee does what he is signed off for; one helper does the rest.
func TestAHelperDoesWhatTheBookedWasherMayNot(t *testing.T) {
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Typical("F6"))
	kit := append(plantest.Able(0).Machines, schedule.Machine{Name: "bay", Count: 1})
	people := []schedule.Person{
		{Name: "Pia", Skills: []string{string(procedure.SkillLance), string(procedure.SkillBuckets)}, Pace: 140},
		{Name: "Osk", Skills: procedure.Skill("").Values()},
		{Name: "Ines", Skills: procedure.Skill("").Values()},
	}
	p := day.Day([]day.Visit{{ID: "car", Plan: made, Place: "bay", Promised: 7200, Washer: "Pia"}}, people, kit, 0)
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 20_000})
	require.NoError(t, err)
	require.True(t, line.Feasible, line.Why)
	require.NoError(t, schedule.Validate(p, line))
	helpers := map[string]bool{}
	for _, s := range line.Slots {
		if skill := plantest.Find(made, s.Step).Skill; skill == procedure.SkillLance || skill == procedure.SkillBuckets {
			assert.Equal(t, "Pia", s.Who, s.Title)
		} else if skill != "" {
			helpers[s.Who] = true
		}
	}
	assert.Len(t, helpers, 1)

	anybody := day.Day([]day.Visit{{ID: "car", Plan: made, Place: "bay", Promised: 7200}}, people, kit, 0)
	line, err = schedule.Solve(anybody, schedule.Options{Seed: 1, Effort: 20_000})
	require.NoError(t, err)
	for _, s := range line.Slots {
		assert.NotEqual(t, "Pia", s.Who)
	}
}
