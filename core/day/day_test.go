package day_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
)

// A busy day is laid out with a stated gap, every promise kept, nothing broken.
func TestABusyDay(t *testing.T) {
	p := busyDay(t)
	line, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 100_000})
	require.NoError(t, err)
	require.True(t, line.Feasible, line.Why)
	require.NoError(t, schedule.Validate(p, line))
	assert.LessOrEqual(t, line.Gap, 0.1)
	for _, j := range p.Jobs {
		for _, s := range line.Slots {
			if s.Job == j.ID {
				assert.LessOrEqual(t, s.End, j.Promised, s.Title)
			}
		}
	}
	who := map[string]map[string]bool{}
	for _, s := range line.Slots {
		if who[s.Job] == nil {
			who[s.Job] = map[string]bool{}
		}
		if s.Who != "" {
			who[s.Job][s.Who] = true
		}
	}
	for job, people := range who {
		assert.Len(t, people, 1, "%s: one person sees it through", job)
	}
}

// BenchmarkDay: a day of 24 vehicles, 4 bays, 6 people, 2 washers in under 2 s; a booking dropped on a slot in under
// 0.1 s. Both in one run: ./run bench.
func BenchmarkDay(b *testing.B) {
	p := busyDay(b)
	var line schedule.Timeline
	b.Run("plan", func(b *testing.B) {
		for b.Loop() {
			line, _ = schedule.Solve(p, schedule.Options{Seed: 1, Effort: 1_200_000})
		}
		b.ReportMetric(100*line.Gap, "%-gap")
	})
	b.Run("drop", func(b *testing.B) {
		moved := p
		moved.Jobs = append([]schedule.Job{}, p.Jobs...)
		moved.Jobs[7].Arrives += 3600
		for b.Loop() {
			if _, err := schedule.Solve(moved, schedule.Options{Seed: 1, Effort: 50_000, Near: &line}); err != nil {
				b.Fatal(err)
			}
		}
	})
}

// busyDay is 24 vehicles over nine hours, four bays, six people with breaks, two washers.
func busyDay(t testing.TB) schedule.Problem {
	t.Helper()
	families := []string{"F6", "F5", "F2", "F7", "F3", "F10"}
	var visits []day.Visit
	for i := range 24 {
		family := families[i%len(families)]
		var made plan.Plan
		for _, p := range starters.Starters() {
			if p.Family == family {
				var err error
				if made, err = fill.Resolve(p, plantest.Typical(family)); err != nil {
					t.Fatal(err)
				}
			}
		}
		arrives := measure.Seconds(8*3600 + i*22*60)
		visits = append(
			visits,
			day.Visit{ID: fmt.Sprintf("v%02d", i), Plan: made, Place: "bay", Arrives: arrives, Promised: arrives + 2*3600},
		)
	}
	people := make([]schedule.Person, 6)
	for k := range people {
		lunch := measure.Seconds(12*3600 + k*1200)
		people[k] = schedule.Person{
			Name:   string(rune('A' + k)),
			Skills: procedure.Skill("").Values(),
			Pace:   95 + 5*k,
			Shut: []schedule.Span{
				{Start: 0, End: 8 * 3600},
				{Start: lunch, End: lunch + 1800},
				{Start: 19 * 3600, End: 24 * 3600},
			},
		}
	}
	machines := []schedule.Machine{
		{Name: "pressure washer", Count: 2},
		{Name: "hose", Count: 2},
		{Name: "blower", Count: 2},
		{Name: "bay", Count: 4},
	}
	return day.Day(visits, people, machines, 0)
}
