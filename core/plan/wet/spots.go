package wet

import (
	"fmt"
	"math"
	"slices"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// Spots is what the wet clock says of suds and of the rinse's water in the plan as it is laid out, on paint and glass.
func Spots(p plan.Plan, work []schedule.Work, t schedule.Timeline, job plan.Job) []plan.Spot {
	acts := wetWork(p, work, t, job.Vehicle.Body)
	found := []plan.Spot{}
	for _, w := range film.Check(acts, job.Windows()) {
		late := w.Outcome == film.Dried && w.By >= noticed || w.Outcome == film.LeftOn
		if w.Film == climate.SudsFilm && w.Outcome == film.Dried && w.Window >= panelWash {
			continue // the car is rinsed after so many panels as the plan says
		}
		part, err := job.Vehicle.Body.Part(w.Zone)
		if !late || err != nil || !procedure.Outside.Has(part) {
			continue
		}
		suds := w.Film == climate.SudsFilm
		at := slices.IndexFunc(found, func(s plan.Spot) bool { return s.Suds == suds })
		if at < 0 {
			found, at = append(found, plan.Spot{Suds: suds}), len(found)
		}
		s := &found[at]
		s.By = max(s.By, w.By)
		s.Left = max(s.Left, math.Round(residue(p, part, job)))
		if !slices.Contains(s.Zones, w.Zone) {
			s.Zones = append(s.Zones, w.Zone)
		}
	}
	for i := range found {
		found[i].Says = words(found[i])
	}
	return found
}

// panelWash is what a panel of 0.8 m2 takes under the mitt (docs/models.md: 0.45 to 0.6 min a m2): suds that stay wet so
// long can be rinsed before they dry, if the car is rinsed after every panel.
const panelWash = 30 * measure.Second

// beadedWater is how much of the water stays on paint that beads (docs/models.md).
const beadedWater = 0.5

// residue is what the water of the last rinse leaves where it dries on a part, mg/m2.
func residue(p plan.Plan, part vehicle.Part, job plan.Job) float64 {
	grams := climate.DrainedWater.Grams(part.Facing)
	if job.LookOver.Protection.Water == condition.Beads {
		grams *= beadedWater
	}
	return climate.Residue(p.LastWater(job), grams)
}

// wetWork is what a laid-out plan does to the vehicle with suds and water: each ends what lay there before.
func wetWork(p plan.Plan, work []schedule.Work, t schedule.Timeline, body vehicle.Body) []film.Act {
	acts := WetActs(p, work, t, body)
	steps := map[string]plan.FilledStep{}
	for _, s := range t.Slots {
		at := slices.IndexFunc(p.Steps, func(f plan.FilledStep) bool { return f.ID == s.Step })
		if at >= 0 {
			steps[s.ID] = p.Steps[at]
		}
	}
	last := 0 // the last step after which nothing is washed any more: water that dries sooner is washed over
	for i, s := range p.Steps {
		if !s.Unlikely() && (s.Touches() || s.Technique == procedure.Apply) {
			last = i
		}
	}
	var wet []film.Act
	var ids []string
	for _, a := range acts {
		s := steps[a.ID]
		if !dried(s) {
			continue
		}
		a.On, a.Wets = nil, nil
		left, there := lies(s)
		stays := s.Touches() || slices.IndexFunc(p.Steps, func(f plan.FilledStep) bool { return f.ID == s.ID }) > last
		if there && stays {
			a.On = &film.Coat{Film: left}
		}
		wet, ids = append(wet, a), append(ids, a.ID)
	}
	for i := range wet {
		own := wet[i].ID
		wet[i].Off = slices.DeleteFunc(slices.Clone(ids), func(id string) bool { return id == own })
	}
	return wet
}

func words(s plan.Spot) string {
	where := whereabouts(s.Zones)
	if s.Suds {
		return fmt.Sprintf("Suds dry up to %s before they are rinsed: streaks on %s.", s.By, where)
	}
	shows := "hardly seen"
	if s.Left > plan.SpotsShow {
		shows = "they will show"
	}
	if s.By == 0 {
		return fmt.Sprintf("Nothing dries the water on %s: spots of %.0f mg/m², %s.", where, s.Left, shows)
	}
	return fmt.Sprintf("Water dries up to %s before it is taken off: spots of %.0f mg/m² on %s, %s.", s.By, s.Left, where, shows)
}

// lies is the film that a step leaves on the paint that is no product: suds after a cloth, water after a rinse.
func lies(s plan.FilledStep) (climate.Film, bool) {
	switch {
	case s.Technique == procedure.ContactWash, s.Technique == procedure.ContactTowel:
		return climate.SudsFilm, true
	case s.Technique == procedure.Rinse:
		return climate.DrainedWater, true
	}
	return "", false
}

// dried reports whether a step ends what lies on the paint: it wets it anew, washes over it, or dries it.
func dried(s plan.FilledStep) bool {
	return s.Touches() || slices.Contains([]procedure.Technique{procedure.Rinse, procedure.Apply, procedure.Dry}, s.Technique)
}
