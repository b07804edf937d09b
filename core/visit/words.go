package visit

import "fmt"

// Words are what the customer of a vehicle is usually told, by where it stands; for some stages there are none, and
// somebody writes them. Only one that is ready is waiting to be fetched.
func (s Stage) Words(label, plate string) (string, bool) {
	switch {
	case s.Here():
		return fmt.Sprintf("Your %s (%s) is washed and waiting for you.", label, plate), true
	case s == Rework || s == Failed:
		return fmt.Sprintf("Your %s (%s) is washed; we found something to put right and will tell you when it is ready.",
			label, plate), true
	case s == BrokenOff:
		return fmt.Sprintf("We had to break off the wash of your %s (%s). Please call us.", label, plate), true
	case s.Open() && s != CameBack:
		return fmt.Sprintf("Your %s (%s) will be ready as promised.", label, plate), true
	}
	return "", false
}
