package wash

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "hurried", Is: hurried.Seconds(), Typed: 5, Source: "model, s"},
		prove.Pin{Name: "usualCV", Is: usualCV, Typed: 0.15, Source: "docs/models.md"},
		prove.Pin{Name: "oddsOut", Is: oddsOut, Typed: 2.33, Source: "normal quantile of 0.99: 2.326 (tables)"},
		prove.Pin{Name: "leastOver", Is: float64(leastOver), Typed: 120, Source: "model, s"},
		prove.Pin{Name: "soonBefore", Is: soonBefore.Seconds(), Typed: 120, Source: "common practice, s"},
		prove.Pin{Name: "urgentBefore", Is: urgentBefore.Seconds(), Typed: 60, Source: "common practice, s"},
		prove.Pin{Name: "tapTolerance", Is: tapTolerance.Seconds(), Typed: 5, Source: "model, s"},
	)
}
