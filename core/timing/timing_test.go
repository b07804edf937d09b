package timing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/wash"
)

// Worked by hand: foam 2 min planned, done in 3 with 1 min of pause; fill skipped; rinse running.
func TestStagesOfOneWash(t *testing.T) {
	noon := time.Date(2026, 3, 9, 12, 0, 0, 0, time.UTC)
	steps := []wash.PlannedStep{
		{ID: "foam", Stage: "Pre-wash", Minutes: 2},
		{ID: "fill", Stage: "Pre-wash", Minutes: 2},
		{ID: "mitt", Stage: "Contact wash", Minutes: 10},
	}
	tap := func(id string, k wash.Kind, step string, min int) wash.Event {
		return wash.Event{ID: id, Kind: k, Step: step, At: noon.Add(time.Duration(min) * time.Minute), Text: "no need"}
	}
	state := wash.Fold(
		steps,
		[]wash.Event{tap("1", wash.Start, "foam", 0), tap("2", wash.Pause, "foam", 1), tap("3", wash.Resume, "foam", 2),
			tap("4", wash.Done, "foam", 4), tap("5", wash.Skip, "fill", 4), tap("6", wash.Start, "mitt", 5)},
	)
	assert.Equal(t, []StageTime{
		{"Pre-wash", 2, 3, 1, 1, true},
		{"Contact wash", 0, 0, 0, 0, false},
	}, Stages(steps, state))
}

// Worked by hand: actual 8, 10, 12, 14 against 10 planned each; quartiles of type 7 lie a quarter of the three steps
// in: 9.5 and 12.5, the median between the two in the middle.
func TestSummariseOverWashes(t *testing.T) {
	var washes []Wash
	for _, actual := range []float64{8, 10, 12, 14} {
		washes = append(
			washes,
			Wash{
				Times: WashTimes{
					Stages: []StageTime{
						{Stage: "Dry", Planned: 10, Actual: actual, Done: true},
						{Stage: "Shuts", Planned: 3, Actual: 2, Done: true},
						{Stage: "Look", Planned: 2, Actual: 1},
					},
				},
			},
		)
	}
	s := Summarise(washes)
	assert.Len(t, s, 2, "unfinished stages are left out")
	assert.Equal(t, Summary{"Dry", 4, 10, 11, 9.5, 12.5, 1.1, 4}, s[0])
	assert.Equal(t, "Shuts", s[1].Stage, "the stage that costs most comes first")
	assert.InDelta(t, -4, s[1].Minutes, 1e-9)
}

// What is kept of a wash adds its stages up, and a dwell is kept or missed, never both.
func TestTimesOfAWash(t *testing.T) {
	noon := time.Date(2026, 3, 9, 12, 0, 0, 0, time.UTC)
	steps := []wash.PlannedStep{{ID: "fill", Stage: "Set up", Minutes: 2}, {ID: "mitt", Stage: "Contact wash", Minutes: 10}}
	state := wash.Fold(
		steps,
		[]wash.Event{
			{ID: "1", Kind: wash.Start, Step: "fill", At: noon},
			{ID: "2", Kind: wash.Done, Step: "fill", At: noon.Add(3 * time.Minute)},
			{
				ID:   "3",
				Kind: wash.Start,
				Step: "mitt",
				At:   noon.Add(3 * time.Minute),
			},
			{ID: "4", Kind: wash.Done, Step: "mitt", At: noon.Add(12 * time.Minute)},
		},
	)
	state.Dwelling = []wash.Dwelling{{Verdict: wash.Kept}, {Verdict: wash.Early}, {Verdict: wash.Overrun}}
	times := Of(steps, state)
	assert.InDelta(t, 12, times.Planned, 1e-9)
	assert.InDelta(t, 12, times.Minutes, 1e-9, "a minute over on one stage, a minute under on the other")
	assert.Equal(t, []int{1, 2}, []int{times.Kept, times.Missed})
}

// Worked by hand: three stages; the second drifts by a fifth in every wash, and one person is twice as slow as the
// other at everything.
func TestSpreadsLeaveThePersonOut(t *testing.T) {
	var washes []Wash
	for i := range 10 {
		slow := float64(1 + i%2)
		washes = append(
			washes,
			Wash{
				Times: WashTimes{
					Stages: []StageTime{
						{Stage: "a", Planned: 10, Actual: 10 * slow, Done: true},
						{Stage: "b", Planned: 10, Actual: 12 * slow, Done: true},
						{Stage: "open", Planned: 5, Actual: 1},
					},
				},
			},
		)
	}
	spreads := Spreads(washes)
	assert.Len(t, spreads, 2, "a stage that was not finished says nothing")
	assert.InDelta(t, 10.0/11, spreads["a"].Mean, 0.01)
	assert.InDelta(t, 12.0/11, spreads["b"].Mean, 0.01)
	assert.InDelta(t, 0, spreads["a"].CV, 1e-9)
	assert.Empty(t, Spreads(washes[:7]), "too few")
}

func TestPaceIsTheMiddleOfAPersonsWashes(t *testing.T) {
	pace, past := Past([]float64{1.2, 1.3, 1.4})
	assert.Zero(t, pace, "too few")
	assert.Nil(t, past)
	pace, past = Past([]float64{9, 1.2, 1.3, 1.0})
	assert.Equal(
		t,
		117,
		pace,
		"by hand: a finish that was forgotten does not count; the mean of 1.2, 1.3 and 1.0 by their logarithms",
	)
	assert.Equal(t, 3, past.Washes)
	assert.InDelta(t, 0.1340, past.Sigma, 0.0005, "by hand: logarithms 0.1823, 0.2624, 0 round their mean 0.1482")
}

// By hand: what a person did alone counts for them; what two did, or an audit sent back, for nobody.
func TestOverPlanIsEachPersonsOwn(t *testing.T) {
	w := Wash{
		Times: WashTimes{
			Steps: []StepTime{
				{By: "a", Planned: 10, Actual: 12},
				{By: "a", Planned: 10, Actual: 8, Rework: true},
				{By: "b", Planned: 4, Actual: 3},
				{By: "b", Planned: 9, Actual: 4, Shared: true},
			},
		},
	}
	assert.Equal(t, map[string][]float64{"a": {1.2}, "b": {0.75}}, OverPlan([]Wash{w}))
}
