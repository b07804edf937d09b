package condition

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"uskel/core/climate"
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
	WasherHere    Fact = "pressure washer here"
	HoseHere      Fact = "hose here"
	RinseBuckets  Fact = "rinse buckets"
	RunoffAllowed Fact = "runoff allowed"
	FoamWindow    Fact = "foam stays wet"
	SudsWindow    Fact = "suds stay wet"
	WheelLabel    Fact = "wheel cleaner may work"
	WaterHardness Fact = "water hardness"
	ServiceWanted Fact = "service" // the level that the service ordered is finished to
	WantsShine    Fact = "tyre shine wanted"
	TyresWanted   Fact = "tyre finish wanted"
	WantsInside   Fact = "inside ordered"
	WantsTips     Fact = "tips ordered"
	MinutesThere  Fact = "minutes there are"
	FoamOutlasts  Fact = "foam outlasts the wheels"
	BlowerHere    Fact = "blower allowed"
	DarkPaint     Fact = "dark paint"
	HasFilm       Fact = "film edges"
	HasSoftTop    Fact = "soft top"
	BareWheels    Fact = "bare wheels"
	HasSap        Fact = "tree sap"
	HasSpots      Fact = "water spots"
	AirTemp       Fact = "air temperature"
	Crew          Fact = "crew"
	IsElectric    Fact = "electric"
	BodyKind      Fact = "body"
	WheelInches   Fact = "wheel diameter"
	WheelSpokes   Fact = "spokes"
	SunOnIt       Fact = "sun on the car"
	SunnySide     Fact = "sunny side"
	WindHere      Fact = "wind"
	HumidityHere  Fact = "humidity"
	FrostHere     Fact = "frost"
	HasGlossBlack Fact = "gloss black"
	HasPlastic    Fact = "plain plastic"
	HasChips      Fact = "stone chips"
	HasDressing   Fact = "old dressing"
	HasRoadFilm   Fact = "traffic film"
	PartFilmed    Fact = "film on part of it"
	DaysWashed    Fact = "days since the last wash"
	DaysCovered   Fact = "days since protection was put on"
	DaysServiced  Fact = "days since it was decontaminated"
	TraineeWashes Fact = "a trainee washes"
	JetPressure   Fact = "jet pressure"
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
	Least   float64  `json:"least,omitempty" doc:"For numbers: the smallest there is"`
	Most    float64  `json:"most,omitempty" doc:"For numbers: the largest there is; 0 for no end"`
	Whole   bool     `json:"whole,omitempty" doc:"For numbers: only whole ones"`
	// Question is set for the disagreements of the trade, which are settled, not seen.
	Question bool `json:"question,omitempty"`
}

var factInfos = []FactInfo{
	{Fact: GradeOverall, Label: "the overall grade", Kind: Number, Most: 4, Whole: true},
	{Fact: GradeUpper, Label: "the upper band's worst grade", Kind: Number, Most: 4, Whole: true},
	{Fact: GradeMiddle, Label: "the middle band's worst grade", Kind: Number, Most: 4, Whole: true},
	{Fact: GradeLower, Label: "the lower band's worst grade", Kind: Number, Most: 4, Whole: true},
	{Fact: GradeWheels, Label: "the wheels' worst grade", Kind: Number, Most: 4, Whole: true},
	{Fact: HasBugs, Label: "bugs are on it", Kind: YesNo, Absent: "no bugs are on it"},
	{Fact: HasBirdLime, Label: "bird lime is on it", Kind: YesNo, Absent: "no bird lime is on it"},
	{Fact: HasTar, Label: "tar is on it", Kind: YesNo, Absent: "no tar is on it"},
	{Fact: HasIron, Label: "iron specks are on it", Kind: YesNo, Absent: "no iron specks are on it"},
	{Fact: HasSalt, Label: "salt is on it", Kind: YesNo, Absent: "no salt is on it"},
	{Fact: Protected, Label: "the protection", Kind: Choice, Choices: ProtectionKind("").Values()},
	{Fact: ProtectionAge, Label: "the protection's age", Kind: Number, Unit: "days", Whole: true},
	{Fact: WaterOnPaint, Label: "water on the paint", Kind: Choice, Choices: WaterSeen("").Values()},
	{Fact: PaintFinish, Label: "the finish", Kind: Choice, Choices: vehicle.Finish("").Values()},
	{Fact: PaintShade, Label: "the shade", Kind: Choice, Choices: vehicle.Shade("").Values()},
	{Fact: RoofKind, Label: "the roof", Kind: Choice, Choices: []string{string(vehicle.Paint), string(vehicle.Fabric), string(vehicle.Glass)}},
	{Fact: HotPanels, Label: "panels or wheels are hot", Kind: YesNo, Absent: "panels and wheels are cool"},
	{Fact: MustNotWash, Label: "it must not be washed now", Kind: YesNo, Absent: "nothing forbids washing it now"},
	{Fact: CoverHere, Label: "the cover", Kind: Choice, Choices: []string{"open sky", "shade", "indoors"}},
	{Fact: SupplyHere, Label: "the water supply", Kind: Choice, Choices: Supply("").Values()},
	{Fact: WasherHere, Label: "a pressure washer is here", Kind: YesNo, Absent: "there is no pressure washer here"},
	{Fact: HoseHere, Label: "a hose is here", Kind: YesNo, Absent: "there is no hose here"},
	{Fact: RinseBuckets, Label: "the rinse buckets", Kind: Number, Unit: "buckets", Least: 1, Most: 10, Whole: true},
	{Fact: RunoffAllowed, Label: "wash water may run off here", Kind: YesNo, Absent: "wash water may not run off here"},
	{Fact: FoamWindow, Label: "the time foam stays wet", Kind: Number, Unit: "min"},
	{Fact: SudsWindow, Label: "the time suds stay wet", Kind: Number, Unit: "min"},
	{Fact: WheelLabel, Label: "the time the wheel cleaner's label allows", Kind: Number, Unit: "min"},
	{Fact: WaterHardness, Label: "the water's hardness", Kind: Number, Unit: "mg/l"},
	{Fact: ServiceWanted, Label: "the level of finish", Kind: Choice, Choices: Level("").Values()},
	{Fact: TyresWanted, Label: "the tyres' finish", Kind: Choice, Choices: TyreFinish("").Values()},
	{Fact: WantsInside, Label: "the inside is ordered", Kind: YesNo, Absent: "the inside is not ordered"},
	{Fact: WantsTips, Label: "exhaust tips are ordered", Kind: YesNo, Absent: "exhaust tips are not ordered"},
	{Fact: WantsShine, Label: "tyre shine is wanted", Kind: YesNo, Absent: "tyre shine is not wanted"},
	{
		Fact:   FoamOutlasts,
		Label:  "foam may work longer than the wheels take",
		Kind:   YesNo,
		Absent: "foam must be off before the wheels are done",
	},
	{Fact: BlowerHere, Label: "a blower may be used here", Kind: YesNo, Absent: "no blower may be used here"},
	{Fact: DarkPaint, Label: "the paint is dark", Kind: YesNo, Absent: "the paint is not dark"},
	{Fact: HasFilm, Label: "it has film edges", Kind: YesNo, Absent: "it has no film edges"},
	{Fact: HasSoftTop, Label: "it has a soft or open top", Kind: YesNo, Absent: "it has a hard, closed top"},
	{Fact: BareWheels, Label: "the wheels are dark or bare metal", Kind: YesNo, Absent: "the wheels are lacquered"},
	{Fact: HasSap, Label: "tree sap is on it", Kind: YesNo, Absent: "no tree sap is on it"},
	{Fact: HasSpots, Label: "water spots are on it", Kind: YesNo, Absent: "no water spots are on it"},
	{Fact: AirTemp, Label: "the air temperature", Kind: Number, Unit: "°C", Least: -40, Most: 60},
	{Fact: Crew, Label: "the crew", Kind: Number, Unit: "pairs of hands", Least: 1, Most: 20, Whole: true},
	{Fact: MinutesThere, Label: "the time there is", Kind: Number, Unit: "min"},
	{Fact: IsElectric, Label: "it is electric or a hybrid", Kind: YesNo, Absent: "it has no high-voltage battery"},
	{Fact: BodyKind, Label: "the body", Kind: Choice, Choices: vehicle.Body("").Values()},
	{Fact: WheelInches, Label: "the wheels' diameter", Kind: Number, Unit: "in", Least: 12, Most: 24, Whole: true},
	{Fact: WheelSpokes, Label: "the spokes", Kind: Choice, Choices: vehicle.Spokes("").Values()},
	{Fact: SunOnIt, Label: "the sun is on it", Kind: YesNo, Absent: "no sun is on it"},
	{Fact: SunnySide, Label: "the sunny side", Kind: Choice, Choices: sunnySides},
	{Fact: WindHere, Label: "the wind at the car", Kind: Number, Unit: "m/s", Most: 40},
	{Fact: HumidityHere, Label: "the humidity at the car", Kind: Number, Unit: "%", Most: 100},
	{Fact: FrostHere, Label: "it freezes there", Kind: YesNo, Absent: "it does not freeze there"},
	{Fact: HasGlossBlack, Label: "it has gloss black trim", Kind: YesNo, Absent: "it has no gloss black trim"},
	{Fact: HasPlastic, Label: "it has plain black plastic", Kind: YesNo, Absent: "it has no plain black plastic"},
	{Fact: HasChips, Label: "it has stone chips or loose lacquer", Kind: YesNo, Absent: "it has no stone chips"},
	{Fact: HasDressing, Label: "old dressing is on it", Kind: YesNo, Absent: "no old dressing is on it"},
	{Fact: HasRoadFilm, Label: "traffic film is on it", Kind: YesNo, Absent: "no traffic film is on it"},
	{Fact: PartFilmed, Label: "part of it is filmed", Kind: YesNo, Absent: "no film is on it besides"},
	{Fact: DaysWashed, Label: "the last wash here was", Kind: Number, Unit: "days ago"},
	{Fact: DaysCovered, Label: "protection was put on here", Kind: Number, Unit: "days ago"},
	{Fact: DaysServiced, Label: "it was decontaminated here", Kind: Number, Unit: "days ago"},
	{Fact: TraineeWashes, Label: "a trainee washes", Kind: YesNo, Absent: "no trainee washes"},
	{Fact: JetPressure, Label: "the jet's pressure", Kind: Number, Unit: "MPa", Most: 40},
}

// sunnySides are the sides that the sun can be on, as people name them.
var sunnySides = []string{"none", string(vehicle.FrontSide), string(vehicle.RightSide), string(vehicle.RearSide), string(vehicle.LeftSide)}

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
	FoamWindow time.Duration // how long foam stays wet
	SudsWindow time.Duration // how long suds stay wet
	WheelLabel time.Duration // the longest that the wheel cleaner's label allows; no end when it names none
	FoamWorks  time.Duration // how long it may work: wet, within its label, from when it is on
	WheelWork  time.Duration // what the four wheels take by hand
	Hardness   measure.Hardness
	Here       climate.Weather // at the car, under its cover
	Past       Past            // what was done to the vehicle here
	Now        time.Time       // the hour of the wash, for what is counted from the past
	Trainee    bool            // who washes is still learning
	Buckets    int             // rinse buckets that the shop has; one when unsaid
}

// sunshine is the direct sun, W/m2, from which the sun shines (World Meteorological Organization: 120 W/m2).
const sunshine = 120

// sunny is the upright side that takes most of the sun's beam; none where it does not shine.
func sunny(w climate.Weather, heading float64) string {
	if w.Direct < sunshine || w.SunAltitude <= 0 {
		return sunnySides[0]
	}
	side, most := sunnySides[0], 0.0
	for name, facing := range map[vehicle.Side]vehicle.Facing{vehicle.FrontSide: vehicle.FacesFront, vehicle.RightSide: vehicle.FacesRight,
		vehicle.RearSide: vehicle.FacesRear, vehicle.LeftSide: vehicle.FacesLeft} {
		if sun := w.SunOn(facing, heading); sun > most {
			side, most = string(name), sun
		}
	}
	return side
}

// daysSince counts whole days from something that was done; what was never done, as far as is known, has no end.
func daysSince(then, now time.Time) float64 {
	if then.IsZero() || now.IsZero() {
		return math.Inf(1)
	}
	return math.Floor(max(0, now.Sub(then).Hours()/24))
}

// YesOrNo is what a yes or no fact knows.
func YesOrNo(b bool) Value { return yes(b) }

// FactsOf gathers the facts.
func FactsOf(v vehicle.Vehicle, l LookOver, menu Menu, s Surroundings) Facts {
	a, ordered := Assess(v, l, menu), menu.Of(l.Service)
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
	budget := number(float64(ordered.There(l.Budget)))
	if budget.Number == 0 {
		budget = number(math.Inf(1))
	}
	return Facts{
		GradeOverall:  number(float64(a.Overall)),
		GradeUpper:    worst(vehicle.Upper),
		GradeMiddle:   worst(vehicle.Middle),
		GradeLower:    worst(vehicle.Lower),
		GradeWheels:   worst(vehicle.Wheels),
		HasBugs:       has(Bugs),
		HasBirdLime:   has(BirdLime),
		HasTar:        has(Tar),
		HasIron:       has(Iron),
		HasSalt:       yes(l.Salt),
		Protected:     text(string(l.Protection.Kind)),
		ProtectionAge: number(float64(l.Protection.AgeDays)),
		WaterOnPaint: text(
			string(l.Protection.Water),
		),
		PaintFinish: text(string(v.Finish)),
		PaintShade:  text(string(v.Shade)),
		RoofKind:    text(v.RoofKind(roof)),
		HotPanels:   yes(l.Watching(vehicle.HotPanels)),
		MustNotWash: yes(len(a.Barred) > 0),
		HasSap:      has(Sap),
		HasSpots:    has(WaterSpots),
		DarkPaint:   yes(v.Shade == vehicle.Dark),
		HasFilm:     yes(l.Watching(vehicle.FilmEdges)),
		HasSoftTop:  yes(roof.Surface == vehicle.Fabric || l.Watching(vehicle.OpenTop)),
		BareWheels:  yes(v.Wheels.Bare),
		FoamOutlasts: yes(
			s.FoamWorks > s.WheelWork,
		),
		BlowerHere: yes(l.Place.Blower),
		AirTemp:    number(float64(s.Here.Temp)),
		Crew:       number(float64(max(1, l.Crew))),
		CoverHere: text(
			string(l.Place.Cover),
		),
		SupplyHere:    text(string(l.Place.Supply)),
		WasherHere:    yes(l.Place.Has(PressureWasher)),
		HoseHere:      yes(l.Place.Has(Hose)),
		RinseBuckets:  number(float64(max(1, s.Buckets))),
		RunoffAllowed: yes(l.Place.Runoff),
		FoamWindow:    number(s.FoamWindow.Minutes()),
		SudsWindow:    number(s.SudsWindow.Minutes()),
		WheelLabel:    number(s.WheelLabel.Minutes()),
		WaterHardness: number(float64(s.Hardness)),
		ServiceWanted: text(string(ordered.Level)),
		WantsShine:    yes(l.TyreShine),
		TyresWanted:   text(string(l.tyres(ordered))),
		WantsInside:   yes(ordered.Inside),
		WantsTips:     yes(ordered.Tips),
		MinutesThere:  budget,
		IsElectric:    yes(v.Electric),
		BodyKind:      text(string(v.Body)),
		WheelInches:   number(float64(v.Wheels.Inches)),
		WheelSpokes:   text(string(v.Wheels.Spokes)),
		SunOnIt:       yes(s.Here.Direct >= sunshine && s.Here.SunAltitude > 0),
		SunnySide:     text(sunny(s.Here, l.Place.Heading)),
		WindHere:      number(s.Here.Wind),
		HumidityHere:  number(100 * s.Here.RH),
		FrostHere:     yes(s.Here.Temp <= 0),
		HasGlossBlack: yes(l.Watching(vehicle.GlossBlack)),
		HasPlastic:    yes(l.Watching(vehicle.BlackPlastic)),
		HasChips:      yes(l.Watching(vehicle.StoneChips)),
		HasDressing:   has(OldDressing),
		HasRoadFilm:   has(TrafficFilm),
		PartFilmed:    yes(len(l.Filmed) > 0),
		DaysWashed:    number(daysSince(s.Past.Washed, s.Now)),
		DaysCovered:   number(daysSince(s.Past.Covered, s.Now)),
		DaysServiced:  number(daysSince(s.Past.Serviced, s.Now)),
		TraineeWashes: yes(s.Trainee),
		JetPressure:   number(l.Place.jet()),
	}
}

func yes(b bool) Value {
	if b {
		return Value{Text: "yes"}
	}
	return Value{Text: "no"}
}
