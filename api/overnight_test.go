package api_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/visit"
)

// A car that is not finished is in the yard the next day, the day after, and in the day's plan: in its bay, which nobody else is given.
// It goes when somebody closes it. One that nobody said had come is in the yard, and not planned.
func TestAnUnfinishedCarStaysUntilSomebodyClosesIt(t *testing.T) {
	s, pass := moving(t)
	lead := s.as("maren")
	begun, waits, booked, gone := lead.booking("VLT 30"), lead.booking("CAB 14"), lead.booking("PLT 7"), lead.booking("TID 101")
	require.Equal(t, []visit.Stage{visit.InBay, visit.LookedOver, visit.Booked, visit.Ready},
		[]visit.Stage{begun.Stage, waits.Stage, booked.Stage, gone.Stage})
	lead.say(gone.ID, visit.HandOver, "").is(200)
	for range 2 {
		pass(24 * time.Hour)
		lead = s.as("maren")
		there := map[string]bool{}
		for _, b := range into[api.Yard](lead.get("/api/yard").is(200)).Bookings {
			there[b.ID] = true
		}
		assert.True(t, there[begun.ID] && there[waits.ID] && there[booked.ID])
		assert.False(t, there[gone.ID], "it has left")
		day := into[api.DayView](lead.get("/api/day").is(200))
		planned := func(id string) bool {
			return slices.ContainsFunc(day.Visits, func(v api.DayVisit) bool { return v.Booking.ID == id })
		}
		assert.True(t, planned(begun.ID) && planned(waits.ID))
		assert.False(t, planned(booked.ID))
	}
	lead.say(begun.ID, visit.BreakOff, "the pump is broken").is(200)
	lead.say(begun.ID, visit.HandOver, "fetched as it was").is(200)
	for _, b := range into[api.Yard](lead.get("/api/yard").is(200)).Bookings {
		assert.NotEqual(t, begun.ID, b.ID)
	}
}
