package fill

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
)

// addExtras adds the further products of a mix that is made.
func (f *filler) addExtras(step *plan.FilledStep, d procedure.Dose) {
	for _, e := range d.Extras {
		amount, err := e.Counted.Amount()
		if err != nil {
			continue // a procedure with such a dose is not published
		}
		p, _ := f.product(e.Class, e.Product)
		step.Added = append(step.Added, plan.Added{Product: cmp.Or(p.Name, string(e.Class)), ID: p.ID, Class: e.Class,
			Ml: measure.Tenths(amount.Ml()), Counts: e.Counted.String()})
		f.pay(p.CostPerL, amount.Ml())
	}
}

// What a step takes where its procedure does not say (model; common practice, no source): a trigger gives about 1.2 ml, so
// that two sprays a panel of 0.8 m2 are 3 ml/m2; a sprayed film of 30 to 40 g/m2 with a fifth beside it.
const (
	sprayTakes      = 45 // ml of mix a m2
	wheelSprayTakes = 60 // ml of mix a wheel, tyre and arch
	spraysTake      = 3  // ml a m2 of what is sprayed on and wiped
)

// neatTakes is what a m2 takes of products that are used as they come, ml, and neatWheel what a wheel takes.
var (
	neatTakes = map[procedure.ProductClass]float64{procedure.SpraySeal: spraysTake, procedure.SprayWax: spraysTake,
		procedure.CoatingTopUp: spraysTake, procedure.DryingAid: spraysTake, procedure.GlassClean: 4, procedure.IronRemover: 20,
		procedure.SpotRemover: 6, procedure.TarRemover: 8, procedure.WaterlessMist: 25, procedure.TrimDressing: 4}
	neatWheel = map[procedure.ProductClass]float64{procedure.TyreGel: 5, procedure.WheelCleaner: 60, procedure.IronRemover: 60,
		procedure.TyreCleaner: 30, procedure.AcidWheel: 50}
)

// vessel is a vessel that was filled: how much mix is left in it, and how much product is in a ml of it.
type vessel struct {
	mix   *plan.Mix
	left  float64
	share float64
	price measure.Money // a litre of product
}

// poured reports whether what is left in a vessel is poured away after the wash: a bucket is dirty, a foam bottle does one
// car. What is left in a sprayer stays good for the next.
func poured(vessel string) bool {
	return strings.Contains(vessel, "bucket") || strings.Contains(vessel, "foam bottle") || strings.Contains(vessel, "tub")
}

// amount is what a procedure's amount comes to on some zones, ml, and how it was counted.
func (f *filler) amount(step *plan.FilledStep, perM2, perWheel, fixed float64) (float64, string) {
	ml, from := fixed/f.partsNow(), ""
	if fixed > 0 {
		from = fmt.Sprintf("%.0f ml", fixed)
	}
	if wheels := wheels(*step); perWheel > 0 && wheels > 0 {
		ml += perWheel * wheels
		from = join(from, fmt.Sprintf("%.0f ml a wheel x %.0f", perWheel, wheels))
	} else if perM2 > 0 {
		ml += perM2 * step.Area
		from = join(from, fmt.Sprintf("%.0f ml a m² x %.1f m²", perM2, step.Area))
	}
	return ml, from
}

// wheels is how many wheels a step works on, if on wheels only.
func wheels(s plan.FilledStep) float64 {
	if s.Group != procedure.AllWheels && s.Group != procedure.Rims && s.Group != procedure.Tyres {
		return 0
	}
	corners := map[string]bool{}
	for _, z := range s.Zones {
		corners[z.Corner()] = true
	}
	return float64(len(corners))
}

// mix works out a step's dose: what is filled into the vessel in hand, unless an earlier step has left enough of the same
// in it, what this step takes of it, and what that costs.
func (f *filler) mix(step *plan.FilledStep, s procedure.Step) {
	d := s.Dose.Here(f.facts)
	p, known := f.product(d.Class, s.Product)
	name := cmp.Or(p.Name, string(d.Class))
	takes, from := f.takes(step, s)
	whole := poured(d.Vessel)
	key := fmt.Sprint(d.Vessel, d.Class, s.Product, d.Ratio)
	was, filled := f.vessels[key]
	if filled && (whole && f.part != nil && f.part.N > 1 || !whole && was.left >= takes) {
		step.Product, step.ProductID = name, p.ID
		if !whole {
			was.left -= takes
			f.vessels[key] = was
			step.Drawn = &plan.Drawn{Product: name, Vessel: d.Vessel, Takes: measure.Ml(int64(math.Round(takes)))}
			f.pay(was.price, takes*was.share)
			step.Taken = measure.Tenths(takes * was.share)
			step.Figures = append(step.Figures, plan.Figure{Name: "Mix", Value: fmt.Sprintf("%.0f ml", takes),
				From: from + ", of what was mixed before", Source: amountSource})
		}
		return
	}
	if s.Water == procedure.WarmWater && poured(d.Vessel) {
		f.bucket = warmWater
	}
	m := &plan.Mix{Product: name, ID: p.ID, Class: d.Class, Vessel: d.Vessel, Readings: d.Ratio.Readings(), Reading: d.Reading}
	if d.Counted != nil {
		m.Counts = d.Counted.String()
	}
	if d.ByWater {
		m.Millis, m.Water = d.Ratio.ForWater(d.Fill), d.Fill
	} else {
		m.Millis, m.Water = d.Ratio.ForTotal(d.Fill)
	}
	total := m.Millis.Ml() + m.Water.Ml()
	if whole {
		takes = total
	}
	v := vessel{mix: m, left: max(0, total-takes), share: m.Millis.Ml() / total, price: p.CostPerL}
	m.Takes = measure.Ml(int64(math.Round(takes)))
	if known && p.Cautions != "" {
		step.Cautions = append(step.Cautions, p.Name+": "+p.Cautions)
	}
	f.vessels[key] = v
	f.pay(p.CostPerL, takes*v.share)
	f.addExtras(step, d)
	step.Mix, step.Taken = m, measure.Tenths(takes*v.share)
	step.Figures = append(step.Figures, plan.Figure{Name: "Product", Value: fmt.Sprintf("%.0f ml", m.Millis.Ml()),
		From: fmt.Sprintf("%s in %.1f l: %.4g %% product",
			d.Says(), d.Fill.In(measure.Litre), d.Ratio.Percent()), Source: "Common practice; the label wins"})
	if !whole {
		step.Figures = append(step.Figures, plan.Figure{Name: "Mix taken", Value: fmt.Sprintf("%.0f ml", takes), From: from,
			Source: amountSource})
	}
}

const amountSource = "By the procedure, or our model: docs/models.md"

// takes is how much of its mix a step takes, ml.
func (f *filler) takes(step *plan.FilledStep, s procedure.Step) (float64, string) {
	if s.Uses != nil {
		return f.amount(step, s.Uses.PerM2, s.Uses.PerWheel, s.Uses.Fixed)
	}
	return f.amount(step, sprayTakes, wheelSprayTakes, 0)
}

// neat works out what a step takes of a product that is used as it comes.
func (f *filler) neat(step *plan.FilledStep, s procedure.Step) {
	if s.Class == "" || s.Dose != nil {
		return
	}
	p, known := f.product(s.Class, s.Product)
	ml, from := f.amount(step, neatTakes[s.Class], neatWheel[s.Class], 0)
	if s.Uses != nil {
		ml, from = f.amount(step, s.Uses.PerM2, s.Uses.PerWheel, s.Uses.Fixed)
	}
	if !known || ml <= 0 {
		return
	}
	step.Taken = measure.Tenths(ml)
	f.pay(p.CostPerL, ml)
	step.Figures = append(step.Figures, plan.Figure{Name: "Product", Value: fmt.Sprintf("%.0f ml", ml), From: from, Source: amountSource})
}

// pay adds what some ml of product cost.
func (f *filler) pay(perLitre measure.Money, ml float64) {
	f.spent += float64(perLitre) * ml / 1000
	f.plan.Cost = measure.Money(math.Round(f.spent))
}

// leftIn says what is left in the vessels that are not poured away.
func (f *filler) leftIn() {
	for _, v := range f.vessels {
		if left := measure.Ml(int64(math.Round(v.left))); !poured(v.mix.Vessel) {
			v.mix.Left = left
		}
	}
}

// costs works out what a wash costs: each cloth is laundered once, however many steps it serves.
func (f *filler) costs() plan.Costs {
	c := plan.Costs{Product: f.plan.Cost, Used: f.plan.Towels}
	for _, n := range f.plan.Laundry() {
		c.Used += n
	}
	c.Cloths = f.job.Launder * measure.Money(c.Used)
	c.Water = measure.Money(math.Round(float64(f.job.WaterPrice) * f.plan.Litres / 1000))
	c.Without = f.unpriced(c.Used)
	return c
}

// unshelved says which products the plan uses that nothing on the shelf is: they would cost nothing without a word.
func (f *filler) unshelved() []string {
	if len(f.job.Shelf) == 0 {
		return nil
	}
	var said []string
	for _, s := range f.plan.Likely() {
		class, id := s.Class, s.ProductID
		if s.Mix != nil {
			class, id = s.Mix.Class, s.Mix.ID
		}
		says := fmt.Sprintf("Nothing on the shelf is a %s: it is counted at no cost.", class)
		if class != "" && id == "" && !slices.Contains(said, says) {
			said = append(said, says)
		}
		for _, b := range s.Added {
			if says := fmt.Sprintf("Nothing on the shelf is a %s: it is counted at no cost.", b.Class); b.ID == "" && !slices.Contains(said, says) {
				said = append(said, says)
			}
		}
	}
	return said
}

// unpriced is what a wash takes that nobody has said a price of.
func (f *filler) unpriced(cloths int) []string {
	var without []string
	for _, s := range f.plan.Likely() {
		taken := map[string]bool{s.ProductID: s.Taken > 0}
		if s.Mix != nil {
			taken[s.Mix.ID] = true
		}
		for _, b := range s.Added {
			taken[b.ID] = true
		}
		for _, p := range f.job.Shelf {
			if taken[p.ID] && p.CostPerL == 0 && !slices.Contains(without, p.Name) {
				without = append(without, p.Name)
			}
		}
	}
	if f.job.Launder == 0 && cloths > 0 {
		without = append(without, "laundering")
	}
	if f.job.WaterPrice == 0 && f.plan.Litres > 0 {
		without = append(without, "water")
	}
	return without
}
