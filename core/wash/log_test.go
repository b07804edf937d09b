package wash

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var reworked = append(
	append([]PlannedStep{}, steps...),
	PlannedStep{ID: "rework-1", Stage: "Rework", Title: "Front: streaks", Minutes: 2, Rework: true},
)

func by(who string, e Event) Event { e.By = who; return e }

func undoing(who, id string) Event {
	return Event{ID: "undo " + id, Kind: Undo, Undoes: id, By: who, At: noon.Add(time.Hour)}
}

// Somebody's undo takes back their own tap and no other, whichever way it came into the log.
func TestUndoTakesBackOnesOwnOnly(t *testing.T) {
	log := []Event{by("osk", at(Start, "foam", 0)), by("osk", at(Done, "foam", 60))}
	assert.Equal(
		t,
		Ended,
		Fold(steps, append(log, undoing("pia", log[1].ID))).Steps[0].Status,
		"pia cannot undo what osk did",
	)
	assert.Equal(t, Running, Fold(steps, append(log, undoing("osk", log[1].ID))).Steps[0].Status)

	_, err := Closed(false).Admit(undoing("pia", log[1].ID), steps, log)
	assert.ErrorContains(t, err, "somebody else made that tap")
	_, err = Closed(false).Admit(undoing("osk", log[1].ID), steps, log)
	assert.NoError(t, err)
	_, err = Closed(false).Admit(undoing("osk", "not here yet"), steps, log)
	assert.NoError(t, err, "the tap it takes back may still be on its way")
}

func TestWhatComesAfterTheWashIsClosed(t *testing.T) {
	log := []Event{by("osk", at(Start, "foam", 0)), by("osk", at(Start, "rework-1", 4000))}
	for _, c := range []struct {
		tap  Event
		late bool
		says string
	}{
		{at(Done, "foam", 60), true, ""},
		{at(Finish, "", 90), true, ""},
		{at(Note, "", 95), true, ""},
		{at(Done, "rework-1", 4100), false, ""},
		{undoing("osk", log[0].ID), false, "the wash is closed"},
		{undoing("osk", "unknown"), false, "the wash is closed"},
		{undoing("osk", log[1].ID), false, ""},
		{undoing("pia", log[1].ID), false, "somebody else"},
	} {
		got, err := Closed(true).Admit(c.tap, reworked, log)
		if c.says != "" {
			assert.ErrorContains(t, err, c.says)
			continue
		}
		require.NoError(t, err)
		assert.Equal(t, c.late, got.Late, "%s %s", c.tap.Kind, c.tap.Step)
		open, err := Closed(false).Admit(c.tap, reworked, log)
		require.NoError(t, err)
		assert.False(t, open.Late)
	}
}

// Whatever arrives once a wash is closed, its steps stay as they were; only rework goes on.
func TestAClosedWashStaysAsItWas(t *testing.T) {
	for seed := range int64(200) {
		rng := rand.New(rand.NewSource(seed))
		log := randomStory(rng)
		before := Fold(reworked, log)
		for _, e := range randomStory(rng) {
			e.ID, e.At = "late "+e.ID, noon.Add(time.Duration(rng.Intn(9000))*time.Second)
			if rng.Intn(3) == 0 {
				e.Step = "rework-1"
			}
			if taken, err := Closed(true).Admit(e, reworked, log); err == nil {
				log = append(log, taken)
			}
		}
		now := Fold(reworked, log)
		require.Equal(t, before.Steps[:3], now.Steps[:3], "seed %d", seed)
		require.Equal(t, before.Finished, now.Finished)
		require.Equal(t, before.Dwelling, now.Dwelling)
	}
}

func TestWhoWashed(t *testing.T) {
	over := at(HandOver, "fill", 20)
	over.To = "jory"
	for name, c := range map[string]struct {
		log  []Event
		want []string
	}{
		"the one it was given to": {nil, []string{"osk"}},
		"who did every step by hand-over": {[]Event{by("osk", at(Start, "fill", 0)), by("osk", over),
			by("osk", at(Done, "fill", 60))}, []string{"osk", "jory"}},
		"who shared a step": {[]Event{by("osk", at(Start, "fill", 0)),
			by("ines", at(Pause, "fill", 9))}, []string{"osk", "ines"}},
		"who came to help":         {[]Event{by("osk", at(Help, "", 0)), by("ines", at(Helped, "", 9))}, []string{"osk", "ines"}},
		"not who decided or noted": {[]Event{by("maren", at(Bonded, "", 5)), by("maren", at(Note, "", 6))}, []string{"osk"}},
		"who finished it":          {[]Event{by("maren", at(Finish, "", 9))}, []string{"osk", "maren"}},
		"not who took it " +
			"back at once": {[]Event{by("pia", at(Start, "fill", 0)), undoing("pia", "start-fill-0")}, []string{"osk"}},
		"but not because somebody else did so": {[]Event{by("pia", at(Start, "fill", 0)),
			undoing("osk", "start-fill-0")}, []string{"osk", "pia"}},
		"nor who tapped too late":  {[]Event{{ID: "x", Kind: Start, Step: "fill", By: "cal", Late: true}}, []string{"osk"}},
		"nor who helped too late":  {[]Event{{ID: "x", Kind: Helped, By: "cal", Late: true}}, []string{"osk"}},
		"nor who put it right":     {[]Event{by("cal", at(Start, "rework-1", 9000))}, []string{"osk"}},
		"nor who helped with that": {[]Event{by("cal", at(Helped, "rework-1", 9000))}, []string{"osk"}},
	} {
		assert.Equal(t, c.want, Washers("osk", reworked, c.log), name)
	}
}

// Nobody becomes a washer of a wash that is closed, whatever is tapped; whoever touched it then audits it no more.
func TestWhoWashedIsSettledWhenTheWashCloses(t *testing.T) {
	for seed := range int64(200) {
		rng := rand.New(rand.NewSource(seed))
		log := randomStory(rng)
		before := Washers("osk", reworked, log)
		for _, e := range randomStory(rng) {
			e.ID, e.By = "late "+e.ID, []string{"osk", "cal", "pia"}[rng.Intn(3)]
			if rng.Intn(3) == 0 {
				e.Step = "rework-1"
			}
			if taken, err := Closed(true).Admit(e, reworked, log); err == nil {
				log = append(log, taken)
			}
			require.Equal(t, before, Washers("osk", reworked, log), "seed %d", seed)
		}
		hands := Hands("osk", log)
		for _, who := range before {
			assert.Contains(t, hands, who)
		}
	}
	late := []Event{{ID: "x", Kind: Start, Step: "fill", By: "cal", Late: true}, by("pia", at(Done, "rework-1", 9000))}
	assert.Equal(t, []string{"osk", "cal", "pia"}, Hands("osk", late))
}

// The plan is changed twice in mid-wash: the plan of any moment is what the log says up to it.
func TestThePlanOfAnyMomentIsFolded(t *testing.T) {
	replan := func(sec int, without ...string) Event {
		e := at(Replan, "", sec)
		e.Plan = &Replanned{Without: without}
		return e
	}
	log := []Event{at(Start, "foam", 0), replan(10, "foam", "fill"), replan(50), replan(90, "rinse")}
	log[2].Plan.People = []string{"ines"}
	for until, want := range map[int][]Status{1: {Running, Waiting, Waiting}, 2: {Running, Skipped, Waiting},
		3: {Running, Waiting, Waiting}, 4: {Running, Waiting, Skipped}} {
		s := Fold(steps, log[:until])
		assert.Equal(t, want, []Status{s.Steps[0].Status, s.Steps[1].Status, s.Steps[2].Status}, "after %d", until)
	}
	assert.Equal(t, []string{"ines"}, Fold(steps, log).Helpers)
	skipped := Fold(steps, []Event{at(Skip, "fill", 5), replan(50)})
	assert.Equal(t, Skipped, skipped.Steps[1].Status, "what the washer could not do does not come back by itself")
}

func TestCorrectionsStandBeside(t *testing.T) {
	was := Fold(steps, []Event{at(Start, "foam", 0), at(Done, "foam", 1200), at(Start, "fill", 1200)})
	right := Correction{Step: "foam", Minutes: 2.5, Why: "the tap came after lunch"}
	now := was.Corrected([]Correction{{Step: "foam", Minutes: 9, Why: "a guess"}, right})
	assert.EqualValues(t, 150, now.Steps[0].HandsOn, "the newest counts")
	assert.EqualValues(t, 1200, was.Steps[0].HandsOn, "what was tapped is still there")
	assert.Equal(t, was.Steps[0].Ended, now.Steps[0].Ended)
	assert.NoError(t, right.Check(was))
	assert.ErrorContains(t, Correction{Step: "polish", Why: "x"}.Check(was), "no such step")
	assert.ErrorContains(t, Correction{Step: "fill", Why: "x"}.Check(was), "was not done")
	assert.ErrorContains(t, Correction{Step: "foam", Minutes: -1, Why: "x"}.Check(was), "minutes")
	assert.ErrorContains(t, Correction{Step: "foam", Minutes: 1}.Check(was), "why")
}

// A device's clock may be an hour fast: its taps keep their distances and none is later than now; one that differs by seconds, or is
// slow, is left alone.
func TestNothingHappensLaterThanItIsTold(t *testing.T) {
	now := noon.Add(600 * time.Second)
	for _, fast := range []time.Duration{-time.Hour, -time.Second, 0, 3 * time.Second, 6 * time.Second, time.Minute, 59 * time.Minute} {
		taps := []Event{at(Start, "foam", 0), at(Done, "foam", 240), at(Finish, "", 600)}
		for i := range taps {
			taps[i].At = taps[i].At.Add(fast)
		}
		was := append([]Event{}, taps...)
		NotAhead(taps, now)
		if fast <= hurried {
			assert.Equal(t, was, taps, "%s", fast)
			continue
		}
		for i := range taps {
			assert.Equal(t, was[i].At.Add(-fast), taps[i].At, "%s", fast)
			assert.False(t, taps[i].At.After(now))
		}
	}
}
