package film

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "beadedWater", Is: beadedWater, Typed: 0.5, Source: "docs/models.md"},
		prove.Pin{Name: "flatWater", Is: flatWater, Typed: 1.5, Source: "model"},
		prove.Pin{Name: "sheeted", Is: sheeted, Typed: 0.35,
			Source: "docs/trade.md, section 6: an open hose takes 60 to 70 %"},
		prove.Pin{Name: "blownBeads", Is: blownBeads, Typed: 0.05,
			Source: "docs/trade.md, section 5: a blower takes 95 %"},
		prove.Pin{Name: "blownFlat", Is: blownFlat, Typed: 0.3, Source: "model"},
		prove.Pin{Name: "LargeTowel", Is: LargeTowel, Typed: 1600, Source: "model, g"},
		prove.Pin{Name: "WaffleTowel", Is: WaffleTowel, Typed: 700, Source: "model, g"},
		prove.Pin{Name: "SmallTowel", Is: SmallTowel, Typed: 500, Source: "model, g"},
		prove.Pin{Name: "drinks", Is: drinks, Typed: 0.97, Source: "model"},
		prove.Pin{Name: "leastWet", Is: leastWet, Typed: 2, Source: "model, g/m2"},
		prove.Pin{Name: "wrung", Is: wrung, Typed: 0.35, Source: "model"},
		prove.Pin{Name: "dragging", Is: dragging, Typed: 0.05, Source: "model"},
		prove.Pin{Name: "stretch", Is: stretch, Typed: 0.1, Source: "model, m2"},
		prove.Pin{Name: "Wringing", Is: float64(Wringing), Typed: 20, Source: "model, s"},
		prove.Pin{Name: "wrungFrom", Is: wrungFrom, Typed: 10, Source: "model, g/m2"},
	)
}
