package procedure

import (
	"fmt"
	"slices"
	"strings"
)

// Over is what a round goes over, part by part.
type Over string

// What rounds go over. Sections are sized by the planner so that every film in the round is taken care of in time, here
// and now: the whole car where nothing dries.
const (
	OverWheels   Over = "wheels"
	OverSides    Over = "sides"
	OverPanels   Over = "panels"
	OverSections Over = "sections"
)

// Values lists them.
func (Over) Values() []string {
	return []string{string(OverWheels), string(OverSides), string(OverPanels), string(OverSections)}
}

// One is what one of the parts is called.
func (o Over) One() string {
	switch o {
	case OverWheels:
		return "wheel"
	case OverSides:
		return "side"
	case OverPanels:
		return "panel"
	}
	return "section"
}

// RoundOrder is in which order a round takes its parts.
type RoundOrder string

// The orders. The route is a walk round the car from the top; sunny side first begins where it dries first.
const (
	ByRoute      RoundOrder = "the route"
	SunnyFirst   RoundOrder = "sunny side first"
	DirtiestLast RoundOrder = "dirtiest last"
	AsGiven      RoundOrder = "as given"
)

// Values lists the orders.
func (RoundOrder) Values() []string {
	return []string{string(ByRoute), string(SunnyFirst), string(DirtiestLast), string(AsGiven)}
}

// Round is a run of steps that is done for one part of the car before the next part is begun. Its steps stand one after
// the other in the document, each in its own stage, so that times can be compared by stage.
type Round struct {
	ID    string     `json:"id"`
	Title string     `json:"title"`
	Over  Over       `json:"over"`
	Order RoundOrder `json:"order"`
	Given []string   `json:"given,omitempty" doc:"For the order as given: the parts' keys, first to last"`
	When  Rule       `json:"when" doc:"Part by part only when this holds, else each step for the whole car; {} for always"`
}

// Once is when a step of a round is done if not for every part.
type Once string

// A step of a round may be done once, before the first part or after the last: lay out, empty the bucket.
const (
	EachPart   Once = ""
	OnceBefore Once = "before"
	OnceAfter  Once = "after"
)

// Values lists them.
func (Once) Values() []string {
	return []string{string(EachPart), string(OnceBefore), string(OnceAfter)}
}

// PartKeys are the parts that a round can be over, on any car, in the order of a walk round it. Sections are sized by
// the planner and have none.
func (o Over) PartKeys() []string {
	switch o {
	case OverWheels:
		return []string{"fl", "fr", "rr", "rl"}
	case OverSides:
		return []string{"top", "left", "rear", "right", "front"}
	}
	return nil
}

// Round finds a round by id.
func (p Procedure) Round(id string) (Round, bool) {
	at := slices.IndexFunc(p.Rounds, func(r Round) bool { return r.ID == id })
	if at < 0 {
		return Round{}, false
	}
	return p.Rounds[at], true
}

// checkRounds names what makes rounds unusable: one that is not there, steps that do not stand together, an order that
// names no parts, a step done once that belongs to none.
func (p Procedure) checkRounds(add func(format string, args ...any)) {
	seen := map[string]bool{}
	for _, r := range p.Rounds {
		if r.ID == "" || !IsID(r.ID) {
			add("round id %q: %s", r.ID, IDWords)
		}
		if seen[r.ID] {
			add("round %s: the id is used twice", r.ID)
		}
		seen[r.ID] = true
		r.check(add)
	}
	left := map[string]bool{} // rounds that have ended: none of their steps may follow
	last, stood := "", map[string]Once{}
	for _, s := range p.Steps() {
		if s.Round != last && last != "" {
			left[last] = true
		}
		switch {
		case s.Round == "" && s.Once != EachPart:
			add("step %s: once %q belongs to a round, and it is in none", s.ID, s.Once)
		case s.Round != "" && !seen[s.Round]:
			add("step %s: there is no round %q", s.ID, s.Round)
		case s.Round != "" && left[s.Round]:
			add("step %s: the steps of the round %s must stand together", s.ID, s.Round)
		case !slices.Contains(s.Once.Values(), string(s.Once)):
			add("step %s once %q: use one of %q", s.ID, s.Once, s.Once.Values())
		case s.Round != "" && onceRank(s.Once) < onceRank(stood[s.Round]) && s.Round == last:
			add("step %s: what is done once before a round stands first in it, what is done once after it last", s.ID)
		}
		last, stood[s.Round] = s.Round, s.Once
	}
}

func onceRank(o Once) int {
	switch o {
	case OnceBefore:
		return 0
	case OnceAfter:
		return 2
	}
	return 1
}

func (r Round) check(add func(format string, args ...any)) {
	if r.Title == "" {
		add("round %s: say what is gone round in its title", r.ID)
	}
	if !slices.Contains(r.Over.Values(), string(r.Over)) {
		add("round %s over %q: use one of %q", r.ID, r.Over, r.Over.Values())
	}
	if !slices.Contains(r.Order.Values(), string(r.Order)) {
		add("round %s order %q: use one of %q", r.ID, r.Order, r.Order.Values())
	}
	if (r.Order == AsGiven) != (len(r.Given) > 0) {
		add("round %s: name its parts when their order is given, and only then", r.ID)
	}
	keys := r.Over.PartKeys()
	for i, key := range r.Given {
		if !slices.Contains(keys, key) || slices.Contains(r.Given[:i], key) {
			add("round %s given %q: use each of %q once", r.ID, key, keys)
		}
	}
}

// Sentence tells the round as a lead would: what is gone round, by what, in which order, and when.
func (r Round) Sentence() string {
	words := fmt.Sprintf("%s: one %s after the other, %s", r.Title, r.Over.One(), r.Order)
	if len(r.Given) > 0 {
		words += " (" + strings.Join(r.Given, ", ") + ")"
	}
	if !r.When.Always() {
		words += "; for the whole car at once unless " + r.When.Sentence()
	}
	return words + "."
}
