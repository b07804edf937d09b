// Package wet holds a plan that was laid out against the wet clock: what dries, what stays on too long, where water spots
// are left.
package wet

import (
	"fmt"
	"slices"
	"strings"

	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// WetActs is what a laid-out plan does to the vehicle, as the wet clock follows it: every piece of the work with its part
// of its step's route, what it leaves on and what it takes off. What is put on and taken off inside one piece, wheel by
// wheel, is not followed.
func WetActs(p plan.Plan, work []schedule.Work, t schedule.Timeline, body vehicle.Body) []film.Act {
	places := map[string]schedule.Place{}
	for _, w := range work {
		places[w.ID] = w.At
	}
	pieces := map[string][]schedule.Slot{}
	for _, s := range t.Slots {
		pieces[s.Step] = append(pieces[s.Step], s)
	}
	ids := func(steps []string) []string {
		var of []string
		for _, step := range steps {
			for _, s := range pieces[step] {
				of = append(of, s.ID)
			}
		}
		return of
	}
	var acts []film.Act
	for _, step := range p.Likely() {
		slots := pieces[step.ID]
		slices.SortStableFunc(slots, func(a, b schedule.Slot) int { return int(a.Start - b.Start) })
		parts := step.Parts(body)
		for k, s := range slots {
			part := sectionOf(p, step, parts, body, k, len(slots))
			if at := places[s.ID]; at != schedule.Around {
				part = slices.DeleteFunc(slices.Clone(parts), func(p vehicle.Part) bool { return !isAt(p.Zone, at) })
			}
			act := film.Act{ID: s.ID, Start: s.Start, End: s.End, Route: step.Route(part), Off: ids(step.Ends), Wets: ids(step.Rewets)}
			if step.Dwell != nil && !step.Dwell.Each && !step.Dwell.Waits {
				act.On = &film.Coat{Film: step.Film(), Product: true, Least: step.Dwell.Least,
					Most: step.Dwell.Full + step.Dwell.Spread - step.Dwell.Strict(), MayDry: step.Dwell.MayDry}
			}
			acts = append(acts, act)
		}
	}
	return acts
}

// ends are how the ids of zones end that lie at a place.
var ends = map[schedule.Place]string{
	schedule.FrontLeft:  "-fl",
	schedule.FrontRight: "-fr",
	schedule.RearRight:  "-rr",
	schedule.RearLeft:   "-rl",
	schedule.LeftSide:   "-left",
	schedule.RightSide:  "-right",
}

// isAt reports whether a zone is worked on from a place: a wheel from its corner, a side from that side. What lies
// between the sides is done with the left one.
func isAt(z vehicle.Zone, at schedule.Place) bool {
	if at == schedule.LeftSide {
		return !strings.HasSuffix(string(z), ends[schedule.RightSide])
	}
	return strings.HasSuffix(string(z), ends[at])
}

// sectionOf is the k-th piece of a step. What takes a product off follows the product's own sections: what was put on together
// comes off together, and the rest of the vehicle is shared out beside.
func sectionOf(p plan.Plan, s plan.FilledStep, parts []vehicle.Part, body vehicle.Body, k, of int) []vehicle.Part {
	var most plan.FilledStep // the product on the most zones
	for _, id := range s.Ends {
		at := slices.IndexFunc(p.Steps, func(t plan.FilledStep) bool { return t.ID == id && t.Dwell != nil && t.Dwell.Sections == of })
		if at >= 0 && len(p.Steps[at].Zones) > len(most.Zones) {
			most = p.Steps[at]
		}
	}
	if of == 1 || len(most.Zones) == 0 {
		return section(parts, k, of)
	}
	own := func(x vehicle.Part) bool { return slices.Contains(most.Zones, x.Zone) }
	part := section(slices.DeleteFunc(slices.Clone(parts), own), k, of)
	for _, x := range section(most.Parts(body), k, of) {
		if slices.Contains(s.Zones, x.Zone) {
			part = append(part, x)
		}
	}
	return part
}

// section is the k-th of so many sections that a step is done in: whole zones, of the same area as nearly as may be, from
// the top. What puts a product on and what takes it off share their sections, whichever way each goes inside them.
func section(parts []vehicle.Part, k, of int) []vehicle.Part {
	byZone := map[vehicle.Zone]vehicle.Part{}
	for _, p := range parts {
		byZone[p.Zone] = p
	}
	var part []vehicle.Part
	for _, leg := range film.Down(parts) {
		if middle := (leg.From + leg.To) / 2; int(middle*float64(of)) == k {
			part = append(part, byZone[leg.Zone])
		}
	}
	return part
}

// noticed is the least by which a fault is spoken of: the model of drying is no finer (model).
const noticed = 15 * measure.Second

// WetFaults is what the wet clock finds wrong with the plan as it is laid out, the worst first.
func WetFaults(p plan.Plan, work []schedule.Work, t schedule.Timeline, job plan.Job) []plan.WetFault {
	steps := map[string]string{}
	for _, s := range t.Slots {
		steps[s.ID] = s.Step
	}
	faults := []plan.WetFault{}
	for _, w := range film.Check(WetActs(p, work, t, job.Vehicle.Body), job.Windows()) {
		if w.Outcome == film.Kept || w.Outcome != film.LeftOn && w.By < noticed {
			continue
		}
		step := steps[w.On]
		at := slices.IndexFunc(faults, func(f plan.WetFault) bool { return f.Step == step && f.Outcome == w.Outcome })
		if at < 0 {
			faults = append(faults, plan.WetFault{Step: step, Outcome: w.Outcome, At: w.At})
			at = len(faults) - 1
		}
		f := &faults[at]
		f.By, f.At = max(f.By, w.By), min(f.At, w.At)
		if !slices.Contains(f.Zones, w.Zone) {
			f.Zones = append(f.Zones, w.Zone)
		}
	}
	for i := range faults {
		faults[i].Says = wetWords(p, faults[i])
	}
	slices.SortStableFunc(faults, func(a, b plan.WetFault) int { return int(b.By - a.By) })
	return faults
}

// Dries reports whether anything dries by the plan as it is laid out: then no spread of times is needed to say so.
func Dries(faults []plan.WetFault) bool {
	return slices.ContainsFunc(faults, func(f plan.WetFault) bool { return f.Outcome == film.Dried })
}

// wetWords says a fault as a lead would.
func wetWords(p plan.Plan, f plan.WetFault) string {
	where := whereabouts(f.Zones)
	title := p.TitleOf(f.Step)
	switch f.Outcome {
	case film.TooSoon:
		return fmt.Sprintf("%s is touched %s too soon: %s.", title, f.By, where)
	case film.OverLabel:
		return fmt.Sprintf("%s stays on up to %s past its time: %s.", title, f.By, where)
	case film.Dried:
		return fmt.Sprintf("%s dries up to %s before it comes off: %s.", title, f.By, where)
	}
	return fmt.Sprintf("Nothing takes %s off: %s.", title, where)
}

// whereabouts names some zones: the first few, and how many more.
func whereabouts(zones []vehicle.Zone) string {
	var named []string
	for _, z := range zones[:min(shownZones, len(zones))] {
		named = append(named, z.Label())
	}
	if more := len(zones) - len(named); more > 0 {
		named = append(named, fmt.Sprintf("%d more", more))
	}
	return strings.Join(named, "; ") // labels have commas of their own
}

// shownZones is how many zones a sentence names.
const shownZones = 4
