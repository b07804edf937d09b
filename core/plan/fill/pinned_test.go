package fill

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSayInFill(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "lineRound", Is: lineRound, Typed: 0.3, Source: "model, min"},
		prove.Pin{Name: "fetching", Is: float64(fetching), Typed: 10, Source: "model, s"},
		prove.Pin{Name: "warmWater", Is: float64(warmWater), Typed: 35,
			Source: "docs/trade.md, section 5: hand-warm (model), degC"},
		prove.Pin{Name: "rinseReach", Is: rinseReach, Typed: 1, Source: "model, min"},
		prove.Pin{Name: "besides", Is: besides, Typed: 0.5,
			Source: "model, min: about four shaded panels before a rinse (docs/trade.md, section 6)"},
		prove.Pin{Name: "rinsePerPanel", Is: rinsePerPanel, Typed: 0.15,
			Source: "docs/trade.md, section 7: a pressure rinse takes 2 to 3 min, some 17 panels"},
		prove.Pin{Name: "mostJet", Is: mostJet, Typed: 14,
			Source: "docs/trade.md, section 4: 2,000 psi is 7 to 14 MPa"},
		prove.Pin{Name: "secondPassFrom", Is: float64(secondPassFrom), Typed: 2,
			Source: "docs/trade.md, section 16: two passes where it is dirty (model)"},
		prove.Pin{Name: "hatchScale", Is: hatchScale, Typed: 0.85, Source: "docs/trade.md, section 2"},
		prove.Pin{Name: "dryingMargin", Is: dryingMargin, Typed: 0.9,
			Source: "model: a tenth of the window is kept back"},
		prove.Pin{Name: "caught", Is: caught, Typed: 0.7, Source: "model"},
		prove.Pin{Name: "walked", Is: walked, Typed: 1.15, Source: "model"},
		prove.Pin{Name: "maintenanceWheel", Is: maintenanceWheel, Typed: 3.5,
			Source: "docs/trade.md, section 7: 3 to 4 min"},
		prove.Pin{Name: "sprayTakes", Is: sprayTakes, Typed: 45, Source: "model, ml a m2"},
		prove.Pin{Name: "wheelSprayTakes", Is: wheelSprayTakes, Typed: 60, Source: "model, ml a wheel"},
		prove.Pin{Name: "spraysTake", Is: spraysTake, Typed: 3, Source: "model, ml a m2"},
	)
}
