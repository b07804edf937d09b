package plan

import (
	"cmp"
	"slices"
	"strings"

	"uskel/core/climate"
	"uskel/core/contact"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/vehicle"
	"uskel/core/wash"
)

// Unlikely reports whether the plan does not count with a step.
func (s FilledStep) Unlikely() bool { return s.If != nil && !s.If.Expected }

// Corners are the wheels in the order of a walk round the car.
var Corners = []schedule.Place{schedule.FrontLeft, schedule.FrontRight, schedule.RearRight, schedule.RearLeft}

// Brushes reports whether a step goes over product that another put on, which must have worked before: brushing too soon
// only spreads it. What takes it off has its own span.
func Brushes(steps []FilledStep, a, b *FilledStep) bool {
	if a.Dwell == nil || a.Dwell.Each || a.Dwell.Waits || b.Fresh || slices.Contains(b.Ends, a.ID) {
		return false
	}
	if b.Technique != procedure.Agitate && !b.Touches() || !vehicle.Meet(a.Zones, b.Zones) {
		return false
	}
	for _, s := range steps { // it must still be on
		if s.ID == b.ID {
			break
		}
		if slices.Contains(s.Ends, a.ID) {
			return false
		}
	}
	return true
}

// Origin is the id of the procedure's step that this one was made from: its own, but in a round.
func (s FilledStep) Origin() string { return cmp.Or(s.Base, s.ID) }

// Touches reports whether a cloth meets the paint in the step.
func (s FilledStep) Touches() bool { return procedure.Step{Technique: s.Technique}.Touches() }

// Added is a further product in the vessel of a step's mix.
type Added struct {
	Product string                 `json:"product" doc:"its name"`
	ID      string                 `json:"productId,omitempty" doc:"absent when nothing of its class is on the shelf"`
	Class   procedure.ProductClass `json:"class"`
	Ml      float64                `json:"ml"`
	Counts  string                 `json:"counts" doc:"as it is counted: caps, pumps, ml"`
}

// Drawn is mix that a step takes from a vessel that an earlier step has filled.
type Drawn struct {
	Product string         `json:"product"`
	Vessel  string         `json:"vessel"`
	Takes   measure.Volume `json:"takes" doc:"ml of mix"`
}

// FilledStep is a procedure's step with everything worked out.
type FilledStep struct {
	ID         string                 `json:"id"`
	Base       string                 `json:"base,omitempty" doc:"Id of the procedure's step that a round made it from"`
	Whole      string                 `json:"whole,omitempty" doc:"Title of that step"`
	Part       *RoundPart             `json:"part,omitempty" doc:"In a round: the part of the car that it is done for"`
	Stage      string                 `json:"stage"`
	Title      string                 `json:"title"`
	Text       string                 `json:"text"`
	Because    string                 `json:"because"`
	Technique  procedure.Technique    `json:"technique"`
	Zones      []vehicle.Zone         `json:"zones"`
	Area       float64                `json:"area" doc:"m2"`
	Minutes    float64                `json:"minutes"`
	Written    float64                `json:"written" doc:"min by the procedure as written; Minutes is by the shop's standard, if it has one"`
	Tool       string                 `json:"tool,omitempty"`
	Cloth      string                 `json:"cloth,omitempty"`
	Colour     string                 `json:"colour,omitempty"`
	Machine    string                 `json:"machine,omitempty"`
	Product    string                 `json:"product,omitempty" doc:"Name of the product used as it comes"`
	ProductID  string                 `json:"productId,omitempty"`
	Class      procedure.ProductClass `json:"class,omitempty"`
	Group      procedure.ZoneGroup    `json:"group"`
	Water      procedure.Water        `json:"water,omitempty"`
	Mix        *Mix                   `json:"mix,omitempty"`
	Added      []Added                `json:"added,omitempty" doc:"Further products in the same vessel"`
	Drawn      *Drawn                 `json:"drawn,omitempty" doc:"Mix that an earlier step has made"`
	Taken      float64                `json:"taken,omitempty" doc:"ml of product that it takes off the shelf"`
	Dwell      *Dwell                 `json:"dwell,omitempty"`
	Ends       []string               `json:"ends,omitempty"`
	Rewets     []string               `json:"rewets,omitempty"`
	After      []string               `json:"after,omitempty"`
	During     string                 `json:"during,omitempty" doc:"May be done while that step's product works"`
	PerWheel   bool                   `json:"perWheel,omitempty" doc:"Done wheel by wheel"`
	Unattended bool                   `json:"unattended,omitempty" doc:"Runs by itself"`
	Fresh      bool                   `json:"fresh,omitempty" doc:"Works product in as soon as it is on"`
	Asks       *wash.Asked            `json:"asks,omitempty" doc:"A question whose answer decides about later steps"`
	If         *wash.OnAnswer         `json:"if,omitempty" doc:"Done only after an answer; until then what is expected counts"`
	Opens      []string               `json:"opens,omitempty" doc:"What it leaves open"`
	Closes     []string               `json:"closes,omitempty" doc:"What it closes again"`
	Panels     *Panels                `json:"panels,omitempty"`
	Contact    *contact.Plan          `json:"contact,omitempty" doc:"For a mitt, pad or sponge: move by move"`
	Patches    []contact.Patch        `json:"patches,omitempty" doc:"What a contact step meets: zones and the grit left on them"`
	Rinsing    float64                `json:"rinsing,omitempty" doc:"min of Minutes for rinses of the mitt, or fresh cloths"`
	Wrings     int                    `json:"wrings,omitempty" doc:"how often its drying towels are wrung"`
	Skill      procedure.Skill        `json:"skill,omitempty"`
	Cautions   []string               `json:"cautions,omitempty"`
	LookFor    string                 `json:"lookFor,omitempty"`
	Way        Way                    `json:"way,omitempty" doc:"in which direction it goes over the car"`
	Figures    []Figure               `json:"figures" doc:"Where each number came from"`
}

// Mix is product and water for the vessel in hand.
type Mix struct {
	Product  string                 `json:"product" doc:"its name"`
	ID       string                 `json:"productId,omitempty" doc:"absent when nothing of its class is on the shelf"`
	Class    procedure.ProductClass `json:"class"`
	Vessel   string                 `json:"vessel"`
	Readings measure.Readings       `json:"readings"`
	Reading  measure.Reading        `json:"reading" doc:"How the label prints it"`
	Millis   measure.Volume         `json:"ml" doc:"ml of product"`
	Counts   string                 `json:"counts,omitempty" doc:"as it is counted in, where the procedure counts it"`
	Water    measure.Volume         `json:"water" doc:"ml of water"`
	Takes    measure.Volume         `json:"takes,omitzero" doc:"ml of the mix that the step takes"`
	Left     measure.Volume         `json:"left,omitzero" doc:"ml of it left after the wash, good for the next"`
}

// Dwell is how long product works here and now, counted from the end of the application.
type Dwell struct {
	From      measure.Seconds `json:"from" doc:"earliest rinse, s"`
	To        measure.Seconds `json:"to" doc:"latest rinse, s"`
	Full      measure.Seconds `json:"full" doc:"latest by the procedure and label alone, s"`
	Window    measure.Seconds `json:"window" doc:"drying window of this film here and now, s"`
	Driest    string          `json:"driest,omitempty" doc:"the part of the vehicle on which it dries first"`
	Shortened bool            `json:"shortened" doc:"Drying, not the label, sets the latest rinse"`
	Sections  int             `json:"sections" doc:"Do the zones in this many parts, so that the first does not dry"`
	Least     measure.Seconds `json:"least,omitempty" doc:"what it must work on every zone, s; From may be sooner"`
	Waits     bool            `json:"waits,omitempty" doc:"A wait between two coats, not a film that must not dry"`
	CoverBy   measure.Seconds `json:"coverBy,omitempty" doc:"what wets it again must begin by then, from the end of the putting on, s"`
	MayDry    bool            `json:"mayDry,omitempty" doc:"By the school chosen it may dry: it is wetted again before it is touched"`
	Gentle    bool            `json:"gentle,omitempty" doc:"It harms by drying, not by staying on: only that counts on every zone"`
	Spread    measure.Seconds `json:"spread,omitempty" doc:"what putting on and taking off add for the zone that waits longest, s"`
	Effect    float64         `json:"effect" doc:"Share of the product's work that is kept, 0 to 1"`
	Each      bool            `json:"each" doc:"Item by item, inside the step"`
	Cue       string          `json:"cue,omitempty"`
}

// Panels is how far the mitt and the water carry, in panels of 0.8 m2.
type Panels struct {
	PerFace  float64 `json:"perFace" doc:"panels before the mitt is turned"`
	PerMitt  float64 `json:"perMitt" doc:"panels before the mitt is rinsed"`
	PerRinse int     `json:"perRinse" doc:"panels before the car is rinsed"`
	Rinses   int     `json:"rinses" doc:"rinses of the mitt in all"`
}

// Figure says where a number came from.
type Figure struct {
	Name   string `json:"name"`
	Value  string `json:"value"`
	From   string `json:"from" doc:"Inputs and rule"`
	Source string `json:"source"`
}

// WetPanel is what a drying window depends on within one plan, which asks for few of them many times.
type WetPanel struct {
	Facing  vehicle.Facing
	Surface vehicle.Surface
	Film    climate.Film
}

// RoundPart says which part of a round a step is done for.
type RoundPart struct {
	Round string         `json:"round" doc:"its id in the procedure"`
	Title string         `json:"title" doc:"what is gone round"`
	Over  procedure.Over `json:"over"`
	One   string         `json:"one" doc:"what one of the parts is called"`
	Key   string         `json:"key"`
	Label string         `json:"label" doc:"as people say it"`
	N     int            `json:"n" doc:"which one, from 1"`
	Of    int            `json:"of"`
	At    schedule.Place `json:"at,omitempty" doc:"where on the vehicle"`
}

// Side is on which side of the vehicle a part lies; none for what lies on both.
func (p *RoundPart) Side() string {
	switch {
	case strings.HasSuffix(string(p.At), "left"), p.At == schedule.LeftSide:
		return "left"
	case strings.HasSuffix(string(p.At), "right"), p.At == schedule.RightSide:
		return "right"
	}
	return ""
}

// PartSign stands between a step's id and its part's key in the ids of the steps made from it. No step of a procedure
// can have it in its id.
const PartSign = "@"

// Gentle are the products that harm by drying, not by staying on: the time on their labels is read as people read it, from
// when it is on all over to when it begins to come off. Of all others, which work by chemistry, it counts on every zone.
var Gentle = []procedure.ProductClass{procedure.FoamProduct, procedure.Rinseless}

// Strict is what of the label's time the zone that waits longest needs.
func (d *Dwell) Strict() measure.Seconds {
	if d.Gentle {
		return 0
	}
	return d.Spread
}

// covers reports whether a step puts protection on.
func (s FilledStep) covers() bool {
	return s.Technique == procedure.Finish && slices.Contains(protects, s.Class)
}

// Foams reports whether the step puts foam on.
func (s FilledStep) Foams() bool {
	return s.Class == procedure.FoamProduct || s.Mix != nil && s.Mix.Class == procedure.FoamProduct
}

// Film is what a filled step leaves to dry.
func (s FilledStep) Film() climate.Film {
	if s.Foams() {
		return climate.FoamFilm
	}
	return climate.SprayFilm
}

// Parts are the parts of a body that the step works on.
func (s FilledStep) Parts(body vehicle.Body) []vehicle.Part {
	return slices.DeleteFunc(slices.Clone(body.Parts()), func(p vehicle.Part) bool { return !slices.Contains(s.Zones, p.Zone) })
}

// Route is the way a step goes over some parts: from the top, unless it was settled that it comes up.
func (s FilledStep) Route(parts []vehicle.Part) []film.Leg { return Routed(s.Way, parts) }

// Routed is the way over some parts, leg by leg.
func Routed(way Way, parts []vehicle.Part) []film.Leg {
	if way == WayUp {
		return film.Up(parts)
	}
	return film.Down(parts)
}
