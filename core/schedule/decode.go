package schedule

import "math/bits"

// filling says which gaps in what people and machines do already may be filled. Filling all packs the work of one
// vehicle tightly; where several share people, what is squeezed in between holds up what must come off elsewhere, and
// filling none, or only those of machines, may do better. The search tries all.
type filling int8

const (
	fillNone filling = iota
	fillMachines
	fillAll
)

// layout is the outcome of laying the nodes down one after another: starts, and who and what does each. It is reused
// between tries.
type layout struct {
	m       *model
	fill    filling
	soft    bool // nothing is pushed back: what cannot be kept shows where it would come to stand
	start   []int32
	dur     []int32
	hand    []int16   // person, -1 for none
	kit     [][]int16 // machines, in the order of the node's demands
	bay     []int16   // by job
	placed  []bool
	before  [][]int16 // on each of the node's units, the node before it
	after   [][]int16
	line    [][]int16 // by person and machine, the nodes laid down on it in the order of their starts
	last    []int16   // by bay, the coming in or going out laid down last
	group   []int16   // person of each group
	raises  []int16   // by node, how often a dwell that ends with it has pushed in this commit
	raised  []int
	broken  []bool // dwells that end with the node cannot be kept in this order
	late    int32  // seconds by which dwells are overrun in all
	queue   []int
	pending []int
	walk    int32
	astray  int32 // how often somebody goes back to what the problem has earlier
}

func newLayout(m *model) *layout {
	n := len(m.nodes)
	l := &layout{
		m:      m,
		start:  make([]int32, n),
		dur:    make([]int32, n),
		hand:   make([]int16, n),
		kit:    make([][]int16, n),
		bay:    make([]int16, len(m.job)),
		placed: make([]bool, n),
		before: make(
			[][]int16,
			n,
		),
		after:  make([][]int16, n),
		line:   make([][]int16, len(m.shut)),
		last:   make([]int16, len(m.shut)),
		group:  make([]int16, n),
		raises: make([]int16, n),
		broken: make([]bool, n),
	}
	for i := range l.kit {
		l.kit[i] = make([]int16, len(m.nodes[i].machines))
	}
	return l
}

func (l *layout) reset() {
	for i := range l.placed {
		l.placed[i], l.hand[i], l.group[i], l.broken[i] = false, -1, -1, false
		l.before[i], l.after[i] = l.before[i][:0], l.after[i][:0]
	}
	for u := range l.last {
		l.last[u], l.line[u] = -1, l.line[u][:0]
	}
	for j := range l.bay {
		l.bay[j] = -1
	}
	l.late, l.walk, l.astray, l.pending = 0, 0, 0, l.pending[:0]
}

// begin clears the layout and puts down what has happened: everything else comes after it.
func (l *layout) begin() {
	l.reset()
	for _, i := range l.m.first {
		if l.m.nodes[i].pinned != nil {
			t, hand := l.earliest(i, -1)
			l.commit(i, t, hand)
		}
	}
}

// never is what a node counts as late that cannot come at all, because vehicles wait in each other's bays, s.
const never = int32(furthest)

// lay puts the nodes down in the order of the list, each as early as there is a gap for it with its people and
// machines; want names a person by node, -1 for whoever is done first. A dwell that would overrun pushes back the
// putting-on; one that cannot be kept in this order is counted as late.
func (l *layout) lay(list []int16, want []int16) {
	l.begin()
	for _, i := range list {
		if !l.placed[i] {
			l.put(int(i), want)
		}
	}
	for k := range l.m.nodes {
		for _, h := range l.m.nodes[k].held {
			if l.placed[k] {
				l.late += max(0, l.start[k]-l.start[h.from]-l.dur[h.from]-h.max)
			}
		}
	}
	l.late += int32(len(l.pending)) * never
	l.ways()
}

// ways adds up the walking, and how often somebody goes back to what the problem has earlier.
func (l *layout) ways() {
	for u := range l.m.people {
		for k := 1; k < len(l.line[u]); k++ {
			a, b := int(l.line[u][k-1]), int(l.line[u][k])
			l.walk += l.m.change(a, b)
			if a > b && l.m.nodes[a].job == l.m.nodes[b].job {
				l.astray++
			}
		}
	}
}

// put lays a node down, or keeps it back while its vehicle has no bay.
func (l *layout) put(i int, want []int16) {
	if !l.ready(i) {
		l.pending = append(l.pending, i)
		return
	}
	w := int16(-1)
	if want != nil {
		w = want[i]
	}
	t, hand := l.earliest(i, w)
	l.commit(i, t, hand)
	if len(l.pending) > 0 {
		l.retry(want)
	}
}

// retry lays down what was kept back and can go now.
func (l *layout) retry(want []int16) {
	for k := 0; k < len(l.pending); k++ {
		if i := l.pending[k]; l.ready(i) {
			l.pending = append(l.pending[:k], l.pending[k+1:]...)
			l.put(i, want)
			k = -1
		}
	}
}

// ready reports whether what a node waits for is laid down, and its bay empty.
func (l *layout) ready(i int) bool {
	x := &l.m.nodes[i]
	for _, a := range x.pred {
		if !l.placed[a.to] {
			return false
		}
	}
	return !l.comesIn(i) || l.emptyBay(i) >= 0
}

func (l *layout) comesIn(i int) bool {
	x := &l.m.nodes[i]
	return i >= l.m.n && l.m.job[x.job].in == i
}

// emptyBay is the bay that is free first among those the vehicle may use; -1 while all are taken.
func (l *layout) emptyBay(i int) int {
	x := &l.m.nodes[i]
	best, bestAt := -1, int32(0)
	for left := x.bays; left != 0; left &= left - 1 {
		u := bits.TrailingZeros64(left)
		at := int32(0)
		if k := l.last[u]; k >= 0 {
			if l.comesIn(int(k)) {
				continue
			}
			at = l.start[k]
		}
		if best < 0 || at < bestAt {
			best, bestAt = u, at
		}
	}
	if best < 0 && (x.pinned != nil || l.soft) { // it stands there already, or it is shown where it cannot stand
		best = bits.TrailingZeros64(x.bays)
	}
	return best
}

// earliest is when a node can start and in whose hands, given what is laid down.
func (l *layout) earliest(i int, want int16) (int32, int16) {
	m := l.m
	x := &m.nodes[i]
	if x.pinned != nil {
		hand := int16(-1)
		if x.hands != 0 {
			hand = int16(bits.TrailingZeros64(x.hands))
		}
		return int32(x.pinned.Start), hand
	}
	t := x.release
	for _, a := range x.pred {
		t = max(t, l.start[a.to]+l.dur[a.to]+a.lag)
	}
	if l.comesIn(i) {
		if k := l.last[l.emptyBay(i)]; k >= 0 {
			t = max(t, l.start[k])
		}
		return t, -1
	}
	if x.durs == nil {
		return l.fit(i, -1, t, x.dur), -1
	}
	return l.chooseHand(i, t, want)
}

// chooseHand is who would be done first; of those alike, the one who did the work before it in the list of gaps, so
// that people stay with what they do.
func (l *layout) chooseHand(i int, t int32, want int16) (int32, int16) {
	x := &l.m.nodes[i]
	set := x.hands
	if x.together >= 0 && l.group[x.together] >= 0 {
		set = 1 << l.group[x.together]
	} else if want >= 0 && set&(1<<want) != 0 {
		set = 1 << want
	}
	hand, begin, finish := int16(-1), int32(0), int32(0)
	for left := set; left != 0; left &= left - 1 {
		u := bits.TrailingZeros64(left)
		at := l.fit(i, u, t, x.durs[u])
		if end := at + x.durs[u]; hand < 0 || end < finish ||
			end == finish && l.near(u, i, at) < l.near(int(hand), i, begin) {
			hand, begin, finish = int16(u), at, end
		}
	}
	return begin, hand
}

// near is the change-over to a node from what its person does before it.
func (l *layout) near(person, i int, t int32) int32 {
	k := len(l.line[person])
	if l.fill == fillAll {
		k = l.firstAfter(person, t)
	}
	if k > 0 {
		return l.m.change(int(l.line[person][k-1]), i)
	}
	return 0
}

// fit is the first time from t on at which person, machines and bay are all there for d seconds.
func (l *layout) fit(i, person int, t, d int32) int32 {
	m := l.m
	x := &m.nodes[i]
	for {
		was := t
		if person >= 0 {
			t = l.gap(person, i, t, d)
		}
		for _, set := range x.machines {
			t = l.gap(l.pick(set, i, t, d), i, t, d)
		}
		if x.job >= 0 && l.bay[x.job] >= 0 && d > 0 {
			t = m.free(int(l.bay[x.job]), t, d)
		}
		if t == was {
			return t
		}
	}
}

// pick is the machine of a set that is free first from t on.
func (l *layout) pick(set uint64, i int, t, d int32) int {
	best, bestAt := bits.TrailingZeros64(set), int32(0)
	if set&(set-1) == 0 {
		return best
	}
	bestAt = l.gap(best, i, t, d)
	for left := set & (set - 1); left != 0; left &= left - 1 {
		u := bits.TrailingZeros64(left)
		if at := l.gap(u, i, t, d); at < bestAt {
			best, bestAt = u, at
		}
	}
	return best
}

// firstAfter is the place on a unit's line of the first node that ends after t.
func (l *layout) firstAfter(unit int, t int32) int {
	line := l.line[unit]
	low, high := 0, len(line)
	for low < high {
		mid := int(uint(low+high) >> 1)
		if k := line[mid]; l.start[k]+l.dur[k] > t {
			high = mid
		} else {
			low = mid + 1
		}
	}
	return low
}

// gap is the first time from t on at which a unit has d seconds for a node, with the change-overs before and after it.
func (l *layout) gap(unit, i int, t, d int32) int32 {
	m := l.m
	line := l.line[unit]
	person := unit < m.people
	k := len(line)
	if l.fill == fillAll || l.fill == fillMachines && !person {
		k = l.firstAfter(unit, t)
	}
	for ; ; k++ {
		if k > 0 {
			end := l.start[line[k-1]] + l.dur[line[k-1]]
			if person {
				end += m.change(int(line[k-1]), i)
			}
			t = max(t, end)
		}
		if len(m.shut[unit]) > 0 {
			t = m.free(unit, t, d)
		}
		if k >= len(line) {
			return t
		}
		end := t + d
		if person {
			end += m.change(i, int(line[k]))
		}
		if end <= l.start[line[k]] {
			return t
		}
	}
}

// open is the first time from t on at which what a node has been given is there, with no heed to what else it does:
// pushing sees to that.
func (l *layout) open(i, person int, t, d int32) int32 {
	m := l.m
	for {
		was := t
		if person >= 0 {
			t = m.free(person, t, d)
		}
		for _, u := range l.kit[i] {
			t = m.free(int(u), t, d)
		}
		if j := m.nodes[i].job; j >= 0 && l.bay[j] >= 0 && d > 0 {
			t = m.free(int(l.bay[j]), t, d)
		}
		if t == was {
			return t
		}
	}
}

func (l *layout) commit(i int, t int32, hand int16) {
	m := l.m
	x := &m.nodes[i]
	l.start[i], l.hand[i], l.placed[i] = t, hand, true
	l.dur[i] = x.dur
	if hand >= 0 {
		l.dur[i] = x.durs[hand]
		if x.together >= 0 {
			l.group[x.together] = hand
		}
	}
	if x.pinned != nil {
		l.dur[i] = int32(x.pinned.End - x.pinned.Start)
	}
	if hand >= 0 {
		l.insert(i, int(hand))
	}
	for d, set := range x.machines {
		u := l.pick(set, i, t, l.dur[i])
		l.kit[i][d] = int16(u)
		l.insert(i, u)
	}
	if i >= m.n {
		l.moveBay(i)
	}
	l.settle(i)
}

// settle pushes back what a node just laid down asks to be pushed back, and all that must follow.
func (l *layout) settle(i int) {
	l.queue = l.queue[:0]
	l.holdBack(i)
	for len(l.queue) > 0 {
		k := l.queue[len(l.queue)-1]
		l.queue = l.queue[:len(l.queue)-1]
		l.push(k)
	}
	for _, k := range l.raised {
		l.raises[k] = 0
	}
	l.raised = l.raised[:0]
}

// moveBay notes a vehicle coming in or going out.
func (l *layout) moveBay(i int) {
	j := l.m.nodes[i].job
	if l.m.job[j].in == i {
		l.bay[j] = int16(l.emptyBay(i))
	}
	l.chain(i, int(l.bay[j]))
}

// insert puts a node into a unit's line where it starts, and ties it to what comes before and after.
func (l *layout) insert(i, unit int) {
	line := l.line[unit]
	k := len(line)
	for k > 0 && l.start[line[k-1]] > l.start[i] {
		k--
	}
	if k > 0 {
		l.tie(int(line[k-1]), i)
	}
	if k < len(line) {
		l.tie(i, int(line[k]))
	}
	line = append(line, 0)
	copy(line[k+1:], line[k:])
	line[k] = int16(i)
	l.line[unit] = line
}

// tie lets one node on a unit wait for another.
func (l *layout) tie(first, second int) {
	l.after[first] = append(l.after[first], int16(second))
	l.before[second] = append(l.before[second], int16(first))
}

// chain makes a coming in or going out the last of a bay.
func (l *layout) chain(i, unit int) {
	if k := l.last[unit]; k >= 0 {
		l.tie(int(k), i)
	}
	l.last[unit] = int16(i)
}

// mostRaises is how often one dwell may push its putting-on back while one node is laid down: each time that
// everything between them has moved too, the dwell cannot be kept in this order. Some pushes only use up slack, so a
// few are allowed.
const mostRaises = 8

// holdBack puts the putting-on of the dwells that end with a node no earlier than their longest time before it.
func (l *layout) holdBack(k int) {
	if l.broken[k] || l.soft {
		return
	}
	for _, h := range l.m.nodes[k].held {
		need := l.start[k] - h.max - l.dur[h.from]
		if l.start[h.from] >= need {
			continue
		}
		l.raised = append(l.raised, k)
		if l.raises[k]++; l.raises[k] > mostRaises {
			l.broken[k] = true
			return
		}
		l.lift(h.from, need)
	}
}

// push moves what follows a node far enough back, and the putting-on of dwells that it ends.
func (l *layout) push(k int) {
	m := l.m
	l.start[k] = l.open(k, int(l.hand[k]), l.start[k], l.dur[k])
	end := l.start[k] + l.dur[k]
	for _, a := range m.nodes[k].succ {
		l.lift(a.to, end+a.lag)
	}
	for _, j := range l.after[k] {
		walk := int32(0)
		if l.hand[k] >= 0 && l.hand[k] == l.hand[j] {
			walk = m.change(k, int(j))
		}
		l.lift(int(j), end+walk)
	}
	l.holdBack(k)
}

// lift moves a node that is laid down to a later start; what has happened does not move.
func (l *layout) lift(i int, to int32) {
	if l.placed[i] && l.start[i] < to && l.m.nodes[i].pinned == nil {
		l.start[i] = to
		l.queue = append(l.queue, i)
	}
}
