package skills

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t, prove.Pin{Name: "FindingDays", Is: FindingDays, Typed: 30, Source: "model, days"})
}
