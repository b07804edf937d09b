package drill

import (
	"fmt"
	"math"
	"math/rand"
	"slices"

	"uskel/core/measure"
)

// Dwells is a drill with products at work: each has a time that it needs and one that it may stay, and one person puts them
// on, works them and takes them off. Four wheels, or a car with cleaner, foam and bug spray on it at once.
type Dwells struct {
	Title  string `json:"title"`
	Level  int    `json:"level" minimum:"1" maximum:"3"`
	Seed   int64  `json:"seed" maximum:"9007199254740991" doc:"of which wheel is hot"`
	Wheels bool   `json:"wheels" doc:"four wheels; else several products on one car"`
	Jobs   []Soak `json:"jobs" minItems:"1" maxItems:"5"`
}

// Soak is a product on a part of the car, in seconds.
type Soak struct {
	ID      string          `json:"id"`
	Label   string          `json:"label" doc:"which part"`
	Product string          `json:"product"`
	PutOn   measure.Seconds `json:"putOn" doc:"how long putting it on takes"`
	Min     measure.Seconds `json:"min" doc:"how long it must work, from when it is on"`
	Max     measure.Seconds `json:"max" doc:"how long it may stay: its label, or until it dries"`
	Dries   bool            `json:"dries,omitempty" doc:"what ends it is drying, not its label"`
	Work    measure.Seconds `json:"work,omitempty" doc:"how long brushing takes once it has worked; 0 for none"`
	Off     measure.Seconds `json:"off" doc:"how long rinsing it off takes"`
}

// Stage is how far a part is.
type Stage string

// The stages.
const (
	Bare   Stage = ""
	On     Stage = "on"
	Worked Stage = "worked"
	Clean  Stage = "off"
)

// Soaking is how a part stands.
type Soaking struct {
	Stage Stage           `json:"stage"`
	OnAt  measure.Seconds `json:"onAt" doc:"when it was on"`
	OffAt measure.Seconds `json:"offAt" doc:"when taking it off began"`
	Felt  bool            `json:"felt" doc:"somebody felt whether it is cool"`
	Warm  bool            `json:"warm" doc:"it was felt to be hot, and is not cooled yet"`
	Cool  bool            `json:"cool" doc:"it was cooled"`
	Dried bool            `json:"dried" doc:"it stayed too long"`
}

// DwellsState is how the drill stands.
type DwellsState struct {
	Jobs []Soaking       `json:"jobs"`
	Idle measure.Seconds `json:"idle" doc:"s waited"`
}

func (d DwellsState) copied() *DwellsState {
	d.Jobs = slices.Clone(d.Jobs)
	return &d
}

// Task is the drill among the others.
func (d Dwells) Task() Task { return Task{Kind: Dwelled, Dwells: &d} }

// Check says what is wrong with a drill, naming the field.
func (d Dwells) Check() error {
	if len(d.Jobs) == 0 || len(d.Jobs) > 5 {
		return fmt.Errorf("jobs: one to five")
	}
	for _, j := range d.Jobs {
		if j.PutOn <= 0 || j.Off <= 0 || j.Max < j.Min || j.Min < 0 || j.Max <= 0 {
			return fmt.Errorf("jobs: %s: seconds above 0, the longest time no shorter than the least", j.Label)
		}
	}
	return nil
}

func (d Dwells) start() State { return State{Dwells: &DwellsState{Jobs: make([]Soaking, len(d.Jobs))}} }

// hot reports whether a wheel is hot: from the second level one of them is.
func (d Dwells) hot(job int) bool {
	return d.Wheels && d.Level > 1 && rand.New(rand.NewSource(d.Seed)).Intn(len(d.Jobs)) == job
}

// max is how long product may stay on a part: on a hot wheel half as long.
func (d Dwells) max(s Soaking, job int) measure.Seconds {
	if d.hot(job) && !s.Cool {
		return d.Jobs[job].Max / 2
	}
	return d.Jobs[job].Max
}

const (
	feelsIn = 3  // s
	coolsIn = 20 // s
)

func (d Dwells) play(s *State, a Action) (Said, measure.Seconds, error) {
	if a.Do == Wait {
		if a.Amount < 1 || a.Amount > 600 {
			return Said{}, 0, fmt.Errorf("amount: 1 to 600 seconds")
		}
		s.Dwells.Idle += measure.Seconds(a.Amount)
		return Said{Text: "Waited."}, measure.Seconds(a.Amount), nil
	}
	at := slices.IndexFunc(d.Jobs, func(j Soak) bool { return j.ID == a.On })
	if at < 0 {
		return Said{}, 0, fmt.Errorf("on: choose a part")
	}
	job, now := d.Jobs[at], &s.Dwells.Jobs[at]
	switch a.Do {
	case FeelIt, CoolIt:
		return d.touch(now, at, a.Do)
	case PutOn:
		return d.putOn(s.Clock, now, at)
	case WorkIt:
		return d.work(s.Clock, now, job)
	case TakeOff:
		return d.takeOff(s, now, at)
	}
	return Said{}, 0, unknown(a, Wait, FeelIt, CoolIt, PutOn, WorkIt, TakeOff)
}

func (d Dwells) touch(now *Soaking, at int, do Do) (Said, measure.Seconds, error) {
	if now.Stage != Bare || !d.Wheels {
		return Said{}, 0, fmt.Errorf("a wheel is felt and cooled before anything is on it")
	}
	if do == CoolIt {
		now.Cool, now.Warm, now.Felt = true, false, true
		return Said{Text: fmt.Sprintf("Water over the %s until it is hand-warm.", d.Jobs[at].Label)}, coolsIn, nil
	}
	now.Felt = true
	if d.hot(at) && !now.Cool {
		now.Warm = true
		return Said{Text: fmt.Sprintf("The %s is hot from driving: cool it with water first.", d.Jobs[at].Label)}, feelsIn, nil
	}
	return Said{Text: fmt.Sprintf("The %s is cool.", d.Jobs[at].Label)}, feelsIn, nil
}

func (d Dwells) putOn(clock measure.Seconds, now *Soaking, at int) (Said, measure.Seconds, error) {
	job := d.Jobs[at]
	if now.Stage != Bare {
		return Said{}, 0, fmt.Errorf("%s is on the %s already", job.Product, job.Label)
	}
	now.Stage, now.OnAt = On, clock+job.PutOn
	said := Said{Text: fmt.Sprintf("%s on the %s: it needs %s and may stay %s.", capital(job.Product), job.Label, job.Min, job.Max)}
	if d.hot(at) && !now.Cool {
		said.tell(HotWheel, 0.03)
		said.Text += " It hisses: the wheel is hot, it will dry in half the time."
	}
	return said, job.PutOn, nil
}

func (d Dwells) work(clock measure.Seconds, now *Soaking, job Soak) (Said, measure.Seconds, error) {
	switch {
	case job.Work == 0:
		return Said{}, 0, fmt.Errorf("the %s is not brushed", job.Label)
	case now.Stage != On:
		return Said{}, 0, fmt.Errorf("the %s is brushed once, while the product is on", job.Label)
	}
	now.Stage = Worked
	said := Said{Text: fmt.Sprintf("The %s is worked.", job.Label)}
	if clock < now.OnAt+job.Min {
		said.tell(TooSoon, 0.01)
		said.Text = fmt.Sprintf("It has not worked yet: %s to go. Brushed now, the brush does what the product would have done.",
			now.OnAt+job.Min-clock)
	}
	return said, job.Work, nil
}

func (d Dwells) takeOff(s *State, now *Soaking, at int) (Said, measure.Seconds, error) {
	job := d.Jobs[at]
	if now.Stage != On && now.Stage != Worked {
		return Said{}, 0, fmt.Errorf("nothing is on the %s", job.Label)
	}
	if job.Work > 0 && now.Stage != Worked {
		return Said{}, 0, fmt.Errorf("brush the %s first", job.Label)
	}
	stayed := s.Clock - now.OnAt
	now.Stage, now.OffAt = Clean, s.Clock
	said := Said{Text: fmt.Sprintf("Off the %s after %s.", job.Label, stayed)}
	if stayed < job.Min && job.Work == 0 {
		said.tell(TooSoon, 0.01)
		said.Text += fmt.Sprintf(" It needed %s.", job.Min)
	}
	s.Done = !slices.ContainsFunc(s.Dwells.Jobs, func(j Soaking) bool { return j.Stage != Clean })
	return said, job.Off, nil
}

// pass tells of what has stayed too long.
func (d Dwells) pass(s *State, said *Said) {
	for i, now := range s.Dwells.Jobs {
		until := s.Clock
		if now.Stage == Clean {
			until = now.OffAt
		}
		if now.Stage == Bare || now.Dried || until-now.OnAt <= d.max(now, i) {
			continue
		}
		s.Dwells.Jobs[i].Dried = true
		job := d.Jobs[i]
		if job.Dries || d.max(now, i) < job.Max {
			said.tell(DriedOn, 0.03)
			said.Text += fmt.Sprintf(" The %s on the %s has dried.", job.Product, job.Label)
		} else {
			said.tell(TooLate, 0.02)
			said.Text += fmt.Sprintf(" The %s on the %s is past its label's %s.", job.Product, job.Label, job.Max)
		}
	}
}

// kept is how many dwells were kept: no shorter than the product needs, no longer than it may stay.
func (d Dwells) kept(s State) int {
	n := 0
	for i, now := range s.Dwells.Jobs {
		stayed := now.OffAt - now.OnAt
		if now.Stage == Clean && stayed >= d.Jobs[i].Min && stayed <= d.max(now, i) {
			n++
		}
	}
	return n
}

// idleMore is how much longer than as taught somebody may wait, s (model): to look, and to think.
const idleMore = 60

func (d Dwells) judge(s, taught State) (RunResult, error) {
	kept, own := d.kept(s), d.kept(taught)
	r := RunResult{Figures: []RunFigure{
		figure("Dwells kept", float64(kept), float64(own), ""),
		figure("Waited", float64(s.Dwells.Idle), float64(taught.Dwells.Idle), "s"),
		figure("Time", float64(s.Clock), float64(taught.Clock), "s"),
	}}
	if kept < own {
		r.Why = append(r.Why, fmt.Sprintf("%d of %d dwells were kept.", kept, len(d.Jobs)))
	}
	if s.Dwells.Idle > taught.Dwells.Idle+idleMore {
		r.Why = append(r.Why, fmt.Sprintf("%s of waiting: as taught it is %s.", s.Dwells.Idle, taught.Dwells.Idle))
	}
	return r, nil
}

// asTaught feels every wheel, cools a hot one, and then does what keeps every dwell and is done soonest, found by trying
// every order.
func (d Dwells) asTaught() ([]Action, error) {
	p := scripted(d)
	for i, j := range d.Jobs {
		if !d.Wheels {
			break
		}
		p.do(Action{Do: FeelIt, On: j.ID})
		if d.hot(i) {
			p.do(Action{Do: CoolIt, On: j.ID})
		}
	}
	best := order{ends: math.MaxInt32}
	d.try(make([]Soaking, len(d.Jobs)), 0, nil, &best)
	if best.moves == nil {
		return nil, fmt.Errorf("jobs: nobody could keep these dwells alone")
	}
	begin := p.s.Clock
	for _, m := range best.moves {
		if wait := m.at - (p.s.Clock - begin); wait > 0 {
			p.do(Action{Do: Wait, Amount: float64(wait)})
		}
		p.do(Action{Do: m.do, On: d.Jobs[m.job].ID})
	}
	return p.all, p.err
}

// order is a way to do all jobs: what is begun when, and when all is done.
type order struct {
	moves []begun
	ends  measure.Seconds
}

type begun struct {
	do  Do
	job int
	at  measure.Seconds
}

// try goes on from where the jobs stand at a time in every order, and keeps the one that ends soonest.
func (d Dwells) try(jobs []Soaking, clock measure.Seconds, moves []begun, best *order) {
	if clock >= best.ends {
		return
	}
	open, fresh := false, false
	for i, now := range jobs {
		if now.Stage == Clean {
			continue
		}
		job := d.Jobs[i]
		open = true
		next, at, took, do := now, clock, job.PutOn, PutOn
		switch {
		case now.Stage == Bare:
			if fresh && d.Wheels {
				continue // wheels are alike: the first of those not begun stands for all
			}
			fresh = true
			next.Stage, next.OnAt = On, clock+job.PutOn
		case now.Stage == On && job.Work > 0:
			do, at, took = WorkIt, max(clock, now.OnAt+job.Min), job.Work
			next.Stage = Worked
		default:
			do, at, took = TakeOff, max(clock, now.OnAt+job.Min), job.Off
			next.Stage = Clean
		}
		if now.Stage != Bare && at-now.OnAt > job.Max {
			return // what is on already is too late for: nothing in this order keeps it
		}
		after := slices.Clone(jobs)
		after[i] = next
		d.try(after, at+took, append(slices.Clone(moves), begun{do, i, at}), best)
	}
	if !open {
		*best = order{moves, clock}
	}
}

// MakeWheels makes a drill of four wheels under a label: at the first level it allows minutes, at the second a wheel is hot,
// at the third the label allows no more than 30 s. Seconds of the hands are of a mid-size car (model).
func MakeWheels(title, product string, level int, seed int64, least, most measure.Seconds) (Dwells, error) {
	d := Dwells{Title: title, Level: min(max(level, 1), 3), Seed: seed, Wheels: true}
	job := Soak{Product: product, PutOn: 20, Min: least, Max: most, Work: 40, Off: 20}
	if d.Level == 3 {
		job.PutOn, job.Min, job.Max, job.Work = 8, 8, 30, 15
	}
	for _, w := range []struct{ id, label string }{{"fl", "front left wheel"}, {"rl", "rear left wheel"}, {"rr", "rear right wheel"},
		{"fr", "front right wheel"}} {
		job.ID, job.Label = w.id, w.label
		d.Jobs = append(d.Jobs, job)
	}
	if _, err := d.asTaught(); err != nil {
		return d, err
	}
	return d, d.Check()
}

// MakeDwells makes a drill of several products on one car; one that nobody could keep alone leaves out its last product.
func MakeDwells(title string, level int, jobs []Soak) (Dwells, error) {
	d := Dwells{Title: title, Level: min(max(level, 1), 3), Jobs: slices.Clone(jobs[:min(len(jobs), level+1)])}
	for len(d.Jobs) > 0 {
		if err := d.Check(); err != nil {
			return d, err
		}
		if _, err := d.asTaught(); err == nil {
			return d, nil
		}
		d.Jobs = d.Jobs[:len(d.Jobs)-1]
	}
	return d, fmt.Errorf("nothing works on this car long enough to practise on")
}
