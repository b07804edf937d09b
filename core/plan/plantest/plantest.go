// Package plantest has the jobs, plans and layouts that tests of planning share.
package plantest

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/fill"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// Outcome is what a plan says of a question.
func Outcome(p plan.Plan, t *testing.T, text string) plan.Outcome {
	t.Helper()
	for _, o := range p.Branches {
		if o.Text == text {
			return o
		}
	}
	t.Fatalf("the plan does not ask %q", text)
	return plan.Outcome{}
}

// Able is a crew that may do everything, with one of each machine.
func Able(n int) schedule.Problem {
	p := schedule.Problem{
		Machines: []schedule.Machine{
			{Name: "pressure washer", Count: 1},
			{Name: "hose", Count: 1},
			{Name: "blower", Count: 1},
		},
	}
	for k := range n {
		p.People = append(p.People, schedule.Person{Name: string(rune('A' + k)), Skills: procedure.Skill("").Values()})
	}
	return p
}

// LaidOut is a plan laid out for so many people who may do all of it; it must be a valid timeline.
func LaidOut(t *testing.T, made plan.Plan, people int) (schedule.Problem, schedule.Timeline) {
	t.Helper()
	p := Able(people)
	p.Work, p.Lags = crew.Work(made, "", people)
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 60_000})
	if err != nil {
		t.Fatal(err)
	}
	if line.Feasible {
		if err := schedule.Validate(p, line); err != nil {
			t.Fatal(err)
		}
	}
	return p, line
}

// Spans are when a step of the procedure begins and ends on a timeline, all its parts together.
func Spans(line schedule.Timeline, step string) (first, last measure.Seconds) {
	first = -1
	for _, s := range line.Slots {
		if s.Step == step || strings.HasPrefix(s.Step, step+plan.PartSign) {
			if first < 0 {
				first = s.Start
			}
			last = max(last, s.End)
		}
	}
	return first, last
}

// Shelved is a job with products that cost ten a litre.
func Shelved(j plan.Job, classes ...procedure.ProductClass) plan.Job {
	for _, c := range classes {
		j.Shelf = append(j.Shelf, shelf.Product{ID: string(c), Name: string(c), Class: c, CostPerL: 1000})
	}
	return j
}

// Typical is the vehicle a family is meant for.
func Typical(family string) plan.Job {
	j := Job(1)
	level := func(g, lower contact.Grade) {
		for _, p := range j.Vehicle.Body.Parts() {
			j.LookOver.Grades[p.Zone] = g
			if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
				j.LookOver.Grades[p.Zone] = lower
			}
		}
	}
	j.LookOver.Place.Blower = true
	coat := func(days int, water condition.WaterSeen) {
		j.LookOver.Protection = condition.Protection{Kind: condition.Coating, AgeDays: days, Water: water}
	}
	indoors := func() {
		j.LookOver.Place.Cover, j.LookOver.Place.Supply, j.LookOver.Place.Runoff = climate.Indoors, condition.Carried, false
	}
	level(1, 2)
	switch family {
	case "F1":
		j.LookOver.Place.Supply = condition.Hose
		level(1, 1)
	case "F2":
		j.LookOver.Place.Supply, j.LookOver.Budget, j.LookOver.Service = condition.Hose, 30, "express"
		level(1, 1)
	case "F3":
		level(1, 1)
		j.LookOver.Service = "show"
	case "F4":
		coat(80, condition.Flat)
	case "F5":
		coat(50, condition.Beads)
	case "F7":
		level(3, 3)
	case "F8":
		level(2, 3)
		j.Weather.Temp = 3
	case "F9":
		level(3, 4)
		j.LookOver.Salt, j.Weather.Temp, j.LookOver.Place.Cover = true, 2, climate.OpenSky
	case "F10":
		j.Vehicle.Body = vehicle.Saloon
		level(1, 1)
	case "F11":
		j.Vehicle.Body, j.LookOver.Budget = vehicle.Estate, 15
		j.Vehicle.Wheels.Inches = 17
		level(1, 1)
	case "F12", "F13", "F14", "F15":
		indoors()
		level(1, 1)
		if family == "F13" {
			j.Weather.Temp = 3
		}
		if family == "F15" {
			j.LookOver.Budget = 45
		}
	case "F16":
		indoors()
		level(0, 0)
	case "F17":
		j.LookOver.TyreShine = true
		j.Menu = condition.Menu{{ID: "basic", Name: "Wheels", Level: condition.Basic, Tyres: condition.GlossTyres}}
	case "F18":
		level(3, 3)
	}
	return j
}

// Timed is a plan's time without set-up and put-away, as the trade claims it.
func Timed(p plan.Plan) float64 {
	minutes := p.Minutes
	for _, s := range p.Steps {
		if s.Stage == "Set up" || s.Stage == "Put away" {
			minutes -= s.Minutes
		}
	}
	return minutes
}

// Families are the starters by their family.
func Families(t *testing.T) map[string]procedure.Procedure {
	t.Helper()
	all := map[string]procedure.Procedure{}
	for _, p := range starters.Starters() {
		all[p.Family] = p
	}
	if len(all) != 18 {
		t.Fatalf("%d families, and there are 18", len(all))
	}
	return all
}

// UnderSun is a car in the open at noon, 700 W/m2 of beam.
func UnderSun(j plan.Job) plan.Job {
	j.LookOver.Place.Cover = climate.OpenSky
	j.Weather.Direct, j.Weather.SunAltitude, j.Weather.SunAzimuth = 700, 45, 180
	return j
}

// LeftOut reports whether a step is left out for a reason.
func LeftOut(p plan.Plan, step, because string) bool {
	for _, o := range p.Out {
		if o.ID == step {
			return strings.Contains(o.Because, because)
		}
	}
	return false
}

// even grades every zone alike, the lower band and wheels one worse.
func even(g contact.Grade) map[vehicle.Zone]contact.Grade {
	grades := map[vehicle.Zone]contact.Grade{}
	for _, p := range vehicle.Hatch.Parts() {
		grades[p.Zone] = g
		if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
			grades[p.Zone] = min(g+1, contact.Worst)
		}
	}
	return grades
}

// Job is a mid-size car in a covered bay on a mild day.
func Job(g contact.Grade) plan.Job {
	return plan.Job{
		Vehicle: vehicle.Vehicle{
			Body:   vehicle.Hatch,
			Shade:  vehicle.Silver,
			Finish: vehicle.Ordinary,
			Wheels: vehicle.WheelSpec{Inches: 17, Spokes: vehicle.PlainSpokes},
		},
		LookOver: condition.LookOver{Grades: even(g), Service: "basic",
			Protection: condition.Protection{Kind: condition.Sealant, Water: condition.Beads},
			Place:      condition.Place{Cover: climate.InShade, Supply: condition.PressureWasher, Runoff: true}},
		Weather:  climate.Weather{Air: climate.Air{Temp: 16, RH: 0.7}, Wind: 1, Diffuse: 60},
		Hardness: 90,
		Solids:   150,
	}
}

// Resolve fills a procedure that must not be refused.
func Resolve(t *testing.T, p procedure.Procedure, j plan.Job) plan.Plan {
	t.Helper()
	made, err := fill.Resolve(p, j)
	if err != nil {
		t.Fatal(err)
	}
	return made
}

// Find is the step made from one of the procedure, the first of them where a round made several.
func Find(p plan.Plan, id string) *plan.FilledStep {
	for i := range p.Steps {
		if p.Steps[i].ID == id || p.Steps[i].Base == id {
			return &p.Steps[i]
		}
	}
	return nil
}

// SixtySteps stretches the maintenance wash to sixty steps.
func SixtySteps() procedure.Procedure {
	p := starters.Maintenance()
	extra := p.Stages[len(p.Stages)-1]
	for i := len(p.Steps()); i < 60; i++ {
		s, _ := p.Step("shuts")
		s.ID = fmt.Sprintf("extra-%d", i)
		s.Dwell = &procedure.Dwell{Min: 60, Max: 300}
		s.Zones = procedure.Outside
		extra.Steps = append(extra.Steps, s)
	}
	p.Stages[len(p.Stages)-1] = extra
	return p
}

// HundredSteps has steps whose conditions ask about many facts.
func HundredSteps() procedure.Procedure {
	p := SixtySteps()
	last := &p.Stages[len(p.Stages)-1]
	for i := len(p.Steps()); i < 100; i++ {
		s := last.Steps[len(last.Steps)-1]
		s.ID = fmt.Sprintf("more-%d", i)
		s.When = procedure.All(
			procedure.Min(condition.GradeOverall, 1),
			procedure.BeNot(condition.PaintFinish, "satin"),
		)
		last.Steps = append(last.Steps, s)
	}
	return p
}

// AllWords is everything that a plan says.
func AllWords(p plan.Plan) string {
	words := slices.Clone(p.Warnings)
	for _, s := range p.Steps {
		words = append(append(words, s.Title, s.Text), s.Cautions...)
	}
	return strings.Join(words, "\n")
}

// Mists are the steps of a plan that wet the foam again.
func Mists(p plan.Plan) []plan.FilledStep {
	var all []plan.FilledStep
	for _, s := range p.Steps {
		if strings.HasPrefix(s.ID, "mist") {
			all = append(all, s)
		}
	}
	return all
}

// fullSun is a midsummer day on a yard, the sun on one side.
func fullSun(azimuth float64) climate.Weather {
	return climate.Weather{Air: climate.Air{Temp: 24, RH: 0.5}, Wind: 1.5, Direct: 800, Diffuse: 120, SunAltitude: 40, SunAzimuth: azimuth}
}

// InSun is a job in full sun from a direction.
func InSun(azimuth float64) plan.Job {
	j := Typical("F1")
	j.LookOver.Place.Cover, j.LookOver.Place.Heading, j.Weather = climate.OpenSky, 0, fullSun(azimuth)
	return j
}

// made lists the steps of a plan that a round made from a step, in order.
func MadeFrom(p plan.Plan, base string) []plan.FilledStep {
	return slices.DeleteFunc(slices.Clone(p.Steps), func(s plan.FilledStep) bool { return s.Base != base })
}

// Alone lays a plan out for one practised person.
func Alone(t *testing.T, p plan.Plan) ([]schedule.Work, schedule.Timeline) {
	t.Helper()
	problem := schedule.Problem{People: []schedule.Person{{Name: "Osk"}}, Machines: []schedule.Machine{
		{Name: "pressure washer", Count: 1}, {Name: "hose", Count: 1}, {Name: "blower", Count: 1}}}
	problem.Work, problem.Lags = crew.Work(p, "", 1)
	for i := range problem.Work {
		problem.Work[i].Skill = ""
	}
	problem.Equip()
	laid, err := schedule.Solve(problem, schedule.Options{Seed: 1, Effort: 40_000})
	if err != nil {
		t.Fatal(err)
	}
	return problem.Work, laid
}
