package audit

import (
	"fmt"
	"math/rand"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Fifty ranges held to R's binom.test (testdata/proof.R), and the success run of every table of sample sizes: 29 in a row
// without a failure show 90 % with 95 % certainty, 59 show 95 %, 22 show 90 % with 90 % certainty (success-run theorem).
func TestWhatAuditsProve(t *testing.T) {
	text, err := os.ReadFile("testdata/proof.csv")
	require.NoError(t, err)
	rows := strings.Split(strings.TrimSpace(string(text)), "\n")
	require.Len(t, rows, 50)
	for _, row := range rows {
		var bad, n int
		var low, high float64
		_, err := fmt.Sscanf(strings.ReplaceAll(row, ",", " "), "%d %d %g %g", &bad, &n, &low, &high)
		require.NoError(t, err, row)
		l, h := clopperPearson(bad, n, 0.9)
		assert.InDelta(t, low, l, 1e-6, row)
		assert.InDelta(t, high, h, 1e-6, row)
	}
	p := Prove(slices.Repeat([]bool{true}, 29))
	assert.Less(t, p.Under, 0.10)
	assert.Greater(t, Prove(slices.Repeat([]bool{true}, 28)).Under, 0.10)
	assert.Less(t, Prove(slices.Repeat([]bool{true}, 59)).Under, 0.05)
	assert.Contains(t, p.Says[1], "29 in a row were passed at once: with 95 % certainty under 10 % are bad.")
	// 19 audits find one bad wash of ten with 1 - 0.9^19 = 86 %.
	assert.InDelta(t, 0.865, Prove(slices.Repeat([]bool{false}, 19)).Finds, 0.001)
	assert.Equal(t, 2, Prove([]bool{true, true, false, true}).Clean)
	assert.Equal(t, 1.0, Prove(nil).High)
	assert.Contains(t, Prove(slices.Repeat([]bool{false}, 90)).Says[1], "more than 99 %")
}

// What is promised holds: of 10,000 samples the range holds the true share in at least nine of ten.
func TestTheRangeHoldsWhatItPromises(t *testing.T) {
	rng := rand.New(rand.NewSource(5))
	held := 0
	for range 10_000 {
		share, n := rng.Float64(), 5+rng.Intn(60)
		passed := make([]bool, n)
		for i := range passed {
			passed[i] = rng.Float64() >= share
		}
		if p := Prove(passed); p.Low <= share && share <= p.High {
			held++
		}
	}
	assert.GreaterOrEqual(t, held, 9_000)
}
