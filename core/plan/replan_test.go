package plan

import (
	"fmt"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/schedule"
)

// underWay makes up how far a wash has come: some steps done in their order by whoever, now and then one left out,
// the last one perhaps still running.
func underWay(dice *rand.Rand, made Plan, people []schedule.Person) (map[string]Progress, measure.Seconds) {
	done, now := map[string]Progress{}, measure.Seconds(0)
	upTo := dice.Intn(len(made.Steps))
	for i, s := range made.Steps[:upTo] {
		if s.unlikely() {
			done[s.ID] = Progress{Skipped: true} // as the fold tells it
			continue
		}
		if dice.Intn(8) == 0 {
			done[s.ID] = Progress{Skipped: true}
			continue
		}
		d := Progress{Started: now + measure.Seconds(dice.Intn(30)), Who: people[dice.Intn(len(people))].Name}
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
	for _, p := range procedure.Starters() {
		made := resolve(t, p, typical(p.Family))
		for n := range 12 {
			crew := 1 + n%2
			problem := able(crew)
			done, now := underWay(dice, made, problem.People)
			problem.Work, problem.Lags = made.Rest("", crew, done, now)
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

func heldWhereItWas(t *testing.T, line schedule.Timeline, done map[string]Progress, now measure.Seconds, says string) {
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

// A step that runs is taken to need its length, and past that a tenth of it: it is not done, or it would have been
// tapped.
func TestARunningStepEndsLaterThanNow(t *testing.T) {
	work := []schedule.Work{
		{ID: "a", Step: "dry", Seconds: 300},
		{ID: "b", Step: "dry", Seconds: 100},
		{ID: "c", Step: "look", Seconds: 60},
	}
	for _, c := range []struct {
		says       string
		d          Progress
		now        measure.Seconds
		start, end measure.Seconds // of the second piece, which is the last quarter
	}{
		{"in time", Progress{Started: 1000}, 1100, 1300, 1400},
		{"over its time", Progress{Started: 1000}, 1560, 1450, 1600},
		{"done", Progress{Started: 1000, Ended: 1200}, 5000, 1150, 1200},
	} {
		got := c.d.pin(work, 1, c.now)
		assert.Equal(t, []measure.Seconds{c.start, c.end}, []measure.Seconds{got.Start, got.End}, c.says)
	}
}
