package shop

import (
	"cmp"
	"slices"
	"strings"
	"sync"
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/plan/judge"
	"uskel/core/procedure/starters"
	"uskel/core/vehicle"
)

// PlaceOffer is what the starter procedures can wash at a kind of place, worked out as a plan would
// be: a saloon on a mild grey day.
type PlaceOffer struct {
	Kind   PlaceKind `json:"kind"`
	Runoff bool      `json:"runoff" doc:"with leave for wash water to run to the drain"`
	Light  []string  `json:"light" doc:"procedures for a lightly dirty car, the best first"`
	Dirty  []string  `json:"dirty" doc:"procedures for one that is clearly dirty"`
	Says   string    `json:"says" doc:"what that comes to, and why where nothing can be done"`
}

// PlaceOffers are those of all templates, with and without leave to let water run off.
var PlaceOffers = sync.OnceValue(func() []PlaceOffer {
	var offers []PlaceOffer
	for _, t := range PlaceTemplates {
		for _, runoff := range []bool{false, true} {
			offers = append(offers, t.offer(runoff))
		}
	}
	return offers
})

// lightly and clearly are how dirty the two cars are all over, by grade.
const (
	lightly contact.Grade = 1
	clearly contact.Grade = 2
)

func (t PlaceTemplate) offer(runoff bool) PlaceOffer {
	o := PlaceOffer{Kind: t.Kind, Runoff: runoff}
	var light, dirty string
	o.Light, light = t.washes(runoff, lightly)
	o.Dirty, dirty = t.washes(runoff, clearly)
	switch {
	case len(o.Light) == 0:
		o.Says = "Nothing can be washed here like this. By the procedures: " + light
	case len(o.Dirty) == 0:
		o.Says = "On a mild day light dirt can be washed here; a car that is clearly dirty cannot. By the procedures: " + dirty
	default:
		o.Says = "On a mild day light dirt and cars that are clearly dirty can be washed here."
	}
	return o
}

// washes are the starters that take a car so dirty at such a place, and why not where none does.
func (t PlaceTemplate) washes(runoff bool, g contact.Grade) (titles []string, why string) {
	titles = []string{}
	car := vehicle.Vehicle{Body: vehicle.Saloon, Shade: vehicle.Mid, Finish: vehicle.Ordinary,
		Wheels: vehicle.WheelSpec{Inches: 17, Spokes: vehicle.PlainSpokes}}
	look := condition.LookOver{Grades: map[vehicle.Zone]contact.Grade{}, Protection: condition.Protection{Kind: condition.Unknown,
		Water: condition.NotSeen}, Service: condition.StarterMenu()[0].ID, Place: t.place("", runoff, 0)}
	for _, p := range car.Body.Parts() {
		look.Grades[p.Zone] = g
	}
	at := time.Date(2026, time.May, 4, 10, 0, 0, 0, time.UTC)
	air, _ := climate.At(at, nil, nil)
	water, _ := climate.AssumedWater()
	job := plan.Job{Vehicle: car, LookOver: look, Weather: air.Under(40, 120), Hardness: water.Hardness, Solids: water.Solids,
		Menu: condition.StarterMenu(), At: at}
	refusals := []string{}
	for _, c := range judge.Choose(starters.Starters(), job) {
		if c.Verdict != plan.Refused && c.Delivers {
			titles = append(titles, c.Title)
			continue
		}
		for _, w := range c.Why {
			says, _, _ := strings.Cut(w, " (") // the reason without the fact that it rests on
			refusals = append(refusals, says)
		}
	}
	return titles, commonest(refusals)
}

// commonest are the two reasons that most procedures give.
func commonest(reasons []string) string {
	counts := map[string]int{}
	for _, r := range reasons {
		counts[r]++
	}
	order := slices.Clone(reasons)
	slices.SortStableFunc(order, func(a, b string) int { return cmp.Compare(counts[b], counts[a]) })
	return strings.Join(slices.Compact(order)[:min(2, len(slices.Compact(slices.Clone(order))))], " ")
}
