package fill

import (
	"fmt"

	"uskel/core/climate"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// cautions adds what the watch list and the car ask for to a step's own cautions.
func (f *filler) cautions(s procedure.Step) []string {
	cautions := append([]string{}, s.Cautions...)
	jet := s.Technique == procedure.Rinse || s.Technique == procedure.Apply && s.Machine != ""
	if jet {
		for _, w := range []vehicle.Watch{vehicle.FilmEdges, vehicle.OpenTop, vehicle.StoneChips} {
			if f.job.LookOver.Watching(w) {
				cautions = append(cautions, w.Means())
			}
		}
		if roof, err := f.job.Vehicle.Body.Part(vehicle.Roof); err == nil && roof.Surface == vehicle.Fabric {
			cautions = append(cautions, "Soft top: lance far away, rinse with the pile, never at the seams.")
		}
		if f.job.Vehicle.Electric {
			cautions = append(cautions, "Electric: charge flap shut; no jet at the port or at high-voltage parts.")
		}
	}
	if s.Technique == procedure.ContactWash && f.job.LookOver.Watching(vehicle.GlossBlack) {
		cautions = append(cautions, vehicle.GlossBlack.Means())
	}
	if s.Zones == procedure.AllWheels && s.Technique == procedure.Agitate && f.job.Vehicle.Wheels.Bare {
		cautions = append(cautions, "Dark or bare-metal wheels: soft mitt on the face, no stiff bristle, no acid.")
	}
	return cautions
}

// warn adds what the whole plan says about budget and dwell.
func (f *filler) warn() {
	if b := f.service.There(f.job.LookOver.Budget); b > 0 && f.plan.Minutes > float64(b) {
		f.plan.Warnings = append(
			f.plan.Warnings,
			fmt.Sprintf(
				"It takes %.0f min and there are %d: promise later, add a person, choose a shorter wash, or drop "+
					"what is named below. Never a rinse or the pre-wash.",
				f.plan.Minutes,
				b,
			),
		)
	}
	f.plan.Warnings = append(f.plan.Warnings, f.plan.Line.Late...)
	f.plan.Warnings = append(f.plan.Warnings, f.unshelved()...)
	f.plan.Warnings = append(f.plan.Warnings, climate.Cautions(f.here)...)
	if f.here.Rain > 0 {
		f.plan.Warnings = append(f.plan.Warnings, fmt.Sprintf("Rain at that hour, %.1f mm/h: nothing dries, and protection put on "+
			"then does not hold. Rain water leaves dust: dry it under a roof.", f.here.Rain))
	}
	solids := f.plan.LastWater(f.job)
	spots := climate.Residue(solids, climate.DrainedWater.Grams(vehicle.FacesLeft))
	if spots > plan.SpotsShow {
		f.plan.Warnings = append(
			f.plan.Warnings,
			fmt.Sprintf(
				"Water left to dry leaves %.0f mg/m² (%.0f mg/l dissolved): spots will show. Dry at once, or "+
					"rinse last with deionised water.",
				spots,
				solids,
			),
		)
	}
}
