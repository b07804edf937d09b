package audit

import (
	"fmt"
	"slices"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/wash"
)

// Moment is when a list is walked.
type Moment string

// The moments: round the finished car, or on the way, while what is found is put right with what is at hand (docs/trade.md, section
// 17: each stage can be checked, not only the finished car).
const (
	WhenFinished   Moment = ""
	BeforeMitt     Moment = "before the mitt"
	BeforeDrying   Moment = "before drying"
	BeforeHandOver Moment = "before hand-over"
)

// Values lists the moments on the way.
func (Moment) Values() []string {
	return []string{string(BeforeMitt), string(BeforeDrying), string(BeforeHandOver)}
}

// step is the index of the step of a plan that a moment comes before; -1 where the plan has none. Before hand-over is before the
// last look of the wash, or its last step where it has none.
func (m Moment) step(p plan.Plan) int {
	does := func(techniques ...procedure.Technique) func(plan.FilledStep) bool {
		return func(s plan.FilledStep) bool { return slices.Contains(techniques, s.Technique) }
	}
	switch m {
	case BeforeMitt:
		return slices.IndexFunc(p.Steps, does(procedure.ContactWash, procedure.ContactTowel))
	case BeforeDrying:
		return slices.IndexFunc(p.Steps, does(procedure.Dry))
	case BeforeHandOver:
		last := does(procedure.Inspect)
		for i := len(p.Steps) - 1; i > 0; i-- {
			if last(p.Steps[i]) {
				return i
			}
		}
		return len(p.Steps) - 1
	}
	return -1
}

// Looks are what is looked at on the way of a wash, by the id of the step that it comes before: of each moment one list, chosen as
// For chooses it, without the looks that this wash does not ask for.
func Looks(lists []Checklist, p plan.Plan, facts condition.Facts) map[string][]wash.Look {
	looks := map[string][]wash.Look{}
	for _, name := range Moment("").Values() {
		m := Moment(name)
		list, found := forMoment(lists, m, p.Family, facts)
		at := m.step(p)
		if !found || at < 0 {
			continue
		}
		skips := list.Skips(facts)
		for _, i := range list.Items {
			if _, skipped := skips[i.ID]; skipped {
				continue
			}
			finds := make([]string, len(i.Kinds))
			for k, kind := range i.Kinds {
				finds[k] = string(kind)
			}
			id := p.Steps[at].ID
			looks[id] = append(looks[id], wash.Look{ID: fmt.Sprintf("%s@%d/%s", list.ID, list.Version, i.ID), Check: list.Title,
				Title: i.Title, How: i.How, Done: i.Done, Finds: finds})
		}
	}
	return looks
}

// onTheWay are the starters of checks on the way: a shop takes them into use by publishing them.
func onTheWay() []Checklist {
	return []Checklist{
		{ID: "before-mitt", Version: 1, Title: "Before the mitt", At: BeforeMitt,
			About: "Nothing gritty is left for the mitt to drag along.", Items: []Item{
				{ID: "gone", Title: "What the pre-wash took off", Zones: procedure.LowerHalf, Kinds: []Kind{GritLeft},
					How: "Standing, then the sills close up.", Done: "Eight to nine tenths have gone; no clot is left.",
					Usual: map[Kind]Severity{GritLeft: Major}},
				{ID: "grit", Title: "Nothing gritty", Zones: procedure.Outside, Kinds: []Kind{GritLeft},
					How: "A wet fingertip, without pressure, on a sill and the rear bumper.", Done: "It feels smooth.",
					Usual: map[Kind]Severity{GritLeft: Major}},
			}},
		{ID: "before-drying", Version: 1, Title: "Before drying", At: BeforeDrying,
			About: "What is rinsed now is not rubbed in by the towel.", Items: []Item{
				{ID: "clear", Title: "The rinse runs clear", Zones: procedure.Outside, Kinds: []Kind{FoamLeft, DirtLeft},
					How: "Look at what runs off the sills.", Done: "Clear, without bubbles."},
				{ID: "gaps", Title: "No foam in gaps", Zones: procedure.OutsideRims, Kinds: []Kind{FoamLeft},
					How: "Mirrors, badges, lamps, filler, tyre edges.", Done: "No white anywhere."},
			}},
		{ID: "hand-over", Version: 1, Title: "Before hand-over", At: BeforeHandOver,
			About: "What the customer touches first.", Items: []Item{
				{ID: "shut", Title: "Nothing stands open", Zones: procedure.AllShuts, Kinds: []Kind{GreasyShuts, Drips},
					How: "Filler, wipers, mirrors, boot; a cloth along the driver's door.", Done: "All is closed and dry."},
				{ID: "drips", Title: "Drips since the towel", Zones: procedure.FrontEnd, Kinds: []Kind{Drips},
					How: "Below mirrors, badges, lamps.", Done: "Nothing runs."},
			}},
	}
}
