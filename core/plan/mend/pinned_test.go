package mend

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSayInMend(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "clearlyShorter", Is: clearlyShorter, Typed: 5, Source: "model, min"},
	)
}
