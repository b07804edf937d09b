package audit

import (
	"testing"

	"uskel/core/prove"
)

// The constants of this room, each beside the value that its source gives, typed by hand. Who changes one changes it here too, and
// says why.
func TestConstantsAreAsTheirSourcesSay(t *testing.T) {
	prove.Hold(t,
		prove.Pin{Name: "cameBackFor", Is: cameBackFor.Hours(), Typed: 2160, Source: "model: 90 days, h"},
		prove.Pin{Name: "newFor", Is: newFor.Hours(), Typed: 720, Source: "model: 30 days, h"},
		prove.Pin{Name: "rangeCertainty", Is: rangeCertainty, Typed: 0.9, Source: "common practice"},
		prove.Pin{Name: "runCertainty", Is: runCertainty, Typed: 0.95, Source: "common practice"},
		prove.Pin{Name: "badShare", Is: badShare, Typed: 0.1, Source: "model"},
		prove.Pin{Name: "outside", Is: outside, Typed: 0.00135,
			Source: "Shewhart (1931): beyond three sigma on one side"},
		prove.Pin{Name: "mostPutRight", Is: mostPutRight, Typed: 1800, Source: "model, s"},
		prove.Pin{Name: "majorWeight", Is: majorWeight, Typed: 15, Source: "model"},
		prove.Pin{Name: "minorWeight", Is: minorWeight, Typed: 5, Source: "model"},
		prove.Pin{Name: "passingBar", Is: passingBar, Typed: 80, Source: "model"},
		prove.Pin{Name: "enoughSeen", Is: enoughSeen, Typed: 0.6666666666666666, Source: "model: two thirds"},
		prove.Pin{Name: "MeasuredOver", Is: MeasuredOver.Hours(), Typed: 2016, Source: "model: twelve weeks, h"},
		prove.Pin{Name: "sureEnough", Is: sureEnough, Typed: 0.05, Source: "common practice"},
		prove.Pin{Name: "leastAfter", Is: leastAfter, Typed: 10, Source: "model"},
		prove.Pin{Name: "fewMarks", Is: fewMarks, Typed: 10, Source: "model"},
		prove.Pin{Name: "DefaultShare", Is: DefaultShare, Typed: 100, Source: "model, %"},
		prove.Pin{Name: "DefaultTrainee", Is: DefaultTrainee, Typed: 10, Source: "model"},
		prove.Pin{Name: "DefaultVersion", Is: DefaultVersion, Typed: 5, Source: "model"},
		prove.Pin{Name: "firstBySkill", Is: firstBySkill, Typed: 3, Source: "model"},
		prove.Pin{Name: "window", Is: window, Typed: 5, Source: "ISO 2859-1 (from memory): two of five in a row"},
		prove.Pin{Name: "tooMany", Is: tooMany, Typed: 2, Source: "ISO 2859-1 (from memory): two of five in a row"},
		prove.Pin{Name: "steady", Is: steady, Typed: 5, Source: "ISO 2859-1 (from memory): five passes in a row"},
		prove.Pin{Name: "easing", Is: easing, Typed: 10, Source: "ISO 2859-1 (from memory)"},
		prove.Pin{Name: "sideApart", Is: sideApart, Typed: 4.1,
			Source: "half of 4.4 m and of 1.8 m, half a metre off, and round the corner (model)"},
		prove.Pin{Name: "tooFar", Is: tooFar, Typed: 1.2, Source: "model"},
		prove.Pin{Name: "leanOn", Is: leanOn, Typed: 10, Source: "model"},
		prove.Pin{Name: "leastEach", Is: leastEach, Typed: 2, Source: "model"},
		prove.Pin{Name: "DisputeWithin", Is: DisputeWithin.Hours(), Typed: 336, Source: "model: fourteen days, h"},
		prove.Pin{Name: "fewFindings", Is: fewFindings, Typed: 30, Source: "model"},
		prove.Pin{Name: "falseTold", Is: falseTold, Typed: 0.05, Source: "common practice"},
	)
}
