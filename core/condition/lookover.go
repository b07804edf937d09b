// Package condition turns a look-over into what the plan needs: the overall grade, what is in and out
// of scope, and the facts that conditions speak of (docs/trade.md, sections 3 and 4).
package condition

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"uskel/core/climate"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// GradeFacts says what a grade looks like (docs/trade.md, section 3).
type GradeFacts struct {
	Grade contact.Grade `json:"grade"`
	Name  string        `json:"name"`
	Looks string        `json:"looks"`
}

// Grades lists the five soil grades, clean first.
func Grades() []GradeFacts {
	return []GradeFacts{
		{0, "clean", "Nothing visible, or a day's dust."},
		{1, "light", "Even dust, rain marks, a week or so of dry road."},
		{2, "moderate", "A film that a finger writes in; lower third clearly darker; two to four weeks."},
		{3, "heavy", "Grey all over, salt or spray, bugs baked on; five weeks or a winter fortnight."},
		{4, "caked", "Lumps, mud, thick salt."},
	}
}

// Matter is a kind of bonded matter.
type Matter string

// The bonded matter.
const (
	Bugs        Matter = "bugs"
	BirdLime    Matter = "bird lime"
	Sap         Matter = "tree sap"
	Tar         Matter = "tar"
	Iron        Matter = "iron specks"
	WaterSpots  Matter = "water spots"
	OldDressing Matter = "old dressing"
	TrafficFilm Matter = "traffic film"
	EtchedLime  Matter = "etched lime"
)

// Values lists the bonded matter.
func (Matter) Values() []string {
	return []string{string(Bugs), string(BirdLime), string(Sap), string(Tar), string(Iron), string(WaterSpots),
		string(OldDressing), string(TrafficFilm), string(EtchedLime)}
}

// InMaintenance reports whether a maintenance wash takes the matter off: bugs and fresh bird lime yes,
// old dressing goes with the tyre brush; the rest is noted and the prep offered (docs/trade.md, section 3).
func (m Matter) InMaintenance() bool { return m == Bugs || m == BirdLime || m == OldDressing }

// Found says what to do about the matter when it is found in mid-wash of a service (docs/trade.md, section 3).
func (m Matter) Found(ordered Service) string {
	taken := ordered.TakesOn(m)
	switch m {
	case Iron, Tar, WaterSpots, Sap, TrafficFilm, EtchedLime:
		if taken {
			return "In scope: " + ordered.Name + " takes it off, with its own remover, never by rubbing."
		}
	}
	if !taken {
		return "Out of scope: what was ordered does not take it off, and rubbing marks the paint. Note it; the service " +
			"that does is offered."
	}
	switch m {
	case BirdLime:
		return "In scope: soften it and take it off at once. Never rub it dry."
	case Bugs:
		return "In scope: soak it, and leave it to the last of the front."
	case OldDressing:
		return "In scope: it goes with the tyre brush."
	}
	return "In scope: take it off."
}

// Bonded is bonded matter seen on a zone.
type Bonded struct {
	Matter Matter       `json:"matter"`
	Zone   vehicle.Zone `json:"zone"`
}

// ProtectionKind is what lies on the paint.
type ProtectionKind string

// The protections.
const (
	Unknown  ProtectionKind = "unknown"
	Bare     ProtectionKind = "none"
	Wax      ProtectionKind = "wax"
	Sealant  ProtectionKind = "sealant"
	Coating  ProtectionKind = "coating"
	FilmWrap ProtectionKind = "film"
)

// Values lists the protections.
func (ProtectionKind) Values() []string {
	return []string{string(Unknown), string(Bare), string(Wax), string(Sealant), string(Coating), string(FilmWrap)}
}

// WaterSeen is how water stood on the paint at the first rinse.
type WaterSeen string

// What water does.
const (
	NotSeen WaterSeen = "not seen"
	Beads   WaterSeen = "beads"
	Flat    WaterSeen = "flat"
)

// Values lists what water does.
func (WaterSeen) Values() []string { return []string{string(NotSeen), string(Beads), string(Flat)} }

// Protection is what lies on the paint, how old it is and how water stood on it.
type Protection struct {
	Kind    ProtectionKind `json:"kind"`
	AgeDays int            `json:"ageDays" minimum:"0" maximum:"5000"`
	Water   WaterSeen      `json:"water"`
}

// Supply is where the water comes from.
type Supply string

// The supplies.
const (
	PressureWasher Supply = "pressure washer"
	Hose           Supply = "hose"
	Carried        Supply = "carried water"
)

// Values lists the supplies.
func (Supply) Values() []string {
	return []string{string(PressureWasher), string(Hose), string(Carried)}
}

// Place is where the wash happens.
type Place struct {
	ID      string        `json:"id,omitempty" maxLength:"80" doc:"what bookings and the day name it by; the name when absent"`
	Name    string        `json:"name" maxLength:"80"`
	Cover   climate.Cover `json:"cover"`
	Supply  Supply        `json:"supply"`
	Runoff  bool          `json:"runoff" doc:"Local rules let wash water run to the drain here"`
	Blower  bool          `json:"blower" doc:"There is power, and neighbours allow a blower"`
	Heading float64       `json:"heading" minimum:"0" maximum:"360" doc:"Where the nose points, degrees from north"`
	// What a place has of its own.
	Heated *float64 `json:"heated,omitempty" minimum:"-10" maximum:"35" doc:"Indoors: heated to so many degrees Celsius"`
	Jet    float64  `json:"jet,omitempty" minimum:"0" maximum:"40" doc:"Pressure of the washer here, MPa; 12 when unsaid"`
	Flow   float64  `json:"flow,omitempty" minimum:"0" maximum:"60" doc:"Of its supply, l/min; by the kind of supply when unsaid"`
	Solids float64  `json:"solids,omitempty" minimum:"0" maximum:"10000" doc:"Dissolved in its own water, mg/l; the shop's when unsaid"`
	Deion  bool     `json:"deioniser,omitempty" doc:"The last rinse can be deionised"`
	Also   []Supply `json:"also,omitempty" maxItems:"3" doc:"Further supplies there; a hose beside a pressure washer when unsaid"`
	Sided  bool     `json:"oneSided,omitempty" doc:"Hose and line come from one side: they are drawn round the car"`
}

// usualJet is what an electric pressure washer gives, MPa: 110 to 130 bar by the plates of small ones (common practice).
const usualJet = 12

// Has reports whether there is a supply at the place. A pressure washer hangs on a tap, so that a hose is there too unless
// it is said what else there is.
func (p Place) Has(s Supply) bool {
	return p.Supply == s || slices.Contains(p.Also, s) || s == Hose && p.Supply == PressureWasher && len(p.Also) == 0
}

// jet is the pressure of the jet at the place, MPa; none without a pressure washer.
func (p Place) jet() float64 {
	if !p.Has(PressureWasher) {
		return 0
	}
	return cmp.Or(p.Jet, usualJet)
}

// Air is the weather at a car in the place: under its cover, and where it is heated as warm as that. Warming the air
// leaves its vapour what it was.
func (p Place) Air(outside climate.Weather) climate.Weather {
	here := outside.Under(p.Cover)
	if p.Heated != nil && p.Cover == climate.Indoors {
		here = here.WarmedTo(measure.Celsius(*p.Heated))
	}
	return here
}

// Key is what the day names the place by, whatever it is called.
func (p Place) Key() string { return cmp.Or(p.ID, p.Name) }

// CheckPins says what is wrong with answers to the disagreements, naming the question.
func CheckPins(pins map[Fact]string) error {
	var errs []error
	for fact, value := range pins {
		info, err := fact.Info()
		if err != nil || !info.Question {
			errs = append(errs, wrong.At(fmt.Sprintf("pins.%s", fact), "that is no question the trade disagrees on"))
		} else if !slices.Contains(info.Choices, value) {
			errs = append(errs, wrong.At(fmt.Sprintf("pins.%s", fact), "%q: use one of %q", value, info.Choices))
		}
	}
	return errors.Join(errs...)
}

// CheckPlaces says what is wrong with a shop's list of places, naming the field: every place needs a name of its own.
func CheckPlaces(places []Place) error {
	var errs []error
	names, keys := map[string]bool{}, map[string]bool{}
	for i, p := range places {
		if p.Name == "" || names[p.Name] {
			errs = append(errs, wrong.At(fmt.Sprintf("places[%d].name", i), "%q: every place needs a name of its own", p.Name))
		}
		if keys[p.Key()] {
			errs = append(errs, wrong.At(fmt.Sprintf("places[%d].id", i), "%q: another place has it", p.Key()))
		}
		names[p.Name], keys[p.Key()] = true, true
	}
	return errors.Join(errs...)
}

// LookOver is what was seen on a walk round the vehicle.
type LookOver struct {
	Grades     map[vehicle.Zone]contact.Grade `json:"grades" doc:"Soil grade 0 to 4 by zone"`
	Bonded     []Bonded                       `json:"bonded" maxItems:"200"`
	Watch      []vehicle.Watch                `json:"watch" maxItems:"20"`
	Salt       bool                           `json:"salt" doc:"Salt on the car: road or sea"`
	Filmed     []vehicle.Zone                 `json:"filmed,omitempty" maxItems:"60" doc:"Zones under a film, whatever protects the rest"`
	Protection Protection                     `json:"protection"`
	Place      Place                          `json:"place"`
	Budget     int                            `json:"budget" minimum:"0" maximum:"600" doc:"Minutes there are; 0 for no limit"`
	Crew       int                            `json:"crew,omitempty" minimum:"0" maximum:"20" doc:"Pairs of hands; one when unsaid"`
	Service    string                         `json:"service" maxLength:"80" doc:"id of what was ordered, in the shop's list"`
	TyreShine  bool                           `json:"tyreShine" doc:"The customer wants dressed tyres"`
	Notes      string                         `json:"notes" maxLength:"2000"`
	Pins       map[Fact]string                `json:"pins,omitempty" doc:"Disagreements settled for this wash: question to answer"`
}

// Check names every field of the look-over that cannot be.
func (l LookOver) Check() error {
	var errs []error
	add := func(path, says string, values ...any) { errs = append(errs, wrong.At(path, says, values...)) }
	for z, g := range l.Grades {
		if !z.Known() {
			add(fmt.Sprintf("grades.%s", z), "no such zone")
		}
		if g < 0 || g > contact.Worst {
			add(fmt.Sprintf("grades.%s", z), "grade %d must be 0 to 4", g)
		}
	}
	for i, b := range l.Bonded {
		if !b.Zone.Known() {
			add(fmt.Sprintf("bonded[%d].zone", i), "%q: no such zone", b.Zone)
		}
		if !slices.Contains(b.Matter.Values(), string(b.Matter)) {
			add(fmt.Sprintf("bonded[%d].matter", i), "%q: use one of %q", b.Matter, b.Matter.Values())
		}
	}
	for i, z := range l.Filmed {
		if !z.Painted() {
			add(fmt.Sprintf("filmed[%d]", i), "%q: a film lies on painted zones", z)
		}
	}
	for i, w := range l.Watch {
		if !w.Known() {
			add(fmt.Sprintf("watch[%d]", i), "%q: not on the watch list", w)
		}
	}
	if l.Protection.AgeDays < 0 {
		add("protection.ageDays", "%d: zero or more", l.Protection.AgeDays)
	}
	errs = append(errs, CheckPins(l.Pins))
	if l.Budget < 0 {
		add("budget", "%d: zero or more minutes", l.Budget)
	}
	return errors.Join(errs...)
}

// Watching reports whether the look-over names a watch item.
func (l LookOver) Watching(w vehicle.Watch) bool { return slices.Contains(l.Watch, w) }

// tyres is how the tyres are left: as the service says, where dressing is wanted at all.
func (l LookOver) tyres(ordered Service) TyreFinish {
	switch {
	case !l.TyreShine:
		return BareTyres
	case ordered.Tyres == BareTyres || ordered.Tyres == "":
		return SatinTyres
	}
	return ordered.Tyres
}
