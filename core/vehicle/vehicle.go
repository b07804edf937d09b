package vehicle

import (
	"errors"
	"uskel/core/wrong"
)

// Shade is how light or dark the paint is, which decides how much sun it takes up.
type Shade string

// The shades.
const (
	White  Shade = "white"
	Silver Shade = "silver"
	Mid    Shade = "mid"
	Dark   Shade = "dark"
)

// Values lists the shades.
func (Shade) Values() []string { return []string{"white", "silver", "mid", "dark"} }

// Finish is how easily the paint marks and what may go on it.
type Finish string

// The finishes.
const (
	Ordinary Finish = "ordinary"
	Soft     Finish = "soft"
	Hard     Finish = "hard"
	Satin    Finish = "satin" // and matte: no wax, no gloss product
)

// Values lists the finishes.
func (Finish) Values() []string { return []string{"ordinary", "soft", "hard", "satin"} }

// Spokes is how open the wheel's face is.
type Spokes string

// The spoke patterns.
const (
	OpenSpokes  Spokes = "open"
	PlainSpokes Spokes = "plain"
	ManySpokes  Spokes = "many"
)

// Values lists the spoke patterns.
func (Spokes) Values() []string { return []string{"open", "plain", "many"} }

// WheelSpec describes the wheels.
type WheelSpec struct {
	Inches int    `json:"inches" minimum:"12" maximum:"24" doc:"Rim diameter, inches"`
	Spokes Spokes `json:"spokes"`
	Bare   bool   `json:"bare" doc:"Bare or polished metal, or dark coated: soft mitt, no acid, no stiff bristle"`
}

// Factor scales the time a wheel takes: 17 in is 1, 3 % an inch, open spokes 0.9, many 1.2 (model, docs/models.md).
func (w WheelSpec) Factor() float64 {
	spokes := map[Spokes]float64{OpenSpokes: 0.9, PlainSpokes: 1, ManySpokes: 1.2}[w.Spokes]
	return (1 + 0.03*float64(w.Inches-17)) * spokes
}

// Vehicle is what the plan needs to know of the car itself, apart from its dirt.
type Vehicle struct {
	Body     Body      `json:"body"`
	Shade    Shade     `json:"shade"`
	Finish   Finish    `json:"finish"`
	Wheels   WheelSpec `json:"wheels"`
	Electric bool      `json:"electric" doc:"Electric or hybrid: mind the charge flap"`
	Glass    bool      `json:"glassRoof,omitempty" doc:"The roof is of glass"`
}

// RoofKind is what the roof is made of, given how the body has it: paint, fabric or glass.
func (v Vehicle) RoofKind(roof Part) string {
	if v.Glass && roof.Surface == Paint {
		return string(Glass)
	}
	return string(roof.Surface)
}

// Check says what is wrong with a vehicle, naming the field.
func (v Vehicle) Check() error {
	var errs []error
	oneOf := func(field, value string, values []string) {
		for _, ok := range values {
			if value == ok {
				return
			}
		}
		errs = append(errs, wrong.At(field, "%q: use one of %q", value, values))
	}
	oneOf("body", string(v.Body), v.Body.Values())
	oneOf("shade", string(v.Shade), v.Shade.Values())
	oneOf("finish", string(v.Finish), v.Finish.Values())
	oneOf("wheels.spokes", string(v.Wheels.Spokes), v.Wheels.Spokes.Values())
	if v.Wheels.Inches < 12 || v.Wheels.Inches > 24 {
		errs = append(errs, wrong.At("wheels.inches", "%d: between 12 and 24", v.Wheels.Inches))
	}
	return errors.Join(errs...)
}

// Watch is a fact that the look-over must catch because it changes the plan (docs/trade.md, section 2).
type Watch string

// The watch list.
const (
	FilmEdges    Watch = "film edges"
	FreshCoating Watch = "fresh coating"
	OpenTop      Watch = "open top"
	StoneChips   Watch = "stone chips"
	GlossBlack   Watch = "gloss black trim"
	BlackPlastic Watch = "black plastic"
	HotPanels    Watch = "hot panels"
	DamagedPack  Watch = "damaged battery"
)

var watchFacts = map[Watch]struct {
	label, means string
	barrier      bool
}{
	FilmEdges:    {"Film edges", "Keep the jet and the mitt's edge from catching the edges of the film.", false},
	FreshCoating: {"Fresh coating, under 14 days", "No wash for one to two weeks while a coating cures.", true},
	OpenTop: {
		"Open or worn soft top",
		"Lance far away; keep foam and water out of the cabin; mask the openings.",
		false,
	},
	StoneChips: {
		"Stone chips, peeling lacquer, loose trim",
		"Lower pressure, shallow angle, never straight on. Note before starting.",
		false,
	},
	GlossBlack:   {"Gloss black trim", "A fresh cloth face and the least pressure; no mesh.", false},
	BlackPlastic: {"Plain black plastic", "Product stains it: keep wax and citrus off.", false},
	HotPanels: {
		"Hot bonnet or wheels",
		"Cool it first: a hot panel dries product by itself, hot wheels burn.",
		false,
	},
	DamagedPack: {"Damaged high-voltage battery", "Do not wash. Note it and refer to a licensed workshop.", true},
}

// Values lists the watch list.
func (Watch) Values() []string {
	return []string{string(FilmEdges), string(FreshCoating), string(OpenTop), string(StoneChips), string(GlossBlack),
		string(BlackPlastic), string(HotPanels), string(DamagedPack)}
}

// Known reports whether w is on the watch list.
func (w Watch) Known() bool { _, ok := watchFacts[w]; return ok }

// Label is the watch item's name.
func (w Watch) Label() string { return watchFacts[w].label }

// Means says what the watch item changes.
func (w Watch) Means() string { return watchFacts[w].means }

// Bars reports whether the vehicle must not be washed at all.
func (w Watch) Bars() bool { return watchFacts[w].barrier }
