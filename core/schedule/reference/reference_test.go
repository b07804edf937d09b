package reference

import (
	"bufio"
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/schedule"
)

// answers are what MiniZinc 2.6.4 with Gecode 6.2.0 found in 30 s each (cmd/reference; docs/scheduling.md).
func answers(t testing.TB) []Answer {
	t.Helper()
	f, err := os.Open("answers.jsonl")
	require.NoError(t, err)
	defer f.Close()
	var all []Answer
	for lines := bufio.NewScanner(f); lines.Scan(); {
		var a Answer
		require.NoError(t, json.Unmarshal(lines.Bytes(), &a))
		all = append(all, a)
	}
	return all
}

// Every timeline is valid; whatever the independent solver proved impossible is said to be impossible, and nothing else is; none is quicker than
// a proven optimum; the mean gap to proven optima is at most 1 %, the worst 5 %; and no bound contradicts an optimum.
func TestAgainstAnIndependentSolver(t *testing.T) {
	sum, proven, impossible := 0.0, 0, 0
	for _, a := range answers(t) {
		p := Instance(a.Seed)
		require.Len(t, p.Work, a.Activities, "seed %d: the maker of problems has changed: ask the independent solver again", a.Seed)
		line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: schedule.DefaultEffort / 3})
		require.NoError(t, err)
		if a.Infeasible {
			impossible++
			assert.False(t, line.Feasible, "seed %d", a.Seed)
			assert.True(t, line.Proven, "seed %d: impossible, and not proven so", a.Seed)
			assert.NotEmpty(t, line.Why)
			continue
		}
		if !a.Proven && a.Finish == 0 && !line.Feasible {
			assert.True(t, line.Proven, "seed %d: the independent solver came to no end; impossible must be proven", a.Seed)
			continue
		}
		require.True(t, line.Feasible, "seed %d: %v", a.Seed, line.Why)
		assert.NoError(t, schedule.Validate(p, line), "seed %d", a.Seed)
		if !a.Proven {
			continue
		}
		proven++
		gap := float64(line.Finish)/float64(a.Finish) - 1
		assert.GreaterOrEqual(t, gap, 0.0, "seed %d: quicker than the optimum", a.Seed)
		assert.LessOrEqual(t, gap, 0.05, "seed %d", a.Seed)
		assert.LessOrEqual(t, int(line.Bound), a.Finish, "seed %d: a bound above the optimum", a.Seed)
		if line.Proven {
			assert.Equal(t, a.Finish, int(line.Finish), "seed %d: said to be proven", a.Seed)
		}
		sum += gap
	}
	assert.GreaterOrEqual(t, proven, 40)
	assert.GreaterOrEqual(t, impossible, 8)
	assert.LessOrEqual(t, sum/float64(proven), 0.01)
}

// Problems that nobody has asked the independent solver about: still valid, or proven impossible.
func FuzzInstances(f *testing.F) {
	for seed := int64(1000); seed < 1030; seed++ {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, seed int64) {
		p := Instance(seed)
		require.NoError(t, p.Check())
		line, err := schedule.Solve(p, schedule.Options{Seed: seed, Effort: 40_000})
		require.NoError(t, err)
		if line.Feasible {
			require.NoError(t, schedule.Validate(p, line))
			assert.LessOrEqual(t, line.Bound, line.Finish)
		} else {
			assert.NotEmpty(t, line.Why)
		}
	})
}

// BenchmarkSolve reports the gaps to proven optima and the time a problem takes: ./run bench.
func BenchmarkSolve(b *testing.B) {
	all := answers(b)
	sum, worst, n, open := 0.0, 0.0, 0, 0.0
	for b.Loop() {
		sum, worst, n, open = 0, 0, 0, 0
		unproven := 0
		for _, a := range all {
			line, err := schedule.Solve(Instance(a.Seed), schedule.Options{Seed: 1})
			if err != nil {
				b.Fatal(err)
			}
			switch {
			case a.Infeasible:
			case a.Proven:
				gap := float64(line.Finish)/float64(a.Finish) - 1
				sum, worst, n = sum+gap, max(worst, gap), n+1
			default:
				unproven++
				open += line.Gap
			}
		}
		open /= float64(max(1, unproven))
	}
	b.ReportMetric(100*sum/float64(n), "%-mean-gap")
	b.ReportMetric(100*worst, "%-worst-gap")
	b.ReportMetric(100*open, "%-bound-gap-unproven")
	b.ReportMetric(float64(b.Elapsed().Milliseconds())/float64(b.N*len(all)), "ms/problem")
}
