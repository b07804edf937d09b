package schedule

import (
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
	"uskel/core/prove"
)

// beat is the grid of the problems that are tried exhaustively, s: everything in them, walks, changes of tool and of
// car too, is a multiple of it, so that the best timeline of all lies on it (between fixed choices of order only
// differences of starts count).
const beat = 4

// small makes a problem that can be tried exhaustively, with what the independent solver's problems do not have:
// hours, bays, tools, several machines alike, paces.
func small(seed int64) Problem {
	rng := rand.New(rand.NewSource(seed))
	beats := func(low, high int) measure.Seconds { return measure.Seconds(beat * (low + rng.Intn(high-low+1))) }
	p := Problem{
		People:   crew("Ada", "Bo")[:1+rng.Intn(2)],
		Machines: []Machine{{Name: "lance", Count: 1 + rng.Intn(2)}, {Name: "bay", Count: 1}},
	}
	if rng.Intn(3) == 0 {
		p.People[0].Pace = 200
	}
	if rng.Intn(3) == 0 {
		from := beats(1, 4)
		p.People[len(p.People)-1].Shut = []Span{{from, from + beats(1, 4)}}
	}
	if rng.Intn(4) == 0 {
		from := beats(2, 6)
		p.Machines[0].Shut = []Span{{from, from + beats(1, 3)}}
	}
	cars := 1 + rng.Intn(2)
	for c := range cars {
		j := Job{ID: string(rune('a' + c)), Arrives: measure.Seconds(c) * beats(0, 3)}
		if rng.Intn(2) == 0 {
			j.Bays = []string{"bay"}
		}
		p.Jobs = append(p.Jobs, j)
	}
	places := []Place{Around, FrontEnd, RearEnd, LeftSide, RightSide}
	for i := range 3 + rng.Intn(2) {
		w := Work{
			ID:      string(rune('p' + i)),
			Job:     p.Jobs[rng.Intn(cars)].ID,
			Seconds: beats(1, 4),
			At:      places[rng.Intn(len(places))],
			Tool:    []string{"", "mitt", "brush"}[rng.Intn(3)],
		}
		if rng.Intn(3) == 0 {
			w.Uses = []string{"lance"}
		}
		switch rng.Intn(8) {
		case 0:
			w.Only = []string{p.People[len(p.People)-1].Name}
		case 1:
			w.NotBefore = beats(1, 6)
		case 2:
			w.Unattended = true
		}
		p.Work = append(p.Work, w)
	}
	for to := 1; to < len(p.Work); to++ {
		from := rng.Intn(to)
		l := Lag{From: p.Work[from].ID, To: p.Work[to].ID, Min: beats(0, 2)}
		switch rng.Intn(5) {
		case 0, 1:
			l.Max = most(l.Min + beats(0, 4))
		case 2:
			continue
		}
		p.Lags = append(p.Lags, l)
	}
	if rng.Intn(5) == 0 {
		p.Horizon = beats(6, 16)
	}
	return p
}

// trial tries every start on the grid in every able pair of hands, until one timeline ends by the limit.
type trial struct {
	p     Problem
	at    []Slot
	limit measure.Seconds
	found bool
}

// canEnd tells whether the work can be done by a time, by trying everything; 0 for whenever.
func canEnd(p Problem, by measure.Seconds) bool {
	x := trial{p: p, limit: by}
	if by == 0 {
		for _, w := range p.Work {
			x.limit += 2*w.Seconds + nextCar + w.NotBefore
		}
		for _, l := range p.Lags {
			x.limit += l.Min
		}
		x.limit += 60 // the latest arrival and the longest absence
	}
	if p.Horizon > 0 {
		x.limit = min(x.limit, p.Horizon)
	}
	x.place(0)
	return x.found
}

func (x *trial) place(i int) {
	if i == len(x.p.Work) {
		x.found = x.wayToGo()
		return
	}
	w := x.p.Work[i]
	hands := []Person{{}}
	if !w.Unattended {
		hands = x.p.People
	}
	for start := measure.Seconds(0); start+w.Seconds <= x.limit; start += beat {
		for _, who := range hands {
			length := w.Seconds
			if who.Pace != 0 {
				length = w.Seconds * measure.Seconds(who.Pace) / 100
			}
			s := Slot{ID: w.ID, Who: who.Name, Start: start, End: start + length}
			if s.End > x.limit || !x.fits(i, s, who) {
				continue
			}
			x.at = append(x.at, s)
			if x.place(i + 1); x.found {
				return
			}
			x.at = x.at[:i]
		}
	}
}

// fits tells whether an activity may lie there, beside those that lie already.
func (x *trial) fits(i int, s Slot, who Person) bool {
	w := x.p.Work[i]
	over := func(a Slot, start, end measure.Seconds) bool { return a.Start < end && start < a.End }
	open := func(shut []Span) bool {
		return !slices.ContainsFunc(shut, func(h Span) bool { return over(s, h.Start, h.End) })
	}
	job := x.p.Jobs[slices.IndexFunc(x.p.Jobs, func(j Job) bool { return j.ID == w.Job })]
	if s.Start < w.NotBefore || s.Start < job.Arrives || !open(who.Shut) ||
		!w.Unattended && len(w.Only) > 0 && !slices.Contains(w.Only, who.Name) {
		return false
	}
	lances := 0
	for k, other := range x.at {
		o := x.p.Work[k]
		if !w.Unattended && other.Who == s.Who && over(other, s.Start, s.End) {
			return false
		}
		if len(o.Uses) > 0 && over(other, s.Start, s.End) {
			lances++
		}
	}
	if len(w.Uses) > 0 && (lances >= x.p.Machines[0].Count || !open(x.p.Machines[0].Shut)) {
		return false
	}
	for _, l := range x.p.Lags {
		if k := slices.IndexFunc(x.at, func(o Slot) bool { return o.ID == l.From }); l.To == w.ID && k >= 0 {
			if gap := s.Start - x.at[k].End; gap < l.Min || l.Max != nil && gap > *l.Max {
				return false
			}
		}
	}
	return x.oneInTheBay(append(slices.Clone(x.at), s))
}

// wayToGo tells whether everybody has time to go from each activity to the next.
func (x *trial) wayToGo() bool {
	order := make([]int, len(x.at))
	for k := range order {
		order[k] = k
	}
	slices.SortFunc(order, func(a, b int) int { return int(x.at[a].Start - x.at[b].Start) })
	was := map[string]int{}
	for _, k := range order {
		if x.p.Work[k].Unattended {
			continue
		}
		who := x.at[k].Who
		if last, busy := was[who]; busy && x.at[k].Start < x.at[last].End+ChangeOver(x.p.Work[last], x.p.Work[k]) {
			return false
		}
		was[who] = k
	}
	return true
}

// oneInTheBay tells whether the vehicles that need the bay stand in it one after the other.
func (x *trial) oneInTheBay(at []Slot) bool {
	var stays []Span
	for _, j := range x.p.Jobs {
		stay, there := Span{}, false
		for k, s := range at {
			if x.p.Work[k].Job != j.ID || len(j.Bays) == 0 {
				continue
			}
			if !there {
				stay, there = Span{s.Start, s.End}, true
			}
			stay = Span{min(stay.Start, s.Start), max(stay.End, s.End)}
		}
		if there {
			stays = append(stays, stay)
		}
	}
	return len(stays) < 2 || stays[0].End <= stays[1].Start || stays[1].End <= stays[0].Start
}

// Small problems of every kind the shop knows: trying everything finds nothing quicker than the solver does, what it
// names impossible is, and so is what it says that no timeline can beat.
func TestSmallProblemsAgainstTryingEverything(t *testing.T) {
	first, problems := 0, 200
	if testing.Short() { // of one of the first hundred, trying everything takes seconds
		first, problems = 100, 100
	}
	impossible, proven := 0, 0
	for seed := int64(first); seed < 200; seed++ {
		p := small(seed)
		require.NoError(t, p.Check(), "seed %d", seed)
		line := solve(t, p)
		if !line.Feasible {
			impossible++
			assert.False(t, canEnd(p, 0), "seed %d: %v", seed, line.Why)
			assert.NotEmpty(t, line.Why)
		} else {
			assert.False(t, canEnd(p, line.Finish-beat), "seed %d: something ends before %d", seed, line.Finish)
			assert.LessOrEqual(t, line.Bound, line.Finish, "seed %d", seed)
		}
		if line.Proven {
			proven++
		}
	}
	t.Logf("%d of %d cannot be done, what is said of %d is proven", impossible, problems, proven)
	assert.Greater(t, impossible, problems/20)
	assert.Greater(t, proven, problems*9/10)
}

// Two cars whose work is tied together, and one bay for both: the one that the other waits for goes first, and where
// each waits for the other that is said.
func TestCarsThatWaitForEachOtherInOneBay(t *testing.T) {
	p := Problem{People: crew("Ada"), Machines: []Machine{{Name: "bay", Count: 1}}}
	for _, car := range []string{"a", "b"} {
		p.Jobs = append(p.Jobs, Job{ID: car, Bays: []string{"bay"}})
		p.Work = append(
			p.Work,
			Work{ID: car + "1", Job: car, Seconds: 100},
			Work{ID: car + "2", Job: car, Seconds: 100},
		)
	}
	p.Lags = []Lag{{From: "b1", To: "a2"}}
	line := solve(t, p)
	require.True(t, line.Feasible, line.Why)
	assert.Equal(t, []Stay{{"a", "bay", 200, 420}, {"b", "bay", 0, 200}}, line.Stays)

	p.Lags = append(p.Lags, Lag{From: "a1", To: "b2"})
	line = solve(t, p)
	assert.False(t, line.Feasible)
	assert.True(t, line.Proven)
	require.NotEmpty(t, line.Why)
	assert.Contains(t, line.Why[0], "waits for a bay that is not empty before work on")
}

// Work that does not fit into a dwell pushes its windows on by a second a turn, for as long as the shop is open. That is
// seen after some turns, however far away the limit is.
func TestWhatPushesOnForEverIsRefutedAtOnce(t *testing.T) {
	within := measure.Seconds(99)
	p := Problem{
		People: crew("Ada"),
		Work: []Work{
			{ID: "foam", Seconds: 30}, {ID: "badges", Seconds: 50}, {ID: "grilles", Seconds: 50}, {ID: "rinse", Seconds: 30},
		},
		Lags: []Lag{
			{From: "foam", To: "badges"}, {From: "foam", To: "grilles"}, {From: "badges", To: "rinse"},
			{From: "grilles", To: "rinse"}, {From: "foam", To: "rinse", Max: &within},
		},
		Horizon: 100_000,
	}
	pr := newProver(build(&p), nil)
	_, ok := pr.bound()
	assert.False(t, ok)
	assert.Less(t, pr.spent, 1000, "in nodes laid down")

	within++
	low, ok := newProver(build(&p), nil).bound()
	assert.True(t, ok)
	assert.Equal(t, int32(160), low)
}

// What is said to run away can indeed not be done: asked of every small problem before anything else is.
func TestWhatRunsAwayCannotBeDone(t *testing.T) {
	found, problems := 0, prove.Seeds(t, 600)
	for seed := range int64(problems) {
		p := small(seed)
		pr := newProver(build(&p), nil)
		w := pr.root()
		pr.until(w, pr.m.limit)
		if pr.runsAway(w) {
			found++
			assert.False(t, canEnd(p, 0), "seed %d", seed)
		}
	}
	t.Logf("%d of %d run away", found, problems)
	assert.Greater(t, 60*found, problems)
}
