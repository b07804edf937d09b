package cases

import (
	"errors"
	"fmt"
	"math"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/vehicle"
)

var kinds = []Kind{
	{"rinse-before-foam", "Rinse before foam?", procedure.SkillLance, rinseBeforeFoam},
	{"wheels-or-foam", "Wheels first, or under the foam?", procedure.SkillWheels, wheelsOrFoam},
	{"foam-from", "Foam: which way?", procedure.SkillFoam, foamFrom},
	{"over-foam", "Wash over the foam?", procedure.SkillMitt, overFoam},
	{"drying-aid", "Drying aid or none?", procedure.SkillDry, dryingAid},
	{"brush-when", "When is the detailing brush used?", procedure.SkillMitt, brushWhen},
	{"which-method", "Which wash for this dirt?", procedure.SkillScope, whichMethod},
	{"in-scope", "In scope, or noted?", procedure.SkillScope, inScope},
	{"leave-out", "Short of time: what goes?", procedure.SkillScope, leaveOut},
	{"mitts", "One mitt or two?", procedure.SkillMitt, mitts},
	{"rinses", "How many rinses of the mitt?", procedure.SkillMitt, rinses},
	{"panels", "How many panels before the rinse?", procedure.SkillMitt, panels},
	{"citrus", "Citrus: none, light or strong?", procedure.SkillFoam, citrus},
	{"short-label", "A short label and four wheels", procedure.SkillWheels, shortLabel},
	{"wait-or-rinse", "Wait, or take it off?", procedure.SkillFoam, waitOrRinse},
	{"dries-first", "It dries before it has worked", procedure.SkillFoam, driesFirst},
	{"sun-label", "A label and the sun", procedure.SkillScope, sunLabel},
	{"water-flat", "Water lies flat", procedure.SkillDry, waterFlat},
	{"towels", "Will the towel do?", procedure.SkillDry, towels},
	{"dropped", "It fell on the ground", procedure.SkillMitt, dropped},
	{"mixed-up", "Mixed-up buckets", procedure.SkillBuckets, mixedUp},
	{"guard", "A guard that has come up", procedure.SkillBuckets, guard},
	{"two-readings", "One ratio, three readings", procedure.SkillBuckets, twoReadings},
	{"part-full", "A part-full bucket", procedure.SkillBuckets, partFull},
	{"caps", "Caps and pumps", procedure.SkillBuckets, caps},
	{"ounces", "Ounces and millilitres", procedure.SkillBuckets, ounces},
	{"on-panel", "What lands on the paint", procedure.SkillFoam, onPanel},
	{"weight", "What a bucket weighs", procedure.SkillBuckets, weight},
	{"pressure", "How hard may the jet be?", procedure.SkillLance, pressure},
	{"rain", "Rain is coming", procedure.SkillLook, rain},
	{"cover", "A cover over a clean car?", procedure.SkillLook, cover},
}

func rinseBeforeFoam(d *dealer) bool {
	return d.school(condition.RinsedFirst, func(job plan.Job, facts condition.Facts) {
		d.sayCar(job)
		d.sayDirt(job, facts)
		if facts[condition.GradeOverall].Number < 4 && facts[condition.GradeLower].Number < 4 {
			d.say("No lumps anywhere")
		} else {
			d.say("Lumps behind the wheels and along the sills")
		}
	})
}

func wheelsOrFoam(d *dealer) bool {
	return d.school(condition.WheelsWhen, func(job plan.Job, facts condition.Facts) {
		d.sayCar(job)
		d.sayAir(job)
		d.say("Foam stays wet %.0f min", math.Floor(facts[condition.FoamWindow].Number))
		d.say("Wheels: %d in, %s spokes, grade %.0f", job.Vehicle.Wheels.Inches, job.Vehicle.Wheels.Spokes,
			facts[condition.GradeWheels].Number)
		if facts[condition.FoamOutlasts].Text == "yes" {
			d.say("By the clock the four wheels take less than that")
		} else {
			d.say("By the clock the four wheels take longer than the foam may stay on")
		}
	})
}

func foamFrom(d *dealer) bool {
	window := 0.0
	made := d.school(condition.FoamFrom, func(job plan.Job, facts condition.Facts) {
		d.sayCar(job)
		d.sayAir(job)
		window = facts[condition.FoamWindow].Number
		d.say("Foam stays wet %.1f min", window)
	})
	return made && math.Abs(window-5) > 0.5
}

func overFoam(d *dealer) bool {
	return d.school(condition.OverFoam, func(job plan.Job, facts condition.Facts) {
		d.sayCar(job)
		d.sayDirt(job, facts)
		d.say("The foam is on and still wet")
	})
}

func dryingAid(d *dealer) bool {
	return d.school(condition.DryingAidUse, func(job plan.Job, _ condition.Facts) {
		d.sayCar(job)
		d.sayPaint(job)
	})
}

func brushWhen(d *dealer) bool {
	return d.school(condition.BrushWhen, func(job plan.Job, facts condition.Facts) {
		d.sayCar(job)
		d.sayDirt(job, facts)
		d.say("Grey sits in badges and round the grille")
	})
}

// gentler are the washes that are asked about, the least work first.
var gentler = []struct {
	says string
	p    procedure.Procedure
}{{"Waterless", starters.Waterless()}, {"Rinseless", starters.RinselessTowels()}, {"Touchless", starters.Touchless()}}

func whichMethod(d *dealer) bool {
	job := d.madeUp()
	if d.rng.Intn(3) == 0 { // a day's dust
		for z := range job.LookOver.Grades {
			job.LookOver.Grades[z] = contact.Grade(d.rng.Intn(2)) * contact.Grade(d.rng.Intn(2))
		}
	}
	facts := d.known(job)
	var fits []string
	refused := map[string]string{}
	for _, g := range gentler {
		_, err := fill.Resolve(g.p, job)
		var refusal *plan.Refusal
		if errors.As(err, &refusal) {
			refused[g.says] = refusal.Reasons[0]
		} else if err == nil {
			fits = append(fits, g.says)
		}
	}
	const full = "None of them: rinse, foam and mitt"
	right := full
	switch len(fits) {
	case 0:
	case 1:
		right = fits[0]
	default:
		return false
	}
	d.sayCar(job)
	d.sayDirt(job, facts)
	d.sayPaint(job)
	d.sayAir(job)
	d.inOrder("Which of these may be used?", 0, gentler[0].says, gentler[1].says, gentler[2].says, full)
	for i, c := range d.Choices {
		if c == right {
			d.Answer.Choice = i
		}
	}
	said := ""
	for _, g := range gentler {
		if why, out := refused[g.says]; out {
			said += g.says + ": " + why + " "
		}
	}
	d.because(trade, "%s", said)
	return true
}

func inScope(d *dealer) bool {
	matter := one(d, condition.Bugs, condition.BirdLime, condition.Sap, condition.Tar, condition.Iron, condition.WaterSpots,
		condition.OldDressing, condition.TrafficFilm)
	menu := d.world.Menu
	if len(menu) == 0 {
		menu = condition.StarterMenu()
	}
	ordered := one(d, menu...)
	if len(ordered.Takes) == 0 {
		return false
	}
	d.say("Ordered: %s", ordered.Name)
	d.say("In mid-wash you find %s on the %s", matter, one(d, vehicle.Bonnet, vehicle.LowerLeft, vehicle.Front).Label())
	right := 1
	if ordered.TakesOn(matter) {
		right = 0
	}
	d.inOrder("What do you do?", right, "Take it off: it belongs to this wash", "Note it, offer the service that takes it, leave it alone")
	d.because("The shop's list of services; "+trade, "%s", matter.Found(ordered))
	return true
}

func leaveOut(d *dealer) bool {
	job := d.car()
	job.LookOver.Place.Supply, job.LookOver.Place.Runoff, job.LookOver.Place.Also = condition.PressureWasher, true, nil
	made, err := fill.Resolve(starters.Maintenance(), job)
	if err != nil {
		return false
	}
	drops := made.Drops(1)
	if len(drops) == 0 {
		return false
	}
	drop := one(d, drops...)
	never := []string{"The rinse before the mitt", "Rinsing the mitt", "The final rinse", "Drying"}
	d.rng.Shuffle(len(never), func(i, j int) { never[i], never[j] = never[j], never[i] })
	d.say("The wash takes %.0f min; the customer comes %d min sooner than promised", made.Minutes, 3+d.rng.Intn(8))
	d.choose("What may be left out?", drop.Title, never[:3]...)
	d.because(trade, "%s Never a rinse, the pre-wash or drying: those keep the paint safe.", drop.Costs)
	return true
}

func mitts(d *dealer) bool {
	job := d.car()
	facts := d.known(job)
	d.sayCar(job)
	d.sayDirt(job, facts)
	right, why := 0, "To grade 2 one mitt, rinsed as planned, is enough; the lower band comes last."
	if facts[condition.GradeLower].Number >= 3 {
		right, why = 1, "From grade 3 below, a second mitt for the lower band: the upper one never meets its grit."
	}
	d.inOrder("How many mitts?", right, "One, the lower band last", "Two: one for the lower band alone")
	d.because("Grit model; "+trade, "%s", why)
	return true
}

// standardWash is the training standard for a car, wherever it stands.
func standardWash(job plan.Job) (plan.Plan, *plan.FilledStep) {
	job.LookOver.Place.Supply, job.LookOver.Place.Runoff = condition.PressureWasher, true
	job.LookOver.Place.Also, job.LookOver.Watch = nil, nil
	made, err := fill.Resolve(starters.Maintenance(), job)
	if err != nil {
		return plan.Plan{}, nil
	}
	for i := range made.Steps {
		if made.Steps[i].ID == "mitt" && made.Steps[i].Panels != nil {
			return made, &made.Steps[i]
		}
	}
	return plan.Plan{}, nil
}

func rinses(d *dealer) bool {
	job := d.madeUp()
	job.LookOver.Protection = condition.Protection{Kind: condition.Bare, Water: condition.Flat}
	d.Case.job = &job
	made, mitt := standardWash(job)
	if mitt == nil {
		return false
	}
	d.sayCar(job)
	d.sayDirt(job, d.known(job))
	d.say("Pre-washed with foam and jet; one long-pile mitt, weight only")
	d.number("About how often is the mitt rinsed in the whole wash?", "rinses", float64(made.Rinses), 0.35, 2)
	d.because("Grit model, docs/models.md",
		"A face does %.1f m² here before it is turned, both are used before a rinse: %d in all. Fewer drag grit, "+
			"more cost time.", mitt.Panels.PerFace*vehicle.PanelArea, made.Rinses)
	return true
}

func panels(d *dealer) bool {
	job := d.madeUp()
	_, mitt := standardWash(job)
	if mitt == nil || mitt.Panels.PerRinse > 12 {
		return false
	}
	n, window := mitt.Panels.PerRinse, d.known(job)[condition.SudsWindow].Number
	each := fill.MinutesPerPanel(mitt)
	d.sayCar(job)
	d.sayAir(job)
	d.say("Suds stay wet %.1f min on the driest panel", window)
	d.say("A panel takes %.1f min, with the walk and its share of the rinse; fetching the lance takes 1 min", each)
	d.number("How many panels may stand in suds before the car is rinsed?", "panels", float64(n), 0, 1)
	d.because("Drying of a film of suds by heat balance (model)",
		"Nine tenths of %.1f min, less a minute for the lance, hold %d. In shade and "+
			"damp air it is more, in sun and wind less; one at least.", window, n)
	return true
}

func citrus(d *dealer) bool {
	job := d.car()
	facts := d.known(job)
	light, heavy := false, false
	for _, s := range starters.Maintenance().Steps() {
		light = light || s.ID == "citrus" && s.When.Holds(facts)
		heavy = heavy || s.ID == "citrus-heavy" && s.When.Holds(facts)
	}
	right := 0
	switch {
	case heavy:
		right = 2
	case light:
		right = 1
	}
	d.sayCar(job)
	d.sayDirt(job, facts)
	d.inOrder("Citrus on the lower half before the foam?", right, "None: foam is enough", "Yes, 10:1", "Yes, 5:1")
	d.because(trade, "Foam is enough to grade 2 below; from grade 3 citrus 10:1, for caked soil 5:1.")
	return true
}

// A wheel's cleaner: putting it on, the walk to the next (docs/trade.md, section 7; schedule's walk of 1 m/s).
const (
	cleanerOn   = 18 * measure.Second
	toNextWheel = 4 * measure.Second
	brushed     = 45 * measure.Second
)

// lastWaits is how long the last of four wheels waits from when its cleaner is on until it is rinsed, where all are sprayed
// first and then brushed in the same order: it waits for the walk back to the first and for the three before it.
func lastWaits() measure.Seconds {
	return toNextWheel + 3*(brushed+toNextWheel) + brushed
}

func shortLabel(d *dealer) bool {
	label := measure.Seconds(one(d, 60, 90, 120, 270, 300, 360))
	d.was["label"] = float64(label)
	d.say("The wheel cleaner's label: rinse it off within %s", label)
	d.say("Putting it on takes 18 s a wheel, brushing and rinsing 45 s, the walk to the next 4 s")
	all := lastWaits()
	right := 1
	if label >= all {
		right = 0
	}
	if math.Abs(float64(label-all)) < 45 {
		return false
	}
	d.inOrder("All four first, or one at a time?", right, "Cleaner on all four, then brush and rinse in that order",
		"One wheel at a time: on, brush, rinse")
	d.because("Sum of the times; the label wins",
		"In the order they went on, the last wheel waits %s until it is rinsed. The label allows %s.",
		all, label)
	return true
}

func waitOrRinse(d *dealer) bool {
	from := measure.Seconds(60 * (2 + d.rng.Intn(4)))
	to := from + measure.Seconds(60*(2+d.rng.Intn(5)))
	window := measure.Seconds(60 * (3 + d.rng.Intn(12)))
	latest := min(to, window)
	product := one(d, "foam", "citrus", "bug remover")
	var on measure.Seconds
	right := d.rng.Intn(3)
	switch right {
	case 0:
		on = from / 2
	case 1:
		on = (from + latest) / 2
	case 2:
		on = window + 60
	}
	if latest < from+60 || right == 0 && on > window/2 {
		return false
	}
	d.was["on"], d.was["from"], d.was["to"], d.was["window"] = float64(on), float64(from), float64(to), float64(window)
	d.say("The label of the %s: %s to %s", product, from, to)
	d.say("Here and now it stays wet %s", window)
	d.say("It has been on for %s", on)
	d.inOrder("What now?", right, "Leave it: it has not worked yet", "Take it off now", "Mist it wet again first, then take it off")
	d.because("Wet clock, docs/models.md", "It works from %s on, and must be off by %s, when the label or the drying ends it. What has "+
		"dried is wetted before anything touches it.", from, latest)
	return true
}

func driesFirst(d *dealer) bool {
	job := d.madeUp()
	_, mitt := standardWash(job)
	facts := d.known(job)
	window := facts[condition.FoamWindow].Number
	if mitt == nil || math.Abs(window-6) < 1.5 {
		return false
	}
	d.was["window"] = window
	d.sayCar(job)
	d.sayAir(job)
	d.say("The foam must work 5 min; here it stays wet %.1f min", window)
	right := 0
	if window < 6 {
		right = 1
	}
	d.inOrder("How do you foam?", right, "The whole car, and leave it 5 min", "In parts, each rinsed before it dries, or in the shade")
	d.because("Heat balance of a wet panel (model)", "A film may use nine tenths of the time it stays wet, and putting it on takes some of "+
		"that. Under 6 min the whole car does not fit.")
	return true
}

func sunLabel(d *dealer) bool {
	shade := one(d, climate.OpenSky, climate.InShade, climate.Indoors)
	sun := d.rng.Intn(2) == 0
	says := one(d, "never in the sun", "any light")
	product := one(d, "Iron remover", "Wheel cleaner", "Drying aid", "Spray sealant")
	d.say("%s; its label: %s", product, says)
	d.say("The car stands %s; the sky is %s", map[climate.Cover]string{climate.OpenSky: "in the open", climate.InShade: "in the shade",
		climate.Indoors: "indoors"}[shade], map[bool]string{true: "clear, the sun is out", false: "grey"}[sun])
	right := 0
	if says == "never in the sun" && shade == climate.OpenSky && sun {
		right = 1
	}
	d.inOrder("May you use it now?", right, "Yes", "No: move the car, wait, or leave it out")
	d.because("The product's label comes first",
		"A label that says never in the sun counts where the sun is on the car: not in shade, not under cloud.")
	return true
}

func waterFlat(d *dealer) bool {
	kind := one(d, "none", "coating, fresh", "coating, old")
	months := 2 + d.rng.Intn(9)
	if kind == "coating, old" {
		months = 14 + d.rng.Intn(20)
	}
	switch kind {
	case "none":
		d.say("No protection on the paint")
	default:
		d.say("A coating, %d months old, washed regularly", months)
	}
	d.say("After the last rinse water lies flat")
	d.was["months"] = float64(months)
	right := map[string]int{"none": 0, "coating, fresh": 1, "coating, old": 2}[kind]
	d.inOrder("What helps?", right, "Drying agent on, rinse, then dry", "It is a film: tar and iron remover at the next service, then judge",
		"A top-up after this wash; tell the customer it is worn")
	d.because(trade,
		"Bare paint only needs an agent to dry well. A coating that goes flat before twelve months lies under a film; later it is worn.")
	return true
}

func dropped(d *dealer) bool {
	thing := one(d, "mitt", "drying towel", "glass cloth", "applicator")
	d.say("The %s falls on the ground in mid-wash%s", thing, one(d, "", ", on wet concrete", ", on the clean bay floor"))
	d.choose("What do you do?", "Put it away for the laundry and take the spare",
		one(d, "Rinse it well and go on", "Shake it out and use the other side"), "Look at it: if nothing shows, go on")
	d.because(trade, "One grain is a scratch, and grit in a pile is not seen. A dropped %s is out.", thing)
	return true
}

func mixedUp(d *dealer) bool {
	seated, little := d.rng.Intn(2) == 0, d.rng.Intn(2) == 0
	d.say("The dirty mitt went into the wash bucket: both look alike")
	d.say("Its guard is %s", map[bool]string{true: "seated", false: "floating"}[seated])
	d.say("%s", map[bool]string{true: "It was the first panel, a light car", false: "It was after the sills, a dirty car"}[little])
	right := 1
	if seated && little {
		right = 0
	}
	d.inOrder("What now?", right, "Go on, carefully, and mark the buckets", "Empty it and fill it anew")
	d.because(trade, "With the guard seated and little dirt in, it sinks below and stays there. Else every reload brings it back.")
	d.Answer.Other = "Some go on in any case; the next face shows it."
	return true
}

func guard(d *dealer) bool {
	n := 3 + d.rng.Intn(8)
	water := measure.Celsius(one(d, 8, 15, 20, 30))
	tale := contact.TellBucket(water)
	times := tale.Bare[n] / tale.Guarded[n]
	d.was["times"], d.was["n"], d.was["water"] = times, float64(n), float64(water)
	d.say("A moderately dirty wash; the mitt was rinsed %d times; the water has %.0f °C", n, float64(water))
	d.say("The guard has come up and floats")
	right := 0
	switch {
	case times >= 1.5 && times < 2.5, times < 1.5 && times > 1.2:
		return false
	case times >= 2.5:
		right = 1
	}
	d.inOrder("How much more grit comes back with the mitt than with the guard seated?", right, "Hardly more: coarse grit lies still",
		"Several times as much")
	d.because("Settling by Ferguson and Church (2004), model of the bucket",
		"%.1f mg come back instead of %.1f: without a guard each visit "+
			"stirs up what has sunk.", tale.Bare[n], tale.Guarded[n])
	return true
}

func onPanel(d *dealer) bool {
	product := one(d, 50, 100, 150, 200)
	minutes := one(d, 2, 3, 4)
	flow := one(d, 4.5, 6.0, 8.0)
	ratio, err := measure.OnPanel(measure.Ml(int64(product)), measure.Ml(int64(1000-product)), flow, measure.Seconds(minutes*60).Duration())
	if err != nil {
		return false
	}
	d.was["product"], d.was["minutes"], d.was["flow"] = float64(product), float64(minutes), flow
	d.say("A 1 l foam bottle: %d ml product, the rest water", product)
	d.say("It is empty after %d min; the washer gives %.1f l/min", minutes, flow)
	d.number("How strong is what lands on the paint?", "%", ratio.Percent(), 0.12, 0.05)
	d.because("Product over all the water through the nozzle",
		"%d ml in %.1f l: %.2f %%. The bottle's own strength is not what the paint sees.", product,
		flow*float64(minutes)+1, ratio.Percent())
	return true
}

func pressure(d *dealer) bool {
	psi := one(d, 900, 1200, 1450, 1800, 2400, 2900, 3200)
	mpa := float64(psi) * 0.006894757
	d.was["psi"] = float64(psi)
	unit := fmt.Sprintf("%d psi", psi)
	if d.rng.Intn(2) == 0 {
		unit = fmt.Sprintf("%.0f bar", mpa*10)
	}
	d.say("The washer's plate: %s", unit)
	right := 0
	if mpa > 14 {
		right = 1
	}
	d.inOrder("May it meet paint?", right, "Yes, with a wide fan from 0.30 to 0.45 m", "No: too hard for paint at any distance one can hold")
	d.because(trade, "1,000 to 2,000 psi (7 to 14 MPa) is used on paint; over 2,000 psi it lifts edges and chips.")
	return true
}

// wetAfter is how long spray protection must stay dry, h (common practice: most labels ask for one to a few hours).
const wetAfter = 1

func rain(d *dealer) bool {
	hours := one(d, 0.25, 0.5, 3, 5)
	d.was["hours"] = hours
	roof := d.rng.Intn(3) == 0
	d.was["roof"] = map[bool]float64{true: 1}[roof]
	d.say("Washed and dry; a spray sealant was ordered")
	d.say("Rain is forecast in %s", map[float64]string{0.25: "a quarter of an hour", 0.5: "half an hour", 3: "three hours",
		5: "five hours"}[hours])
	d.say("The car %s", map[bool]string{true: "stays under a roof until tomorrow", false: "goes home through the rain"}[roof])
	right := 0
	if hours < wetAfter && !roof {
		right = 1
	}
	d.inOrder("Put the sealant on now?", right, "Yes", "Not now: it does not hold; offer another day")
	d.because("The label's hours; "+trade, "Protection needs its hours dry: under a roof it has them, in rain within the hour it has not.")
	return true
}

func cover(d *dealer) bool {
	wind, clean, indoors := d.rng.Intn(2) == 0, d.rng.Intn(2) == 0, d.rng.Intn(2) == 0
	d.say("A clean, dry car will stand for two weeks %s", map[bool]string{true: "in a garage", false: "in the yard"}[indoors])
	d.say("The cover is %s", map[bool]string{true: "freshly laundered inside", false: "dusty inside"}[clean])
	d.say("%s", map[bool]string{true: "It is a windy place", false: "There is no wind"}[wind && !indoors])
	right := 1
	if clean && (indoors || !wind) {
		right = 0
	}
	d.inOrder("Cover it?", right, "Yes", "No")
	d.because(trade, "Only a cover that is clean inside, where no wind moves it: else it rubs grit in.")
	d.Answer.Other = "Some never cover outdoors."
	return true
}

// label is how a product's label prints its ratio.
func label(first, second int64, reading measure.Reading) string {
	switch reading {
	case measure.WaterFirst:
		return fmt.Sprintf("%d:%d, water first", first, second)
	case measure.OnePartIn:
		return fmt.Sprintf("%d:%d, one part in", first, second)
	}
	return fmt.Sprintf("%d:%d, parts plus parts", first, second)
}
