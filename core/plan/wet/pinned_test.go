package wet

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSayInWet(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "noticed", Is: float64(noticed), Typed: 15, Source: "model: the drying is no finer, s"},
		prove.Pin{Name: "panelWash", Is: float64(panelWash), Typed: 30,
			Source: "0.8 m2 at 0.45 to 0.6 min a m2 (docs/trade.md, section 20), s"},
		prove.Pin{Name: "beadedWater", Is: beadedWater, Typed: 0.5, Source: "docs/models.md"},
	)
}
