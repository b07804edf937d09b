package schedule

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/measure"
)

// words says a layout as people do.
type words struct{ *layout }

// unit is a person's or a machine's name, with its number where there are several alike.
func (w words) unit(u int16) string { return w.m.names[u] }

// names are the names of the people and machines, by what the timeline names them by.
func (w words) names() map[string]string {
	names := make(map[string]string, len(w.m.keys))
	for u, key := range w.m.keys {
		names[key] = w.m.names[u]
	}
	return names
}

func (w words) slots() []Slot {
	slack := w.slack()
	slots := make([]Slot, w.m.n)
	for i := range w.m.n {
		x := w.m.p.Work[i]
		s := Slot{
			ID:       x.ID,
			Step:     x.Step,
			Title:    w.m.called(i),
			Job:      x.Job,
			Start:    measure.Seconds(w.start[i]),
			End:      measure.Seconds(w.start[i] + w.dur[i]),
			Slack:    measure.Seconds(slack[i]),
			Critical: slack[i] == 0,
			Because:  w.because(i),
		}
		if w.hand[i] >= 0 {
			s.Who = w.m.keys[w.hand[i]]
		}
		for _, u := range w.kit[i] {
			s.Machines = append(s.Machines, w.m.keys[u])
		}
		slots[i] = s
	}
	slices.SortStableFunc(slots, func(a, b Slot) int { return int(a.Start - b.Start) })
	return slots
}

// slack is how much later each node could start without the end of its vehicle moving, the order on people and
// machines being kept.
func (w words) slack() []int32 {
	m := w.m
	latest := make([]int32, len(m.nodes))
	finish := w.finishes()
	order := make([]int, len(m.nodes))
	for i := range order {
		order[i], latest[i] = i, finish[m.nodes[i].job+1]-w.dur[i]
	}
	slices.SortFunc(order, func(a, b int) int { return int(w.start[b] - w.start[a]) })
	for changed := true; changed; {
		changed = false
		for _, i := range order {
			was := latest[i]
			for _, a := range m.nodes[i].succ {
				latest[i] = min(latest[i], latest[a.to]-a.lag-w.dur[i])
			}
			for _, j := range w.after[i] {
				walk := int32(0)
				if w.hand[i] >= 0 && w.hand[i] == w.hand[j] {
					walk = m.change(i, int(j))
				}
				latest[i] = min(latest[i], latest[j]-walk-w.dur[i])
			}
			for _, h := range m.nodes[i].held {
				latest[i] = min(latest[i], latest[h.from]+w.dur[h.from]+h.max)
			}
			latest[i] = max(latest[i], w.start[i])
			changed = changed || latest[i] < was
		}
	}
	for i := range latest {
		latest[i] -= w.start[i]
	}
	return latest
}

// finishes are when each vehicle is done, the whole at 0 and vehicle j at j+1. Without promises only the whole counts.
func (w words) finishes() []int32 {
	finish := make([]int32, len(w.m.p.Jobs)+1)
	for i := range w.m.nodes {
		end := w.start[i] + w.dur[i]
		finish[0] = max(finish[0], end)
		finish[w.m.nodes[i].job+1] = max(finish[w.m.nodes[i].job+1], end)
	}
	if !slices.ContainsFunc(w.m.p.Jobs, func(j Job) bool { return j.Promised > 0 }) {
		for j := range finish {
			finish[j] = finish[0]
		}
	}
	return finish
}

// because says what an activity waits for, and what would let it start sooner.
func (w words) because(i int) string {
	m := w.m
	x := &m.nodes[i]
	at := w.start[i]
	if x.pinned != nil {
		return "It has begun: it stays where it is."
	}
	for _, h := range x.held {
		for _, a := range x.pred {
			if a.to == h.from && a.lag > 0 && at == w.start[h.from]+w.dur[h.from]+a.lag {
				return fmt.Sprintf(
					"The product of %s works until then: its shortest dwell is %s. Only a product with a shorter "+
						"one would let it start sooner.",
					quoted(m.called(h.from)),
					measure.Seconds(a.lag),
				)
			}
		}
	}
	for _, a := range x.pred {
		if a.to < m.n && at == w.start[a.to]+w.dur[a.to]+a.lag {
			if a.lag > 0 {
				return fmt.Sprintf("%s must lie %s back.", quoted(m.called(a.to)), measure.Seconds(a.lag))
			}
			return fmt.Sprintf("It waits for %s: a helper there would let it start sooner.", quoted(m.called(a.to)))
		}
	}
	for _, j := range w.before[i] {
		if s := w.behind(i, int(j)); s != "" {
			return s
		}
	}
	for k := range m.nodes {
		for _, h := range m.nodes[k].held {
			if h.from == i {
				return fmt.Sprintf("Put on no sooner, so that it is not dry before %s can begin.", quoted(m.called(k)))
			}
		}
	}
	if at == x.release && x.job >= 0 && at > 0 && int32(m.p.Jobs[x.job].Arrives) == at {
		return "The vehicle arrives then."
	}
	if at == 0 || at == x.release {
		return "Nothing holds it back."
	}
	if who := w.comes(i); who != "" {
		return who + " is not there until then."
	}
	return "Nothing has to be done sooner."
}

// comes names who or what is there again just when a node starts.
func (w words) comes(i int) string {
	units := slices.Clone(w.kit[i])
	if w.hand[i] >= 0 {
		units = append(units, w.hand[i])
	}
	if j := w.m.nodes[i].job; j >= 0 && w.bay[j] >= 0 {
		units = append(units, w.bay[j])
	}
	for _, u := range units {
		if slices.ContainsFunc(w.m.shut[u], func(s Span) bool { return int32(s.End) == w.start[i] }) {
			return w.unit(u)
		}
	}
	return ""
}

// behind says which person or machine is not free sooner because of the node before.
func (w words) behind(i, j int) string {
	m := w.m
	end := w.start[j] + w.dur[j]
	if j >= m.n {
		if w.start[i] == end {
			return "The bay is taken until then: another bay would let it start sooner."
		}
		return ""
	}
	if w.hand[i] >= 0 && w.hand[i] == w.hand[j] && w.start[i] == end+m.change(j, i) {
		return fmt.Sprintf(
			"%s is busy with %s until then: another pair of hands would let it start sooner.",
			m.names[w.hand[i]],
			quoted(m.called(j)),
		)
	}
	if w.start[i] == end {
		for _, u := range w.kit[i] {
			if slices.Contains(w.kit[j], u) {
				return fmt.Sprintf(
					"The %s is taken by %s until then: a second one would let it start sooner.",
					w.unit(u),
					quoted(m.called(j)),
				)
			}
		}
	}
	return ""
}

func quoted(title string) string { return "“" + title + "”" }

func (w words) soaks() []Soak {
	soaks := []Soak{}
	for k := range w.m.nodes {
		for _, h := range w.m.nodes[k].held {
			if h.cover {
				continue
			}
			on := w.start[h.from] + w.dur[h.from]
			s := Soak{
				From:     w.m.p.Work[h.from].ID,
				To:       w.m.p.Work[k].ID,
				Title:    w.m.called(h.from),
				Step:     w.m.p.Work[h.from].Step,
				Whole:    w.m.p.Work[h.from].whole(),
				Job:      w.m.p.Work[k].Job,
				Start:    measure.Seconds(on),
				Earliest: measure.Seconds(on),
				Latest:   measure.Seconds(on + h.max),
				End:      measure.Seconds(w.start[k]),
				Fits:     w.start[k] <= on+h.max,
			}
			for _, a := range w.m.nodes[k].pred {
				if a.to == h.from {
					s.Earliest = max(s.Earliest, measure.Seconds(on+a.lag))
				}
			}
			soaks = append(soaks, s)
		}
	}
	slices.SortStableFunc(soaks, func(a, b Soak) int { return int(a.Start - b.Start) })
	return soaks
}

func (w words) stays() []Stay {
	var stays []Stay
	for j, nodes := range w.m.job {
		if nodes.in >= 0 && w.bay[j] >= 0 {
			stays = append(stays, Stay{w.m.p.Jobs[j].ID, w.m.keys[w.bay[j]], measure.Seconds(w.start[nodes.in]),
				measure.Seconds(w.start[nodes.out])})
		}
	}
	return stays
}

// mostReasons is how many dwells that cannot be kept are named.
const mostReasons = 3

// why says which dwells cannot be kept, or which vehicles wait for a bay in vain.
func (w words) why(proven bool, inVain []int) []string {
	var why []string
	for _, i := range inVain {
		if w.comesIn(i) {
			why = append(
				why,
				fmt.Sprintf(
					"%s waits for a bay that is not empty before work on %[1]s is done.",
					w.m.p.Jobs[w.m.nodes[i].job].ID,
				),
			)
		}
	}
	for k := range w.m.nodes {
		for _, h := range w.m.nodes[k].held {
			by := w.start[h.from] + w.dur[h.from] + h.max
			if w.start[k] <= by {
				continue
			}
			why = append(why, fmt.Sprintf("%s must come off by %s, and %s be there before %s.",
				w.m.called(h.from), clock(by), w.whoCannot(k), clock(w.start[k])))
		}
	}
	if more := len(why) - mostReasons; more > 0 {
		why = append(why[:mostReasons], fmt.Sprintf("And %d more dwells like these.", more))
	}
	if len(why) == 0 {
		last := int32(0)
		for i := range w.m.nodes {
			last = max(last, w.start[i]+w.dur[i])
		}
		why = append(
			why,
			fmt.Sprintf(
				"It must all have ended by %s, and would take until %s.",
				clock(w.m.limit),
				clock(max(last, w.m.limit)),
			),
		)
	}
	if !proven {
		why = append(why, "No way round it was found in the time given; that none exists is not proven.")
	}
	return why
}

// whoCannot names those who could come, or says that nobody can.
func (w words) whoCannot(k int) string {
	var names []string
	for u := range w.m.people {
		if w.m.nodes[k].hands>>u&1 == 1 {
			names = append(names, w.m.names[u])
		}
	}
	switch len(names) {
	case 1:
		return names[0] + " cannot"
	case 2:
		return "neither " + strings.Join(names, " nor ") + " can"
	}
	return "nobody can"
}

// clock is a time since the start as people read it off a watch: minutes and seconds, hours from an hour on.
func clock(s int32) string {
	if s >= 3600 {
		return fmt.Sprintf("%d:%02d:%02d", s/3600, s/60%60, s%60)
	}
	return fmt.Sprintf("%d:%02d", int(math.Floor(float64(s)/60)), s%60)
}
