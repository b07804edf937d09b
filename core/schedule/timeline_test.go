package schedule

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
)

func solve(t *testing.T, p Problem) Timeline {
	t.Helper()
	line, err := Solve(p, Options{Seed: 1, Effort: 40_000})
	require.NoError(t, err)
	if line.Feasible {
		require.NoError(t, Validate(p, line))
	}
	return line
}

func most(s measure.Seconds) *measure.Seconds { return &s }

func crew(names ...string) []Person {
	people := make([]Person, len(names))
	for i, n := range names {
		people[i].Name = n
	}
	return people
}

func slot(t *testing.T, line Timeline, id string) Slot {
	t.Helper()
	for _, s := range line.Slots {
		if s.ID == id {
			return s
		}
	}
	require.Failf(t, "no slot", "%s", id)
	return Slot{}
}

// foamed is one car by hand: foam 2 min, works 5 to 10, buckets 2 min, rinse 3, mitt 8.
func foamed() Problem {
	return Problem{
		People:   crew("Ada"),
		Machines: []Machine{{Name: "washer", Count: 1}},
		Work: []Work{
			{ID: "foam", Seconds: 120, Uses: []string{"washer"}},
			{ID: "buckets", Seconds: 120},
			{ID: "rinse", Seconds: 180, Uses: []string{"washer"}},
			{ID: "mitt", Seconds: 480},
		},
		Lags: []Lag{
			{From: "foam", To: "rinse", Min: 300, Max: most(600)},
			{From: "rinse", To: "mitt"},
			{From: "buckets", To: "mitt"},
		},
	}
}

// Worked by hand: the buckets are filled while the foam works, so the critical path is foam 2 + dwell 5 + rinse 3 +
// mitt 8 = 18 min.
func TestBucketsAreFilledWhileTheFoamWorks(t *testing.T) {
	line := solve(t, foamed())
	assert.Equal(t, measure.Seconds(18*60), line.Finish)
	assert.True(t, line.Proven)
	assert.Zero(t, line.Gap)
	assert.Zero(t, line.Walk)
	require.Len(t, line.Soaks, 1)
	assert.Equal(t, Soak{From: "foam", To: "rinse", Title: "foam", Whole: "foam", Start: 120, Earliest: 420,
		Latest: 720, End: 420, Fits: true}, line.Soaks[0])
	buckets, rinse := slot(t, line, "buckets"), slot(t, line, "rinse")
	assert.False(t, buckets.Critical)
	assert.Equal(t, measure.Seconds(420), buckets.End+buckets.Slack, "up to the rinse")
	assert.True(t, rinse.Critical)
	assert.Contains(t, rinse.Because, "shortest dwell is 5 min")
	assert.Contains(t, slot(t, line, "mitt").Because, "waits for “rinse”")
}

// Worked by hand: two such cars, one washer, one person. The second car's foam goes on while the first one's works,
// and both rinses fall inside their windows: foam 2, foam 2, wait to minute 7, rinse 3, rinse 3 (from 10, by minute
// 14), then buckets and mitts: (2 + 8) x 2 less what fits into the waiting. The waiting from 4 to 7 holds one lot of
// buckets: 2 + 2 + 3 + 3 + 3 + 2 + 8 + 8 = 31 min, and 20 s to go over between cars each of the three times that
// cannot be hidden.
func TestTwoCarsOneWasher(t *testing.T) {
	one := foamed()
	p := Problem{People: one.People, Machines: one.Machines}
	for _, car := range []string{"a", "b"} {
		p.Jobs = append(p.Jobs, Job{ID: car})
		for _, w := range one.Work {
			w.ID, w.Job = car+w.ID, car
			p.Work = append(p.Work, w)
		}
		for _, l := range one.Lags {
			l.From, l.To = car+l.From, car+l.To
			p.Lags = append(p.Lags, l)
		}
	}
	line := solve(t, p)
	assert.True(t, line.Proven)
	assert.GreaterOrEqual(t, line.Finish, measure.Seconds(31*60), "the work itself")
	assert.LessOrEqual(t, line.Finish, measure.Seconds(32*60))

	p.People = crew("Ada", "Bo")
	apart := solve(t, p)
	assert.True(t, apart.Proven)
	assert.Equal(
		t,
		measure.Seconds(21*60),
		apart.Finish,
		"each a car: foam to 2 and 4, rinse 7 to 10, the other 10 to 13, its mitt to 21",
	)
}

// fourWheels have cleaner that works from low to high, worked off in half a minute each, with tools to change.
func fourWheels(low, high measure.Seconds) Problem {
	p := Problem{People: crew("Ada")}
	for _, at := range []Place{FrontLeft, FrontRight, RearRight, RearLeft} {
		on, off := "on "+string(at), "off "+string(at)
		p.Work = append(
			p.Work,
			Work{ID: on, Seconds: 20, At: at, Tool: "sprayer"},
			Work{ID: off, Seconds: 30, At: at, Tool: "lance"},
		)
		p.Lags = append(p.Lags, Lag{From: on, To: off, Min: low, Max: most(high)})
	}
	return p
}

// By hand: where the cleaner may stay on for three minutes, all four are soaked and then rinsed in the same order: 4
// x 20 + 3 x 4 walking = 92 s to the end of the soaking, then change tools; walking back is 4 m. Where it dries after
// 40 s there is no time for a second wheel: one at a time.
func TestTheSolverChoosesHowWheelsAreDone(t *testing.T) {
	line := solve(t, fourWheels(60, 180))
	last := measure.Seconds(0)
	for _, s := range line.Slots {
		if strings.HasPrefix(s.ID, "on ") {
			last = max(last, s.End)
		}
	}
	for _, s := range line.Slots {
		if strings.HasPrefix(s.ID, "off ") {
			assert.GreaterOrEqual(t, s.Start, last, "all round first")
		}
	}
	assert.Equal(t, measure.Seconds(4*20+3*4+8+4+4*30+3*4), line.Finish)

	hot := solve(t, fourWheels(20, 40))
	require.True(t, hot.Feasible)
	for i := 1; i < len(hot.Slots); i += 2 {
		assert.Equal(
			t,
			strings.TrimPrefix(hot.Slots[i-1].ID, "on "),
			strings.TrimPrefix(hot.Slots[i].ID, "off "),
			"one at a time",
		)
	}
	assert.Greater(t, hot.Finish, line.Finish)
}

func TestWhatCannotBeDoneIsSaidInWords(t *testing.T) {
	p := foamed()
	p.Lags = append(p.Lags, Lag{From: "foam", To: "mitt", Max: most(300)})
	line := solve(t, p)
	assert.False(t, line.Feasible)
	assert.True(t, line.Proven)
	require.NotEmpty(t, line.Why)
	assert.Contains(t, line.Why[0], "foam must come off by 7:00, and Ada cannot be there before 10:00.")

	p = foamed()
	p.Work[3].Skill = "mitt"
	line = solve(t, p)
	assert.Equal(t, []string{"mitt needs somebody signed off for mitt, and nobody here is: add one."}, line.Why)
	p.People[0].Skills = []string{"mitt"}
	assert.True(t, solve(t, p).Feasible)

	p = foamed()
	p.Horizon = 17 * 60
	line = solve(t, p)
	assert.False(t, line.Feasible)
	assert.True(t, line.Proven)
	assert.Contains(t, line.Why[0], "must all have ended by 17:00")
}

func TestPaceHoursAndGroups(t *testing.T) {
	slow := foamed()
	slow.People[0].Pace = 150
	assert.Equal(t, measure.Seconds(180+300+270+720), solve(t, slow).Finish)

	lunch := foamed()
	lunch.People[0].Shut = []Span{{600, 1800}}
	line := solve(t, lunch)
	assert.Equal(t, measure.Seconds(1800+480), line.Finish, "the mitt wash is not interrupted")
	assert.Contains(t, slot(t, line, "mitt").Because, "Ada is not there until then")

	pair := foamed()
	pair.People = crew("Ada", "Bo")
	for i := range pair.Work {
		pair.Work[i].Together = "all of it"
	}
	who := map[string]bool{}
	for _, s := range solve(t, pair).Slots {
		who[s.Who] = true
	}
	assert.Len(t, who, 1)

	only := foamed()
	only.People = crew("Ada", "Bo")
	only.Work[3].Only = []string{"Bo"}
	assert.Equal(t, "Bo", slot(t, solve(t, only), "mitt").Who)

	alone := foamed()
	alone.Work[3].Unattended = true
	assert.Empty(t, slot(t, solve(t, alone), "mitt").Who)
}

func TestBaysAreHeldFromFirstToLast(t *testing.T) {
	p := Problem{People: crew("Ada", "Bo"), Machines: []Machine{{Name: "bay", Count: 1}}}
	for _, car := range []string{"a", "b"} {
		p.Jobs = append(p.Jobs, Job{ID: car, Bays: []string{"bay"}, Promised: 3600})
		p.Work = append(
			p.Work,
			Work{ID: car + "1", Job: car, Seconds: 100},
			Work{ID: car + "2", Job: car, Seconds: 100},
		)
		p.Lags = append(p.Lags, Lag{From: car + "1", To: car + "2", Min: 50})
	}
	line := solve(t, p)
	require.Len(t, line.Stays, 2)
	assert.Equal(t, measure.Seconds(500), line.Finish, "two people, and still one after the other")
	p.Machines[0].Count = 2
	both := solve(t, p)
	assert.Equal(t, measure.Seconds(250), both.Finish)
	assert.ElementsMatch(t, []string{"bay#1", "bay#2"}, []string{both.Stays[0].Bay, both.Stays[1].Bay})
	p.Machines[0].Shut = []Span{{0, 1000}}
	assert.Equal(t, measure.Seconds(1250), solve(t, p).Finish, "rain over both")
}

func TestAPromiseGoesFirst(t *testing.T) {
	p := Problem{
		People: crew("Ada"),
		Jobs:   []Job{{ID: "early"}, {ID: "boat", Promised: 300, Weight: 2}},
		Work:   []Work{{ID: "a", Job: "early", Seconds: 250}, {ID: "b", Job: "boat", Seconds: 200}},
	}
	line := solve(t, p)
	assert.Equal(t, "b", line.Slots[0].ID)
	p.Jobs[1].Promised = 3000
	assert.Less(t, solve(t, p).Slots[0].Start, measure.Seconds(1))
}

func TestWhatHasHappenedStays(t *testing.T) {
	p := foamed()
	p.Work[0].Pinned = &Pinned{Start: 30, End: 200, Who: "Ada"}
	for i := range p.Work[1:] {
		p.Work[i+1].NotBefore = 400
	}
	line := solve(t, p)
	foam := slot(t, line, "foam")
	assert.Equal(t, []measure.Seconds{30, 200}, []measure.Seconds{foam.Start, foam.End})
	assert.Equal(
		t,
		measure.Seconds(520),
		slot(t, line, "rinse").Start,
		"the buckets from 400 to 520, the foam's five minutes are over at 500",
	)
	assert.Contains(t, foam.Because, "begun")
	for i := range p.Work[1:] {
		p.Work[i+1].NotBefore = 900
	}
	assert.Contains(t, solve(t, p).Why[0], "foam must come off by 13:20", "the warning when it is too late")
}

// Two timelines alike: the one that is near the old one is taken, even if a few seconds could be gained.
func TestReplanningDoesNotShufflePeopleForSeconds(t *testing.T) {
	p := Problem{People: []Person{{Name: "Ada"}, {Name: "Bo", Pace: 98}}, Work: []Work{{ID: "a", Seconds: 500}}}
	fresh := solve(t, p)
	assert.Equal(t, "Bo", fresh.Slots[0].Who)
	old := fresh
	old.Slots = []Slot{fresh.Slots[0]}
	old.Slots[0].Who = "Ada"
	again, err := Solve(p, Options{Seed: 1, Effort: 5000, Near: &old})
	require.NoError(t, err)
	assert.Equal(t, "Ada", again.Slots[0].Who, "ten seconds are not worth it")
	p.People[1].Pace = 50
	again, err = Solve(p, Options{Seed: 1, Effort: 5000, Near: &old})
	require.NoError(t, err)
	assert.Equal(t, "Bo", again.Slots[0].Who, "four minutes are")
}

func TestSameSeedSameTimeline(t *testing.T) {
	p := fourWheels(60, 180)
	p.People = crew("Ada", "Bo")
	assert.Equal(t, solve(t, p), solve(t, p))
}

// A search that is stopped gives the best so far.
func TestASearchCanBeStopped(t *testing.T) {
	p := fourWheels(60, 180)
	p.People = crew("Ada", "Bo")
	asked := 0
	line, err := Solve(p, Options{Seed: 1, Effort: 10_000_000, Stop: func() bool { asked++; return asked > 3 }})
	require.NoError(t, err)
	require.True(t, line.Feasible)
	require.NoError(t, Validate(p, line))
	assert.LessOrEqual(t, asked, 40, "it stops soon after it is told to")
}

func TestMoreHandsAndMoreTimeAreNeverWorse(t *testing.T) {
	for _, high := range []measure.Seconds{70, 120, 400} {
		p := fourWheels(60, high)
		one := solve(t, p)
		p.People = crew("Ada", "Bo")
		two := solve(t, p)
		require.True(t, one.Feasible && two.Feasible)
		assert.LessOrEqual(t, two.Finish, one.Finish)
		wider := solve(t, fourWheels(60, high+100))
		assert.LessOrEqual(t, wider.Finish, one.Finish)
	}
}

func TestSenselessProblemsAreNamed(t *testing.T) {
	for want, change := range map[string]func(*Problem){
		"people \"Ada\": every one needs a name of its own": func(p *Problem) { p.People = crew("Ada", "Ada") },
		"people Ada: pace -1 %":                             func(p *Problem) { p.People[0].Pace = -1 },
		"people Ada: shut from 5 to 5":                      func(p *Problem) { p.People[0].Shut = []Span{{5, 5}} },
		"machines washer: count 0":                          func(p *Problem) { p.Machines[0].Count = 0 },
		"up to 64 can be planned":                           func(p *Problem) { p.Machines[0].Count = 64 },
		"work foam: -1 s":                                   func(p *Problem) { p.Work[0].Seconds = -1 },
		"work foam: 1000001 s: from 0 to 1000000":           func(p *Problem) { p.Work[0].Seconds = 1_000_001 },
		"work foam: 0 s: at least one":                      func(p *Problem) { p.Work[0].Seconds = 0 },
		"work foam: there is no job \"x\"":                  func(p *Problem) { p.Work[0].Job = "x" },
		"work foam: there is no machine \"x\"":              func(p *Problem) { p.Work[0].Uses = []string{"x"} },
		"work foam: there is nobody called \"x\"":           func(p *Problem) { p.Work[0].Only = []string{"x"} },
		"work foam: there is no place \"x\"":                func(p *Problem) { p.Work[0].At = "x" },
		"jobs a: there is " +
			"no bay \"x\"": func(p *Problem) { p.Jobs = []Job{{ID: "a", Bays: []string{"x"}}} },
		"lags: from \"foam\" to \"x\"":      func(p *Problem) { p.Lags[0].To = "x" },
		"lags from foam to rinse: min -1 s": func(p *Problem) { p.Lags[0].Min = -1 },
		"lags: they run " +
			"in a circle": func(p *Problem) { p.Lags = append(p.Lags, Lag{From: "mitt", To: "foam"}) },
		"work: 0 activities": func(p *Problem) { p.Work, p.Lags = nil, nil },
	} {
		p := foamed()
		change(&p)
		_, err := Solve(p, Options{})
		assert.ErrorContains(t, err, want)
	}
}

// The validator is only worth something if it catches what is wrong: each change breaks one thing.
func TestTheValidatorCatchesWhatIsWrong(t *testing.T) {
	p := fourWheels(60, 180)
	p.People = []Person{{Name: "Ada", Skills: []string{"wheels"}, Shut: []Span{{5000, 6000}}}, {Name: "Bo"}}
	p.Machines = []Machine{{Name: "lance", Count: 1}, {Name: "bay", Count: 1}}
	p.Jobs = []Job{{ID: "car", Arrives: 10, Bays: []string{"bay"}}}
	p.Horizon = 7000
	for i := range p.Work {
		p.Work[i].Job, p.Work[i].Skill, p.Work[i].Together = "car", "wheels", "one"
		if i%2 == 1 {
			p.Work[i].Uses = []string{"lance"}
		}
	}
	good := solve(t, p)
	require.True(t, good.Feasible)
	at := func(line *Timeline, id string) *Slot {
		for i := range line.Slots {
			if line.Slots[i].ID == id {
				return &line.Slots[i]
			}
		}
		return nil
	}
	shift := func(id string, by measure.Seconds) func(*Timeline) {
		return func(l *Timeline) { at(l, id).Start += by; at(l, id).End += by }
	}
	for want, change := range map[string]func(*Timeline){
		"is not on the timeline":     func(l *Timeline) { l.Slots = l.Slots[1:] },
		"is there twice":             func(l *Timeline) { l.Slots = append(l.Slots, l.Slots[0]) },
		"is no activity":             func(l *Timeline) { l.Slots[0].ID = "x" },
		"nobody's hands":             func(l *Timeline) { l.Slots[0].Who = "x" },
		"not signed off":             func(l *Timeline) { l.Slots[0].Who = "Bo" },
		"the same person throughout": func(l *Timeline) { l.Slots[0].Who = "Bo" },
		"lasts":                      func(l *Timeline) { l.Slots[0].End++ },
		"before its vehicle arrives": shift(good.Slots[0].ID, -10),
		"it has dried":               shift("off rear left", 4000),
		"Ada is not there":           shift("off rear left", 5200),
		"ends at":                    shift("off rear left", 9000),
		"at least 60":                shift("off front left", -60),
		"before being done":          shift("off front left", 1),
		"at once, and there are 1":   shift("off front left", 10),
		"has no lance":               func(l *Timeline) { at(l, "off front left").Machines = nil },
		"stands in no bay":           func(l *Timeline) { l.Stays = nil },
		"which it may not use":       func(l *Timeline) { l.Stays[0].Bay = "yard" },
		"its vehicle is in the bay":  func(l *Timeline) { l.Stays[0].End = 100 },
	} {
		raw, err := json.Marshal(good)
		require.NoError(t, err)
		var bad Timeline
		require.NoError(t, json.Unmarshal(raw, &bad))
		change(&bad)
		assert.ErrorContains(t, Validate(p, bad), want)
	}
}

// Whatever is written as a problem is refused by name or solved; a timeline is valid.
func FuzzProblem(f *testing.F) {
	for _, p := range []Problem{foamed(), fourWheels(20, 40)} {
		raw, err := json.Marshal(p)
		require.NoError(f, err)
		f.Add(raw)
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		var p Problem
		if json.Unmarshal(raw, &p) != nil || len(p.Work) > 40 {
			return
		}
		for _, w := range p.Work {
			if w.Pinned != nil { // what has happened may contradict everything
				return
			}
		}
		line, err := Solve(p, Options{Seed: 1, Effort: 3000})
		if err == nil && line.Feasible {
			require.NoError(t, Validate(p, line))
		}
	})
}

// A procedure may name a machine that the shop's settings do not: it is there once, and nobody else's list of
// machines changes.
func TestUnnamedMachinesAreThereOnce(t *testing.T) {
	p := foamed()
	p.Work[3].Uses = []string{"steamer"}
	_, err := Solve(p, Options{})
	require.ErrorContains(t, err, "there is no machine \"steamer\"")
	named := p.Machines
	p.Equip()
	p.Equip()
	assert.Equal(t, []Machine{{Name: "washer", Count: 1}, {Name: "steamer", Count: 1}}, p.Machines)
	assert.Len(t, named, 1)
	assert.Equal(t, []string{"steamer"}, slot(t, solve(t, p), "mitt").Machines)
}

// One vehicle's dwell cannot be kept: that is its own fault and not the other's. Of two timelines of a day the one that keeps more, or
// is less late, beats the other, and none beats itself.
func TestEachVehicleAnswersForItself(t *testing.T) {
	day := func(foam measure.Seconds) Problem {
		return Problem{
			People: crew("Ada", "Bo"),
			Jobs:   []Job{{ID: "red", Promised: 3000}, {ID: "blue", Promised: 3000}},
			Work: []Work{
				{ID: "foam red", Job: "red", Seconds: 60}, {ID: "rinse red", Job: "red", Seconds: 60},
				{ID: "shuts red", Job: "red", Seconds: 600},
				{ID: "foam blue", Job: "blue", Seconds: 60}, {ID: "rinse blue", Job: "blue", Seconds: 60},
			},
			Lags: []Lag{{From: "foam red", To: "shuts red"}, {From: "shuts red", To: "rinse red"},
				{From: "foam red", To: "rinse red", Max: most(foam)}, {From: "foam blue", To: "rinse blue", Min: 120, Max: most(300)}},
		}
	}
	possible, not := day(900), day(300) // ten minutes of shuts lie between
	kept, lost := solve(t, possible), solve(t, not)
	require.True(t, kept.Feasible)
	require.False(t, lost.Feasible)
	assert.True(t, kept.Keeps("red"))
	assert.True(t, lost.Keeps("blue"), "blue has done nothing wrong")
	assert.False(t, lost.Keeps("red"))
	assert.False(t, lost.Keeps("green"), "nothing is laid out for it")
	assert.Equal(t, []string{"red"}, lost.Breaks(kept))
	assert.Empty(t, lost.Breaks(lost), "what was broken before is not broken by this")
	assert.Empty(t, kept.Breaks(lost))

	assert.True(t, kept.Beats(lost, possible))
	assert.False(t, lost.Beats(kept, possible))
	assert.False(t, kept.Beats(kept, possible))
	tight := possible
	tight.Jobs = []Job{{ID: "red", Promised: 10}, {ID: "blue", Promised: 3000}}
	assert.Greater(t, kept.Weighed(tight), kept.Weighed(possible), "what is late weighs more")
}
