package mend

import (
	"errors"
	"fmt"
	"math"
	"strings"

	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure"
)

// Waiting is a vehicle that is still to be washed, as a plan is made for it.
type Waiting struct {
	Plate string
	Job   plan.Job
}

// CarEffect is what a new version of a procedure does to one vehicle.
type CarEffect struct {
	Plate   string   `json:"plate"`
	Before  *float64 `json:"before,omitempty" doc:"min by the version in use; absent when there is none, or it may not be washed by it"`
	After   *float64 `json:"after,omitempty" doc:"min by the new one; absent when it may not be washed by it"`
	Dries   []string `json:"dries" doc:"dwells that one person cannot keep by the new one and could by the old, in words"`
	Refused string   `json:"refused,omitempty" doc:"why it may no longer be washed by it"`
}

// Effect is what a new version of a procedure does to the vehicles that wait.
type Effect struct {
	Cars []CarEffect `json:"cars"`
	Says string      `json:"says"`
}

// EffectOf fills the version in use, nil when there is none, and the new one for every vehicle that waits.
func EffectOf(before *procedure.Procedure, after procedure.Procedure, waiting []Waiting) (Effect, error) {
	e := Effect{Cars: []CarEffect{}}
	for _, w := range waiting {
		car := CarEffect{Plate: w.Plate, Dries: []string{}}
		kept := map[string]bool{}
		if before != nil {
			was, refused, err := tried(*before, w.Job)
			if err != nil {
				return e, err
			}
			if refused == "" {
				car.Before = &was.Minutes
			}
			for _, b := range was.Line.Working {
				kept[b.Step] = b.Fits
			}
		}
		is, refused, err := tried(after, w.Job)
		if err != nil {
			return e, err
		}
		if refused == "" {
			car.After = &is.Minutes
		} else if car.Before != nil {
			car.Refused = refused
		}
		for _, b := range is.Line.Working {
			if was, known := kept[b.Step]; !b.Fits && (was || !known) {
				car.Dries = append(car.Dries, is.TitleOf(b.Step))
			}
		}
		e.Cars = append(e.Cars, car)
	}
	e.Says = e.words()
	return e, nil
}

// tried is a procedure filled for a job, or why it may not be used on it.
func tried(p procedure.Procedure, job plan.Job) (plan.Plan, string, error) {
	made, err := fill.Resolve(p, job)
	var refusal *plan.Refusal
	if errors.As(err, &refusal) {
		return plan.Plan{}, strings.Join(refusal.Reasons, " "), nil
	}
	return made, "", err
}

// words sum the effect up: "On the 5 cars in the yard: 3 min more, dries on 1."
func (e Effect) words() string {
	if len(e.Cars) == 0 {
		return "No car in the yard is looked over and waits: nothing changes there today."
	}
	change, both, dries, refused, taken := 0.0, 0, 0, 0, 0
	for _, c := range e.Cars {
		switch {
		case c.Before != nil && c.After != nil:
			change, both = change+*c.After-*c.Before, both+1
		case c.After != nil:
			taken++
		}
		if len(c.Dries) > 0 {
			dries++
		}
		if c.Refused != "" {
			refused++
		}
	}
	var parts []string
	if both > 0 {
		parts = append(parts, changeWords(change/float64(both)))
	}
	for _, p := range []struct {
		n    int
		says string
	}{{dries, "dries on %d more"}, {refused, "no longer allowed on %d"}, {taken, "newly allowed on %d"}} {
		if p.n > 0 {
			parts = append(parts, fmt.Sprintf(p.says, p.n))
		}
	}
	if len(parts) == 0 {
		parts = []string{"none of them may be washed by it, before or after"}
	}
	return fmt.Sprintf("On the cars in the yard (%d): %s.", len(e.Cars), strings.Join(parts, ", "))
}

// changeWords says a change of minutes on the average; a tenth of a minute is no change.
func changeWords(minutes float64) string {
	rounded := math.Round(10*minutes) / 10
	switch {
	case rounded > 0:
		return fmt.Sprintf("%g min more each", rounded)
	case rounded < 0:
		return fmt.Sprintf("%g min less each", -rounded)
	}
	return "as many minutes as before"
}
