package schedule

import (
	"cmp"
	"math"
	"math/rand"
	"slices"

	"uskel/core/measure"
)

// Spread is how an activity's length varies from wash to wash.
type Spread struct {
	Mean float64 `json:"mean" doc:"its mean over the plan; 1 when it runs to plan"`
	CV   float64 `json:"cv" doc:"standard deviation over mean"`
	// Day is how much all that one person does in one wash varies together, as a standard deviation over the mean: a
	// good day or a bad one, a car dirtier than it looked.
	Day float64 `json:"day"`
}

// Spreads of a practised person and of a trainee until the shop has times of its own (docs/models.md).
var (
	Practised = Spread{1, 0.15, 0.05}
	Learning  = Spread{1, 0.30, 0.10}
)

// Promise is when a wash will be done, and how sure that is. Times are from the timeline's zero.
type Promise struct {
	P50     measure.Seconds `json:"p50" doc:"done by then in half of all washes like this"`
	P80     measure.Seconds `json:"p80" doc:"in four of five: what the customer is told"`
	P95     measure.Seconds `json:"p95"`
	Overrun float64         `json:"overrun" doc:"chance that some product dries or passes its label, 0 to 1"`
	Dwells  []DwellRisk     `json:"dwells" doc:"by dwell, the riskiest first"`
	Helper  *Helper         `json:"helper,omitempty" doc:"where a helper would bring the finish forward most"`
	Runs    int             `json:"runs" doc:"washes simulated"`
}

// DwellRisk is the chance that one dwell overruns.
type DwellRisk struct {
	From   string  `json:"from"`
	To     string  `json:"to"`
	Title  string  `json:"title"`
	Chance float64 `json:"chance"`
}

// Helper is a step that a second pair of hands would halve.
type Helper struct {
	Step  string          `json:"step"`
	Title string          `json:"title"`
	Saves measure.Seconds `json:"saves" doc:"s that four of five washes are done sooner"`
}

// Foretell simulates the timeline with lengths that vary: everybody keeps to the order of the plan and goes on when
// he can, product is rinsed no sooner than it may. Lengths are lognormal (model), by the spread given for the
// activity: a part of their own, and a part that all of one person's work shares. Same seed, same promise.
func Foretell(p Problem, t Timeline, spread func(Work, string) Spread, runs int, seed int64) Promise {
	s := newSimulation(p, t, spread)
	finish, over, any := s.run(runs, seed, "")
	pr := Promise{
		P50:     at(finish, 0.5),
		P80:     at(finish, 0.8),
		P95:     at(finish, 0.95),
		Overrun: any,
		Dwells:  s.risks(over),
		Runs:    runs,
	}
	plain, _, _ := s.run(runs/4, seed, "")
	for _, step := range s.steps() {
		helped, _, _ := s.run(runs/4, seed, step.Step)
		if saves := at(plain, 0.8) - at(helped, 0.8); saves > 0 && (pr.Helper == nil || saves > pr.Helper.Saves) {
			pr.Helper = &Helper{step.Step, step.called(), saves}
		}
	}
	return pr
}

// Chances are the chances that the dwells of a timeline overrun, the riskiest first, simulated as Foretell does.
func Chances(p Problem, t Timeline, spread func(Work, string) Spread, runs int, seed int64) []DwellRisk {
	s := newSimulation(p, t, spread)
	_, over, _ := s.run(runs, seed, "")
	return s.risks(over)
}

func (s *simulation) risks(over []float64) []DwellRisk {
	risks := []DwellRisk{}
	for k, d := range s.dwells {
		risks = append(risks, DwellRisk{s.work[d.from].ID, s.work[d.to].ID, s.work[d.from].called(), over[k]})
	}
	slices.SortStableFunc(risks, func(a, b DwellRisk) int { return cmp.Compare(b.Chance, a.Chance) })
	return risks
}

// whole is the title of the step that an activity is part of.
func (w Work) whole() string { return cmp.Or(w.Whole, w.called()) }

func (w Work) called() string {
	if w.Title != "" {
		return w.Title
	}
	return w.ID
}

// at is a quantile of sorted whole seconds, the next one up.
func at(sorted []float64, q float64) measure.Seconds {
	if len(sorted) == 0 {
		return 0
	}
	k := min(len(sorted)-1, int(math.Ceil(q*float64(len(sorted))))-1)
	return measure.Seconds(math.Ceil(sorted[max(k, 0)]))
}

// simulation is a timeline as an order to keep: what each activity waits for, in the order of the planned starts.
type simulation struct {
	work   []Work
	slots  []Slot
	mean   []float64
	spread []Spread
	waits  [][]wait
	idle   []float64 // put off on purpose, s
	floor  []float64 // not before, s
	dwells []held
	who    []int // person of each activity, by number; what runs by itself has one of its own
	people int
	past   []*History // of each person, by number
	within []float64  // variance of the logarithm of a person's whole work that comes from single activities, of those with a history
}

type wait struct {
	on  int
	lag float64
}

func newSimulation(p Problem, t Timeline, spread func(Work, string) Spread) *simulation {
	s := &simulation{}
	work, index := map[string]Work{}, map[string]int{}
	for _, w := range p.Work {
		work[w.ID] = w
	}
	order := slices.Clone(t.Slots)
	slices.SortStableFunc(order, func(a, b Slot) int {
		if a.Start != b.Start {
			return int(a.Start - b.Start)
		}
		return int(a.End - b.End)
	})
	arrives := map[string]measure.Seconds{}
	for _, j := range p.Jobs {
		arrives[j.ID] = j.Arrives
	}
	for k, slot := range order {
		w := work[slot.ID]
		index[slot.ID] = k
		s.work, s.slots, s.mean = append(s.work, w), append(s.slots, slot), append(s.mean, float64(slot.End-slot.Start))
		s.spread = append(s.spread, spread(w, slot.Who))
		floor := float64(max(w.NotBefore, arrives[w.Job]))
		if w.Pinned != nil {
			floor = float64(slot.Start)
		}
		s.floor = append(s.floor, floor)
	}
	s.count(p)
	s.settle()
	s.waits, s.idle = make([][]wait, len(order)), make([]float64, len(order))
	for _, l := range p.Lags {
		from, to := index[l.From], index[l.To]
		s.waits[to] = append(s.waits[to], wait{from, float64(l.Min)})
		if l.Max != nil {
			late := *l.Max
			if l.Limit != nil {
				late = *l.Limit
			}
			s.dwells = append(s.dwells, held{from, to, int32(late), l.Cover})
		}
	}
	s.follow()
	for k := range order {
		s.idle[k] = math.Max(
			0,
			float64(s.slots[k].Start)-s.begins(k, func(i int) float64 { return float64(s.slots[i].End) }),
		)
	}
	return s
}

// count gives the people numbers.
func (s *simulation) count(p Problem) {
	numbers, pasts := map[string]int{}, map[string]*History{}
	for _, person := range p.People {
		pasts[person.Key()] = person.History
	}
	for _, slot := range s.slots {
		if _, known := numbers[slot.Who]; !known {
			numbers[slot.Who] = len(numbers)
			s.past = append(s.past, pasts[slot.Who])
		}
		s.who = append(s.who, numbers[slot.Who])
	}
	s.people = len(numbers)
}

// settle makes the spreads of somebody with a history add up to it. Their whole washes varied by Sigma. Part of that
// is what single activities vary by themselves, which mostly averages out; the rest is the day that all of a wash
// shares. Counting both in full would count what varies within a wash twice.
func (s *simulation) settle() {
	s.within = make([]float64, s.people)
	for person, past := range s.past {
		if past == nil || past.Washes < 2 {
			continue
		}
		within, whole := 0.0, 0.0
		for k, who := range s.who {
			if who == person {
				within += s.mean[k] * s.mean[k] * math.Log(1+s.spread[k].CV*s.spread[k].CV)
				whole += s.mean[k]
			}
		}
		if whole == 0 {
			continue
		}
		within /= whole * whole
		all := past.Sigma * past.Sigma
		scale := 1.0
		if within > all {
			scale = math.Sqrt(all / within)
		}
		day := math.Sqrt(math.Max(0, all-within))
		s.within[person] = scale * scale * within
		for k, who := range s.who {
			if who == person {
				s.spread[k].CV = cvOf(scale * math.Sqrt(math.Log(1+s.spread[k].CV*s.spread[k].CV)))
				s.spread[k].Day = cvOf(day)
			}
		}
	}
}

// cvOf is the coefficient of variation of a lognormal whose logarithm has a standard deviation.
func cvOf(sigma float64) float64 { return math.Sqrt(math.Exp(sigma*sigma) - 1) }

// unsure is how much more the next wash may vary than the washes that its history is of: a few washes leave open both
// how long somebody takes in the mean and how much that varies. It makes the logarithm of the next wash over plan
// Student's t, with one degree of freedom less than there were washes: a predictive distribution, of the next wash,
// not a quantile of the past ones (Hahn and Meeker, Statistical Intervals, from memory).
func (h *History) unsure(rng *rand.Rand) float64 {
	if h == nil || h.Washes < 2 {
		return 1
	}
	freedom := h.Washes - 1
	squares := 0.0
	for range freedom {
		z := rng.NormFloat64()
		squares += z * z
	}
	return math.Sqrt(float64(freedom) / squares * (1 + 1/float64(h.Washes)))
}

// follow lets each activity wait for what its person and machines do before it on the timeline.
func (s *simulation) follow() {
	last := map[string]int{}
	for k, slot := range s.slots {
		if slot.Who != "" {
			if before, ok := last[slot.Who]; ok {
				s.waits[k] = append(s.waits[k], wait{before, float64(ChangeOver(s.work[before], s.work[k]))})
			}
			last[slot.Who] = k
		}
		for _, m := range slot.Machines {
			if before, ok := last["machine "+m]; ok {
				s.waits[k] = append(s.waits[k], wait{before, 0})
			}
			last["machine "+m] = k
		}
	}
}

// begins is the earliest start of an activity, given when the others end.
func (s *simulation) begins(k int, end func(int) float64) float64 {
	t := s.floor[k]
	for _, w := range s.waits[k] {
		t = math.Max(t, end(w.on)+w.lag)
	}
	return t
}

// run gives the sorted finishes, how often each dwell overran, and how often any did. A helped step takes half its
// time.
func (s *simulation) run(runs int, seed int64, helped string) ([]float64, []float64, float64) {
	rng := rand.New(rand.NewSource(seed))
	finish, over, any := make([]float64, runs), make([]float64, len(s.dwells)), 0.0
	start, end := make([]float64, len(s.work)), make([]float64, len(s.work))
	days, more, shift := make([]float64, s.people), make([]float64, s.people), make([]float64, s.people)
	for r := range runs {
		for p := range days {
			more[p] = s.past[p].unsure(rng)
			days[p] = rng.NormFloat64() * more[p]
			// Activities keep their mean however far they are stretched; the middle of the whole work, which the
			// history knows, must stay, too.
			shift[p] = (more[p]*more[p] - 1) * s.within[p] / 2
		}
		for k := range s.work {
			length := s.mean[k]
			if s.work[k].Pinned == nil {
				length *= s.spread[k].draw(rng, more[s.who[k]]) * s.spread[k].today(days[s.who[k]], shift[s.who[k]])
			}
			if helped != "" && s.work[k].Step == helped && !s.work[k].Unattended {
				length /= 2
			}
			start[k] = s.begins(k, func(i int) float64 { return end[i] }) + s.idle[k]
			end[k] = start[k] + length
			finish[r] = math.Max(finish[r], end[k])
		}
		overran := 0.0
		for k, d := range s.dwells {
			if start[d.to]-end[d.from] > float64(d.max)+1e-9 {
				over[k] += 1 / float64(runs)
				overran = 1
			}
		}
		any += overran / float64(runs)
	}
	slices.Sort(finish)
	return finish, over, any
}

// draw is a lognormal factor with the spread's mean; more stretches how far it lies from there.
func (x Spread) draw(rng *rand.Rand, more float64) float64 {
	variance := math.Log(1+x.CV*x.CV) * more * more
	return x.Mean * math.Exp(rng.NormFloat64()*math.Sqrt(variance)-variance/2)
}

// today is the factor that a person's day puts on all they do, from a standard normal draw, its logarithm shifted;
// its mean is 1 without a shift.
func (x Spread) today(draw, shift float64) float64 {
	variance := math.Log(1 + x.Day*x.Day)
	return math.Exp(draw*math.Sqrt(variance) - variance/2 + shift)
}

// steps are the plan's steps that somebody works on, each by its first activity.
func (s *simulation) steps() []Work {
	var steps []Work
	for _, w := range s.work {
		if w.Step != "" && !w.Unattended && w.Pinned == nil &&
			!slices.ContainsFunc(steps, func(x Work) bool { return x.Step == w.Step }) {
			steps = append(steps, w)
		}
	}
	return steps
}
