package stats

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The example that is worked through everywhere: ten things, fourteen people, five classes; kappa 0.210 (from memory, its mean
// agreement is 0.378, that of chance 0.213).
func TestFleissOfTheWorkedExample(t *testing.T) {
	a := Fleiss([][]int{{0, 0, 0, 0, 14}, {0, 2, 6, 4, 2}, {0, 0, 3, 5, 6}, {0, 3, 9, 2, 0}, {2, 2, 8, 1, 1}, {7, 7, 0, 0, 0},
		{3, 2, 6, 3, 0}, {2, 5, 3, 2, 2}, {6, 5, 2, 1, 0}, {0, 2, 2, 3, 7}})
	assert.Equal(t, 10, a.Things)
	assert.True(t, a.Known)
	assert.InDelta(t, 0.210, a.Kappa, 0.0005)
	assert.Greater(t, a.Error, 0.0)
}

// All the same is 1, one answer only is not known, nobody is nothing; of two people it is Scott's pi (1955), worked out apart.
func TestFleissAtItsEdges(t *testing.T) {
	assert.Equal(t, Among{}, Fleiss(nil))
	assert.Equal(t, 1, Fleiss([][]int{{1, 0}, {2, 0}}).Things, "what one person looked at says nothing")
	assert.False(t, Fleiss([][]int{{3, 0}, {3, 0}}).Known)
	assert.InDelta(t, 1, Fleiss([][]int{{3, 0}, {0, 3}, {3, 0}}).Kappa, 1e-12)
	dice := rand.New(rand.NewSource(9))
	for range 200 {
		n := 20 + dice.Intn(60)
		counts, same, ones := make([][]int, n), 0, 0
		for i := range counts {
			a, b := dice.Intn(2), dice.Intn(2)
			counts[i] = []int{2 - a - b, a + b}
			ones += a + b
			if a == b {
				same++
			}
		}
		p := float64(ones) / float64(2*n)
		chance := p*p + (1-p)*(1-p)
		assert.InDelta(t, (float64(same)/float64(n)-chance)/(1-chance), Fleiss(counts).Kappa, 1e-9)
	}
}

// The error says how far kappa strays when the same people look at as many other things.
func TestFleissErrorIsHowFarItStrays(t *testing.T) {
	dice := rand.New(rand.NewSource(5))
	look := func() Among {
		counts := make([][]int, 80)
		for i := range counts {
			truth := dice.Intn(3)
			counts[i] = make([]int, 3)
			for range 4 {
				if said := truth; dice.Float64() < 0.3 {
					counts[i][dice.Intn(3)]++
				} else {
					counts[i][said]++
				}
			}
		}
		return Fleiss(counts)
	}
	sum, squares, errors := 0.0, 0.0, 0.0
	const runs = 600
	for range runs {
		a := look()
		sum += a.Kappa
		squares += a.Kappa * a.Kappa
		errors += a.Error * a.Error
	}
	mean := sum / runs
	assert.InEpsilon(t, squares/runs-mean*mean, errors/runs, 0.15)
}
