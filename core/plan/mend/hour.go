package mend

import (
	"fmt"
	"strings"
	"time"

	"uskel/core/plan"
)

// Hour is a plan at an hour of the day.
type Hour struct {
	At   time.Time
	Plan plan.Plan
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
		better := begins.Plan.Minutes-h.Plan.Minutes >= clearlyShorter || h.Plan.PartCount() < begins.Plan.PartCount()
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

func (h Hour) words(begins Hour) string {
	var why []string
	if less := begins.Plan.Minutes - h.Plan.Minutes; less >= 1 {
		why = append(why, fmt.Sprintf("%.0f min shorter", less))
	}
	if was, is := begins.Plan.Suds, h.Plan.Suds; is > was*3/2 {
		why = append(why, fmt.Sprintf("suds last %s instead of %s", is.Round(), was.Round()))
	}
	switch was, is := begins.Plan.PartCount(), h.Plan.PartCount(); {
	case is == 0 && was > 0:
		why = append(why, "the whole car at once")
	case is < was:
		why = append(why, fmt.Sprintf("%d parts instead of %d", is, was))
	}
	return strings.Join(why, ", ")
}
