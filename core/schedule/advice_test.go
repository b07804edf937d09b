package schedule

import (
	"math/rand"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// lastWords is the advice of an impossible problem.
func lastWords(t *testing.T, p Problem) string {
	t.Helper()
	line, err := Solve(p, Options{Seed: 1, Effort: 60_000})
	require.NoError(t, err)
	require.False(t, line.Feasible)
	return line.Why[len(line.Why)-1]
}

// Four problems that cannot be done, each for a reason of its own: only what mends it is named.
func TestAdviceNamesWhatHelps(t *testing.T) {
	lance := []Machine{{Name: "pressure washer", Count: 1}}
	twoFoams := Problem{Machines: lance, Work: []Work{
		{
			ID:      "foam 1",
			Seconds: 60,
		},
		{ID: "foam 2", Seconds: 60},
		{ID: "rinse 1", Seconds: 300, Uses: []string{"pressure washer"}},
		{ID: "rinse 2", Seconds: 300, Uses: []string{"pressure washer"}},
		{ID: "both on", Seconds: 10},
	},
		Lags: []Lag{{From: "foam 1", To: "both on"}, {From: "foam 2", To: "both on"},
			{From: "both on", To: "rinse 1"}, {From: "both on", To: "rinse 2"},
			{From: "foam 1", To: "rinse 1", Max: most(200)}, {From: "foam 2", To: "rinse 2", Max: most(200)}}}

	hands := twoFoams
	hands.Machines, hands.People = []Machine{{Name: "pressure washer", Count: 2}}, crew("Ada")
	assert.Equal(t, "It is possible with one more person.", lastWords(t, hands))

	washers := twoFoams
	washers.People = crew("Ada", "Bo")
	assert.Equal(t, "It is possible with a second pressure washer.", lastWords(t, washers))

	late := Problem{People: crew("Ada"), Horizon: 500, Work: []Work{{ID: "wash", Seconds: 400},
		{ID: "dry", Seconds: 300}}, Lags: []Lag{{From: "wash", To: "dry"}}}
	assert.Equal(t, "It is possible with time until 11:40.", lastWords(t, late),
		"400 s and 300 s are 11 min 40 s; nobody can dry what is not washed")

	dries := Problem{
		People:   crew("Ada"),
		Machines: lance,
		Work: []Work{{ID: "foam", Seconds: 60},
			{ID: "mitt", Seconds: 600}, {ID: "rinse", Seconds: 60, Uses: []string{"pressure washer"}}},
		Lags: []Lag{
			{From: "foam", To: "mitt"},
			{From: "mitt", To: "rinse"},
			{From: "foam", To: "rinse", Max: most(300)},
		},
	}
	assert.Contains(t, lastWords(t, dries), "Not made possible by one more person, nor by a second pressure washer:")
}

// Whatever is named does help, and what helps is named, on problems that nobody looked at: each change is made and
// laid out again from another seed.
func TestAdviceIsTrue(t *testing.T) {
	impossible, named := 0, 0
	for seed := int64(1); impossible < 40; seed++ {
		p := small(seed)
		for i := range p.Lags {
			if p.Lags[i].Max != nil {
				*p.Lags[i].Max = *p.Lags[i].Max / 2
			}
		}
		if rand.New(rand.NewSource(seed)).Intn(2) == 0 {
			p.Horizon = 60
		}
		if p.Check() != nil {
			continue
		}
		line, err := Solve(p, Options{Seed: 1, Effort: 60_000})
		require.NoError(t, err)
		if line.Feasible || len(line.Slots) == 0 {
			continue
		}
		impossible++
		says := line.Why[len(line.Why)-1]
		for _, r := range reliefs(p) {
			mended := layOut(r.problem, Options{Seed: 2, Effort: 60_000})
			if mended.Feasible {
				named++
				require.NoError(t, Validate(r.problem, mended))
			}
			helps := strings.HasPrefix(says, "It is possible") && strings.Contains(says, r.words)
			assert.Equal(t, mended.Feasible, helps, "seed %d: %s: %s", seed, r.words, says)
		}
	}
	assert.Greater(t, named, 5)
}

// A prover that is told to stop comes to no more verdict, and the solver soon gives what it has.
func TestAProofCanBeStopped(t *testing.T) {
	p := small(7)
	asked := 0
	pr := newProver(build(&p), func() bool { asked++; return asked > 3 })
	pr.prove(10_000, 1_000_000)
	v := pr.prove(10_000, 1_000_000)
	assert.Equal(t, undecided, v)
	assert.Less(t, asked, 10, "it does not go on branching")
}
