package wash

import (
	"fmt"
	"math/rand"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

var (
	noon  = time.Date(2026, 3, 9, 12, 0, 0, 0, time.UTC)
	steps = []PlannedStep{
		{ID: "foam", Stage: "Pre-wash", Minutes: 2, Dwell: &Dwell{300, 600, 600}},
		{ID: "fill", Stage: "Pre-wash", Minutes: 2},
		{ID: "rinse", Stage: "Pre-wash", Minutes: 3, Ends: []string{"foam"}},
	}
)

func at(kind Kind, step string, seconds int) Event {
	return Event{
		ID:   fmt.Sprintf("%s-%s-%d", kind, step, seconds),
		Kind: kind,
		Step: step,
		At:   noon.Add(time.Duration(seconds) * time.Second),
		Seq:  seconds,
		Text: "x",
	}
}

func TestDwellKeptEarlyOverrun(t *testing.T) {
	for rinseAt, verdict := range map[int]DwellKept{120 + 200: Early, 120 + 296: Kept, 120 + 450: Kept, 120 + 604: Kept, 120 + 700: Overrun} {
		s := Fold(steps, []Event{at(Start, "foam", 0), at(Done, "foam", 120), at(Start, "rinse", rinseAt)})
		require.Len(t, s.Dwelling, 1)
		assert.Equal(t, verdict, s.Dwelling[0].Verdict, "rinsed after %d s", rinseAt-120)
	}
	open := Fold(steps, []Event{at(Start, "foam", 0), at(Done, "foam", 120)})
	assert.Equal(t, Working, open.Dwelling[0].Verdict)
	assert.Equal(t, noon.Add(420*time.Second), open.Dwelling[0].Earliest)
	assert.Equal(t, noon.Add(720*time.Second), open.Dwelling[0].Latest)
	assert.Equal(t, "fill", open.Next)
}

// Foam over citrus: the citrus dries with the foam from then on, but not past its own label.
func TestRewetProductDriesLater(t *testing.T) {
	for label, latest := range map[measure.Seconds]int{300: 60 + 300, 3000: 180 + 600} {
		two := []PlannedStep{
			{ID: "citrus", Dwell: &Dwell{60, 180, label}},
			{ID: "foam", Dwell: &Dwell{300, 600, 600}, Rewets: []string{"citrus"}},
		}
		s := Fold(
			two,
			[]Event{at(Start, "citrus", 0), at(Done, "citrus", 60), at(Start, "foam", 61), at(Done, "foam", 180)},
		)
		assert.Equal(t, noon.Add(time.Duration(latest)*time.Second), s.Dwelling[0].Latest, "label %d s", label)
		dried := Fold(
			two,
			[]Event{at(Start, "citrus", 0), at(Done, "citrus", 60), at(Start, "foam", 400), at(Done, "foam", 500)},
		)
		assert.Equal(t, noon.Add(240*time.Second), dried.Dwelling[0].Latest, "it had dried before")
	}
}

// Two devices say that a step cannot be done: the first says when and why.
func TestAStepIsLeftOutOnce(t *testing.T) {
	first, second := at(Skip, "fill", 40), at(Skip, "fill", 90)
	first.Text, second.Text = "no water", "no time"
	for _, log := range [][]Event{{at(Start, "fill", 0), first, second}, {second, first, at(Start, "fill", 0)}} {
		s := Fold(steps, append(log, at(Done, "fill", 120)))
		assert.Equal(t, Skipped, s.Steps[1].Status)
		assert.Equal(t, "no water", s.Steps[1].Reason)
		assert.Equal(t, first.At, s.Steps[1].Ended)
		assert.EqualValues(t, 40, s.Steps[1].HandsOn)
	}
}

func TestPausesAreNotHandsOn(t *testing.T) {
	s := Fold(
		steps,
		[]Event{at(Start, "foam", 0), at(Pause, "foam", 30), at(Resume, "foam", 90), at(Done, "foam", 150)},
	)
	assert.EqualValues(t, 90, s.Steps[0].HandsOn)
	assert.EqualValues(t, 60, s.Steps[0].Paused)
	assert.Equal(t, Ended, s.Steps[0].Status)
	assert.Empty(t, s.Current)
}

func TestUndoTakesBackTheLastTap(t *testing.T) {
	events := []Event{at(Start, "foam", 0), at(Done, "foam", 120)}
	undo := Event{ID: "u", Kind: Undo, Undoes: events[1].ID, At: noon.Add(125 * time.Second)}
	s := Fold(steps, append(events, undo))
	assert.Equal(t, Running, s.Steps[0].Status)
	assert.Equal(t, "foam", s.Current)
	assert.Empty(t, s.Dwelling)
	assert.Equal(t, events[0].ID, s.LastTap)
}

func TestSkipsAndNotes(t *testing.T) {
	s := Fold(steps, []Event{at(Skip, "fill", 5), at(Note, "", 6), at(Finish, "", 9), at(Start, "ghost", 10)})
	assert.Equal(t, Skipped, s.Steps[1].Status)
	assert.Equal(t, "x", s.Steps[1].Reason)
	assert.Len(t, s.Notes, 1)
	assert.Equal(t, noon.Add(9*time.Second), s.Finished)
}

// randomStory is a plausible or careless sequence of taps.
func randomStory(rng *rand.Rand) []Event {
	var events []Event
	kinds := []Kind{Start, Start, Done, Done, Pause, Resume, Skip, Note, Undo, Finish, Rinsed, Dropped, Dried, Help,
		Helped, Bonded, HandOver, Replan, Reopen}
	for i := range 40 {
		e := at(kinds[rng.Intn(len(kinds))], steps[rng.Intn(3)].ID, 10*i)
		e.ID, e.By, e.To = fmt.Sprint("e", i), []string{"a", "b"}[rng.Intn(2)], "c"
		if e.Kind == Undo && i > 0 {
			e.Undoes = events[rng.Intn(i)].ID
		}
		if e.Kind == Replan {
			e.Plan = &Replanned{Without: []string{steps[rng.Intn(3)].ID}[:rng.Intn(2)], People: []string{}}
		}
		events = append(events, e)
	}
	return events
}

// Out-of-order, repeated and late events give the same state.
func TestAnyOrderFoldsToTheSameState(t *testing.T) {
	rng := rand.New(rand.NewSource(9))
	for range 300 {
		story := randomStory(rng)
		want := Fold(steps, story)
		mixed := append(append([]Event{}, story...), story[:rng.Intn(len(story))]...)
		rng.Shuffle(len(mixed), func(i, j int) { mixed[i], mixed[j] = mixed[j], mixed[i] })
		require.Equal(t, want, Fold(steps, mixed))
		for _, s := range want.Steps {
			require.GreaterOrEqual(t, int(s.HandsOn), 0)
		}
	}
}

// One tap closes a part of a round whose steps were not tapped singly: they are done, and their times are not their own.
func TestAPartIsClosedAtOnce(t *testing.T) {
	whole := func(step string, second int) Event {
		e := at(Done, step, second)
		e.Whole = true
		return e
	}
	s := Fold(steps, []Event{at(Start, "foam", 0), whole("foam", 60), whole("fill", 61), at(Start, "rinse", 70), at(Done, "rinse", 90)})
	for i, loose := range []bool{true, true, false} {
		assert.Equal(t, Ended, s.Steps[i].Status)
		assert.Equal(t, loose, s.Steps[i].Loose, s.Steps[i].ID)
	}
	assert.Zero(t, s.Steps[1].HandsOn)
}

// A step that was over is taken in hand again: its time goes on, and product that was still working is put on anew.
func TestAStepIsReopened(t *testing.T) {
	over := []Event{at(Start, "foam", 0), at(Done, "foam", 60)}
	s := Fold(steps, append(slices.Clone(over), at(Reopen, "foam", 100)))
	assert.Equal(t, "foam", s.Current)
	assert.Empty(t, s.Dwelling, "it is being put on")
	s = Fold(steps, append(slices.Clone(over), at(Reopen, "foam", 100), at(Done, "foam", 130)))
	assert.Equal(t, measure.Seconds(90), s.Steps[0].HandsOn)
	require.Len(t, s.Dwelling, 1)
	assert.Equal(t, noon.Add(130*time.Second), s.Dwelling[0].Since)
	s = Fold(steps, []Event{at(Skip, "fill", 5), at(Reopen, "fill", 20), at(Reopen, "rinse", 30)})
	assert.Equal(t, Running, s.Steps[1].Status)
	assert.Empty(t, s.Steps[1].Reason)
	assert.Equal(t, Waiting, s.Steps[2].Status, "what was not begun cannot be reopened")
}

func TestEventsAreChecked(t *testing.T) {
	for says, e := range map[string]Event{
		"id":      {Kind: Start, Step: "foam", At: noon},
		"kind":    {ID: "a", Kind: "dance", At: noon},
		"at":      {ID: "a", Kind: Start, Step: "foam"},
		"no text": {ID: "a", Kind: Note, At: noon, Text: "a\x00b"},
		"undoes":  {ID: "a", Kind: Undo, At: noon},
		"text":    {ID: "a", Kind: Skip, Step: "foam", At: noon},
		"step":    {ID: "a", Kind: Done, Step: "polish", At: noon},
		"to:":     {ID: "a", Kind: HandOver, Step: "foam", At: noon},
		"matter":  {ID: "a", Kind: Bonded, At: noon},
		"zone":    {ID: "a", Kind: Bonded, At: noon, Detail: Detail{Matter: "tar", Zone: "moon"}},
		"remedy":  {ID: "a", Kind: Bonded, At: noon, Detail: Detail{Matter: "tar", Zone: "roof"}},
		"plan: ":  {ID: "a", Kind: Replan, At: noon, Text: "late"},
		"text: s": {ID: "a", Kind: Replan, At: noon, Detail: Detail{Plan: &Replanned{}}},
		"without": {ID: "a", Kind: Replan, At: noon, Text: "late", Detail: Detail{Plan: &Replanned{Without: []string{"polish"}}}},
	} {
		assert.ErrorContains(t, e.Check(steps), says)
	}
	assert.NoError(t, at(Start, "foam", 0).Check(steps))
}

func FuzzFold(f *testing.F) {
	f.Add("start", "foam", int64(3), "done", "foam", int64(-5))
	f.Fuzz(func(t *testing.T, k1, s1 string, t1 int64, k2, s2 string, t2 int64) {
		a := Event{ID: "a", Kind: Kind(k1), Step: s1, At: noon.Add(time.Duration(t1))}
		b := Event{ID: "b", Kind: Kind(k2), Step: s2, At: noon.Add(time.Duration(t2)), Undoes: s1}
		assert.Equal(t, Fold(steps, []Event{a, b}), Fold(steps, []Event{b, a, a}))
	})
}

// Two people on one car: each has their own step in hand, and taps of one do not move the other's.
func TestTwoPeopleEachHaveTheirOwnStep(t *testing.T) {
	by := func(e Event, who string) Event { e.By = who; return e }
	events := []Event{by(at(Start, "foam", 0), "osk"), by(at(Start, "fill", 5), "pia"), by(at(Done, "foam", 60), "osk")}
	s := Fold(steps, events)
	assert.Equal(t, []Hand{{"pia", "fill"}}, s.Hands)
	assert.Equal(t, "fill", s.Current, "what is still in hand")
	s = Fold(steps, append(events, by(at(Start, "rinse", 400), "osk")))
	assert.Equal(t, []Hand{{"osk", "rinse"}, {"pia", "fill"}}, s.Hands)
	assert.Equal(t, "rinse", s.Current)
}

// Handed over in mid-step: the time before is the trainee's, the time after the washer's.
func TestHandOverSharesTheTime(t *testing.T) {
	over := at(HandOver, "fill", 40)
	over.To = "osk"
	first, last := at(Start, "fill", 0), at(Done, "fill", 100)
	first.By, over.By, last.By = "pia", "pia", "osk"
	s := Fold(steps, []Event{first, over, last})
	assert.EqualValues(t, 100, s.Steps[1].HandsOn)
	assert.Equal(t, "osk", s.Steps[1].By)
	require.Len(t, s.Stretches, 2)
	assert.Equal(t, "pia", s.Stretches[0].By)
	assert.Equal(t, 40*time.Second, s.Stretches[0].To.Sub(s.Stretches[0].From))
	assert.Equal(t, "osk", s.Stretches[1].By)
	waiting := Fold(steps, []Event{over})
	assert.Equal(t, Waiting, waiting.Steps[1].Status, "what nobody has in hand cannot be handed over")
}

// Who is handed the rest does from then on what the plan gives to the giver; handed on, it goes on. A step in hand goes
// with it.
func TestHandOverOfTheRest(t *testing.T) {
	give := func(id, from, to, step string, s int) Event {
		e := at(HandOver, step, s)
		e.ID, e.By, e.To, e.Rest = id, from, to, true
		return e
	}
	plan := []Planned{{Step: "foam", Who: "osk"}, {Step: "fill", Start: 10, Who: "osk"}, {Step: "rinse", Start: 20, Who: "maren"}}
	start := at(Start, "foam", 0)
	start.By = "osk"
	s := Fold(steps, []Event{start, give("g1", "osk", "pia", "foam", 30)})
	assert.Equal(t, []Hand{{"pia", "foam"}}, s.Hands, "the step in hand goes with it")
	assert.Equal(t, "pia", s.Heir("osk"))
	handed, there := s.HandedTo("pia")
	assert.True(t, there)
	assert.Equal(t, "foam", handed.Step)
	assert.True(t, s.Washing("pia", "osk"))
	assert.False(t, s.Washing("osk", "osk"), "it was given away")
	assert.Equal(t, "maren", s.Heir("maren"))
	assert.Equal(t, "fill", LaneOf("pia", steps, s, plan).After[0], "what the plan gave to osk")
	assert.Equal(t, "rinse", LaneOf("maren", steps, s, plan).Step, "what was maren's stays hers")

	on := Fold(steps, []Event{start, give("g1", "osk", "pia", "foam", 30), give("g2", "pia", "ann", "", 40)})
	assert.Equal(t, "ann", on.Heir("osk"))
	handed, there = on.HandedTo("ann")
	assert.True(t, there && handed.Rest)
	assert.Empty(t, handed.Step, "only the rest")
	handed, there = on.HandedTo("pia")
	assert.True(t, there && handed.Step == "foam", "the step is in her hands yet")
	assert.True(t, on.Washing("pia", "osk"))
	assert.Equal(t, "fill", LaneOf("ann", steps, on, plan).Step)
	back := Fold(steps, []Event{give("g1", "osk", "pia", "", 30), give("g2", "pia", "osk", "", 40)})
	assert.Equal(t, "osk", back.Heir("osk"), "given back")
	require.NoError(t, give("g1", "osk", "pia", "", 30).Check(steps), "between two steps there is none in hand")
	one := give("g1", "osk", "pia", "", 30)
	one.Rest = false
	assert.ErrorContains(t, one.Check(steps), "step")
}

// Product seen dry before its time has overrun, whenever it is rinsed.
func TestDriedProductHasOverrun(t *testing.T) {
	s := Fold(
		steps,
		[]Event{at(Start, "foam", 0), at(Done, "foam", 120), at(Dried, "foam", 240), at(Start, "rinse", 250)},
	)
	assert.Equal(t, Overrun, s.Dwelling[0].Verdict)
	assert.True(t, s.Dwelling[0].Dried)
	assert.Equal(t, noon.Add(240*time.Second), s.Dwelling[0].Latest)
}

// Rinses, a dropped mitt, help and what is found are kept, and undone like any tap.
func TestWhatElseHappensInTheBay(t *testing.T) {
	found := at(Bonded, "", 50)
	found.Detail = Detail{Matter: "tar", Zone: "lower-left", Remedy: AskLead}
	events := []Event{
		at(Start, "fill", 0),
		at(Rinsed, "fill", 10),
		at(Rinsed, "fill", 20),
		at(Dropped, "fill", 30),
		at(Help, "fill", 40),
		found,
	}
	s := Fold(steps, events)
	assert.Equal(t, []int{2, 1}, []int{s.Steps[1].Rinses, s.Steps[1].Dropped})
	require.NotNil(t, s.Help)
	assert.Equal(
		t,
		[]Find{{At: noon.Add(50 * time.Second), Matter: "tar", Zone: "lower-left", Remedy: AskLead}},
		s.Found,
	)
	p := s.Pulse(steps, noon.Add(60*time.Second))
	assert.Equal(t, 1, p.Asks)
	assert.NotNil(t, p.Help)
	assert.InDelta(t, 2+1+3, p.Left, 1e-9, "one of the two minutes of filling is left")
	assert.Equal(t, "Pre-wash", steps[1].Stage)
	assert.Len(t, p.Hands, 1)
	assert.InDelta(t, 1-p.Left/minutesOf(steps), p.Share, 0.005)
	late := s.Pulse(steps, noon.Add(3*time.Hour))
	assert.InDelta(t, 2+3, late.Left, 1e-9, "a step that takes far longer does not take from the others")
	assert.LessOrEqual(t, late.Share, 1.0)

	assert.Nil(t, Fold(steps, append(events, at(Helped, "", 70))).Help)
	assert.Nil(
		t,
		Fold(steps, append(events, Event{ID: "u", Kind: Undo, Undoes: events[4].ID, At: noon.Add(time.Hour)})).Help,
	)
	assert.Nil(t, Fold(steps, append(events, at(Finish, "", 90))).Help, "the wash is over")
}

// What is found and asked about is decided by what is said of it later; tar that is left is declared, bugs that are
// left are not: a maintenance wash takes them off.
func TestFindsAreDecidedLater(t *testing.T) {
	said := func(matter condition.Matter, remedy Remedy, by string, seconds int) Event {
		e := at(Bonded, "", seconds)
		e.ID, e.By, e.Detail = fmt.Sprint(
			matter,
			remedy,
			seconds,
		), by, Detail{
			Matter: matter,
			Zone:   "roof",
			Remedy: remedy,
		}
		return e
	}
	events := []Event{said("tar", AskLead, "osk", 5), said("bugs", Leave, "osk", 6), said("tar", Leave, "maren", 9)}
	s := Fold(steps, events)
	require.Len(t, s.Found, 2)
	assert.Equal(t, []string{"osk", "maren"}, []string{s.Found[0].By, s.Found[0].Decided})
	assert.Equal(t, []condition.OutOfScope{{Matter: "tar", Zones: []vehicle.Zone{"roof"}}}, s.Noted(condition.Service{}))
	assert.Zero(t, s.Pulse(steps, noon).Asks)
	assert.Empty(t, Fold(steps, events[:2]).Noted(condition.Service{}), "nobody has decided yet")
}

// minutesOf is all that the steps are to take, min.
func minutesOf(steps []PlannedStep) (sum float64) {
	for _, s := range steps {
		sum += s.Minutes
	}
	return sum
}
