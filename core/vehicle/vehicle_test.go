package vehicle

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Areas and scales: docs/trade.md, section 2 (model values; common practice, no source).
func TestAreasOfTheTrade(t *testing.T) {
	glass := Estate.AreaOf([]Zone{Windscreen, RearGlass, GlassLeft, GlassRight}) / 1.15
	assert.InDelta(t, 2.6, glass, 0.002, "glass is 2.6 m2 in all on a mid-size car")
	for body, scale := range map[Body]float64{Hatch: 0.85, Saloon: 1.15, Estate: 1.15, SportUtility: 1.3, Pickup: 1.25, Van: 1.8} {
		assert.InDelta(t, 1.6*scale, body.AreaOf([]Zone{Roof}), 0.001, string(body))
		assert.InDelta(t, 0.25, body.AreaOf([]Zone{WheelFL}), 1e-9, "wheels do not grow with the body")
	}
}

func TestEveryBodyIsWholeAndDrawable(t *testing.T) {
	for _, name := range Body("").Values() {
		b := Body(name)
		assert.Len(t, b.Parts(), len(Zone("").Values()), name)
		for _, p := range b.Parts() {
			assert.Positive(t, p.Area, "%s %s", name, p.Zone)
			assert.NotEmpty(t, p.Label)
		}
		p := b.Profile()
		along := []float64{0, p.ScreenBase, p.RoofStart, p.RoofEnd, p.DeckStart, p.Length}
		assert.IsIncreasing(t, along, "%s: the profile runs from nose to tail", name)
		assert.IsIncreasing(t, []float64{0, p.SillHeight, p.LineHeight, p.CowlHeight, p.Height}, name)
		assert.Less(t, p.FrontAxle, p.RearAxle, name)
		assert.Less(t, p.RearAxle+p.WheelRadius, p.Length, name)
	}
	assert.Equal(t, Fabric, mustPart(SoftTop, Roof).Surface, "a soft top's roof is not paint")
	for _, b := range Body("").Values() { // and what is fabric is a soft top's roof alone
		for _, p := range Body(b).Parts() {
			assert.Equal(t, Body(b) == SoftTop && p.Zone == Roof, p.Surface == Fabric, "%s %s", b, p.Zone)
		}
	}
	_, err := Van.Part("sunroof")
	assert.Error(t, err)
	assert.Nil(t, Body("boat").Parts())
}

func mustPart(b Body, z Zone) Part { p, _ := b.Part(z); return p }

func TestWheelFactor(t *testing.T) {
	assert.InDelta(t, 1, WheelSpec{17, PlainSpokes, false}.Factor(), 1e-9)
	assert.InDelta(t, 1.2*1.06, WheelSpec{19, ManySpokes, true}.Factor(), 1e-9)
	assert.InDelta(t, 0.9*0.91, WheelSpec{14, OpenSpokes, false}.Factor(), 1e-9)
}

func TestCheckNamesTheField(t *testing.T) {
	good := Vehicle{Hatch, White, Ordinary, WheelSpec{16, PlainSpokes, false}, false, false}
	assert.NoError(t, good.Check())
	bad := good
	bad.Body, bad.Wheels.Inches = "boat", 40
	err := bad.Check()
	assert.ErrorContains(t, err, `body: "boat"`)
	assert.ErrorContains(t, err, "wheels.inches: 40")
}

func TestWatchListSaysWhatItChanges(t *testing.T) {
	for _, w := range Watch("").Values() {
		assert.True(t, Watch(w).Known(), w)
		assert.NotEmpty(t, Watch(w).Means(), w)
		assert.NotEmpty(t, Watch(w).Label(), w)
	}
	assert.True(t, FreshCoating.Bars())
	assert.False(t, FilmEdges.Bars())
}
