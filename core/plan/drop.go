package plan

import (
	"slices"

	"uskel/core/condition"
	"uskel/core/procedure"
)

// Drop is a step that may be left out to keep a time budget, and what that costs in result.
type Drop struct {
	Step    string  `json:"step"`
	Title   string  `json:"title"`
	Minutes float64 `json:"minutes" doc:"saved"`
	Costs   string  `json:"costs" doc:"what the car goes without"`
}

// droppable is what may be left out when time is short, by option (common practice, no source); in which order, the
// service says. Nothing that keeps the paint safe is in it: no rinse, no pre-wash, no contact wash, no drying.
var droppable = map[condition.Option]struct {
	is    func(FilledStep) bool
	costs string
}{
	condition.TipsOption:    {zonesOf(procedure.TipsOnly), "The tips stay dull."},
	condition.TyresOption:   {classIs(procedure.TyreGel), "Tyres stay undressed."},
	condition.ProtectOption: {FilledStep.covers, "No fresh protection: the next wash takes longer."},
	condition.InsideOption:  {stepIs("inside"), "The inside stays as it came."},
	condition.BadgesOption:  {stepIs("badges", "badges-early", "badges-late"), "Grey stays in badges and edges."},
	condition.GlassOption:   {zonesOf(procedure.AllGlass), "Glass is only as clean as the drying leaves it."},
	condition.ShutsOption:   {zonesOf(procedure.AllShuts), "Shuts stay greasy: the customer sees them on getting in."},
}

func zonesOf(g procedure.ZoneGroup) func(FilledStep) bool {
	return func(s FilledStep) bool { return s.Group == g && s.Technique == procedure.Finish }
}

func classIs(classes ...procedure.ProductClass) func(FilledStep) bool {
	return func(s FilledStep) bool { return s.Technique == procedure.Finish && slices.Contains(classes, s.Class) }
}

// stepIs finds a step by its ids: every procedure that has it calls it so, whatever its title says.
func stepIs(ids ...string) func(FilledStep) bool {
	return func(s FilledStep) bool { return slices.Contains(ids, s.ID) }
}

// Drops says what to leave out first so that the plan fits into some minutes, in order, no more than is needed. What
// cannot be helped by dropping is said by the plan's warning.
func (p Plan) Drops(budget float64) []Drop {
	drops := []Drop{}
	over := p.Minutes - budget
	for _, option := range p.Ordered.Dropping() {
		kind := droppable[option]
		for _, s := range p.Likely() {
			if over <= 0 {
				return drops
			}
			if kind.is(s) && !slices.ContainsFunc(drops, func(d Drop) bool { return d.Step == s.ID }) {
				drops = append(drops, Drop{s.ID, s.Title, s.Minutes, kind.costs})
				over -= s.Minutes
			}
		}
	}
	return drops
}
