package plan

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "noticed", Is: float64(noticed), Typed: 15, Source: "model: the drying is no finer, s"},
		prove.Pin{Name: "lineRound", Is: lineRound, Typed: 0.3, Source: "model, min"},
		prove.Pin{Name: "fetching", Is: float64(fetching), Typed: 10, Source: "model, s"},
		prove.Pin{Name: "warmWater", Is: float64(warmWater), Typed: 35,
			Source: "docs/trade.md, section 5: hand-warm (model), degC"},
		prove.Pin{Name: "rinseReach", Is: rinseReach, Typed: 1, Source: "model, min"},
		prove.Pin{Name: "besides", Is: besides, Typed: 0.5,
			Source: "model, min: about four shaded panels before a rinse (docs/trade.md, section 6)"},
		prove.Pin{Name: "rinsePerPanel", Is: rinsePerPanel, Typed: 0.15,
			Source: "docs/trade.md, section 7: a pressure rinse takes 2 to 3 min, some 17 panels"},
		prove.Pin{Name: "pureWater", Is: pureWater, Typed: 5, Source: "common practice, mg/l"},
		prove.Pin{Name: "spotsShow", Is: spotsShow, Typed: 12, Source: "model, mg/m2"},
		prove.Pin{Name: "mostJet", Is: mostJet, Typed: 14,
			Source: "docs/trade.md, section 4: 2,000 psi is 7 to 14 MPa"},
		prove.Pin{Name: "secondPassFrom", Is: float64(secondPassFrom), Typed: 2,
			Source: "docs/trade.md, section 16: two passes where it is dirty (model)"},
		prove.Pin{Name: "leastLeft", Is: leastLeft, Typed: 0.1, Source: "model"},
		prove.Pin{Name: "riskBand", Is: riskBand, Typed: 20, Source: "model"},
		prove.Pin{Name: "lateBand", Is: lateBand, Typed: 5, Source: "model, min"},
		prove.Pin{Name: "filmShows", Is: filmShows, Typed: 200, Source: "model, mg/m2"},
		prove.Pin{Name: "halvedFrom", Is: float64(halvedFrom), Typed: 180, Source: "model, s"},
		prove.Pin{Name: "puttingOn", Is: float64(puttingOn), Typed: 18,
			Source: "docs/trade.md, section 7: spray cleaner 0.3 min a wheel"},
		prove.Pin{Name: "rinsing", Is: float64(rinsing), Typed: 27,
			Source: "docs/trade.md, section 7: 0.4 to 0.5 min a wheel"},
		prove.Pin{Name: "clearlyShorter", Is: clearlyShorter, Typed: 5, Source: "model, min"},
		prove.Pin{Name: "hatchScale", Is: hatchScale, Typed: 0.85, Source: "docs/trade.md, section 2"},
		prove.Pin{Name: "dryingMargin", Is: dryingMargin, Typed: 0.9,
			Source: "model: a tenth of the window is kept back"},
		prove.Pin{Name: "caught", Is: caught, Typed: 0.7, Source: "model"},
		prove.Pin{Name: "walked", Is: walked, Typed: 1.15, Source: "model"},
		prove.Pin{Name: "maintenanceWheel", Is: maintenanceWheel, Typed: 3.5,
			Source: "docs/trade.md, section 7: 3 to 4 min"},
		prove.Pin{Name: "panelWash", Is: float64(panelWash), Typed: 30,
			Source: "0.8 m2 at 0.45 to 0.6 min a m2 (docs/trade.md, section 20), s"},
		prove.Pin{Name: "beadedWater", Is: beadedWater, Typed: 0.5, Source: "docs/models.md"},
		prove.Pin{Name: "lateFrom", Is: float64(lateFrom), Typed: 60, Source: "less cannot be seen on a clock, s"},
		prove.Pin{Name: "sprayTakes", Is: sprayTakes, Typed: 45, Source: "model, ml a m2"},
		prove.Pin{Name: "wheelSprayTakes", Is: wheelSprayTakes, Typed: 60, Source: "model, ml a wheel"},
		prove.Pin{Name: "spraysTake", Is: spraysTake, Typed: 3, Source: "model, ml a m2"},
	)
}
