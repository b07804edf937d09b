package crew_test

import (
	"fmt"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/plantest"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
)

// underWay makes up how far a wash has come: some steps done in their order by whoever, now and then one left out,
// the last one perhaps still running.
func underWay(dice *rand.Rand, made plan.Plan, people []schedule.Person) (map[string]crew.Progress, measure.Seconds) {
	done, now := map[string]crew.Progress{}, measure.Seconds(0)
	upTo := dice.Intn(len(made.Steps))
	for i, s := range made.Steps[:upTo] {
		if s.Unlikely() {
			done[s.ID] = crew.Progress{Skipped: true} // as the fold tells it
			continue
		}
		if dice.Intn(8) == 0 {
			done[s.ID] = crew.Progress{Skipped: true}
			continue
		}
		d := crew.Progress{Started: now + measure.Seconds(dice.Intn(30)), Who: people[dice.Intn(len(people))].Name}
		now = d.Started + measure.Seconds(s.Minutes*60*(0.6+dice.Float64()))
		if i < upTo-1 || dice.Intn(2) == 0 {
			d.Ended = max(now, d.Started+1)
		}
		done[s.ID] = d
	}
	return done, now + measure.Seconds(dice.Intn(60))
}

// Whatever has happened to a wash of whatever family, its rest is laid out: what has happened stays where it was,
// nothing begins before now, a step that was left out is gone; and what can no longer be kept is said, at once and in
// words.
func TestTheRestOfAnyWashIsLaidOut(t *testing.T) {
	dice := rand.New(rand.NewSource(43))
	late := 0
	for _, p := range starters.Starters() {
		made := plantest.Resolve(t, p, plantest.Typical(p.Family))
		for n := range 12 {
			hands := 1 + n%2
			problem := plantest.Able(hands)
			done, now := underWay(dice, made, problem.People)
			problem.Work, problem.Lags = crew.Rest(made, "", hands, done, now)
			if len(problem.Work) == 0 {
				continue
			}
			says := fmt.Sprintf("%s, story %d, at %d s", p.Family, n, now)
			line, err := schedule.Solve(problem, schedule.Options{Seed: 1, Effort: 6000})
			require.NoError(t, err, says)
			if line.Feasible {
				require.NoError(t, schedule.Validate(problem, line), says)
			} else {
				late++
				assert.NotEmpty(t, line.Why, says)
			}
			assert.Len(t, line.Slots, len(problem.Work), says)
			heldWhereItWas(t, line, done, now, says)
		}
	}
	assert.Greater(t, late, 3, "some product has dried meanwhile")
	assert.Less(t, late, 105)
}

func heldWhereItWas(t *testing.T, line schedule.Timeline, done map[string]crew.Progress, now measure.Seconds, says string) {
	t.Helper()
	first, last := map[string]measure.Seconds{}, map[string]measure.Seconds{}
	for _, s := range line.Slots {
		if at, seen := first[s.Step]; !seen || s.Start < at {
			first[s.Step] = s.Start
		}
		last[s.Step] = max(last[s.Step], s.End)
		d, begun := done[s.Step]
		assert.False(t, d.Skipped, "%s: %s was left out", says, s.Step)
		if !begun {
			assert.GreaterOrEqual(t, s.Start, now, "%s: %s", says, s.Step)
		} else if s.Who != "" {
			assert.Equal(t, d.Who, s.Who, "%s: %s", says, s.Step)
		}
	}
	for id, d := range done {
		at, there := first[id]
		if !there {
			continue
		}
		assert.Equal(t, d.Started, at, "%s: %s", says, id)
		if d.Ended > 0 {
			assert.Equal(t, d.Ended, last[id], "%s: %s", says, id)
		} else {
			assert.Greater(t, last[id], now-1, "%s: %s runs", says, id)
		}
	}
}
