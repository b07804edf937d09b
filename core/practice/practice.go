// Package practice makes drills from a car as it was looked over: its dirt, its paint, the plan's own products, doses and
// towels, the shop's schools and the weather of the hour.
package practice

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/drill"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// What names the kinds of practice that somebody can choose.
type What string

// The practices.
const (
	Washing   What = "washing by hand"
	Rinseless What = "rinseless by hand"
	Buckets   What = "buckets"
	Drying    What = "drying"
	Wheels    What = "four wheels"
	Dwells    What = "dwells"
)

// Values lists the practices.
func (What) Values() []string {
	return []string{string(Washing), string(Rinseless), string(Buckets), string(Drying), string(Wheels), string(Dwells)}
}

// Car is what a drill is made from.
type Car struct {
	Title     string
	Procedure procedure.Procedure
	Job       plan.Job
	Plan      plan.Plan
	Filmed    bool // paint film on it, or its edges watched
	Vessels   []shelf.Vessel
}

// Make makes a drill of a level, 1 to 3; the seed decides what may happen in it.
func Make(what What, level int, seed int64, car Car) (drill.Task, error) {
	facts := fill.Facts(car.Procedure, car.Job)
	switch what {
	case Buckets:
		return car.buckets(level, seed, facts)
	case Drying:
		return car.drying(level, facts)
	case Wheels:
		least, most, product := car.wheelCleaner()
		d, err := drill.MakeWheels(car.Title, product, level, seed, least, most)
		return d.Task(), err
	case Dwells:
		d, err := drill.MakeDwells(car.Title, level, car.soaks())
		return d.Task(), err
	}
	m, err := drill.MakeWith(clothOf(what, level), car.Title, level, seed, car.Job.Lacquer(), car.Plan.MittMeets(), car.Filmed,
		measure.Seconds(facts[condition.SudsWindow].Number*60), facts[condition.StrokeDirection].Text, facts[condition.MittRinse].Text,
		car.Job.Aim)
	m.Dark = car.Job.Vehicle.Shade == vehicle.Dark
	return m.Task(), err
}

// clothOf is what is washed with: rinseless with folded towels, and at the second level with a split sponge.
func clothOf(what What, level int) contact.Cloth {
	switch {
	case what == Rinseless && level == 2:
		return contact.SplitSponge
	case what == Rinseless:
		return contact.PlushTowel
	}
	return contact.Mitt
}

// What a wash bucket takes where neither the plan nor the shop's vessels say it (common practice, no source).
const (
	usualLitres = 14.0
	usualDose   = 2.0  // ml a l, 1 to 500
	spoonMl     = 15.0 // a measuring spoon
)

func (c Car) buckets(level int, seed int64, facts condition.Facts) (drill.Task, error) {
	b := drill.Buckets{Title: c.Title, Level: level, Seed: seed, Product: "shampoo", Label: fmt.Sprintf("%.0f ml a litre", usualDose),
		Low: usualDose, High: usualDose, Foams: true, Litres: usualLitres, Rinse: facts[condition.MittRinse].Text,
		Lacquer: c.Job.Lacquer(), Patches: c.Plan.MittMeets(), Aim: c.Job.Aim}
	if at := slices.IndexFunc(c.Plan.Steps, func(s plan.FilledStep) bool { return s.Mix != nil && washes(s.Mix.Class) }); at >= 0 {
		s := c.Plan.Steps[at]
		per := s.Mix.Millis.Ml() / math.Max(s.Mix.Water.Ml()/1000, 0.1)
		b.Product, b.Low, b.High, b.Cold = s.Mix.Product, per, per, s.Water == procedure.ColdWater
		b.Label = s.Mix.Readings.As(s.Mix.Reading)
	}
	for _, v := range c.Vessels {
		switch v.Kind {
		case shelf.Bucket:
			b.Litres = math.Min(20, math.Max(8, v.Holds.Ml()/1000))
		case shelf.Cap:
			b.Tools = append(b.Tools, drill.Tool{Name: v.Name, Ml: v.Holds.Ml(), Step: 0.25})
		case shelf.Pump:
			b.Tools = append(b.Tools, drill.Tool{Name: v.Name, Ml: v.Holds.Ml(), Step: 1})
		}
	}
	b.Tools = append(b.Tools, drill.Tool{Name: "measuring spoon", Ml: spoonMl, Step: 0.5})
	b, err := drill.MakeBuckets(b)
	return b.Task(), err
}

func washes(c procedure.ProductClass) bool {
	return c == procedure.Shampoo || c == procedure.CoatingShampoo || c == procedure.WaxShampoo
}

func (c Car) drying(level int, facts condition.Facts) (drill.Task, error) {
	wet := c.Job.Windows()
	d, err := drill.MakeDrying(drill.Drying{Title: c.Title, Level: level, Sheen: c.Job.Sheen(), Towels: c.towels(),
		Hose: facts[condition.HoseHere].Text == "yes", Blower: facts[condition.BlowerHere].Text == "yes",
		Solids: c.Plan.LastWater(c.Job)}, c.Job.Vehicle.Body,
		func(p vehicle.Part) measure.Seconds { return wet(p.Zone, climate.DrainedWater, 0) })
	return d.Task(), err
}

// towels are those of the plan's last drying by towel and, for what is left, a small one.
func (c Car) towels() []float64 {
	for _, s := range slices.Backward(c.Plan.Steps) {
		if n := procedure.ClothCount(s.Cloth); s.Technique == procedure.Dry && s.Machine == "" && n > 0 {
			if n > 1 {
				return slices.Repeat([]float64{plan.TowelHolds(s.Cloth)}, min(n, 3))
			}
			return []float64{plan.TowelHolds(s.Cloth), film.SmallTowel}
		}
	}
	return []float64{film.LargeTowel, film.SmallTowel}
}

// The label of a wheel cleaner where the plan has none: 2 to 5 min (common practice, no source).
const (
	usualLeast = 2 * measure.Minute
	usualMost  = 5 * measure.Minute
)

// wheelCleaner is how long the plan's wheel cleaner needs and may stay.
func (c Car) wheelCleaner() (least, most measure.Seconds, product string) {
	for _, s := range c.Plan.Steps {
		if s.Dwell != nil && s.Class == procedure.WheelCleaner && s.Dwell.Full >= 2*measure.Minute {
			return max(s.Dwell.From, 30), s.Dwell.Full, productOf(s)
		}
	}
	return usualLeast, usualMost, "wheel cleaner"
}

func productOf(s plan.FilledStep) string {
	switch {
	case s.Product != "":
		return s.Product
	case s.Mix != nil:
		return s.Mix.Product
	}
	return strings.ToLower(s.Title)
}

// shortestSoak is how long a product must be allowed to stay for a drill with several of them (model).
const shortestSoak = measure.Minute

// soaks are the products that the plan has working on the car, each with its own time, in the plan's order.
func (c Car) soaks() []drill.Soak {
	var all []drill.Soak
	for _, s := range c.Plan.Steps {
		if s.Dwell == nil || s.Dwell.Waits || s.Dwell.To < shortestSoak || s.Part != nil {
			continue
		}
		soak := drill.Soak{ID: s.ID, Label: string(s.Group), Product: productOf(s), PutOn: measure.Seconds(math.Ceil(s.Minutes * 60)),
			Min: min(s.Dwell.From, s.Dwell.To), Max: s.Dwell.To, Dries: s.Dwell.Shortened, Off: offTakes(s.Area)}
		if s.Class == procedure.WheelCleaner {
			soak.Work = wheelsWork
		}
		all = append(all, soak)
	}
	for _, s := range others {
		if !slices.ContainsFunc(all, func(x drill.Soak) bool { return x.Label == s.Label || x.Product == s.Product }) {
			all = append(all, s)
		}
	}
	return all
}

// others are put beside what the plan has working, so that there is something to juggle; times as labels print them
// (common practice, no source).
var others = []drill.Soak{
	{ID: "practice-bugs", Label: "front", Product: "bug spray", PutOn: 30, Min: measure.Minute, Max: 4 * measure.Minute, Off: 30},
	{ID: "practice-wheels", Label: "wheels", Product: "wheel cleaner", PutOn: 80, Min: usualLeast, Max: usualMost + 2*measure.Minute,
		Work: wheelsWork, Off: measure.Minute},
	{ID: "practice-tar", Label: "sills", Product: "tar remover", PutOn: 40, Min: 2 * measure.Minute, Max: 6 * measure.Minute, Off: 40},
}

// wheelsWork is what brushing four wheels takes; a rinse takes some 8 s a m2, half a minute at least (model).
const wheelsWork = 3 * measure.Minute

func offTakes(area float64) measure.Seconds { return max(30, measure.Seconds(math.Ceil(8*area))) }

// Library is the practice car: a mid-size car of grade 2, grade 3 below, under a roof.
func Library() (vehicle.Vehicle, condition.LookOver) {
	spec := vehicle.Vehicle{Body: vehicle.Hatch, Shade: vehicle.Mid, Finish: vehicle.Ordinary,
		Wheels: vehicle.WheelSpec{Inches: 17, Spokes: vehicle.PlainSpokes}}
	look := condition.LookOver{Grades: map[vehicle.Zone]contact.Grade{}, Service: "basic",
		Protection: condition.Protection{Kind: condition.Sealant, Water: condition.Beads},
		Place:      condition.Place{Cover: climate.Indoors, Supply: condition.PressureWasher, Runoff: true, Blower: true}}
	for _, p := range spec.Body.Parts() {
		look.Grades[p.Zone] = 2
		if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
			look.Grades[p.Zone] = 3
		}
	}
	return spec, look
}
