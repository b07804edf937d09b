package measure

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A hardness written in any unit reads back as it was written.
func TestHardnessThereAndBack(t *testing.T) {
	rng := rand.New(rand.NewSource(21))
	for _, name := range HardnessUnit("").Values() {
		unit := HardnessUnit(name)
		for range 100 {
			amount := 40 * rng.Float64()
			h, err := NewHardness(amount, unit)
			require.NoError(t, err)
			assert.InDelta(t, amount, h.In(unit), 1e-9, name)
		}
		for _, wrong := range []float64{-1, 1e6, math.NaN(), math.Inf(1)} {
			_, err := NewHardness(wrong, unit)
			assert.ErrorContains(t, err, "between 0 and 5,000", name)
		}
	}
	_, err := NewHardness(1, "buckets")
	assert.ErrorContains(t, err, `unit "buckets"`)
}

// Whatever is poured out and added, the mix ends at the strength asked for, and the vessel holds it.
func TestFromAnyStrengthToAnyOther(t *testing.T) {
	rng := rand.New(rand.NewSource(22))
	strength := func() Ratio {
		product, err := NewVolume(float64(1+rng.Intn(20)), Millilitre)
		require.NoError(t, err)
		water, err := NewVolume(float64(21+rng.Intn(500)), Millilitre)
		require.NoError(t, err)
		r, err := RatioMade(product, water)
		require.NoError(t, err)
		return r
	}
	for range 500 {
		have, want := strength(), strength()
		amount, err := NewVolume(float64(100+rng.Intn(900)), Millilitre)
		require.NoError(t, err)
		room, err := NewVolume(1000, Millilitre)
		require.NoError(t, err)
		r, err := FromTo(have, amount, want, room)
		require.NoError(t, err)
		is, _ := have.Share().Float64()
		wish, _ := want.Share().Float64()
		stays := amount.Ml() - r.PourOut.Ml()
		assert.InDelta(t, wish, (stays*is+r.Product.Ml())/r.Makes.Ml(), 1e-9, "the strength asked for")
		assert.InDelta(t, stays+r.Product.Ml()+r.Water.Ml(), r.Makes.Ml(), 1e-6, "nothing made or lost")
		assert.LessOrEqual(t, r.Makes.Ml(), 1000+1e-6, "the vessel holds it")
		assert.True(t, r.Product.IsZero() || r.Water.IsZero(), "product or water, never both")
	}
}
