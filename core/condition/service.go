package condition

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"uskel/core/measure"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// Level is how far a wash is finished: what a step's condition asks about.
type Level string

// The levels.
const (
	Basic     Level = "basic"
	Signature Level = "signature"
	Show      Level = "show"
)

// Values lists the levels, the simplest first.
func (Level) Values() []string { return []string{string(Basic), string(Signature), string(Show)} }

// TyreFinish is how tyres are left.
type TyreFinish string

// The tyre finishes.
const (
	BareTyres  TyreFinish = "none"
	SatinTyres TyreFinish = "satin"
	GlossTyres TyreFinish = "gloss"
)

// Values lists the tyre finishes.
func (TyreFinish) Values() []string {
	return []string{string(BareTyres), string(SatinTyres), string(GlossTyres)}
}

// Option is a part of a wash that can be left out without harm to the paint.
type Option string

// The options, in the order in which they usually go when time is short: first what nobody misses today, then what shows.
const (
	TipsOption    Option = "exhaust tips"
	TyresOption   Option = "tyre dressing"
	ProtectOption Option = "protection"
	InsideOption  Option = "inside"
	BadgesOption  Option = "badges"
	GlassOption   Option = "glass"
	ShutsOption   Option = "shuts"
)

// Options lists the options in that order.
func Options() []Option {
	return []Option{TipsOption, TyresOption, ProtectOption, InsideOption, BadgesOption, GlassOption, ShutsOption}
}

// Values lists the options' names.
func (Option) Values() []string { return named(Options()) }

// Leave is what a service leaves on the car: told to the customer before, and not counted by an audit.
type Leave string

// What services leave (docs/trade.md, section 17).
const (
	LeavesFilm    Leave = "a thin film"
	LeavesBugs    Leave = "bug marks"
	LeavesDrips   Leave = "drips"
	LeavesShuts   Leave = "shuts as they are"
	LeavesTyres   Leave = "tyres as they are"
	LeavesBarrels Leave = "dust deep in the barrels"
	LeavesTips    Leave = "tips as they are"
	LeavesBody    Leave = "the body as it is"
)

// Leaves lists what services can leave.
func Leaves() []Leave {
	return []Leave{LeavesFilm, LeavesBugs, LeavesDrips, LeavesShuts, LeavesTyres, LeavesBarrels, LeavesTips, LeavesBody}
}

// Values lists their names.
func (Leave) Values() []string { return named(Leaves()) }

func named[T ~string](all []T) []string {
	names := make([]string, len(all))
	for i, x := range all {
		names[i] = string(x)
	}
	return names
}

// Service is something the shop sells: what delivers it, what it takes on and leaves, what it costs and may take.
type Service struct {
	ID         string        `json:"id,omitempty" maxLength:"80" doc:"what bookings name it by; made by the shop when absent"`
	Name       string        `json:"name" minLength:"1" maxLength:"60"`
	Families   []string      `json:"families,omitempty" maxItems:"30" doc:"method families that deliver it, by their code"`
	Procedures []string      `json:"procedures,omitempty" maxItems:"60" doc:"or by their ids; any when neither is named"`
	Level      Level         `json:"level"`
	Takes      []Matter      `json:"takes,omitempty" maxItems:"20" doc:"bonded matter it takes off"`
	Leaves     []Leave       `json:"leaves,omitempty" maxItems:"20" doc:"what it leaves, and an audit accepts"`
	Tyres      TyreFinish    `json:"tyres"`
	Inside     bool          `json:"inside,omitempty" doc:"The inside is wiped and vacuumed"`
	Tips       bool          `json:"tips,omitempty" doc:"Exhaust tips are done"`
	Drops      []Option      `json:"drops,omitempty" maxItems:"20" doc:"what goes first when time is short, in order; as usual when unsaid"`
	Minutes    int           `json:"minutes,omitempty" minimum:"0" maximum:"600" doc:"promised: it may take so long and no longer"`
	Price      measure.Money `json:"price,omitempty" minimum:"0" doc:"minor units"`
}

// Delivers reports whether a procedure of a family delivers the service.
func (s Service) Delivers(procedure, family string) bool {
	if len(s.Families) == 0 && len(s.Procedures) == 0 {
		return true
	}
	return slices.Contains(s.Procedures, procedure) || slices.Contains(s.Families, family)
}

// TakesOn reports whether the service takes the matter off. A wash from before there were services took off what a
// maintenance wash does.
func (s Service) TakesOn(m Matter) bool {
	if s.ID == "" {
		return m.InMaintenance()
	}
	return slices.Contains(s.Takes, m)
}

// Dropping is what goes first when time is short, in order.
func (s Service) Dropping() []Option {
	if len(s.Drops) == 0 {
		return Options()
	}
	return s.Drops
}

// There is how many minutes there are for the wash, of those before the promise: no more than the service promises;
// 0 for no limit.
func (s Service) There(budget int) int {
	switch {
	case s.Minutes == 0:
		return budget
	case budget == 0:
		return s.Minutes
	}
	return min(budget, s.Minutes)
}

// Menu is the shop's list of services.
type Menu []Service

// Listed is the menu, or the usual one.
func (m Menu) Listed() Menu {
	if len(m) > 0 {
		return m
	}
	return starterMenu
}

// Of is the service of an id. A shop without a list has the usual one; an id that is not in it is a service of that
// name which anything delivers.
func (m Menu) Of(id string) Service {
	list := m.Listed()
	if at := slices.IndexFunc(list, func(s Service) bool { return s.ID == id }); at >= 0 {
		return list[at]
	}
	return Service{Name: id, Level: Basic, Tyres: BareTyres}
}

// Sells says what is wrong with an order: the shop has no such service.
func (m Menu) Sells(id string) error {
	names := make([]string, len(m))
	for i, s := range m {
		if s.ID == id {
			return nil
		}
		names[i] = s.Name
	}
	return fmt.Errorf("%q: the shop does not sell it; choose one of %q", id, names)
}

// Taking is the cheapest service that takes all of some matter off; false when there is none.
func (m Menu) Taking(all []OutOfScope) (Service, bool) {
	best, found := Service{}, false
	for _, s := range m.Listed() {
		takesAll := !slices.ContainsFunc(all, func(o OutOfScope) bool { return !s.TakesOn(o.Matter) })
		if takesAll && (!found || s.Price < best.Price) {
			best, found = s, true
		}
	}
	return best, found
}

// Check names what is wrong with the list, by field. Families and procedures are those there are.
func (m Menu) Check(families []string) error {
	var errs []error
	add := func(path, says string, values ...any) { errs = append(errs, wrong.At(path, says, values...)) }
	names, ids := map[string]bool{}, map[string]bool{}
	for i, s := range m {
		at := fmt.Sprintf("services[%d]", i)
		if name := strings.TrimSpace(s.Name); name == "" || names[name] {
			add(at+".name", "%q: every service needs a name of its own", s.Name)
		} else {
			names[name] = true
		}
		if s.ID != "" && ids[s.ID] {
			add(at+".id", "%q: another service has it", s.ID)
		}
		ids[s.ID] = true
		for _, f := range s.Families {
			if !slices.Contains(families, f) {
				add(at+".families", "%q: use one of %q", f, families)
			}
		}
		if s.Price < 0 || s.Minutes < 0 {
			add(at+".price", "price and minutes are zero or more")
		}
	}
	return errors.Join(errs...)
}

// scopeOf is the scope as told to the customer: what of that which was seen stays on the car, what the service leaves,
// and which service takes it off.
func (m Menu) scopeOf(s Service, out []OutOfScope) string {
	name := s.Name
	if name == "" {
		name = "This wash"
	}
	said := name + " takes off everything seen."
	if len(out) > 0 {
		parts := make([]string, len(out))
		for i, o := range out {
			parts[i] = fmt.Sprintf("%s on %s", o.Matter, vehicle.ListLabels(o.Zones))
		}
		said = name + " will not remove: " + strings.Join(parts, "; ") + "."
		if other, there := m.Taking(out); there {
			said += " Note it and offer " + other.Name + "."
		} else {
			said += " Note it: no service of the shop takes it off."
		}
	}
	if len(s.Leaves) > 0 {
		said += " It leaves " + strings.Join(named(s.Leaves), ", ") + "."
	}
	return said
}
