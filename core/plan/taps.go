package plan

import (
	"slices"

	"uskel/core/procedure"
	"uskel/core/wash"
)

// Taps are the plan's steps as the bay needs them: what is tapped, timed and folded. How the length of a stage varies is
// told by stage, as a share of it.
func (p Plan) Taps(varies map[string]float64) []wash.PlannedStep {
	steps := make([]wash.PlannedStep, 0, len(p.Steps))
	for _, s := range p.Steps {
		step := wash.PlannedStep{
			ID:        s.ID,
			Stage:     s.Stage,
			Title:     s.Title,
			Minutes:   s.Minutes,
			Ends:      p.endsAt(s),
			Rewets:    s.Rewets,
			Technique: s.Technique,
			Area:      s.Area,
			Written:   s.Written,
			Rinsing:   s.Rinsing,
			Product:   s.Product,
			ProductID: s.ProductID,
			Covers:    s.covers(),
			CV:        varies[s.Stage],
		}
		step.Base, step.Whole = s.Base, s.Whole
		if s.Part != nil {
			step.Round, step.Part = s.Part.Round, s.Part.Label
		}
		if s.Mix != nil {
			step.Product, step.ProductID = s.Mix.Product, s.Mix.ID
		}
		step.Asks, step.If, step.Opens, step.Closes = s.Asks, s.If, s.Opens, s.Closes
		if s.Panels != nil {
			step.Rinses = s.Panels.Rinses
		}
		if s.Dwell != nil && !s.Dwell.Each {
			step.Dwell = &wash.Dwell{From: s.Dwell.From, To: s.Dwell.To, Label: s.Dwell.Full}
		}
		steps = append(steps, step)
	}
	closeAll(steps)
	return steps
}

// closeAll lets the last look close whatever is left open until then: nothing goes home with its wipers up.
func closeAll(steps []wash.PlannedStep) {
	var open []string
	last := -1
	for i, s := range steps {
		for _, mark := range s.Opens {
			if !slices.Contains(open, mark) {
				open = append(open, mark)
			}
		}
		open = slices.DeleteFunc(open, func(mark string) bool { return slices.Contains(s.Closes, mark) })
		if s.Technique == procedure.Inspect {
			last = i
		}
	}
	if last >= 0 && len(open) > 0 {
		steps[last].Closes = append(slices.Clone(steps[last].Closes), open...)
	}
}

// endsAt are the products that are off the car when a step is done: where the parts of a round take one off, each on its
// zones, it is off with the last of them.
func (p Plan) endsAt(s FilledStep) []string {
	return slices.DeleteFunc(slices.Clone(s.Ends), func(id string) bool {
		return slices.ContainsFunc(p.Steps, func(t FilledStep) bool {
			return s.Part != nil && t.Part != nil && t.Base == s.Base && t.Part.N > s.Part.N && slices.Contains(t.Ends, id)
		})
	})
}

// protects are the products that put protection on or top it up.
var protects = []procedure.ProductClass{procedure.SpraySeal, procedure.SprayWax, procedure.CoatingTopUp}

// coatingService is the family of washes that service a coating.
const coatingService = "F4"

// Services reports whether the wash is the service that a coating wants from time to time.
func (p Plan) Services() bool { return p.Family == coatingService }
