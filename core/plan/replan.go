package plan

import (
	"slices"

	"uskel/core/measure"
	"uskel/core/schedule"
)

// Progress is how far a step has come, in seconds from the timeline's zero.
type Progress struct {
	Started measure.Seconds
	Ended   measure.Seconds // 0 while it runs
	Skipped bool
	Who     string
}

// leastLeft is the share of its length that a step that runs over its time is taken to need still (model): it is not
// done, or it would have been tapped.
const leastLeft = 0.1

// Rest is the plan's work with what has happened held where it happened: done steps as they were, running ones to
// their likely end, skipped ones gone, and nothing else before now.
func (p Plan) Rest(
	job string,
	people int,
	done map[string]Progress,
	now measure.Seconds,
) ([]schedule.Work, []schedule.Lag) {
	var without []string
	if len(done) == 0 { // it has not begun: what is expected counts
		without = p.unlikely()
	}
	for id, d := range done {
		if d.Skipped {
			without = append(without, id)
		}
	}
	work, lags := p.workWithout(job, people, without)
	for i := range work {
		w := &work[i]
		d, begun := done[w.Step]
		if !begun {
			w.NotBefore = now
			continue
		}
		w.Pinned = d.pin(work, i, now)
	}
	return work, lags
}

// pin is a piece of a step that has begun: the step's time is shared out over its pieces as they were planned.
func (d Progress) pin(work []schedule.Work, i int, now measure.Seconds) *schedule.Pinned {
	all, before := measure.Seconds(0), measure.Seconds(0)
	for k, w := range work {
		if w.Step == work[i].Step {
			if k < i {
				before += w.Seconds
			}
			all += w.Seconds
		}
	}
	end := d.Ended
	if end == 0 {
		end = max(d.Started+all, now+measure.Seconds(leastLeft*float64(all)))
	}
	at := func(share measure.Seconds) measure.Seconds {
		if all == 0 {
			return d.Started
		}
		return d.Started + (end-d.Started)*share/all
	}
	return &schedule.Pinned{Start: at(before), End: at(before + work[i].Seconds), Who: d.Who}
}

// Visit is a vehicle of the day with its plan.
type Visit struct {
	ID       string
	Plan     Plan
	Place    string          // bay by id
	Arrives  measure.Seconds // s from the day's zero
	Promised measure.Seconds
	Weight   int
	Washer   string   // id of who is booked for it; anybody when empty
	Helpers  []string // ids of who else may work on it
	Beside   *Beside  // who stands beside the trainee who washes it
	Done     map[string]Progress
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
		crew := 1 + len(v.Helpers)
		work, lags := v.Plan.Rest(v.ID, crew, v.Done, now)
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
		known := slices.ContainsFunc(p.Machines, func(m schedule.Machine) bool { return m.Key() == v.Beside.attention() })
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
