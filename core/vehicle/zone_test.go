package vehicle

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What a zone is made of and where it lies decide which mitt, towel and product touch it: common practice, no source.
func TestWhatZonesAre(t *testing.T) {
	for _, c := range []struct {
		zone    Zone
		band    Band
		surface Surface
		painted bool
	}{
		{Roof, Upper, Paint, true},
		{Bonnet, Upper, Paint, true},
		{Windscreen, Upper, Glass, false},
		{UpperLeft, Middle, Paint, true},
		{LowerRight, Lower, Paint, true},
		{Rear, Lower, Paint, true},
		{WheelFL, Wheels, Rim, false},
		{TyreRR, Wheels, Rubber, false},
		{ArchRL, Wheels, Liner, false},
		{Shuts, InShut, Paint, false}, // painted, but with a towel and a step of their own
		{Underside, Under, Metal, false},
		{Tips, Trim, Metal, false},
	} {
		assert.True(t, c.zone.Known(), c.zone)
		assert.Equal(t, c.band, c.zone.Band(), c.zone)
		assert.Equal(t, c.surface, c.zone.Surface(), c.zone)
		assert.Equal(t, c.painted, c.zone.Painted(), c.zone)
	}
}

func TestEveryZoneHasANameOfItsOwn(t *testing.T) {
	seen := map[string]Zone{}
	for _, name := range Zone("").Values() {
		z := Zone(name)
		assert.NotEmpty(t, z.Label(), name)
		assert.Empty(t, seen[z.Label()], "%s has the name of another zone", name)
		seen[z.Label()] = z
	}
	unknown := Zone("sunroof")
	assert.False(t, unknown.Known())
	assert.Empty(t, unknown.Label())
	assert.False(t, unknown.Painted(), "nobody puts a mitt on what is not there")
}

func TestZonesInASentence(t *testing.T) {
	assert.Equal(t, "roof, bonnet", ListLabels([]Zone{Roof, Bonnet}))
	assert.Empty(t, ListLabels(nil))
}
