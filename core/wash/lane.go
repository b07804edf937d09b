package wash

import (
	"cmp"
	"slices"

	"uskel/core/measure"
)

// Planned is where the plan of the rest of a wash puts a piece of a step.
type Planned struct {
	Step  string          `json:"step,omitempty"`
	Start measure.Seconds `json:"start"`
	Who   string          `json:"who,omitempty" doc:"by id; absent when it runs by itself"`
}

// Lane is one person's work: what they have in hand, or else do next, and what comes after it.
type Lane struct {
	Step  string   `json:"step,omitempty"`
	After []string `json:"after" doc:"two at most"`
}

// afterShown is how many steps a lane shows beside the one in hand.
const afterShown = 2

// LaneOf is somebody's lane. The plan's order counts, which uses a dwell for other work. What the plan gives to nobody
// runs by itself and is everybody's. Whoever has done their own goes on with what others have not begun. Without a
// plan, or for somebody it does not know, the steps come in the order of the procedure.
func LaneOf(who string, steps []PlannedStep, state State, plan []Planned) Lane {
	waiting := []string{}
	own := []string{}
	order := reading(plan)
	for step, people := range order.whose {
		for i, p := range people {
			order.whose[step][i] = state.Heir(p)
		}
	}
	known := slices.ContainsFunc(plan, func(p Planned) bool { return state.Heir(p.Who) == who })
	for i, s := range steps {
		if state.Steps[i].Status != Waiting {
			continue
		}
		waiting = append(waiting, s.ID)
		if !known || s.Rework || order.isFor(who, s.ID) {
			own = append(own, s.ID)
		}
	}
	ahead := own
	if len(own) == 0 {
		ahead = waiting
	}
	if known {
		slices.SortStableFunc(ahead, func(a, b string) int { return order.compare(a, b) })
	}
	lane := Lane{Step: state.inHandOf(who), After: []string{}}
	if lane.Step == "" && len(ahead) > 0 {
		lane.Step, ahead = ahead[0], ahead[1:]
	}
	lane.After = append(lane.After, ahead[:min(afterShown, len(ahead))]...)
	return lane
}

// Heir is who does what a plan gives to somebody: they themselves, or whoever was handed the rest of their work since.
func (state State) Heir(who string) string {
	for _, h := range state.Handed {
		if h.Rest && h.By == who {
			who = h.To
		}
	}
	return who
}

// Washing reports whether somebody has work in this wash: a step in hand, what was handed to them, or the wash itself that
// was given to them, unless they handed it on.
func (state State) Washing(who, given string) bool {
	_, handed := state.HandedTo(who)
	return handed || state.inHandOf(who) != "" || state.Heir(given) == who
}

// HandedTo is what was handed to somebody last, as long as it is still to do; its step is empty when only the rest of it
// is left.
func (state State) HandedTo(who string) (Handed, bool) {
	for _, h := range slices.Backward(state.Handed) {
		if h.To != who {
			continue
		}
		open := slices.ContainsFunc(state.Steps, func(s StepState) bool {
			return s.ID == h.Step && s.By == who && s.Ended.IsZero()
		})
		if !open {
			h.Step = ""
		}
		if open || h.Rest && state.Heir(h.By) == who {
			return h, true
		}
	}
	return Handed{}, false
}

// inHandOf is the step that somebody has in hand, or nothing.
func (state State) inHandOf(who string) string {
	for _, h := range state.Hands {
		if h.By == who {
			return h.Step
		}
	}
	return ""
}

// reading is a plan by step: when each begins first, and who has a part in it.
func reading(plan []Planned) planned {
	p := planned{starts: map[string]measure.Seconds{}, whose: map[string][]string{}}
	for _, s := range plan {
		if s.Step == "" {
			continue
		}
		if was, there := p.starts[s.Step]; !there || s.Start < was {
			p.starts[s.Step] = s.Start
		}
		if s.Who != "" {
			p.whose[s.Step] = append(p.whose[s.Step], s.Who)
		}
	}
	return p
}

type planned struct {
	starts map[string]measure.Seconds
	whose  map[string][]string
}

func (p planned) isFor(who, step string) bool {
	return len(p.whose[step]) == 0 || slices.Contains(p.whose[step], who)
}

// compare puts steps in the order of their starts; one that the plan does not have comes last.
func (p planned) compare(a, b string) int {
	first, planned := p.starts[a]
	second, both := p.starts[b]
	if planned != both {
		if planned {
			return -1
		}
		return 1
	}
	return cmp.Compare(first, second)
}
