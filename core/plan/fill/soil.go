package fill

import (
	"math"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// leftOver says what the plan leaves: the worst painted zone's soil, and the zones outside that nothing washes.
func (f *filler) leftOver() {
	for _, p := range f.parts {
		if !procedure.Outside.Has(p) {
			continue
		}
		if !f.washed[p.Zone] {
			f.plan.Undone = append(f.plan.Undone, p.Zone)
		}
		if p.Surface == vehicle.Paint {
			f.plan.Film = max(f.plan.Film, math.Round(f.soil[p.Zone].All()))
		}
	}
}

// wash takes off the zones' soil what the step takes off without touching.
func (f *filler) wash(step plan.FilledStep, s procedure.Step) {
	if s.Act == "" && !s.Touches() {
		return
	}
	for _, z := range step.Zones {
		f.washed[z] = true
	}
	effect := 1.0
	if step.Dwell != nil {
		effect = step.Dwell.Effect
	}
	for _, z := range step.Zones {
		if s.Act != "" {
			f.soil[z], f.covered[z] = f.soil[z].After(s.Act, effect), s.Act
			f.bead(z)
		}
	}
}

// bead takes off what beading paint lets go by itself, once: at the first pre-wash.
func (f *filler) bead(z vehicle.Zone) {
	if p := f.job.LookOver.Protection; p.Water != condition.Beads || p.Kind == condition.Bare || f.beaded[z] || !z.Painted() {
		return
	}
	f.beaded[z] = true
	soil := f.soil[z]
	soil.Loose *= contact.Beaded
	f.soil[z] = soil
}
