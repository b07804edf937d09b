package plan

import (
	"uskel/core/measure"
	"uskel/core/procedure"
)

// Costs are what a wash costs besides the people's time, minor units.
type Costs struct {
	Product measure.Money `json:"product"`
	Cloths  measure.Money `json:"cloths" doc:"laundering"`
	Water   measure.Money `json:"water"`
	Used    int           `json:"used" doc:"cloths that go to the laundry"`
	Without []string      `json:"without,omitempty" doc:"what it takes that has no price yet: counted at no cost"`
}

// Cloth is what a step names: a cloth and its colour.
type Cloth struct{ Name, Colour string }

// Laundry is how many of each cloth a wash takes: one serves all the steps that name it, wheel after wheel. The towels of a
// towel wash are counted by the plan.
func (p Plan) Laundry() map[Cloth]int {
	counted := map[Cloth]int{}
	for _, s := range p.Likely() {
		if s.Technique == procedure.ContactTowel && s.Panels != nil {
			continue
		}
		if n := procedure.ClothCount(s.Cloth); n > 0 {
			key := Cloth{s.Cloth, s.Colour}
			counted[key] = max(counted[key], n)
		}
	}
	return counted
}
