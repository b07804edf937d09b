package api_test

import (
	"net/url"
	"slices"
	"sync"
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

// One plate is one car, however it is typed, and one car is not booked twice at once, also when two people book it in one moment.
func TestOnePlateIsOneCarAndIsBookedOnce(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	spec := lead.booking("PLT 7").Spec
	add := func(plate string) reply {
		return lead.do("POST", "/api/vehicles", map[string]any{"plate": plate, "label": "grey hatch", "spec": spec})
	}
	car := into[api.VehicleCard](add("IM-0").is(200))
	for _, same := range []string{"im-0", "IM 0", " im0", "I M 0"} {
		assert.Contains(t, add(same).problem(409).says(), "Taken already", same)
		found := into[[]api.VehicleCard](lead.get("/api/vehicles?find=" + url.QueryEscape(same)).is(200))
		assert.True(t, slices.ContainsFunc(found, func(v api.VehicleCard) bool { return v.ID == car.ID }), same)
	}
	add(" - ").problem(422)
	place := into[api.SettingsView](lead.get("/api/settings").is(200)).Settings.Places[0]
	book := func(from, to time.Duration) reply {
		return lead.do("POST", "/api/bookings", map[string]any{"vehicleId": car.ID, "arrivesAt": morning.Add(from), "promisedAt": morning.Add(to),
			"service": lead.booking("PLT 7").Service, "place": place})
	}
	var all sync.WaitGroup
	statuses := make([]int, 6)
	for i := range statuses {
		all.Go(func() { statuses[i] = book(30*time.Hour, 32*time.Hour).status })
	}
	all.Wait()
	slices.Sort(statuses)
	assert.Equal(t, []int{200, 409, 409, 409, 409, 409}, statuses)
	assert.Contains(t, book(31*time.Hour, 33*time.Hour).problem(409).says(), "is booked already from")
	after := into[api.BookingCard](book(32*time.Hour, 34*time.Hour).is(200)) // when the first is promised it may come again
	change := map[string]any{"vehicleId": car.ID, "arrivesAt": morning.Add(31 * time.Hour), "promisedAt": morning.Add(34 * time.Hour),
		"service": after.Service, "place": place, "version": after.Version}
	lead.do("PUT", "/api/bookings/"+after.ID, change).problem(409)
	lead.say(after.ID, visit.Cancel, "").is(200)
	book(32*time.Hour, 34*time.Hour).is(200) // what was cancelled takes no time
}

// Who left is offered nowhere.
func TestWhoLeftIsOfferedNowhere(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	for _, p := range told[api.Staff](lead, "GET", "/staff", nil).People {
		if p.SignIn == "cal" {
			lead.do("PUT", "/api/staff/"+p.ID, map[string]any{"name": p.Name, "signIn": p.SignIn, "role": p.Role, "active": false,
				"version": p.Version}).is(204)
		}
	}
	for _, path := range []string{"/api/people", "/api/training"} {
		assert.NotContains(t, string(lead.get(path).is(200).body), "Cal Strand", path)
	}
}
