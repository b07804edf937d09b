package plan

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "pureWater", Is: pureWater, Typed: 5, Source: "common practice, mg/l"},
		prove.Pin{Name: "spotsShow", Is: SpotsShow, Typed: 12, Source: "model, mg/m2"},
	)
}
