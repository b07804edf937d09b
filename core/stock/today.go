package stock

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
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
func Enough(cars []Car, products []shelf.Product, left map[string]float64, sets []shelf.ClothStock) []Need {
	made := batches(cars)
	needs := append(productsFor(cars, products, left, made, sets), cloths(cars, sets)...)
	needs = append(append(needs, mixes(made)...), water(cars)...)
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

// Short is what a plan needs of products that were counted and have not so much left, each as a sentence.
func Short(p plan.Plan, products []shelf.Product, left map[string]float64) []string {
	var said []string
	for _, n := range Enough([]Car{{Plan: p}}, products, left, nil) {
		if n.Kind == NeedsProduct && n.Short {
			said = append(said, n.What+": "+n.Says)
		}
	}
	return said
}

// used sums what all cars take off the shelf.
func used(cars []Car, sets []shelf.ClothStock) Uses {
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

func productsFor(cars []Car, products []shelf.Product, left map[string]float64, made []batch, sets []shelf.ClothStock) []Need {
	var needs []Need
	sum := used(cars, sets)
	for _, p := range products {
		ml, into := sum.Products[p.ID], []string{}
		for _, b := range made {
			if b.id == p.ID {
				ml += b.fills()*b.product - b.counted // a filling is made whole, and what is left of it stays for the next day
				into = append(into, fmt.Sprintf("%.0f × %s", b.fills(), b.vessel))
			}
		}
		if ml <= 0 {
			continue
		}
		n := Need{Kind: NeedsProduct, What: p.Name, Need: math.Round(ml)}
		if have, counted := left[p.ID]; counted {
			have = math.Max(0, math.Round(have))
			n.Have, n.Short = &have, ml > have
		}
		n.Says = n.says(into)
		needs = append(needs, n)
	}
	return needs
}

// says tells of a product how much is needed, what for where whole fillings are made, and what is there.
func (n Need) says(into []string) string {
	amount := fmt.Sprintf("%.0f ml", n.Need)
	if len(into) > 0 {
		amount += " (fills " + strings.Join(into, ", ") + ")"
	}
	switch {
	case n.Short:
		return fmt.Sprintf("%s are needed and %.0f are left: fetch %.0f more.", amount, *n.Have, math.Ceil(n.Need-*n.Have))
	case n.Have != nil:
		return fmt.Sprintf("%s of %.0f ml.", amount, *n.Have)
	}
	return amount + "; it was never counted."
}

func cloths(cars []Car, sets []shelf.ClothStock) []Need {
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

// batch is a mix that is made ready in a vessel and serves several cars, ml.
type batch struct {
	what, id, vessel      string
	product, holds, takes float64 // product in a filling, what a filling holds, what all washes take of it
	counted               float64 // product in what they take, as each wash is counted
}

// fills is how often it is made.
func (b batch) fills() float64 { return math.Ceil(b.takes / b.holds) }

// batches are what is made ready in sprayers, in the order in which it is first needed.
func batches(cars []Car) []batch {
	var made []batch
	of := func(vessel, name string) int {
		return slices.IndexFunc(made, func(b batch) bool { return b.vessel == vessel && b.what == name })
	}
	for _, c := range cars {
		for _, s := range c.Plan.Steps {
			switch {
			case s.If != nil && !s.If.Expected:
			case s.Mix != nil && s.Mix.Takes.Ml() < s.Mix.Millis.Ml()+s.Mix.Water.Ml()-1: // not poured away
				at := of(s.Mix.Vessel, s.Mix.Product)
				if at < 0 {
					at = len(made)
					made = append(made, batch{what: s.Mix.Product, id: s.Mix.ID, vessel: s.Mix.Vessel})
				}
				made[at].product, made[at].holds = s.Mix.Millis.Ml(), s.Mix.Millis.Ml()+s.Mix.Water.Ml()
				made[at].takes, made[at].counted = made[at].takes+s.Mix.Takes.Ml(), made[at].counted+s.Taken
			case s.Drawn != nil:
				if at := of(s.Drawn.Vessel, s.Drawn.Product); at >= 0 {
					made[at].takes, made[at].counted = made[at].takes+s.Drawn.Takes.Ml(), made[at].counted+s.Taken
				}
			}
		}
	}
	return made
}

// mixes are what is made ready: one filling serves several cars.
func mixes(made []batch) []Need {
	var needs []Need
	for _, b := range made {
		needs = append(needs, Need{Kind: NeedsMix, What: b.what, Need: math.Round(b.takes),
			Says: fmt.Sprintf("Make %.0f × %s: the washes take %.0f ml of it.", b.fills(), b.vessel, b.takes)})
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
