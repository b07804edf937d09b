package fill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
	"uskel/core/wash"
)

// What is only seen in the work is asked there, and the plan shows both outcomes before (docs/trade.md, section 20: brown after
// the rinse, water flat, a towel that drags).
func TestThePlanShowsBothOutcomes(t *testing.T) {
	j := plantest.Job(2)
	j.LookOver.Protection.Water = condition.NotSeen
	p := plantest.Resolve(t, starters.Maintenance(), j)
	flat := plantest.Outcome(p, t, "Does water lie flat?")
	assert.Equal(t, p.Minutes, flat.No, "no is expected: that is what the plan counts with")
	agent, off := plantest.Find(p, "agent"), plantest.Find(p, "agent-off")
	assert.InDelta(t, p.Minutes+agent.Minutes+off.Minutes, flat.Yes, 0.5, "and the agent works a few seconds")
	assert.Equal(t, []string{"Drying agent on", "Rinse the agent off"}, flat.Adds)
	brown := plantest.Outcome(p, t, "Still brown after the rinse?")
	assert.Greater(t, brown.Yes, brown.No)

	seen := plantest.Resolve(t, starters.Maintenance(), plantest.Job(2))
	assert.Nil(t, plantest.Find(seen, "agent"), "it was seen at the look-over how water stands")
	for _, o := range seen.Branches {
		assert.NotEqual(t, "Does water lie flat?", o.Text, "nothing hangs on it, so it is not asked")
	}
}

// A step that the plan does not count with changes nothing of it: no minutes, cost, water, grit or dwell.
func TestWhatIsNotExpectedCountsForNothing(t *testing.T) {
	j := plantest.Job(2)
	j.LookOver.Protection.Water = condition.NotSeen
	with := plantest.Resolve(t, starters.Maintenance(), j)
	bare := starters.Maintenance()
	for i := range bare.Stages {
		steps := bare.Stages[i].Steps[:0]
		for _, s := range bare.Stages[i].Steps {
			if s.If == nil {
				steps = append(steps, s)
			}
		}
		bare.Stages[i].Steps = steps
	}
	without := plantest.Resolve(t, bare, j)
	assert.Equal(t, without.Minutes, with.Minutes)
	assert.Equal(t, without.Cost, with.Cost)
	assert.Equal(t, without.Litres, with.Litres)
	assert.Equal(t, without.Index, with.Index)
	assert.Equal(t, without.Film, with.Film)
	assert.Equal(t, without.Line, with.Line)
	work, lags := crew.Work(with, "", 1)
	plain, ties := crew.Work(without, "", 1)
	assert.Equal(t, plain, work)
	assert.Equal(t, ties, lags)
}

// The washer answers, and the rest of the wash follows: the work laid out anew holds the step.
func TestTheRestFollowsTheAnswer(t *testing.T) {
	j := plantest.Job(2)
	j.LookOver.Protection.Water = condition.NotSeen
	p := plantest.Resolve(t, starters.Maintenance(), j)
	steps := p.Taps(nil)
	rest := func(events ...wash.Event) bool {
		done := map[string]crew.Progress{}
		for _, s := range wash.Fold(steps, events).Steps {
			if s.Status == wash.Skipped {
				done[s.ID] = crew.Progress{Skipped: true}
			}
		}
		work, _ := crew.Rest(p, "", 1, done, 0)
		for _, w := range work {
			if w.Step == "agent" {
				return true
			}
		}
		return false
	}
	assert.False(t, rest())
	assert.True(t, rest(wash.Event{ID: "1", Kind: wash.Answer, Step: "final", Detail: wash.Detail{Says: procedure.SaysYes}}))
}

// In a round each wheel is asked about by itself.
func TestEachWheelIsAskedAbout(t *testing.T) {
	p := plantest.Resolve(t, starters.Maintenance(), plantest.Job(2))
	wheels := plantest.MadeFrom(p, "brush-again")
	require.Len(t, wheels, 4)
	for _, w := range wheels {
		assert.Equal(t, []string{"wheels" + plan.PartSign + w.Part.Key}, w.If.Steps)
	}
}

// What is left open is closed by the last look, whichever step opened it; things are put away after the last step that may
// need one, and nothing is looked at before it is finished.
func TestOrderIsHonest(t *testing.T) {
	for _, p := range starters.Starters() {
		made := plantest.Resolve(t, p, plantest.Typical(p.Family))
		open := map[string]bool{}
		for _, s := range made.Taps(nil) {
			for _, mark := range s.Opens {
				open[mark] = true
			}
			for _, mark := range s.Closes {
				delete(open, mark)
			}
		}
		assert.Empty(t, open, p.Family)
		for _, hands := range []int{1, 2, 3} {
			problem := plantest.Able(hands)
			problem.Work, problem.Lags = crew.Work(made, "", hands)
			line, err := schedule.Solve(problem, schedule.Options{Seed: 1, Effort: 1500})
			require.NoError(t, err, p.Family)
			ends, away, look := map[string]int{}, -1, -1
			for _, s := range line.Slots {
				ends[s.Step] = max(ends[s.Step], int(s.End))
				switch {
				case s.Step == "away" && (away < 0 || int(s.Start) < away):
					away = int(s.Start)
				case s.Step == "look" && (look < 0 || int(s.Start) < look):
					look = int(s.Start)
				}
			}
			for step, end := range ends {
				if plantest.Find(made, step).Technique != procedure.Inspect && step != "away" {
					assert.True(t, away < 0 || end <= away, "%s, %d people: %s ends after things are put away", p.Family, hands, step)
					assert.True(t, look < 0 || end <= look, "%s, %d people: %s ends after the last look", p.Family, hands, step)
				}
			}
		}
	}
}
