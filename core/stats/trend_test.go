package stats

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
)

// By R: prop.trend.test(marked, of, scores), its p-value halved where the shares rise, and one less that half where they fall.
func TestTrendUp(t *testing.T) {
	for _, c := range []struct {
		marked, of []int
		scores     []float64
		want       float64
	}{
		{[]int{1, 3, 6, 8}, []int{40, 40, 40, 40}, []float64{5, 15, 30, 60}, 0.004794333},
		{[]int{2, 2, 2}, []int{30, 50, 20}, []float64{1, 2, 3}, 0.3590788},
		{[]int{9, 4, 1}, []int{50, 45, 30}, []float64{5, 15, 30}, 0.9789164},
		{[]int{0, 0}, []int{9, 9}, []float64{1, 2}, 1},
		{[]int{4}, []int{9}, []float64{1}, 1},
		{nil, nil, nil, 1},
	} {
		assert.InDelta(t, c.want, TrendUp(c.marked, c.of, c.scores), 1e-6)
	}
}

// Where nothing rises a trend is told about as often as is said: 1 in 20 of 4,000.
func TestATrendIsNotToldForNothing(t *testing.T) {
	told := 0
	for seed := range int64(4000) {
		dice := rand.New(rand.NewSource(seed))
		marked, of, scores := make([]int, 4), []int{60, 50, 40, 30}, []float64{2.5, 7.5, 15, 30}
		for i, n := range of {
			for range n {
				if dice.Float64() < 0.15 {
					marked[i]++
				}
			}
		}
		if TrendUp(marked, of, scores) <= 0.05 {
			told++
		}
	}
	assert.InDelta(t, 200, told, 60)
}
