package day

import (
	"fmt"
	"time"

	"uskel/core/measure"
	"uskel/core/schedule"
	"uskel/core/visit"
)

// Standing is how a visit stands in the day as it is laid out. Moments are counted from the day's midnight, Zero.
type Standing struct {
	Plate    string
	Place    string // its name
	Stage    visit.Stage
	Refused  string // why it cannot be washed as booked; empty when it can
	Ready    measure.Seconds
	Promised measure.Seconds
	Zero     time.Time
}

// lateFrom is the least by which a vehicle is called late: less than a minute nobody can see on a clock.
const lateFrom = measure.Minute

// Late is by how much the promise is missed, 0 when it is kept.
func (s Standing) Late() measure.Seconds { return max(0, s.Ready-s.Promised) }

// over reports whether nothing of the visit is laid out any more.
func (s Standing) over() bool { return !s.Stage.Planned() && s.Stage != visit.InBay }

func (s Standing) clock(at measure.Seconds) string { return s.Zero.Add(at.Duration()).Format("15:04") }

// Says puts the visit into a sentence.
func (s Standing) Says() string {
	switch {
	case s.Refused != "":
		return "It cannot be washed as booked: " + s.Refused
	case s.Stage.Washed():
		return "Washed by " + s.clock(s.Ready) + "."
	case s.over():
		return "Nothing is planned: " + string(s.Stage) + "."
	case s.Late() >= lateFrom:
		return fmt.Sprintf("Ready at %s, %s after the promise.", s.clock(s.Ready), s.Late().Round())
	}
	if s.Promised-s.Ready < lateFrom {
		return fmt.Sprintf("Ready at %s, as promised.", s.clock(s.Ready))
	}
	return fmt.Sprintf("Ready at %s, %s to spare.", s.clock(s.Ready), (s.Promised - s.Ready).Round())
}

// Conflict says what does not work out with the visit; nothing when all does.
func (s Standing) Conflict() string {
	switch {
	case s.Refused != "":
		return fmt.Sprintf("%s cannot be washed as booked: %s", s.Plate, s.Refused)
	case s.over():
		return ""
	case s.Ready > measure.Day:
		return fmt.Sprintf("%s does not fit into today: %s, or whoever may wash it, is not there long enough.",
			s.Plate, s.Place)
	case s.Late() >= lateFrom:
		return fmt.Sprintf("%s is ready at %s, %s after its promise.", s.Plate, s.clock(s.Ready), s.Late().Round())
	}
	return ""
}

// seenLater is from when on a later start than the one asked for is spoken of: below that it is the walk to the bay.
const seenLater = 5 * measure.Minute

// Later says that a visit cannot begin when somebody wants it to, and what it waits for; nothing when it can.
func (s Standing) Later(t schedule.Timeline, job string, wanted measure.Seconds) string {
	begins, because := measure.Seconds(-1), ""
	for _, slot := range t.Slots {
		if slot.Job == job && (begins < 0 || slot.Start < begins) {
			begins, because = slot.Start, slot.Because
		}
	}
	if begins < wanted+seenLater {
		return ""
	}
	if because == "" {
		because = "before that something it needs is taken."
	}
	return fmt.Sprintf("%s can begin at %s only: %s", s.Plate, s.clock(begins), because)
}
