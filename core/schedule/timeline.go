package schedule

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/measure"
)

// Slot is an activity on the timeline.
type Slot struct {
	ID       string          `json:"id"`
	Step     string          `json:"step,omitempty"`
	Title    string          `json:"title"`
	Job      string          `json:"job,omitempty"`
	Start    measure.Seconds `json:"start"`
	End      measure.Seconds `json:"end"`
	Who      string          `json:"who,omitempty" doc:"by id; absent when it runs by itself"`
	Machines []string        `json:"machines,omitempty" doc:"by id, with # and a number where there are several alike"`
	Slack    measure.Seconds `json:"slack" doc:"how much later it could start and nothing else would move"`
	Critical bool            `json:"critical" doc:"a minute longer here makes the whole a minute later"`
	Because  string          `json:"because" doc:"why not sooner, and what would let it start sooner"`
}

// Soak is a dwell on the timeline: product working.
type Soak struct {
	From     string          `json:"from" doc:"activity that put it on"`
	To       string          `json:"to" doc:"activity that takes it off"`
	Title    string          `json:"title"`
	Step     string          `json:"step,omitempty" doc:"the plan's step that put it on: all pieces of it are one thing on the car"`
	Whole    string          `json:"whole" doc:"that step's title"`
	Job      string          `json:"job,omitempty"`
	Start    measure.Seconds `json:"start" doc:"it is on"`
	Earliest measure.Seconds `json:"earliest" doc:"earliest rinse"`
	Latest   measure.Seconds `json:"latest" doc:"latest rinse: label or drying"`
	End      measure.Seconds `json:"end" doc:"rinse begins"`
	Fits     bool            `json:"fits"`
}

// Stay is a vehicle in a bay.
type Stay struct {
	Job   string          `json:"job"`
	Bay   string          `json:"bay" doc:"by id, with # and a number where there are several alike"`
	Start measure.Seconds `json:"start"`
	End   measure.Seconds `json:"end"`
}

// Timeline is work laid out.
type Timeline struct {
	Slots    []Slot          `json:"slots"`
	Soaks    []Soak          `json:"soaks"`
	Stays    []Stay          `json:"stays,omitempty"`
	Finish   measure.Seconds `json:"finish"`
	Risks    int             `json:"risks" doc:"dwells planned with little to spare"`
	Walk     measure.Seconds `json:"walk" doc:"walking and changing tools, all people together"`
	Feasible bool            `json:"feasible" doc:"every dwell is kept"`
	Why      []string        `json:"why,omitempty" doc:"why not, in words"`
	Proven   bool            `json:"proven" doc:"nothing quicker is possible, or when not feasible, nothing at all"`
	Bound    measure.Seconds `json:"bound" doc:"no timeline can finish before this"`
	Gap      float64         `json:"gap" doc:"share by which the finish, or in a day the weighed finishes, may at most be better"`
	Tries    int             `json:"tries" doc:"timelines tried"`
	// Names are for people: everything above goes by ids.
	Names map[string]string `json:"names,omitempty" doc:"of people and machines, by id"`
}

// Weighed adds up when the vehicles of a day are done, and how late, as the search does, s: of two timelines of one problem the
// lesser is the better one.
func (t Timeline) Weighed(p Problem) int64 {
	sum := int64(0)
	for _, job := range p.Jobs {
		end := int64(0)
		for _, s := range t.Slots {
			if s.Job == job.ID {
				end = max(end, int64(s.End))
			}
		}
		sum += end
		if late := end - int64(job.Promised); job.Promised > 0 && late > 0 {
			sum += lateWeighs * int64(max(job.Weight, 1)) * late
		}
	}
	return sum
}

// Beats reports whether a timeline of a problem is better than another of the same: it keeps every dwell where the other does not, or
// it weighs less.
func (t Timeline) Beats(other Timeline, p Problem) bool {
	if t.Feasible != other.Feasible {
		return t.Feasible
	}
	return t.Weighed(p) < other.Weighed(p)
}

// Keeps reports whether a vehicle is laid out and all of its dwells are kept, whatever becomes of others.
func (t Timeline) Keeps(job string) bool {
	if slices.ContainsFunc(t.Soaks, func(s Soak) bool { return s.Job == job && !s.Fits }) {
		return false
	}
	return slices.ContainsFunc(t.Slots, func(s Slot) bool { return s.Job == job })
}

// Breaks are the vehicles whose dwells were kept by another timeline and are not by this one.
func (t Timeline) Breaks(before Timeline) []string {
	var broken []string
	for _, s := range t.Soaks {
		if !s.Fits && before.Keeps(s.Job) && !slices.Contains(broken, s.Job) {
			broken = append(broken, s.Job)
		}
	}
	return broken
}

// Solve lays out the work: the earliest finish first, then the fewest dwells with little to spare, then the least
// walking; with promised times, the least weighed lateness and the earliest finishes. The error names what is wrong
// with the problem; work that cannot be done gives a timeline that is not feasible and says why.
func Solve(p Problem, o Options) (Timeline, error) {
	if err := p.Check(); err != nil {
		return Timeline{}, err
	}
	t := layOut(p, o)
	if !t.Feasible && len(t.Slots) > 0 {
		if help := advice(p, o); help != "" {
			t.Why = append(t.Why, help)
		}
	}
	return t, nil
}

// layOut solves a problem that is checked. There are no slots where a skill is missing.
func layOut(p Problem, o Options) Timeline {
	m := build(&p)
	if why := m.missing(); len(why) > 0 {
		return Timeline{Slots: []Slot{}, Soaks: []Soak{}, Why: why, Proven: true}
	}
	v := newSolver(m, o)
	v.run()
	return v.timeline()
}

// missing names the skills that nobody here has, with the first activity that asks for each.
func (m *model) missing() []string {
	var why, named []string
	for i := range m.n {
		w := m.p.Work[i]
		if w.Unattended || m.nodes[i].hands != 0 {
			continue
		}
		need := w.Skill
		if w.Together != "" {
			need = m.skillsOf(w.Together)
		}
		if !slices.Contains(named, need) {
			named = append(named, need)
			why = append(
				why,
				fmt.Sprintf("%s needs somebody signed off for %s, and nobody here is: add one.", m.called(i), need),
			)
		}
	}
	return why
}

// skillsOf are the skills that a group of activities asks of one person.
func (m *model) skillsOf(group string) string {
	var skills []string
	for _, w := range m.p.Work {
		if w.Together == group && w.Skill != "" && !slices.Contains(skills, w.Skill) {
			skills = append(skills, w.Skill)
		}
	}
	return strings.Join(skills, " and ")
}

func (m *model) called(i int) string {
	if w := m.p.Work[i]; w.Title != "" {
		return w.Title
	}
	return m.p.Work[i].ID
}

// solver lets search and prover work in turns: the search finds good timelines quickly, the prover shows that nothing
// better is possible, or finds it.
type solver struct {
	*search
	o       Options
	pr      *prover
	bound   int64
	proven  bool
	proving int // effort that went into proofs
	old     score
	oldList []int16
	oldWant []int16
	oldFill filling
}

func newSolver(m *model, o Options) *solver {
	if o.Effort == 0 {
		o.Effort = DefaultEffort
	}
	v := &solver{search: newSearch(m, o.Seed), o: o}
	begun := slices.ContainsFunc(m.p.Work, func(w Work) bool { return w.Pinned != nil })
	if !v.promised && !begun && len(m.nodes) <= mostProved {
		v.pr = newProver(m, o.Stop)
	}
	return v
}

func (v *solver) stopped() bool { return v.o.Stop != nil && v.o.Stop() }

// spent is the effort so far, in nodes laid down.
func (v *solver) spent() int { return v.tries*len(v.m.nodes) + v.proving }

// starts is how many times the search begins afresh with half its effort before it goes on from the best with the
// rest: what it finds first depends on where it began, the more so the more vehicles there are (measured).
const (
	starts        = 4
	worthStarting = 400 // tries
)

// afresh anneals from a new list and keeps what it finds if it is the best.
func (v *solver) afresh(tries int, enough func(score) bool) {
	best, list, want, fill := v.best, v.bestList, v.bestWant, v.bestFill
	v.best = score{late: math.MaxInt64}
	v.begin(4)
	v.beginNear()
	v.improve(tries, enough, v.o.Stop)
	if best.less(v.best) {
		v.best, v.bestList, v.bestWant, v.bestFill = best, list, want, fill
	}
}

func (v *solver) run() {
	if !v.firstBound() {
		v.proven = true
		v.begin(2)
		return
	}
	tries := v.o.Effort / len(v.m.nodes)
	if v.promised && len(v.m.p.Jobs) > 1 && v.o.Near == nil {
		v.alone(tries/10, v.o.Stop)
	}
	v.begin(max(1, min(8, tries/60)))
	v.beginNear()
	enough := func(best score) bool { return best.late == 0 && best.main <= v.bound }
	v.prove((v.o.Effort - v.spent()) / 16)
	for range starts {
		if v.stopped() || v.proven || enough(v.best) || tries < worthStarting {
			break
		}
		v.afresh(tries/starts/2, enough)
	}
	v.prove((v.o.Effort - v.spent()) / 4)
	v.proven = v.proven || enough(v.best)
	v.improve((v.o.Effort-v.spent())/len(v.m.nodes), v.tidy(enough), v.o.Stop)
	v.proven = v.proven || enough(v.best)
	v.stayNear()
}

// beginNear tries the timeline to stay near.
func (v *solver) beginNear() {
	if v.o.Near == nil {
		return
	}
	v.near(v.o.Near)
	v.old = v.tryAll()
	v.oldList, v.oldWant = slices.Clone(v.list), slices.Clone(v.want)
	for _, f := range []filling{fillAll, fillMachines, fillNone} {
		if v.tryWith(f) == v.old {
			v.oldFill = f
		}
	}
}

// stayNear goes back to it unless something was gained that is worth the shuffling.
func (v *solver) stayNear() {
	if v.o.Near != nil && v.old.late <= v.best.late && v.old.main < v.best.main+int64(StableGain) {
		v.best, v.bestList, v.bestWant, v.bestFill = v.old, v.oldList, v.oldWant, v.oldFill
	}
}

// tidy lets a search go on for the lesser aims for a while once the finish cannot get better.
func (v *solver) tidy(enough func(score) bool) func(score) bool {
	most := v.tries + v.o.Effort/20/len(v.m.nodes)
	return func(best score) bool { return (v.proven || enough(best)) && v.tries > most }
}

// firstBound is what is clear before any search; false when nothing at all is possible.
func (v *solver) firstBound() bool {
	for _, i := range v.m.first {
		v.bound = max(v.bound, int64(v.m.nodes[i].release+v.m.nodes[i].tail))
	}
	if v.promised {
		v.bound = v.apart()
	}
	if v.pr == nil {
		return true
	}
	low, ok := v.pr.bound()
	v.proving += v.pr.spent
	v.bound = max(v.bound, int64(low))
	return ok
}

// apart adds up when each vehicle would be done, and how late, if it had everything to itself.
func (v *solver) apart() int64 {
	ends := make([]int64, len(v.m.p.Jobs))
	for i := range v.m.n {
		if j := v.m.nodes[i].job; j >= 0 {
			ends[j] = max(ends[j], int64(v.m.nodes[i].release+v.m.nodes[i].tail))
		}
	}
	sum := int64(0)
	for j, job := range v.m.p.Jobs {
		sum += ends[j]
		if late := ends[j] - int64(job.Promised); job.Promised > 0 && late > 0 {
			sum += lateWeighs * int64(max(job.Weight, 1)) * late
		}
	}
	return sum
}

// prove asks for a timeline quicker than the best, or for any while none keeps all dwells.
func (v *solver) prove(most int) {
	if v.pr == nil || v.proven {
		return
	}
	if v.best.late > 0 {
		if v.knot() {
			v.proven = true
			return
		}
		switch v.ask(int64(v.m.limit), most*4) {
		case impossible:
			v.proven = true
		case possible:
			v.adopt()
		}
		return
	}
	for v.best.main > v.bound {
		switch v.ask(v.best.main-1, most) {
		case impossible:
			v.bound, v.proven = v.best.main, true
			return
		case possible:
			before := v.best
			if v.adopt(); !v.best.less(before) {
				return
			}
		case undecided:
			v.lift(most)
			return
		}
	}
}

// knot looks for a few activities, tied together by dwells, that cannot be done together even if they had the shop to
// themselves: what is impossible for them is impossible for all. Whenever they begin is the same to them, so that
// their windows are narrow and the proof short.
func (v *solver) knot() bool {
	for _, ids := range v.m.knots() {
		p := v.m.p.partOf(ids)
		if p.Check() != nil {
			continue
		}
		pr := newProver(build(&p), v.o.Stop)
		found := pr.prove(pr.m.limit, v.o.Effort/8)
		v.proving += pr.spent
		if found == impossible {
			return true
		}
	}
	return false
}

// knots are the groups of activities that dwells tie together, with those that lie between.
func (m *model) knots() [][]int {
	n := len(m.nodes)
	ahead := m.closure()
	knot := make([]int, m.n)
	for i := range knot {
		knot[i] = i
	}
	join := func(a, b int) {
		from, to := knot[a], knot[b]
		for i := range knot {
			if knot[i] == from {
				knot[i] = to
			}
		}
	}
	for k := range m.n {
		for _, h := range m.nodes[k].held {
			join(h.from, k)
			for i := range m.n {
				if ahead[h.from*n+i] && ahead[i*n+k] {
					join(i, k)
				}
			}
		}
	}
	var knots [][]int
	for root := range knot {
		var mine []int
		for i, k := range knot {
			if k == root {
				mine = append(mine, i)
			}
		}
		if len(mine) > 1 {
			knots = append(knots, mine)
		}
	}
	return knots
}

// partOf is the problem of some of its activities, with nothing else to do and the whole day before them.
func (p Problem) partOf(work []int) Problem {
	part := Problem{People: slices.Clone(p.People), Machines: slices.Clone(p.Machines)}
	for i := range part.People {
		part.People[i].Shut = nil
	}
	for i := range part.Machines {
		part.Machines[i].Shut = nil
	}
	kept := map[string]bool{}
	for _, i := range work {
		w := p.Work[i]
		w.NotBefore, w.Pinned = 0, nil
		if !slices.ContainsFunc(part.Jobs, func(j Job) bool { return j.ID == w.Job }) && w.Job != "" {
			part.Jobs = append(part.Jobs, Job{ID: w.Job})
		}
		part.Work, kept[w.ID] = append(part.Work, w), true
	}
	for _, l := range p.Lags {
		if kept[l.From] && kept[l.To] {
			part.Lags = append(part.Lags, l)
		}
	}
	return part
}

// ask lets the prover look for a timeline that ends by a time.
func (v *solver) ask(finish int64, most int) verdict {
	found := v.pr.prove(int32(finish), most)
	v.proving += v.pr.spent
	return found
}

// lift raises the bound by refuting finishes between it and the best.
func (v *solver) lift(most int) {
	low, high := v.bound, v.best.main-1
	for range 4 {
		if high <= low || v.stopped() {
			return
		}
		mid := low + (high-low)/2
		if v.ask(mid, most/4) != impossible {
			high = mid
			continue
		}
		low = mid + 1
		v.bound = low
	}
}

// adopt takes over what the prover found: its nodes in the order of their starts, in the same hands.
func (v *solver) adopt() {
	w := v.pr.found
	v.written()
	slices.SortStableFunc(v.list, func(a, b int16) int { return int(w.est[a] - w.est[b]) })
	for i := range v.want {
		v.want[i] = -1
		if h := w.hands[i]; h != 0 {
			for u := range v.m.people {
				if h == 1<<u {
					v.want[i] = int16(u)
				}
			}
		}
	}
	v.tryAll()
}

// timeline words the best layout.
func (v *solver) timeline() Timeline {
	v.l.fill = v.bestFill
	if v.best.late > 0 {
		return v.impossible()
	}
	v.l.lay(v.bestList, v.bestWant)
	v.l.putOnLate()
	w := words{v.l}
	t := v.show(w)
	t.Feasible, t.Risks = true, int(v.score().risks)
	t.Bound = min(measure.Seconds(v.bound), t.Finish)
	if v.promised {
		t.Bound = 0
	}
	if v.best.main > 0 {
		t.Gap = math.Max(0, float64(v.best.main-v.bound)/float64(v.best.main))
	}
	return t
}

func (v *solver) show(w words) Timeline {
	t := Timeline{Slots: w.slots(), Soaks: w.soaks(), Stays: w.stays(), Walk: measure.Seconds(v.l.walk),
		Proven: v.proven, Tries: v.tries, Names: w.names()}
	for _, s := range t.Slots {
		t.Finish = max(t.Finish, s.End)
	}
	return t
}

// impossible shows the work as it was written, with what dries where it dries.
func (v *solver) impossible() Timeline {
	v.written()
	v.l.lay(v.list, v.want)
	inVain := slices.Clone(v.l.pending)
	v.l.soft = true
	v.l.lay(v.list, v.want)
	v.l.soft = false
	w := words{v.l}
	t := v.show(w)
	t.Why = w.why(v.proven, inVain)
	return t
}

// putOnLate puts product on as late as nothing else has to wait for it: it works shorter, and is further from drying.
func (l *layout) putOnLate() {
	byStart := make([]int, len(l.m.nodes))
	for i := range byStart {
		byStart[i] = i
	}
	slices.SortFunc(byStart, func(a, b int) int { return int(l.start[b] - l.start[a]) })
	for _, k := range byStart {
		for _, h := range l.m.nodes[k].held {
			if l.m.nodes[h.from].pinned != nil {
				continue
			}
			if room := l.roomAfter(h.from); room > 0 {
				l.delay(h.from, room)
			}
		}
	}
}

// delay starts a node later by up to some seconds, where its people and machines are there.
func (l *layout) delay(i int, room int32) {
	t := l.start[i] + room
	for {
		was := t
		if l.hand[i] >= 0 {
			t = l.m.freeBefore(int(l.hand[i]), t, l.dur[i])
		}
		for _, u := range l.kit[i] {
			t = l.m.freeBefore(int(u), t, l.dur[i])
		}
		if j := l.m.nodes[i].job; j >= 0 && l.bay[j] >= 0 {
			t = l.m.freeBefore(int(l.bay[j]), t, l.dur[i])
		}
		if t == was {
			break
		}
	}
	l.start[i] = max(l.start[i], t)
}

// roomAfter is how much later a node could start with everything else where it is.
func (l *layout) roomAfter(i int) int32 {
	m := l.m
	end, room := l.start[i]+l.dur[i], int32(math.MaxInt32)
	for _, a := range m.nodes[i].succ {
		room = min(room, l.start[a.to]-a.lag-end)
	}
	for _, j := range l.after[i] {
		walk := int32(0)
		if l.hand[i] >= 0 && l.hand[i] == l.hand[j] {
			walk = m.change(i, int(j))
		}
		room = min(room, l.start[j]-walk-end)
	}
	for _, h := range m.nodes[i].held {
		room = min(room, l.start[h.from]+l.dur[h.from]+h.max-l.start[i])
	}
	if room == math.MaxInt32 {
		return 0
	}
	return room
}
