package judge

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSayInJudge(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "riskBand", Is: riskBand, Typed: 20, Source: "model"},
		prove.Pin{Name: "lateBand", Is: lateBand, Typed: 5, Source: "model, min"},
		prove.Pin{Name: "filmShows", Is: filmShows, Typed: 200, Source: "model, mg/m2"},
	)
}
