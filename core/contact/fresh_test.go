package contact

import (
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/vehicle"
)

// Worked by hand from the touch equation: a grade that one face carries takes a face a zone, and a plush towel has
// eight.
func TestFreshFacesAreCountedZoneByZone(t *testing.T) {
	light := []Patch{
		{Zone: vehicle.Roof, Area: 1, Grit: 1},
		{Zone: vehicle.Bonnet, Area: 1, Grit: 1},
		{Zone: vehicle.BootLid, Area: 0.5, Grit: 1},
	}
	made, err := Fresh(PlushTowel, ordinary, light)
	require.NoError(t, err)
	assert.Equal(t, 3, made.Faces, "one for each zone, so that nothing travels")
	assert.Equal(t, 1, made.Cloths)
	assert.InDelta(t, 2.5*0.05, made.Left, 1e-9, "a touch takes 95 % along")

	many := slices.Repeat(light, 3)
	made, err = Fresh(PlushTowel, ordinary, many)
	require.NoError(t, err)
	assert.Equal(t, []int{9, 2}, []int{made.Faces, made.Cloths}, "the ninth face is on a second towel")
}

func TestFreshRefusesWhatNoClothCarries(t *testing.T) {
	_, err := Fresh(PlushTowel, ordinary, []Patch{{Zone: vehicle.Rear, Area: 1, Grit: 1e6}})
	assert.ErrorContains(t, err, "rinse and foam first")
}

// Dirtier paint never takes fewer cloths, never marks less and never leaves less.
func TestMoreGritNeverTakesFewerCloths(t *testing.T) {
	rng := rand.New(rand.NewSource(8))
	for range 200 {
		patches := randomCar(rng)
		made, err := Fresh(Mitt, ordinary, patches)
		if err != nil {
			assert.ErrorContains(t, err, "rinse and foam first")
			continue
		}
		for i := range patches {
			patches[i].Grit *= 0.7
		}
		cleaner, err := Fresh(Mitt, ordinary, patches)
		require.NoError(t, err)
		assert.LessOrEqual(t, cleaner.Faces, made.Faces)
		assert.LessOrEqual(t, cleaner.Cloths, made.Cloths)
		assert.LessOrEqual(t, cleaner.Left, made.Left)
	}
}

// Glass is harder than lacquer, so the same grit marks it less.
func TestGlassCountsLess(t *testing.T) {
	of := func(z vehicle.Zone) float64 {
		made, err := Fresh(Mitt, ordinary, []Patch{{Zone: z, Area: 1, Grit: 20}})
		require.NoError(t, err)
		return made.Drag
	}
	assert.InDelta(t, glassHarm*of(vehicle.Bonnet), of(vehicle.Windscreen), 1e-9)
}

// What goes into a bucket is in the water, on the bottom or back on the cloth: grit is neither made nor lost.
func TestGritIsKeptInTheBucket(t *testing.T) {
	rng := rand.New(rand.NewSource(9))
	for _, guard := range []bool{true, false} {
		b, in, out := NewBucket(guard, usualWater), 0.0, 0.0
		for range 50 {
			added := 300 * rng.Float64()
			var back float64
			b, back = b.dip(added)
			in, out = in+added, out+back
			assert.InDelta(t, in, b.Up+b.Bottom+out, 1e-6)
			assert.GreaterOrEqual(t, back, 0.0)
		}
	}
}

func TestTheBucketsTale(t *testing.T) {
	tale := TellBucket(usualWater)
	require.Equal(t, len(tale.Guarded), len(tale.Bare))
	for i := range tale.Guarded {
		assert.LessOrEqual(t, tale.Guarded[i], tale.Bare[i], "a guard never brings more back")
	}
	assert.Greater(t, tale.Bare[len(tale.Bare)-1], tale.Bare[0], "without one every rinse is dirtier than the first")
	for i := 1; i < len(tale.Clears); i++ {
		assert.LessOrEqual(t, tale.Clears[i].Up, tale.Clears[i-1].Up, "water only clears while it rests")
	}
	assert.Equal(t, 1.0, tale.Clears[0].Up)
	assert.Less(t, tale.HalfAt, tale.CleanAt)
	assert.InDelta(t, 0.5, stillUp(tale.HalfAt, usualWater), 0.02)
	assert.InDelta(t, 0.1, stillUp(tale.CleanAt, usualWater), 0.02)
}

func TestATouchTakesItsShareOfTheSoil(t *testing.T) {
	left := SoilAfterTouch(Soil{Loose: 100, Adherent: 40})
	assert.InDelta(t, 5, left.Loose, 1e-9)
	assert.InDelta(t, 2, left.Adherent, 1e-9)
}
