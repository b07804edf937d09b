package plan

import (
	"slices"

	"uskel/core/procedure"
	"uskel/core/wash"
)

// Taps are the plan's steps as the bay needs them: what is tapped, timed and folded.
func (p Plan) Taps() []wash.PlannedStep {
	steps := make([]wash.PlannedStep, 0, len(p.Steps))
	for _, s := range p.Steps {
		step := wash.PlannedStep{
			ID:        s.ID,
			Stage:     s.Stage,
			Title:     s.Title,
			Minutes:   s.Minutes,
			Ends:      s.Ends,
			Rewets:    s.Rewets,
			Technique: s.Technique,
			Area:      s.Area,
			Written:   s.Written,
			Rinsing:   s.Rinsing,
			Product:   s.Product,
			ProductID: s.ProductID,
			Covers:    s.covers(),
		}
		if s.Mix != nil {
			step.Product, step.ProductID = s.Mix.Product, s.Mix.ID
		}
		if s.Panels != nil {
			step.Rinses = s.Panels.Rinses
		}
		if s.Dwell != nil && !s.Dwell.Each {
			step.Dwell = &wash.Dwell{From: s.Dwell.From, To: s.Dwell.To, Label: s.Dwell.Full}
		}
		steps = append(steps, step)
	}
	return steps
}

// protects are the products that put protection on or top it up.
var protects = []procedure.ProductClass{procedure.SpraySeal, procedure.SprayWax, procedure.CoatingTopUp}

// covers reports whether a step puts protection on.
func (s FilledStep) covers() bool {
	return s.Technique == procedure.Finish && slices.Contains(protects, s.Class)
}

// coatingService is the family of washes that service a coating.
const coatingService = "F4"

// Services reports whether the wash is the service that a coating wants from time to time.
func (p Plan) Services() bool { return p.Family == coatingService }
