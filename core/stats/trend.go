package stats

import (
	"math"

	"gonum.org/v1/gonum/stat/distuv"
)

// TrendUp is the chance that shares rise so with their scores, or more, where nothing rises: the test for linear trend in
// proportions to one side (Cochran, 1954; Armitage, 1955). Held to R's prop.trend.test. 1 where there is nothing to hold: one
// group, or none or all marked.
func TrendUp(marked, of []int, scores []float64) float64 {
	n, m, middle := 0.0, 0.0, 0.0
	for i := range of {
		n, m = n+float64(of[i]), m+float64(marked[i])
		middle += float64(of[i]) * scores[i]
	}
	if n == 0 || m == 0 || m == n {
		return 1
	}
	share, middle := m/n, middle/n
	rise, spread := 0.0, 0.0
	for i := range of {
		away := scores[i] - middle
		rise += away * float64(marked[i])
		spread += float64(of[i]) * away * away
	}
	if spread == 0 {
		return 1
	}
	z := rise / math.Sqrt(share*(1-share)*spread)
	return 1 - distuv.UnitNormal.CDF(z)
}
