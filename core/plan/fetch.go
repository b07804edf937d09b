package plan

import (
	"math"

	"uskel/core/measure"
)

// Fetched is something to have at hand before a wash begins.
type Fetched struct {
	What   string         `json:"what"`
	Ml     measure.Volume `json:"ml,omitzero"      doc:"ml of a product that is mixed"`
	Vessel string         `json:"vessel,omitempty" doc:"what it is mixed in"`
	For    string         `json:"for"              doc:"the first step that needs it"`
}

// Fetch is what a wash needs at hand, in the order in which it is needed, each once: what is mixed and where, what is
// used as it comes, cloths by their colour, tools and machines.
func (p Plan) Fetch() []Fetched {
	list := []Fetched{}
	seen := map[string]bool{}
	need := func(f Fetched) {
		if key := f.What + " in " + f.Vessel; f.What != "" && !seen[key] {
			seen[key] = true
			list = append(list, f)
		}
	}
	for _, s := range p.Steps {
		if s.Mix != nil {
			need(Fetched{s.Mix.Product, s.Mix.Millis, s.Mix.Vessel, s.Title})
			for _, b := range s.Added {
				need(Fetched{b.Product, measure.Ml(int64(math.Round(b.Ml))), s.Mix.Vessel, s.Title})
			}
		}
		for _, what := range []string{s.Product, named(s.Cloth, s.Colour), s.Tool, s.Machine} {
			need(Fetched{What: what, For: s.Title})
		}
	}
	return list
}

// named is a cloth with its colour, or nothing.
func named(cloth, colour string) string {
	if cloth == "" || colour == "" {
		return cloth
	}
	return cloth + ", " + colour
}
