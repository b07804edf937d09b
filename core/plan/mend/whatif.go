package mend

import (
	"slices"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/schedule"
)

// Otherwise is one way of doing a wash otherwise than it is laid out: one of the questions that a lead asks of a plan. Only
// what is named in it changes.
type Otherwise struct {
	Says     string
	People   []string // ids of the crew; as it is when nil
	OneMore  string   // a machine of which there is one more
	Shade    bool     // the car stands in the shade
	Without  string   // a step that is left out
	Takeable bool     // the shop has what it asks for
}

// Hand is somebody who may wash.
type Hand struct {
	ID, Name string
	Trainee  bool
}

// Others are the questions a lead asks of the plan: another washer, a second machine where it is used, shade where it stands
// under the sky, without the step that costs most and may be left out, a trainee as well or instead. Spare are the people
// who are not in the crew; drop is a step worth leaving out, nil for none.
func Others(p plan.Plan, place condition.Place, crew, spare []Hand, kit []schedule.Machine, drop *plan.Drop) []Otherwise {
	ids := make([]string, len(crew))
	for i, h := range crew {
		ids[i] = h.ID
	}
	and := func(id string) []string { return append(slices.Clone(ids), id) }
	all := []Otherwise{{Says: "As it stands", Takeable: true}}
	if more, there := first(spare, func(h Hand) bool { return !h.Trainee }); there {
		all = append(all, Otherwise{Says: "With " + more.Name + " as well", People: and(more.ID), Takeable: true})
	}
	if washer := string(condition.PressureWasher); uses(p, washer) && has(kit, washer) {
		all = append(all, Otherwise{Says: "With one more pressure washer", OneMore: washer})
	}
	if place.Cover == climate.OpenSky {
		all = append(all, Otherwise{Says: "In the shade", Shade: true})
	}
	if drop != nil {
		all = append(all, Otherwise{Says: "Without “" + drop.Title + "”", Without: drop.Step, Takeable: true})
	}
	if learner, there := first(spare, func(h Hand) bool { return h.Trainee }); there && len(crew) > 0 && !crew[0].Trainee {
		all = append(all,
			Otherwise{Says: "With " + learner.Name + ", a trainee, as well", People: and(learner.ID), Takeable: true},
			Otherwise{Says: learner.Name + ", a trainee, instead of " + crew[0].Name,
				People: append([]string{learner.ID}, ids[1:]...), Takeable: true})
	}
	return all
}

// WorthDropping is the first step that may be left out and on which the finish of a timeline depends; nil for none.
func WorthDropping(p plan.Plan, t schedule.Timeline) *plan.Drop {
	for _, drop := range p.Drops(1) {
		if slices.ContainsFunc(t.Slots, func(s schedule.Slot) bool { return s.Step == drop.Step && s.Critical }) {
			return &drop
		}
	}
	return nil
}

func uses(p plan.Plan, machine string) bool {
	return slices.ContainsFunc(p.Steps, func(s plan.FilledStep) bool { return s.Machine == machine })
}

func has(kit []schedule.Machine, machine string) bool {
	return slices.ContainsFunc(kit, func(m schedule.Machine) bool { return m.Key() == machine })
}

func first(hands []Hand, is func(Hand) bool) (Hand, bool) {
	at := slices.IndexFunc(hands, is)
	if at < 0 {
		return Hand{}, false
	}
	return hands[at], true
}

// Take is an arrangement with what is done otherwise; who is no longer in the crew keeps no step of his own.
func (o Otherwise) Take(a plan.Arranged) plan.Arranged {
	if o.People != nil {
		a.People = o.People
		a.Moved = slices.DeleteFunc(slices.Clone(a.Moved), func(m plan.Moved) bool {
			return m.Person != "" && !slices.Contains(o.People, m.Person)
		})
	}
	if o.Without != "" {
		a.Without = append(slices.Clone(a.Without), o.Without)
	}
	return a
}
