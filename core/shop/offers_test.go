package shop

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/climate"
)

// What is said of a place when a shop is set up is what plans say of it later: where nothing may run off and there is no shade, nothing
// can be washed; leave for wash water never takes a wash away; what takes a dirty car takes a light one or says why not.
func TestPlacesAreOfferedAsTheyAre(t *testing.T) {
	by := map[PlaceKind]map[bool]PlaceOffer{}
	for _, o := range PlaceOffers() {
		if by[o.Kind] == nil {
			by[o.Kind] = map[bool]PlaceOffer{}
		}
		by[o.Kind][o.Runoff] = o
	}
	assert.Len(t, by, len(PlaceTemplates))
	for _, p := range PlaceTemplates {
		without, with := by[p.Kind][false], by[p.Kind][true]
		assert.Subset(t, with.Light, without.Light, p.Kind)
		assert.Subset(t, with.Dirty, without.Dirty, p.Kind)
		if p.Cover == climate.OpenSky {
			assert.Empty(t, without.Light, p.Kind)
			assert.Contains(t, without.Says, "Nothing can be washed here")
			assert.Contains(t, without.Says, "It needs shade")
		} else {
			assert.NotEmpty(t, without.Light, p.Kind)
			assert.NotContains(t, without.Says, "Nothing")
		}
		assert.NotEmpty(t, with.Dirty, p.Kind)
	}
}
