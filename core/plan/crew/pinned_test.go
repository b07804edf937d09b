package crew

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSayInCrew(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "leastLeft", Is: leastLeft, Typed: 0.1, Source: "model"},
		prove.Pin{Name: "halvedFrom", Is: float64(halvedFrom), Typed: 180, Source: "model, s"},
		prove.Pin{Name: "puttingOn", Is: float64(puttingOn), Typed: 18,
			Source: "docs/trade.md, section 7: spray cleaner 0.3 min a wheel"},
		prove.Pin{Name: "rinsing", Is: float64(rinsing), Typed: 27,
			Source: "docs/trade.md, section 7: 0.4 to 0.5 min a wheel"},
	)
}
