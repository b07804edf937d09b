package day_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/schedule"
	"uskel/core/visit"
)

// How a visit stands in its day is said in one place: what it says of itself, and what of it does not work out.
func TestStanding(t *testing.T) {
	base := day.Standing{
		Plate:    "CAB 14",
		Place:    "Bay 1",
		Stage:    visit.Booked,
		Zero:     time.Date(2026, 4, 14, 0, 0, 0, 0, time.UTC),
		Ready:    11 * measure.Hour,
		Promised: 12 * measure.Hour,
	}
	refused := func(s *day.Standing) { s.Refused = "no water." }
	for name, c := range map[string]struct {
		change         func(*day.Standing)
		says, conflict string
	}{
		"in time":      {func(*day.Standing) {}, "Ready at 11:00, 60 min to spare.", ""},
		"seconds late": {func(s *day.Standing) { s.Ready = s.Promised + 30 }, "Ready at 12:00, as promised.", ""},
		"late": {func(s *day.Standing) { s.Ready = s.Promised + 605 }, "Ready at 12:10, 10 min after the promise.",
			"CAB 14 is ready at 12:10, 10 min after its promise."},
		"not today": {func(s *day.Standing) { s.Ready = 25 * measure.Hour }, "Ready at 01:00, 13 h after the promise.",
			"CAB 14 does not fit into today: Bay 1, or whoever may wash it, is not there long enough."},
		"refused": {refused, "It cannot be washed as booked: no water.", "CAB 14 cannot be washed as booked: no water."},
		"cancelled, late": {func(s *day.Standing) { s.Ready, s.Stage = 20*measure.Hour, visit.Cancelled },
			"Nothing is planned: cancelled.", ""},
		"washed, late": {func(s *day.Standing) { s.Ready, s.Stage = 13*measure.Hour, visit.ToAudit },
			"Washed by 13:00.", ""},
	} {
		s := base
		c.change(&s)
		assert.Equal(t, c.says, s.Says(), name)
		assert.Equal(t, c.conflict, s.Conflict(), name)
	}
}

// A start that is later than wanted is spoken of from five minutes on, with what the first activity waits for.
func TestStandingLater(t *testing.T) {
	s := day.Standing{Plate: "CAB 14", Zero: time.Date(2026, 4, 14, 0, 0, 0, 0, time.UTC)}
	laid := schedule.Timeline{Slots: []schedule.Slot{
		{Job: "other", Start: measure.Hour, Because: "of something else."},
		{Job: "a", Start: 10*measure.Hour + 10*measure.Minute, Because: "Osk is at another car."},
		{Job: "a", Start: 11 * measure.Hour, Because: "later."},
	}}
	assert.Equal(t, "CAB 14 can begin at 10:10 only: Osk is at another car.", s.Later(laid, "a", 10*measure.Hour))
	assert.Empty(t, s.Later(laid, "a", 10*measure.Hour+6*measure.Minute))
}
