package stats

import (
	"math"
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

// R's quantile(), type 7: quantile(1:10) is 1, 3.25, 5.5, 7.75, 10 (worked by hand from Hyndman and Fan's
// definition); the middle of two is their mean. More values, as R gives them, are in core/timing (reference.csv).
func TestQuantilesAreTypeSeven(t *testing.T) {
	ten := []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10}
	for p, want := range map[float64]float64{0: 1, 0.25: 3.25, 0.5: 5.5, 0.75: 7.75, 1: 10, 0.1: 1.9} {
		assert.InDelta(t, want, Quantile(p, ten), 1e-12, "%g", p)
	}
	assert.InDelta(t, 15, Median([]float64{20, 10}), 1e-12)
	assert.InDelta(t, 7, Median([]float64{7}), 1e-12)
	assert.Zero(t, Median(nil))
	assert.InDelta(t, 2, Median([]float64{3, 1, 2}), 1e-12)
}

// A quantile lies between the least and the greatest, rises with the share and does not mind the order of values.
func TestQuantilesRise(t *testing.T) {
	for seed := range int64(300) {
		dice := rand.New(rand.NewSource(seed))
		values := make([]float64, 1+dice.Intn(30))
		for i := range values {
			values[i] = dice.NormFloat64()
		}
		sorted := slices.Sorted(slices.Values(values))
		last := math.Inf(-1)
		for p := 0.0; p <= 1; p += 0.05 {
			q := Quantile(p, sorted)
			assert.GreaterOrEqual(t, q, last)
			assert.True(t, q >= sorted[0] && q <= sorted[len(sorted)-1])
			last = q
		}
	}
}

// By hand: two heads or more of three fair throws are 4 of 8; none or more is certain. Poisson with mean 2: one or
// more is 1 - e^-2.
func TestTailsOfCounts(t *testing.T) {
	assert.InDelta(t, 0.5, BinomialUpper(2, 3, 0.5), 1e-12)
	assert.InDelta(t, 1, BinomialUpper(0, 3, 0.5), 0)
	assert.Zero(t, BinomialUpper(4, 3, 0.5))
	assert.InDelta(t, 0.3*0.3*0.3, BinomialUpper(3, 3, 0.3), 1e-12)
	assert.InDelta(t, 1-math.Exp(-2), PoissonUpper(1, 2), 1e-12)
	assert.Zero(t, PoissonUpper(1, 0))
	assert.InDelta(t, 1, PoissonUpper(0, 0), 0)
}

// The worked example of Benjamini and Hochberg's paper (1995, section 3.2): fifteen chances, of which four are told
// at 0.05.
func TestDiscoveries(t *testing.T) {
	chances := []float64{
		0.0001,
		0.0004,
		0.0019,
		0.0095,
		0.0201,
		0.0278,
		0.0298,
		0.0344,
		0.0459,
		0.3240,
		0.4262,
		0.5719,
		0.6528,
		0.7590,
		1,
	}
	told := Discoveries(chances, 0.05)
	for i, yes := range told {
		assert.Equal(t, i < 4, yes, "%g", chances[i])
	}
	assert.Empty(t, Discoveries(nil, 0.05))
}

// Where nothing changed anywhere, a page of sixteen tells of something no more often than its rate.
func TestAStillPageIsSeldomToldOf(t *testing.T) {
	dice := rand.New(rand.NewSource(3))
	pages := 0
	for range 4000 {
		chances := make([]float64, 16)
		for i := range chances {
			chances[i] = dice.Float64()
		}
		if slices.Contains(Discoveries(chances, 0.05), true) {
			pages++
		}
	}
	assert.InDelta(t, 0.05, float64(pages)/4000, 0.012)
}

// By R: qbinom(c(0.00135, 1 - 0.00135), n, p).
func TestBinomialLimits(t *testing.T) {
	for _, c := range []struct {
		n, low, high int
		p            float64
	}{{25, 0, 12, 0.2}, {40, 4, 21, 0.3}, {400, 93, 148, 0.3}, {2000, 161, 241, 0.1}, {5, 0, 0, 0}, {5, 5, 5, 1}} {
		low, high := BinomialLimits(c.n, c.p, 0.00135)
		assert.Equal(t, [2]int{c.low, c.high}, [2]int{low, high}, "%d of %v", c.n, c.p)
	}
	for n := 1; n < 60; n += 7 {
		for _, p := range []float64{0.03, 0.2, 0.5, 0.9} {
			low, high := BinomialLimits(n, p, 0.00135)
			assert.LessOrEqual(t, BinomialUpper(high+1, n, p), 0.00135+1e-12)
			assert.Greater(t, BinomialUpper(high, n, p), 0.00135)
			assert.LessOrEqual(t, 1-BinomialUpper(low, n, p), 0.00135+1e-12)
			assert.Greater(t, 1-BinomialUpper(low+1, n, p), 0.00135)
		}
	}
}

// By R: qpois(c(0.00135, 1 - 0.00135), mean).
func TestPoissonLimits(t *testing.T) {
	for _, c := range []struct {
		mean      float64
		low, high int
	}{{0.5041, 0, 4}, {16.15, 6, 29}, {34.64, 18, 54}, {0.1311, 0, 2}, {1.806, 0, 7}, {12.09, 3, 24}, {11.22, 3, 22}, {0.1178, 0, 2},
		{1.733, 0, 7}, {12.62, 3, 25}, {46.08, 27, 68}, {0.202, 0, 2}} {
		low, high := PoissonLimits(c.mean, 0.00135)
		assert.Equal(t, [2]int{c.low, c.high}, [2]int{low, high}, "%v", c.mean)
	}
	low, high := PoissonLimits(0, 0.00135)
	assert.Equal(t, [2]int{0, 0}, [2]int{low, high})
}
