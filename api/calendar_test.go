package api_test

import (
	"strconv"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/visit"
)

// A calendar program follows the bookings by a secret address, without a cookie: one event a booking for good, what was cancelled told as
// such, and nothing more by an address that was renewed.
func TestACalendarFollowsTheBookings(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	feed := told[api.Token](lead, "POST", "/devices", map[string]string{"kind": "calendar", "name": "Office calendar"})
	follows := func(token string) *ics.Calendar {
		got := s.nobody().get("/api/calendar/" + token + ".ics").is(200)
		assert.Equal(t, "text/calendar; charset=utf-8", got.header.Get("Content-Type"))
		cal, err := ics.ParseCalendar(strings.NewReader(string(got.body)))
		require.NoError(t, err)
		return cal
	}
	sequence := -1
	status := func(cal *ics.Calendar, booking string) string {
		found := []string{}
		for _, e := range cal.Events() {
			if e.Id() == booking+"@uskel" {
				found = append(found, e.GetProperty(ics.ComponentPropertyStatus).Value)
				next, err := strconv.Atoi(e.GetProperty(ics.ComponentPropertySequence).Value)
				require.NoError(t, err)
				assert.Greater(t, next, sequence, "something was said of it since it was looked at")
				sequence = next
				start, err := e.GetStartAt()
				require.NoError(t, err)
				end, err := e.GetEndAt()
				require.NoError(t, err)
				assert.True(t, start.Before(end))
			}
		}
		require.Len(t, found, 1, "one event for one booking")
		return found[0]
	}
	b := lead.booking("PLT 7")
	assert.Equal(t, "CONFIRMED", status(follows(feed.Token), b.ID))
	lead.say(b.ID, visit.Cancel, "").is(200)
	cal := follows(feed.Token)
	assert.Equal(t, "CANCELLED", status(cal, b.ID))
	assert.Greater(t, len(cal.Events()), 20, "two weeks of the demo")
	lead.say(b.ID, visit.TakeBack, "").is(200)
	assert.Equal(t, "CONFIRMED", status(follows(feed.Token), b.ID))
	lead.say(b.ID, visit.Cancel, "").is(200)
	assert.Equal(t, "CANCELLED", status(follows(feed.Token), b.ID))
	for _, e := range cal.Events() {
		start, err := e.GetStartAt()
		require.NoError(t, err)
		assert.True(t, start.After(morning.Add(-16*24*time.Hour)))
	}

	s.nobody().get("/api/calendar/" + feed.Token[:20] + ".ics").problem(404)
	sensor := told[api.Token](lead, "POST", "/devices", map[string]string{"kind": "sensor", "name": "Mast"})
	s.nobody().get("/api/calendar/" + sensor.Token).problem(404)
	renewed := told[api.Token](lead, "POST", "/devices/"+feed.ID+"/renew", nil)
	s.nobody().get("/api/calendar/" + feed.Token).problem(404)
	sequence = -1
	assert.Equal(t, "CANCELLED", status(follows(renewed.Token), b.ID))
	lead.do("DELETE", "/api/devices/"+feed.ID, nil).is(204)
	s.nobody().get("/api/calendar/" + renewed.Token).problem(404)
	lead.do("POST", "/api/devices/"+feed.ID+"/renew", nil).problem(404)
}
