package plan

import (
	"cmp"
	"slices"
	"strings"

	"uskel/core/contact"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// Spot is clean water or suds that dry on the car by a plan as it is laid out: no dwell that is not kept, but spots or
// streaks.
type Spot struct {
	Suds  bool            `json:"suds,omitempty" doc:"suds, which leave streaks; else water, which leaves spots"`
	Zones []vehicle.Zone  `json:"zones"`
	By    measure.Seconds `json:"by" doc:"how long before it is taken off it dries at the worst zone, s; 0 when nothing takes it off"`
	Left  float64         `json:"left" doc:"mg/m2 of minerals at the worst zone"`
	Says  string          `json:"says"`
}

// MittMeets is what the first step with a mitt meets: zones and the grit left on them; none without such a step.
func (p Plan) MittMeets() []contact.Patch {
	for _, s := range p.Likely() {
		if s.Contact != nil {
			return s.Patches
		}
	}
	return nil
}

// pureWater is what a deioniser leaves dissolved, mg/l (common practice: the cartridge is changed from some 10 on).
const pureWater = 5

// LastWater is what is dissolved in the water that stays on the car, mg/l: that of the place, or the shop's, or next to
// nothing where the last rinse is deionised.
func (p Plan) LastWater(job Job) float64 {
	solids := cmp.Or(job.LookOver.Place.Solids, job.Solids)
	for _, s := range slices.Backward(p.Steps) {
		if s.Technique == procedure.Rinse && !s.Unlikely() {
			if s.Water == procedure.Deionised && job.LookOver.Place.Deion {
				return min(solids, pureWater)
			}
			break
		}
	}
	return solids
}

// SpotsShow is the residue, mg/m2, from which spots are seen on a dark panel (model).
const SpotsShow = 12

// TowelHolds is what a drying towel holds by what it is called, g.
func TowelHolds(cloth string) float64 {
	switch {
	case strings.Contains(cloth, "waffle"):
		return film.WaffleTowel
	case strings.Contains(cloth, "small"):
		return film.SmallTowel
	}
	return film.LargeTowel
}

// WetFault is a product of a laid-out plan that is not taken off in time, on the zones where that is so.
type WetFault struct {
	Step    string          `json:"step"`
	Outcome film.Outcome    `json:"outcome"`
	Zones   []vehicle.Zone  `json:"zones"`
	By      measure.Seconds `json:"by" doc:"at the worst of them, s"`
	At      measure.Seconds `json:"at" doc:"from when on at the first of them, s from the timeline's beginning"`
	Says    string          `json:"says"`
}
