package visit

import (
	"fmt"
	"time"
)

// Expected is when a vehicle is ready as its day is laid out now, by the shop's clock; the zero value when nothing is laid out.
type Expected struct {
	Ready    time.Time
	Promised time.Time
}

// tellsLate is from when on a customer is told of a later hour: clocks are read to five minutes.
const tellsLate = 5 * time.Minute

// late reports whether the promise will not be kept.
func (e Expected) late() bool { return !e.Ready.IsZero() && e.Ready.Sub(e.Promised) >= tellsLate }

// clock is the hour that is told: five minutes are rounded up, and another day is named.
func (e Expected) clock() string {
	at := e.Ready.Add(tellsLate - 1).Truncate(tellsLate)
	if at.Format(time.DateOnly) != e.Promised.In(at.Location()).Format(time.DateOnly) {
		return at.Format("Monday 15:04")
	}
	return at.Format("15:04")
}

// Words are what the customer of a vehicle is usually told, by where it stands and by when it will be ready; for some stages there
// are none, and somebody writes them. Only one that is ready is waiting to be fetched, and nothing is promised that will not be kept.
func (s Stage) Words(label, plate string, e Expected) (string, bool) {
	switch {
	case s.Here():
		return fmt.Sprintf("Your %s (%s) is washed and waiting for you.", label, plate), true
	case s == Rework || s == Failed:
		return fmt.Sprintf("Your %s (%s) is washed; we found something to put right and will tell you when it is ready.",
			label, plate), true
	case s == BrokenOff:
		return fmt.Sprintf("We had to break off the wash of your %s (%s). Please call us.", label, plate), true
	case s.Open() && s != CameBack && e.late():
		return fmt.Sprintf("Your %s (%s) will be ready at %s, later than the %s we promised. We are sorry.", label, plate, e.clock(),
			e.Promised.In(e.Ready.Location()).Format("15:04")), true
	case s.Open() && s != CameBack && !e.Ready.IsZero():
		return fmt.Sprintf("Your %s (%s) will be ready as promised.", label, plate), true
	}
	return "", false
}
