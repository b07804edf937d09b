package day_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/visit"
)

// Somebody is absent: what a customer would be told of is said, a minute or more, and which promise is missed for it.
func TestWhatAnAbsenceMoves(t *testing.T) {
	midnight := time.Date(2026, 4, 14, 0, 0, 0, 0, time.UTC)
	at := func(plate string, ready, promised measure.Seconds) day.Standing {
		return day.Standing{Plate: plate, Stage: visit.Booked, Ready: ready * 60, Promised: promised * 60, Zero: midnight}
	}
	before := map[string]day.Standing{"a": at("A 1", 600, 630), "b": at("B 2", 660, 700), "c": at("C 3", 700, 705), "d": at("D 4", 500, 600)}
	after := map[string]day.Standing{"a": at("A 1", 645, 630), "b": at("B 2", 680, 700), "c": at("C 3", 700, 705), "d": at("D 4", 490, 600)}
	moved := day.Shifts([]string{"a", "b", "c", "d"}, before, after)
	require.Len(t, moved, 3, "one stays as it was")
	assert.True(t, moved[0].Missed)
	assert.Equal(t, "A 1 misses its promise: ready at 10:45, 15 min after it.", moved[0].Says)
	assert.Equal(t, "B 2 is ready at 11:20 instead of 11:00.", moved[1].Says)
	assert.Equal(t, "D 4 is ready at 08:10 instead of 08:20.", moved[2].Says)
	gone := after["b"]
	gone.Stage = visit.Cancelled
	after["b"] = gone
	assert.Len(t, day.Shifts([]string{"b"}, before, after), 0)
}
