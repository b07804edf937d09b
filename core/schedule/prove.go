package schedule

import (
	"math/bits"
	"slices"
)

// The prover narrows, for a given latest finish, when each node can start and who can do it, until nothing is left
// (then no timeline is that quick) or everything is decided (then it has found one). It branches on the order of two
// activities that want the same hands, the tightest pair first (precedence constraint posting with slack: Smith and
// Cheng 1993; Cesta, Oddi and Smith 2002), and checks that the work that must lie between two times fits into the
// hands there are (overload checking: Vilim 2004, in its plain quadratic form).
type prover struct {
	m     *model
	pairs []pair
	pools []pool
	spent int // effort, in the search's nodes laid down
	most  int
	stop  func() bool // asked at every branching; nil never stops
	found *windows
}

// pair is two nodes that may want the same unit; ahead says that a comes before b by the lags alone.
type pair struct {
	a, b  int
	ahead bool
}

// pool is a set of units and the nodes that can be done by nobody else.
type pool struct {
	units  int32
	nodes  []int
	byLate []int
	before [][]int // by node, those of the pool that must come before it
	after  [][]int
}

// windows are what is still possible.
type windows struct {
	est, lst []int32
	hands    []uint64
	kit      [][]uint64
	bay      []uint64 // by job
	order    []int8   // by pair: 0 open, 1 a first, -1 b first
}

// verdict is how a proof ended.
type verdict int

const (
	undecided verdict = iota // the limit was reached
	impossible
	possible
)

// mostProved is the largest problem that the prover takes on: pairs grow with the square.
const mostProved = 160

func newProver(m *model, stop func() bool) *prover {
	pr := &prover{m: m, stop: stop}
	ahead := m.closure()
	n := len(m.nodes)
	for a := range n {
		for b := a + 1; b < n; b++ {
			if !m.mayShare(a, b) {
				continue
			}
			switch {
			case ahead[a*n+b]:
				pr.pairs = append(pr.pairs, pair{a, b, true})
			case ahead[b*n+a]:
				pr.pairs = append(pr.pairs, pair{b, a, true})
			default:
				pr.pairs = append(pr.pairs, pair{a, b, false})
			}
		}
	}
	pr.addPools(ahead)
	return pr
}

// closure says for every two nodes whether the first comes before the second by the lags alone.
func (m *model) closure() []bool {
	n := len(m.nodes)
	ahead := make([]bool, n*n)
	for k := len(m.first) - 1; k >= 0; k-- {
		i := m.first[k]
		for _, a := range m.nodes[i].succ {
			ahead[i*n+a.to] = true
			for j := range n {
				ahead[i*n+j] = ahead[i*n+j] || ahead[a.to*n+j]
			}
		}
	}
	return ahead
}

// mayShare reports whether two nodes may want the same person or machine; bays are held by vehicles, so their coming
// in stands for them.
func (m *model) mayShare(a, b int) bool {
	if a < m.n && b < m.n {
		return m.sharesHands(a, b)
	}
	x, y := &m.nodes[a], &m.nodes[b]
	return a >= m.n && b >= m.n && x.job != y.job && m.job[x.job].in == a && m.job[y.job].in == b && x.bays&y.bays != 0
}

func (pr *prover) addPools(ahead []bool) {
	m := pr.m
	var sets []uint64
	for i := range m.nodes {
		if h := m.nodes[i].hands; h != 0 && !slices.Contains(sets, h) {
			sets = append(sets, h)
		}
		for _, k := range m.nodes[i].machines {
			if !slices.Contains(sets, k) {
				sets = append(sets, k)
			}
		}
	}
	for _, a := range sets {
		for _, b := range sets {
			if u := a | b; a&b != 0 && !slices.Contains(sets, u) && len(sets) < 24 {
				sets = append(sets, u)
			}
		}
	}
	for _, set := range sets {
		p := pool{units: int32(bits.OnesCount64(set))}
		for i := range m.nodes {
			x := &m.nodes[i]
			mine := x.hands != 0 && x.hands&^set == 0
			for _, k := range x.machines {
				mine = mine || k&^set == 0
			}
			if mine {
				p.nodes = append(p.nodes, i)
			}
		}
		p.byLate = slices.Clone(p.nodes)
		n := len(m.nodes)
		p.before, p.after = make([][]int, n), make([][]int, n)
		for i := range n {
			for _, k := range p.nodes {
				if ahead[k*n+i] {
					p.before[i] = append(p.before[i], k)
				}
				if ahead[i*n+k] {
					p.after[i] = append(p.after[i], k)
				}
			}
		}
		pr.pools = append(pr.pools, p)
	}
}

// root is everything that is possible before anything is decided.
func (pr *prover) root() *windows {
	m := pr.m
	n := len(m.nodes)
	w := &windows{
		est:   make([]int32, n),
		lst:   make([]int32, n),
		hands: make([]uint64, n),
		kit:   make([][]uint64, n),
		bay:   make([]uint64, len(m.job)),
		order: make([]int8, len(pr.pairs)),
	}
	for i := range m.nodes {
		x := &m.nodes[i]
		w.est[i], w.hands[i], w.kit[i] = x.release, x.hands, slices.Clone(x.machines)
		if x.pinned != nil {
			w.est[i] = int32(x.pinned.Start)
		}
		if x.job >= 0 && m.job[x.job].in == i {
			w.bay[x.job] = x.bays
		}
	}
	for k, p := range pr.pairs {
		if p.ahead {
			w.order[k] = 1
		}
	}
	return w
}

func (w *windows) clone() *windows {
	c := &windows{
		est:   slices.Clone(w.est),
		lst:   slices.Clone(w.lst),
		hands: slices.Clone(w.hands),
		kit:   make([][]uint64, len(w.kit)),
		bay:   slices.Clone(w.bay),
		order: slices.Clone(w.order),
	}
	for i := range w.kit {
		c.kit[i] = w.kit[i]
		if len(w.kit[i]) > 0 {
			c.kit[i] = slices.Clone(w.kit[i])
		}
	}
	return c
}

// until limits every node to end, with all that must follow, by a time.
func (pr *prover) until(w *windows, finish int32) {
	for i := range pr.m.nodes {
		w.lst[i] = finish - pr.m.nodes[i].tail
		if p := pr.m.nodes[i].pinned; p != nil {
			w.lst[i] = int32(p.Start)
		}
	}
}

func (pr *prover) stopped() bool { return pr.stop != nil && pr.stop() }

// bound is the earliest finish that narrowing alone does not refute, by bisection; impossible when not even the limit
// is. Stopped, it gives what is refuted so far, which is a bound all the same.
func (pr *prover) bound() (int32, bool) {
	low, high := int32(0), pr.m.limit
	if w := pr.root(); !pr.narrowTo(w, high) {
		return 0, false
	}
	for low < high && !pr.stopped() {
		mid := low + (high-low)/2
		if w := pr.root(); pr.narrowTo(w, mid) {
			high = mid
		} else {
			low = mid + 1
		}
	}
	return low, true
}

func (pr *prover) narrowTo(w *windows, finish int32) bool {
	pr.until(w, finish)
	return pr.narrow(w)
}

// prove looks for a timeline that ends by a time, or for the proof that there is none, in so many branchings.
func (pr *prover) prove(finish int32, most int) verdict {
	pr.spent, pr.most, pr.found = 0, most, nil
	w := pr.root()
	pr.until(w, finish)
	return pr.branch(w)
}

func (pr *prover) branch(w *windows) verdict {
	if pr.spent > pr.most || pr.stopped() {
		return undecided
	}
	if !pr.narrow(w) {
		return impossible
	}
	k, first := pr.tightest(w)
	if k >= 0 {
		for _, order := range []int8{first, -first} {
			next := w.clone()
			next.order[k] = order
			if v := pr.branch(next); v != impossible {
				return v
			}
		}
		return impossible
	}
	return pr.assign(w)
}

// assign gives an activity that has several people or machines to choose from to each in turn. Machines alike, and
// people alike who have nothing yet, are tried once.
func (pr *prover) assign(w *windows) verdict {
	i, d := pr.openChoice(w)
	if i < 0 {
		pr.found = w
		return possible
	}
	set := w.choice(pr.m, i, d)
	var tried []int
	for left := *set; left != 0; left &= left - 1 {
		u := bits.TrailingZeros64(left)
		if slices.ContainsFunc(tried, func(t int) bool { return pr.alike(w, t, u) }) {
			continue
		}
		tried = append(tried, u)
		next := w.clone()
		*next.choice(pr.m, i, d) = 1 << u
		if v := pr.branch(next); v != impossible {
			return v
		}
	}
	return impossible
}

// The choices of a node: its hands, its bay, or one of its machines by number.
const (
	choiceHands = -1
	choiceBay   = -2
)

func (w *windows) choice(m *model, i, d int) *uint64 {
	switch d {
	case choiceHands:
		return &w.hands[i]
	case choiceBay:
		return &w.bay[m.nodes[i].job]
	}
	return &w.kit[i][d]
}

// openChoice is the node that is due first among those with a choice left.
func (pr *prover) openChoice(w *windows) (int, int) {
	best, demand := -1, 0
	better := func(i int) bool { return best < 0 || w.est[i] < w.est[best] }
	for i := range pr.m.nodes {
		if bits.OnesCount64(w.hands[i]) > 1 && better(i) {
			best, demand = i, choiceHands
		}
		for d, set := range w.kit[i] {
			if bits.OnesCount64(set) > 1 && better(i) {
				best, demand = i, d
			}
		}
		if j := pr.m.nodes[i].job; j >= 0 && pr.m.job[j].in == i && bits.OnesCount64(w.bay[j]) > 1 && better(i) {
			best, demand = i, choiceBay
		}
	}
	return best, demand
}

// alike reports whether two units cannot be told apart: same kind, hours and pace, both still unused, and wherever
// one may work so may the other.
func (pr *prover) alike(w *windows, a, b int) bool {
	m := pr.m
	if (a < m.people) != (b < m.people) || !slices.Equal(m.shut[a], m.shut[b]) ||
		a < m.people && m.pace[a] != m.pace[b] {
		return false
	}
	same := func(set uint64) bool { return set>>a&1 == set>>b&1 && set != 1<<a && set != 1<<b }
	for i := range m.nodes {
		if w.hands[i] != 0 && !same(w.hands[i]) ||
			slices.ContainsFunc(w.kit[i], func(s uint64) bool { return !same(s) }) {
			return false
		}
	}
	return !slices.ContainsFunc(w.bay, func(s uint64) bool { return s != 0 && !same(s) })
}

// tightest is the open pair on one unit with the least room to move, and the order that leaves more; -1 when every
// such pair is decided.
func (pr *prover) tightest(w *windows) (int, int8) {
	best, least, first := -1, int32(0), int8(1)
	for k, p := range pr.pairs {
		if w.order[k] != 0 || !pr.shares(w, p) {
			continue
		}
		ab, ba := pr.room(w, p.a, p.b), pr.room(w, p.b, p.a)
		if room := min(ab, ba); best < 0 || room < least {
			best, least, first = k, room, 1
			if ba > ab {
				first = -1
			}
		}
	}
	return best, first
}

// room is how much later than its earliest end a may end and still leave b time.
func (pr *prover) room(w *windows, a, b int) int32 {
	return w.lst[b] - pr.ends(w, a) - pr.changeIf(w, a, b)
}

// ends is the earliest a node leaves its unit: an activity its end, a vehicle its going out.
func (pr *prover) ends(w *windows, i int) int32 {
	if i >= pr.m.n {
		return w.est[pr.m.job[pr.m.nodes[i].job].out]
	}
	return w.est[i] + pr.quickest(w, i)
}

// changeIf is the change-over when both are surely in the same hands.
func (pr *prover) changeIf(w *windows, a, b int) int32 {
	if a < pr.m.n && b < pr.m.n && w.hands[a] == w.hands[b] && single(w.hands[a]) {
		return pr.m.change(a, b)
	}
	return 0
}

// single reports whether a set has exactly one unit.
func single(set uint64) bool { return set != 0 && set&(set-1) == 0 }

// shares reports whether a pair surely wants the same unit.
func (pr *prover) shares(w *windows, p pair) bool {
	one := func(a, b uint64) bool { return a == b && single(a) }
	if p.a >= pr.m.n {
		return one(w.bay[pr.m.nodes[p.a].job], w.bay[pr.m.nodes[p.b].job])
	}
	if one(w.hands[p.a], w.hands[p.b]) {
		return true
	}
	for _, x := range w.kit[p.a] {
		for _, y := range w.kit[p.b] {
			if one(x, y) {
				return true
			}
		}
	}
	return false
}

func (pr *prover) quickest(w *windows, i int) int32 { return pr.lasts(w, i, true) }

// lasts is a node's shortest or longest length with the people it may still have.
func (pr *prover) lasts(w *windows, i int, shortest bool) int32 {
	x := &pr.m.nodes[i]
	if x.pinned != nil {
		return int32(x.pinned.End - x.pinned.Start)
	}
	if x.durs == nil {
		return x.dur
	}
	if set := w.hands[i]; x.even || set&(set-1) == 0 {
		return x.durs[min(bits.TrailingZeros64(set), len(x.durs)-1)]
	}
	d := int32(-1)
	for left := w.hands[i]; left != 0; left &= left - 1 {
		v := x.durs[bits.TrailingZeros64(left)]
		if d < 0 || shortest && v < d || !shortest && v > d {
			d = v
		}
	}
	return d
}

// pairsPerLaying is how many pairs are narrowed in the time in which the search lays down one node (measured).
const pairsPerLaying = 10

// narrow takes out what cannot be until nothing changes; false when nothing is left.
func (pr *prover) narrow(w *windows) bool {
	for turn := 1; ; turn++ {
		if turn%turnsOfTrust == 0 && pr.runsAway(w) {
			return false
		}
		pr.spent += len(pr.pairs)/pairsPerLaying + 1
		changed, ok := pr.byLags(w)
		if !ok {
			return false
		}
		byPairs, ok := pr.byPairs(w)
		if !ok {
			return false
		}
		if !changed && !byPairs {
			byHours, ok := pr.byHours(w)
			if !ok {
				return false
			}
			byWork, ok := pr.byWork(w)
			if !ok {
				return false
			}
			if !byHours && !byWork {
				return pr.fits(w)
			}
		}
	}
}

// turnsOfTrust is how many turns of narrowing go by before it is asked whether they would ever end. Dwells that cannot
// be kept push the windows round in a circle, a few seconds a turn, until they meet the limit hours later: 100,000
// turns for two dozen steps (measured).
const turnsOfTrust = 32

// far is a time beyond any limit.
const far = int32(1) << 28

// runsAway reports whether windows would be moved on for ever, whatever the limit. What narrowing has moved of late is
// held alone, all else being set free; if a turn then moves every one of them by a second or more, so does the next
// turn, as all that narrows only ever adds: started later, every follower starts that much later (monotone and
// homogeneous in time). Nothing can be laid out then.
func (pr *prover) runsAway(w *windows) bool {
	now := w.clone()
	if !pr.turn(now) {
		return true
	}
	early, late := make([]bool, len(w.est)), make([]bool, len(w.est))
	for i := range w.est {
		early[i], late[i] = now.est[i] > w.est[i], now.lst[i] < w.lst[i]
	}
	for slices.Contains(early, true) || slices.Contains(late, true) {
		apart := now.clone()
		for i := range apart.est {
			if !early[i] {
				apart.est[i] = -far
			}
			if !late[i] {
				apart.lst[i] = far
			}
		}
		if !pr.turn(apart) {
			return true
		}
		fewer, any := false, [2]bool{}
		for i := range apart.est {
			for side, moves := range [2]bool{apart.est[i] > now.est[i], apart.lst[i] < now.lst[i]} {
				mine := [2][]bool{early, late}[side]
				fewer = fewer || mine[i] && !moves
				mine[i] = mine[i] && moves
				any[side] = any[side] || mine[i]
			}
		}
		if !fewer {
			return any[0] || any[1]
		}
	}
	return false
}

// turn narrows by lags and pairs as far as they go in as many passes as there are nodes, and then by the work.
func (pr *prover) turn(w *windows) bool {
	for range pr.m.nodes {
		pr.spent += len(pr.pairs)/pairsPerLaying + 1
		byLags, ok := pr.byLags(w)
		if !ok {
			return false
		}
		byPairs, ok := pr.byPairs(w)
		if !ok {
			return false
		}
		if !byLags && !byPairs {
			break
		}
	}
	_, ok := pr.byWork(w)
	return ok
}

// later and sooner move the ends of a node's window.
func (w *windows) later(i int, t int32, changed *bool) bool {
	if t > w.est[i] {
		w.est[i], *changed = t, true
	}
	return w.est[i] <= w.lst[i]
}

func (w *windows) sooner(i int, t int32, changed *bool) bool {
	if t < w.lst[i] {
		w.lst[i], *changed = t, true
	}
	return w.est[i] <= w.lst[i]
}

func (pr *prover) byLags(w *windows) (bool, bool) {
	changed := false
	m := pr.m
	for _, i := range m.first {
		if len(m.nodes[i].durs) > 0 && w.hands[i] == 0 {
			return false, false
		}
		end := w.est[i] + pr.quickest(w, i)
		for _, a := range m.nodes[i].succ {
			if !w.later(a.to, end+a.lag, &changed) {
				return false, false
			}
		}
	}
	for k := len(m.first) - 1; k >= 0; k-- {
		i := m.first[k]
		d := pr.quickest(w, i)
		for _, a := range m.nodes[i].succ {
			if !w.sooner(i, w.lst[a.to]-a.lag-d, &changed) {
				return false, false
			}
		}
		for _, h := range m.nodes[i].held {
			longest := pr.lasts(w, h.from, false)
			if !w.later(h.from, w.est[i]-h.max-longest, &changed) ||
				!w.sooner(i, w.lst[h.from]+longest+h.max, &changed) {
				return false, false
			}
		}
	}
	return changed, true
}

func (pr *prover) byPairs(w *windows) (bool, bool) {
	changed := false
	for k := range pr.pairs {
		p := &pr.pairs[k]
		if !pr.shares(w, *p) {
			if w.order[k] == 0 && !pr.part(w, *p, &changed) {
				return false, false
			}
			continue
		}
		if w.order[k] == 0 {
			ab, ba := pr.room(w, p.a, p.b) >= 0, pr.room(w, p.b, p.a) >= 0
			switch {
			case !ab && !ba:
				return false, false
			case ab && ba:
				continue
			case ab:
				w.order[k] = 1
			default:
				w.order[k] = -1
			}
			changed = true
		}
		a, b := p.a, p.b
		if w.order[k] < 0 {
			a, b = b, a
		}
		walk := pr.changeIf(w, a, b)
		if !w.later(b, pr.ends(w, a)+walk, &changed) {
			return false, false
		}
		last := a
		d := pr.quickest(w, a)
		if a >= pr.m.n {
			last, d = pr.m.job[pr.m.nodes[a].job].out, 0
		}
		if !w.sooner(last, w.lst[b]-walk-d, &changed) {
			return false, false
		}
	}
	return changed, true
}

// part keeps two activities that overlap in any order out of the same hands, machines and bays.
func (pr *prover) part(w *windows, p pair, changed *bool) bool {
	if pr.room(w, p.a, p.b) >= 0 || pr.room(w, p.b, p.a) >= 0 {
		return true
	}
	apart := func(a, b *uint64) bool {
		if single(*a) && *b&*a != 0 {
			*b &^= *a
			*changed = true
		} else if single(*b) && *a&*b != 0 {
			*a &^= *b
			*changed = true
		}
		return *a != 0 && *b != 0
	}
	if p.a >= pr.m.n {
		return apart(&w.bay[pr.m.nodes[p.a].job], &w.bay[pr.m.nodes[p.b].job])
	}
	if w.hands[p.a] != 0 && w.hands[p.b] != 0 && !apart(&w.hands[p.a], &w.hands[p.b]) {
		return false
	}
	for x := range w.kit[p.a] {
		for y := range w.kit[p.b] {
			if !apart(&w.kit[p.a][x], &w.kit[p.b][y]) {
				return false
			}
		}
	}
	return true
}

// byHours keeps what is decided out of times that are shut, and groups in one person's hands.
func (pr *prover) byHours(w *windows) (bool, bool) {
	changed := false
	m := pr.m
	together := map[int]uint64{}
	for i := range m.nodes {
		if g := m.nodes[i].together; g >= 0 {
			if _, known := together[g]; !known {
				together[g] = ^uint64(0)
			}
			together[g] &= w.hands[i]
		}
	}
	for i := range m.nodes {
		x := &m.nodes[i]
		if x.together >= 0 && w.hands[i] != together[x.together] {
			w.hands[i], changed = together[x.together], true
		}
		if x.hands != 0 && w.hands[i] == 0 {
			return false, false
		}
		if x.pinned != nil {
			continue
		}
		sets := append([]uint64{w.hands[i]}, w.kit[i]...)
		if i < m.n && x.job >= 0 && x.bays != 0 {
			sets = append(sets, w.bay[x.job])
		}
		d := pr.quickest(w, i)
		for _, set := range sets {
			if set == 0 || d == 0 {
				continue
			}
			soonest, latest := int32(1<<30), int32(-1)
			for left := set; left != 0; left &= left - 1 {
				u := bits.TrailingZeros64(left)
				soonest, latest = min(soonest, m.free(u, w.est[i], d)), max(latest, m.freeBefore(u, w.lst[i], d))
			}
			if !w.later(i, soonest, &changed) || !w.sooner(i, latest, &changed) {
				return false, false
			}
		}
	}
	return changed, true
}

// byWork starts a node no earlier than the hands there are can do all that must come before it, and ends it early
// enough for all that must come after.
func (pr *prover) byWork(w *windows) (bool, bool) {
	changed := false
	for k := range pr.pools {
		p := &pr.pools[k]
		for i := range pr.m.nodes {
			if len(p.before[i]) > 1 {
				slices.SortFunc(p.before[i], func(a, b int) int { return int(w.est[b] - w.est[a]) })
				work, soonest := int32(0), int32(0)
				for _, j := range p.before[i] {
					work += pr.quickest(w, j)
					soonest = max(soonest, w.est[j]+(work+p.units-1)/p.units)
				}
				if !w.later(i, soonest, &changed) {
					return false, false
				}
			}
			if len(p.after[i]) > 1 {
				slices.SortFunc(p.after[i], func(a, b int) int { return int(pr.mustEnd(w, a) - pr.mustEnd(w, b)) })
				work, latest := int32(0), w.lst[i]
				d := pr.quickest(w, i)
				for _, j := range p.after[i] {
					work += pr.quickest(w, j)
					latest = min(latest, pr.mustEnd(w, j)-(work+p.units-1)/p.units-d)
				}
				if !w.sooner(i, latest, &changed) {
					return false, false
				}
			}
		}
	}
	return changed, true
}

// fits checks that between any two times the work that must lie between them fits into the units there are.
func (pr *prover) fits(w *windows) bool {
	for k := range pr.pools {
		p := &pr.pools[k]
		slices.SortFunc(p.nodes, func(a, b int) int { return int(w.est[b] - w.est[a]) })
		slices.SortFunc(p.byLate, func(a, b int) int { return int(pr.mustEnd(w, a) - pr.mustEnd(w, b)) })
		for _, last := range p.byLate {
			deadline, work := pr.mustEnd(w, last), int32(0)
			for _, i := range p.nodes {
				if pr.mustEnd(w, i) > deadline {
					continue
				}
				work += pr.quickest(w, i)
				if work > p.units*(deadline-w.est[i]) {
					return false
				}
			}
		}
	}
	return true
}

func (pr *prover) mustEnd(w *windows, i int) int32 { return w.lst[i] + pr.quickest(w, i) }
