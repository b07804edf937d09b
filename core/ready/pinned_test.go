package ready

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "UsualHalfLife", Is: UsualHalfLife, Typed: 60, Source: "model, days"},
		prove.Pin{Name: "alone", Is: alone, Typed: 0.8, Source: "model: eight in ten"},
		prove.Pin{Name: "likelyReady", Is: likelyReady, Typed: 0.8, Source: "model"},
		prove.Pin{Name: "notYet", Is: notYet, Typed: 0.2, Source: "model"},
		prove.Pin{Name: "littleSeen", Is: littleSeen, Typed: 3, Source: "model"},
		prove.Pin{Name: "HelpedDays", Is: HelpedDays, Typed: 120, Source: "model, days"},
		prove.Pin{Name: "leastAudits", Is: leastAudits, Typed: 10, Source: "model"},
		prove.Pin{Name: "leastFindings", Is: leastFindings, Typed: 3, Source: "model"},
		prove.Pin{Name: "falseTold", Is: falseTold, Typed: 0.05, Source: "common practice"},
	)
}
