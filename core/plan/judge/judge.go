// Package judge says of plans whether one person can keep them, and which of all procedures is recommended, and why.
package judge

import (
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/wet"
	"uskel/core/procedure"
	"uskel/core/schedule"
)

// tryEffort is how long each way is laid out, in activities laid down.
const tryEffort = 800

// Keeps reports whether one practised person keeps every dwell of a plan, by the wet clock.
func Keeps(p plan.Plan, job plan.Job) bool {
	alone := schedule.Problem{People: []schedule.Person{{Name: "one person", Skills: procedure.Skill("").Values()}}}
	for _, machine := range []condition.Supply{condition.PressureWasher, condition.Hose, "blower"} {
		alone.Machines = append(alone.Machines, schedule.Machine{Name: string(machine), Count: 1})
	}
	alone.Work, alone.Lags = crew.Work(p, "", 1)
	alone.Equip()
	line, err := schedule.Solve(alone, schedule.Options{Seed: 1, Effort: tryEffort})
	return err == nil && line.Feasible && len(wet.WetFaults(p, alone.Work, line, job)) == 0
}
