package condition

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "washEvery", Is: washEvery, Typed: 14,
			Source: "docs/trade.md, section 5: weekly to fortnightly, days"},
		prove.Pin{Name: "washEverySalt", Is: washEverySalt, Typed: 7,
			Source: "docs/trade.md, section 5: weekly to fortnightly, days"},
		prove.Pin{Name: "waxLasts", Is: waxLasts, Typed: 28, Source: "docs/trade.md, section 7: a few weeks"},
		prove.Pin{Name: "sealantLasts", Is: sealantLasts, Typed: 60,
			Source: "model, days: the cautious end of what docs/trade.md, section 7 claims"},
		prove.Pin{Name: "topUpEvery", Is: topUpEvery, Typed: 49,
			Source: "docs/trade.md, section 7: every 6 to 8 weeks"},
		prove.Pin{Name: "serviceEvery", Is: serviceEvery, Typed: 75,
			Source: "docs/trade.md, section 7: every 2 to 3 months"},
		prove.Pin{Name: "sunshine", Is: sunshine, Typed: 120,
			Source: "World Meteorological Organization: sunshine is 120 W/m2 of direct sun (from memory)"},
		prove.Pin{Name: "falseTold", Is: falseTold, Typed: 0.05, Source: "common practice"},
		prove.Pin{Name: "usualJet", Is: usualJet, Typed: 12,
			Source: "plates of small washers: 110 to 130 bar (common practice), MPa"},
	)
}
