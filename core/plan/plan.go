// Package plan fills a procedure for one vehicle, place and hour: which steps apply and why, zones, millilitres,
// dwell shortened by the drying window, panels before the mitt and the car are rinsed, minutes, cautions.
package plan

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/shelf"
	"uskel/core/timing"
	"uskel/core/vehicle"
	"uskel/core/wash"
)

// Job is everything a plan is made from.
type Job struct {
	Vehicle  vehicle.Vehicle
	LookOver condition.LookOver
	Weather  climate.Weather // outside; the place's cover is applied here
	Hardness measure.Hardness
	Solids   float64 // dissolved solids, mg/l
	Shelf    []shelf.Product
	Pins     procedure.Pins // the shop's way of settling disagreements
	// Standards are the shop's own times; a step without one takes what its procedure says.
	Standards timing.Standards
	// Arranged is what the lead arranged for one procedure; others are filled as they are written.
	Arranged Arranged
	// At is the hour of the wash, Past what was done to the vehicle before, Trainee whether who washes is still learning.
	At      time.Time
	Past    condition.Past
	Trainee bool
	// Launder is what laundering a cloth costs, WaterPrice a cubic metre of water, minor units.
	Launder, WaterPrice measure.Money
	// Cloths are the sets that the shop has: a step's cloth is called by the shop's own mark for what it is for.
	Cloths []shelf.ClothStock
	// Buckets is how many rinse buckets the shop has; one when zero.
	Buckets int
	// Menu is what the shop sells; the look-over names the service by its id.
	Menu condition.Menu
	// Aim is the scratch risk that contact steps are planned to stay under; contact.DefaultAim when zero.
	Aim float64
}

// Plan is a procedure filled for a job.
type Plan struct {
	Procedure string                 `json:"procedure"`
	Family    string                 `json:"family"`
	Version   int                    `json:"version"`
	Title     string                 `json:"title"`
	Steps     []FilledStep           `json:"steps"`
	Out       []LeftOut              `json:"out"`
	Rinses    int                    `json:"rinses" doc:"of the mitt, of all contact steps together"`
	Towels    int                    `json:"towels" doc:"Plush towels of all towel washes together; 0 for a mitt wash"`
	Index     float64                `json:"index" doc:"Mar index, 0 to 100"`
	Left      float64                `json:"left" doc:"mg of grit left on the car"`
	Minutes   float64                `json:"minutes"`
	Cost      measure.Money          `json:"cost" doc:"Product cost, minor units"`
	Costs     Costs                  `json:"costs" doc:"what it costs besides the people's time"`
	Litres    float64                `json:"litres" doc:"l of water, run and mixed"`
	Branches  []Outcome              `json:"branches,omitempty" doc:"what is asked in the work, and how long the wash takes by the answer"`
	Drop      []Drop                 `json:"drop" doc:"What to leave out first when the time there is does not suffice"`
	Line      schedule.Solo          `json:"line"`
	Film      float64                `json:"film" doc:"mg/m2 of soil left on the worst painted zone; from some 150 a film shows"`
	Undone    []vehicle.Zone         `json:"undone" doc:"zones outside that nothing in this plan washes"`
	Settled   []procedure.Settled    `json:"settled" doc:"how each disagreement of the trade was settled"`
	Scope     string                 `json:"scope"`
	OutScope  []condition.OutOfScope `json:"outScope"`
	Ordered   condition.Service      `json:"ordered" doc:"the service, as it was when the plan was made"`
	Overall   contact.Grade          `json:"overall"`
	Warnings  []string               `json:"warnings"`
	Buckets   int                    `json:"buckets,omitempty" doc:"rinse buckets that the shop has; one when unsaid"`
	Suds      measure.Seconds        `json:"suds" doc:"how long suds stay wet where they dry first, s"`
	Air       climate.Air            `json:"air" doc:"outside, when the plan was made"`
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

// LeftOut is a step that does not apply and why.
type LeftOut struct {
	ID      string `json:"id"`
	Stage   string `json:"stage"`
	Title   string `json:"title"`
	Because string `json:"because"`
	ByLead  bool   `json:"byLead,omitempty" doc:"The lead left it out, and can bring it back"`
}

// ByTheLead is why a step is not in a plan that the lead arranged without it.
const ByTheLead = "Left out by the lead."

// Figure says where a number came from.
type Figure struct {
	Name   string `json:"name"`
	Value  string `json:"value"`
	From   string `json:"from" doc:"Inputs and rule"`
	Source string `json:"source"`
}

// Refusal is why a procedure must not be used on a job.
type Refusal struct{ Reasons []string }

func (r *Refusal) Error() string { return fmt.Sprintf("refused: %v", r.Reasons) }

// Resolve fills a procedure for a job. A procedure that would do harm or cannot be done here gives a
// *Refusal.
func Resolve(p procedure.Procedure, job Job) (Plan, error) {
	f, err := fill(p, newSite(job))
	if err != nil {
		return Plan{}, err
	}
	return f.plan, nil
}

// Facts are everything a condition of the procedure may ask about one job, disagreements settled.
func Facts(p procedure.Procedure, job Job) condition.Facts { return newFiller(p, newSite(job)).facts }

func fill(p procedure.Procedure, at *site) (*filler, error) {
	f, job := newFiller(p, at), at.job
	var refused []string
	for _, e := range p.Entry {
		if !e.Rule.Holds(f.facts) {
			refused = append(refused, fmt.Sprintf("%s (%s)", e.Refusal, e.Rule.Why(f.facts)))
		}
	}
	if len(refused) > 0 {
		return nil, &Refusal{refused}
	}
	f.all = slices.DeleteFunc(p.Steps(), func(s procedure.Step) bool {
		return job.Arranged.leavesOut(p.ID, s.ID) || !s.When.Holds(f.facts)
	})
	if hard := f.jetTooHard(); hard != "" {
		return nil, &Refusal{[]string{hard}}
	}
	f.rounds = map[string]bool{}
	for _, r := range p.Rounds {
		f.rounds[r.ID] = r.When.Holds(f.facts)
	}
	f.shareAims(f.all)
	if err := f.steps(p); err != nil {
		return nil, &Refusal{[]string{err.Error()}}
	}
	f.leftOver()
	f.leftIn()
	f.plan.Costs = f.costs()
	f.plan.Line = schedule.OnePerson(f.planned(f.plan.unlikely()))
	f.plan.Minutes = math.Round(f.plan.Line.Minutes*10) / 10
	f.plan.Branches = f.outcomes()
	f.plan.Drop = []Drop{}
	if b := at.service.There(job.LookOver.Budget); b > 0 {
		f.plan.Drop = f.plan.Drops(float64(b))
	}
	f.warn()
	return f, nil
}

// steps fills every step in order; those of a round together.
func (f *filler) steps(p procedure.Procedure) error {
	var run []placed // the steps of the round that is being read
	round := procedure.Round{}
	end := func() error {
		steps := run
		run = nil
		if len(steps) == 0 {
			return nil
		}
		return f.run(round, steps)
	}
	for _, stage := range p.Stages {
		for _, s := range stage.Steps {
			if s.Round != round.ID {
				if err := end(); err != nil {
					return err
				}
				round, _ = p.Round(s.Round)
			}
			switch out := f.leftOut(p.ID, stage, s); {
			case out != nil:
				f.plan.Out = append(f.plan.Out, *out)
			case s.Round != "":
				run = append(run, placed{stage, s})
			default:
				if err := f.repeated(stage, s); err != nil {
					return err
				}
			}
		}
	}
	return end()
}

// leftOut is why a step is not in the plan; nil when it is.
func (f *filler) leftOut(procedure string, stage procedure.Stage, s procedure.Step) *LeftOut {
	switch {
	case f.job.Arranged.leavesOut(procedure, s.ID):
		return &LeftOut{s.ID, stage.Title, s.Title, ByTheLead, true}
	case !s.When.Holds(f.facts):
		return &LeftOut{s.ID, stage.Title, s.Title, "Left out: " + s.When.Why(f.facts) + ".", false}
	}
	return nil
}

// site is what every procedure for a job shares: the car's parts, the weather at it, and how long each group of
// panels stays wet there.
type site struct {
	job     Job
	here    climate.Weather
	parts   []vehicle.Part
	windows map[wetGroup]driest
	panels  map[wetPanel]measure.Seconds
	// What follows from the job alone: its facts, but for how long a procedure's foam may work, and the soil before
	// the first step.
	facts    condition.Facts
	assessed condition.Assessment
	service  condition.Service
	soiled   map[vehicle.Zone]contact.Soil
	wheels   time.Duration
	mitts    map[string]mittPlan
}

// mittPlan is a contact wash worked out once: procedures with the same pre-wash meet the same grit.
type mittPlan struct {
	plan contact.Plan
	err  error
}

func newSite(job Job) *site {
	s := &site{
		job:     job,
		here:    job.LookOver.Place.Air(job.Weather),
		parts:   job.Vehicle.Body.Parts(),
		windows: map[wetGroup]driest{},
		panels:  map[wetPanel]measure.Seconds{},
		assessed: condition.Assess(
			job.Vehicle,
			job.LookOver,
			job.Menu,
		),
		service: job.Menu.Of(job.LookOver.Service),
		soiled:  map[vehicle.Zone]contact.Soil{},
		wheels:  wheelWork(job),
		mitts:   map[string]mittPlan{},
	}
	for _, part := range s.parts {
		s.soiled[part.Zone] = contact.SoilOf(job.LookOver.Grades[part.Zone])
	}
	s.facts = condition.FactsOf(
		job.Vehicle,
		job.LookOver,
		job.Menu,
		condition.Surroundings{
			FoamWindow: s.driest(procedure.Outside, climate.FoamFilm).window.Duration(),
			SudsWindow: s.driest(procedure.Outside, climate.SudsFilm).window.Duration(),
			WheelLabel: job.wheelLabel().Duration(),
			Hardness:   job.Hardness,
			Here:       s.here,
			Past:       job.Past,
			Now:        job.At,
			Trainee:    job.Trainee,
			Buckets:    job.Buckets,
		},
	)
	return s
}

// wheelLabel is the longest that a wheel cleaner on the shelf may work by its label; a day where none says.
func (j Job) wheelLabel() measure.Seconds {
	for _, p := range j.Shelf {
		if p.Class == procedure.WheelCleaner && p.DwellMax > 0 {
			return p.DwellMax
		}
	}
	return 24 * measure.Hour
}

// makeMitt plans a contact wash, or gives the plan made before for the same grit.
func (s *site) makeMitt(
	water measure.Celsius,
	medium contact.Cloth,
	l contact.Lacquer,
	patches []contact.Patch,
	second bool,
	aim float64,
) (contact.Plan, error) {
	key := fmt.Sprint(water, medium, l, second, aim)
	for _, p := range patches {
		key += string(p.Zone) + strconv.FormatFloat(p.Grit, 'f', 1, 64) + strconv.FormatFloat(p.Weight, 'f', 1, 64) +
			strconv.FormatFloat(p.Scale, 'f', 0, 64)
	}
	made, known := s.mitts[key]
	if !known {
		made.plan, made.err = contact.MakeIn(water, medium, l, patches, second, aim)
		s.mitts[key] = made
	}
	return made.plan, made.err
}

type filler struct {
	*site
	facts      condition.Facts // the job's, and how this procedure settles what is disagreed on
	soil       map[vehicle.Zone]contact.Soil
	vessels    map[string]vessel            // those that were filled, by what is in them
	spent      float64                      // on product, minor units
	harm, left float64                      // of all contact steps: drag over the scales of the paint; mg left
	bucket     measure.Celsius              // of the rinse bucket; that of the tap until one is filled warm
	covered    map[vehicle.Zone]contact.Act // whose product is still on a zone
	aims       map[string]float64           // by contact step: its share of the plan's scratch risk
	part       *RoundPart                   // of the round that is being filled
	all        []procedure.Step             // those that apply
	rounds     map[string]bool              // the rounds that are done part by part here
	only       map[vehicle.Zone]bool        // the zones of that part; all when nil
	expanded   map[string][]string          // by step of the procedure: the steps that a round made from it
	beaded     map[vehicle.Zone]bool        // the first pre-wash has been: beading paint let go more easily
	washed     map[vehicle.Zone]bool
	water      map[vehicle.Zone]float64 // g/m2 that lies on a zone
	contacted  bool                     // the paint has been touched
	plan       Plan
	activities []schedule.Activity
}

func newFiller(p procedure.Procedure, at *site) *filler {
	job, a := at.job, at.assessed
	f := &filler{site: at, facts: maps.Clone(at.facts), soil: maps.Clone(at.soiled), washed: map[vehicle.Zone]bool{},
		covered: map[vehicle.Zone]contact.Act{}, beaded: map[vehicle.Zone]bool{}, expanded: map[string][]string{},
		vessels: map[string]vessel{}, water: map[vehicle.Zone]float64{}}
	foam := f.foamWorks(p, f.driest(procedure.Outside, climate.FoamFilm).window)
	f.facts[condition.FoamOutlasts] = condition.YesOrNo(float64(foam) > walked*float64(f.wheelsUnderFoam(p)))
	f.plan = Plan{
		Air:       job.Weather.Air,
		Buckets:   job.Buckets,
		Suds:      f.driest(procedure.Outside, climate.SudsFilm).window,
		Procedure: p.ID,
		Family:    p.Family,
		Version:   p.Version,
		Title:     p.Title,
		Out:       []LeftOut{},
		Steps:     []FilledStep{},
		Undone:    []vehicle.Zone{},
		Settled:   p.Relevant(procedure.Settle(f.facts, job.LookOver.Pins, p.Pins, job.Pins)),
		Scope:     a.Scope,
		OutScope:  a.OutScope,
		Ordered:   at.service,
		Overall:   a.Overall,
		Warnings:  []string{},
	}
	return f
}

// driest is where a film dries first, and after how long.
type driest struct {
	zone   vehicle.Zone
	window measure.Seconds
}

// driest is the shortest drying window over a group's surfaces.
func (s *site) driest(g procedure.ZoneGroup, film climate.Film) driest {
	if known, ok := s.windows[wetGroup{g, film}]; ok {
		return known
	}
	var zones []vehicle.Zone
	for _, part := range s.parts {
		if g.Has(part) {
			zones = append(zones, part.Zone)
		}
	}
	shortest := s.driestOn(zones, film)
	s.windows[wetGroup{g, film}] = shortest
	return shortest
}

// driestOn is the shortest drying window over some zones.
func (s *site) driestOn(zones []vehicle.Zone, film climate.Film) driest {
	shortest := driest{window: math.MaxInt32}
	for _, part := range s.parts {
		if !slices.Contains(zones, part.Zone) {
			continue
		}
		key := wetPanel{part.Facing, part.Surface, film}
		window, known := s.panels[key]
		if !known {
			panel := climate.Panel{
				Facing:  part.Facing,
				Surface: part.Surface,
				Shade:   s.job.Vehicle.Shade,
				Heading: s.job.LookOver.Place.Heading,
			}
			window = measure.SecondsOf(s.here.Dry(panel, film).Window)
			s.panels[key] = window
		}
		if window < shortest.window {
			shortest = driest{part.Zone, window}
		}
	}
	return shortest
}

// wetGroup and wetPanel are what a drying window depends on within one plan, which asks for few of them many times.
type (
	wetGroup struct {
		zones procedure.ZoneGroup
		film  climate.Film
	}
	wetPanel struct {
		facing  vehicle.Facing
		surface vehicle.Surface
		film    climate.Film
	}
)

// midSizeArea is the area a step works on, on that car.
func midSizeArea(s procedure.Step) float64 {
	if s.Zones != procedure.ChosenZones {
		return midSizeAreas[s.Zones]
	}
	return vehicle.Hatch.AreaOf(s.Only) / hatchScale
}

// panelsOf is the group whose drying counts for a step; chosen zones dry as the outside does, on its worst side.
func panelsOf(s procedure.Step) procedure.ZoneGroup {
	if s.Zones == procedure.ChosenZones {
		return procedure.Outside
	}
	return s.Zones
}

// hatchScale is what the hatch is of the mid-size car.
const hatchScale = 0.85

// midSizeAreas are the areas of the groups on the mid-size car that hands-on times are given for, m2.
var midSizeAreas = func() map[procedure.ZoneGroup]float64 {
	areas := map[procedure.ZoneGroup]float64{}
	for _, name := range procedure.ZoneGroup("").Values() {
		g := procedure.ZoneGroup(name)
		for _, p := range vehicle.Hatch.Parts() {
			if g.Has(p) {
				areas[g] += p.Area / hatchScale
			}
		}
	}
	return areas
}()

func (f *filler) add(stage procedure.Stage, s procedure.Step) error {
	step := FilledStep{
		ID:         s.ID,
		Stage:      stage.Title,
		Title:      s.Title,
		Text:       s.Text,
		Technique:  s.Technique,
		Tool:       s.Tool,
		Cloth:      s.Cloth,
		Colour:     f.job.marked(s.Cloth, s.Colour),
		Machine:    s.Machine,
		Ends:       f.refs(s.Ends),
		Rewets:     f.refs(s.Rewets),
		After:      f.refs(s.After),
		Part:       f.part,
		PerWheel:   s.Time.PerWheel > 0,
		Unattended: s.Time.Unattended,
		Fresh:      s.Fresh,
		Water:      s.Water,
		Class:      s.Class,
		Group:      s.Zones,
		Skill:      s.Skill,
		Cautions:   f.cautions(s),
		LookFor:    s.LookFor,
		Opens:      s.Opens,
		Closes:     s.Closes,
		Zones:      []vehicle.Zone{},
		Figures:    []Figure{},
	}
	if during := f.refs([]string{s.During}); s.During != "" && len(during) > 0 {
		step.During = during[0]
	}
	if f.part != nil {
		step.ID, step.Base, step.Whole = s.ID+partSign+f.part.Key, s.ID, s.Title
		step.Title = s.Title + ", " + f.part.Label
		step.PerWheel = false
		f.expanded[s.ID] = append(f.expanded[s.ID], step.ID)
	}
	for _, p := range f.parts {
		if f.on(s, p) {
			step.Zones = append(step.Zones, p.Zone)
			step.Area += p.Area
		}
	}
	step.Area = math.Round(step.Area*100) / 100
	for _, saying := range s.Says {
		if saying.When.Holds(f.facts) {
			step.Text += " " + saying.Text
		}
	}
	if s.Class != "" {
		step.Product = string(s.Class)
		if p, ok := f.product(s.Class, s.Product); ok {
			step.Product, step.ProductID = p.Name, p.ID
			if p.Cautions != "" {
				step.Cautions = append(step.Cautions, p.Name+": "+p.Cautions)
			}
		}
	}
	f.branch(&step, s)
	if step.unlikely() {
		defer f.asItWas()()
	}
	out, err := f.label(&step, s)
	if err != nil {
		return err
	}
	if out != "" {
		f.forget(s.ID, step.ID)
		f.plan.Out = append(f.plan.Out, LeftOut{step.ID, stage.Title, step.Title, out, false})
		return nil
	}
	step.Because = s.Reason
	if !s.When.Always() {
		step.Because = fmt.Sprintf("Because %s. %s", s.When.Why(f.facts), s.Reason)
	}
	if !s.Touches() { // a contact step's minutes follow from its plan
		f.minutes(&step, s)
	}
	step.Way = f.wayOf(s)
	f.contacted = f.contacted || s.Touches()
	if s.Dose != nil {
		f.mix(&step, s)
	}
	f.neat(&step, s)
	f.addWater(&step, s)
	if s.Dwell != nil {
		f.dwell(&step, s)
	}
	f.wash(step, s)
	f.drawn(&step, s)
	f.rinsedWet(&step, s)
	if err := f.touch(&step, s); err != nil {
		return err
	}
	f.plan.Steps = append(f.plan.Steps, step)
	f.activities = append(f.activities, activity(step, f.plan.Steps))
	return nil
}

// activity is a step for one person's timeline, with the steps up to it.
func activity(s FilledStep, steps []FilledStep) schedule.Activity {
	a := schedule.Activity{
		ID:      s.ID,
		Title:   s.Title,
		Minutes: s.Minutes,
		Machine: s.Machine,
		Ends:    s.Ends,
		Rewets:  s.Rewets,
	}
	for i := range steps {
		if brushes(steps, &steps[i], &s) {
			a.Over = append(a.Over, steps[i].ID)
		}
	}
	if s.Dwell != nil && !s.Dwell.Each {
		a.Dwell = &schedule.Dwell{Min: s.Dwell.From.Minutes(), Max: s.Dwell.To.Minutes(), Label: s.Dwell.Full.Minutes()}
	}
	return a
}

// cautions adds what the watch list and the car ask for to a step's own cautions.
func (f *filler) cautions(s procedure.Step) []string {
	cautions := append([]string{}, s.Cautions...)
	jet := s.Technique == procedure.Rinse || s.Technique == procedure.Apply && s.Machine != ""
	if jet {
		for _, w := range []vehicle.Watch{vehicle.FilmEdges, vehicle.OpenTop, vehicle.StoneChips} {
			if f.job.LookOver.Watching(w) {
				cautions = append(cautions, w.Means())
			}
		}
		if roof, err := f.job.Vehicle.Body.Part(vehicle.Roof); err == nil && roof.Surface == vehicle.Fabric {
			cautions = append(cautions, "Soft top: lance far away, rinse with the pile, never at the seams.")
		}
		if f.job.Vehicle.Electric {
			cautions = append(cautions, "Electric: charge flap shut; no jet at the port or at high-voltage parts.")
		}
	}
	if s.Technique == procedure.ContactWash && f.job.LookOver.Watching(vehicle.GlossBlack) {
		cautions = append(cautions, vehicle.GlossBlack.Means())
	}
	if s.Zones == procedure.AllWheels && s.Technique == procedure.Agitate && f.job.Vehicle.Wheels.Bare {
		cautions = append(cautions, "Dark or bare-metal wheels: soft mitt on the face, no stiff bristle, no acid.")
	}
	return cautions
}

// soilFactors scale hands-on time with grade (model, docs/models.md).
var soilFactors = [contact.Worst + 1]float64{0.85, 1, 1.15, 1.35, 1.7}

func (f *filler) minutes(step *FilledStep, s procedure.Step) {
	total, from := s.Time.Fixed/f.partsNow(), ""
	if total > 0 {
		from = fmt.Sprintf("%.1f min fixed", total)
	}
	if s.Time.Body > 0 {
		size := step.Area / midSizeArea(s)
		soil := 1.0
		if s.Time.Soiled {
			soil = f.meanSoil(step.Zones)
		}
		total += s.Time.Body * size * soil
		from = join(from, fmt.Sprintf("%.1f min x %.2f for size x %.2f for soil", s.Time.Body, size, soil))
	}
	if s.Time.PerWheel > 0 {
		wheels := 0.0
		for _, z := range []vehicle.Zone{vehicle.WheelFL, vehicle.WheelFR, vehicle.WheelRL, vehicle.WheelRR} {
			if f.only != nil && !f.only[z] {
				continue
			}
			w := f.job.Vehicle.Wheels.Factor()
			if s.Time.Soiled {
				w *= soilFactors[f.job.LookOver.Grades[z]]
			}
			wheels += w
		}
		total += s.Time.PerWheel * wheels
		from = join(
			from,
			fmt.Sprintf("%.1f min a wheel x %.2f wheels' worth (size, spokes, soil)", s.Time.PerWheel, wheels),
		)
	}
	if line := f.drawnRound(step, s); line > 0 {
		total += line
		from = join(from, fmt.Sprintf("%.1f min to draw the line round", line))
	}
	step.Written = f.rounded(total)
	step.Minutes = step.Written
	source := "Starting standard, common practice; factors are our model"
	if own, has := f.job.Standards[s.ID]; has && own.Form != timing.AsWritten {
		step.Minutes = f.rounded(own.Of(f.partsNow()).Minutes(total, step.Area, int(f.assessed.Overall)))
		from, source = fmt.Sprintf(
			"%s; as written %.1f min: %s",
			own.Words(),
			step.Written,
			from,
		), "The shop's standard, from its own timings (Times)"
	}
	step.Figures = append(step.Figures, Figure{"Minutes", fmt.Sprintf("%.1f min", step.Minutes), from, source})
}

// partsNow is in how many parts the step that is being filled is done.
func (f *filler) partsNow() float64 {
	if f.part == nil {
		return 1
	}
	return float64(f.part.Of)
}

func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + " + " + b
}

// meanSoil is the soil factor of the zones, weighted by area.
func (f *filler) meanSoil(zones []vehicle.Zone) float64 {
	sum, area := 0.0, 0.0
	want := map[vehicle.Zone]bool{}
	for _, z := range zones {
		want[z] = true
	}
	for _, p := range f.parts {
		if want[p.Zone] {
			sum += soilFactors[f.job.LookOver.Grades[p.Zone]] * p.Area
			area += p.Area
		}
	}
	if area == 0 {
		return 1
	}
	return sum / area
}

// product is the one a step names, or the first of its class on the shelf.
func (f *filler) product(class procedure.ProductClass, id string) (shelf.Product, bool) {
	found, there := shelf.Product{}, false
	for _, p := range f.job.Shelf {
		if id != "" && p.ID == id {
			return p, true
		}
		if p.Class == class && !there {
			found, there = p, true
		}
	}
	return found, there
}

// filmOf is the film that a step leaves to dry.
func filmOf(s procedure.Step) climate.Film {
	if s.Act == contact.Foam {
		return climate.FoamFilm
	}
	return climate.SprayFilm
}

const (
	mostSections = 8
	// dryingMargin is the share of the window that may be used, so that the alarm comes before the drying (model).
	dryingMargin = 0.9
)

// caught is from which share of a span that is too short the product is taken off: nobody is there to the second (model).
const caught = 0.7

// dwell fits the product's dwell into label and drying window by the wet clock (docs/models.md): from the end of the
// putting on to the beginning of the taking off. The zone that waits longest waits for both besides; where that does not
// fit, the zones are done in sections.
func (f *filler) dwell(step *FilledStep, s procedure.Step) {
	full := s.Dwell.Max
	if s.Dose != nil {
		if p, ok := f.product(s.Dose.Class, s.Product); ok && p.DwellMax > 0 {
			full = min(full, p.DwellMax)
		}
	}
	film := filmOf(s)
	first := f.driest(panelsOf(s), film)
	if f.part != nil {
		first = f.driestOn(step.Zones, film)
	}
	window := first.window
	usable := measure.Seconds(float64(window) * dryingMargin)
	dries := f.mayDry(s)
	if s.Waits() || dries {
		usable = full // it is meant to dry, or may
	}
	d := &Dwell{
		From:     min(s.Dwell.Min, full),
		Full:     full,
		Window:   window,
		Sections: 1,
		Effect:   1,
		Each:     s.Dwell.Each,
		Cue:      s.Dwell.Cue,
	}
	if first.zone != "" {
		d.Driest = first.zone.Label()
	}
	d.Waits, d.MayDry = s.Waits(), dries
	d.Least, d.Gentle = d.From, slices.Contains(gentle, s.ProductClass())
	on := f.spellOf(step, s)
	f.fit(d, on, usable)
	d.CoverBy = f.coverBy(step, s, usable)
	if d.To < d.From { // even a small section dries before the minimum
		d.To = max(d.To, 0)
		least := measure.Seconds(float64(d.To) * caught)
		d.Effect = float64(least) / float64(d.From)
		d.From, d.Least = least, min(d.Least, least)
		step.Cautions = append(
			step.Cautions,
			fmt.Sprintf(
				"It dries in %s here, before its %s are up: mist it again before it dries, or move into shade.",
				window,
				s.Dwell.Min,
			),
		)
	}
	d.Shortened = usable < full
	if dries && window < full {
		step.Cautions = append(step.Cautions, fmt.Sprintf("It may dry here after %s and is wetted again before it is touched: some "+
			"say that it marks. The label comes first.", window))
	}
	step.Dwell = d
	from := fmt.Sprintf(
		"%s to %s by procedure and label; the film stays wet %s (%s), of which 0.9 is used; the zone that waits longest "+
			"waits %s more, as putting on takes %s and taking off %s",
		s.Dwell.Min,
		full,
		window,
		f.air(),
		d.Spread,
		on.putting/measure.Seconds(d.Sections),
		on.taking/measure.Seconds(d.Sections),
	)
	step.Figures = append(
		step.Figures,
		Figure{
			"Dwell",
			fmt.Sprintf("%s to %s", d.From, d.To),
			from,
			"Energy balance of a wet panel (model), checked against psychrometric tables",
		},
	)
}

func (f *filler) air() string {
	return fmt.Sprintf(
		"%.0f degC, %.0f %% humidity, wind %.1f m/s at the car, %s",
		float64(f.here.Temp),
		f.here.RH*100,
		f.here.Wind,
		f.job.LookOver.Place.Cover,
	)
}

// foamWorks is how long the procedure's foam may stay on here and now, from when it is on until it begins to come off:
// within its dwell, and wet where it waits longest.
func (f *filler) foamWorks(p procedure.Procedure, window measure.Seconds) time.Duration {
	longest := time.Duration(0)
	var zones []vehicle.Zone
	for _, part := range f.parts {
		zones = append(zones, part.Zone)
	}
	steps := p.Steps()
	for _, s := range steps {
		if s.Act != contact.Foam || s.Dwell == nil {
			continue
		}
		spread := f.roughly(s, zones)
		if at := slices.IndexFunc(steps, func(t procedure.Step) bool { return slices.Contains(t.Ends, s.ID) }); at >= 0 {
			spread = max(spread, f.roughly(steps[at], zones))
		}
		wet := measure.Seconds(float64(window)*dryingMargin) - spread
		longest = max(longest, min(s.Dwell.Max, wet).Duration())
	}
	return longest
}

// wheelsUnderFoam is what the wheels take in the procedure's own step for doing them while foam works; by the maintenance
// wash's rate where it has none.
func (f *filler) wheelsUnderFoam(p procedure.Procedure) time.Duration {
	for _, s := range p.Steps() {
		if s.During != "" && s.Zones == procedure.AllWheels {
			perWheel := s.Time.PerWheel / maintenanceWheel
			return time.Duration(float64(f.wheels) * perWheel)
		}
	}
	return f.wheels
}

// walked is what walking from wheel to wheel and a slower hand add to the wheels' time (model).
const walked = 1.15

// maintenanceWheel is what a wheel takes in the maintenance wash, min (docs/models.md).
const maintenanceWheel = 3.5

// mayDry reports whether a foam may dry by the school that is chosen, since a later step wets it again before it comes
// off.
func (f *filler) mayDry(s procedure.Step) bool {
	return f.facts[condition.SoapDries].Text == condition.MayDry && slices.Contains(gentle, s.ProductClass()) &&
		slices.ContainsFunc(f.all, func(t procedure.Step) bool { return slices.Contains(t.Rewets, s.ID) })
}

// wheelWork is what four wheels take by hand at the maintenance wash's rate (docs/models.md).
func wheelWork(job Job) time.Duration {
	minutes := 0.0
	for _, z := range []vehicle.Zone{vehicle.WheelFL, vehicle.WheelFR, vehicle.WheelRL, vehicle.WheelRR} {
		minutes += maintenanceWheel * job.Vehicle.Wheels.Factor() * soilFactors[job.LookOver.Grades[z]]
	}
	return time.Duration(minutes * float64(time.Minute))
}

// leftOver says what the plan leaves: the worst painted zone's soil, and the zones outside that nothing washes.
func (f *filler) leftOver() {
	for _, p := range f.parts {
		if !procedure.Outside.Has(p) {
			continue
		}
		if !f.washed[p.Zone] {
			f.plan.Undone = append(f.plan.Undone, p.Zone)
		}
		if p.Surface == vehicle.Paint {
			f.plan.Film = max(f.plan.Film, math.Round(f.soil[p.Zone].All()))
		}
	}
}

// wash takes off the zones' soil what the step takes off without touching.
func (f *filler) wash(step FilledStep, s procedure.Step) {
	if s.Act == "" && !s.Touches() {
		return
	}
	for _, z := range step.Zones {
		f.washed[z] = true
	}
	effect := 1.0
	if step.Dwell != nil {
		effect = step.Dwell.Effect
	}
	for _, z := range step.Zones {
		if s.Act != "" {
			f.soil[z], f.covered[z] = f.soil[z].After(s.Act, effect), s.Act
			f.bead(z)
		}
	}
}

// bead takes off what beading paint lets go by itself, once: at the first pre-wash.
func (f *filler) bead(z vehicle.Zone) {
	if p := f.job.LookOver.Protection; p.Water != condition.Beads || p.Kind == condition.Bare || f.beaded[z] || !z.Painted() {
		return
	}
	f.beaded[z] = true
	soil := f.soil[z]
	soil.Loose *= contact.Beaded
	f.soil[z] = soil
}
