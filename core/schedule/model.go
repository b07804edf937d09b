package schedule

import (
	"fmt"
	"math/bits"
	"slices"

	"uskel/core/measure"
)

// model is a problem in numbers: nodes are its activities and, for each vehicle that needs a bay, its coming in and
// its going out; units are the people first, then every single machine. A bay is held from the coming in to the going
// out.
type model struct {
	p      *Problem
	n      int // activities
	nodes  []node
	people int
	shut   [][]Span // by unit, in order, not overlapping
	pace   []int
	names  []string // of units
	keys   []string // of units: what the timeline names them by
	job    []jobNodes
	first  []int // an order in which no node comes before what it waits for
	limit  int32 // everything ends by then
}

type jobNodes struct{ in, out int } // -1 without a bay

// node is an activity, or a vehicle coming in or going out of its bay.
type node struct {
	dur      int32   // at standard pace
	durs     []int32 // by person, when hands are needed
	hands    uint64  // people who may do it; 0 when unattended
	together int     // group, -1 for none
	machines []uint64
	release  int32
	pinned   *Pinned
	job      int // -1 for none
	bays     uint64
	tail     int32 // from its start to the end of all that follows, at the quickest
	succ     []arc // s_to >= e_from + lag
	pred     []arc
	held     []held // dwells that end with this node
	holds    []held // dwells that begin with it
	even     bool   // whoever does it takes as long
	place    int8   // m round the vehicle, -1 when all round
	tool     int16  // 0 for none in particular
}

type arc struct {
	to  int
	lag int32
}

// held is a dwell: from's product must come off at most max after from has ended.
type held struct {
	from, to int
	max      int32
	cover    bool
}

// build puts a checked problem in numbers.
func build(p *Problem) *model {
	m := &model{p: p, n: len(p.Work), people: len(p.People)}
	machineUnits := m.units()
	m.addNodes(machineUnits)
	index := map[string]int{}
	for i, w := range p.Work {
		index[w.ID] = i
	}
	for _, l := range p.Lags {
		from, to := index[l.From], index[l.To]
		m.order(from, to, int32(l.Min))
		if l.Max != nil {
			h := held{from, to, int32(*l.Max), l.Cover}
			m.nodes[to].held, m.nodes[from].holds = append(m.nodes[to].held, h), append(m.nodes[from].holds, h)
		}
	}
	m.addBays()
	m.rankWork()
	return m
}

// units numbers the people and every single machine, and gives each machine's units as a set.
func (m *model) units() map[string]uint64 {
	for _, who := range m.p.People {
		pace := who.Pace
		if pace == 0 {
			pace = 100
		}
		m.pace, m.shut, m.names = append(m.pace, pace), append(m.shut, inTurn(who.Shut)), append(m.names, who.Name)
		m.keys = append(m.keys, who.Key())
	}
	sets := map[string]uint64{}
	for _, x := range m.p.Machines {
		for unit := range x.Count {
			sets[x.Key()] |= 1 << len(m.shut)
			name, key := x.Name, x.Key()
			if x.Count > 1 {
				name, key = fmt.Sprintf("%s %d", x.Name, unit+1), unitKey(x.Key(), unit+1)
			}
			m.shut, m.names, m.keys = append(m.shut, inTurn(x.Shut)), append(m.names, name), append(m.keys, key)
		}
	}
	return sets
}

// inTurn sorts spans and joins those that touch.
func inTurn(spans []Span) []Span {
	sorted := slices.Clone(spans)
	slices.SortFunc(sorted, func(a, b Span) int { return int(a.Start - b.Start) })
	var joined []Span
	for _, s := range sorted {
		if k := len(joined) - 1; k >= 0 && s.Start <= joined[k].End {
			joined[k].End = max(joined[k].End, s.End)
		} else {
			joined = append(joined, s)
		}
	}
	return joined
}

func (m *model) addNodes(machineUnits map[string]uint64) {
	jobs, groups, tools := map[string]int{}, map[string]int{}, map[string]int16{"": 0}
	for i, j := range m.p.Jobs {
		jobs[j.ID] = i
	}
	total := int64(0)
	for _, w := range m.p.Work {
		x := node{dur: int32(w.Seconds), together: -1, release: int32(w.NotBefore), pinned: w.Pinned, job: -1}
		if j, ok := jobs[w.Job]; ok {
			x.job = j
			x.release = max(x.release, int32(m.p.Jobs[j].Arrives))
			for _, bay := range m.p.Jobs[j].Bays {
				x.bays |= machineUnits[bay]
			}
		}
		if !w.Unattended {
			m.hands(&x, w)
			if w.Together != "" {
				if _, known := groups[w.Together]; !known {
					groups[w.Together] = len(groups)
				}
				x.together = groups[w.Together]
			}
		}
		if _, known := tools[w.Tool]; !known {
			tools[w.Tool] = int16(len(tools))
		}
		x.place, x.tool = w.At.metre(), tools[w.Tool]
		for _, name := range w.Uses {
			x.machines = append(x.machines, machineUnits[name])
		}
		total += int64(x.dur)*3 + 60
		m.nodes = append(m.nodes, x)
	}
	m.oneForAll(len(groups))
	m.limit = int32(m.p.Horizon)
	if m.limit == 0 {
		m.limit = int32(min(total+m.slack(), latest))
	}
}

// oneForAll leaves a group of activities to those who may do all of it.
func (m *model) oneForAll(groups int) {
	able := make([]uint64, groups)
	for g := range able {
		able[g] = ^uint64(0)
	}
	for i := range m.nodes {
		if g := m.nodes[i].together; g >= 0 {
			able[g] &= m.nodes[i].hands
		}
	}
	for i := range m.nodes {
		if g := m.nodes[i].together; g >= 0 {
			m.nodes[i].hands = able[g]
		}
	}
}

// latest keeps times within their type.
const latest = 1 << 29

// slack is what a limit must allow beyond the work itself: arrivals, dwells, and times that are shut.
func (m *model) slack() int64 {
	slack := measure.Seconds(0)
	for _, j := range m.p.Jobs {
		slack = max(slack, j.Arrives)
	}
	for _, l := range m.p.Lags {
		slack += l.Min
	}
	for _, shut := range m.shut {
		for _, s := range shut {
			slack += s.End - s.Start
			slack = max(slack, s.End)
		}
	}
	for _, w := range m.p.Work {
		slack = max(slack, w.NotBefore)
		if w.Pinned != nil {
			slack = max(slack, w.Pinned.End)
		}
	}
	return int64(slack)
}

// hands says who may do a node's work, and how long each takes, in whole seconds rounded up.
func (m *model) hands(x *node, w Work) {
	x.durs = make([]int32, m.people)
	for k, who := range m.p.People {
		x.durs[k] = (x.dur*int32(m.pace[k]) + 99) / 100
		able := w.Skill == "" || slices.Contains(who.Skills, w.Skill)
		chosen := len(w.Only) == 0 || slices.Contains(w.Only, who.Key())
		if w.Pinned != nil && w.Pinned.Who != "" {
			able, chosen = true, who.Key() == w.Pinned.Who
		}
		if able && chosen {
			x.hands |= 1 << k
		}
	}
	x.even = true
	for left := x.hands; left != 0; left &= left - 1 {
		x.even = x.even && x.durs[bits.TrailingZeros64(left)] == x.durs[bits.TrailingZeros64(x.hands)]
	}
}

func (m *model) order(from, to int, lag int32) {
	m.nodes[from].succ = append(m.nodes[from].succ, arc{to, lag})
	m.nodes[to].pred = append(m.nodes[to].pred, arc{from, lag})
}

// addBays adds the coming in and going out of vehicles that stand in a bay.
func (m *model) addBays() {
	m.job = make([]jobNodes, len(m.p.Jobs))
	for j := range m.p.Jobs {
		m.job[j] = jobNodes{-1, -1}
		var mine []int
		for i := range m.n {
			if m.nodes[i].job == j {
				mine = append(mine, i)
			}
		}
		if len(mine) == 0 || m.nodes[mine[0]].bays == 0 {
			continue
		}
		in, out := len(m.nodes), len(m.nodes)+1
		m.job[j] = jobNodes{in, out}
		bay := node{together: -1, job: j, bays: m.nodes[mine[0]].bays, release: int32(m.p.Jobs[j].Arrives)}
		for _, i := range mine {
			if p := m.nodes[i].pinned; p != nil && (bay.pinned == nil || p.Start < bay.pinned.Start) {
				bay.pinned = &Pinned{Start: p.Start, End: p.Start}
			}
		}
		m.nodes = append(m.nodes, bay, node{together: -1, job: j, bays: bay.bays})
		for _, i := range mine {
			m.order(in, i, 0)
			m.order(i, out, 0)
		}
	}
}

// rankWork finds an order of the nodes that heeds all lags, and each node's tail.
func (m *model) rankWork() {
	waits := make([]int, len(m.nodes))
	for i := range m.nodes {
		waits[i] = len(m.nodes[i].pred)
	}
	var ready []int
	for i, w := range waits {
		if w == 0 {
			ready = append(ready, i)
		}
	}
	for len(ready) > 0 {
		at := slices.Min(ready)
		ready = slices.DeleteFunc(ready, func(i int) bool { return i == at })
		m.first = append(m.first, at)
		for _, a := range m.nodes[at].succ {
			if waits[a.to]--; waits[a.to] == 0 {
				ready = append(ready, a.to)
			}
		}
	}
	for k := len(m.first) - 1; k >= 0; k-- {
		x := &m.nodes[m.first[k]]
		longest := int32(0)
		for _, a := range x.succ {
			longest = max(longest, a.lag+m.nodes[a.to].tail)
		}
		x.tail = longest + m.shortest(x)
	}
}

// shortest is what the quickest person who may do it takes.
func (m *model) shortest(x *node) int32 {
	if x.pinned != nil {
		return int32(x.pinned.End - x.pinned.Start)
	}
	if x.durs == nil {
		return x.dur
	}
	best := int32(-1)
	for left := x.hands; left != 0; left &= left - 1 {
		if d := x.durs[bits.TrailingZeros64(left)]; best < 0 || d < best {
			best = d
		}
	}
	return max(best, 0)
}

// free is the first time from t on at which a unit can work d seconds on end.
func (m *model) free(unit int, t, d int32) int32 {
	for _, s := range m.shut[unit] {
		if t < int32(s.End) && t+max(d, 1) > int32(s.Start) {
			t = int32(s.End)
		}
	}
	return t
}

// freeBefore is the last time up to t at which a unit can begin to work d seconds on end.
func (m *model) freeBefore(unit int, t, d int32) int32 {
	for k := len(m.shut[unit]) - 1; k >= 0; k-- {
		s := m.shut[unit][k]
		if t < int32(s.End) && t+max(d, 1) > int32(s.Start) {
			t = int32(s.Start) - max(d, 1)
		}
	}
	return t
}

// change is the change-over between two nodes in one person's hands, s.
func (m *model) change(a, b int) int32 {
	if a >= m.n || b >= m.n {
		return 0
	}
	x, y := &m.nodes[a], &m.nodes[b]
	return goOver(x.job == y.job, x.place, y.place, x.tool != 0 && y.tool != 0 && x.tool != y.tool)
}
