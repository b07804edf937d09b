package schedule

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Worked by hand: foam on 2 min, dwell 5 to 10, buckets 2 min meanwhile, so 3 min of waiting, rinse 3.
func TestWorkFitsInsideTheDwell(t *testing.T) {
	line := OnePerson([]Activity{
		{ID: "foam", Minutes: 2, Dwell: &Dwell{5, 10, 10}},
		{ID: "buckets", Minutes: 2},
		{ID: "rinse", Minutes: 3, Ends: []string{"foam", "left out"}},
	})
	assert.Equal(t, 10.0, line.Minutes)
	assert.Equal(t, 3.0, line.Waited)
	assert.Equal(t, []Working{{"foam", 2, 7, 12, 7, true, 12}}, line.Working)
	assert.Equal(t, Block{"rinse", Waiting, 4, 7}, line.Blocks[2])
	assert.Empty(t, line.Late)
}

func TestALateRinseIsNamed(t *testing.T) {
	line := OnePerson(
		[]Activity{
			{ID: "foam", Minutes: 2, Dwell: &Dwell{1, 4, 9}},
			{ID: "wheels", Minutes: 14},
			{ID: "rinse", Minutes: 3, Ends: []string{"foam"}},
		},
	)
	require.Len(t, line.Late, 1)
	assert.Contains(
		t,
		line.Late[0],
		"foam: it must come off by minute 6.0, and one person in this order reaches it at 16.0",
	)
	assert.False(t, line.Working[0].Fits)
}

// By hand: citrus is on at 1 and would dry at 4, its label ends at 11; foam put over it from 1 to 3 stays wet until 9.
func TestFoamOverCitrusKeepsItWet(t *testing.T) {
	citrus := Activity{ID: "citrus", Title: "Citrus", Minutes: 1, Dwell: &Dwell{2, 3, 10}}
	foam := Activity{ID: "foam", Minutes: 2, Dwell: &Dwell{4, 6, 8}, Rewets: []string{"citrus", "left out"}}
	rinse := Activity{ID: "rinse", Minutes: 3, Ends: []string{"citrus", "foam"}}
	line := OnePerson([]Activity{citrus, foam, rinse})
	assert.Empty(t, line.Late)
	assert.Equal(t, 9.0, line.Working[0].Latest, "the foam dries first")

	citrus.Dwell = &Dwell{2, 3, 5}
	line = OnePerson([]Activity{citrus, foam, rinse})
	assert.Equal(
		t,
		[]string{"Citrus: it must come off by minute 6.0, and one person in this order reaches it at 7.0."},
		line.Late,
		"the label still ends it",
	)

	line = OnePerson(
		[]Activity{{ID: "citrus", Minutes: 1, Dwell: &Dwell{2, 3, 10}}, {ID: "tea", Minutes: 5}, foam, rinse},
	)
	assert.Len(t, line.Late, 1, "what has dried already is not brought back")
}

// Blocks never overlap, no rinse is before its minimum, and a lateness is always reported.
func TestLinesAreSound(t *testing.T) {
	rng := rand.New(rand.NewSource(7))
	for range 200 {
		var acts []Activity
		for i := range 12 {
			a := Activity{ID: string(rune('a' + i)), Minutes: 5 * rng.Float64()}
			if rng.Intn(3) == 0 {
				shortest := 6 * rng.Float64()
				a.Dwell = &Dwell{shortest, shortest + 5*rng.Float64(), shortest + 9}
			}
			if i > 0 && rng.Intn(2) == 0 {
				a.Ends = []string{acts[rng.Intn(i)].ID}
			}
			acts = append(acts, a)
		}
		line, end, late := OnePerson(acts), 0.0, 0
		for _, b := range line.Blocks {
			assert.InDelta(t, end, b.Start, 1e-9)
			end = b.End
		}
		assert.InDelta(t, end, line.Minutes, 1e-9)
		for _, w := range line.Working {
			assert.GreaterOrEqual(t, w.End, w.Earliest-1e-9)
			if !w.Fits {
				late++
			}
		}
		assert.Len(t, line.Late, late)
	}
}
