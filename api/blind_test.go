package api_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/shop"
	"uskel/core/vehicle"
)

// marker stands in what the first look found: whoever is to look blind must meet it nowhere.
const marker = "zebra under the sill"

// firstLook is a signed audit that passed and found something with the marker in it.
func (s *place) firstLook(b api.BookingCard) api.AuditView {
	hesper := s.as("hesper")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	for _, id := range a.Result.Open {
		given := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if id == "water" {
			given = audit.Answer{Verdict: audit.Found, Note: marker, Findings: []audit.Finding{
				{Zone: vehicle.Bonnet, Kind: audit.BondedMatter, Matter: condition.WaterSpots, Severity: audit.Minor}}}
		}
		hesper.do("PUT", "/api/audits/"+a.ID+"/items/"+id, map[string]any{"version": 0, "answer": given}).is(200)
	}
	return into[api.AuditView](hesper.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200))
}

// later is the same shop a minute later.
func (s *place) later(t *testing.T) *place {
	return serve(t, s.store, func(c *api.Config) { c.Now = func() time.Time { return morning.Add(time.Minute) } })
}

// everyGet asks for everything that can be asked for, with the ids of things.
func (c *caller) everyGet(ids ...string) map[string]reply {
	c.t.Helper()
	var described struct{ Paths map[string]map[string]any }
	text, err := api.Description()
	require.NoError(c.t, err)
	require.NoError(c.t, json.Unmarshal(text, &described))
	got := map[string]reply{}
	for _, path := range slices.Sorted(maps.Keys(described.Paths)) {
		if _, is := described.Paths[path]["get"]; !is || streamed["GET "+path] || path == "/session" {
			continue
		}
		for _, id := range ids {
			address := "/api" + strings.NewReplacer("{id}", id, "{skill}", "mitt", "{version}", "1").Replace(path)
			got[address] = c.get(address)
		}
	}
	return got
}

// Whoever is asked to walk a car again blind reads what the first found nowhere: by no operation, list, export or search, until it
// is walked, declined, or the car has left. Others read on.
func TestABlindLookIsBlind(t *testing.T) {
	s := open(t)
	b := s.as("maren").booking("CAB 12")
	a := s.firstLook(b)
	require.True(t, a.Result.Passed)
	require.Less(t, a.Result.Score, 100)
	s = s.later(t)
	owner, lis := s.hires("Odile Penn", "odile", shop.Owner), s.as("lis")
	require.True(t, strings.Contains(string(s.as("hesper").get("/api/findings").is(200).body), a.ID), "so that it could be met there")
	people := into[[]api.OpenSecond](owner.get("/api/second-looks").is(200))
	require.Equal(t, a.ID, people[0].AuditID)
	assert.Contains(t, people[0].People, api.PersonRef{ID: owner.id("lis"), Name: "Lis Marsh", Role: shop.Auditor})

	forLis := takes(audit.SecondWalk, a.ID, owner.id("lis"))
	assert.Contains(t, s.as("ines").do("POST", "/api/blind", forLis).problem(403).says(), "Only the lead")
	owner.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, owner.id("pia"))).problem(422) // a trainee audits nothing
	owner.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, owner.id("lis"))).is(204)
	s.as("bram").do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, owner.id("bram"))).problem(409) // one person is asked

	blind := func(c *caller, name string) {
		t.Helper()
		met := 0
		for address, r := range c.everyGet(a.ID, b.ID, b.WashID, b.VehicleID) {
			assert.False(t, strings.Contains(string(r.body), marker), "%s, %s", name, address)
			assert.Less(t, r.status, 500, address)
			met++
		}
		assert.Greater(t, met, 120)
		for _, l := range into[[]api.AuditLine](c.get("/api/audits").is(200)) {
			if l.AuditID == a.ID {
				assert.Nil(t, l.Score, name)
				assert.Nil(t, l.Passed, name)
				assert.Zero(t, l.Wash.Findings, name)
			}
		}
		for _, path := range []string{"/api/signed-audits", "/api/findings"} {
			assert.False(t, strings.Contains(string(c.get(path).is(200).body), a.ID), path)
		}
		lines := func(c *caller) int { return strings.Count(string(c.get("/api/findings/export").is(200).body), "\n") }
		assert.Equal(t, lines(s.as("hesper"))-1, lines(c), name)
		for _, v := range into[api.VehicleView](c.get("/api/vehicles/" + b.VehicleID).is(200)).Visits {
			if v.AuditID == a.ID {
				assert.Nil(t, v.Score, name)
				assert.Empty(t, v.Findings, name)
			}
		}
		assert.Nil(t, c.booking("CAB 12").Score, name)
		c.get("/api/audits/" + a.ID).problem(409)
	}
	blind(lis, "offered")
	lis.do("POST", "/api/blind/answer", map[string]any{"kind": audit.SecondWalk, "of": a.ID, "accept": true}).is(204)
	blind(lis, "accepted")
	assert.Contains(t, string(owner.get("/api/audits/"+a.ID).is(200).body), marker, "others read it")
	assert.Contains(t, s.as("bram").get("/api/audits/"+a.ID).is(200).asked, "audits")

	walked := into[api.AuditView](lis.get("/api/audits/" + a.ID + "/second").is(200))
	answers := map[string]audit.Answer{}
	for _, id := range walked.Result.Open {
		answers[id] = audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	}
	lis.do("POST", "/api/audits/"+a.ID+"/second", map[string]any{"id": uuid.NewString(), "light": audit.Lamp, "answers": answers}).is(200)
	assert.Contains(t, string(lis.get("/api/audits/"+a.ID).is(200).body), marker, "once it is walked one may know")
}

// Whoever has read what was found is not asked, by whichever page they read it; whoever declines reads on, and is then not asked;
// a car that has left hides nothing; what was put right on the spot is no longer as it was found.
func TestWhoHasReadTheFirstIsNotAsked(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("CAB 12")
	a := s.firstLook(b)
	s = s.later(t)
	lead = s.as("maren")
	for name, path := range map[string]string{"osk": "/api/audits/" + a.ID, "lis": "/api/findings", "ines": "/api/vehicles/" + b.VehicleID} {
		c := s.as(name)
		c.get(path).is(200)
		assert.Contains(t, c.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id(name))).problem(409).says(), "has read", name)
		lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id(name))).problem(409)
	}
	bram := s.as("bram")
	lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("bram"))).is(204)
	bram.get("/api/audits/" + a.ID).problem(409)
	bram.do("POST", "/api/blind/answer", map[string]any{"kind": audit.SecondWalk, "of": a.ID, "accept": false}).is(204)
	bram.get("/api/audits/" + a.ID).is(200)
	lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("bram"))).problem(409)

	lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("maren"))).is(204)
	lead.get("/api/audits/" + a.ID).problem(409)
	lead.do("POST", "/api/bookings/"+b.ID+"/moves", map[string]string{"move": "hand over"}).is(200)
	lead.get("/api/audits/" + a.ID).is(200) // the car has left
	lead.get("/api/audits/" + a.ID + "/second").is(200)
	body := map[string]any{"id": uuid.NewString(), "light": audit.Lamp, "answers": a.Answers}
	lead.do("POST", "/api/audits/"+a.ID+"/second", body).is(422)
}

// A second look is of the car as it was found: never after rework, nor where something was put right on the spot.
func TestNoBlindLookAtWhatWasPutRight(t *testing.T) {
	s := open(t)
	lead, hesper := s.as("maren"), s.as("hesper")
	b := lead.booking("CAB 12")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	for _, id := range a.Result.Open {
		given := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if id == "front" {
			given = audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
				{Zone: vehicle.MirrorLeft, Kind: audit.Drips, Severity: audit.Minor, Amount: 2, PutRight: 20}}}
		}
		hesper.do("PUT", "/api/audits/"+a.ID+"/items/"+id, map[string]any{"version": 0, "answer": given}).is(200)
	}
	hesper.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200)
	for _, o := range into[[]api.OpenSecond](lead.get("/api/second-looks").is(200)) {
		assert.NotEqual(t, a.ID, o.AuditID)
	}
	assert.Contains(t, lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("lis"))).problem(409).says(), "put right since")
}

// Whoever is to grade a vehicle again sees its first grades on no page; the yard does not tell how dirty it is, either.
func TestASecondGradingIsBlind(t *testing.T) {
	s := open(t)
	lead, osk := s.as("maren"), s.as("osk")
	offered := into[[]api.OpenGrade](osk.get("/api/second-grades").is(200))
	require.NotEmpty(t, offered)
	booking := offered[0].BookingID
	look := into[api.LookOverView](lead.get("/api/bookings/" + booking + "/look-over").is(200))
	look.LookOver.Notes = marker
	lead.do("PUT", "/api/bookings/"+booking+"/look-over", map[string]any{"version": look.Version, "lookOver": look.LookOver}).is(200)
	arranged := map[string]any{"version": lead.booking(look.Booking.Plate).Version, "arranged": map[string]any{"procedure": "wheels-only"}}
	lead.do("PUT", "/api/bookings/"+booking+"/arranged", arranged).is(200)
	title := func(c *caller) string {
		for _, v := range into[api.DayView](c.get("/api/day").is(200)).Visits {
			if v.Booking.ID == booking {
				return v.Title
			}
		}
		return "not on the day"
	}
	require.NotEmpty(t, title(lead))
	osk.do("POST", "/api/blind", takes(audit.SecondGrades, booking, lead.id("osk"))).is(204)
	for address, r := range osk.everyGet(booking, look.Booking.VehicleID) {
		assert.False(t, strings.Contains(string(r.body), marker), address)
	}
	osk.get("/api/bookings/" + booking + "/plan").problem(409)
	assert.Nil(t, osk.booking(look.Booking.Plate).Overall)
	assert.Nil(t, osk.booking(look.Booking.Plate).Arranged, "the chosen procedure tells how dirty it is")
	assert.Empty(t, title(osk))
	described := func(c *caller) string {
		cal, err := ics.ParseCalendar(strings.NewReader(string(c.get("/api/day/export").is(200).body)))
		require.NoError(t, err)
		for _, e := range cal.Events() {
			if e.Id() == booking+"@uskel" {
				return e.GetProperty(ics.ComponentPropertyDescription).Value
			}
		}
		return "not in the calendar"
	}
	assert.Contains(t, described(lead), title(lead))
	assert.NotContains(t, described(osk), title(lead))
	assert.Contains(t, described(osk), "Ready at")
	require.NotNil(t, lead.booking(look.Booking.Plate).Arranged)
	require.NotNil(t, lead.booking(look.Booking.Plate).Overall)
	osk.do("POST", "/api/blind/answer", map[string]any{"kind": audit.SecondGrades, "of": booking, "accept": false}).is(204)
	assert.Contains(t, string(osk.get("/api/bookings/"+booking+"/look-over").is(200).body), marker)
	osk.do("POST", "/api/blind", takes(audit.SecondGrades, booking, lead.id("osk"))).problem(409)
}
