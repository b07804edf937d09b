// Package stats holds the statistics that times, audits and training share: quantiles as they are shown, counts, and
// many tests at once.
package stats

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/combin"
	"gonum.org/v1/gonum/stat/distuv"
)

// Quantile is the share p, 0 to 1, of sorted values, by linear interpolation between order statistics: type 7 of
// Hyndman and Fan (Sample Quantiles in Statistical Packages, 1996), which R gives by default. The middle one of two
// values is their mean. No values give 0.
func Quantile(p float64, sorted []float64) float64 {
	n := len(sorted)
	if n == 0 {
		return 0
	}
	at := min(max(p, 0), 1) * float64(n-1)
	below := int(math.Floor(at))
	above := min(below+1, n-1)
	return sorted[below] + (at-float64(below))*(sorted[above]-sorted[below])
}

// Median is the middle value, or the mean of the two in the middle; 0 of none.
func Median(values []float64) float64 {
	return Quantile(0.5, slices.Sorted(slices.Values(values)))
}

// BinomialUpper is the chance of so many or more out of n, each with chance p.
func BinomialUpper(count, n int, p float64) float64 {
	switch {
	case count <= 0:
		return 1
	case count > n || p <= 0:
		return 0
	case p >= 1:
		return 1
	}
	sum := 0.0
	for k := count; k <= n; k++ {
		sum += math.Exp(
			combin.LogGeneralizedBinomial(
				float64(n),
				float64(k),
			) + float64(k)*math.Log(p) + float64(
				n-k,
			)*math.Log1p(
				-p,
			),
		)
	}
	return min(sum, 1)
}

// BinomialLimits are the fewest and the most out of n, each with chance p, that are not beyond chance: fewer than low has at most
// the chance outside, and so has more than high.
func BinomialLimits(n int, p, outside float64) (low, high int) {
	if p <= 0 || n <= 0 {
		return 0, 0
	}
	if p >= 1 {
		return n, n
	}
	odds, below, log := math.Log(p)-math.Log1p(-p), 0.0, float64(n)*math.Log1p(-p)
	low = -1
	for k := 0; k <= n; k++ {
		below += math.Exp(log) // so many or fewer
		if low < 0 && below > outside {
			low = k
		}
		if below >= 1-outside {
			return low, k
		}
		log += math.Log(float64(n-k)) - math.Log(float64(k+1)) + odds
	}
	return max(low, 0), n
}

// PoissonLimits are the fewest and the most of a Poisson count that are not beyond chance: fewer than low has at most the chance
// outside, and so has more than high.
func PoissonLimits(mean, outside float64) (low, high int) {
	if mean <= 0 {
		return 0, 0
	}
	below, log := 0.0, -mean
	low = -1
	for k := 0; ; k++ {
		below += math.Exp(log) // so many or fewer
		if low < 0 && below > outside {
			low = k
		}
		if below >= 1-outside || float64(k) > mean+40*math.Sqrt(mean)+40 { // the sum may stay a rounding below
			return max(low, 0), k
		}
		log += math.Log(mean) - math.Log(float64(k+1))
	}
}

// PoissonUpper is the chance of so many or more where the mean is what it is.
func PoissonUpper(count int, mean float64) float64 {
	if count <= 0 {
		return 1
	}
	if mean <= 0 {
		return 0
	}
	return 1 - distuv.Poisson{Lambda: mean}.CDF(float64(count-1))
}

// Discoveries says which of several tests are told, by their chances under "nothing changed", so that of those told
// no more than the rate are expected to be false, and where nothing changed anywhere none is told but with that
// chance (Benjamini and Hochberg, Controlling the False Discovery Rate, 1995).
func Discoveries(chances []float64, rate float64) []bool {
	order := make([]int, len(chances))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int {
		switch {
		case chances[a] < chances[b]:
			return -1
		case chances[a] > chances[b]:
			return 1
		}
		return a - b
	})
	told, last := make([]bool, len(chances)), -1
	for k, i := range order {
		if chances[i] <= rate*float64(k+1)/float64(len(chances)) {
			last = k
		}
	}
	for k := range last + 1 {
		told[order[k]] = true
	}
	return told
}
