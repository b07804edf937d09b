package reference

import (
	"fmt"
	"slices"
	"strings"

	"uskel/core/schedule"
)

// Model writes a problem for MiniZinc. It is a formulation of its own, straight from the problem's meaning: a start
// and a person for each activity, people by disjunctions with change-overs, machines by cumulative, the least finish
// as the aim. A known finish may be given to start from; 0 for none.
func Model(p schedule.Problem, known int) string {
	w := writer{p: p, index: map[string]int{}}
	for i, x := range p.Work {
		w.index[x.ID] = i + 1
	}
	w.header()
	w.people()
	w.lags()
	w.machines()
	w.groups()
	w.bays()
	w.line("constraint forall(i in 1..n)(s[i] + d[i] <= finish);")
	w.line("constraint finish >= %d;", w.bound())
	if known > 0 {
		w.line("constraint finish <= %d;", known)
	}
	w.line("constraint cumulative(s, d, [1 | i in 1..n], people);")
	w.line(
		"solve :: seq_search([int_search(o, dom_w_deg, indomain_max), int_search(who, first_fail, indomain_min), " +
			"int_search(s, smallest, indomain_min), int_search([finish], input_order, indomain_min)]) minimize finish;",
	)
	w.line(`output [show(finish), "\n"];`)
	return w.b.String()
}

type writer struct {
	p     schedule.Problem
	b     strings.Builder
	index map[string]int
	pairs int
}

func (w *writer) line(format string, args ...any) { fmt.Fprintf(&w.b, format+"\n", args...) }

func list[T any](xs []T, say func(T) string) string {
	parts := make([]string, len(xs))
	for i, x := range xs {
		parts[i] = say(x)
	}
	return "[" + strings.Join(parts, ",") + "]"
}

func (w *writer) header() {
	horizon := int(w.p.Horizon)
	if horizon == 0 {
		for _, x := range w.p.Work {
			horizon += int(x.Seconds)*2 + 60
		}
		for _, l := range w.p.Lags {
			horizon += int(l.Min)
		}
		latest := 0
		for _, j := range w.p.Jobs {
			latest = max(latest, int(j.Arrives))
		}
		horizon += latest
	}
	w.line(`include "cumulative.mzn";`)
	w.line("int: n = %d; int: horizon = %d; int: people = %d;", len(w.p.Work), horizon, len(w.p.People))
	w.line(
		"array[1..n] of var 0..horizon: s; array[1..n] of var 0..horizon: d; array[1..n] of var 1..people: who; " +
			"var 0..horizon: finish;",
	)
	for i, x := range w.p.Work {
		for _, j := range w.p.Jobs {
			if j.ID == x.Job && j.Arrives > 0 {
				w.line("constraint s[%d] >= %d;", i+1, int(j.Arrives))
			}
		}
	}
}

// able is who may do an activity, as a set of bits.
func (w *writer) able(x schedule.Work) uint64 {
	set := uint64(0)
	for k, who := range w.p.People {
		if x.Skill == "" || slices.Contains(who.Skills, x.Skill) {
			set |= 1 << k
		}
	}
	return set
}

func (w *writer) people() {
	for i, x := range w.p.Work {
		var who []string
		lengths := make([]string, len(w.p.People))
		for k, person := range w.p.People {
			lengths[k] = fmt.Sprint((int(x.Seconds)*person.Pace + 99) / 100)
			if w.able(x)>>k&1 == 1 {
				who = append(who, fmt.Sprint(k+1))
			}
		}
		w.line(
			"constraint who[%d] in {%s} /\\ d[%d] = [%s][who[%d]];",
			i+1,
			strings.Join(who, ","),
			i+1,
			strings.Join(lengths, ","),
			i+1,
		)
	}
	before := w.closure()
	var orders []string
	for i := range w.p.Work {
		for j := i + 1; j < len(w.p.Work); j++ {
			a, b := w.p.Work[i], w.p.Work[j]
			if w.able(a)&w.able(b) == 0 {
				continue
			}
			ab, ba := schedule.ChangeOver(a, b), schedule.ChangeOver(b, a)
			forward := fmt.Sprintf("s[%d] + d[%d] + %d <= s[%d]", i+1, i+1, ab, j+1)
			back := fmt.Sprintf("s[%d] + d[%d] + %d <= s[%d]", j+1, j+1, ba, i+1)
			same := fmt.Sprintf("who[%d] = who[%d] -> ", i+1, j+1)
			if len(w.p.People) == 1 {
				same = ""
			}
			switch {
			case before[i][j]:
				w.line("constraint %s%s;", same, forward)
			case before[j][i]:
				w.line("constraint %s%s;", same, back)
			default:
				w.pairs++
				name := fmt.Sprintf("o%d", w.pairs)
				orders = append(orders, name)
				w.line(
					"var 0..1: %s; constraint %s(%s = 1 -> %s) /\\ (%s = 0 -> %s);",
					name,
					same,
					name,
					forward,
					name,
					back,
				)
			}
		}
	}
	if len(orders) == 0 {
		orders = []string{"0"}
	}
	w.line("array[int] of var 0..1: o = [%s];", strings.Join(orders, ","))
}

func (w *writer) closure() [][]bool {
	n := len(w.p.Work)
	before := make([][]bool, n)
	for i := range before {
		before[i] = make([]bool, n)
	}
	for _, l := range w.p.Lags {
		before[w.index[l.From]-1][w.index[l.To]-1] = true
	}
	for k := range n {
		for i := range n {
			for j := range n {
				before[i][j] = before[i][j] || before[i][k] && before[k][j]
			}
		}
	}
	return before
}

func (w *writer) lags() {
	for _, l := range w.p.Lags {
		from, to := w.index[l.From], w.index[l.To]
		w.line("constraint s[%d] >= s[%d] + d[%d] + %d;", to, from, from, int(l.Min))
		if l.Max != nil {
			w.line("constraint s[%d] <= s[%d] + d[%d] + %d;", to, from, from, int(*l.Max))
		}
	}
}

func (w *writer) machines() {
	for _, m := range w.p.Machines {
		var uses []int
		for i, x := range w.p.Work {
			if slices.Contains(x.Uses, m.Name) {
				uses = append(uses, i+1)
			}
		}
		if len(uses) > m.Count {
			ids := list(uses, func(i int) string { return fmt.Sprint(i) })
			w.line(
				"constraint cumulative([s[i] | i in %s], [d[i] | i in %s], [1 | i in %s], %d);",
				ids,
				ids,
				ids,
				m.Count,
			)
		}
	}
}

func (w *writer) groups() {
	first := map[string]int{}
	for i, x := range w.p.Work {
		if x.Together == "" {
			continue
		}
		if f, known := first[x.Together]; known {
			w.line("constraint who[%d] = who[%d];", i+1, f)
		} else {
			first[x.Together] = i + 1
		}
	}
}

// bays lets every vehicle that needs one stand in a bay from its first activity to its last. The problems here have
// one kind of bay.
func (w *writer) bays() {
	var stays []string
	count := 0
	for j, job := range w.p.Jobs {
		var mine []int
		for i, x := range w.p.Work {
			if x.Job == job.ID {
				mine = append(mine, i+1)
			}
		}
		if len(job.Bays) != 1 || len(mine) == 0 {
			continue
		}
		for _, m := range w.p.Machines {
			if m.Name == job.Bays[0] {
				count = m.Count
			}
		}
		w.line("var 0..horizon: in%d; var 0..horizon: stay%d;", j, j)
		for _, i := range mine {
			w.line("constraint in%d <= s[%d] /\\ s[%d] + d[%d] <= in%d + stay%d;", j, i, i, i, j, j)
		}
		stays = append(stays, fmt.Sprint(j))
	}
	if len(stays) > count && count > 0 {
		say := func(what string) string { return list(stays, func(j string) string { return what + j }) }
		w.line(
			"constraint cumulative(%s, %s, %s, %d);",
			say("in"),
			say("stay"),
			list(stays, func(string) string { return "1" }),
			count,
		)
	}
}

// bound is what the work takes shared evenly: it only helps the solver to stop once it is reached.
func (w *writer) bound() int {
	work := 0
	for _, x := range w.p.Work {
		least := 0
		for k, who := range w.p.People {
			if d := (int(x.Seconds)*who.Pace + 99) / 100; w.able(x)>>k&1 == 1 && (least == 0 || d < least) {
				least = d
			}
		}
		work += least
	}
	return (work + len(w.p.People) - 1) / len(w.p.People)
}
