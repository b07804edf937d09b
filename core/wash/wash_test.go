package wash

import (
	"fmt"
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
)

var (
	noon  = time.Date(2026, 3, 9, 12, 0, 0, 0, time.UTC)
	steps = []Step{
		{ID: "foam", Stage: "Pre-wash", Minutes: 2, Dwell: &Dwell{300, 600, 600}},
		{ID: "fill", Stage: "Pre-wash", Minutes: 2},
		{ID: "rinse", Stage: "Pre-wash", Minutes: 3, Ends: []string{"foam"}},
	}
)

func at(kind Kind, step string, seconds int) Event {
	return Event{ID: fmt.Sprintf("%s-%s-%d", kind, step, seconds), Kind: kind, Step: step, At: noon.Add(time.Duration(seconds) * time.Second), Seq: seconds, Text: "x"}
}

func TestDwellKeptEarlyOverrun(t *testing.T) {
	for rinseAt, verdict := range map[int]Verdict{120 + 200: Early, 120 + 296: Kept, 120 + 450: Kept, 120 + 604: Kept, 120 + 700: Overrun} {
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
		two := []Step{{ID: "citrus", Dwell: &Dwell{60, 180, label}}, {ID: "foam", Dwell: &Dwell{300, 600, 600}, Rewets: []string{"citrus"}}}
		s := Fold(two, []Event{at(Start, "citrus", 0), at(Done, "citrus", 60), at(Start, "foam", 61), at(Done, "foam", 180)})
		assert.Equal(t, noon.Add(time.Duration(latest)*time.Second), s.Dwelling[0].Latest, "label %d s", label)
		dried := Fold(two, []Event{at(Start, "citrus", 0), at(Done, "citrus", 60), at(Start, "foam", 400), at(Done, "foam", 500)})
		assert.Equal(t, noon.Add(240*time.Second), dried.Dwelling[0].Latest, "it had dried before")
	}
}

func TestPausesAreNotHandsOn(t *testing.T) {
	s := Fold(steps, []Event{at(Start, "foam", 0), at(Pause, "foam", 30), at(Resume, "foam", 90), at(Done, "foam", 150)})
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
	kinds := []Kind{Start, Done, Pause, Resume, Skip, Note, Undo, Finish}
	for i := range 25 {
		e := at(kinds[rng.Intn(len(kinds))], steps[rng.Intn(3)].ID, 10*i)
		e.ID = fmt.Sprint("e", i)
		if e.Kind == Undo && i > 0 {
			e.Undoes = events[rng.Intn(i)].ID
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

func TestEventsAreChecked(t *testing.T) {
	for says, e := range map[string]Event{
		"id":     {Kind: Start, Step: "foam", At: noon},
		"kind":   {ID: "a", Kind: "dance", At: noon},
		"at":     {ID: "a", Kind: Start, Step: "foam"},
		"undoes": {ID: "a", Kind: Undo, At: noon},
		"text":   {ID: "a", Kind: Skip, Step: "foam", At: noon},
		"step":   {ID: "a", Kind: Done, Step: "polish", At: noon},
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
