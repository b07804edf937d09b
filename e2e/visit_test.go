package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
	"uskel/store"
)

// bookingOf finds today's booking of a vehicle.
func (s *shop) bookingOf(plate string) store.BookingView {
	s.t.Helper()
	views, err := s.store.Bookings(s.t.Context(), morning.Add(-12*time.Hour), morning.Add(12*time.Hour))
	require.NoError(s.t, err)
	for _, v := range views {
		if v.Booking.Vehicle.Plate == plate {
			return v
		}
	}
	require.FailNow(s.t, "no booking for "+plate)
	return store.BookingView{}
}

// What happened to a visit is said in the yard: with a reason where somebody else will ask for one, and undone where it
// was a slip.
func TestWhatBecameOfAVisitIsSaidInTheYard(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.click("button[aria-label='What happened to CAB 14']", ".*")
	lead.click("[role=dialog] button", "Cancel the booking")
	lead.see("td", "Cancelled")
	assert.Equal(t, "cancelled", string(s.bookingOf("CAB 14").Booking.Stage))
	lead.click("button[aria-label^='Undo: cancel']", "Undo")
	lead.see("button[aria-label='What happened to CAB 14']", ".*")
	assert.Equal(t, "looked over", string(s.bookingOf("CAB 14").Booking.Stage))
	lead.quiet()
}

// The lead changes the plan of a wash that runs, from the bay itself: what is left out is gone from what is to be
// done, and the log says who did it and why.
func TestThePlanChangesInMidWash(t *testing.T) {
	s := open(t)
	lead := s.as("maren", phone)
	running := s.bookingOf("VLT 30")
	lead.visit("/bay/" + running.Wash.ID)
	lead.click("button", "Other")
	lead.click("button", "Change the plan")
	boxes := lead.all("form label")
	require.NotEmpty(t, boxes)
	first := boxes[0]
	lead.retried(func() error { return tapped(first) }, "the first step that is still to be done")
	lead.fill("Why the plan changes", "the customer waits")
	lead.click("button", "Change the plan")
	var last wash.Event
	require.Eventually(t, func() bool {
		events, err := s.store.Events(t.Context(), running.Wash.ID)
		if err != nil || len(events) == 0 {
			return false
		}
		last = events[len(events)-1]
		return last.Kind == wash.Replan
	}, patience, 20*time.Millisecond, "the change reaches the server")
	assert.Equal(t, "the customer waits", last.Text)
	require.NotNil(t, last.Plan)
	assert.Len(t, last.Plan.Without, 1)
	lead.quiet()
}
