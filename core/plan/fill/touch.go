package fill

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"uskel/core/climate"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/timing"
	"uskel/core/vehicle"
)

// warmWater is what a bucket filled warm has, degC (docs/trade.md, section 5: hand-warm; model).
const warmWater measure.Celsius = 35

// tapWater is what comes from the tap, degC: it follows the air outside from 8 to 20 (model).
func tapWater(outside measure.Celsius) measure.Celsius {
	return measure.Celsius(math.Round(min(max(float64(outside), 8), 20)))
}

func faces(made contact.Plan) string {
	if made.Lower > 0 && made.Lower != made.PerFace {
		return fmt.Sprintf("%.1f m², in the lower band %.1f m²", made.PerFace, made.Lower)
	}
	return fmt.Sprintf("%.1f m²", made.PerFace)
}

func riskFigure(index, drag float64, l contact.Lacquer) plan.Figure {
	return plan.Figure{
		Name:   "Scratch risk",
		Value:  fmt.Sprintf("%.0f of 100", index),
		From:   fmt.Sprintf("%.0f mg m² of grit dragged, on a scale of %.0f for this paint", drag, l.Scale),
		Source: "Grit model",
	}
}

// preWashes are what brings the scratch risk down before the paint is touched, the least work first.
var preWashes = []struct {
	says string
	acts []contact.Act
}{
	{"a jet rinse", []contact.Act{contact.JetRinse}},
	{"foam and a jet rinse", []contact.Act{contact.Foam, contact.JetRinse}},
	{"citrus and a jet rinse", []contact.Act{contact.Citrus, contact.JetRinse}},
	{"citrus, foam and a jet rinse", []contact.Act{contact.Citrus, contact.Foam, contact.JetRinse}},
}

// Hands-on time of strokes, min/m2, by grade; on glass they are quicker; a dirty lower zone gets a second pass, half
// as long (model, from how long people are seen to wash a mid-size: 7 to 15 min).
var strokeTime = [contact.Worst + 1]float64{0.45, 0.45, 0.5, 0.6, 0.6}

const (
	glassTime  = 0.6
	secondPass = 0.5
	// secondPassFrom is the grade from which a lower zone is gone over twice.
	secondPassFrom contact.Grade = 2
)

// rinseReach is how long it takes to fetch the lance and reach the first panel, minutes (model).
const rinseReach = 1.0

// besides is what a panel takes besides the washing, min: walking round, gaps and edges (model, calibrated to about four
// shaded panels before a rinse, common practice).
const besides = 0.5

// MinutesPerPanel is a panel's share of the contact wash and of the rinse after it.
func MinutesPerPanel(step *plan.FilledStep) float64 {
	return max(0.2, step.Minutes/(step.Area/vehicle.PanelArea)) + besides + rinsePerPanel
}

// rinsePerPanel is how long a panel takes to rinse, min (docs/trade.md, section 7: 2 to 3 min a car).
const rinsePerPanel = 0.15

// fresh is a wash by fresh faces: with so many cloths, or with as many as the dirt asks for.
func fresh(medium contact.Cloth, l contact.Lacquer, patches []contact.Patch, cloths int) (contact.FreshPlan, error) {
	if cloths > 0 {
		return contact.Given(medium, l, patches, cloths), nil
	}
	return contact.Fresh(medium, l, patches)
}

// counted says how the cloths of a towel wash were counted.
func counted(made contact.FreshPlan, faces float64, l contact.Lacquer, given bool) string {
	if given {
		return fmt.Sprintf("as the procedure says: %d faces at %.0f a cloth, %.1f m² each", made.Faces, faces, made.PerFace)
	}
	return fmt.Sprintf("%d faces at %.0f a cloth; a face does %.2f m² of the dirtiest upper zone before it carries %.0f mg",
		made.Faces, faces, made.PerFace, l.Limit)
}

// touch plans the contact of a step with the paint, if it has any.
func (f *filler) touch(step *plan.FilledStep, s procedure.Step) error {
	switch s.Technique {
	case procedure.ContactWash:
		return f.mitt(step, s)
	case procedure.ContactTowel:
		return f.towels(step, s)
	}
	return nil
}

// patches are the zones a step washes by hand, with the grit the steps before it have left, and how it is wrapped. A
// fabric roof is not mitted.
func (f *filler) patches(s procedure.Step) []contact.Patch {
	var patches []contact.Patch
	for _, p := range f.parts {
		if f.on(s, p) && p.Surface != vehicle.Fabric {
			patch := contact.Patch{
				Zone:  p.Zone,
				Band:  p.Band,
				Area:  p.Area,
				Grade: f.job.LookOver.Grades[p.Zone],
				Grit:  math.Round(f.soil[p.Zone].All()*10) / 10,
			}
			if w := contact.Wrapped(f.covered[p.Zone]); w < 1 {
				patch.Weight = w
			}
			if slices.Contains(f.job.LookOver.Filmed, p.Zone) { // a film heals light marks, whatever protects the rest
				patch.Scale = contact.LacquerOf(f.job.Vehicle, false, contact.FilmedPaint).Scale
			}
			patches = append(patches, patch)
		}
	}
	return patches
}

// aim is the scratch risk that a contact step is planned to stay under: its share of what the whole plan may come to.
func (f *filler) aim(s procedure.Step) float64 {
	whole := cmp.Or(f.job.Aim, contact.DefaultAim)
	share := f.aims[s.ID]
	if f.only != nil {
		all, here := 0.0, 0.0
		for _, p := range f.parts {
			if s.On(p) && p.Surface != vehicle.Fabric {
				weight := p.Area * f.soiled[p.Zone].All()
				all += weight
				if f.only[p.Zone] {
					here += weight
				}
			}
		}
		if all > 0 {
			share *= here / all
		}
	}
	return contact.Index(-math.Log1p(-whole/100) * share)
}

// shareAims shares the plan's aim out over its contact steps by the grit that each meets: area times soil, of which a
// step that washes again meets little.
func (f *filler) shareAims(steps []procedure.Step) {
	weights, all := map[string]float64{}, 0.0
	touched := map[vehicle.Zone]bool{}
	for _, s := range steps {
		if !s.Touches() {
			continue
		}
		for _, p := range f.parts {
			if !s.On(p) || p.Surface == vehicle.Fabric {
				continue
			}
			soil := f.soiled[p.Zone]
			if touched[p.Zone] {
				soil = contact.SoilAfterTouch(soil)
			}
			touched[p.Zone] = true
			weights[s.ID] += p.Area * soil.All()
		}
		all += weights[s.ID]
	}
	f.aims = map[string]float64{}
	for id, weight := range weights {
		f.aims[id] = 1
		if all > 0 {
			f.aims[id] = weight / all
		}
	}
}

// bucketWater is the temperature of the rinse bucket when the mitt comes to it.
func (f *filler) bucketWater() measure.Celsius {
	if f.bucket != 0 {
		return f.bucket
	}
	return tapWater(f.job.Weather.Temp)
}

func (f *filler) mitt(step *plan.FilledStep, s procedure.Step) error {
	patches, l := f.patches(s), f.job.Lacquer()
	second := s.LowerMitt || slices.ContainsFunc(patches, func(p contact.Patch) bool { return p.Band == vehicle.Lower && p.Grade >= 3 })
	medium := cmp.Or(s.Medium, contact.Mitt)
	made, err := f.makeMitt(f.bucketWater(), medium, l, patches, second, f.aim(s))
	if err != nil {
		return err
	}
	if made.Index > contact.HighestRisk {
		return fmt.Errorf("%s: %s", step.Title, f.tooMuch(medium, l, s, second, made))
	}
	if made.Finest {
		step.Cautions = append(step.Cautions, f.overAim(medium, l, s, second, made))
	}
	f.touched(step, made.Harm, made.Left)
	step.Contact, step.Patches = &made, patches
	rinses := made.Rinses
	if f.part != nil && f.part.N < f.part.Of {
		rinses++ // before the next part
	}
	f.plan.Rinses += rinses
	f.handTime(step, s, medium, rinses)
	face := made.PerFace
	if !slices.ContainsFunc(patches, func(p contact.Patch) bool { return p.Band != vehicle.Lower }) && made.Lower > 0 {
		face = made.Lower // nothing of the upper bands is in it
	}
	step.Panels = &plan.Panels{
		PerFace:  measure.Tenths(face / vehicle.PanelArea),
		PerMitt:  measure.Tenths(2 * face / vehicle.PanelArea),
		Rinses:   rinses,
		PerRinse: f.panelsPerRinse(step),
	}
	if len(made.Moves) > 0 {
		step.Text = "First: " + made.InWords() + " " + step.Text
	}
	step.Figures = append(
		step.Figures,
		plan.Figure{
			Name:  "Rinses of the mitt",
			Value: fmt.Sprint(rinses),
			From: fmt.Sprintf("the fewest whose scratch risk stays at %.0f or less: a face does %s, both are used, then a rinse; one "+
				"more before the lower band and after a lower area that is left for a cleaner one", f.aim(s), faces(made)),
			Source: "Grit model, calibrated to common practice",
		},
		riskFigure(made.Index, made.Drag, l),
		f.rinseFigure(step),
	)
	return nil
}

// relief is what would bring the scratch risk of a contact step to the aim, or, where nothing does, lowest.
func (f *filler) relief(medium contact.Cloth, l contact.Lacquer, s procedure.Step, second bool) (string, float64) {
	says, least := "", math.Inf(1)
	for _, pre := range preWashes {
		patches := f.patches(s)
		for i, p := range patches {
			patches[i].Grit = math.Round(f.soil[p.Zone].AfterAll(pre.acts...).All()*10) / 10
		}
		if made, err := f.makeMitt(f.bucketWater(), medium, l, patches, second, f.aim(s)); err == nil && made.Index < least {
			says, least = pre.says, made.Index
		}
		if least <= f.aim(s) {
			break
		}
	}
	return says, least
}

func (f *filler) tooMuch(medium contact.Cloth, l contact.Lacquer, s procedure.Step, second bool, made contact.Plan) string {
	says, least := f.relief(medium, l, s, second)
	return fmt.Sprintf("the paint would be marked (scratch risk %.0f of 100, %d at most), however often the mitt is rinsed. "+
		"Before the mitt, %s would bring it to %.0f.", made.Index, contact.HighestRisk, says, least)
}

func (f *filler) overAim(medium contact.Cloth, l contact.Lacquer, s procedure.Step, second bool, made contact.Plan) string {
	says, least := f.relief(medium, l, s, second)
	return fmt.Sprintf("Scratch risk %.0f even with %d rinses of the mitt, over the aim of %.0f. Before the mitt, %s would "+
		"bring it to %.0f.", made.Index, made.Rinses, f.aim(s), says, least)
}

// handTime is how long the hand is on the paint: strokes, and rinses or fresh cloths. The author's time for the body
// does not count in a contact step: soil would count twice.
func (f *filler) handTime(step *plan.FilledStep, s procedure.Step, medium contact.Cloth, changes int) {
	strokes, fixed, each := 0.0, s.Time.Fixed/f.partsNow(), medium.RinseTime()
	for _, p := range step.Patches {
		took := p.Area * strokeTime[p.Grade]
		if p.Zone.Surface() == vehicle.Glass {
			took *= glassTime
		}
		if p.Band == vehicle.Lower && p.Grade >= secondPassFrom {
			took *= 1 + secondPass
		}
		strokes += took
	}
	strokes *= medium.Pace()
	if s.BothHands {
		strokes /= 2
	}
	step.Rinsing = measure.Hundredths(float64(changes) * each.Minutes())
	from := fmt.Sprintf("%.1f min of strokes (%.2f min/m² when clean to %.2f when heavy, glass %.1f of that, a second pass "+
		"on dirty lower zones)", strokes, strokeTime[0], strokeTime[contact.Worst], glassTime)
	source := "How long people are seen to wash (model)"
	step.Written = f.rounded(fixed + strokes + step.Rinsing)
	step.Minutes = step.Written
	if own, has := f.job.Standards[s.ID]; has && own.Form != timing.AsWritten {
		step.Minutes = f.rounded(own.Of(f.partsNow()).Minutes(fixed+strokes, step.Area, int(f.assessed.Overall)) + step.Rinsing)
		from, source = fmt.Sprintf("strokes: %s; as written %s", own.Words(), from), "The shop's standard, from its own timings (Times)"
	}
	what := "rinses"
	if step.Technique == procedure.ContactTowel {
		what = "fresh cloths"
	}
	from += fmt.Sprintf(" + %d %s of %.0f s", changes, what, float64(each))
	step.Figures = append(step.Figures, plan.Figure{Name: "Minutes", Value: fmt.Sprintf("%.1f min", step.Minutes), From: from, Source: source})
}

// touched adds a contact step's harm to the plan's and takes what it picked up off the zones.
func (f *filler) touched(step *plan.FilledStep, harm, left float64) {
	f.harm += harm
	f.left += left
	f.plan.Index, f.plan.Left = measure.Tenths(contact.Index(f.harm)), math.Round(f.left)
	for _, z := range step.Zones {
		f.soil[z] = contact.SoilAfterTouch(f.soil[z])
	}
}

// panelsPerRinse is how many panels may wait in suds before the first must be rinsed; never less than one.
func (f *filler) panelsPerRinse(step *plan.FilledStep) int {
	window := dryingMargin * f.driest(procedure.Outside, climate.SudsFilm).window.Minutes()
	panels := int(math.Floor((window - rinseReach) / MinutesPerPanel(step)))
	return max(1, min(panels, int(math.Ceil(step.Area/vehicle.PanelArea))))
}

func (f *filler) rinseFigure(step *plan.FilledStep) plan.Figure {
	window := f.driest(procedure.Outside, climate.SudsFilm).window
	return plan.Figure{
		Name:  "Panels before the car is rinsed",
		Value: fmt.Sprint(step.Panels.PerRinse),
		From: fmt.Sprintf(
			"suds stay wet %s here (%s), of which 0.9 is used; %.1f min a panel and %.0f min to reach the first with the lance",
			window,
			f.air(),
			MinutesPerPanel(step),
			rinseReach,
		),
		Source: "Energy balance of a wet panel (model)",
	}
}

func (f *filler) towels(step *plan.FilledStep, s procedure.Step) error {
	patches, l := f.patches(s), f.job.Lacquer()
	medium := cmp.Or(s.Medium, contact.PlushTowel)
	made, err := fresh(medium, l, patches, s.Cloths)
	if err != nil {
		return err
	}
	if made.Index > contact.HighestRisk {
		return fmt.Errorf("%s: the paint would be marked (scratch risk %.0f of 100, %d at most): rinse and foam first",
			step.Title, made.Index, contact.HighestRisk)
	}
	f.touched(step, made.Harm, made.Left)
	step.Patches = patches
	f.handTime(step, s, medium, made.Cloths)
	name := "Towels"
	if medium == contact.PlushTowel {
		f.plan.Towels += made.Cloths
		step.Cloth = fmt.Sprintf("%d plush towels, folded in four", made.Cloths)
	} else {
		name, step.Cloth = "Cloths", fmt.Sprintf("%d of %s", made.Cloths, medium)
	}
	faces := float64(medium.Faces())
	step.Panels = &plan.Panels{
		PerFace:  measure.Tenths(made.PerFace / vehicle.PanelArea),
		PerMitt:  measure.Tenths(faces * made.PerFace / vehicle.PanelArea),
		PerRinse: f.panelsPerRinse(step),
	}
	step.Figures = append(
		step.Figures,
		plan.Figure{
			Name:   name,
			Value:  fmt.Sprint(made.Cloths),
			From:   counted(made, faces, l, s.Cloths > 0),
			Source: "Grit model, calibrated to common practice",
		},
		riskFigure(made.Index, made.Drag, l),
	)
	return nil
}
