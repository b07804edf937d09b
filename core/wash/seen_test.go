package wash

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
)

// asking is a wash that asks after its rinse: a drying agent on yes, nothing on no; and leaves two things open.
func asking() []PlannedStep {
	on := func(says procedure.YesOrNo, expected bool) *OnAnswer {
		return &OnAnswer{Steps: []string{"rinse"}, Text: "Does water lie flat?", Says: says, Expected: expected}
	}
	return []PlannedStep{
		{ID: "mitt", Title: "Mitt", Minutes: 10, Opens: []string{"wipers up", "filler flap"}},
		{ID: "rinse", Title: "Rinse", Minutes: 3, Asks: &Asked{Text: "Does water lie flat?", Expect: procedure.SaysNo}},
		{ID: "agent", Title: "Agent", Minutes: 1, If: on(procedure.SaysYes, false)},
		{ID: "towel", Title: "Towel", Minutes: 5},
		{ID: "look", Title: "Look", Minutes: 2, Closes: []string{"wipers up", "filler flap"}},
	}
}

// tapped is a tap so many minutes after the beginning.
func tapped(id string, kind Kind, step string, minutes float64) Event {
	return Event{ID: id, Kind: kind, Step: step, By: "osk", At: noon.Add(time.Duration(minutes * float64(time.Minute)))}
}

func status(s State, id string) StepState {
	for _, x := range s.Steps {
		if x.ID == id {
			return x
		}
	}
	return StepState{}
}

// What hangs on an answer is left out until it is given, follows at once when it is, and goes again when it is taken
// back.
func TestAnAnswerDecidesWhatFollows(t *testing.T) {
	steps := asking()
	s := Fold(steps, nil)
	assert.True(t, status(s, "agent").Unasked, "no is expected")
	assert.Equal(t, 20.0, s.Pulse(steps, noon).Left, "and the step counts for nothing")
	yes := tapped("2", Answer, "rinse", 13)
	yes.Says = procedure.SaysYes
	log := []Event{tapped("1", Done, "rinse", 13), yes}
	for _, e := range log {
		require.NoError(t, e.Check(steps))
	}
	s = Fold(steps, log)
	assert.Equal(t, Waiting, status(s, "agent").Status)
	assert.Equal(t, procedure.SaysYes, status(s, "rinse").Answer)
	assert.Empty(t, s.Asking)
	assert.Equal(t, []string{"rinse"}, Fold(steps, log[:1]).Asking, "done, and not answered yet")
	assert.Empty(t, Fold(steps, []Event{log[0], tapped("9", Done, "towel", 20)}).Asking, "what was expected has come to pass")
	back := tapped("3", Undo, "", 14)
	back.Undoes = "2"
	assert.True(t, status(Fold(steps, append(log, back)), "agent").Unasked)
	begun := Fold(steps, append(log, tapped("4", Start, "agent", 14), back))
	assert.Equal(t, Running, status(begun, "agent").Status, "what was begun goes on")
}

// A step that is expected is there until the other answer comes; of several parts that ask one answer is enough.
func TestWhatIsExpectedCountsUntilItIsAnswered(t *testing.T) {
	steps := asking()
	steps[2].If = &OnAnswer{Steps: []string{"mitt", "rinse"}, Says: procedure.SaysYes, Expected: true}
	steps[0].Asks = steps[1].Asks
	assert.Equal(t, Waiting, status(Fold(steps, nil), "agent").Status)
	said := func(step string, says procedure.YesOrNo, minute float64) Event {
		e := tapped(step+string(says), Answer, step, minute)
		e.Says = says
		return e
	}
	no := []Event{said("mitt", procedure.SaysNo, 1), said("rinse", procedure.SaysNo, 2)}
	assert.True(t, status(Fold(steps, no), "agent").Unasked)
	no[1].Says = procedure.SaysYes
	assert.Equal(t, Waiting, status(Fold(steps, no), "agent").Status)
}

func TestAnswersAreChecked(t *testing.T) {
	steps := asking()
	e := tapped("1", Answer, "towel", 1)
	e.Says = procedure.SaysYes
	assert.ErrorContains(t, e.Check(steps), `"towel": it asks nothing`)
	e = tapped("1", Answer, "rinse", 1)
	assert.ErrorContains(t, e.Check(steps), "use yes or no")
	assert.ErrorContains(t, Event{ID: "1", Kind: Shut, At: noon, Detail: Detail{Mark: "boot"}}.Check(steps), "leaves no such thing open")
	moved := tapped("1", Moved, "rinse", 1)
	moved.Next = "polish"
	assert.ErrorContains(t, moved.Check(steps), "no such step")
}

// What is left open stands there until it is closed, by a tap or by the last look, and is open again when the step is
// done again.
func TestWhatIsLeftOpen(t *testing.T) {
	steps := asking()
	log := []Event{tapped("1", Done, "mitt", 10)}
	s := Fold(steps, log)
	require.Len(t, s.Open, 2)
	assert.Equal(t, Mark{"wipers up", "mitt", noon.Add(10 * time.Minute)}, s.Open[0])
	shut := tapped("2", Shut, "", 12)
	shut.Mark = "filler flap"
	require.NoError(t, shut.Check(steps))
	assert.Len(t, Fold(steps, append(log, shut)).Open, 1)
	assert.Empty(t, Fold(steps, append(log, tapped("3", Done, "look", 30))).Open, "the last look closes what is left")
	skip := tapped("3", Skip, "look", 30)
	skip.Text = "the boat leaves"
	log = append(log, skip)
	assert.Len(t, Fold(steps, log).Open, 2, "a look that was left out closes nothing")
	finish := tapped("4", Finish, "", 31)
	_, err := Closed(false).Admit(finish, steps, log)
	assert.ErrorContains(t, err, "still open: wipers up, filler flap")
	finish.Text = "the customer closes them"
	_, err = Closed(false).Admit(finish, steps, log)
	assert.NoError(t, err)
	assert.Equal(t, finish.Text, Fold(steps, append(log, finish)).Why)
}

// A step that runs well past its plan is asked about: one in a hundred lasts longer than that (docs/models.md), and no
// step sooner than two minutes over its time.
func TestAForgottenTapIsAskedAbout(t *testing.T) {
	steps := asking()
	s := Fold(steps, []Event{tapped("1", Start, "mitt", 0)})
	asked := status(s, "mitt").AskAt.Sub(noon).Minutes()
	assert.InDelta(t, 10*1.40, asked, 0.1, "exp(2.33 x 0.149 - 0.0111)")
	assert.Equal(t, 4.0, status(Fold(steps, []Event{tapped("1", Start, "look", 0)}), "look").AskAt.Sub(noon).Minutes())
	steps[0].CV = 0.3
	assert.Greater(t, status(Fold(steps, []Event{tapped("1", Start, "mitt", 0)}), "mitt").AskAt.Sub(noon).Minutes(), 18.0,
		"a trainee's times vary more")

	here := tapped("2", Here, "mitt", 15)
	again := status(Fold(asking(), []Event{tapped("1", Start, "mitt", 0), here}), "mitt").AskAt
	assert.InDelta(t, 29, again.Sub(noon).Minutes(), 0.1, "still here: once more after as much again")
	paused := Fold(asking(), []Event{tapped("1", Start, "mitt", 0), tapped("2", Pause, "mitt", 5)})
	assert.Zero(t, status(paused, "mitt").AskAt, "a break is no forgotten tap")
}

// Another's tap that takes the product off shows that who put it on is further, too.
func TestAnotherLaneShowsThatTheWorkIsFurtherOn(t *testing.T) {
	steps := []PlannedStep{{ID: "foam", Minutes: 6}, {ID: "rinse", Minutes: 3, Ends: []string{"foam"}}}
	begun := tapped("2", Start, "rinse", 4)
	begun.By = "ines"
	s := Fold(steps, []Event{tapped("1", Start, "foam", 0), begun})
	assert.Equal(t, noon.Add(4*time.Minute), status(s, "foam").AskAt)
}

// Whoever says where they are now ends one step and begins the next at about that moment. Both are estimated: dwells go
// by them, standards do not.
func TestWhereAreYouNow(t *testing.T) {
	steps := asking()
	moved := tapped("2", Moved, "mitt", 11)
	moved.Next = "rinse"
	require.NoError(t, moved.Check(steps))
	s := Fold(steps, []Event{tapped("1", Start, "mitt", 0), moved, tapped("3", Done, "rinse", 15)})
	mitt, rinse := status(s, "mitt"), status(s, "rinse")
	assert.Equal(t, Ended, mitt.Status)
	assert.EqualValues(t, 11*60, mitt.HandsOn)
	assert.Equal(t, noon.Add(11*time.Minute), rinse.Started)
	assert.True(t, mitt.Estimated && rinse.Estimated)
	assert.False(t, status(s, "towel").Estimated)
	assert.Equal(t, s, Fold(steps, []Event{tapped("3", Done, "rinse", 15), moved, tapped("1", Start, "mitt", 0), moved}), "in whatever order")
	assert.Equal(t, Waiting, status(Fold(steps, []Event{moved}), "mitt").Status, "of what is not in hand it says nothing")
}
