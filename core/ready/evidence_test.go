package ready

import (
	"fmt"
	"math/rand"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
)

func watched(well, seen float64) []Counted {
	return []Counted{{FromWatched, int(seen), int(well), seen, well}}
}

// Forty posteriors held to R's qbeta and pbeta (testdata/evidence.R, made with ./run reference statistics), and one by hand:
// of 9 in 10, 1 - pbeta(0.8, 10, 2) = 1 - (11 x 0.8^10 - 10 x 0.8^11).
func TestThePosterior(t *testing.T) {
	text, err := os.ReadFile("testdata/evidence.csv")
	require.NoError(t, err)
	rows := strings.Split(strings.TrimSpace(string(text)), "\n")
	require.Len(t, rows, 40)
	for _, row := range rows {
		var well, badly, mean, low, high, chance float64
		_, err := fmt.Sscanf(strings.ReplaceAll(row, ",", " "), "%g %g %g %g %g %g", &well, &badly, &mean, &low, &high, &chance)
		require.NoError(t, err, row)
		e := Weigh(procedure.SkillMitt, watched(well, well+badly))
		assert.InDelta(t, mean, e.Mean, 1e-9)
		assert.InDelta(t, low, e.Low, 1e-6, row)
		assert.InDelta(t, high, e.High, 1e-6, row)
		assert.InDelta(t, chance, e.Chance, 1e-7, row)
	}
	assert.InDelta(t, 1-(11*pow(0.8, 10)-10*pow(0.8, 11)), Weigh(procedure.SkillMitt, watched(9, 10)).Chance, 1e-12)
}

func TestEvidenceInWords(t *testing.T) {
	says := func(well, seen float64) string { return Weigh(procedure.SkillMitt, watched(well, seen)).Says }
	assert.Equal(t, "May be ready: 9 of 10 watched criteria.", says(9, 10))
	assert.Equal(t, "Not yet: 4 of 10 watched criteria.", says(4, 10))
	assert.Equal(t, "Likely ready: 30 of 31 watched criteria.", says(30, 31))
	assert.Equal(t, "Too little seen to say: 1 of 1 watched criteria.", says(1, 1))
	assert.Equal(t, "Nothing seen yet.", Weigh(procedure.SkillMitt, nil).Says)
}

func pow(x float64, n int) float64 {
	p := 1.0
	for range n {
		p *= x
	}
	return p
}

// Simulated trainees of every ability, seen so often as it happens: of those of whom 75 to 85 % is said, 75 to 85 of 100 are
// ready, and so at the other levels that words are said at.
func TestEvidenceIsCalibrated(t *testing.T) {
	rng := rand.New(rand.NewSource(41))
	said, ready := map[int]int{}, map[int]int{}
	for range 60_000 {
		ability := rng.Float64()
		n, well := 1+rng.Intn(40), 0
		for range n {
			if rng.Float64() < ability {
				well++
			}
		}
		e := Weigh(procedure.SkillMitt, watched(float64(well), float64(n)))
		bin := int(e.Chance*10 + 0.5)
		said[bin]++
		if ability >= alone {
			ready[bin]++
		}
	}
	for _, bin := range []int{2, 5, 8, 9} {
		share := float64(ready[bin]) / float64(said[bin])
		t.Logf("said %d0 %%: %d trainees, %.0f %% ready", bin, said[bin], 100*share)
		assert.Greater(t, said[bin], 300)
		assert.InDelta(t, float64(bin)/10, share, 0.05)
	}
}

// More seen to go well never makes it look worse, more seen to go wrong never better; a case tells less than what was watched.
func TestEvidenceMovesTheRightWay(t *testing.T) {
	rng := rand.New(rand.NewSource(6))
	for range 300 {
		n := rng.Float64() * 20
		well := rng.Float64() * n
		e := Weigh(procedure.SkillDry, watched(well, n))
		assert.GreaterOrEqual(t, Weigh(procedure.SkillDry, watched(well+1, n+1)).Chance, e.Chance-1e-12)
		assert.LessOrEqual(t, Weigh(procedure.SkillDry, watched(well, n+1)).Chance, e.Chance+1e-12)
		assert.LessOrEqual(t, e.Low, e.High)
	}
	cases := Weigh(procedure.SkillDry, []Counted{{FromCase, 10, 10, 10, 10}})
	assert.Less(t, cases.Chance, Weigh(procedure.SkillDry, watched(10, 10)).Chance)
}
