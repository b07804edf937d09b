package crew_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
)

// learner holds the wheels only, and is slower; trainer holds everything.
func learner() (trainee, trainer schedule.Person) {
	return schedule.Person{ID: "pia", Name: "Pia", Skills: []string{string(procedure.SkillWheels)}, Pace: 130},
		schedule.Person{ID: "ines", Name: "Ines", Skills: procedure.Skill("").Values(), Pace: 100}
}

// besideHer lays a wash out for a trainee with a trainer beside her.
func besideHer(t *testing.T, b plan.Beside) (schedule.Problem, schedule.Timeline) {
	t.Helper()
	trainee, trainer := learner()
	p := plantest.Able(0)
	p.People = []schedule.Person{trainee}
	p.Machines = append(p.Machines, b.Machine(trainer.Name))
	p.Work, p.Lags = crew.Work(plantest.Resolve(t, starters.Maintenance(), plantest.Job(1)), "", 1)
	require.NoError(t, b.Check(p.Work, trainee, trainer))
	b.Stand(p.Work, trainee)
	p.Equip()
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 1500})
	require.NoError(t, err)
	require.True(t, line.Feasible, line.Why)
	return p, line
}

// A trainee washes beside somebody signed off, who stands by for what she is not signed off for, or for all of it; the
// promise goes by her pace.
func TestATraineeBesideSomebodySignedOff(t *testing.T) {
	taken := func(p schedule.Problem) (beside, all measure.Seconds) {
		for _, w := range p.Work {
			if w.Unattended {
				continue
			}
			all += w.Seconds
			assert.Equal(t, []string{"pia"}, w.Only, w.Title)
			if slices.Contains(w.Uses, "beside ines") {
				beside += w.Seconds
			}
		}
		return beside, all
	}
	shared, line := besideHer(t, plan.Beside{Trainer: "ines"})
	some, all := taken(shared)
	assert.Positive(t, some)
	assert.Less(t, some, all, "hands free for the wheels, which she holds")
	whole, _ := besideHer(t, plan.Beside{Trainer: "ines", Whole: true})
	every, all := taken(whole)
	assert.Equal(t, all, every)
	assert.GreaterOrEqual(t, line.Finish, all*130/100-1, "at her pace")

	trainee, trainer := learner()
	work, _ := crew.Work(plantest.Resolve(t, starters.Maintenance(), plantest.Job(1)), "", 1)
	assert.ErrorContains(t, plan.Beside{Trainer: "pia"}.Check(work, trainee, trainee), "beside themselves")
	trainer.Skills = []string{string(procedure.SkillWheels)}
	assert.ErrorContains(t, plan.Beside{Trainer: "ines"}.Check(work, trainee, trainer), "is not signed off for")
}

// On a day whoever stands beside a trainee does nothing else meanwhile: her own car waits, or goes to somebody else.
func TestWhoStandsBesideDoesNothingElse(t *testing.T) {
	trainee, trainer := learner()
	made := plantest.Resolve(t, starters.Maintenance(), plantest.Job(1))
	visits := []day.Visit{
		{ID: "one", Plan: made, Place: "a", Promised: measure.Day, Weight: 1, Washer: "pia", Beside: &plan.Beside{Trainer: "ines", Whole: true}},
		{ID: "two", Plan: made, Place: "b", Promised: measure.Day, Weight: 1, Washer: "ines"},
	}
	machines := []schedule.Machine{{Name: "pressure washer", Count: 2}, {Name: "hose", Count: 2}, {Name: "blower", Count: 2},
		{ID: "a", Name: "A", Count: 1}, {ID: "b", Name: "B", Count: 1}}
	p := day.Day(visits, []schedule.Person{trainee, trainer}, machines, 0)
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 4000})
	require.NoError(t, err)
	require.True(t, line.Feasible, line.Why)
	require.NoError(t, schedule.Validate(p, line))
	for _, hers := range line.Slots {
		for _, own := range line.Slots {
			if hers.Who == "pia" && own.Who == "ines" {
				assert.True(t, own.End <= hers.Start || hers.End <= own.Start, "%s while she watches %s", own.Title, hers.Title)
			}
		}
	}
}
