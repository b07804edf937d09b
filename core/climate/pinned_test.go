package climate

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "sunRadius", Is: sunRadius, Typed: 0.27,
			Source: "half of the sun's 0.53 degrees (astronomical tables, from memory)"},
		prove.Pin{Name: "usableShare", Is: usableShare, Typed: 0.6, Source: "model"},
		prove.Pin{Name: "panelHeat", Is: panelHeat, Typed: 3000, Source: "model, J/m2K"},
		prove.Pin{Name: "windowCap", Is: windowCap.Hours(), Typed: 2, Source: "model, h"},
		prove.Pin{Name: "glassAbsorptance", Is: glassAbsorptance, Typed: 0.35, Source: "model"},
		prove.Pin{Name: "offTheRoad", Is: float64(offTheRoad), Typed: 60, Source: "common practice, degC"},
		prove.Pin{Name: "readingHolds", Is: readingHolds.Minutes(), Typed: 90, Source: "model, min"},
		prove.Pin{Name: "forecastHolds", Is: forecastHolds.Hours(), Typed: 3, Source: "model, h"},
		prove.Pin{Name: "staleHolds", Is: staleHolds.Hours(), Typed: 12, Source: "model, h"},
		prove.Pin{Name: "solidsPerHardness", Is: solidsPerHardness, Typed: 1.5, Source: "model"},
		prove.Pin{Name: "hardWater", Is: hardWater, Typed: 200,
			Source: "model, mg/l: above 180 is very hard (U.S. Geological Survey)"},
		prove.Pin{Name: "waterHolds", Is: waterHolds.Hours(), Typed: 4320, Source: "model: half a year, h"},
		prove.Pin{Name: "standardPressure", Is: standardPressure, Typed: 101325, Source: "ISO 2533, Pa"},
		prove.Pin{Name: "gasConstantVapour", Is: gasConstantVapour, Typed: 461.5, Source: "8.314 / 0.018 015, J/kgK"},
		prove.Pin{Name: "molarMassRatio", Is: molarMassRatio, Typed: 0.621945,
			Source: "ASHRAE Fundamentals (from memory): 18.015 / 28.966"},
		prove.Pin{Name: "stefanBoltzmann", Is: stefanBoltzmann, Typed: 5.670374e-08, Source: "CODATA 2018, W/m2K4"},
		prove.Pin{Name: "airHeatCapacity", Is: airHeatCapacity, Typed: 1006,
			Source: "ASHRAE Fundamentals (from memory), J/kgK"},
		prove.Pin{Name: "gasConstantDryAir", Is: gasConstantDryAir, Typed: 287.05,
			Source: "8.314 / 0.028 966 (from memory), J/kgK"},
		prove.Pin{Name: "lewisNumber", Is: lewisNumber, Typed: 0.865,
			Source: "heat-transfer handbooks (from memory)"},
		prove.Pin{Name: "wettedEmissivity", Is: wettedEmissivity, Typed: 0.95,
			Source: "heat-transfer handbooks (from memory): water 0.95 to 0.96"},
		prove.Pin{Name: "latentHeatAtZero", Is: latentHeatAtZero, Typed: 2501000, Source: "steam tables, J/kg"},
		prove.Pin{Name: "latentHeatPerKelv", Is: latentHeatPerKelv, Typed: 2361,
			Source: "steam tables: 2.501 MJ/kg at 0, 2.454 at 20 degC"},
		prove.Pin{Name: "goodWindow", Is: float64(goodWindow), Typed: 240,
			Source: "docs/trade.md, section 4 (model), s"},
		prove.Pin{Name: "leastWindow", Is: float64(leastWindow), Typed: 120,
			Source: "docs/trade.md, section 4 (model), s"},
		prove.Pin{Name: "nearBest", Is: nearBest, Typed: 0.75, Source: "model"},
	)
}
