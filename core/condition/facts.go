package condition

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Fact names one thing a condition can ask about.
type Fact string

// The facts. Numbers are grades, counts, days, minutes or mg/l; the others are one of a list.
const (
	GradeOverall  Fact = "grade overall"
	GradeUpper    Fact = "grade upper"
	GradeMiddle   Fact = "grade middle"
	GradeLower    Fact = "grade lower"
	GradeWheels   Fact = "grade wheels"
	HasBugs       Fact = "bugs"
	HasBirdLime   Fact = "bird lime"
	HasTar        Fact = "tar"
	HasIron       Fact = "iron specks"
	HasSalt       Fact = "salt"
	Protected     Fact = "protection"
	ProtectionAge Fact = "protection age"
	WaterOnPaint  Fact = "water on the paint"
	PaintFinish   Fact = "finish"
	PaintShade    Fact = "shade"
	RoofKind      Fact = "roof"
	HotPanels     Fact = "hot panels"
	MustNotWash   Fact = "must not be washed"
	CoverHere     Fact = "cover"
	SupplyHere    Fact = "water supply"
	RunoffAllowed Fact = "runoff allowed"
	FoamWindow    Fact = "foam stays wet"
	WaterHardness Fact = "water hardness"
	ServiceWanted Fact = "service"
	WantsShine    Fact = "tyre shine wanted"
	MinutesThere  Fact = "minutes there are"
)

// Kind is a fact's type.
type Kind string

// The kinds of fact.
const (
	Number Kind = "number"
	Choice Kind = "choice"
	YesNo  Kind = "yes or no"
)

// Values lists the kinds.
func (Kind) Values() []string { return []string{string(Number), string(Choice), string(YesNo)} }

// FactInfo describes a fact for reading back and for checking a condition.
type FactInfo struct {
	Fact    Fact     `json:"fact"`
	Label   string   `json:"label"`
	Kind    Kind     `json:"kind"`
	Unit    string   `json:"unit,omitempty"`
	Choices []string `json:"choices,omitempty"`
	Absent  string   `json:"absent,omitempty" doc:"For yes or no: how the no is said"`
}

var factInfos = []FactInfo{
	{GradeOverall, "the overall grade", Number, "", nil, ""},
	{GradeUpper, "the upper band's worst grade", Number, "", nil, ""},
	{GradeMiddle, "the middle band's worst grade", Number, "", nil, ""},
	{GradeLower, "the lower band's worst grade", Number, "", nil, ""},
	{GradeWheels, "the wheels' worst grade", Number, "", nil, ""},
	{HasBugs, "bugs are on it", YesNo, "", nil, "no bugs are on it"},
	{HasBirdLime, "bird lime is on it", YesNo, "", nil, "no bird lime is on it"},
	{HasTar, "tar is on it", YesNo, "", nil, "no tar is on it"},
	{HasIron, "iron specks are on it", YesNo, "", nil, "no iron specks are on it"},
	{HasSalt, "salt is on it", YesNo, "", nil, "no salt is on it"},
	{Protected, "the protection", Choice, "", ProtectionKind("").Values(), ""},
	{ProtectionAge, "the protection's age", Number, "days", nil, ""},
	{WaterOnPaint, "water on the paint", Choice, "", WaterSeen("").Values(), ""},
	{PaintFinish, "the finish", Choice, "", vehicle.Finish("").Values(), ""},
	{PaintShade, "the shade", Choice, "", vehicle.Shade("").Values(), ""},
	{RoofKind, "the roof", Choice, "", []string{string(vehicle.Paint), string(vehicle.Fabric)}, ""},
	{HotPanels, "panels or wheels are hot", YesNo, "", nil, "panels and wheels are cool"},
	{MustNotWash, "it must not be washed now", YesNo, "", nil, "nothing forbids washing it now"},
	{CoverHere, "the cover", Choice, "", []string{"open sky", "shade", "indoors"}, ""},
	{SupplyHere, "the water supply", Choice, "", Supply("").Values(), ""},
	{RunoffAllowed, "wash water may run off here", YesNo, "", nil, "wash water may not run off here"},
	{FoamWindow, "the time foam stays wet", Number, "min", nil, ""},
	{WaterHardness, "the water's hardness", Number, "mg/l", nil, ""},
	{ServiceWanted, "the service", Choice, "", Service("").Values(), ""},
	{WantsShine, "tyre shine is wanted", YesNo, "", nil, "tyre shine is not wanted"},
	{MinutesThere, "the time there is", Number, "min", nil, ""},
}

// AllFacts describes every fact.
func AllFacts() []FactInfo { return slices.Clone(factInfos) }

// Values lists the facts' names.
func (Fact) Values() []string {
	names := make([]string, len(factInfos))
	for i, f := range factInfos {
		names[i] = string(f.Fact)
	}
	return names
}

// Info finds a fact's description.
func (f Fact) Info() (FactInfo, error) {
	for _, info := range factInfos {
		if info.Fact == f {
			return info, nil
		}
	}
	return FactInfo{}, fmt.Errorf("fact %q: there is no such fact", f)
}

// Value is what is known of a fact: a number, or a text (one of the choices, or "yes" or "no").
type Value struct {
	Number float64
	Text   string
}

// String writes the value for a sentence.
func (v Value) String() string {
	if v.Text != "" {
		return v.Text
	}
	return strconv.FormatFloat(math.Round(v.Number*10)/10, 'f', -1, 64)
}

// Facts is everything a condition may ask about one vehicle in one place on one day.
type Facts map[Fact]Value

// Surroundings are the facts that come from the place's weather and water, not from the vehicle.
type Surroundings struct {
	FoamWindow time.Duration
	Hardness   measure.Hardness
}

// FactsOf gathers the facts.
func FactsOf(v vehicle.Vehicle, l LookOver, s Surroundings) Facts {
	a := Assess(v, l)
	number := func(n float64) Value { return Value{Number: n} }
	text := func(t string) Value { return Value{Text: t} }
	worst := func(b vehicle.Band) Value {
		g := contact.Grade(0)
		for z, grade := range l.Grades {
			if z.Band() == b {
				g = max(g, grade)
			}
		}
		return number(float64(g))
	}
	has := func(m Matter) Value {
		return yes(slices.ContainsFunc(l.Bonded, func(b Bonded) bool { return b.Matter == m }))
	}
	roof, _ := v.Body.Part(vehicle.Roof)
	budget := number(float64(l.Budget))
	if l.Budget == 0 {
		budget = number(math.Inf(1))
	}
	return Facts{
		GradeOverall: number(float64(a.Overall)), GradeUpper: worst(vehicle.Upper), GradeMiddle: worst(vehicle.Middle),
		GradeLower: worst(vehicle.Lower), GradeWheels: worst(vehicle.Wheels),
		HasBugs: has(Bugs), HasBirdLime: has(BirdLime), HasTar: has(Tar), HasIron: has(Iron), HasSalt: yes(l.Salt),
		Protected: text(string(l.Protection.Kind)), ProtectionAge: number(float64(l.Protection.AgeDays)),
		WaterOnPaint: text(string(l.Protection.Water)), PaintFinish: text(string(v.Finish)), PaintShade: text(string(v.Shade)),
		RoofKind: text(string(roof.Surface)), HotPanels: yes(l.Watching(vehicle.HotPanels)), MustNotWash: yes(len(a.Barred) > 0),
		CoverHere: text(string(l.Place.Cover)), SupplyHere: text(string(l.Place.Supply)), RunoffAllowed: yes(l.Place.Runoff),
		FoamWindow: number(s.FoamWindow.Minutes()), WaterHardness: number(float64(s.Hardness)),
		ServiceWanted: text(string(l.Service)), WantsShine: yes(l.TyreShine), MinutesThere: budget,
	}
}

func yes(b bool) Value {
	if b {
		return Value{Text: "yes"}
	}
	return Value{Text: "no"}
}
