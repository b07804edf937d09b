package plan

import (
	"slices"

	"uskel/core/procedure"
)

// Outcome is a question of the plan with how long the wash takes by its answer, all else as expected.
type Outcome struct {
	Step   string            `json:"step" doc:"the procedure's step that asks"`
	Text   string            `json:"text"`
	Expect procedure.YesOrNo `json:"expect"`
	Yes    float64           `json:"yes" doc:"min of the whole wash when it is answered yes"`
	No     float64           `json:"no" doc:"min when it is answered no"`
	Adds   []string          `json:"adds" doc:"titles of the steps that only come after the other answer than expected"`
}

// Likely are the steps that the plan counts with: those that hang on an answer when that answer is expected.
func (p Plan) Likely() []FilledStep {
	if !slices.ContainsFunc(p.Steps, FilledStep.Unlikely) {
		return p.Steps
	}
	return slices.DeleteFunc(slices.Clone(p.Steps), FilledStep.Unlikely)
}

// Unlikely are the ids of the steps that the plan does not count with.
func (p Plan) Unlikely() []string {
	var ids []string
	for _, s := range p.Steps {
		if s.Unlikely() {
			ids = append(ids, s.ID)
		}
	}
	return ids
}
