// Package day lays the visits of a day out together: who washes which vehicle when, what does not work out, what an
// absence moves, which slots are proposed.
package day

import (
	"slices"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/schedule"
)

// Visit is a vehicle of the day with its plan.
type Visit struct {
	ID       string
	Plan     plan.Plan
	Place    string          // bay by id
	Arrives  measure.Seconds // s from the day's zero
	Promised measure.Seconds
	Weight   int
	Washer   string       // id of who is booked for it; anybody when empty
	Helpers  []string     // ids of who else may work on it
	Beside   *plan.Beside // who stands beside the trainee who washes it
	Done     map[string]crew.Progress
}

// Day lays several vehicles out as one problem: each in a bay of its place from first to last, in the hands of the
// washer booked for it, or of one person whom the solver chooses. What the booked washer is not signed off for falls
// to one helper who is.
func Day(visits []Visit, people []schedule.Person, machines []schedule.Machine, now measure.Seconds) schedule.Problem {
	p := schedule.Problem{People: people, Machines: machines}
	for _, v := range visits {
		p.Jobs = append(
			p.Jobs,
			schedule.Job{ID: v.ID, Arrives: v.Arrives, Promised: v.Promised, Weight: v.Weight, Bays: []string{v.Place}},
		)
		work, lags := crew.Rest(v.Plan, v.ID, 1+len(v.Helpers), v.Done, now)
		for i := range work {
			v.assign(&work[i], people)
		}
		if washer, here := v.washer(people); v.Beside != nil && here {
			v.Beside.Stand(work, washer)
		}
		p.Work, p.Lags = append(p.Work, work...), append(p.Lags, lags...)
	}
	attend(&p, visits)
	p.Equip()
	return p
}

// washer is the person booked for the visit, if they are among some people.
func (v Visit) washer(people []schedule.Person) (schedule.Person, bool) {
	at := slices.IndexFunc(people, func(p schedule.Person) bool { return p.Key() == v.Washer })
	if at < 0 {
		return schedule.Person{}, false
	}
	return people[at], true
}

// attend puts everybody who stands beside a trainee into the day as what takes their attention.
func attend(p *schedule.Problem, visits []Visit) {
	for _, v := range visits {
		at := slices.IndexFunc(p.People, func(x schedule.Person) bool { return v.Beside != nil && x.Key() == v.Beside.Trainer })
		if at < 0 {
			continue
		}
		known := slices.ContainsFunc(p.Machines, func(m schedule.Machine) bool { return m.Key() == v.Beside.Attention() })
		if !known {
			p.Machines = append(slices.Clone(p.Machines), v.Beside.Machine(p.People[at].Name))
		}
		v.Beside.Attend(p.Work, p.People)
	}
}

// assign says who may do a piece of a visit's work.
func (v Visit) assign(w *schedule.Work, people []schedule.Person) {
	if w.Unattended || w.Pinned != nil {
		return
	}
	at := slices.IndexFunc(people, func(p schedule.Person) bool { return p.Key() == v.Washer })
	switch {
	case at >= 0 && (w.Skill == "" || slices.Contains(people[at].Skills, w.Skill)):
		w.Only = append([]string{v.Washer}, v.Helpers...)
	case at >= 0:
		w.Together = v.ID + " helper"
	default:
		w.Together = v.ID
	}
}
