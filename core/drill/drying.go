package drill

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"uskel/core/climate"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Drying is a drill with a wet car, a clock and the weather. Water and towels are those that plans are made with
// (core/film, docs/models.md).
type Drying struct {
	Title  string       `json:"title"`
	Level  int          `json:"level" minimum:"1" maximum:"3"`
	Body   vehicle.Body `json:"body"`
	Parts  []WetPart    `json:"parts" minItems:"1" maxItems:"20"`
	Hides  []HidesWater `json:"hides" doc:"where water hides"`
	Sheen  film.Sheen   `json:"sheen" doc:"0 plain, 1 beads, 2 lies flat"`
	Towels []float64    `json:"towels" doc:"g of water that each holds" minItems:"1" maxItems:"4"`
	Hose   bool         `json:"hose" doc:"an open hose is here"`
	Blower bool         `json:"blower" doc:"a blower may be used"`
	Solids float64      `json:"solids" doc:"mg/l dissolved in the last rinse"`
}

// WetPart is a part of the car after the last rinse.
type WetPart struct {
	ID       string          `json:"id"`
	Label    string          `json:"label"`
	Area     float64         `json:"area" doc:"m2"`
	Grams    float64         `json:"grams" doc:"g/m2 of water on it"`
	Dries    measure.Seconds `json:"dries" doc:"s until six tenths of that have dried here and now, and it spots"`
	Flat     bool            `json:"flat,omitempty"`
	Glass    bool            `json:"glass,omitempty"`
	Unwashed bool            `json:"unwashed,omitempty" doc:"its neighbour is not washed yet"`
	Shut     bool            `json:"shut,omitempty" doc:"shuts, with a towel of their own"`
	Wheels   bool            `json:"wheels,omitempty" doc:"wheels, with a towel of their own, last"`
}

// body reports whether a part is dried with the body's towel.
func (p WetPart) body() bool { return !p.Shut && !p.Wheels }

// HidesWater is a place where water hides and drips later.
type HidesWater struct {
	ID    string  `json:"id"`
	Label string  `json:"label"`
	On    string  `json:"on" doc:"the part that it is on"`
	Ml    float64 `json:"ml"`
}

// InTowel is a towel in use.
type InTowel struct {
	Holds float64 `json:"holds" doc:"g"`
	Load  float64 `json:"load" doc:"g of water in it"`
	Grit  float64 `json:"grit" doc:"share of unwashed paint's grit, 0 to 1"`
}

// DryingState is how the drill stands.
type DryingState struct {
	Grams  []float64 `json:"grams" doc:"by part: g/m2 on it"`
	Gone   []float64 `json:"gone" doc:"by part: g/m2 that dried on it, leaving what was dissolved"`
	Dried  []bool    `json:"dried" doc:"by part: a towel has been over it"`
	Hidden []float64 `json:"hidden" doc:"by hiding place: ml still in it"`
	Ran    []float64 `json:"ran" doc:"by hiding place: ml that ran out over what was dry"`
	Towels []InTowel `json:"towels"`
	Towel  int       `json:"towel" doc:"index of the one in hand"`
	Damp   bool      `json:"damp" doc:"it was damped, or has drunk"`
	Drag   float64   `json:"drag" doc:"m2 of towel over paint, by how it was done: laid and drawn counts 1"`
	Over   float64   `json:"over" doc:"m2 dried by towel"`

	Since measure.Seconds `json:"since" doc:"until when the water was followed"`
}

func (d DryingState) copied() *DryingState {
	d.Grams, d.Gone, d.Dried = slices.Clone(d.Grams), slices.Clone(d.Gone), slices.Clone(d.Dried)
	d.Hidden, d.Ran, d.Towels = slices.Clone(d.Hidden), slices.Clone(d.Ran), slices.Clone(d.Towels)
	return &d
}

// The ways to dry with a towel.
const (
	LayDraw  = "lay and draw"
	Pat      = "pat"
	Folded   = "folded, straight"
	RubWith  = "rub"
	Margin   = "lay and draw, leave a wet margin"
	OwnTowel = "its own towel"
)

// draggedBy is how much a way drags beside laying and drawing, and how long it takes beside it (docs/models.md).
var draggedBy = map[string]struct{ drag, time float64 }{LayDraw: {1, 1}, Margin: {1, 1.1}, Pat: {0.5, 1.5}, Folded: {1.5, 1},
	RubWith: {4, 0.9}, OwnTowel: {1, 1}}

const (
	dryPerM2   = 14.0 // s a m2 with a towel (model)
	blowPerM2  = 12.0 // s a m2
	blowPlace  = 6.0  // s a hiding place
	sheetCar   = 45.0 // s for the whole car with the open hose
	marginLeft = 0.08 // of a part stays wet beside an unwashed neighbour
	blownOut   = 0.9  // of what hides a blower gets out
	drawnOut   = 0.2  // of it, where a towel comes by
	caughtOut  = 0.8  // of it, by a second look after five minutes
	dripHalf   = 132  // s: half of what hides has run out by then
	lookAfter  = 300  // s
	dragsTwice = 2.0  // a bone-dry towel
)

// Task is the drill among the others.
func (d Drying) Task() Task { return Task{Kind: Towels, Drying: &d} }

// Check says what is wrong with a drill, naming the field.
func (d Drying) Check() error {
	if len(d.Parts) == 0 || len(d.Parts) > 20 {
		return fmt.Errorf("parts: one to twenty")
	}
	for _, p := range d.Parts {
		if p.Area <= 0 || p.Grams < 0 || p.Dries <= 0 {
			return fmt.Errorf("parts: %s: area, water and time to dry are above 0", p.Label)
		}
	}
	if len(d.Towels) == 0 {
		return fmt.Errorf("towels: at least one")
	}
	return nil
}

func (d Drying) start() State {
	n, h := len(d.Parts), len(d.Hides)
	st := &DryingState{Grams: make([]float64, n), Gone: make([]float64, n), Dried: make([]bool, n), Hidden: make([]float64, h),
		Ran: make([]float64, h)}
	for i, p := range d.Parts {
		st.Grams[i] = p.Grams
	}
	for i, x := range d.Hides {
		st.Hidden[i] = x.Ml
	}
	for _, holds := range d.Towels {
		st.Towels = append(st.Towels, InTowel{Holds: holds})
	}
	return State{Drying: st}
}

func (d Drying) play(s *State, a Action) (said Said, took measure.Seconds, err error) {
	st := s.Drying
	switch a.Do {
	case SheetOff:
		return d.sheet(st)
	case Blow:
		return d.blow(st, a.On)
	case DryIt:
		return d.dry(s, a)
	case DampIt:
		st.Damp = true
		return Said{Text: "Damped on the glass: now it glides and drinks."}, 4, nil
	case Wring:
		t := film.Towel{Holds: st.Towels[st.Towel].Holds, Load: st.Towels[st.Towel].Load}
		t.Wring()
		st.Towels[st.Towel].Load = t.Load
		return Said{Text: fmt.Sprintf("Wrung: %.0f of %.0f g of water are left in it.", t.Load, t.Holds)}, film.Wringing, nil
	case NextTowel:
		if st.Towel == len(st.Towels)-1 {
			return said, 0, fmt.Errorf("there is no further towel: wring this one")
		}
		st.Towel++
		st.Damp = false
		return Said{Text: fmt.Sprintf("A fresh one that holds %.0f g.", st.Towels[st.Towel].Holds)}, 4, nil
	case Wait:
		if a.Amount <= 0 || a.Amount > 600 {
			return said, 0, fmt.Errorf("amount: 1 to 600 seconds")
		}
		return Said{Text: fmt.Sprintf("%s went by.", measure.Seconds(a.Amount))}, measure.Seconds(a.Amount), nil
	case SecondLook:
		return d.look(s)
	case DryingDone:
		return d.done(s)
	}
	return said, 0, unknown(a, SheetOff, Blow, DryIt, DampIt, Wring, NextTowel, Wait, SecondLook, DryingDone)
}

func (d Drying) sheet(st *DryingState) (Said, measure.Seconds, error) {
	if !d.Hose {
		return Said{}, 0, fmt.Errorf("there is no open hose here")
	}
	for i, p := range d.Parts {
		if p.body() {
			st.Grams[i] = film.Sheeted(st.Grams[i])
		}
	}
	return Said{Text: "Held low, without its nozzle: 65 % of the water runs off in one sheet."}, sheetCar, nil
}

func (d Drying) blow(st *DryingState, on string) (Said, measure.Seconds, error) {
	if !d.Blower {
		return Said{}, 0, fmt.Errorf("no blower may be used here")
	}
	if at := slices.IndexFunc(d.Hides, func(h HidesWater) bool { return h.ID == on }); at >= 0 {
		st.Hidden[at] *= 1 - blownOut
		return Said{Text: fmt.Sprintf("The %s: blown out.", d.Hides[at].Label)}, blowPlace, nil
	}
	at, err := d.part(on)
	if err != nil {
		return Said{}, 0, err
	}
	p := d.Parts[at]
	st.Grams[at] = film.Blown(st.Grams[at], d.Sheen)
	for i, h := range d.Hides {
		if h.On == p.ID {
			st.Hidden[i] *= 1 - blownOut
		}
	}
	return Said{Text: fmt.Sprintf("Top down over the %s: %.0f g/m² are left. Ears covered, no loose stones.", p.Label, st.Grams[at])},
		measure.Seconds(math.Ceil(p.Area * blowPerM2)), nil
}

func (d Drying) part(id string) (int, error) {
	at := slices.IndexFunc(d.Parts, func(p WetPart) bool { return p.ID == id })
	if at < 0 {
		return 0, fmt.Errorf("on: choose a part of the car")
	}
	return at, nil
}

// fullAt is what a towel may leave before it is wrung, g/m2, as plans have it: from some 10 the panel looks wet.
const fullAt = 10.0

func (d Drying) dry(s *State, a Action) (Said, measure.Seconds, error) {
	st := s.Drying
	at, err := d.part(a.On)
	if err != nil {
		return Said{}, 0, err
	}
	way, known := draggedBy[a.How]
	if !known {
		return Said{}, 0, fmt.Errorf("how: choose how the towel goes")
	}
	p := d.Parts[at]
	said := Said{}
	if a.How == OwnTowel {
		d.ownTowel(st, at, p, &said)
		return said, measure.Seconds(math.Ceil(p.Area * dryPerM2)), nil
	}
	d.wrongTowel(st, p, &said)
	if p.body() && d.Hose && !d.sheeted(st, at) {
		said.tell(Unsheeted, 0.003*p.Area)
	}
	last := d.draw(st, at, a.How, way.drag, &said)
	d.pull(st, p)
	st.Dried[at] = true
	said.Text = fmt.Sprintf("The %s: %.0f g/m² at its end; the towel carries %.0f of %.0f g.", p.Label, last,
		st.Towels[st.Towel].Load, st.Towels[st.Towel].Holds)
	said.explain()
	return said, measure.Seconds(math.Ceil(p.Area * dryPerM2 * way.time)), nil
}

// sheeted reports whether a part carries less water than the rinse and the weather left on it.
func (d Drying) sheeted(st *DryingState, at int) bool {
	return st.Grams[at]+st.Gone[at] < 0.9*d.Parts[at].Grams
}

// ownTowel dries shuts or wheels with the towel that is kept for them.
func (d Drying) ownTowel(st *DryingState, at int, p WetPart, said *Said) {
	st.Grams[at], st.Dried[at] = 2, true
	d.pull(st, p)
	said.Text = fmt.Sprintf("The %s with a towel of its own.", p.Label)
	if p.Wheels && d.bodyWet(st) {
		said.tell(WheelsSoon, 0.01)
		said.explain()
	}
}

// bodyWet reports whether a part of the body has not been dried yet.
func (d Drying) bodyWet(st *DryingState) bool {
	for i, p := range d.Parts {
		if p.body() && !st.Dried[i] {
			return true
		}
	}
	return false
}

func (d Drying) wrongTowel(st *DryingState, p WetPart, said *Said) {
	switch {
	case p.Wheels:
		said.tell(WheelTowel, 0.05)
		st.Towels[st.Towel].Grit = 1
	case p.Shut:
		said.tell(ShutTowel, 0.01)
	}
}

// draw draws the towel in hand over a part, and gives what is left at the end, g/m2.
func (d Drying) draw(st *DryingState, at int, how string, factor float64, said *Said) float64 {
	p, held := d.Parts[at], &st.Towels[st.Towel]
	t := film.Towel{Holds: held.Holds, Load: held.Load}
	area := p.Area
	if how == Margin {
		area *= 1 - marginLeft
	}
	if t.Drags() && !st.Damp && !p.Glass {
		factor *= dragsTwice
		said.tell(DryTowel, 0.004*area)
	}
	if how == RubWith {
		said.tell(Rubbed, 0.02*area)
	}
	if p.Unwashed && how != Margin {
		held.Grit = 1
		said.tell(GritTaken, 0.03)
	}
	before := t
	mean, last := t.Draw(st.Grams[at], area)
	if last > fullAt && before.Load > 0.5*before.Holds {
		said.tell(FullTowel, 0.002*area)
	}
	st.Drag, st.Over = st.Drag+area*factor*(1+2*held.Grit), st.Over+area
	held.Load, st.Damp = t.Load, true
	st.Grams[at] = mean
	return last
}

// pull takes what hides on a part along, as far as a towel does.
func (d Drying) pull(st *DryingState, p WetPart) {
	for i, h := range d.Hides {
		if h.On == p.ID {
			st.Hidden[i] *= 1 - drawnOut
		}
	}
}

func (d Drying) look(s *State) (Said, measure.Seconds, error) {
	st := s.Drying
	if d.bodyWet(st) {
		return Said{}, 0, fmt.Errorf("dry the body first")
	}
	said, caught := Said{}, 0.0
	if s.Clock < lookAfter {
		said.tell(SoonLook, 0.01)
	}
	for i := range st.Hidden {
		caught += caughtOut * st.Ran[i]
		st.Ran[i] *= 1 - caughtOut
		if s.Clock >= lookAfter {
			caught += caughtOut * st.Hidden[i]
			st.Hidden[i] *= 1 - caughtOut
		}
	}
	said.Text = fmt.Sprintf("Round again: mirrors, handles, lamps, badges, sills. %.0f ml that had been hiding are wiped up.", caught)
	return said, 40, nil
}

func (d Drying) done(s *State) (Said, measure.Seconds, error) {
	for i, p := range d.Parts {
		if !s.Drying.Dried[i] {
			return Said{}, 0, fmt.Errorf("the %s has not been dried yet", p.Label)
		}
	}
	s.Done = true
	said := Said{Text: "Done. What is wet now dries where it is."}
	if left := d.hidden(s.Drying); left > unhidden*d.allHidden() {
		said.tell(Unhidden, 0.02)
		said.Text += fmt.Sprintf(" %.0f ml still hide.", left)
	}
	return said, 0, nil
}

// unhidden is the share of hidden water that may be left: a second look in time leaves less (model).
const unhidden = 0.35

func (d Drying) hidden(st *DryingState) float64 {
	ml := 0.0
	for i := range st.Hidden {
		ml += st.Hidden[i] + st.Ran[i]
	}
	return ml
}

func (d Drying) allHidden() float64 {
	ml := 0.0
	for _, h := range d.Hides {
		ml += h.Ml
	}
	return ml
}

// pass lets water dry on the parts, and what hides run out, for the time that went by.
func (d Drying) pass(s *State, said *Said) {
	st := s.Drying
	took := float64(s.Clock - st.Since)
	if took <= 0 {
		return
	}
	for i, p := range d.Parts {
		dryOn := func() bool { return st.Gone[i] > driedBy*p.Grams || st.Grams[i] <= 0 }
		was, gone := dryOn(), math.Min(st.Grams[i], driedBy*p.Grams/float64(p.Dries)*took)
		st.Grams[i], st.Gone[i] = st.Grams[i]-gone, st.Gone[i]+gone
		if !st.Dried[i] && p.body() && !was && dryOn() {
			said.tell(Evaporated, 0.01)
			said.Text += fmt.Sprintf(" The water on the %s is drying: spots.", p.Label)
		}
	}
	for i, h := range d.Hides {
		at, err := d.part(h.On)
		runs := st.Hidden[i] * (1 - math.Exp2(-took/dripHalf))
		st.Hidden[i] -= runs
		if err == nil && st.Dried[at] {
			st.Ran[i] += runs
		}
	}
	st.Since = s.Clock
}

// driedBy is the share of the rinse's water that may dry on a part before it counts as spotted (as the wet clock has it).
const driedBy = 0.6

// spots are what is left of dissolved solids where water dried, mg/m2: on the mean of the body.
func (d Drying) spots(st *DryingState) float64 {
	mg, area := 0.0, 0.0
	for i, p := range d.Parts {
		if p.body() {
			mg, area = mg+climate.Residue(d.Solids, st.Gone[i]+st.Grams[i])*p.Area, area+p.Area
		}
	}
	return mg / math.Max(area, 0.01)
}

// asTaught sheets the water off, blows out what hides where a blower may be used, goes over the flats and then the uprights
// with a damped towel that is wrung when it stops drinking, then the shuts, the wheels last, and looks again.
func (d Drying) asTaught() ([]Action, error) {
	p := scripted(d)
	if d.Hose {
		p.do(Action{Do: SheetOff})
	}
	if d.Blower {
		for _, h := range d.Hides {
			p.do(Action{Do: Blow, On: h.ID})
		}
	}
	p.do(Action{Do: DampIt})
	for _, part := range d.inOrder() {
		if !part.body() {
			p.do(Action{Do: DryIt, On: part.ID, How: OwnTowel})
			continue
		}
		t := p.s.Drying.Towels[p.s.Drying.Towel]
		at, _ := d.part(part.ID)
		drawn := film.Towel{Holds: t.Holds, Load: t.Load}
		if _, last := drawn.Draw(p.s.Drying.Grams[at], part.Area); last > fullAt && t.Load > 0.36*t.Holds {
			if p.s.Drying.Towel < len(d.Towels)-1 {
				p.do(Action{Do: NextTowel})
				p.do(Action{Do: DampIt})
			} else {
				p.do(Action{Do: Wring})
			}
		}
		how := LayDraw
		if part.Unwashed {
			how = Margin
		}
		p.do(Action{Do: DryIt, On: part.ID, How: how})
	}
	if wait := lookAfter - p.s.Clock; wait > 0 && p.err == nil {
		p.do(Action{Do: Wait, Amount: float64(wait)})
	}
	p.do(Action{Do: SecondLook})
	p.do(Action{Do: DryingDone})
	return p.all, p.err
}

// inOrder are the parts as they are dried: flats all round first, what dries soonest before the rest, then uprights, the
// shuts, the wheels last.
func (d Drying) inOrder() []WetPart {
	rank := func(p WetPart) int {
		switch {
		case p.Wheels:
			return 3
		case p.Shut:
			return 2
		case p.Flat:
			return 0
		}
		return 1
	}
	parts := slices.Clone(d.Parts)
	slices.SortStableFunc(parts, func(a, b WetPart) int { return cmp.Or(rank(a)-rank(b), cmp.Compare(a.Dries, b.Dries)) })
	return parts
}

// How much worse than as taught a run may be: spots in mg/m2, and drag beside laying and drawing (model).
const (
	spotsMore = 1.3
	dragMore  = 1.3
)

func (d Drying) judge(s, taught State) (RunResult, error) {
	mine, own := s.Drying, taught.Drying
	spots, planned := d.spots(mine), d.spots(own)
	drag, plan := mine.Drag/math.Max(mine.Over, 0.01), own.Drag/math.Max(own.Over, 0.01)
	r := RunResult{Figures: []RunFigure{
		figure("Spots", spots, planned, "mg/m²"),
		figure("Left in hiding", d.hidden(mine), d.hidden(own), "ml"),
		figure("Drag, 1 is laid and drawn", drag, plan, ""),
		figure("Time", float64(s.Clock), float64(taught.Clock), "s"),
	}}
	if spots > planned*spotsMore+0.5 {
		r.Why = append(r.Why, fmt.Sprintf("Spots of %.1f mg/m²: as taught it is %.1f.", spots, planned))
	}
	if drag > plan*dragMore {
		r.Why = append(r.Why, fmt.Sprintf("The towel dragged %.1f times as much as one that is laid and drawn.", drag))
	}
	return r, nil
}

// MakeDrying makes a drill of a level: the flats and a side; the whole body; and shuts, wheels and a side that is not washed yet.
func MakeDrying(d Drying, body vehicle.Body, dries func(vehicle.Part) measure.Seconds) (Drying, error) {
	d.Level = min(max(d.Level, 1), 3)
	d.Body, d.Parts, d.Hides = body, []WetPart{}, []HidesWater{}
	for _, part := range body.Parts() {
		if !slices.Contains(driedAt(d.Level), part.Zone) {
			continue
		}
		w := WetPart{ID: string(part.Zone), Label: part.Zone.Label(), Area: part.Area, Grams: film.AfterRinse(part, d.Sheen),
			Dries: max(dries(part), shortestDry), Flat: part.Facing == vehicle.FacesUp || part.Zone == vehicle.Windscreen,
			Glass: part.Surface == vehicle.Glass, Shut: part.Zone == vehicle.Shuts}
		w.Unwashed = d.Level == 3 && part.Zone == vehicle.UpperRight
		d.Parts = append(d.Parts, w)
	}
	if d.Level == 3 {
		four := []vehicle.Zone{vehicle.WheelFL, vehicle.WheelFR, vehicle.WheelRL, vehicle.WheelRR}
		d.Parts = append(d.Parts, WetPart{ID: "wheels", Label: "wheels", Area: body.AreaOf(four), Dries: longestDry, Wheels: true,
			Grams: climate.DrainedWater.Grams(vehicle.FacesLeft)})
	}
	for _, h := range hides {
		if _, err := d.part(h.On); err == nil {
			d.Hides = append(d.Hides, h)
		}
	}
	return d, d.Check()
}

// driedAt are the zones that a level dries.
func driedAt(level int) []vehicle.Zone {
	zones := []vehicle.Zone{vehicle.Roof, vehicle.Bonnet, vehicle.Windscreen, vehicle.UpperLeft, vehicle.MirrorLeft}
	if level > 1 {
		zones = append(zones, vehicle.BootLid, vehicle.RearGlass, vehicle.GlassLeft, vehicle.GlassRight, vehicle.MirrorRight,
			vehicle.UpperRight, vehicle.LowerLeft, vehicle.LowerRight, vehicle.Front, vehicle.Rear)
	}
	if level > 2 {
		zones = append(zones, vehicle.Shuts)
	}
	return zones
}

// The shortest time until water spots in a drill, and what is taken for parts that hardly dry: shorter nobody could dry a
// car with one pair of hands (model).
const (
	shortestDry = 4 * measure.Minute
	longestDry  = 2 * 60 * measure.Minute
)

// hides is where water hides, ml (docs/models.md): two handles and two gaps a side, lamps, badges, grille.
var hides = []HidesWater{
	{"mirror-left", "left mirror", string(vehicle.MirrorLeft), 15}, {"mirror-right", "right mirror", string(vehicle.MirrorRight), 15},
	{"handles-left", "left handles", string(vehicle.UpperLeft), 10}, {"handles-right", "right handles", string(vehicle.UpperRight), 10},
	{"filler", "filler flap", string(vehicle.UpperRight), 10}, {"badge", "badge", string(vehicle.Bonnet), 5},
	{"lamps-front", "head lamps", string(vehicle.Front), 20}, {"grille", "grille", string(vehicle.Front), 30},
	{"lamps-rear", "rear lamps and badge", string(vehicle.Rear), 25}, {"sill-left", "left sill", string(vehicle.LowerLeft), 20},
	{"sill-right", "right sill", string(vehicle.LowerRight), 20}, {"in-shuts", "shuts", string(vehicle.Shuts), 40},
	{"in-wheels", "wheels", "wheels", 80},
}
