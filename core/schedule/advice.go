package schedule

import (
	"fmt"
	"slices"
	"strings"
)

// relief is a change that might make an impossible problem possible.
type relief struct {
	words   string
	problem Problem
}

// reliefs are the changes that a shop can make for a day: one more person who may do everything, and one more of each
// machine or bay.
func reliefs(p Problem) []relief {
	all := []relief{{"one more person", p.with(helper(p))}}
	for i, m := range p.Machines {
		if !p.needs(m.Key()) {
			continue
		}
		more := p
		more.Machines = slices.Clone(p.Machines)
		more.Machines[i].Count++
		words := "one more " + m.Name
		if m.Count == 1 {
			words = "a second " + m.Name
		}
		all = append(all, relief{words, more})
	}
	return all
}

// helper is somebody with every skill that the work asks for, there when the first person is.
func helper(p Problem) Person {
	h := Person{ID: "one more", Name: "one more person"}
	for k := 2; slices.ContainsFunc(p.People, func(x Person) bool { return x.Key() == h.ID }); k++ {
		h.ID = fmt.Sprint("one more ", k)
	}
	for _, w := range p.Work {
		if w.Skill != "" && !slices.Contains(h.Skills, w.Skill) {
			h.Skills = append(h.Skills, w.Skill)
		}
	}
	if len(p.People) > 0 {
		h.Shut = p.People[0].Shut
	}
	return h
}

func (p Problem) with(person Person) Problem {
	p.People = append(slices.Clone(p.People), person)
	return p
}

// needs reports whether anything asks for a machine.
func (p Problem) needs(machine string) bool {
	return slices.ContainsFunc(p.Work, func(w Work) bool { return slices.Contains(w.Uses, machine) }) ||
		slices.ContainsFunc(p.Jobs, func(j Job) bool { return slices.Contains(j.Bays, machine) })
}

const (
	adviceShare = 4     // of the effort, for each change tried
	adviceLeast = 4_000 // effort below which nothing is tried: such a timeline is for the words of a refusal alone
)

// advice says what would make an impossible problem possible. Each change is laid out, and only what helps is named.
func advice(p Problem, o Options) string {
	effort := o.Effort
	if effort == 0 {
		effort = DefaultEffort
	}
	if effort < adviceLeast {
		return ""
	}
	try := func(p Problem) Timeline {
		return layOut(p, Options{Seed: o.Seed, Effort: effort / adviceShare, Stop: o.Stop})
	}
	var helps, tried []string
	for _, r := range reliefs(p) {
		if tried = append(tried, r.words); try(r.problem).Feasible {
			helps = append(helps, r.words)
		}
	}
	if p.Horizon > 0 {
		open := p
		open.Horizon = 0
		if t := try(open); t.Feasible {
			helps = append(helps, fmt.Sprintf("time until %s", clock(int32(t.Finish))))
		}
	}
	switch {
	case o.Stop != nil && o.Stop():
		return ""
	case len(helps) > 0:
		return "It is possible with " + strings.Join(helps, ", or with ") + "."
	}
	return fmt.Sprintf(
		"Not made possible by %s: do fewer parts at a time, take a product that may stay longer, or leave something out.",
		strings.Join(tried, ", nor by "),
	)
}
