package contact

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The reach of a face is the root of the touch equation: plain halving of the interval, the textbook method, finds
// the same one.
func TestReachIsWhereTheLimitIsMet(t *testing.T) {
	rng := rand.New(rand.NewSource(11))
	for cloth := range cloths {
		for range 2000 {
			f := Face{80 * rng.Float64(), 100 * rng.Float64()}
			grit, area, limit := 3000*rng.Float64()*rng.Float64(), 5*rng.Float64(), 80*rng.Float64()
			reach := cloth.reach(f, grit, area, limit)
			assert.InDelta(t, halved(cloth, f, grit, area, limit), reach, 1e-9)
			if after, _ := cloth.touch(f, grit, reach); reach > 0 {
				assert.LessOrEqual(t, after.Exposed, limit*(1+1e-12), "the limit is never passed")
			}
		}
	}
}

func halved(cloth Cloth, f Face, grit, area, limit float64) float64 {
	low, high := 0.0, area
	for range 60 {
		mid := (low + high) / 2
		if after, _ := cloth.touch(f, grit, mid); after.Exposed <= limit {
			low = mid
		} else {
			high = mid
		}
	}
	return low
}
