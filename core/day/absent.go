package day

import (
	"fmt"

	"uskel/core/measure"
)

// Shifted is what becomes of a vehicle when the day is laid out anew.
type Shifted struct {
	ID      string          `json:"id"`
	Was     measure.Seconds `json:"was" doc:"ready before, s from midnight"`
	Is      measure.Seconds `json:"is" doc:"ready now"`
	Missed  bool            `json:"missed" doc:"its promise was kept before and is not now"`
	Says    string          `json:"says"`
	Refused bool            `json:"refused,omitempty" doc:"it no longer fits into the day"`
}

// Shifts says which vehicles move between two ways to lay a day out, by their ids in an order: what a customer would be
// told, a minute or more.
func Shifts(order []string, before, after map[string]Standing) []Shifted {
	moved := []Shifted{}
	for _, id := range order {
		was, there := before[id]
		is, still := after[id]
		if !there || !still || is.over() {
			continue
		}
		late := is.Late() >= lateFrom
		s := Shifted{ID: id, Was: was.Ready, Is: is.Ready, Missed: late && was.Late() < lateFrom, Refused: is.Conflict() != "" && !late}
		change := is.Ready - was.Ready
		switch {
		case s.Refused && was.Conflict() == "":
			s.Says = is.Conflict()
		case s.Missed:
			s.Says = fmt.Sprintf("%s misses its promise: ready at %s, %s after it.", is.Plate, is.clock(is.Ready), is.Late().Round())
		case change >= lateFrom || change <= -lateFrom:
			s.Says = fmt.Sprintf("%s is ready at %s instead of %s.", is.Plate, is.clock(is.Ready), is.clock(was.Ready))
		default:
			continue
		}
		moved = append(moved, s)
	}
	return moved
}
