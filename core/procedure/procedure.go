// Package procedure holds what a shop lead writes: stages and steps in the order of the work, each
// with its tools, doses, times and the condition under which it applies (docs/trade.md, sections 5 and 6).
package procedure

import (
	"errors"
	"fmt"
	"slices"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Procedure is a version of a way to wash. Published versions never change.
type Procedure struct {
	ID       string   `json:"id"`
	Family   string   `json:"family" doc:"Method family (docs/trade.md, section 5)" example:"F6"`
	Version  int      `json:"version"`
	Title    string   `json:"title"`
	Fits     string   `json:"fits" doc:"What it is for, in the author's words"`
	Entry    []Entry  `json:"entry" doc:"What must hold before it may be used at all"`
	Standard bool     `json:"standard,omitempty" doc:"The shop's standard: preferred where none is made for the condition"`
	Suits    Rule     `json:"suits" doc:"When it is the better choice among those that do no harm; {} for no preference"`
	Pins     Pins     `json:"pins,omitempty" doc:"Disagreements of the trade that this procedure settles itself"`
	Waivers  []Waiver `json:"waivers,omitempty" doc:"Warnings of the sense check that the lead lets stand, with reasons"`
	Rounds   []Round  `json:"rounds,omitempty" doc:"Runs of steps done for one part of the car before the next"`
	Stages   []Stage  `json:"stages"`
}

// Entry is one thing that must hold, and what is said when it does not.
type Entry struct {
	Rule    Rule   `json:"rule"`
	Refusal string `json:"refusal"`
}

// Stage is a stretch of the work that is timed as one.
type Stage struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Steps []Step `json:"steps"`
}

// ZoneGroup names the zones a step works on.
type ZoneGroup string

// The zone groups.
const (
	NoZones        ZoneGroup = "none"
	Outside        ZoneGroup = "outside"                // paint and glass, all bands
	OutsideRims    ZoneGroup = "outside rims"           // paint, glass, wheels, tyres and arches
	LowerHalf      ZoneGroup = "lower half"             // lower band
	FrontEnd       ZoneGroup = "front end"              // front bumper and mirrors
	AllWheels      ZoneGroup = "wheels"                 // wheels, tyres and arches
	Rims           ZoneGroup = "rims"                   // wheels without tyres and arches
	Tyres          ZoneGroup = "tyres"                  // tyres
	PaintOnly      ZoneGroup = "paint"                  // painted zones
	AllGlass       ZoneGroup = "glass"                  // glass
	AllShuts       ZoneGroup = "shuts"                  // shuts
	Below          ZoneGroup = "underside"              // underside and arches
	UpperPaint     ZoneGroup = "upper surface"          // roof and bonnet
	LowerAndFront  ZoneGroup = "lower half and mirrors" // lower band and what meets the bugs
	UpperAndMiddle ZoneGroup = "upper and middle"       // what the first pad may touch
	TipsOnly       ZoneGroup = "exhaust tips"
	ChosenZones    ZoneGroup = "chosen zones" // the zones the step itself names
)

// Values lists the groups.
func (ZoneGroup) Values() []string {
	return []string{
		string(NoZones),
		string(Outside),
		string(OutsideRims),
		string(LowerHalf),
		string(FrontEnd),
		string(AllWheels),
		string(Rims),
		string(Tyres),
		string(PaintOnly),
		string(AllGlass),
		string(AllShuts),
		string(Below),
		string(UpperPaint),
		string(LowerAndFront),
		string(UpperAndMiddle),
		string(TipsOnly),
		string(ChosenZones),
	}
}

// Has reports whether a part belongs to the group.
func (g ZoneGroup) Has(p vehicle.Part) bool {
	body := p.Band == vehicle.Upper || p.Band == vehicle.Middle || p.Band == vehicle.Lower
	switch g {
	case Outside:
		return body
	case OutsideRims:
		return body || p.Band == vehicle.Wheels
	case LowerHalf:
		return p.Band == vehicle.Lower
	case FrontEnd:
		return p.Zone == vehicle.Front || p.Zone == vehicle.MirrorLeft || p.Zone == vehicle.MirrorRight
	case AllWheels:
		return p.Band == vehicle.Wheels
	case Rims:
		return p.Surface == vehicle.Rim
	case Tyres:
		return p.Surface == vehicle.Rubber
	case PaintOnly:
		return body && p.Surface == vehicle.Paint
	case AllGlass:
		return p.Surface == vehicle.Glass
	case AllShuts:
		return p.Band == vehicle.InShut
	case Below:
		return p.Band == vehicle.Under
	case LowerAndFront:
		return LowerHalf.Has(p) || FrontEnd.Has(p)
	case UpperAndMiddle:
		return p.Band == vehicle.Upper || p.Band == vehicle.Middle
	case TipsOnly:
		return p.Band == vehicle.Trim
	case UpperPaint:
		return p.Zone == vehicle.Roof || p.Zone == vehicle.Bonnet
	}
	return false
}

// Technique is what a step does, as far as the models care.
type Technique string

// The techniques.
const (
	Prepare      Technique = "prepare"
	Rinse        Technique = "rinse"
	Apply        Technique = "apply"
	Agitate      Technique = "agitate"
	ContactWash  Technique = "contact wash"
	ContactTowel Technique = "towel wash"
	Dry          Technique = "dry"
	Finish       Technique = "finish"
	Inspect      Technique = "inspect"
)

// Values lists the techniques.
func (Technique) Values() []string {
	return []string{
		string(Prepare),
		string(Rinse),
		string(Apply),
		string(Agitate),
		string(ContactWash),
		string(ContactTowel),
		string(Dry),
		string(Finish),
		string(Inspect),
	}
}

// Step is one thing to do.
type Step struct {
	ID        string         `json:"id"`
	Title     string         `json:"title"`
	Text      string         `json:"text" doc:"The instruction in the author's words"`
	Says      []Saying       `json:"says,omitempty" doc:"Sentences added to the instruction where their condition holds"`
	Reason    string         `json:"reason" doc:"Why it is done"`
	Zones     ZoneGroup      `json:"zones"`
	Only      []vehicle.Zone `json:"only,omitempty" doc:"For chosen zones: which"`
	Technique Technique      `json:"technique"`
	Act       contact.Act    `json:"act,omitempty" doc:"What it takes off without touching"`
	Tool      string         `json:"tool,omitempty"`
	Cloth     string         `json:"cloth,omitempty" doc:"Cloth class and how many"`
	Medium    contact.Cloth  `json:"medium,omitempty" doc:"What touches the paint; a mitt, or for a towel wash a plush towel, when unsaid"`
	Cloths    int            `json:"cloths,omitempty" doc:"For a towel wash: so many, whatever the dirt; counted by the dirt when unsaid"`
	LowerMitt bool           `json:"lowerMitt,omitempty" doc:"A mitt of its own for the lower band; from grade 3 in any case"`
	BothHands bool           `json:"bothHands,omitempty" doc:"A cloth in each hand: half the stroke time"`
	Colour    string         `json:"colour,omitempty" doc:"Cloth colour: where it may go"`
	Class     ProductClass   `json:"class,omitempty" doc:"Product used as it comes, without a dose"`
	Product   string         `json:"product,omitempty" doc:"Id of a product on the shelf, where not any of its class will do"`
	Water     Water          `json:"water,omitempty" doc:"What water it wants; any when unsaid"`
	WetPaint  bool           `json:"wetPaint,omitempty" doc:"Protection meant for wet paint, before drying"`
	Again     bool           `json:"again,omitempty" doc:"A second wash: what it meets has been washed once"`
	Dose      *Dose          `json:"dose,omitempty"`
	Uses      *Consumption   `json:"uses,omitempty" doc:"What it takes of its product, or of its mix; by the product's kind when unsaid"`
	Dwell     *Dwell         `json:"dwell,omitempty"`
	Ends      []string       `json:"ends,omitempty" doc:"Steps whose product this step takes off"`
	Rewets    []string       `json:"rewets,omitempty" doc:"Earlier steps whose product this one wets again, to dry with its own"`
	Repeats   bool           `json:"repeats,omitempty" doc:"Done again before, as often as what it wets again would dry"`
	After     []string       `json:"after,omitempty" doc:"Steps that must be done before this one, wherever it is moved"`
	During    string         `json:"during,omitempty" doc:"May be done while that step's product works"`
	Fresh     bool           `json:"fresh,omitempty" doc:"Works product in as soon as it is on; else it waits until it has worked"`
	Asks      *Ask           `json:"asks,omitempty" doc:"A question to whoever washes, answered when it is done"`
	If        *Branch        `json:"if,omitempty" doc:"Done only after this answer to an earlier step's question"`
	Opens     []string       `json:"opens,omitempty" doc:"What it leaves open, as a reminder: filler flap, wipers up"`
	Closes    []string       `json:"closes,omitempty" doc:"What it closes again; the last look closes whatever is left"`
	Round     string         `json:"round,omitempty" doc:"Id of the round that it belongs to"`
	Once      Once           `json:"once,omitempty" doc:"In a round: done once, before the first part or after the last"`
	Time      Time           `json:"time"`
	Machine   string         `json:"machine,omitempty"`
	Skill     Skill          `json:"skill,omitempty"`
	Cautions  []string       `json:"cautions,omitempty"`
	LookFor   string         `json:"lookFor,omitempty" doc:"What shows that it is done"`
	When      Rule           `json:"when" doc:"Condition; {} for always"`
}

// On reports whether the step works on a part.
func (s Step) On(p vehicle.Part) bool {
	if s.Zones == ChosenZones {
		return slices.Contains(s.Only, p.Zone)
	}
	return s.Zones.Has(p)
}

// Touches reports whether a cloth meets the paint in the step.
func (s Step) Touches() bool { return s.Technique == ContactWash || s.Technique == ContactTowel }

// Waits reports whether the step's dwell is a wait and not a film that must not dry: between two coats of a dressing.
func (s Step) Waits() bool {
	return s.Dwell != nil && (s.ProductClass() == TyreGel || s.ProductClass() == TrimDressing)
}

// Saying is a sentence of the instruction that depends on the condition.
type Saying struct {
	When Rule   `json:"when"`
	Text string `json:"text"`
}

// Dose is product for a vessel.
type Dose struct {
	Class  ProductClass  `json:"class"`
	Ratio  measure.Ratio `json:"ratio"`
	Vessel string        `json:"vessel"`
	// Fill is how much mix is made. A bucket is dosed on its water, as the trade measures it; a bottle on its total.
	Fill    measure.Volume `json:"fill" doc:"ml of mix made"`
	ByWater bool           `json:"byWater" doc:"Ratio applies to the water already in the vessel"`
	// Reading is how the label prints the ratio.
	Reading measure.Reading `json:"reading"`
	// Stronger are other strengths by condition; the last that holds is mixed.
	Stronger []Strength `json:"stronger,omitempty" doc:"Other strengths where a condition holds: stronger at grade 3"`
	// Counted is the dose where it is counted and not given as a ratio; the ratio then follows from it.
	Counted *Counted `json:"counted,omitempty" doc:"The product as it is counted into the vessel: caps, pumps, ml; wins over the ratio"`
	// Extras are further products in the same vessel.
	Extras []Extra `json:"extras,omitempty" maxItems:"6"`
}

// Strength is a ratio that is mixed where a condition holds.
type Strength struct {
	When    Rule          `json:"when"`
	Ratio   measure.Ratio `json:"ratio"`
	Counted *Counted      `json:"counted,omitempty" doc:"where the dose is counted: how much then"`
}

// Here is the dose as it is mixed where some facts hold.
func (d Dose) Here(facts condition.Facts) Dose {
	for _, s := range d.Stronger {
		if s.When.Holds(facts) {
			d.Ratio, d.Counted = s.Ratio, s.Counted
		}
	}
	if d.Counted != nil {
		if ratio, err := d.Counted.ratio(d.Fill, d.ByWater); err == nil {
			d.Ratio = ratio
		}
	}
	return d
}

// counts says what is wrong with what of a dose is counted.
func (d Dose) counts() error {
	var errs []error
	add := func(at string, c *Counted) {
		if c == nil {
			return
		}
		err := c.Check()
		if err == nil {
			_, err = c.ratio(d.Fill, d.ByWater)
		}
		if err != nil {
			errs = append(errs, fmt.Errorf("%s: %w", at, err))
		}
	}
	add("counted", d.Counted)
	for i, s := range d.Stronger {
		add(fmt.Sprintf("stronger[%d].counted", i), s.Counted)
	}
	for i, e := range d.Extras {
		add(fmt.Sprintf("extras[%d].counted", i), &e.Counted)
	}
	return errors.Join(errs...)
}

// Consumption is how much of a product, or of its mix, a step takes: ml in all, a square metre, a wheel.
type Consumption struct {
	Fixed    float64 `json:"fixed,omitempty" minimum:"0" maximum:"20000"`
	PerM2    float64 `json:"perM2,omitempty" minimum:"0" maximum:"2000"`
	PerWheel float64 `json:"perWheel,omitempty" minimum:"0" maximum:"2000"`
}

// Water is the water a step wants.
type Water string

// The waters.
const (
	ColdWater Water = "cold"
	WarmWater Water = "warm"
	Deionised Water = "deionised"
)

// Values lists the waters.
func (Water) Values() []string {
	return []string{string(ColdWater), string(WarmWater), string(Deionised)}
}

// ProductClass is a class of product; shops hang their own products on it.
type ProductClass string

// The classes used by the starter procedures (docs/trade.md, section 9).
const (
	Shampoo        ProductClass = "shampoo"
	FoamProduct    ProductClass = "foam"
	CitrusWash     ProductClass = "citrus pre-wash"
	Degreaser      ProductClass = "all-purpose cleaner"
	Rinseless      ProductClass = "rinseless concentrate"
	DryingAid      ProductClass = "drying aid"
	SpraySeal      ProductClass = "spray sealant"
	SprayWax       ProductClass = "spray wax"
	TyreGel        ProductClass = "tyre dressing"
	GlassClean     ProductClass = "glass cleaner"
	WheelCleaner   ProductClass = "wheel cleaner"
	IronRemover    ProductClass = "iron remover"
	TarRemover     ProductClass = "tar remover"
	SpotRemover    ProductClass = "spot remover"
	CoatingShampoo ProductClass = "coating shampoo"
	WaxShampoo     ProductClass = "shampoo with wax"
	CoatingTopUp   ProductClass = "coating top-up"
	WaterlessMist  ProductClass = "waterless mist"
	TyreCleaner    ProductClass = "tyre cleaner"
	TrimDressing   ProductClass = "trim dressing"
	MetalPolish    ProductClass = "metal polish"
	AcidWheel      ProductClass = "acid wheel cleaner"
)

// Values lists the classes.
func (ProductClass) Values() []string {
	return []string{
		string(Shampoo),
		string(FoamProduct),
		string(CitrusWash),
		string(Degreaser),
		string(Rinseless),
		string(DryingAid),
		string(SpraySeal),
		string(SprayWax),
		string(TyreGel),
		string(GlassClean),
		string(WheelCleaner),
		string(IronRemover),
		string(TarRemover),
		string(SpotRemover),
		string(CoatingShampoo),
		string(WaxShampoo),
		string(CoatingTopUp),
		string(WaterlessMist),
		string(TyreCleaner),
		string(TrimDressing),
		string(MetalPolish),
		string(AcidWheel),
	}
}

// Dwell is how long a product works: no shorter, no longer.
type Dwell struct {
	Min measure.Seconds `json:"min"`
	Max measure.Seconds `json:"max"`
	Cue string          `json:"cue,omitempty" doc:"What shows it is working"`
	// Each is set when the step applies and rinses item by item, so that the dwell lies inside the step.
	Each bool `json:"each,omitempty"`
}

// Time is hands-on time in minutes at grade 1 to 2 by a practised person: a fixed part, a part for the
// zones of a mid-size body, which grows with area and, if Soiled, with soil, and a part per wheel.
type Time struct {
	Fixed    float64 `json:"fixed"`
	Body     float64 `json:"body"`
	PerWheel float64 `json:"perWheel"`
	Soiled   bool    `json:"soiled"`
	// Unattended steps need nobody: the time runs by itself.
	Unattended bool `json:"unattended,omitempty"`
}

// Skill is what a person must have been signed off for.
type Skill string

// The skills, in the order shops teach them (docs/trade.md, section 11).
const (
	SkillScope   Skill = "scope"
	SkillLance   Skill = "rinse and lance"
	SkillWheels  Skill = "wheels"
	SkillBuckets Skill = "buckets"
	SkillFoam    Skill = "foam"
	SkillMitt    Skill = "mitt"
	SkillDry     Skill = "drying"
	SkillShuts   Skill = "shuts"
	SkillLook    Skill = "last look"
)

// Values lists the skills in teaching order.
func (Skill) Values() []string {
	return []string{
		string(SkillScope),
		string(SkillLance),
		string(SkillWheels),
		string(SkillBuckets),
		string(SkillFoam),
		string(SkillMitt),
		string(SkillDry),
		string(SkillShuts),
		string(SkillLook),
	}
}

// Steps lists every step with its stage, in order.
func (p Procedure) Steps() []Step {
	var steps []Step
	for _, stage := range p.Stages {
		steps = append(steps, stage.Steps...)
	}
	return steps
}

// Step finds a step by id.
func (p Procedure) Step(id string) (Step, error) {
	for _, s := range p.Steps() {
		if s.ID == id {
			return s, nil
		}
	}
	return Step{}, fmt.Errorf("procedure %s: no step %q", p.ID, id)
}

// Check names what makes the procedure unusable: missing names, doubled ids, references to steps that
// do not come before, dwells that end before they begin, times below zero.
func (p Procedure) Check() error {
	var errs []error
	add := func(format string, args ...any) { errs = append(errs, fmt.Errorf(format, args...)) }
	if p.ID == "" || p.Title == "" || p.Version < 1 {
		add("procedure: id, title and a version from 1 are needed")
	}
	named := func(what, id string) {
		if id != "" && !IsID(id) {
			add("%s id %q: %s", what, id, IDWords)
		}
	}
	named("procedure", p.ID)
	for _, stage := range p.Stages {
		named("stage", stage.ID)
	}
	errs = append(errs, condition.CheckPins(p.Pins))
	p.checkRounds(add)
	p.branches(add)
	seen := map[string]Step{}
	for _, s := range p.Steps() {
		if s.ID == "" || s.Title == "" {
			add("step %q %q: id and title are needed", s.ID, s.Title)
		}
		named("step", s.ID)
		if _, twice := seen[s.ID]; twice {
			add("step %s: the id is used twice", s.ID)
		}
		works := func(does, id string) {
			if before, ok := seen[id]; !ok || before.Dwell == nil {
				add("step %s %s %q: that is no earlier step with a dwell", s.ID, does, id)
			}
		}
		for _, id := range s.Ends {
			works("ends", id)
		}
		for _, id := range s.Rewets {
			works("rewets", id)
		}
		if s.During != "" {
			works("during", s.During)
		}
		if len(s.Rewets) > 0 && s.Dwell == nil {
			add("step %s: it rewets other steps and has no dwell of its own", s.ID)
		}
		if s.Dose != nil {
			if err := s.Dose.counts(); err != nil {
				add("step %s dose.%s", s.ID, err)
			}
		}
		if s.Repeats && len(s.Rewets) == 0 {
			add("step %s repeats: it needs a step that it rewets", s.ID)
		}
		if s.Dwell != nil && (s.Dwell.Min < 0 || s.Dwell.Max < s.Dwell.Min) {
			add("step %s: dwell from %s to %s", s.ID, s.Dwell.Min, s.Dwell.Max)
		}
		if (s.Zones == ChosenZones) != (len(s.Only) > 0) {
			add("step %s: name its zones when they are chosen, and only then", s.ID)
		}
		for _, z := range s.Only {
			if !z.Known() {
				add("step %s: there is no zone %q", s.ID, z)
			}
		}
		if s.Cloths < 0 || s.Cloths > 0 && s.Technique != ContactTowel {
			add("step %s: cloths are counted for a towel wash, zero or more", s.ID)
		}
		if u := s.Uses; u != nil && (u.Fixed < 0 || u.PerM2 < 0 || u.PerWheel < 0 || u.Fixed+u.PerM2+u.PerWheel == 0) {
			add("step %s uses: an amount above zero, in all, a square metre or a wheel", s.ID)
		}
		if s.Time.Fixed < 0 || s.Time.Body < 0 || s.Time.PerWheel < 0 {
			add("step %s: times must be zero or more", s.ID)
		}
		seen[s.ID] = s
	}
	return errors.Join(errs...)
}

// Edited is a copy whose stages' steps were changed by a function, which is given copies of its own.
func (p Procedure) Edited(change func(stage string, steps []Step) []Step) Procedure {
	p.Stages = slices.Clone(p.Stages)
	for i := range p.Stages {
		p.Stages[i].Steps = change(p.Stages[i].ID, slices.Clone(p.Stages[i].Steps))
	}
	return p
}
