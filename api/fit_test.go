package api_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
)

// asked is a booking as the form sends it.
func asked(card api.BookingCard, arrives time.Time, minutes int) map[string]any {
	return map[string]any{"vehicleId": card.VehicleID, "arrivesAt": arrives, "service": "basic", "place": card.Place,
		"promisedAt": arrives.Add(time.Duration(minutes) * time.Minute)}
}

// Before a booking is saved it is said whether it fits, and where it would.
func TestABookingIsSaidToFitOrNot(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	card := lead.booking("TID 101")
	tomorrow := morning.AddDate(0, 0, 1).Truncate(24 * time.Hour).Add(9 * time.Hour)

	free := told[api.Fit](lead, "POST", "/day/fit", asked(card, tomorrow, 180))
	assert.True(t, free.Fits, free.Says)
	assert.Contains(t, free.Says, "to spare")
	assert.Empty(t, free.Where)

	short := told[api.Fit](lead, "POST", "/day/fit", asked(card, tomorrow, 20))
	assert.False(t, short.Fits, "twenty minutes do not wash a car")
	assert.Contains(t, short.Says, "after the promise")
	require.NotEmpty(t, short.Where)
	for _, p := range short.Where {
		assert.NotEmpty(t, p.Called)
		assert.True(t, p.ReadyAt.After(p.StartsAt))
	}

	night := told[api.Fit](lead, "POST", "/day/fit", asked(card, tomorrow.Add(14*time.Hour), 60))
	assert.False(t, night.Fits, "nobody is there")

	yard := told[api.Yard](lead, "GET", "/yard", nil)
	assert.Len(t, told[api.Yard](lead, "GET", "/yard", nil).Bookings, len(yard.Bookings), "nothing was saved")
	wrong := asked(card, tomorrow, -5)
	assert.Contains(t, lead.do("POST", "/api/day/fit", wrong).problem(422).says(), "promisedAt")
}

// A booking is changed until its wash begins, by one person at a time; other days can be looked at.
func TestABookingIsChanged(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	card := lead.booking("MUD 4")
	arrives := morning.AddDate(0, 0, 1).Truncate(time.Hour)
	change := asked(card, arrives, 150)
	change["version"] = card.Version
	now := told[api.BookingCard](lead, "PUT", "/bookings/"+card.ID, change)
	assert.True(t, now.ArrivesAt.Equal(arrives))
	assert.Equal(t, card.Version+1, now.Version)
	lead.do("PUT", "/api/bookings/"+card.ID, change).problem(409)
	change["version"], change["vehicleId"] = now.Version, lead.booking("TID 101").VehicleID
	assert.Contains(t, lead.do("PUT", "/api/bookings/"+card.ID, change).problem(422).says(), "vehicle of a booking cannot change")

	begun := lead.booking("VLT 30")
	late := asked(begun, arrives, 150)
	late["version"] = begun.Version
	lead.do("PUT", "/api/bookings/"+begun.ID, late).problem(409)

	day := told[api.DayView](lead, "GET", "/day?date="+arrives.Format(time.DateOnly), nil)
	require.Len(t, day.Visits, 1)
	assert.Equal(t, card.ID, day.Visits[0].Booking.ID)
	assert.NotEmpty(t, day.Visits[0].Who)
	past := told[api.DayView](lead, "GET", "/day?date="+morning.AddDate(0, 0, -3).Format(time.DateOnly), nil)
	assert.NotEmpty(t, past.Visits)
	assert.Empty(t, past.Slots, "what has passed is not laid out")
	lead.do("GET", "/api/day?date=2026-13-40", nil).problem(422)
}
