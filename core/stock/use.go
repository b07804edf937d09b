// Package stock says what washes take off the shelf, by their plans and their taps, and whether a day's washes have
// enough of it.
package stock

import (
	"maps"
	"math"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/wash"
)

// Uses is what a wash takes off the shelf. Things go by their ids: a product or a set of cloths that gets another
// name keeps its use.
type Uses struct {
	Products map[string]float64 `json:"products" doc:"ml by product id"`
	Cloths   map[string]int     `json:"cloths" doc:"launderings by id of the set"`
	// Steps are the uses of each step of the plan, also of those that are done only after an answer.
	Steps map[string]StepUses `json:"steps,omitempty" doc:"by id of the step"`
}

// StepUses is what one step takes off the shelf.
type StepUses struct {
	Products map[string]float64 `json:"products,omitempty" doc:"ml by product id"`
	Cloths   []ClothUse         `json:"cloths,omitempty"`
	Main     string             `json:"main,omitempty" doc:"id of the product that the step is about"`
	Put      float64            `json:"put,omitempty" doc:"ml of it that the plan puts in; what the step does not take stays in the vessel"`
}

// ClothUse is some cloths of a set. One that is named alike serves all the steps that name it, and is laundered once; towels of a towel
// wash are each used up by their own step.
type ClothUse struct {
	Set   string `json:"set"`
	Name  string `json:"name"`
	Count int    `json:"count"`
	Each  bool   `json:"each,omitempty" doc:"fresh ones for this step"`
}

// UsesOf works out what a plan takes off the shelf, given the sets of cloths in use, if all goes as expected. Products that stand on no
// shelf and cloths of no set are not counted.
func UsesOf(p plan.Plan, sets []shelf.ClothStock) Uses {
	steps, expected := map[string]StepUses{}, map[string]bool{}
	for _, s := range p.Steps {
		steps[s.ID], expected[s.ID] = usesOf(s, sets), s.If == nil || s.If.Expected
	}
	return Uses{Steps: steps}.of(func(step string) bool { return expected[step] })
}

// usesOf is what a step of a plan takes.
func usesOf(s plan.FilledStep, sets []shelf.ClothStock) StepUses {
	u := StepUses{Products: map[string]float64{}}
	for _, b := range s.Added {
		if b.ID != "" {
			u.Products[b.ID] += b.Ml
		}
	}
	id := s.ProductID
	if s.Mix != nil {
		id = s.Mix.ID
	}
	switch {
	case id == "":
	case s.Taken > 0:
		u.Products[id] += s.Taken
	case s.Mix != nil: // a plan from before it was known how much of a mix a wash takes
		u.Products[id] += s.Mix.Millis.Ml()
	}
	if u.Main = id; s.Mix != nil {
		u.Put = s.Mix.Millis.Ml()
	} else {
		u.Put = s.Taken
	}
	towels := s.Technique == procedure.ContactTowel && s.Panels != nil
	n := procedure.ClothCount(s.Cloth)
	if set, there := shelf.SetFor(s.Cloth, s.Colour, sets); there && n > 0 {
		u.Cloths = []ClothUse{{set.ID, s.Cloth, n, towels}}
	}
	return u
}

// poured is what the step took where so much was put in as somebody said, not what the plan asks: a mix that was made stronger takes more
// of the product for the same film.
func (u StepUses) poured(ml float64) StepUses {
	if u.Main == "" {
		return u
	}
	u.Products = maps.Clone(u.Products)
	if u.Put > 0 {
		u.Products[u.Main] *= ml / u.Put
	} else {
		u.Products[u.Main] = ml
	}
	return u
}

// Tapped is what a wash took by its taps: of the steps that were begun, so that a branch that was taken counts and a step that was left
// out does not, and as much as was put in where somebody said so. Where nobody tapped a single step the plan is all there is to go by; so
// it is with washes from before the steps were kept.
func (u Uses) Tapped(state wash.State) Uses {
	begun := map[string]bool{}
	u.Steps = maps.Clone(u.Steps)
	for _, s := range state.Steps {
		if step, there := u.Steps[s.ID]; there && s.Poured != nil {
			u.Steps[s.ID] = step.poured(*s.Poured)
		}
		if s.Status == wash.Running || s.Status == wash.Paused || s.Status == wash.Ended {
			begun[s.ID] = true
		}
	}
	if len(begun) == 0 || len(u.Steps) == 0 {
		return u
	}
	return u.of(func(step string) bool { return begun[step] })
}

// of adds up the steps that count.
func (u Uses) of(counts func(step string) bool) Uses {
	sum := Uses{Products: map[string]float64{}, Cloths: map[string]int{}, Steps: u.Steps}
	shared := map[ClothUse]int{}
	for id, step := range u.Steps {
		if !counts(id) {
			continue
		}
		for product, ml := range step.Products {
			sum.Products[product] += ml
		}
		for _, c := range step.Cloths {
			if c.Each {
				sum.Cloths[c.Set] += c.Count
				continue
			}
			key := ClothUse{Set: c.Set, Name: c.Name}
			shared[key] = max(shared[key], c.Count)
		}
	}
	for c, n := range shared {
		sum.Cloths[c.Set] += n
	}
	return sum
}

// Cost is what it is worth: products by what a litre of them costs, cloths by what laundering one costs, minor units.
func (u Uses) Cost(products []shelf.Product, launder measure.Money) measure.Money {
	var sum float64
	for _, p := range products {
		sum += u.Products[p.ID] * float64(p.CostPerL) / 1000
	}
	for _, n := range u.Cloths {
		sum += float64(launder) * float64(n)
	}
	return measure.Money(math.Round(sum))
}
