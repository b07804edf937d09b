package schedule

import (
	"fmt"
	"math"

	"uskel/core/measure"
)

// Labour is what people's time costs at a wage for an hour, from each one's first work to their last: a wait between two
// steps is paid, too.
func (t Timeline) Labour(hour measure.Money) measure.Money {
	first, last := map[string]measure.Seconds{}, map[string]measure.Seconds{}
	for _, s := range t.Slots {
		if s.Who == "" {
			continue
		}
		if f, known := first[s.Who]; !known || s.Start < f {
			first[s.Who] = s.Start
		}
		last[s.Who] = max(last[s.Who], s.End)
	}
	seconds := measure.Seconds(0)
	for who := range first {
		seconds += last[who] - first[who]
	}
	return measure.Money(math.Round(float64(hour) * float64(seconds) / 3600))
}

// What is worth a warning: product that dries in one wash of five, and three steps of them at most, or nobody reads it
// (shop's practice, no source).
const (
	dryingWarned = 0.2
	mostWarned   = 3
)

// Warnings say what will be late or dry, in time to act; due is when the wash is promised, on the timeline's clock.
func (pr Promise) Warnings(t Timeline, due measure.Seconds) []string {
	late := []string{}
	if pr.P80 > due {
		help := "Tell the customer, or leave something out."
		if h := pr.Helper; h != nil && h.Saves >= measure.Minute {
			help = fmt.Sprintf("A helper at “%s” would save %s.", h.Title, h.Saves.Round())
		}
		late = append(late, fmt.Sprintf("In four of five it is done %s after the promise. %s", (pr.P80-due).Round(), help))
	}
	step := map[string]string{}
	for _, s := range t.Slots {
		step[s.ID] = s.Step
	}
	named := map[string]bool{}
	for _, d := range pr.Dwells { // the riskiest first: one line for all parts of a step
		if d.Chance >= dryingWarned && !named[step[d.From]] && len(named) < mostWarned {
			named[step[d.From]] = true
			late = append(late, fmt.Sprintf(
				"%s: it dries in %.0f of 100 washes like this. Shade, a helper, or mist it again before it dries.",
				d.Title, d.Chance*100))
		}
	}
	return late
}
