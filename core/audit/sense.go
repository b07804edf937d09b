package audit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/condition"
	"uskel/core/vehicle"
)

// Doubt is something about a list that is worth another look before it is published.
type Doubt struct {
	Items []string `json:"items" doc:"ids of the items it is about; none when it is about the list"`
	Says  string   `json:"says"`
}

// Sense looks at a list as an old hand would: an item nobody can fail, two for the same thing, one that does not say what a pass
// looks like, parts of the car that no item looks at, and an order that walks back and forth.
func Sense(c Checklist) []Doubt {
	doubts := []Doubt{}
	say := func(items []string, format string, args ...any) {
		doubts = append(doubts, Doubt{items, fmt.Sprintf(format, args...)})
	}
	for k, i := range c.Items {
		if len(i.Kinds) == 0 {
			say([]string{i.ID}, "Nobody can fail %q: say what it may find.", i.Title)
		}
		if strings.TrimSpace(i.Done) == "" {
			say([]string{i.ID}, "%q does not say when it is done: two people may answer it differently.", i.Title)
		}
		for _, other := range c.Items[k+1:] {
			if same := i.sameAs(other); same != "" {
				say([]string{i.ID, other.ID}, "%q and %q look for the same: %s.", i.Title, other.Title, same)
			}
		}
	}
	if unseen := c.unseen(); len(unseen) > 0 && !c.OnRequest && c.At == WhenFinished { // others leave out on purpose
		say([]string{}, "No item looks at: %s.", strings.Join(unseen, ", "))
	}
	if w := c.Walk(); w.Metres > tooFar*w.Least {
		say([]string{}, "In this order one walks %.0f m round the car; %s takes %.0f m.", w.Metres, strings.Join(w.Order, ", "), w.Least)
	}
	return doubts
}

// Unlooked says what the services that a list is for deliver and no item of it looks at. A spot check and a check on the way leave out
// on purpose.
func Unlooked(c Checklist, menu condition.Menu) []Doubt {
	doubts := []Doubt{}
	if c.OnRequest || c.At != WhenFinished {
		return doubts
	}
	finds := func(k Kind) bool {
		return slices.ContainsFunc(c.Items, func(i Item) bool { return slices.Contains(i.Kinds, k) })
	}
	tips := slices.ContainsFunc(c.Items, func(i Item) bool { return slices.Contains(i.On(vehicle.Hatch), vehicle.Tips) })
	for _, kind := range []struct {
		what    string
		looked  bool
		ordered func(condition.Service) bool
	}{
		{"exhaust tips", tips, func(s condition.Service) bool { return s.Tips }},
		{"dressed tyres", finds(TyreBlotch), func(s condition.Service) bool { return s.Tyres != "" && s.Tyres != condition.BareTyres }},
		{"the inside", finds(InCabin), func(s condition.Service) bool { return s.Inside }},
		{"whether bonded matter came off", finds(BondedMatter), func(s condition.Service) bool { return len(s.Takes) > 0 }},
	} {
		var services []string
		for _, s := range menu.Listed() {
			mine := len(c.Families) == 0 || slices.ContainsFunc(s.Families, func(f string) bool { return slices.Contains(c.Families, f) })
			if mine && !kind.looked && kind.ordered(s) {
				services = append(services, s.Name)
			}
		}
		if len(services) > 0 {
			doubts = append(doubts, Doubt{[]string{}, fmt.Sprintf("No item looks at %s, ordered with %s.", kind.what,
				strings.Join(services, ", "))})
		}
	}
	return doubts
}

// sameAs says what two items both look for on the same zones; empty where they differ.
func (i Item) sameAs(other Item) string {
	if i.Zones != other.Zones || i.Side != other.Side || i.When.Sentence() != other.When.Sentence() || len(i.On(vehicle.Hatch)) == 0 {
		return ""
	}
	var both []Kind
	for _, k := range i.Kinds {
		if slices.Contains(other.Kinds, k) {
			both = append(both, k)
		}
	}
	return joined(both)
}

// unseen are the parts of a five-door that no item looks at. What is under it is seen on no walk round.
func (c Checklist) unseen() []string {
	seen := map[vehicle.Zone]bool{vehicle.Underside: true}
	for _, i := range c.Items {
		for _, z := range i.On(vehicle.Hatch) {
			seen[z] = true
		}
	}
	var labels []string
	for _, p := range vehicle.Hatch.Parts() {
		if !seen[p.Zone] && p.Surface != vehicle.Liner {
			labels = append(labels, p.Label)
		}
	}
	return labels
}

// sideApart is the way from the middle of one side of a mid-size car to the middle of the next, half a metre from it, m: half its
// length and half its width, and round the corner (4.4 by 1.8 m; model).
const sideApart = 4.1

// tooFar is how much farther than the best order is worth a word (model).
const tooFar = 1.2

// Way is how far one walks round a car for a list.
type Way struct {
	Metres float64  `json:"metres"`
	Least  float64  `json:"least" doc:"in the best order found"`
	Order  []string `json:"order" doc:"titles in that order"`
}

// ring are the sides in the order of a walk; the top is seen from wherever one stands.
var ring = []vehicle.Side{vehicle.FrontSide, vehicle.LeftSide, vehicle.RearSide, vehicle.RightSide}

// stands are the places of the ring where an item is looked at from; none when anywhere will do.
func (i Item) stands() []int {
	var at []int
	for k, side := range ring {
		if slices.ContainsFunc(i.On(vehicle.Hatch), func(z vehicle.Zone) bool {
			return z.Side() == side || z == vehicle.Shuts && side != vehicle.FrontSide || z == vehicle.Tips && side == vehicle.RearSide
		}) {
			at = append(at, k)
		}
	}
	return at
}

// round is the shortest way from a place of the ring past all that an item asks for, in sides, and where it ends.
func round(from int, all []int) (sides, end int) {
	best, at := math.MaxInt, from
	n := len(ring)
	for back := range n { // some way back first, then forward past the rest; and the other way about
		for _, turn := range []int{1, -1} {
			left, walked, here := slices.Clone(all), 0, from
			reach := func() { left = slices.DeleteFunc(left, func(x int) bool { return x == here }) }
			reach()
			for range back {
				if len(left) == 0 {
					break
				}
				here, walked = (here-turn+n)%n, walked+1
				reach()
			}
			for len(left) > 0 {
				here, walked = (here+turn+n)%n, walked+1
				reach()
			}
			if walked < best {
				best, at = walked, here
			}
		}
	}
	return best, at
}

func walked(items []Item) int {
	sum, at := 0, 0
	for _, i := range items {
		if all := i.stands(); len(all) > 0 {
			sides, end := round(at, all)
			sum, at = sum+sides, end
		}
	}
	return sum
}

// Walk is how far one walks for a list, beginning in front of the car, and how far in the best order that moving single items
// finds.
func (c Checklist) Walk() Way {
	best := slices.Clone(c.Items)
	least := walked(best)
	w := Way{Metres: float64(least) * sideApart}
	for better := true; better; {
		better = false
		for from := range best {
			for to := range best {
				moved := slices.Delete(slices.Clone(best), from, from+1)
				moved = slices.Insert(moved, to, best[from])
				if way := walked(moved); way < least {
					best, least, better = moved, way, true
				}
			}
		}
	}
	w.Least = float64(least) * sideApart
	for _, i := range best {
		w.Order = append(w.Order, i.Title)
	}
	return w
}
