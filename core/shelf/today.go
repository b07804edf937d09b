package shelf

import (
	"fmt"
	"math"
	"slices"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
)

// Car is a wash that is still to come, and where.
type Car struct {
	Plan  plan.Plan
	Place condition.Place
}

// NeedKind is what a day's washes need.
type NeedKind string

// The kinds of need.
const (
	NeedsProduct NeedKind = "product"
	NeedsMix     NeedKind = "mix"
	NeedsCloths  NeedKind = "cloths"
	NeedsWater   NeedKind = "water"
)

// Values lists the kinds.
func (NeedKind) Values() []string {
	return []string{string(NeedsProduct), string(NeedsMix), string(NeedsCloths), string(NeedsWater)}
}

// Need is one thing that a day's washes need, against what there is.
type Need struct {
	Kind  NeedKind `json:"kind"`
	What  string   `json:"what"`
	Need  float64  `json:"need" doc:"ml, cloths or litres by the kind"`
	Have  *float64 `json:"have,omitempty" doc:"absent where it was never counted"`
	Short bool     `json:"short"`
	Says  string   `json:"says" doc:"what to make or fetch before opening"`
}

// Enough holds a day's washes against what is on the shelf: products that were counted, clean cloths, mixes to make and
// water to carry. What is short comes first. Left is ml by id of the products that were counted.
func Enough(cars []Car, products []plan.Product, left map[string]float64, sets []Set) []Need {
	needs := append(productsFor(cars, products, left, sets), cloths(cars, sets)...)
	needs = append(append(needs, mixes(cars)...), water(cars)...)
	slices.SortStableFunc(needs, func(a, b Need) int {
		switch {
		case a.Short == b.Short:
			return 0
		case a.Short:
			return -1
		}
		return 1
	})
	return needs
}

// used sums what all cars take off the shelf.
func used(cars []Car, sets []Set) Uses {
	sum := Uses{Products: map[string]float64{}, Cloths: map[string]int{}}
	for _, c := range cars {
		u := UsesOf(c.Plan, sets)
		for id, ml := range u.Products {
			sum.Products[id] += ml
		}
		for id, n := range u.Cloths {
			sum.Cloths[id] += n
		}
	}
	return sum
}

func productsFor(cars []Car, products []plan.Product, left map[string]float64, sets []Set) []Need {
	var needs []Need
	sum := used(cars, sets)
	for _, p := range products {
		ml := sum.Products[p.ID]
		if ml <= 0 {
			continue
		}
		n := Need{Kind: NeedsProduct, What: p.Name, Need: math.Round(ml)}
		if have, counted := left[p.ID]; counted {
			have = math.Max(0, math.Round(have))
			n.Have, n.Short = &have, ml > have
		}
		switch {
		case n.Short:
			n.Says = fmt.Sprintf("%.0f ml are needed and %.0f are left: fetch %.0f more.", n.Need, *n.Have, n.Need-*n.Have)
		case n.Have != nil:
			n.Says = fmt.Sprintf("%.0f of %.0f ml.", n.Need, *n.Have)
		default:
			n.Says = fmt.Sprintf("%.0f ml; it was never counted.", n.Need)
		}
		needs = append(needs, n)
	}
	return needs
}

func cloths(cars []Car, sets []Set) []Need {
	var needs []Need
	sum := used(cars, sets)
	for _, set := range sets {
		n := sum.Cloths[set.ID]
		if n == 0 {
			continue
		}
		have := float64(set.Count)
		need := Need{Kind: NeedsCloths, What: fmt.Sprintf("%s, %s", set.Kind, set.Colour), Need: float64(n), Have: &have, Short: n > set.Count}
		need.Says = fmt.Sprintf("%d of %d.", n, set.Count)
		if need.Short {
			need.Says = fmt.Sprintf("%d clean ones are needed and there are %d: launder %d meanwhile, or take others.", n, set.Count, n-set.Count)
		}
		needs = append(needs, need)
	}
	return needs
}

// mixes are what is made ready in sprayers: one filling serves several cars.
func mixes(cars []Car) []Need {
	type made struct{ product, vessel string }
	sums, fills, order := map[made]float64{}, map[made]float64{}, []made{}
	for _, c := range cars {
		var last made
		for _, s := range c.Plan.Steps {
			switch {
			case s.If != nil && !s.If.Expected:
			case s.Mix != nil && s.Mix.Takes.Ml() < s.Mix.Millis.Ml()+s.Mix.Water.Ml()-1: // not poured away
				last = made{s.Mix.Product, s.Mix.Vessel}
				if _, there := fills[last]; !there {
					order = append(order, last)
				}
				fills[last] = s.Mix.Millis.Ml() + s.Mix.Water.Ml()
				sums[last] += s.Mix.Takes.Ml()
			case s.Drawn != nil:
				sums[made{s.Drawn.Product, s.Drawn.Vessel}] += s.Drawn.Takes.Ml()
			}
		}
	}
	var needs []Need
	for _, m := range order {
		n := math.Ceil(sums[m] / fills[m])
		needs = append(needs, Need{Kind: NeedsMix, What: m.product, Need: math.Round(sums[m]),
			Says: fmt.Sprintf("Make %.0f × %s: the washes take %.0f ml of it.", n, m.vessel, sums[m])})
	}
	return needs
}

// water is what is carried to places without a supply, and what is deionised.
func water(cars []Car) []Need {
	var needs []Need
	carried, order, pure := map[string]float64{}, []string{}, 0.0
	for _, c := range cars {
		if c.Place.Supply == condition.Carried {
			if _, there := carried[c.Place.Name]; !there {
				order = append(order, c.Place.Name)
			}
			carried[c.Place.Name] += c.Plan.Litres
		}
		for _, s := range c.Plan.Steps {
			if s.Water == procedure.Deionised && s.Mix != nil {
				pure += s.Mix.Water.Ml() / 1000
			}
		}
	}
	for _, place := range order {
		litres := math.Ceil(carried[place])
		needs = append(needs, Need{Kind: NeedsWater, What: place, Need: litres, Says: fmt.Sprintf("Carry %.0f l there.", litres)})
	}
	if pure > 0 {
		litres := math.Ceil(pure)
		needs = append(needs, Need{Kind: NeedsWater, What: "deionised", Need: litres,
			Says: fmt.Sprintf("Have %.0f l of deionised water.", litres)})
	}
	return needs
}
