package condition

import (
	"fmt"
	"slices"

	"uskel/core/contact"
	"uskel/core/vehicle"
)

// Assessment is what follows from a look-over before any procedure is chosen.
type Assessment struct {
	Overall  contact.Grade  `json:"overall" doc:"Grade of the worst painted zone that will be touched"`
	Name     string         `json:"name" example:"moderate"`
	Driver   vehicle.Zone   `json:"driver,omitempty" doc:"The zone that decides"`
	Because  string         `json:"because"`
	Ungraded []vehicle.Zone `json:"ungraded" doc:"Painted zones nobody has graded yet: until they are, nothing is recommended"`
	InScope  []string       `json:"inScope" doc:"Bonded matter this wash takes off"`
	OutScope []OutOfScope   `json:"outScope" doc:"Bonded matter this wash will not take off"`
	Scope    string         `json:"scope" doc:"The scope as told to the customer"`
	Offer    string         `json:"offer,omitempty" doc:"id of the service that takes the rest off"`
	Advice   []string       `json:"advice" doc:"What the condition asks for"`
	Barred   []string       `json:"barred" doc:"Reasons not to wash at all"`
}

// OutOfScope is bonded matter declared before the wash; the audit does not count it.
type OutOfScope struct {
	Matter Matter         `json:"matter"`
	Zones  []vehicle.Zone `json:"zones"`
}

// touched lists the painted zones of a body that a contact wash touches.
func touched(b vehicle.Body) []vehicle.Zone {
	var zones []vehicle.Zone
	for _, p := range b.Parts() {
		if p.Zone.Painted() && p.Surface == vehicle.Paint {
			zones = append(zones, p.Zone)
		}
	}
	return zones
}

// Assess works out grade and scope; the scope is that of the service ordered. The overall grade is that of the worst
// painted zone that will be touched, not the average: a clean roof does not make muddy sills safe to wipe (docs/trade.md,
// section 3).
func Assess(v vehicle.Vehicle, l LookOver, menu Menu) Assessment {
	a := Assessment{
		Ungraded: []vehicle.Zone{},
		InScope:  []string{},
		OutScope: []OutOfScope{},
		Advice:   []string{},
		Barred:   []string{},
	}
	for _, z := range touched(v.Body) {
		g, graded := l.Grades[z]
		if !graded {
			a.Ungraded = append(a.Ungraded, z)
		}
		if graded && (a.Driver == "" || g > a.Overall) {
			a.Overall, a.Driver = g, z
		}
	}
	a.Name = "not yet looked at"
	a.Because = "Grade the painted zones: the worst of them decides."
	if a.Driver != "" {
		a.Name = Grades()[a.Overall].Name
		a.Because = fmt.Sprintf(
			"The %s is grade %d and will be touched: the worst painted zone decides, not the average.",
			a.Driver.Label(),
			a.Overall,
		)
	}
	a.scope(l, menu)
	a.advise(l)
	return a
}

// Looked reports whether every painted zone is graded: any of them may be the worst, which decides.
func (a Assessment) Looked() bool { return len(a.Ungraded) == 0 }

func (a *Assessment) scope(l LookOver, menu Menu) {
	ordered := menu.Of(l.Service)
	for _, name := range Matter("").Values() {
		m := Matter(name)
		var zones []vehicle.Zone
		for _, b := range l.Bonded {
			if b.Matter == m && !slices.Contains(zones, b.Zone) {
				zones = append(zones, b.Zone)
			}
		}
		switch {
		case len(zones) == 0:
		case ordered.TakesOn(m):
			a.InScope = append(a.InScope, fmt.Sprintf("%s on %s", m, vehicle.ListLabels(zones)))
		default:
			a.OutScope = append(a.OutScope, OutOfScope{m, zones})
		}
	}
	a.Scope = menu.scopeOf(ordered, a.OutScope)
	if offer, there := menu.Taking(a.OutScope); there && len(a.OutScope) > 0 {
		a.Offer = offer.ID
	}
}

// advise says what each condition asks for (docs/trade.md, section 3).
func (a *Assessment) advise(l LookOver) {
	say := func(when bool, text string) {
		if when {
			a.Advice = append(a.Advice, text)
		}
	}
	for _, w := range l.Watch {
		if w.Bars() {
			a.Barred = append(a.Barred, w.Means())
		}
	}
	has := func(m Matter) bool {
		return slices.ContainsFunc(l.Bonded, func(b Bonded) bool { return b.Matter == m })
	}
	flat := l.Protection.Water == Flat
	say(a.Overall == 3, "Pre-wash is not optional; rinse the mitt more often; separate lower mitt.")
	say(
		a.Overall == 4,
		"Rinse before foam, foam, rinse again. No rinseless. Without running water, blast it at a pressure bay first.",
	)
	rinses := l.Place.Supply != Carried && l.Place.Runoff
	say(l.Salt && (rinses || l.Place.Supply == ""), "Salt: rinse the underside and arches; foam first to re-wet the dried crystals.")
	say(l.Salt && !rinses && l.Place.Supply != "", "Salt: nothing is rinsed here. Wet the crystals before anything touches, and have the "+
		"underside rinsed where water may run off.")
	say(has(Bugs), "Bugs: treat front and mirrors first, wash the front last so that it soaks longest.")
	say(has(BirdLime), "Bird lime burns through clear coat: soften and take it off at once, never rub it dry.")
	say(
		flat && l.Protection.Kind == Coating,
		"The coating lies flat: decontaminate before topping up. No clay on a coating.",
	)
	say(flat && l.Protection.Kind != Coating, "Water lies flat: a drying agent makes it bead and halves the drying.")
}
