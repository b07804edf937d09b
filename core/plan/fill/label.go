package fill

import (
	"fmt"
	"math"
	"slices"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// mostJet is the pressure above which a jet is kept off paint, MPa: 2,000 psi (common practice; 7 to 14 MPa is accepted).
const mostJet = 14

// label holds a step to its product's label, which wins over the procedure. What only a person can mask is a caution;
// what the sun or heat forbids is none: the step is left out where nothing else hangs on it, or else the procedure is
// refused. It reports whether the step is left out, and why.
func (f *filler) label(step *plan.FilledStep, s procedure.Step) (leftOut string, err error) {
	class := s.ProductClass()
	p, ok := f.product(class, s.Product)
	if class == "" || !ok || s.Technique == procedure.Prepare {
		return "", nil
	}
	var parts []vehicle.Part
	for _, part := range f.parts {
		if f.on(s, part) {
			parts = append(parts, part)
		}
	}
	if surface, forbids := p.Forbidden(parts); forbids {
		step.Cautions = append(
			step.Cautions,
			fmt.Sprintf("The label of %s keeps it off %s: mask it, or leave it out.", p.Name, surface),
		)
	}
	if p.ForbidsHot && f.facts[condition.HotPanels].Text == "yes" {
		if !f.cools() {
			return f.withoutIt(s, fmt.Sprintf("the label of %s forbids hot panels, and nothing cools them here", p.Name))
		}
		step.Cautions = append(
			step.Cautions,
			fmt.Sprintf("The label of %s forbids hot panels: cool them first.", p.Name),
		)
	}
	if p.Sun == shelf.NeverInSun && len(parts) > 0 && f.facts[condition.SunOnIt].Text == "yes" {
		return f.withoutIt(s, fmt.Sprintf("the label of %s says never in the sun, and the sun is on the car at that hour", p.Name))
	}
	return "", nil
}

// cools reports whether hot panels are cooled before the wash.
func (f *filler) cools() bool {
	return slices.ContainsFunc(f.all, func(s procedure.Step) bool {
		return s.Technique == procedure.Prepare && s.Zones == procedure.UpperPaint && s.Time.Unattended
	})
}

// withoutIt leaves a step out where the wash does without it: it finishes, and no product of its waits to be taken off.
// Else the procedure is refused with the same reason.
func (f *filler) withoutIt(s procedure.Step, because string) (leftOut string, err error) {
	if s.Technique == procedure.Finish && s.Dwell == nil {
		return "Left out: " + because + ".", nil
	}
	return "", fmt.Errorf("%s: %s. Wash in the shade or at another hour, or take another product", s.Title, because)
}

// jetTooHard says why a procedure's jet must not be used on paint here; nothing when it may.
func (f *filler) jetTooHard() string {
	jet := f.facts[condition.JetPressure].Number
	if jet <= mostJet {
		return ""
	}
	onPaint := func(s procedure.Step) bool {
		jets := s.Machine == string(condition.PressureWasher)
		return jets && slices.ContainsFunc(f.parts, func(p vehicle.Part) bool { return p.Surface == vehicle.Paint && s.On(p) })
	}
	if !slices.ContainsFunc(f.all, onPaint) {
		return ""
	}
	psi := jet * 1000 / measure.KilopascalsFromPSI(1)
	return fmt.Sprintf("The washer here gives %.3g MPa (%.0f psi). Over %d MPa (2,000 psi) a jet lifts lacquer and film edges: turn it "+
		"down, or take a wider tip and tell the place so.", jet, math.Round(psi/10)*10, mostJet)
}
