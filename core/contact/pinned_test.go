package contact

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "picksUp", Is: picksUp, Typed: 0.95, Source: "model"},
		prove.Pin{Name: "underFace", Is: underFace, Typed: 0.02, Source: "model"},
		prove.Pin{Name: "SudsArea", Is: SudsArea, Typed: 3.5, Source: "model, m2: about a side of a car"},
		prove.Pin{Name: "poorSlipArea", Is: poorSlipArea, Typed: 6, Source: "model, m2"},
		prove.Pin{Name: "shaky", Is: shaky, Typed: 0.02, Source: "model, m"},
		prove.Pin{Name: "reversal", Is: reversal, Typed: 2.0943951023931953, Source: "120 degrees in radians"},
		prove.Pin{Name: "reversalPath", Is: reversalPath, Typed: 0.18, Source: "model, m"},
		prove.Pin{Name: "round", Is: round, Typed: 4.39822971502571,
			Source: "252 degrees in radians: three quarters, less what smoothing takes (model)"},
		prove.Pin{Name: "roundPath", Is: roundPath, Typed: 2, Source: "model, m"},
		prove.Pin{Name: "straight", Is: straight, Typed: 0.97, Source: "model"},
		prove.Pin{Name: "shortRun", Is: shortRun, Typed: 0.08, Source: "model, m"},
		prove.Pin{Name: "hand", Is: hand, Typed: 0.14, Source: "model, s"},
		prove.Pin{Name: "Beaded", Is: Beaded, Typed: 0.7, Source: "model"},
		prove.Pin{Name: "glassHarm", Is: glassHarm, Typed: 0.25, Source: "model"},
		prove.Pin{Name: "runDown", Is: runDown, Typed: 0.03, Source: "model"},
		prove.Pin{Name: "dirtyDip", Is: dirtyDip, Typed: 20, Source: "model, mg"},
		prove.Pin{Name: "usualWater", Is: float64(usualWater), Typed: 20, Source: "model, degC"},
		prove.Pin{Name: "medianGrain", Is: medianGrain, Typed: 6e-05, Source: "model, m"},
		prove.Pin{Name: "grainSpread", Is: grainSpread, Typed: 2.5, Source: "model"},
		prove.Pin{Name: "guardDepth", Is: guardDepth, Typed: 0.2, Source: "model, m"},
		prove.Pin{Name: "rinseWater", Is: rinseWater, Typed: 15,
			Source: "docs/trade.md, section 7: buckets of 15 to 20 l"},
		prove.Pin{Name: "clothWater", Is: clothWater, Typed: 0.25, Source: "model, l"},
		prove.Pin{Name: "secondsBetweenRinses", Is: secondsBetweenRinses, Typed: 90, Source: "model, s"},
		prove.Pin{Name: "stirredUp", Is: stirredUp, Typed: 0.3, Source: "model"},
		prove.Pin{Name: "toldGrit", Is: toldGrit, Typed: 300, Source: "model, mg"},
		prove.Pin{Name: "tooMuchBack", Is: tooMuchBack, Typed: 5.5, Source: "model, mg"},
		prove.Pin{Name: "DefaultAim", Is: DefaultAim, Typed: 20, Source: "model"},
		prove.Pin{Name: "HighestRisk", Is: HighestRisk, Typed: 80, Source: "model"},
		prove.Pin{Name: "LeadsYes", Is: LeadsYes, Typed: 60, Source: "model"},
		prove.Pin{Name: "clothWide", Is: clothWide, Typed: 0.22, Source: "docs/models.md, m"},
		prove.Pin{Name: "clothHigh", Is: clothHigh, Typed: 0.16, Source: "docs/models.md, m"},
		prove.Pin{Name: "belowLine", Is: belowLine, Typed: 1.6, Source: "model"},
	)
}
