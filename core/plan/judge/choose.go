package judge

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure"
)

const (
	// riskBand is how wide a band of scratch risk is: within one, washes count as equally kind to the paint (model).
	riskBand = 20
	// lateBand is how much longer than the time there is, min, counts as another step too late (model).
	lateBand = 5
	// filmShows is the soil, mg/m2, from which a film is seen on paint (model): two thirds of a day's dust.
	filmShows = 200
)

// Choose judges every procedure: refused ones with the fact that refuses. Of the others those that deliver the service
// ordered come first: it is not replaced by a kinder one. Then those that wash all of the car and leave no film, then
// those whose dwells one person can keep, then those that fit the time there is, then the kindest to the paint by bands
// of scratch risk, then those made for the condition, then the shop's standard, then the shortest, then the cheapest. The
// first is recommended if it delivers what was ordered, once every painted zone is graded: any may be the worst, which
// decides.
func Choose(procedures []procedure.Procedure, job plan.Job) []plan.Choice {
	choices := make([]plan.Choice, 0, len(procedures))
	ordered := job.Menu.Of(job.LookOver.Service)
	there := ordered.There(job.LookOver.Budget)
	for i, filled := range fill.All(procedures, job) {
		p := procedures[i]
		c := plan.Choice{
			Procedure: p.ID,
			Title:     p.Title,
			Family:    p.Family,
			Standard:  p.Standard,
			Delivers:  ordered.Delivers(p.ID, p.Family),
			Verdict:   plan.Possible,
			Why:       []string{},
		}
		var refusal *plan.Refusal
		switch {
		case errors.As(filled.Err, &refusal):
			c.Verdict, c.Why = plan.Refused, refusal.Reasons
		default:
			c.Plan, c.Suits = &filled.Plan, !p.Suits.Always() && p.Suits.Holds(filled.Facts)
			c.Minutes, c.Index, c.Litres = c.Plan.Minutes, c.Plan.Index, c.Plan.Litres
			c.Cost, c.Film, c.Undone = c.Plan.Cost, c.Plan.Film, len(c.Plan.Undone)
			explain(&c, p, filled.Facts, there)
			if !c.Delivers {
				c.Why = append(c.Why, "Is not what was ordered: "+ordered.Name+".")
			}
		}
		choices = append(choices, c)
	}
	slices.SortStableFunc(choices, func(a, b plan.Choice) int { return compare(a, b, float64(there)) })
	looked := condition.Assess(job.Vehicle, job.LookOver, job.Menu).Looked()
	if len(choices) > 0 && choices[0].Plan != nil && choices[0].Delivers && looked {
		choices[0].Verdict = plan.Recommended
		choices[0].Why = append(choices[0].Why, reason(choices, there))
	}
	return choices
}

// falls reports whether a plan falls short of a washed car.
func falls(p *plan.Plan) bool { return len(p.Undone) > 0 || p.Film > filmShows }

// explain says what speaks for and against a possible procedure.
func explain(c *plan.Choice, p procedure.Procedure, facts condition.Facts, budget int) {
	c.Why = append(c.Why, fmt.Sprintf("Scratch risk %.0f, %.0f min.", c.Plan.Index, c.Plan.Minutes))
	if c.Suits {
		c.Why = append(c.Why, "Made for it: "+p.Suits.Why(facts)+".")
	}
	if n := len(c.Plan.Undone); n > 0 {
		c.Why = append(c.Why, fmt.Sprintf("Leaves %d zones unwashed.", n))
	} else if c.Plan.Film > filmShows {
		c.Why = append(c.Why, fmt.Sprintf("Leaves a film that shows: %.0f mg/m² on the worst panel.", c.Plan.Film))
	}
	if n := len(c.Plan.Line.Late); n > 0 {
		c.Why = append(c.Why, fmt.Sprintf("Product dries on it here: one person cannot keep %d of its dwells.", n))
	}
	if budget > 0 && c.Plan.Minutes > float64(budget) {
		c.Why = append(c.Why, fmt.Sprintf("Takes longer than the %d min there are.", budget))
	}
}

// Band is the band of scratch risk that a plan is in: 0 up to 20, 1 up to 40.
func Band(p *plan.Plan) int { return max(0, int(math.Ceil(p.Index/riskBand))-1) }

func compare(a, b plan.Choice, budget float64) int {
	if a.Plan == nil || b.Plan == nil {
		return cmp.Compare(worseLast(a.Plan == nil), worseLast(b.Plan == nil))
	}
	late := func(p *plan.Plan) int {
		if budget <= 0 {
			return 0
		}
		return int(math.Ceil(max(0, p.Minutes-budget) / lateBand))
	}
	dries := func(p *plan.Plan) int { return worseLast(len(p.Line.Late) > 0) }
	return cmp.Or(
		cmp.Compare(worseLast(!a.Delivers), worseLast(!b.Delivers)),
		cmp.Compare(worseLast(falls(a.Plan)), worseLast(falls(b.Plan))),
		cmp.Compare(dries(a.Plan), dries(b.Plan)),
		cmp.Compare(late(a.Plan), late(b.Plan)),
		cmp.Compare(Band(a.Plan), Band(b.Plan)),
		cmp.Compare(
			worseLast(!a.Suits),
			worseLast(!b.Suits),
		),
		cmp.Compare(worseLast(!a.Standard), worseLast(!b.Standard)),
		cmp.Compare(a.Plan.Minutes, b.Plan.Minutes),
		cmp.Compare(a.Plan.Cost, b.Plan.Cost),
	)
}

func worseLast(worse bool) int {
	if worse {
		return 1
	}
	return 0
}

// reason says why the first choice is better than the next, by the first thing in which they differ.
func reason(choices []plan.Choice, budget int) string {
	best := choices[0]
	if len(choices) == 1 || choices[1].Plan == nil {
		return "The only one that does no harm here."
	}
	next := choices[1]
	if !next.Delivers {
		return "The only one that delivers what was ordered and does no harm here."
	}
	late := func(c plan.Choice) float64 { return max(0, c.Plan.Minutes-float64(budget)) }
	switch {
	case falls(next.Plan) && !falls(best.Plan):
		return fmt.Sprintf("Washes all of it; %s does not.", next.Title)
	case len(next.Plan.Line.Late) > 0 && len(best.Plan.Line.Late) == 0:
		return fmt.Sprintf("Every dwell can be kept; with %s product dries on the car.", next.Title)
	case budget > 0 && late(next) > 0 && late(best) == 0:
		return fmt.Sprintf("Fits the %d min there are; %s takes %.0f.", budget, next.Title, next.Plan.Minutes)
	case budget > 0 && late(next) >= late(best)+lateBand:
		return fmt.Sprintf("Nothing fits the %d min there are. It comes nearest: %s takes %.0f.", budget, next.Title, next.Plan.Minutes)
	case Band(next.Plan) > Band(best.Plan):
		return fmt.Sprintf("Kinder to the paint than %s: scratch risk %.0f against %.0f.", next.Title, best.Plan.Index, next.Plan.Index)
	case best.Suits && !next.Suits:
		return fmt.Sprintf("As kind to the paint as %s, and made for this condition.", next.Title)
	case best.Standard && !next.Standard:
		return fmt.Sprintf("The shop's standard; as kind to the paint as %s.", next.Title)
	}
	return fmt.Sprintf("As kind to the paint as %s, and it takes %.0f min against %.0f.", next.Title, best.Plan.Minutes, next.Plan.Minutes)
}

// NothingDelivers says why no procedure is recommended, though one may be chosen: nothing can be done here, or nothing
// that delivers what was ordered.
func NothingDelivers(choices []plan.Choice, job plan.Job) string {
	could := slices.IndexFunc(choices, func(c plan.Choice) bool { return c.Verdict != plan.Refused })
	if could < 0 {
		return "Every procedure would do harm or cannot be done here."
	}
	name := job.Menu.Of(job.LookOver.Service).Name
	said := "Nothing that delivers " + name + " can be done here"
	if at := slices.IndexFunc(choices, func(c plan.Choice) bool { return c.Delivers }); at >= 0 && len(choices[at].Why) > 0 {
		said += fmt.Sprintf(": %s is refused (%s)", choices[at].Title, choices[at].Why[0])
	}
	return fmt.Sprintf("%s. Agree another service with the customer, or choose a wash on the plan, such as %s.", said, choices[could].Title)
}
