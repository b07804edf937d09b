package schedule

import (
	"cmp"
	"math"
	"math/bits"
	"math/rand"
	"slices"

	"uskel/core/measure"
)

// Options steer a search. The same problem, seed and effort give the same timeline, unless Stop ends it early.
type Options struct {
	Seed   int64
	Effort int         // how much is tried, in activities laid down; 0 for DefaultEffort
	Stop   func() bool // asked now and then; the best so far is returned when it says so
	Near   *Timeline   // to begin from, of this problem or nearly; another must beat it by StableGain
}

const (
	// DefaultEffort is what a wash needs to come within a percent of the optimum (measured: ./run bench).
	DefaultEffort = 600_000
	// StableGain is what a new timeline must gain before people are shuffled about in a running wash (model).
	StableGain = 60 * measure.Second
)

// score puts timelines in order, the smallest first: dwells that overrun, the finish (in a day with promises:
// lateness and finishes), dwells with little to spare, walking.
type score struct {
	late, main int64
	risks      int32
	walk       int32 // and what going astray from the written order is worth
}

// straying is how many seconds' walk it is worth to keep to the order in which the work was written, where that costs
// no time (model).
const straying = 10

func (a score) less(b score) bool {
	switch {
	case a.late != b.late:
		return a.late < b.late
	case a.main != b.main:
		return a.main < b.main
	case a.risks != b.risks:
		return a.risks < b.risks
	}
	return a.walk < b.walk
}

// scalar lets scores be traded while searching.
func (a score) scalar() float64 {
	return float64(a.late)*50 + float64(a.main) + float64(a.risks)*0.5 + float64(a.walk)*0.005
}

// lateWeighs is how many seconds of other vehicles' finishes a second after a promise weighs (model).
const lateWeighs = 20

// due is product that must come off by a time, and what that takes.
type due struct{ by, takes int32 }

// search is an anytime search over lists: the layout of a list is the earliest for that order, so that the best list
// gives the best timeline.
type search struct {
	m        *model
	l        *layout
	rng      *rand.Rand
	promised bool
	best     score
	bestList []int16
	bestWant []int16
	bestFill filling
	list     []int16
	want     []int16
	pos      []int16
	first    []int // the order of the problem itself, or of each vehicle by itself
	tries    int
	tightest [][2]int // on the chain of work that decides the finish: who waits for hands or machines, after whom
	seen     []bool
	ahead    []bool // by two nodes, whether the first comes before the second by the lags alone
	wet      []held // dwells that have begun, while a list is made
	due      []due
	was      []int16 // the part of the list that the last move changed
}

func newSearch(m *model, seed int64) *search {
	s := &search{
		m:     m,
		l:     newLayout(m),
		rng:   rand.New(rand.NewSource(seed)),
		best:  score{late: math.MaxInt64},
		pos:   make([]int16, len(m.nodes)),
		seen:  make([]bool, len(m.nodes)),
		ahead: m.closure(),
		first: m.first,
	}
	s.promised = slices.ContainsFunc(m.p.Jobs, func(j Job) bool { return j.Promised > 0 })
	s.list, s.want = make([]int16, len(m.nodes)), make([]int16, len(m.nodes))
	return s
}

// score measures the layout.
func (s *search) score() score {
	m, l := s.m, s.l
	sc := score{late: int64(l.late), walk: l.walk + straying*l.astray}
	for k := range m.nodes {
		end := int64(l.start[k] + l.dur[k])
		if over := end - int64(m.limit); over > 0 {
			sc.late += over
		}
		if !s.promised {
			sc.main = max(sc.main, end)
		}
		for _, h := range m.nodes[k].held {
			if spare := l.start[h.from] + l.dur[h.from] + h.max - l.start[k]; spare < tight(h.max) {
				sc.risks++
			}
		}
	}
	if s.promised {
		sc.main = s.weighed()
	}
	return sc
}

// tight is how little of a dwell left makes it a risk, s (model).
func tight(longest int32) int32 { return min(30, longest/10) }

// weighed adds up when vehicles are done, and how late.
func (s *search) weighed() int64 {
	finish := make([]int64, len(s.m.p.Jobs))
	for i := range s.m.n {
		if j := s.m.nodes[i].job; j >= 0 {
			finish[j] = max(finish[j], int64(s.l.start[i]+s.l.dur[i]))
		}
	}
	sum := int64(0)
	for j, job := range s.m.p.Jobs {
		sum += finish[j]
		if late := finish[j] - int64(job.Promised); job.Promised > 0 && late > 0 {
			sum += lateWeighs * int64(max(job.Weight, 1)) * late
		}
	}
	return sum
}

// try lays the list and keeps it when it is the best.
func (s *search) try() score {
	s.l.lay(s.list, s.want)
	s.tries++
	sc := s.score()
	if sc.less(s.best) {
		s.best, s.bestList, s.bestWant, s.bestFill = sc, slices.Clone(s.list), slices.Clone(s.want), s.l.fill
	}
	return sc
}

// tryAll lays the list in every way of filling gaps.
func (s *search) tryAll() score {
	best := s.tryWith(fillNone)
	for _, f := range []filling{fillMachines, fillAll} {
		if sc := s.tryWith(f); sc.less(best) {
			best = sc
		}
	}
	return best
}

func (s *search) tryWith(f filling) score {
	s.l.fill = f
	return s.try()
}

// dispatch makes a list the way a foreman does: of what can be begun, the earliest, and of those the one with most to
// follow; but product that must come off goes before anything that would keep its hands busy too long. Noise from 0
// up mixes the choice.
func (s *search) dispatch(noise float64) {
	m, l := s.m, s.l
	l.begin()
	s.list, s.wet = s.list[:0], s.wet[:0]
	for i := range s.want {
		s.want[i] = -1
	}
	boost := make([]float64, len(m.nodes))
	for i := range boost {
		boost[i] = float64(m.nodes[i].tail) * (1 + noise*(s.rng.Float64()-0.5))
		if j := m.nodes[i].job; j >= 0 && m.p.Jobs[j].Promised > 0 {
			boost[i] = 1e6 - float64(m.p.Jobs[j].Promised)*(1+noise*0.3*(s.rng.Float64()-0.5)) + boost[i]
		}
	}
	open := make([]int, 0, len(m.nodes))
	for i := range m.nodes {
		if l.placed[i] {
			s.list = append(s.list, int16(i))
			s.wet = append(s.wet, m.nodes[i].holds...)
		} else if s.unlocked(i) {
			open = append(open, i)
		}
	}
	for len(open) > 0 {
		at := s.choose(open, boost, noise)
		if at < 0 {
			break
		}
		i := open[at]
		open = slices.Delete(open, at, at+1)
		t, hand := l.earliest(i, -1)
		l.commit(i, t, hand)
		s.list = append(s.list, int16(i))
		s.wet = append(slices.DeleteFunc(s.wet, func(h held) bool { return h.to == i }), m.nodes[i].holds...)
		for _, a := range m.nodes[i].succ {
			if !slices.Contains(open, a.to) && !l.placed[a.to] && s.unlocked(a.to) {
				open = append(open, a.to)
			}
		}
	}
}

func (s *search) unlocked(i int) bool {
	for _, a := range s.m.nodes[i].pred {
		if !s.l.placed[a.to] {
			return false
		}
	}
	return true
}

// choose picks the next of the open nodes; -1 when none can go. What would let some product dry is passed over for
// the taking-off that is most urgent, or for something else.
func (s *search) choose(open []int, boost []float64, noise float64) int {
	m, l := s.m, s.l
	best, bestAt, crowded := -1, int32(0), true
	urgent, urgentBy := -1, int32(math.MaxInt32)
	for k, i := range open {
		if !l.ready(i) {
			continue
		}
		t, hand := l.earliest(i, -1)
		for _, h := range m.nodes[i].held {
			if by := l.start[h.from] + l.dur[h.from] + h.max; by < urgentBy {
				urgent, urgentBy = k, by
			}
		}
		crowds := hand >= 0 && s.crowds(i, t+m.nodes[i].durs[hand], hand)
		at := t + int32(noise*60*s.rng.Float64())
		if best < 0 || crowded && !crowds ||
			crowded == crowds && (at < bestAt || at == bestAt && boost[i] > boost[open[best]]) {
			best, bestAt, crowded = k, at, crowds
		}
	}
	if crowded && urgent >= 0 {
		return urgent
	}
	return best
}

// crowds reports whether doing a node until some time leaves its person too little to take off, in the order in which
// it dries, the product that only he can take off, with what the node itself puts on.
func (s *search) crowds(i int, end int32, hand int16) bool {
	m, l := s.m, s.l
	s.due = s.due[:0]
	mine := uint64(1) << hand
	add := func(h held, on int32) {
		if h.to != i && m.nodes[h.to].hands&mine != 0 && m.nodes[h.to].hands&^mine == 0 {
			s.due = append(s.due, due{on + h.max, m.nodes[h.to].durs[hand]})
		}
	}
	for _, h := range s.wet {
		add(h, l.start[h.from]+l.dur[h.from])
	}
	for _, h := range m.nodes[i].holds {
		add(h, end)
	}
	if len(s.due) < 2 && len(m.nodes[i].holds) == len(s.due) {
		return false
	}
	slices.SortFunc(s.due, func(a, b due) int { return int(a.by - b.by) })
	for _, d := range s.due {
		if end > d.by {
			return true
		}
		end += d.takes
	}
	return false
}

// sharesHands reports whether two nodes may want the same person or machine.
func (m *model) sharesHands(a, b int) bool {
	if bits.OnesCount64(m.nodes[a].hands&m.nodes[b].hands) > 0 {
		return true
	}
	for _, x := range m.nodes[a].machines {
		for _, y := range m.nodes[b].machines {
			if x == y {
				return true
			}
		}
	}
	return false
}

// written is the order of the problem itself, a lead's own.
func (s *search) written() {
	s.list = s.list[:0]
	for _, i := range s.first {
		s.list = append(s.list, int16(i))
	}
	for i := range s.want {
		s.want[i] = -1
	}
}

// alone finds how each vehicle is best washed if it has the shop to itself, and takes that for its written order:
// several vehicles share people and machines more easily when each is worked in an order that keeps its own dwells.
func (s *search) alone(effort int, stop func() bool) {
	place := make([]int, len(s.m.nodes))
	for j := range s.m.p.Jobs {
		var mine []int
		for i := range s.m.n {
			if s.m.nodes[i].job == j {
				mine = append(mine, i)
			}
		}
		if len(mine) == 0 {
			continue
		}
		p := s.m.p.partOf(mine)
		m := build(&p)
		v := &solver{search: newSearch(m, 1), o: Options{Effort: effort * len(mine), Stop: stop}}
		v.run()
		v.l.fill = v.bestFill
		v.l.lay(v.bestList, v.bestWant)
		for k, i := range mine {
			place[i] = int(v.l.start[k])
		}
	}
	for _, nodes := range s.m.job {
		if nodes.in >= 0 {
			place[nodes.in], place[nodes.out] = -1, math.MaxInt32
		}
	}
	s.first = slices.Clone(s.m.first)
	slices.SortStableFunc(s.first, func(a, b int) int { return place[a] - place[b] })
}

// byVehicle makes a list vehicle by vehicle, the one that must be begun first first: everybody sees one through
// before the next.
func (s *search) byVehicle(noise float64) {
	jobs := s.m.p.Jobs
	must := make([]float64, len(jobs)+1)
	tails := s.tails()
	for j, job := range jobs {
		must[j] = float64(job.Arrives)
		if job.Promised > 0 {
			must[j] = max(must[j], float64(job.Promised-tails[j]))
		}
		must[j] += noise * 3600 * (s.rng.Float64() - 0.5)
	}
	must[len(jobs)] = -1 // what belongs to no vehicle
	at := func(i int16) float64 {
		if j := s.m.nodes[i].job; j >= 0 {
			return must[j]
		}
		return must[len(jobs)]
	}
	s.written()
	slices.SortStableFunc(s.list, func(a, b int16) int { return cmp.Compare(at(a), at(b)) })
}

// near makes the list of a timeline: what it has in its order and hands, the rest where the problem has it.
func (s *search) near(t *Timeline) {
	s.written()
	start, hand := map[string]measure.Seconds{}, map[string]string{}
	for _, slot := range t.Slots {
		start[slot.ID], hand[slot.ID] = slot.Start, slot.Who
	}
	at := make([]measure.Seconds, len(s.m.nodes))
	last := measure.Seconds(0)
	for _, i := range s.m.first {
		if int(i) < s.m.n {
			id := s.m.p.Work[i].ID
			if known, ok := start[id]; ok {
				last = known
			}
			s.want[i] = int16(slices.IndexFunc(s.m.p.People, func(p Person) bool { return p.Key() == hand[id] }))
		}
		at[i] = last
	}
	for _, nodes := range s.m.job {
		if nodes.in < 0 {
			continue
		}
		first, end := measure.Seconds(math.MaxInt32), measure.Seconds(0)
		for i := range s.m.n {
			if s.m.job[max(s.m.nodes[i].job, 0)].in == nodes.in && s.m.nodes[i].job >= 0 {
				first, end = min(first, at[i]), max(end, at[i])
			}
		}
		at[nodes.in], at[nodes.out] = first, end
	}
	for k := len(s.m.first) - 1; k >= 0; k-- { // nothing after what waits for it
		i := s.m.first[k]
		for _, a := range s.m.nodes[i].succ {
			at[i] = min(at[i], at[a.to])
		}
	}
	slices.SortStableFunc(s.list, func(a, b int16) int { return int(at[a] - at[b]) })
}

// tails are how long each vehicle takes at the quickest.
func (s *search) tails() []measure.Seconds {
	tails := make([]measure.Seconds, len(s.m.p.Jobs))
	for i := range s.m.nodes {
		if j := s.m.nodes[i].job; j >= 0 {
			tails[j] = max(tails[j], measure.Seconds(s.m.nodes[i].tail))
		}
	}
	return tails
}

// begin tries the lists one would think of first.
func (s *search) begin(tries int) {
	s.written()
	s.tryAll()
	for k := range tries {
		if len(s.m.p.Jobs) > 1 {
			s.byVehicle(float64(k) * 0.1)
			s.tryAll()
		}
		s.l.fill = fillNone
		s.dispatch(float64(k) * 0.2)
		if len(s.list) == len(s.m.nodes) {
			s.tryAll()
		}
	}
}

// Annealing begins by taking timelines that are worse by some share of the finish and ends taking hardly any
// (measured on wash-shaped problems: colder starts get stuck where several vehicles share hands).
const (
	hottest = 0.03
	coldest = 0.002
)

// improve anneals: it moves activities about in the list and gives them to other hands, taking worse lists at first
// with a chance that falls until the tries are used up, or enough says that there is nothing more to gain.
func (s *search) improve(tries int, enough func(score) bool, stop func() bool) {
	if len(s.bestList) == 0 || tries <= 0 {
		return
	}
	s.list, s.want = slices.Clone(s.bestList), slices.Clone(s.bestWant)
	current := s.tryWith(s.bestFill)
	s.trace()
	hot := max(4, hottest*float64(current.main))
	for k := range tries {
		if k%64 == 0 && (stop != nil && stop() || enough(s.best)) {
			return
		}
		undo := s.move()
		if undo == nil {
			continue
		}
		next := s.try()
		heat := hot * math.Pow(coldest, float64(k)/float64(tries))
		if worse := next.scalar() - current.scalar(); worse <= 0 || s.rng.Float64() < math.Exp(-worse/heat) {
			current = next
			s.trace()
			continue
		}
		undo()
	}
}

// trace walks back from the end along what decides it, and notes where somebody waits for hands or a machine: only
// there can a change help.
func (s *search) trace() {
	s.tightest = s.tightest[:0]
	clear(s.seen)
	for at := s.lastOne(); at >= 0 && !s.seen[at]; {
		s.seen[at] = true
		at = s.holder(at)
	}
}

// lastOne is the node that ends last; with promises, that of some vehicle.
func (s *search) lastOne() int {
	job := -1
	if s.promised {
		job = s.rng.Intn(len(s.m.p.Jobs))
	}
	last := -1
	for i := range s.m.n {
		if job >= 0 && s.m.nodes[i].job != job {
			continue
		}
		if last < 0 || s.l.start[i]+s.l.dur[i] > s.l.start[last]+s.l.dur[last] {
			last = i
		}
	}
	return last
}

// holder is the node because of which a node does not start sooner; -1 for none.
func (s *search) holder(i int) int {
	m, l := s.m, s.l
	for _, j := range l.before[i] {
		walk := int32(0)
		if l.hand[i] >= 0 && l.hand[i] == l.hand[j] {
			walk = m.change(int(j), i)
		}
		if l.start[j]+l.dur[j]+walk == l.start[i] {
			if s.m.n > i && s.m.n > int(j) {
				s.tightest = append(s.tightest, [2]int{int(j), i})
			}
			return int(j)
		}
	}
	for _, a := range m.nodes[i].pred {
		if l.start[a.to]+l.dur[a.to]+a.lag == l.start[i] {
			return a.to
		}
	}
	for _, h := range m.nodes[i].holds {
		if l.start[h.to]-h.max-l.dur[i] == l.start[i] {
			return h.to
		}
	}
	return -1
}

// move changes the list a little and gives back how to undo it; nil when nothing could be moved. Most moves are made
// where somebody waits.
func (s *search) move() func() {
	for k, i := range s.list {
		s.pos[i] = int16(k)
	}
	if s.promised && s.rng.Intn(4) == 0 {
		return s.moveVehicle()
	}
	if len(s.tightest) > 0 && s.rng.Intn(3) > 0 {
		return s.moveTight(s.tightest[s.rng.Intn(len(s.tightest))])
	}
	if i := s.rng.Intn(len(s.list)); s.rng.Intn(5) == 0 && bits.OnesCount64(s.m.nodes[i].hands) > 1 {
		return s.handOver(i)
	}
	from := s.rng.Intn(len(s.list))
	reach := 3 + s.rng.Intn(12)
	return s.place(from, from-reach+s.rng.Intn(2*reach+1))
}

// moveVehicle puts all of one vehicle's work before that of another.
func (s *search) moveVehicle() func() {
	a, b := s.rng.Intn(len(s.m.p.Jobs)), s.rng.Intn(len(s.m.p.Jobs))
	if a == b || !slices.ContainsFunc(s.list, func(i int16) bool { return s.m.nodes[i].job == b }) {
		return nil
	}
	was := append(s.was[:0], s.list...)
	s.was = was
	mine := func(i int16) bool { return s.m.nodes[i].job == a }
	s.list = s.list[:0]
	moved := false
	for _, i := range was {
		if !moved && s.m.nodes[i].job == b {
			moved = true
			for _, k := range was {
				if mine(k) {
					s.list = append(s.list, k)
				}
			}
		}
		if !mine(i) {
			s.list = append(s.list, i)
		}
	}
	return func() { copy(s.list, s.was) }
}

// moveTight lets one of two activities that follow each other go round the other, or to somebody else.
func (s *search) moveTight(pair [2]int) func() {
	a, b := pair[0], pair[1]
	switch s.rng.Intn(4) {
	case 0:
		return s.place(int(s.pos[b]), int(s.pos[a])-s.rng.Intn(3))
	case 1:
		return s.place(int(s.pos[a]), int(s.pos[b])+s.rng.Intn(3))
	}
	i := pair[s.rng.Intn(2)]
	if bits.OnesCount64(s.m.nodes[i].hands) > 1 {
		return s.handOver(i)
	}
	return s.place(int(s.pos[b]), int(s.pos[a])-s.rng.Intn(8))
}

func (s *search) handOver(i int) func() {
	was := s.want[i]
	s.want[i] = int16(s.rng.Intn(s.m.people+1)) - 1
	return func() { s.want[i] = was }
}

// place moves what stands in the list at one place to another, and takes along what it waits for, or what waits for
// it, where that stands between.
func (s *search) place(from, to int) func() {
	to = max(0, min(len(s.list)-1, to))
	if to == from {
		return nil
	}
	low, high := min(from, to), max(from, to)
	part := s.list[low : high+1]
	was := append(s.was[:0], part...)
	s.was = was
	i, n := int(s.list[from]), len(s.m.nodes)
	goes := func(k int16) bool {
		if to < from {
			return int(k) == i || s.ahead[int(k)*n+i]
		}
		return int(k) != i && !s.ahead[i*n+int(k)]
	}
	at := 0
	for _, first := range []bool{true, false} {
		for _, k := range was {
			if goes(k) == first {
				part[at] = k
				at++
			}
		}
	}
	return func() { copy(s.list[low:], s.was) }
}
