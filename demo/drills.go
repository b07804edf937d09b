package demo

import (
	"math"
	"math/rand"
	"slices"
	"time"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/drill"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/vehicle"
	"uskel/store"
)

// byHand are the trainees' drills: easy ones at first, each kind in turn, with slips that grow rarer.
func (l *loader) byHand(dice *rand.Rand) error {
	for _, name := range []string{"pia", "cal"} {
		who := learners[name]
		turn := 0
		for ago := min(who.days, l.days); ago > 0; ago -= who.every {
			at := l.now.AddDate(0, 0, -ago).Add(-time.Duration(dice.Intn(180)) * time.Minute)
			level := 1
			if ago < who.days/2 {
				level = 2
			}
			slips := dice.Float64() < 0.2+0.5*float64(ago)/float64(who.days)
			if err := l.drilled(name, turn, level, slips, at, dice); err != nil {
				return err
			}
			turn++
		}
	}
	return nil
}

// drilled is one of them, played as it is taught, or with its commonest slip.
func (l *loader) drilled(name string, turn, level int, slips bool, at time.Time, dice *rand.Rand) error {
	task, slip, err := drillOf(turn, level, dice.Int63())
	if err != nil {
		return err
	}
	actions, err := task.AsTaught()
	if err != nil {
		return err
	}
	if slips {
		actions = slip(actions)
	}
	result, err := task.Judge(actions)
	if err != nil {
		return err
	}
	s, err := task.Replay(actions)
	if err != nil {
		return err
	}
	finished := at.Add(s.Clock.Duration())
	return l.store.AddRun(l.ctx, store.DrillRun{ID: idFrom(dice), PersonID: l.people[name], Title: "Practice car", Level: level,
		Kind: task.Kind, Skill: task.Skill(), Drill: task, Actions: actions, Version: len(actions), StartedAt: at, FinishedAt: &finished,
		Passed: &result.Passed, Result: &result})
}

// drillOf is the drill whose turn it is, with what goes wrong in it most often.
func drillOf(turn, level int, seed int64) (drill.Task, func([]drill.Action) []drill.Action, error) {
	car := vehicle.Vehicle{Body: vehicle.Hatch, Shade: vehicle.Mid, Finish: vehicle.Ordinary}
	lacquer := contact.LacquerOf(car, false, contact.NoShield)
	switch turn % 4 {
	case 1:
		b, err := drill.MakeBuckets(drill.Buckets{Title: "Practice car", Level: level, Seed: seed, Product: "shampoo", Label: "1 + 500",
			Low: 2, High: 2, Foams: true, Litres: 14, Tools: []drill.Tool{{Name: "cap", Ml: 12, Step: 0.25}}, Rinse: condition.Rub,
			Lacquer: lacquer, Patches: practicePaint()})
		return b.Task(), swapped(drill.GuardIn, func(a *drill.Action) { a.How = drill.DropIn }), err
	case 2:
		d, err := drill.MakeDrying(drill.Drying{Title: "Practice car", Level: level, Sheen: film.Plain, Hose: true, Solids: 150,
			Towels: []float64{film.LargeTowel, film.SmallTowel}}, car.Body, func(vehicle.Part) measure.Seconds { return 15 * measure.Minute })
		return d.Task(), swapped(drill.DryIt, func(a *drill.Action) { a.How = drill.RubWith }), err
	case 3:
		d, err := drill.MakeWheels("Practice car", "wheel cleaner", level, seed, 2*measure.Minute, 5*measure.Minute)
		wait := drill.Action{Do: drill.Wait, Amount: 400}
		return d.Task(), func(all []drill.Action) []drill.Action {
			return slices.Insert(all, slices.IndexFunc(all, func(a drill.Action) bool { return a.Do == drill.WorkIt }), wait)
		}, err
	}
	m, err := drill.Make("Practice car", level, seed, lacquer, nil, false, measure.Hour, condition.Along, condition.Rub, 0)
	return m.Task(), func(all []drill.Action) []drill.Action {
		return slices.Insert(all, 2, drill.Action{Do: drill.Stroke, Path: circle()})
	}, err
}

// swapped does the first action of a kind another way.
func swapped(do drill.Do, other func(*drill.Action)) func([]drill.Action) []drill.Action {
	return func(all []drill.Action) []drill.Action {
		if at := slices.IndexFunc(all, func(a drill.Action) bool { return a.Do == do }); at >= 0 {
			other(&all[at])
		}
		return all
	}
}

// practicePaint is a mid-size car's paint after its pre-wash.
func practicePaint() []contact.Patch {
	var all []contact.Patch
	for _, p := range vehicle.Hatch.Parts() {
		if p.Surface == vehicle.Paint {
			all = append(all, contact.Patch{Zone: p.Zone, Band: p.Band, Grade: 2, Grit: 270, Area: p.Area})
		}
	}
	return all
}

// circle is what a hand does that was not told better.
func circle() []contact.PathPoint {
	path := make([]contact.PathPoint, 60)
	for i := range path {
		a := float64(i) * 0.12
		path[i] = contact.PathPoint{T: float64(i) / 40, X: 0.5 + 0.15*math.Cos(a), Y: 0.3 + 0.15*math.Sin(a)}
	}
	return path
}
