package plan

import (
	"fmt"
	"strings"
	"time"

	"uskel/core/procedure"
)

// Begins is when a wash is planned to begin: when the vehicle comes, in its slot or now, whichever is last.
func Begins(now, arrives time.Time, slot *time.Time) time.Time {
	at := now
	if arrives.After(at) {
		at = arrives
	}
	if slot != nil && slot.After(at) {
		at = *slot
	}
	return at
}

// Hour is a plan at an hour of the day.
type Hour struct {
	At   time.Time
	Plan Plan
}

// BetterHour is an hour at which the same wash goes clearly better.
type BetterHour struct {
	At   time.Time `json:"at"`
	Says string    `json:"says"`
}

// clearlyShorter is by how much a wash must be shorter at another hour before that is spoken of, min (model).
const clearlyShorter = 5

// Better finds, of later hours, the one at which the wash goes clearly better than when it is to begin: at least five
// minutes shorter, or in fewer parts, and ready by the promise. Nothing when there is none.
func Better(begins Hour, later []Hour, promised time.Time) *BetterHour {
	var best *Hour
	for i, h := range later {
		ready := h.At.Add(time.Duration(h.Plan.Minutes * float64(time.Minute)))
		better := begins.Plan.Minutes-h.Plan.Minutes >= clearlyShorter || h.Plan.parts() < begins.Plan.parts()
		if !better || ready.After(promised) || best != nil && h.Plan.Minutes >= best.Plan.Minutes-1 {
			continue
		}
		best = &later[i]
	}
	if best == nil {
		return nil
	}
	return &BetterHour{best.At, best.words(begins)}
}

// parts is in how many parts the body is washed, of all rounds together; wheels are counted one by one anyway.
func (p Plan) parts() int {
	parts, last := 0, ""
	for _, s := range p.likely() {
		if s.Part == nil || s.Part.Over == procedure.OverWheels {
			continue
		}
		if key := s.Part.Round + s.Part.Key; key != last {
			parts, last = parts+1, key
		}
	}
	return parts
}

func (h Hour) words(begins Hour) string {
	var why []string
	if less := begins.Plan.Minutes - h.Plan.Minutes; less >= 1 {
		why = append(why, fmt.Sprintf("%.0f min shorter", less))
	}
	if was, is := begins.Plan.Suds, h.Plan.Suds; is > was*3/2 {
		why = append(why, fmt.Sprintf("suds last %s instead of %s", is.Round(), was.Round()))
	}
	switch was, is := begins.Plan.parts(), h.Plan.parts(); {
	case is == 0 && was > 0:
		why = append(why, "the whole car at once")
	case is < was:
		why = append(why, fmt.Sprintf("%d parts instead of %d", is, was))
	}
	return strings.Join(why, ", ")
}
