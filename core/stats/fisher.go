package stats

import (
	"math"

	"gonum.org/v1/gonum/stat/combin"
)

// FewerByChance is the chance that of two groups the second has so few marked, or fewer, where marks fall on both alike: Fisher's
// exact test to one side (Fisher, The Design of Experiments, 1935), by the hypergeometric distribution. Before has marked
// of so many, after too.
func FewerByChance(marked, of, markedAfter, ofAfter int) float64 {
	all, marks := of+ofAfter, marked+markedAfter
	if of <= 0 || ofAfter <= 0 {
		return 1
	}
	sum, whole := 0.0, combin.LogGeneralizedBinomial(float64(all), float64(marks))
	for k := max(0, marks-of); k <= min(markedAfter, marks); k++ {
		sum += math.Exp(combin.LogGeneralizedBinomial(float64(ofAfter), float64(k)) +
			combin.LogGeneralizedBinomial(float64(of), float64(marks-k)) - whole)
	}
	return min(1, sum)
}
