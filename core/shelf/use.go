package shelf

import (
	"strings"
	"time"

	"uskel/core/plan"
	"uskel/core/procedure"
)

// Uses is what a plan takes off the shelf. Things go by their ids: a product or a set of cloths that gets another
// name keeps its use.
type Uses struct {
	Products map[string]float64 `json:"products" doc:"ml by product id"`
	Cloths   map[string]int     `json:"cloths" doc:"launderings by id of the set"`
}

// Set is a set of cloths that is in use.
type Set struct {
	ID    string
	Since time.Time
	ClothSet
}

// UsesOf works out what a plan takes off the shelf, given the sets of cloths in use. Products that stand on no shelf
// and cloths of no set are not counted.
func UsesOf(p plan.Plan, sets []Set) Uses {
	u := Uses{Products: map[string]float64{}, Cloths: map[string]int{}}
	for _, s := range p.Steps {
		if s.If != nil && !s.If.Expected {
			continue
		}
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
		if s.Technique == procedure.ContactTowel && s.Panels != nil && s.Colour != "" {
			if set, there := setFor(s.Cloth, s.Colour, sets); there {
				u.Cloths[set] += procedure.ClothCount(s.Cloth)
			}
		}
	}
	for cloth, n := range p.Laundry() {
		if set, there := setFor(cloth.Name, cloth.Colour, sets); there && cloth.Colour != "" {
			u.Cloths[set] += n
		}
	}
	return u
}

// setFor is the set that a step's cloths come from: of its colour, of the kind that it names where there are several,
// else the newest.
func setFor(cloth, colour string, sets []Set) (string, bool) {
	var best *Set
	named := func(s *Set) bool { return strings.Contains(strings.ToLower(cloth), strings.ToLower(s.Kind)) }
	for i := range sets {
		s := &sets[i]
		if s.Colour != colour {
			continue
		}
		if best == nil || named(s) && !named(best) || named(s) == named(best) && s.Since.After(best.Since) {
			best = s
		}
	}
	if best == nil {
		return "", false
	}
	return best.ID, true
}
