package reference

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/prove"
	"uskel/core/schedule"
)

// answers are what MiniZinc 2.6.4 with Gecode 6.2.0 found in 30 s each (cmd/reference; docs/scheduling.md).
func answers(t testing.TB) []Answer { return answersIn(t, "answers.jsonl") }

func answersIn(t testing.TB, file string) []Answer {
	t.Helper()
	f, err := os.Open(file)
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

// Every timeline is valid; whatever the independent solver proved impossible is said to be impossible, and nothing
// else is; none is quicker than a proven optimum; the mean gap to proven optima is at most 1 %, the worst 5 %; and no
// bound contradicts an optimum.
func TestAgainstAnIndependentSolver(t *testing.T) {
	sum, proven, impossible := 0.0, 0, 0
	asked := prove.Thin(t, answers(t))
	for _, a := range asked {
		p := Instance(a.Seed)
		require.Len(
			t,
			p.Work,
			a.Activities,
			"seed %d: the maker of problems has changed: ask the independent solver again",
			a.Seed,
		)
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
			assert.True(
				t,
				line.Proven,
				"seed %d: the independent solver came to no end; impossible must be proven",
				a.Seed,
			)
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
	assert.GreaterOrEqual(t, len(answers(t))*proven, len(asked)*40)
	assert.GreaterOrEqual(t, len(answers(t))*impossible, len(asked)*8)
	assert.LessOrEqual(t, sum/float64(proven), 0.01)
}

// The efforts that somebody at a screen waits for: a fortnight's day, a what-if, a slot.
var interactive = []int{120_000, 50_000, 15_000}

// Vehicles that wait for bays, dwells that bind: hard.jsonl holds what the independent solver proved of them in 25 s
// each, and else the quickest that anybody found. Even in the least time every one is laid out validly, and none is
// quicker than a proven optimum.
func TestHardProblems(t *testing.T) {
	proven, all, sum := 0, 0, 0.0
	asked := prove.Thin(t, answersIn(t, "hard.jsonl"))
	for _, a := range asked {
		p := Hard(a.Seed)
		require.Len(
			t,
			p.Work,
			a.Activities,
			"seed %d: the maker of problems has changed: ask the independent solver again",
			a.Seed,
		)
		line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: interactive[0]})
		require.NoError(t, err)
		require.True(t, line.Feasible, "seed %d: %v", a.Seed, line.Why)
		assert.NoError(t, schedule.Validate(p, line), "seed %d", a.Seed)
		gap := float64(line.Finish)/float64(a.Best) - 1
		assert.LessOrEqual(t, gap, 0.05, "seed %d", a.Seed)
		all, sum = all+1, sum+gap
		if line.Proven {
			assert.LessOrEqual(
				t,
				int(line.Finish),
				a.Best,
				"seed %d: said to be proven, and a quicker one is known",
				a.Seed,
			)
		}
		if a.Proven {
			proven++
			assert.GreaterOrEqual(t, gap, 0.0, "seed %d: quicker than the optimum", a.Seed)
			assert.LessOrEqual(t, gap, 0.01, "seed %d", a.Seed)
			assert.LessOrEqual(t, int(line.Bound), a.Best, "seed %d: a bound above the optimum", a.Seed)
		}
	}
	assert.GreaterOrEqual(t, len(answersIn(t, "hard.jsonl"))*proven, len(asked)*10)
	assert.LessOrEqual(t, sum/float64(all), 0.01, "in the mean")
}

// Problems made round a known timeline of a crew that is never idle: that timeline is valid, no bound lies above it,
// nothing is quicker than the work shared evenly, and what is found is valid and within the bars that were measured
// (docs/scheduling.md).
func TestPlantedProblems(t *testing.T) {
	bars := map[int]struct{ mean, worst float64 }{120_000: {0.09, 0.25}, 15_000: {0.18, 0.45}}
	for effort, bar := range bars {
		sum, worst, n := 0.0, 0.0, prove.Seeds(t, 25)
		for seed := range int64(n) {
			p, known, least := Planted(seed + 1)
			require.NoError(t, p.Check())
			require.NoError(t, schedule.Validate(p, known), "seed %d: the known timeline", seed)
			line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: effort})
			require.NoError(t, err)
			require.True(t, line.Feasible, "seed %d: %v", seed, line.Why)
			require.NoError(t, schedule.Validate(p, line), "seed %d", seed)
			assert.GreaterOrEqual(t, line.Finish, least)
			assert.LessOrEqual(t, line.Bound, known.Finish, "seed %d: a bound above a timeline that is known", seed)
			gap := float64(line.Finish)/float64(known.Finish) - 1
			sum, worst = sum+gap, max(worst, gap)
		}
		assert.LessOrEqual(t, sum/float64(n), bar.mean, "effort %d", effort)
		assert.LessOrEqual(t, worst, bar.worst, "effort %d", effort)
	}
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

// BenchmarkHard reports the gaps to the quickest that is known at the efforts that somebody waits for: ./run bench.
func BenchmarkHard(b *testing.B) {
	all := answersIn(b, "hard.jsonl")
	for _, effort := range append([]int{schedule.DefaultEffort}, interactive...) {
		b.Run(fmt.Sprintf("vehicles in bays/effort %d", effort), func(b *testing.B) {
			reportGaps(
				b,
				effort,
				len(all),
				func(i int) (schedule.Problem, int) { return Hard(all[i].Seed), all[i].Best },
			)
		})
		b.Run(fmt.Sprintf("planted/effort %d", effort), func(b *testing.B) {
			reportGaps(b, effort, 40, func(i int) (schedule.Problem, int) {
				p, known, _ := Planted(int64(i + 1))
				return p, int(known.Finish)
			})
		})
	}
}

func reportGaps(b *testing.B, effort, count int, problem func(int) (schedule.Problem, int)) {
	sum, worst := 0.0, 0.0
	for b.Loop() {
		sum, worst = 0, 0
		for i := range count {
			p, best := problem(i)
			line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: effort})
			if err != nil || !line.Feasible {
				b.Fatal(err, line.Why)
			}
			gap := float64(line.Finish)/float64(best) - 1
			sum, worst = sum+gap, max(worst, gap)
		}
	}
	b.ReportMetric(100*sum/float64(count), "%-mean-gap")
	b.ReportMetric(100*worst, "%-worst-gap")
}
