package plan

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"uskel/core/procedure"
)

// Verdict is what the chooser says of a procedure.
type Verdict string

// The verdicts.
const (
	Recommended Verdict = "recommended"
	Possible    Verdict = "possible"
	Refused     Verdict = "refused"
)

// Values lists the verdicts.
func (Verdict) Values() []string {
	return []string{string(Recommended), string(Possible), string(Refused)}
}

// Choice is one procedure judged for a job.
type Choice struct {
	Procedure string   `json:"procedure"`
	Title     string   `json:"title"`
	Family    string   `json:"family"`
	Verdict   Verdict  `json:"verdict"`
	Why       []string `json:"why"`
	Plan      *Plan    `json:"plan,omitempty" doc:"Absent when refused"`
}

// nearIndex is the difference in mar index below which two washes are as safe as each other (model).
const nearIndex = 3

// Choose judges every procedure: refused ones with the fact that refuses, and of the others the safest
// first, then the shortest that fits the time there is. The first possible one is recommended.
func Choose(procedures []procedure.Procedure, job Job) []Choice {
	choices := make([]Choice, 0, len(procedures))
	for _, p := range procedures {
		c := Choice{Procedure: p.ID, Title: p.Title, Family: p.Family, Verdict: Possible, Why: []string{}}
		made, err := Resolve(p, job)
		var refusal *Refusal
		switch {
		case errors.As(err, &refusal):
			c.Verdict, c.Why = Refused, refusal.Reasons
		default:
			c.Plan = &made
			c.Why = append(c.Why, fmt.Sprintf("Mar index %.0f, %.0f min.", made.Index, made.Minutes))
		}
		choices = append(choices, c)
	}
	slices.SortStableFunc(choices, func(a, b Choice) int { return compare(a, b, float64(job.LookOver.Budget)) })
	if len(choices) > 0 && choices[0].Plan != nil {
		choices[0].Verdict = Recommended
		choices[0].Why = append(choices[0].Why, reason(choices))
	}
	return choices
}

func compare(a, b Choice, budget float64) int {
	if (a.Plan == nil) != (b.Plan == nil) {
		if a.Plan == nil {
			return 1
		}
		return -1
	}
	if a.Plan == nil {
		return 0
	}
	// Bands of the index, not its difference, so that the order stays an order.
	bandA, bandB := int(a.Plan.Index/nearIndex/2), int(b.Plan.Index/nearIndex/2)
	late := func(p *Plan) int {
		if budget > 0 && p.Minutes > budget {
			return 1
		}
		return 0
	}
	return cmp.Or(cmp.Compare(bandA, bandB), cmp.Compare(late(a.Plan), late(b.Plan)), cmp.Compare(a.Plan.Minutes, b.Plan.Minutes))
}

func reason(choices []Choice) string {
	best := choices[0].Plan
	if len(choices) == 1 || choices[1].Plan == nil {
		return "The only one that does no harm here."
	}
	next := choices[1]
	if next.Plan.Index-best.Index > nearIndex {
		return fmt.Sprintf("Kinder to the paint than %s (index %.0f against %.0f).", next.Title, best.Index, next.Plan.Index)
	}
	return fmt.Sprintf("As kind to the paint as %s, and it takes %.0f min against %.0f.", next.Title, best.Minutes, next.Plan.Minutes)
}
