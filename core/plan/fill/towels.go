package fill

import (
	"fmt"
	"slices"

	"uskel/core/film"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// rinsedWet keeps account of the water that a step leaves on the car, g/m2: a rinse, an open hose that takes most of it
// along, a blower.
func (f *filler) rinsedWet(step *plan.FilledStep, s procedure.Step) {
	sheen := f.job.Sheen()
	for _, p := range f.parts {
		if !slices.Contains(step.Zones, p.Zone) || !procedure.Outside.Has(p) {
			continue
		}
		switch {
		case s.Technique == procedure.Rinse && s.Tool == procedure.OpenHose:
			f.water[p.Zone] = film.Sheeted(f.water[p.Zone])
		case s.Technique == procedure.Rinse:
			f.water[p.Zone] = film.AfterRinse(p, sheen)
		case s.Technique == procedure.Dry && s.Machine != "":
			f.water[p.Zone] = film.Blown(f.water[p.Zone], sheen)
		}
	}
}

// drawn works out how often the towels of a drying step are wrung, and what they leave.
func (f *filler) drawn(step *plan.FilledStep, s procedure.Step) {
	towels := procedure.ClothCount(s.Cloth)
	if s.Technique != procedure.Dry || s.Machine != "" || towels == 0 {
		return
	}
	var parts []vehicle.Part
	for _, p := range f.parts {
		if slices.Contains(step.Zones, p.Zone) && f.water[p.Zone] > 0 {
			parts = append(parts, p)
		}
	}
	if len(parts) == 0 {
		return
	}
	var sheets []film.Sheet
	for _, leg := range film.Down(parts) {
		at := slices.IndexFunc(parts, func(p vehicle.Part) bool { return p.Zone == leg.Zone })
		sheets = append(sheets, film.Sheet{Zone: leg.Zone, Area: parts[at].Area, Grams: f.water[leg.Zone]})
		f.water[leg.Zone] = 0
	}
	holds := plan.TowelHolds(s.Cloth)
	d := film.DryWith(holds, towels, sheets)
	step.Wrings = d.Wringing
	if d.Wringing > 0 {
		step.Text += fmt.Sprintf(" Wring %s: as soon as it leaves the panel wet.", timesOver(d.Wringing))
	}
	step.Figures = append(step.Figures, plan.Figure{Name: "Wringing", Value: fmt.Sprint(d.Wringing),
		From: fmt.Sprintf("%.1f l of water on the car, %d of %.1f l each; it leaves %.0f g/m², %.0f at the wettest", d.Water/1000, towels,
			holds/1000, d.Mean, d.Worst), Source: "Model of drying by towel: docs/models.md"})
}

func timesOver(n int) string {
	switch n {
	case 1:
		return "once"
	case 2:
		return "twice"
	}
	return fmt.Sprintf("%d times", n)
}
