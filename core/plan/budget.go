package plan

import (
	"fmt"
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
		for _, s := range p.likely() {
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

// flows are litres a minute through what a step rinses with: a small electric washer by its plate (docs/trade.md, section
// 4), a hose at the middle of its range (model).
var flows = map[string]float64{"pressure washer": 4.5, "hose": 15}

// flow is what runs through a machine here, l/min: what the place's supply gives where that is known.
func (f *filler) flow(machine string) float64 {
	place := f.job.LookOver.Place
	if place.Flow > 0 && machine == string(place.Supply) {
		return place.Flow
	}
	return flows[machine]
}

// lineRound is what drawing a hose or a lance's line round to the car's other side takes, min (model).
const lineRound = 0.3

// drawnRound is what that adds to a step where lines come from one side: once for a step that goes round the car, and for a
// part of a round on the side that the one before was not on.
func (f *filler) drawnRound(step *FilledStep, s procedure.Step) float64 {
	lines := s.Machine == string(condition.PressureWasher) || s.Machine == string(condition.Hose)
	if !f.job.LookOver.Place.Sided || !lines {
		return 0
	}
	if f.part == nil {
		return lineRound
	}
	if last := len(f.plan.Steps) - 1; last >= 0 && f.plan.Steps[last].Part != nil && f.plan.Steps[last].Part.side() != step.Part.side() {
		return lineRound
	}
	return 0
}

// addWater counts a step's water: what runs while it rinses, and what is mixed.
func (f *filler) addWater(step *FilledStep, s procedure.Step) {
	litres := 0.0
	from := ""
	if flow := f.flow(s.Machine); flow > 0 && (s.Technique == procedure.Rinse || s.Technique == procedure.Apply) {
		litres = flow * step.Minutes
		from = fmt.Sprintf("%.1f l/min for %.1f min", flow, step.Minutes)
	}
	if step.Mix != nil {
		mixed := step.Mix.Water.Ml() / 1000
		if !poured(step.Mix.Vessel) {
			mixed = step.Mix.Takes.Ml() / 1000
		}
		litres += mixed
		from = join(from, fmt.Sprintf("%.1f l of mix", mixed))
	}
	if litres == 0 {
		return
	}
	f.plan.Litres = round1(f.plan.Litres + litres)
	step.Figures = append(
		step.Figures,
		Figure{"Water", fmt.Sprintf("%.1f l", litres), from, "Flow by common practice; change it to your machine's"},
	)
}
