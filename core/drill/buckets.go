package drill

import (
	"cmp"
	"fmt"
	"math"
	"math/rand"
	"slices"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Buckets is a drill with three buckets: made ready for a wash, then a wash's worth of emptying the mitt (docs/trade.md,
// section 16). The mitt and the water are those of the planner's own model.
type Buckets struct {
	Title   string          `json:"title"`
	Level   int             `json:"level" minimum:"1" maximum:"3"`
	Seed    int64           `json:"seed" maximum:"9007199254740991" doc:"of what may happen"`
	Product string          `json:"product"`
	Label   string          `json:"label" doc:"its dose as the label prints it"`
	Low     float64         `json:"low" doc:"ml of product a l of water, by the label's weakest reading"`
	High    float64         `json:"high" doc:"ml of product a l of water, by its strongest"`
	Cold    bool            `json:"cold,omitempty" doc:"the label asks for cold water"`
	Foams   bool            `json:"foams" doc:"it raises suds; one that hardly does is judged by slip"`
	Litres  float64         `json:"litres" doc:"l that the shop fills a bucket to"`
	Tools   []Tool          `json:"tools" doc:"what a dose is measured with"`
	Rinse   string          `json:"rinse" doc:"the shop's school: rub on the guard, or swish"`
	Lacquer contact.Lacquer `json:"lacquer"`
	Patches []contact.Patch `json:"patches"`
	Aim     float64         `json:"aim"`
	// Rounds are the planner's own moves for this car, cut at each rinse of the mitt: what is washed with one mittful.
	Rounds [][]contact.Move `json:"rounds"`
}

// Tool is what a dose is measured with: a cap, a pump, a spoon.
type Tool struct {
	Name string  `json:"name"`
	Ml   float64 `json:"ml" doc:"ml that one holds"`
	Step float64 `json:"step" doc:"the least part of one that can be told, such as a quarter of a cap"`
}

// byEye is how a dose is poured that nobody measures.
const byEye = "by eye"

// The work of a bucket.
const (
	ForWash   = "wash"
	ForRinse  = "rinse"
	ForWheels = "wheels"
)

// Pail is one of the three buckets.
type Pail struct {
	ID      string  `json:"id"`
	Colour  string  `json:"colour"`
	Label   string  `json:"label" doc:"what it is for, once somebody has said so"`
	Litres  float64 `json:"litres"`
	Warm    bool    `json:"warm"`
	Guard   string  `json:"guard" doc:"none, seated, floating, upside down, jammed"`
	Product float64 `json:"product" doc:"ml in it"`
	Suds    bool    `json:"suds"`
}

// How a guard can be in a bucket.
const (
	NoGuardIn  = "none"
	Seated     = "seated"
	GuardFloat = "floating"
	UpsideDown = "upside down"
	Jammed     = "jammed"
)

// BucketsState is how the drill stands.
type BucketsState struct {
	Pails   []Pail        `json:"pails"`
	Washing bool          `json:"washing" doc:"the buckets are ready, the mitt is in hand"`
	Hand    contact.State `json:"hand"`
	Round   int           `json:"round" doc:"mittfuls washed"`
	Rounds  int           `json:"rounds" doc:"mittfuls of this wash"`
	Rinsed  bool          `json:"rinsed" doc:"the mitt was emptied since it last touched paint"`
	Murky   float64       `json:"murky" doc:"0 clear to 1: the guard cannot be seen"`
	Mishap  Mishap        `json:"mishap,omitempty"`
	Dosed   string        `json:"dosed,omitempty" doc:"what the dose was measured with last"`
}

func (b BucketsState) copied() *BucketsState {
	b.Pails = slices.Clone(b.Pails)
	return &b
}

// Task is the drill among the others.
func (b Buckets) Task() Task { return Task{Kind: Pails, Buckets: &b} }

// Check says what is wrong with a drill, naming the field.
func (b Buckets) Check() error {
	switch {
	case len(b.Patches) == 0 || len(b.Rounds) == 0:
		return fmt.Errorf("patches: name what is washed")
	case b.Litres < 5 || b.Litres > 25:
		return fmt.Errorf("litres: 5 to 25")
	case b.Low <= 0 || b.High < b.Low:
		return fmt.Errorf("low, high: ml of product a l of water, from the least to the most")
	case len(b.Tools) == 0:
		return fmt.Errorf("tools: at least one")
	}
	return nil
}

// pailColours are what buckets look like: at the first level each has its own; further on they are alike, as they are
// when somebody has bought three.
var pailColours = [][]string{{"white", "blue", "black"}, {"black", "black", "black"}}

func (b Buckets) start() State {
	pails := make([]Pail, 3)
	for i, colour := range pailColours[min(b.Level-1, 1)] {
		pails[i] = Pail{ID: string(rune('a' + i)), Colour: colour, Guard: NoGuardIn}
	}
	return State{Buckets: &BucketsState{Pails: pails, Rounds: len(b.Rounds)}}
}

// mostRounds is how many mittfuls a drill lasts, by level: a practice between two cars takes minutes.
var mostRounds = [3]int{3, 4, 6}

// rounds are the planner's own moves for a drill's car, as many as its level lasts.
func (b Buckets) rounds() ([][]contact.Move, error) {
	own, err := contact.Make(contact.Mitt, b.Lacquer, b.Patches, false, cmp.Or(b.Aim, contact.DefaultAim))
	if err != nil {
		return nil, err
	}
	var all [][]contact.Move
	var round []contact.Move
	for _, m := range append(own.Moves, contact.Move{Kind: contact.RubGuard}) {
		switch m.Kind {
		case contact.WashZone, contact.Flip:
			round = append(round, m)
		case contact.RubGuard:
			if len(round) > 0 {
				all, round = append(all, round), nil
			}
		}
	}
	return all[:min(len(all), mostRounds[b.Level-1])], nil
}

// tookFor is how long each action takes, s (model).
var tookFor = map[Do]measure.Seconds{LabelIt: 4, Fill: 20, GuardIn: 8, DoseIt: 10, Jet: 20, Begin: 5, WashOn: 60, Rub: 12, SwishIt: 10,
	Look: 2, Feel: 4, Load: 12, Spare: 8, SeatGuard: 10, ChangeWater: 60, FreshWash: 90,
	SideBySide: 10}

func (b Buckets) play(s *State, a Action) (said Said, took measure.Seconds, err error) {
	st := s.Buckets
	switch {
	case slices.Contains([]Do{LabelIt, Fill, GuardIn, DoseIt, Jet, Begin}, a.Do):
		if st.Washing {
			return said, 0, fmt.Errorf("the buckets are made: wash on")
		}
		said, err = b.ready(st, a, len(s.Said))
	case slices.Contains([]Do{WashOn, Rub, SwishIt, Load, Look, Feel, Spare, SeatGuard, ChangeWater, FreshWash, SideBySide}, a.Do):
		if !st.Washing {
			return said, 0, fmt.Errorf("make the buckets ready first")
		}
		said, err = b.washing(s, a)
	default:
		err = unknown(a, LabelIt, Fill, GuardIn, DoseIt, Jet, Begin, WashOn, Rub, SwishIt, Load, Look, Feel, Spare, SeatGuard, ChangeWater,
			FreshWash, SideBySide)
	}
	said.explain()
	return said, tookFor[a.Do], err
}

func (b Buckets) pass(*State, *Said) {}

const pailWeight = 1.0 // kg, an empty bucket (model); a litre weighs 1 kg

// heavy is what one person should not carry about alone, kg (common practice, from memory; local rules come first).
const heavy = 15

// ready is an action on one of the buckets before the wash.
func (b Buckets) ready(st *BucketsState, a Action, move int) (Said, error) {
	said := Said{}
	if a.Do == Begin {
		return b.begin(st)
	}
	at := slices.IndexFunc(st.Pails, func(p Pail) bool { return p.ID == a.On })
	if at < 0 {
		return said, fmt.Errorf("on: choose a bucket: a, b or c")
	}
	p := &st.Pails[at]
	switch a.Do {
	case LabelIt:
		if a.How != ForWash && a.How != ForRinse && a.How != ForWheels {
			return said, fmt.Errorf("how: label it for the wash, the rinse or the wheels")
		}
		p.Label, said.Text = a.How, fmt.Sprintf("This one is for the %s now, and says so.", a.How)
	case Fill, Jet:
		return b.fill(st, p, a)
	case GuardIn:
		return guardIn(p, a.How)
	case DoseIt:
		return b.dose(st, p, a, move)
	}
	return said, nil
}

func (b Buckets) fill(st *BucketsState, p *Pail, a Action) (Said, error) {
	said := Said{}
	switch {
	case a.Amount <= 0 || a.Amount > 20:
		return said, fmt.Errorf("amount: 1 to 20 litres")
	case p.Litres+a.Amount > b.Litres*1.4:
		return said, fmt.Errorf("amount: it would run over")
	}
	if a.Do == Fill && p.Product == 0 && p.Litres == 0 && !rinseFilled(st) && p.Label == ForWash {
		said.tell(WashFirst, 0.005)
	}
	p.Litres, p.Warm = p.Litres+a.Amount, a.How == "warm"
	said.Text = fmt.Sprintf("%.1f l of %s water in it: with the bucket some %.0f kg. Fill it where it will stand.", p.Litres,
		map[bool]string{true: "warm", false: "cold"}[p.Warm], p.Litres+pailWeight)
	if p.Litres+pailWeight > heavy {
		said.Text += " That is too heavy to carry about alone."
	}
	if a.Do == Jet {
		switch {
		case p.Product == 0:
			said.tell(SudsFirst, 0.005)
			said.Text += " No suds."
		case b.Foams:
			p.Suds = true
			said.Text += " The jet raises suds."
		default:
			said.Text += " Hardly any suds: this product is judged by its slip between the fingers."
		}
	}
	return said, nil
}

// rinseFilled reports whether the bucket for the rinse has water.
func rinseFilled(st *BucketsState) bool {
	return slices.ContainsFunc(st.Pails, func(p Pail) bool { return p.Label == ForRinse && p.Litres > 0 })
}

// The ways to put a guard in.
const (
	TiltPress = "tilted and pressed flat"
	DropIn    = "dropped in"
	Overturn  = "turned over"
	HardDown  = "pushed down hard"
)

func guardIn(p *Pail, how string) (Said, error) {
	said := Said{}
	switch how {
	case TiltPress:
		p.Guard, said.Text = Seated, "Tilted in, pressed flat until it is snug: it sits, under the water."
	case DropIn:
		p.Guard, said.Text = GuardFloat, "Dropped in, it floats at a slant: what sinks is stirred up again."
	case Overturn:
		p.Guard, said.Text = UpsideDown, "Upside down: its fins lie on the ground and hold nothing off it."
	case HardDown:
		p.Guard, said.Text = Jammed, "It sits, but so hard that it will not come out again."
		said.tell(Tight, 0.002)
	default:
		return said, fmt.Errorf("how: use one of %q", []string{TiltPress, DropIn, Overturn, HardDown})
	}
	return said, nil
}

func (b Buckets) dose(st *BucketsState, p *Pail, a Action, move int) (Said, error) {
	said := Said{}
	ml := 0.0
	if a.How == byEye {
		ml = b.Low * b.Litres * (0.6 + 0.9*rand.New(rand.NewSource(b.Seed+int64(move))).Float64())
		said.tell(WrongDose, 0.01)
		said.Text = fmt.Sprintf("A glug of %s: nobody knows how much.", b.Product)
	} else {
		at := slices.IndexFunc(b.Tools, func(t Tool) bool { return t.Name == a.How })
		if at < 0 || a.Amount <= 0 || a.Amount > 40 {
			return said, fmt.Errorf("how, amount: choose what to measure with, and how many")
		}
		t := b.Tools[at]
		ml = math.Round(a.Amount/t.Step) * t.Step * t.Ml
		said.Text = fmt.Sprintf("%.2g × %s: %.0f ml of %s.", a.Amount, t.Name, ml, b.Product)
	}
	p.Product, st.Dosed = p.Product+ml, a.How
	if p.Suds || p.Litres > 0.6*b.Litres && b.Foams {
		said.tell(SudsFirst, 0.005)
	}
	return said, nil
}

// leastFull is how full a bucket must be for the mitt to be covered, as a share of what the shop fills it to: half of
// the bucket, where three quarters are usual.
const leastFull = 0.65

// begin looks over what was made ready.
func (b Buckets) begin(st *BucketsState) (Said, error) {
	wash, rinse := pailFor(st, ForWash), pailFor(st, ForRinse)
	if wash < 0 || rinse < 0 {
		return Said{}, fmt.Errorf("one bucket needs water with product, one plain water: make both ready")
	}
	said := Said{Text: "The buckets stand where the work is. The mitt goes into the wash bucket and takes up all it can."}
	w, r := st.Pails[wash], st.Pails[rinse]
	named := w.Label == ForWash && r.Label == ForRinse
	if b.Level > 1 && !named {
		said.tell(Alike, 0.01)
	}
	if w.Label == ForRinse || r.Label == ForWash {
		said.tell(MixedUp, 0.02)
	}
	for _, p := range []Pail{w, r} {
		if p.Litres < leastFull*b.Litres {
			said.tell(Shallow, 0.005)
		}
		if p.Guard != Seated && p.Guard != Jammed {
			said.tell(Floating, 0.02)
		}
		if b.Cold && p.Warm {
			said.tell(WrongHeat, 0.005)
		}
	}
	if b.Foams && !w.Suds {
		said.tell(NoJet, 0.005)
	}
	if !b.doseHolds(w, st.Dosed) {
		said.tell(WrongDose, 0.01)
		said.Text += fmt.Sprintf(" %.0f ml in %.1f l: the label asks for %s.", w.Product, w.Litres, b.asked(w.Litres))
	}
	st.Washing = true
	st.Hand = contact.Start(contact.Mitt, b.Lacquer, b.Patches)
	st.Hand.Bucket = contact.NewBucket(r.Guard == Seated || r.Guard == Jammed, heatOf(r))
	st.Hand.Bucket.Litres = r.Litres
	st.Rinsed = true
	return said, nil
}

func heatOf(p Pail) measure.Celsius {
	if p.Warm {
		return 35
	}
	return 12
}

// pailFor is the bucket that does a work: the one with product, or the one with plain water that is not for the wheels.
func pailFor(st *BucketsState, role string) int {
	return slices.IndexFunc(st.Pails, func(p Pail) bool {
		if role == ForWash {
			return p.Product > 0 && p.Litres > 0
		}
		return p.Product == 0 && p.Litres > 0 && p.Label != ForWheels
	})
}

// asked is what the label asks for, in words.
func (b Buckets) asked(litres float64) string {
	low, high := b.Low*litres, b.High*litres
	if high-low < 1 {
		return fmt.Sprintf("%.0f ml", low)
	}
	return fmt.Sprintf("%.0f to %.0f ml", low, high)
}

// nearEnough is how far off a measured dose may be (model, as doses are counted: core/shelf).
const nearEnough = 0.15

// doseHolds reports whether a dose is the label's, or the nearest that what it was measured with can give.
func (b Buckets) doseHolds(w Pail, with string) bool {
	low, high := b.Low*w.Litres, b.High*w.Litres
	if w.Product >= low*(1-nearEnough) && w.Product <= high*(1+nearEnough) {
		return true
	}
	at := slices.IndexFunc(b.Tools, func(t Tool) bool { return t.Name == with })
	off := math.Max(low-w.Product, w.Product-high)
	return at >= 0 && off <= b.Tools[at].Ml*b.Tools[at].Step/2+1e-9
}

func (b Buckets) washing(s *State, a Action) (said Said, err error) {
	st := s.Buckets
	switch a.Do {
	case WashOn:
		said, err = b.washOn(st)
	case Rub, SwishIt:
		said, err = b.empty(st, a)
	case Load:
		carried := st.Hand.Face().Exposed
		answer, e := st.Hand.Make(contact.Move{Kind: contact.Reload})
		if e != nil {
			return said, e
		}
		if !st.Rinsed && carried > dirtyFace {
			said.tell(DirtyDip, 0.02)
		}
		if st.Mishap == DarkWash {
			said.tell(DarkLoad, 0.02)
		}
		st.Hand, said.Text = answer.State, answer.Why
	case Look, Feel:
		said.Text = lookAt(st, b.Lacquer.Limit, a.Do)
	case Spare:
		said.Text = takeSpare(&st.Hand, &st.Mishap)
	case SeatGuard:
		said.Text, err = seat(&st.Hand, &st.Mishap)
	case ChangeWater:
		guard, litres := st.Hand.Bucket.Guard, b.Litres
		st.Hand.Bucket = contact.NewBucket(guard, 12)
		st.Hand.Bucket.Litres = litres
		if st.Mishap == LowWater {
			st.Mishap = NoMishap
		}
		said.Text = "Fresh water in the rinse bucket, and what lay under the guard is out."
	case FreshWash:
		st.Hand.Suds = 0
		if st.Mishap == DarkWash {
			st.Mishap = NoMishap
		}
		said.Text = "Out with it; water, guard, the measured dose and the jet again: clear suds."
	case SideBySide:
		said, err = b.sideBySide(s)
	}
	st.Murky = st.Hand.Bucket.Murky()
	return said, err
}

// washOn washes with one mittful, as the planner would, and then something may happen.
func (b Buckets) washOn(st *BucketsState) (Said, error) {
	if st.Round >= len(b.Rounds) {
		return Said{}, fmt.Errorf("the car is washed: set the buckets side by side")
	}
	said, peak, before := Said{}, 0.0, st.Hand.Harm
	if st.Mishap == Fallen {
		said.tell(Dropped, 0.05)
	}
	if st.Round > 0 && st.Hand.Bare {
		said.tell(NoSuds, 0.01)
	}
	zone := ""
	for _, m := range b.Rounds[st.Round] {
		answer, err := st.Hand.Make(m)
		if err != nil {
			return said, err
		}
		st.Hand = answer.State
		peak = math.Max(peak, st.Hand.Face().Exposed)
		if m.Kind == contact.WashZone {
			zone = m.Zone.Label()
		}
	}
	if st.Round > 0 && !st.Rinsed {
		said.tell(Loaded, math.Max(0.01, (st.Hand.Harm-before)/2))
	}
	st.Round++
	st.Rinsed = false
	said.Text = fmt.Sprintf("Washed on, as far as the %s. The fullest face carries %.0f mg: empty the mitt.", zone, peak)
	if st.Round < len(b.Rounds) {
		b.happen(st, &said)
	} else {
		said.Text += " That was the last of it."
	}
	return said, nil
}

// happen lets a mishap of the drill's seed come, from the second level on.
func (b Buckets) happen(st *BucketsState, said *Said) {
	if st.Mishap = mishapAt(b.Level, b.Seed, st.Round, GuardUp, Fallen, LowWater, DarkWash); st.Mishap == NoMishap {
		return
	}
	said.Text += " " + capital(string(st.Mishap)) + "."
	switch st.Mishap {
	case GuardUp:
		st.Hand.Bucket.Guard = false
	case Fallen:
		h := &st.Hand.Mitts[st.Hand.Mitt]
		h.Faces[h.Face].Exposed += fallenGrit
	case LowWater:
		st.Hand.Bucket.Litres = 0.3 * b.Litres
	case DarkWash:
		st.Hand.Suds += darkGrit
	}
}

// empty rinses the mitt: rubbed or swished, wrung outside or inside. Where buckets are alike it may be the wrong one.
func (b Buckets) empty(st *BucketsState, a Action) (Said, error) {
	said := Said{}
	if a.How != "" && a.How != "inside" && a.How != "outside" {
		return said, fmt.Errorf("how: wring outside or inside")
	}
	carried := st.Hand.Face().Exposed
	switch {
	case !st.Hand.Bucket.Guard:
		said.tell(NoGuard, 0.02)
	case st.Mishap == LowWater:
		said.tell(Shallow, 0.01)
	}
	if st.Murky >= 1 {
		said.tell(Brown, 0.03)
	}
	if a.How == "inside" {
		said.tell(WrungIn, 0.01)
	}
	answer, err := st.Hand.Make(contact.Move{Kind: moves[a.Do], Inside: a.How == "inside"})
	if err != nil {
		return said, err
	}
	st.Hand, st.Rinsed, said.Text = answer.State, true, answer.Why
	if a.Do == SwishIt && b.Rinse == condition.Swish {
		said.Text = "Swished high and lifted, as this shop does it. " + answer.Why
	}
	if b.Level > 1 && carried > dirtyFace && alike(st) && rand.New(rand.NewSource(b.Seed-int64(st.Round))).Intn(2) == 0 {
		st.Hand.Suds += carried / 2
		said.tell(MixedUp, 0.03)
		said.Text = "That was the wash bucket: nobody can tell them apart. " + said.Text
	}
	return said, nil
}

// alike reports whether the buckets of the wash look the same and no label tells them apart.
func alike(st *BucketsState) bool {
	wash, rinse := pailFor(st, ForWash), pailFor(st, ForRinse)
	return st.Pails[wash].Colour == st.Pails[rinse].Colour &&
		(st.Pails[wash].Label != ForWash || st.Pails[rinse].Label != ForRinse)
}

// lookAt is what looking at the mitt and into the bucket tells, or the bare hand.
func lookAt(st *BucketsState, limit float64, do Do) string {
	face := st.Hand.Face()
	if do == Feel {
		return fmt.Sprintf("With the bare hand: %s. %.0f mg at the tips, %.0f deep in the pile.", felt(face.Exposed/limit), face.Exposed,
			face.Sunk)
	}
	water := "The rinse water is clear enough to see the guard."
	switch m := st.Hand.Bucket.Murky(); {
	case m >= 1:
		water = "The guard cannot be seen any longer: change the water."
	case m > 0.5:
		water = "The rinse water is brown, the guard just to be seen."
	}
	return pileLooks(face.Exposed/limit) + " " + water
}

// sideBySide ends the drill with the two buckets beside each other: they tell how it went.
func (b Buckets) sideBySide(s *State) (Said, error) {
	st := s.Buckets
	if st.Round < st.Rounds {
		return Said{}, fmt.Errorf("%d of %d mittfuls are washed: wash on", st.Round, st.Rounds)
	}
	s.Done = true
	said := Said{Text: fmt.Sprintf("Rinse bucket: %.0f mg under the guard, %.0f mg in the water. Wash bucket: %.0f mg, ",
		st.Hand.Bucket.Bottom, st.Hand.Bucket.Up, st.Hand.Suds)}
	if st.Hand.Suds > hazy {
		said.Text += "dark: the mitt went back dirty."
	} else {
		said.Text += "at most hazy, as it should be."
	}
	return said, nil
}

// darkGrit is what a dirty mitt leaves in a wash bucket, mg: a moderately dirty face (model).
const darkGrit = 200

// hazy is the grit in a wash bucket, mg, above which it is dark: some three loads of a mitt that was rinsed (model).
const hazy = 60

// asTaught makes the rinse bucket first, then the wash bucket, and empties the mitt after every mittful.
func (b Buckets) asTaught() ([]Action, error) {
	p := scripted(b)
	for i, role := range []string{ForRinse, ForWash, ForWheels} {
		p.do(Action{Do: LabelIt, On: string(rune('a' + i)), How: role})
	}
	heat := "warm"
	if b.Cold {
		heat = "cold"
	}
	little := math.Round(b.Litres / 5)
	p.do(Action{Do: Fill, On: "a", How: heat, Amount: b.Litres})
	p.do(Action{Do: GuardIn, On: "a", How: TiltPress})
	p.do(Action{Do: Fill, On: "b", How: heat, Amount: little})
	p.do(Action{Do: GuardIn, On: "b", How: TiltPress})
	tool, count := b.measured()
	p.do(Action{Do: DoseIt, On: "b", How: tool.Name, Amount: count})
	p.do(Action{Do: Jet, On: "b", How: heat, Amount: b.Litres - little})
	p.do(Action{Do: Begin})
	for p.err == nil && p.s.Buckets.Round < p.s.Buckets.Rounds {
		p.do(Action{Do: WashOn})
		if p.err != nil || p.s.Buckets.Round == p.s.Buckets.Rounds {
			break
		}
		p.putRight(p.s.Buckets.Mishap)
		if p.s.Buckets.Murky >= 1 {
			p.do(Action{Do: ChangeWater})
		}
		p.do(Action{Do: rinsedBy(b.Rinse), How: "outside"})
		p.do(Action{Do: Look})
		p.do(Action{Do: Load})
	}
	p.do(Action{Do: SideBySide})
	return p.all, p.err
}

// measured is what the label's dose is counted in best, and how many of it.
func (b Buckets) measured() (Tool, float64) {
	want := (b.Low + b.High) / 2 * b.Litres
	count := func(t Tool) float64 { return math.Max(t.Step, math.Round(want/t.Ml/t.Step)*t.Step) }
	best := slices.MinFunc(b.Tools, func(x, y Tool) int {
		return cmp.Compare(math.Abs(count(x)*x.Ml-want), math.Abs(count(y)*y.Ml-want))
	})
	return best, count(best)
}

func (b Buckets) judge(s, taught State) (RunResult, error) {
	mine, own := s.Buckets.Hand, taught.Buckets.Hand
	r := RunResult{Figures: []RunFigure{
		figure("Scratch risk", mine.Index(), own.Index(), ""),
		figure("Grit in the wash bucket", mine.Suds, own.Suds, "mg"),
		figure("Product", s.Buckets.product(), taught.Buckets.product(), "ml"),
		figure("Time", float64(s.Clock), float64(taught.Clock), "s"),
	}}
	if mine.Index() > own.Index()+allowance {
		r.Why = append(r.Why, tooHigh(mine.Index(), own.Index()))
	}
	return r, nil
}

func (b BucketsState) product() float64 {
	ml := 0.0
	for _, p := range b.Pails {
		ml += p.Product
	}
	return ml
}

// MakeBuckets makes a drill of a level on a car.
func MakeBuckets(b Buckets) (Buckets, error) {
	b.Level = min(max(b.Level, 1), 3)
	b.Patches = slices.Clone(b.Patches)
	for i := range b.Patches {
		b.Patches[i].Grit = math.Max(b.Patches[i].Grit, leastGrit[b.Level-1])
	}
	b.Patches = slices.DeleteFunc(b.Patches, func(p contact.Patch) bool { return p.Band == vehicle.Lower && b.Level == 1 })
	var err error
	if b.Rounds, err = b.rounds(); err != nil {
		return b, err
	}
	return b, b.Check()
}
