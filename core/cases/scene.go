package cases

import (
	"fmt"
	"maps"

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

// car is a car to decide about: one of the shop's own, or one made up.
func (d *dealer) car() plan.Job {
	if len(d.world.Jobs) > 0 && d.rng.Intn(2) == 0 {
		job := one(d, d.world.Jobs...)
		job.Pins, job.LookOver.Pins = d.world.Pins, nil
		job.Arranged = plan.Arranged{}
		d.Case.job = &job
		return job
	}
	return d.madeUp()
}

func (d *dealer) madeUp() plan.Job {
	body := one(d, vehicle.Hatch, vehicle.Saloon, vehicle.Estate, vehicle.SportUtility, vehicle.Pickup)
	base := contact.Grade(1 + d.rng.Intn(3))
	look := condition.LookOver{Grades: map[vehicle.Zone]contact.Grade{}, Service: "signature", TyreShine: true}
	for _, p := range body.Parts() {
		g := base
		if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
			g = min(contact.Worst, base+contact.Grade(d.rng.Intn(2)))
		}
		look.Grades[p.Zone] = g
	}
	look.Protection = condition.Protection{Kind: one(d, condition.Bare, condition.Wax, condition.Sealant, condition.Coating),
		AgeDays: 10 + d.rng.Intn(600), Water: one(d, condition.Beads, condition.Flat)}
	look.Place = condition.Place{Name: "yard", Cover: one(d, climate.OpenSky, climate.InShade, climate.Indoors),
		Supply: condition.PressureWasher, Runoff: true, Blower: true}
	job := plan.Job{Vehicle: vehicle.Vehicle{Body: body, Shade: one(d, vehicle.White, vehicle.Silver, vehicle.Mid, vehicle.Dark),
		Finish: vehicle.Ordinary, Wheels: vehicle.WheelSpec{Inches: 17 + d.rng.Intn(4), Spokes: vehicle.PlainSpokes}},
		LookOver: look, Hardness: 120, Solids: 200, Pins: d.world.Pins, Menu: d.world.Menu, Shelf: d.world.Shelf}
	job.Weather = climate.Weather{Air: climate.Air{Temp: measure.Celsius(4 + d.rng.Intn(27)), RH: 0.3 + 0.1*float64(d.rng.Intn(6))},
		Wind: 0.5 * float64(d.rng.Intn(6)), Diffuse: 100, SunAltitude: 40, SunAzimuth: 180}
	if d.rng.Intn(2) == 0 {
		job.Weather.Direct = 700
	}
	d.Case.job = &job
	return job
}

// known are the facts of a job, disagreements settled by the shop's schools, for a wash that settles none itself.
func (d *dealer) known(job plan.Job) condition.Facts {
	facts := fill.Facts(starters.CareWash(), job)
	d.Case.facts = facts
	return facts
}

// school asks how a disagreement is settled for a car; the shop's own school is right, whichever it is.
func (d *dealer) school(question condition.Fact, tell func(plan.Job, condition.Facts)) bool {
	job := d.car()
	facts := maps.Clone(d.known(job))
	tell(job, facts)
	for _, s := range procedure.Settle(facts, nil, nil, job.Pins) {
		if s.Fact != question {
			continue
		}
		for _, q := range condition.Questions() {
			if q.Fact != question {
				continue
			}
			var wrong []string
			for _, a := range q.Schools {
				if a.Value == s.Value {
					continue
				}
				wrong = append(wrong, answerWords(question, a.Value))
				d.Answer.Other = "Others say “" + a.Value + "”: " + a.Reason
			}
			d.choose(q.Text, answerWords(question, s.Value), wrong...)
			d.because(trade, "%s: %s.", whoSays(s.By), s.Why)
			return len(wrong) > 0 && len(wrong) < 4
		}
	}
	return false
}

// answerWords are how an answer to a disagreement is put as a choice.
func answerWords(question condition.Fact, value string) string {
	switch question {
	case condition.RinsedFirst:
		return map[string]string{"yes": "Rinse first", "no": "Foam the dry paint"}[value]
	case condition.FoamAtAll, condition.DryingAidUse, condition.WheelsRinsed, condition.CoverAfter:
		return map[string]string{"yes": "Yes", "no": "No"}[value]
	}
	return capital(value)
}

func capital(s string) string {
	if s == "" {
		return s
	}
	r := []rune(s)
	if r[0] >= 'a' && r[0] <= 'z' {
		r[0] -= 'a' - 'A'
	}
	return string(r)
}

// The lines that scenes share.

func (d *dealer) sayCar(job plan.Job) {
	d.say("%s %s", capital(string(job.Vehicle.Shade)), job.Vehicle.Body)
}

func (d *dealer) sayDirt(job plan.Job, facts condition.Facts) {
	d.say("Overall grade %.0f; lower parts %.0f", facts[condition.GradeOverall].Number, facts[condition.GradeLower].Number)
}

func (d *dealer) sayAir(job plan.Job) {
	w := job.Weather
	sun := "cloudy"
	if w.Direct > 120 && w.SunAltitude > 0 {
		sun = "sunny"
	}
	d.say("%.0f °C, %.0f %% humidity, wind %.1f m/s, %s; the car stands %s", float64(w.Temp), w.RH*100, w.Wind, sun,
		map[climate.Cover]string{climate.OpenSky: "under open sky", climate.InShade: "in the shade",
			climate.Indoors: "indoors"}[job.LookOver.Place.Cover])
}

func (d *dealer) sayPaint(job plan.Job) {
	p := job.LookOver.Protection
	kind := string(p.Kind)
	if p.Kind == condition.Bare {
		kind = "no protection"
	}
	d.say("Paint: %s, %s; water %s", kind, age(p.AgeDays), map[condition.WaterSeen]string{condition.Beads: "beads",
		condition.Flat: "lies flat", condition.NotSeen: "not seen yet"}[p.Water])
}

func age(days int) string {
	switch {
	case days < 60:
		return fmt.Sprintf("%d days old", days)
	case days < 720:
		return fmt.Sprintf("%d months old", days/30)
	}
	return fmt.Sprintf("%.1f years old", float64(days)/365)
}

// whoSays is whose answer to a disagreement is right: the shop's where it has settled it.
func whoSays(by string) string {
	if by == "the shop" {
		return "The shop's way"
	}
	return "Here"
}
