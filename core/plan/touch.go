package plan

import (
	"cmp"
	"fmt"
	"math"

	"uskel/core/climate"
	"uskel/core/contact"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// touch plans the contact of a step with the paint, if it has any.
func (f *filler) touch(step *FilledStep, s procedure.Step) error {
	switch s.Technique {
	case procedure.ContactWash:
		return f.mitt(step, s)
	case procedure.ContactTowel:
		return f.towels(step, s)
	}
	return nil
}

func (f *filler) lacquer() contact.Lacquer {
	return contact.LacquerOf(f.job.Vehicle, f.job.LookOver.Watching(vehicle.GlossBlack))
}

// patches are the zones a step washes by hand, with the grit the steps before it have left. A fabric roof is not
// mitted.
func (f *filler) patches(s procedure.Step) []contact.Patch {
	var patches []contact.Patch
	for _, p := range f.parts {
		if s.On(p) && p.Surface != vehicle.Fabric {
			patches = append(
				patches,
				contact.Patch{
					Zone:  p.Zone,
					Band:  p.Band,
					Area:  p.Area,
					Grade: f.job.LookOver.Grades[p.Zone],
					Grit:  math.Round(f.soil[p.Zone].All()*10) / 10,
				},
			)
		}
	}
	return patches
}

func (f *filler) mitt(step *FilledStep, s procedure.Step) error {
	patches, l := f.patches(s), f.lacquer()
	second := false
	for _, p := range patches {
		second = second || p.Band == vehicle.Lower && p.Grade >= 3
	}
	medium := cmp.Or(s.Medium, contact.Mitt)
	made, err := f.makeMitt(medium, l, patches, second)
	if err != nil {
		return err
	}
	f.touched(step.Zones, l, made.Drag, made.Left)
	if f.plan.Contact == nil || len(made.Moves) > len(f.plan.Contact.Moves) {
		f.plan.Contact, f.plan.Patches = &made, patches
	}
	perFace := made.PerFace / vehicle.PanelArea
	step.Panels = &Panels{
		PerFace:  round1(perFace),
		PerMitt:  round1(min(2*perFace, contact.SudsArea/vehicle.PanelArea)),
		Rinses:   made.Rinses,
		PerRinse: f.panelsPerRinse(step),
	}
	dirtiest := 0.0
	for _, p := range patches {
		if p.Band == vehicle.Upper {
			dirtiest = max(dirtiest, p.Grit)
		}
	}
	step.Figures = append(
		step.Figures,
		Figure{
			"Panels before the mitt is rinsed",
			fmt.Sprintf("%.1f", step.Panels.PerMitt),
			fmt.Sprintf(
				"two faces; %.0f mg/m² left on the dirtiest upper zone fills a clean face to the paint's limit of "+
					"%.0f mg after %.1f m²; a load of suds slips for %.1f m²",
				dirtiest,
				l.Limit,
				made.PerFace,
				contact.SudsArea,
			),
			"Grit model, calibrated to common practice",
		},
		Figure{
			"Rinses of the mitt",
			fmt.Sprint(made.Rinses),
			"fewest that keep exposed grit under the limit, and at once after each lower zone",
			"Grit model",
		},
		Figure{
			"Scratch risk",
			fmt.Sprintf("%.0f of 100", made.Index),
			fmt.Sprintf("%.0f mg m² of grit dragged, on a scale of %.0f for this paint", made.Drag, l.Scale),
			"Grit model",
		},
		f.rinseFigure(step),
	)
	return nil
}

// touched adds a contact step's harm to the plan's and takes what it picked up off the zones.
func (f *filler) touched(zones []vehicle.Zone, l contact.Lacquer, drag, left float64) {
	f.drag += drag
	f.plan.Index, f.plan.Left = round1(l.Index(f.drag)), math.Round(left)
	for _, z := range zones {
		f.soil[z] = contact.SoilAfterTouch(f.soil[z])
	}
}

// rinseReach is how long it takes to fetch the lance and reach the first panel, minutes (model).
const rinseReach = 1.0

// minutesPerPanel is a panel's share of the contact wash, the walk to the bucket included.
func minutesPerPanel(step *FilledStep) float64 {
	return max(0.2, step.Minutes/(step.Area/vehicle.PanelArea)) + 0.5
}

// panelsPerRinse is how many panels may wait in suds before the first must be rinsed; never less than one.
func (f *filler) panelsPerRinse(step *FilledStep) int {
	window := f.driest(procedure.Outside, climate.SudsFilm).window.Minutes()
	panels := int(math.Floor((window - rinseReach) / minutesPerPanel(step)))
	return max(1, min(panels, int(math.Ceil(step.Area/vehicle.PanelArea))))
}

func (f *filler) rinseFigure(step *FilledStep) Figure {
	window := f.driest(procedure.Outside, climate.SudsFilm).window
	return Figure{
		"Panels before the car is rinsed",
		fmt.Sprint(step.Panels.PerRinse),
		fmt.Sprintf(
			"suds stay wet %s here (%s); %.1f min a panel and %.0f min to reach the first with the lance",
			window,
			f.air(),
			minutesPerPanel(step),
			rinseReach,
		),
		"Energy balance of a wet panel (model)",
	}
}

func (f *filler) towels(step *FilledStep, s procedure.Step) error {
	patches, l := f.patches(s), f.lacquer()
	medium := cmp.Or(s.Medium, contact.PlushTowel)
	made, err := contact.Fresh(medium, l, patches)
	if err != nil {
		return err
	}
	f.touched(step.Zones, l, made.Drag, made.Left)
	name := "Towels"
	if medium == contact.PlushTowel {
		f.plan.Towels, step.Cloth = made.Cloths, fmt.Sprintf("%d plush towels, folded in four", made.Cloths)
	} else {
		name, step.Cloth = "Cloths", fmt.Sprintf("%d of %s", made.Cloths, medium)
	}
	faces := float64(medium.Faces())
	step.Panels = &Panels{
		PerFace:  round1(made.PerFace / vehicle.PanelArea),
		PerMitt:  round1(faces * made.PerFace / vehicle.PanelArea),
		PerRinse: f.panelsPerRinse(step),
	}
	step.Figures = append(
		step.Figures,
		Figure{
			name,
			fmt.Sprint(made.Cloths),
			fmt.Sprintf(
				"%d faces at %.0f a cloth; a face does %.2f m² of the dirtiest upper zone before it carries %.0f mg",
				made.Faces,
				faces,
				made.PerFace,
				l.Limit,
			),
			"Grit model, calibrated to common practice",
		},
		Figure{
			"Scratch risk",
			fmt.Sprintf("%.0f of 100", made.Index),
			fmt.Sprintf("%.0f mg m² of grit dragged, on a scale of %.0f for this paint", made.Drag, l.Scale),
			"Grit model",
		},
	)
	return nil
}

func round1(x float64) float64 { return math.Round(x*10) / 10 }

// warn adds what the whole plan says about budget and dwell.
func (f *filler) warn() {
	if b := f.job.LookOver.Budget; b > 0 && f.plan.Minutes > float64(b) {
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
	spots := climate.Residue(f.job.Solids, climate.DrainedWater.Grams(vehicle.FacesLeft))
	if spots > spotsShow {
		f.plan.Warnings = append(
			f.plan.Warnings,
			fmt.Sprintf(
				"Water left to dry leaves %.0f mg/m² (%.0f mg/l dissolved): spots will show. Dry at once, or "+
					"rinse last with deionised water.",
				spots,
				f.job.Solids,
			),
		)
	}
}

// spotsShow is the residue, mg/m2, from which spots are seen on a dark panel (model).
const spotsShow = 12
