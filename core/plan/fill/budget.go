package fill

import (
	"fmt"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
)

// flows are litres a minute through what a step rinses with: a small electric washer by its plate (docs/trade.md, section
// 4), a hose at the middle of its range (model).
var flows = map[string]float64{"pressure washer": 4.5, "hose": 15}

// lineRound is what drawing a hose or a lance's line round to the car's other side takes, min (model).
const lineRound = 0.3

// flow is what runs through a machine here, l/min: what the place's supply gives where that is known.
func (f *filler) flow(machine string) float64 {
	place := f.job.LookOver.Place
	if place.Flow > 0 && machine == string(place.Supply) {
		return place.Flow
	}
	return flows[machine]
}

// drawnRound is what that adds to a step where lines come from one side: once for a step that goes round the car, and for a
// part of a round on the side that the one before was not on.
func (f *filler) drawnRound(step *plan.FilledStep, s procedure.Step) float64 {
	lines := s.Machine == string(condition.PressureWasher) || s.Machine == string(condition.Hose)
	if !f.job.LookOver.Place.Sided || !lines {
		return 0
	}
	if f.part == nil {
		return lineRound
	}
	if last := len(f.plan.Steps) - 1; last >= 0 && f.plan.Steps[last].Part != nil && f.plan.Steps[last].Part.Side() != step.Part.Side() {
		return lineRound
	}
	return 0
}

// addWater counts a step's water: what runs while it rinses, and what is mixed.
func (f *filler) addWater(step *plan.FilledStep, s procedure.Step) {
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
	f.plan.Litres = measure.Tenths(f.plan.Litres + litres)
	step.Figures = append(
		step.Figures,
		plan.Figure{Name: "Water", Value: fmt.Sprintf("%.1f l", litres), From: from,
			Source: "Flow by common practice; change it to your machine's"},
	)
}
