package recall

import (
	"encoding/json"
	"math/rand"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// 200 random histories of reviews, answered by the npm package ts-fsrs 5.4.2 (FSRS-6, default weights, no fuzz, nine tenths
// retained): testdata/memory.mjs made them, ./run reference memory makes them again.
func TestMemoryAgainstThePublishedAlgorithm(t *testing.T) {
	text, err := os.ReadFile("testdata/memory.json")
	require.NoError(t, err)
	var histories [][]struct {
		Days, Interval, Grade         int
		Recall, Stability, Difficulty float64
	}
	require.NoError(t, json.Unmarshal(text, &histories))
	require.Len(t, histories, 200)
	reviews := 0
	for i, history := range histories {
		var m Memory
		for k, h := range history {
			if m.Known() {
				assert.InDelta(t, h.Recall, m.Recall(float64(h.Days)), 1e-7, "history %d, review %d", i, k)
			}
			m, err = m.After(h.Days, Rating(h.Grade))
			require.NoError(t, err)
			require.InEpsilon(t, h.Stability, m.Stability, 1e-6, "history %d, review %d", i, k)
			require.InDelta(t, h.Difficulty, m.Difficulty, 1e-6, "history %d, review %d", i, k)
			assert.Equal(t, h.Interval, m.Interval(), "history %d, review %d", i, k)
			reviews++
		}
	}
	assert.Greater(t, reviews, 1000)
}

// Whatever was answered before: recall falls with the days, a right answer never brings it forward against a wrong one.
func TestMemoryIsSound(t *testing.T) {
	rng := rand.New(rand.NewSource(3))
	for range 500 {
		var m Memory
		for range 1 + rng.Intn(8) {
			var err error
			m, err = m.After(rng.Intn(40), Rating(1+rng.Intn(4)))
			require.NoError(t, err)
		}
		assert.GreaterOrEqual(t, m.Recall(3), m.Recall(10))
		days := 1 + rng.Intn(60)
		wrong, _ := m.After(days, Wrong)
		right, _ := m.After(days, Right)
		assert.GreaterOrEqual(t, right.Stability, wrong.Stability)
		assert.GreaterOrEqual(t, wrong.Difficulty, right.Difficulty)
	}
	_, err := Memory{}.After(0, 5)
	assert.ErrorContains(t, err, "rating: 5")
	_, err = Memory{}.After(-1, Right)
	assert.ErrorContains(t, err, "days: -1")
}
