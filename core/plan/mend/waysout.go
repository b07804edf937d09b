// Package mend looks for what else could be done: ways that keep every dwell where a plan does not, what a lead asks of a
// plan, another hour, what a new version does to the cars that wait.
package mend

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/judge"
	"uskel/core/procedure"
)

// WayOut is a way to keep every dwell of a wash that does not keep them as it is: tried, laid out and held against the wet
// clock.
type WayOut struct {
	Says    string    `json:"says"`
	Minutes float64   `json:"minutes" doc:"what the wash then takes"`
	More    float64   `json:"more" doc:"min more than as it is; below 0 it is quicker"`
	At      time.Time `json:"at,omitzero" doc:"another hour"`
	Place   string    `json:"place,omitempty" doc:"id of another place"`
}

// Elsewhere is where and when else a wash may be done.
type Elsewhere struct {
	Places   []condition.Place
	Hours    []HourAir
	Promised time.Time
}

// HourAir is the weather of an hour.
type HourAir struct {
	At      time.Time
	Weather climate.Weather
}

// mostWays is how many ways out are told: the two that take least.
const mostWays = 2

// way is a wash done otherwise: another procedure, job, place or hour.
type way struct {
	says  string
	p     procedure.Procedure
	job   plan.Job
	at    time.Time
	place string
}

// WaysOut are the two ways that take least by which every dwell of a plan is kept, where it keeps them not as it is: wheels
// before the foam, the foam misted again, smaller sections, another place, another hour. A way that is harder on the paint
// by a band is none. Nothing when the plan keeps them, or nothing helps.
func WaysOut(p procedure.Procedure, job plan.Job, made plan.Plan, where Elsewhere) []WayOut {
	if judge.Keeps(made, job) {
		return nil
	}
	found := []WayOut{}
	for _, w := range slices.Concat(otherwise(p, job), elsewhere(p, job, where)) {
		then, err := fill.Resolve(w.p, w.job)
		if err != nil || judge.Band(&then) > judge.Band(&made) || !judge.Keeps(then, w.job) {
			continue
		}
		if !w.at.IsZero() && w.at.Add(time.Duration(then.Minutes*float64(time.Minute))).After(where.Promised) {
			continue
		}
		found = append(found, WayOut{w.says, then.Minutes, measure.Tenths(then.Minutes - made.Minutes), w.at, w.place})
	}
	slices.SortStableFunc(found, func(a, b WayOut) int { return cmp.Compare(a.Minutes, b.Minutes) })
	var told []WayOut
	for _, w := range found { // of the hours, and of the places, the best
		same := func(t WayOut) bool { return !w.At.IsZero() && !t.At.IsZero() || w.Place != "" && t.Place != "" }
		if len(told) < mostWays && !slices.ContainsFunc(told, same) {
			told = append(told, w)
		}
	}
	return told
}

// otherwise are the ways of doing the wash otherwise here and now.
func otherwise(p procedure.Procedure, job plan.Job) []way {
	pinned := func(fact condition.Fact, value string) plan.Job {
		other := job
		other.LookOver.Pins = maps.Clone(job.LookOver.Pins)
		if other.LookOver.Pins == nil {
			other.LookOver.Pins = map[condition.Fact]string{}
		}
		other.LookOver.Pins[fact] = value
		return other
	}
	ways := []way{
		{says: "Wheels before the foam", p: p, job: pinned(condition.WheelsWhen, condition.First)},
		{says: "Without foam", p: p, job: pinned(condition.FoamAtAll, condition.No)},
	}
	if misted, ok := mistedAgain(p); ok {
		ways = append(ways, way{says: "Mist the foam again as often as it would dry", p: misted, job: job})
	}
	if parts, ok := inSections(p); ok {
		ways = append(ways, way{says: "In sections: each foamed, washed and rinsed before the next", p: parts, job: job})
	}
	return ways
}

// elsewhere are the same wash in the shop's other places, and here at other hours.
func elsewhere(p procedure.Procedure, job plan.Job, e Elsewhere) []way {
	var ways []way
	for _, place := range e.Places {
		if place.Key() == job.LookOver.Place.Key() {
			continue
		}
		other := job
		other.LookOver.Place = place
		ways = append(ways, way{says: "In " + place.Name, p: p, job: other, place: place.Key()})
	}
	for _, h := range e.Hours {
		other := job
		other.Weather = h.Weather
		ways = append(ways, way{says: "At another hour", p: p, job: other, at: h.At})
	}
	return ways
}

// spanOf is where in its steps a procedure's foam goes on, and where it first comes off; false without one.
func spanOf(steps []procedure.Step) (on, off int, found bool) {
	on = slices.IndexFunc(steps, func(s procedure.Step) bool { return s.Act == contact.Foam && s.Dwell != nil })
	if on < 0 {
		return 0, 0, false
	}
	off = slices.IndexFunc(steps, func(s procedure.Step) bool { return slices.Contains(s.Ends, steps[on].ID) })
	return on, off, off > on
}

// mistedAgain is a procedure whose foam is wetted again before it comes off.
func mistedAgain(p procedure.Procedure) (procedure.Procedure, bool) {
	on, off, found := spanOf(p.Steps())
	if !found {
		return p, false
	}
	foam, first := p.Steps()[on], p.Steps()[off]
	mist := procedure.Step{ID: "mist-again", Title: "Mist the foam again", Text: "A fine mist all round, before it dries.",
		Zones: foam.Zones, Technique: procedure.Apply, Tool: "pump sprayer", Rewets: []string{foam.ID}, Repeats: true,
		Dwell: &procedure.Dwell{Max: foam.Dwell.Max}, Time: procedure.Time{Body: 0.8}, Skill: foam.Skill, Round: first.Round, When: foam.When}
	return p.Edited(func(stage string, steps []procedure.Step) []procedure.Step {
		at := slices.IndexFunc(steps, func(s procedure.Step) bool { return s.ID == first.ID })
		if at < 0 {
			return steps
		}
		steps = slices.Insert(steps, at, mist)
		steps[at+1].Ends = append(slices.Clone(steps[at+1].Ends), mist.ID)
		return steps
	}), true
}

// inSections is a procedure whose washing, from the foam to the rinse after the mitt, is a round over sections that the
// planner sizes; false where steps between belong to a round already.
func inSections(p procedure.Procedure) (procedure.Procedure, bool) {
	steps := p.Steps()
	on, _, found := spanOf(steps)
	last := -1
	for i, s := range steps {
		if s.Technique == procedure.Rinse && i > on && slices.ContainsFunc(steps[:i], procedure.Step.Touches) {
			last = i
			break
		}
	}
	if !found || last < 0 || slices.ContainsFunc(steps[on:last+1], func(s procedure.Step) bool { return s.Round != "" }) {
		return p, false
	}
	in := map[string]bool{}
	for _, s := range steps[on : last+1] {
		in[s.ID] = true
	}
	const round = "in-sections"
	parts := p.Edited(func(_ string, steps []procedure.Step) []procedure.Step {
		for i := range steps {
			if in[steps[i].ID] {
				steps[i].Round = round
				if steps[i].Technique == procedure.Prepare {
					steps[i].Once, steps[i].During = procedure.OnceBefore, ""
				}
			}
		}
		return steps
	})
	parts.Rounds = append(slices.Clone(p.Rounds), procedure.Round{ID: round, Title: "Section by section", Over: procedure.OverSections,
		Order: procedure.SunnyFirst})
	return parts, parts.Check() == nil
}

// Words says a way out as a lead would, with a clock of the shop.
func (w WayOut) Words(clock func(time.Time) string) string {
	says := w.Says
	if !w.At.IsZero() {
		says = "At " + clock(w.At)
	}
	switch {
	case w.More >= 1:
		return fmt.Sprintf("%s: %.0f min, %.0f more.", says, w.Minutes, w.More)
	case w.More <= -1:
		return fmt.Sprintf("%s: %.0f min, %.0f less.", says, w.Minutes, -w.More)
	}
	return fmt.Sprintf("%s: %.0f min, as long as it is.", says, w.Minutes)
}
