package day

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSayInDay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "lateFrom", Is: float64(lateFrom), Typed: 60, Source: "less cannot be seen on a clock, s"},
	)
}
