package plan

import (
	"slices"
	"strings"

	"uskel/core/climate"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// Windows are how long films stay wet on the job's vehicle, zone by zone, in the weather that the job is planned for.
func (j Job) Windows() film.Window {
	here := j.Weather.Under(j.LookOver.Place.Cover)
	known := map[wetPanel]measure.Seconds{}
	return func(zone vehicle.Zone, of climate.Film, _ measure.Seconds) measure.Seconds {
		part, err := j.Vehicle.Body.Part(zone)
		if err != nil {
			return 0
		}
		key := wetPanel{part.Facing, part.Surface, of}
		if _, there := known[key]; !there {
			panel := climate.Panel{Facing: part.Facing, Surface: part.Surface, Shade: j.Vehicle.Shade,
				Heading: j.LookOver.Place.Heading}
			known[key] = measure.SecondsOf(here.Dry(panel, of).Window)
		}
		return known[key]
	}
}

// WetActs is what a laid-out plan does to the vehicle, as the wet clock follows it: every piece of the work with its part
// of its step's route, what it leaves on and what it takes off. What is put on and taken off inside one piece, wheel by
// wheel, is not followed.
func (p Plan) WetActs(work []schedule.Work, t schedule.Timeline, body vehicle.Body) []film.Act {
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
	for _, step := range p.Steps {
		slots := pieces[step.ID]
		slices.SortStableFunc(slots, func(a, b schedule.Slot) int { return int(a.Start - b.Start) })
		whole := step.route(body)
		for k, s := range slots {
			part := cutRoute(whole, float64(k)/float64(len(slots)), float64(k+1)/float64(len(slots)))
			if at := places[s.ID]; at != schedule.Around {
				part = film.Down(slices.DeleteFunc(step.parts(body), func(p vehicle.Part) bool { return !isAt(p.Zone, at) }))
			}
			act := film.Act{ID: s.ID, Start: s.Start, End: s.End, Route: part, Off: ids(step.Ends), Wets: ids(step.Rewets)}
			if step.Dwell != nil && !step.Dwell.Each {
				act.On = &film.Coat{Film: step.film(), Product: true, Least: step.Dwell.From, Most: step.Dwell.Full}
			}
			acts = append(acts, act)
		}
	}
	return acts
}

// film is what a filled step leaves to dry.
func (s FilledStep) film() climate.Film {
	if s.foams() {
		return climate.FoamFilm
	}
	return climate.SprayFilm
}

// parts are the parts of a body that the step works on.
func (s FilledStep) parts(body vehicle.Body) []vehicle.Part {
	return slices.DeleteFunc(slices.Clone(body.Parts()), func(p vehicle.Part) bool { return !slices.Contains(s.Zones, p.Zone) })
}

// route is the way a step goes over its zones: from the top, unless it was settled that it comes up.
func (s FilledStep) route(body vehicle.Body) []film.Leg {
	if s.Way == WayUp {
		return film.Up(s.parts(body))
	}
	return film.Down(s.parts(body))
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

// cutRoute is the part of a route from one share to another, stretched to fill its own time.
func cutRoute(route []film.Leg, from, to float64) []film.Leg {
	var part []film.Leg
	for _, leg := range route {
		a, b := max(leg.From, from), min(leg.To, to)
		if b-a > 1e-9 {
			part = append(part, film.Leg{Zone: leg.Zone, From: (a - from) / (to - from), To: (b - from) / (to - from), Back: leg.Back})
		}
	}
	return part
}
