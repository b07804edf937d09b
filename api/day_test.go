package api_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/core/stock"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/demo/demotest"
	"uskel/store"
)

// told sends something that must be taken and reads the answer.
func told[T any](c *caller, method, path string, body any) T {
	c.t.Helper()
	return into[T](c.do(method, "/api"+path, body).is(http.StatusOK))
}

func (c *caller) timeline(b api.BookingCard, a plan.Arranged) api.TimelineView {
	c.t.Helper()
	return told[api.TimelineView](c, "POST", "/bookings/"+b.ID+"/timeline", a)
}

// That no wage is set is said by the setting, not by what the labour comes to.
func TestNoWageIsSaidWhereNoneIsSet(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("CAB 14")
	view := told[api.SettingsView](lead, "GET", "/settings", nil)
	require.Positive(t, view.Settings.Labour)
	assert.False(t, lead.timeline(b, plan.Arranged{}).Unpaid)
	view.Settings.Labour = 0
	told[api.SettingsView](lead, "PUT", "/settings", view)
	bare := lead.timeline(b, plan.Arranged{})
	assert.True(t, bare.Unpaid)
	assert.Zero(t, bare.Labour)
}

func TestATimelineForACrew(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("CAB 14")
	one := lead.timeline(b, plan.Arranged{})
	require.True(t, one.Timeline.Feasible, one.Timeline.Why)
	require.NotNil(t, one.Promise)
	assert.Equal(t, "Ines Varga", one.Crew[0].Name, "the booked washer")
	assert.Greater(t, one.Promise.P95, one.Promise.P50)
	assert.NotEmpty(t, one.Timeline.Soaks)
	assert.Positive(t, one.Labour)

	people := told[[]api.PersonRef](lead, "GET", "/people", nil)
	ids := map[string]string{}
	for _, p := range people {
		ids[p.Name] = p.ID
	}
	two := lead.timeline(
		b,
		plan.Arranged{Procedure: one.Procedure, People: []string{ids["Ines Varga"], ids["Osk Pellow"]}},
	)
	assert.Less(t, two.Timeline.Finish, one.Timeline.Finish)

	// A block moved to the other person and later is where it was put.
	work := two.Timeline.Slots[len(two.Timeline.Slots)-1]
	other := ids["Osk Pellow"]
	if work.Who == other {
		other = ids["Ines Varga"]
	}
	moved := plan.Arranged{Procedure: one.Procedure, People: two.Arranged.People,
		Moved: []plan.Moved{{Work: work.ID, Person: other, NotBefore: work.Start + 600}}}
	after := lead.timeline(b, moved)
	for _, x := range after.Timeline.Slots {
		if x.ID == work.ID {
			assert.NotEqual(t, work.Who, x.Who)
			assert.GreaterOrEqual(t, x.Start, work.Start+600)
		}
	}
	assert.Greater(t, after.Timeline.Finish, two.Timeline.Finish)

	// Kept, it is the booking's, once; a second keeper with the old version is told.
	card := told[api.BookingCard](
		lead,
		"PUT",
		"/bookings/"+b.ID+"/arranged",
		map[string]any{"version": b.Version, "arranged": moved},
	)
	require.NotNil(t, card.Arranged)
	assert.Equal(t, moved.Moved, card.Arranged.Moved)
	lead.do("PUT", "/api/bookings/"+b.ID+"/arranged", map[string]any{"version": b.Version, "arranged": moved}).
		problem(http.StatusConflict)

	// Nobody outside the crew can be given work, and nobody who does not wash can be in it.
	lead.do("POST", "/api/bookings/"+b.ID+"/timeline", plan.Arranged{People: []string{ids["Ines Varga"]},
		Moved: []plan.Moved{{Work: work.ID, Person: ids["Osk Pellow"]}}}).problem(http.StatusUnprocessableEntity)
	lead.do("POST", "/api/bookings/"+b.ID+"/timeline", plan.Arranged{People: []string{ids["Hesper Quill"]}}).
		problem(http.StatusUnprocessableEntity)

	// A trainee alone may not: it is said in words.
	alone := lead.timeline(b, plan.Arranged{Procedure: one.Procedure, People: []string{ids["Cal Strand"]}})
	assert.False(t, alone.Timeline.Feasible)
	assert.Contains(t, alone.Timeline.Why[0], "needs somebody signed off for")
	assert.Nil(t, alone.Promise)
}

func TestWhatIfIsSideBySide(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("CAB 14")
	ways := told[[]api.WhatIf](lead, "POST", "/bookings/"+b.ID+"/what-if", plan.Arranged{})
	require.GreaterOrEqual(t, len(ways), 4)
	assert.Equal(t, "As it stands", ways[0].Name)
	for _, w := range ways {
		if w.Feasible {
			assert.Positive(t, w.P80, w.Name)
			assert.Positive(t, w.Cost, w.Name)
		} else {
			assert.NotEmpty(t, w.Why, w.Name)
		}
		switch {
		case strings.HasSuffix(w.Name, "as well") && !strings.Contains(w.Name, "trainee"):
			assert.Less(t, w.Finish, ways[0].Finish)
			assert.Greater(t, w.Cost, ways[0].Cost/2)
		case strings.HasPrefix(w.Name, "Without"):
			assert.Less(t, w.Finish, ways[0].Finish)
		}
	}
}

func TestTheRestOfAWashIsLaidOutAnew(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("VLT 30")
	view := told[api.TimelineView](lead, "GET", "/washes/"+b.WashID+"/timeline", nil)
	require.True(t, view.Timeline.Feasible, view.Timeline.Why)
	now := int(morning.Sub(view.Zero).Seconds())
	begun := 0
	for _, x := range view.Timeline.Slots {
		if strings.Contains(x.Because, "has begun") {
			begun++
		} else {
			assert.GreaterOrEqual(t, int(x.Start), now-1, x.Title)
		}
	}
	assert.Positive(t, begun)
	require.NotNil(t, view.Promise)
}

func TestTheDayIsLaidOut(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	day := told[api.DayView](lead, "GET", "/day", nil)
	require.NotEmpty(t, day.Slots)
	assert.Len(t, day.Bays, 3)
	assert.Len(t, day.People, 6, "the auditor washes nothing")
	busy := map[string][2]int{}
	for _, x := range day.Slots { // in order of their starts: nobody is at two things at once
		if x.Who == "" {
			continue
		}
		assert.GreaterOrEqual(t, int(x.Start), busy[x.Who][1]-1, "%s: %s", x.Who, x.Title)
		busy[x.Who] = [2]int{int(x.Start), int(x.End)}
	}
	for _, v := range day.Visits {
		assert.NotEmpty(t, v.Says)
		if v.Booking.Stage == "booked" {
			assert.True(t, v.Assumed)
		}
	}

	// Dropping a booking where a bay is taken says what breaks and saves nothing.
	pilot, van := lead.booking("PLT 7"), lead.booking("BUN 55")
	tried := told[api.DayView](lead, "POST", "/day/drop", api.Drop{BookingID: pilot.ID,
		StartsAt: van.ArrivesAt.Add(3 * time.Hour), Place: "open-bay"})
	assert.NotEmpty(t, tried.Conflict)
	assert.Contains(t, strings.Join(tried.Conflict, " "), "PLT 7 is ready at")
	assert.Nil(t, lead.booking("PLT 7").StartsAt)
	lead.do("POST", "/api/day/drop", api.Drop{BookingID: pilot.ID, StartsAt: van.ArrivesAt, Place: "Nowhere"}).
		problem(http.StatusUnprocessableEntity)

	// Three slots, the least pain first; the best can be had.
	slots := told[[]api.Proposal](lead, "POST", "/day/slots", map[string]string{"bookingId": pilot.ID})
	require.Len(t, slots, 3)
	for i, p := range slots {
		assert.NotEmpty(t, p.Says)
		assert.True(t, p.ReadyAt.After(p.StartsAt))
		if i > 0 && p.Washer.ID != slots[0].Washer.ID {
			assert.GreaterOrEqual(t, p.Late+p.Delays, slots[0].Late+slots[0].Delays)
		}
	}
	give := map[string]any{
		"startsAt": slots[0].StartsAt,
		"place":    slots[0].Place,
		"washerId": slots[0].Washer.ID,
		"version":  pilot.Version,
	}
	card := told[api.BookingCard](lead, "PUT", "/bookings/"+pilot.ID+"/slot", give)
	require.NotNil(t, card.StartsAt)
	assert.WithinDuration(t, slots[0].StartsAt, *card.StartsAt, time.Second)
	assert.Equal(t, slots[0].Place, card.Place.ID)
	assert.Equal(t, slots[0].Called, card.Place.Name)
	lead.do("PUT", "/api/bookings/"+pilot.ID+"/slot", give).problem(http.StatusConflict)
	running := lead.booking("VLT 30")
	give["version"] = running.Version
	lead.do("PUT", "/api/bookings/"+running.ID+"/slot", give).problem(http.StatusConflict)
}

func (c *caller) fetch(path string) (string, []byte) {
	c.t.Helper()
	r := c.do("GET", "/api"+path, nil).is(http.StatusOK)
	return r.header.Get("Content-Type"), r.body
}

// The calendar is read back by another package than the one that wrote it (RFC 5545); the table by the standard
// library (RFC 4180).
func TestTheDayLeavesAsCalendarAndTable(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	day := told[api.DayView](lead, "GET", "/day", nil)

	kind, data := lead.fetch("/day/export?format=ics")
	assert.Contains(t, kind, "text/calendar")
	cal, err := ical.NewDecoder(bytes.NewReader(data)).Decode()
	require.NoError(t, err)
	events := cal.Events()
	require.Len(t, events, len(day.Visits))
	byID := map[string]ical.Event{}
	for _, e := range events {
		uid, err := e.Props.Text(ical.PropUID)
		require.NoError(t, err)
		byID[uid] = e
	}
	for _, v := range day.Visits {
		e, there := byID[v.Booking.ID+"@uskel"]
		require.True(t, there)
		start, err := e.DateTimeStart(time.UTC)
		require.NoError(t, err)
		assert.WithinDuration(t, day.Zero.Add(v.Start.Duration()), start, time.Second)
		summary, err := e.Props.Text(ical.PropSummary)
		require.NoError(t, err)
		assert.Equal(t, v.Booking.Plate+", "+v.Booking.Label, summary)
	}
	for _, line := range bytes.Split(data, []byte("\r\n")) {
		assert.LessOrEqual(t, len(line), 75, "RFC 5545, 3.1: lines are folded at 75 octets")
	}

	osk := ""
	for _, p := range day.People {
		if p.Person.Name == "Osk Pellow" {
			osk = p.Person.ID
		}
	}
	_, shift := lead.fetch("/day/export?format=ics&person=" + osk)
	cal, err = ical.NewDecoder(bytes.NewReader(shift)).Decode()
	require.NoError(t, err)
	assert.NotEmpty(t, cal.Events())
	assert.Less(t, len(cal.Events()), len(events))

	kind, data = lead.fetch("/day/export?format=csv")
	assert.Contains(t, kind, "text/csv")
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 1+len(day.Slots))
	assert.Equal(t, "start", rows[0][0])
	_, data = lead.fetch("/day/export?format=csv&person=" + osk)
	mine, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	for _, row := range mine[1:] {
		assert.Equal(t, "Osk Pellow", row[5])
	}
}

// A vehicle that comes for the first time, with a name that files must not trip over: it is booked, stands on the
// day's board, and leaves in calendar and table as it was written. What cannot be booked is refused with the field.
func TestABookingIsMade(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	name := `Van; "the, long" – naïve\line ` + strings.Repeat("🚐 ß ", 9) + "=1+1"
	spec := vehicle.Vehicle{
		Body:   vehicle.Van,
		Shade:  "white",
		Finish: "ordinary",
		Wheels: vehicle.WheelSpec{Inches: 16, Spokes: "open"},
	}
	card := told[api.VehicleCard](
		lead,
		"POST",
		"/vehicles",
		map[string]any{"plate": "ODD 1", "label": name, "spec": spec},
	)
	place := told[api.SettingsView](lead, "GET", "/settings", nil).Settings.Places[0]
	booking := func(change func(*api.NewBooking)) api.NewBooking {
		n := api.NewBooking{
			VehicleID:  card.ID,
			ArrivesAt:  morning.Add(2 * time.Hour),
			PromisedAt: morning.Add(6 * time.Hour),
			Service:    "basic",
			Place:      place,
			WasherID:   lead.id("osk"),
		}
		if change != nil {
			change(&n)
		}
		return n
	}
	for says, change := range map[string]func(*api.NewBooking){
		"promisedAt: must be after arrivesAt":          func(n *api.NewBooking) { n.PromisedAt = n.ArrivesAt },
		"washerId: Hesper Quill does not wash":         func(n *api.NewBooking) { n.WasherID = lead.id("hesper") },
		"There is no such vehicle":                     func(n *api.NewBooking) { n.VehicleID = store.NewID() },
		"There is no such person":                      func(n *api.NewBooking) { n.WasherID = store.NewID() },
		`service: "polish": the shop does not sell it`: func(n *api.NewBooking) { n.Service = "polish" },
	} {
		r := lead.do("POST", "/api/bookings", booking(change))
		assert.Contains(t, r.problem(r.status).says(), says)
	}
	made := told[api.BookingCard](lead, "POST", "/bookings", booking(nil))
	assert.Equal(t, name, made.Label)
	assert.Equal(t, "Osk Pellow", made.Washer.Name)
	assert.Equal(t, made.ID, lead.booking("ODD 1").ID)

	// Somebody else takes it; who saves over that without having seen it is told.
	told[api.BookingCard](
		lead,
		"PUT",
		"/bookings/"+made.ID+"/washer",
		map[string]any{"washerId": lead.id("ines"), "version": made.Version},
	)
	late := lead.do("PUT", "/api/bookings/"+made.ID+"/washer", map[string]any{"washerId": lead.id("jory"), "version": made.Version}).
		problem(409)
	assert.Contains(t, late.says(), "meanwhile")
	assert.Equal(t, "Ines Varga", lead.booking("ODD 1").Washer.Name)
	begun := lead.booking("VLT 30")
	assert.Contains(
		t,
		lead.do("PUT", "/api/bookings/"+begun.ID+"/washer", map[string]any{"washerId": lead.id("jory"), "version": begun.Version}).
			problem(409).
			says(),
		"The wash has begun",
	)

	day := told[api.DayView](lead, "GET", "/day", nil)
	require.True(
		t,
		slices.ContainsFunc(day.Visits, func(v api.DayVisit) bool { return v.Booking.ID == made.ID && v.Assumed }),
		"two weeks of dry road are assumed",
	)
	_, data := lead.fetch("/day/export?format=ics")
	assert.True(t, utf8.Valid(data))
	cal, err := ical.NewDecoder(bytes.NewReader(data)).Decode()
	require.NoError(t, err)
	read := ""
	for _, e := range cal.Events() {
		if uid, _ := e.Props.Text(ical.PropUID); uid == made.ID+"@uskel" {
			read, err = e.Props.Text(ical.PropSummary)
			require.NoError(t, err)
		}
	}
	assert.Equal(t, "ODD 1, "+name, read)
	_, data = lead.fetch("/day/export?format=csv")
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(rows, func(row []string) bool { return slices.Contains(row, name) }))
}

func TestCustomersAreTold(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	ready := lead.booking("TID 101")
	draft := told[api.NoticeDraft](lead, "GET", "/bookings/"+ready.ID+"/notice", nil).Text
	assert.Contains(t, draft, "is washed and waiting for you")
	assert.Empty(t, told[[]api.NoticeView](lead, "GET", "/outbox", nil), "what is only read is not sent")
	lead.do("POST", "/api/bookings/"+ready.ID+"/notice", map[string]string{}).problem(422)
	lead.do("POST", "/api/bookings/"+ready.ID+"/notice", map[string]string{"text": "  "}).problem(422)
	told[api.NoticeView](lead, "POST", "/bookings/"+ready.ID+"/notice", map[string]string{"text": draft})
	told[api.NoticeView](
		lead,
		"POST",
		"/bookings/"+ready.ID+"/notice",
		map[string]string{"text": "The boat is late; no hurry."},
	)
	out := told[[]api.NoticeView](lead, "GET", "/outbox", nil)
	require.Len(t, out, 2)
	assert.Equal(
		t,
		[]string{"TID 101", "The boat is late; no hurry.", "Maren Tolley"},
		[]string{out[1].Plate, out[1].Text, out[1].By},
	)
}

func TestCareIsDue(t *testing.T) {
	s := open(t)
	care := told[[]api.CareLine](s.as("osk"), "GET", "/care", nil)
	require.NotEmpty(t, care)
	for i, c := range care {
		require.NotEmpty(t, c.Due)
		assert.False(t, c.Washed.After(morning))
		if i > 0 {
			assert.False(t, c.Due[0].At.Before(care[i-1].Due[0].At), "the first due first")
		}
	}
}

// Looking for a better day is told of as it goes on; hanging up stops it, and the best so far is kept.
func TestABetterDayIsLookedFor(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	resp, err := lead.client.Get(s.url + "/api/day/improve")
	require.NoError(t, err)
	require.Equal(t, "text/event-stream", resp.Header.Get("Content-Type"))
	lines := make([]byte, 4096)
	n, err := resp.Body.Read(lines)
	require.NoError(t, err)
	var first api.Better
	text, _, _ := strings.Cut(strings.TrimPrefix(string(lines[:n]), "data: "), "\n")
	require.NoError(t, json.Unmarshal([]byte(text), &first))
	assert.Positive(t, first.Of)
	require.NoError(t, resp.Body.Close())
	day := told[api.DayView](lead, "GET", "/day", nil)
	assert.LessOrEqual(t, day.Gap, first.Gap+1e-9)
}

func TestShiftsAndMachinesAreChecked(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	view := told[api.SettingsView](lead, "GET", "/settings", nil)
	require.NotEmpty(t, view.Settings.Shifts)
	for _, change := range []func(*shop.Settings){
		func(x *shop.Settings) { x.Shifts[0].PersonID = store.NewID() },
		func(x *shop.Settings) { x.Shifts[0].To = x.Shifts[0].From },
		func(x *shop.Settings) { x.Shifts[0].BreakTo = x.Shifts[0].To + 10 },
		func(x *shop.Settings) { x.Machines = append(x.Machines, x.Machines[0]) },
	} {
		bad := view
		bad.Settings.Shifts = append([]shop.Shift{}, view.Settings.Shifts...)
		change(&bad.Settings)
		lead.do("PUT", "/api/settings", bad).problem(http.StatusUnprocessableEntity)
	}
	view.Settings.Machines[0].Count = 2
	view = told[api.SettingsView](lead, "PUT", "/settings", view)
	assert.Equal(t, 2, view.Settings.Machines[0].Count)
}

// On the days on which clocks are changed (Paris, 29 March and 25 October 2026, IANA time zone database) the day's
// hours are those of the wall clock, a shift begins when the clock says so, and a promise is the moment that was
// promised.
func TestTheDayWhenClocksAreChanged(t *testing.T) {
	for _, c := range []struct {
		noon time.Time
		less measure.Seconds // of the day until noon
	}{{time.Date(2026, 3, 29, 10, 0, 0, 0, time.UTC), 3600}, {time.Date(2026, 10, 25, 11, 0, 0, 0, time.UTC), -3600}} {
		s := serve(
			t,
			demotest.Open(t),
			func(x *api.Config) { x.Now = func() time.Time { return c.noon } },
		)
		lead := s.as("maren")
		view := told[api.SettingsView](lead, "GET", "/settings", nil)
		view.Settings.TimeZone = "Europe/Paris"
		view.Settings.Shifts = []shop.Shift{{PersonID: lead.id("osk"), From: 8 * 60, To: 18 * 60}}
		told[api.SettingsView](lead, "PUT", "/settings", view)
		zone, err := time.LoadLocation("Europe/Paris")
		require.NoError(t, err)
		hours := told[[]climate.Hour](lead, "GET", "/weather", nil)
		require.Len(t, hours, 16)
		for i, h := range hours {
			assert.Equal(t, 6+i, h.At.In(zone).Hour(), "each hour of the wall clock once")
		}
		promised := c.noon.Add(4 * time.Hour)
		car := told[[]api.VehicleCard](lead, "GET", "/vehicles", nil)[0]
		booked := told[api.BookingCard](
			lead,
			"POST",
			"/bookings",
			api.NewBooking{VehicleID: car.ID, ArrivesAt: c.noon.Add(time.Hour),
				PromisedAt: promised, Service: "basic", Place: view.Settings.Places[0], WasherID: lead.id("osk")},
		)
		day := told[api.DayView](lead, "GET", "/day", nil)
		assert.Equal(t, 12*3600-c.less, day.Now, "since midnight")
		assert.Equal(t, 6*3600-c.less, day.Opens)
		for _, p := range day.People {
			if p.Person.ID == lead.id("osk") {
				require.NotEmpty(t, p.Shut)
				assert.Equal(t, 8*3600-c.less, p.Shut[0].End)
			}
		}
		require.NotEmpty(t, day.Visits)
		assert.True(t, promised.Equal(booked.PromisedAt))
		assert.Zero(t, day.Visits[0].Late)
	}
}

// Somebody is absent this morning: one action lays the day out again and says what moves. What was given to them is done by
// others, stays theirs, and is theirs again when they are back.
func TestSomebodyIsAbsent(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	osk := lead.id("osk")
	absent := func(is bool) api.AbsentView {
		return told[api.AbsentView](lead, "PUT", "/day/absent", map[string]any{"personId": osk, "absent": is})
	}
	washes := func(d api.DayView) (given, does int) {
		for _, v := range d.Visits {
			if v.Booking.Stage.Planned() && v.Booking.Washer != nil && v.Booking.Washer.ID == osk {
				given++
			}
			if v.Booking.Stage.Planned() && slices.Contains(v.Who, "Osk Pellow") {
				does++
			}
		}
		return given, does
	}
	before := told[api.DayView](lead, "GET", "/day", nil)
	given, does := washes(before)
	require.Positive(t, given, "the demo gives him a wash that is still to come")
	require.Positive(t, does)
	gone := absent(true)
	stays, none := washes(gone.Day)
	assert.Equal(t, given, stays)
	assert.Zero(t, none)
	for _, p := range gone.Day.People {
		assert.Equal(t, p.Person.ID == osk, p.Absent, p.Person.Name)
	}
	again := absent(true)
	assert.Empty(t, again.Shifted, "said twice nothing moves")
	back := absent(false)
	_, does = washes(back.Day)
	assert.Positive(t, does)
	s.as("osk").do("PUT", "/api/day/absent", map[string]any{"personId": osk, "absent": true}).problem(403)
	assert.Contains(t, lead.do("PUT", "/api/day/absent", map[string]any{"personId": lead.id("hesper"), "absent": true}).problem(422).says(),
		"nobody who washes here")
}

// What today's washes need stands against what is there; what was never counted says so.
func TestEnoughForToday(t *testing.T) {
	lead := open(t).as("maren")
	needs := told[[]stock.Need](lead, "GET", "/shelf/today", nil)
	kinds := map[stock.NeedKind]int{}
	for _, n := range needs {
		kinds[n.Kind]++
		assert.NotEmpty(t, n.Says, n.What)
		assert.Positive(t, n.Need, n.What)
	}
	for _, kind := range []stock.NeedKind{stock.NeedsProduct, stock.NeedsMix, stock.NeedsCloths, stock.NeedsWater} {
		assert.Positive(t, kinds[kind], kind)
	}
}

// Above a scratch risk of 60 the lead says yes before a wash begins: nobody else takes it into the bay.
func TestTheLeadSaysYesToARisk(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	settings := told[api.SettingsView](lead, "GET", "/settings", nil)
	card := told[api.VehicleCard](lead, "POST", "/vehicles", map[string]any{"plate": "RSK 1", "label": "Dark one",
		"spec": vehicle.Vehicle{Body: vehicle.Pickup, Shade: vehicle.Dark, Finish: vehicle.Soft,
			Wheels: vehicle.WheelSpec{Inches: 17, Spokes: vehicle.PlainSpokes}}})
	place := settings.Settings.Places[0]
	place.Supply = condition.Hose
	booked := told[api.BookingCard](lead, "POST", "/bookings", api.NewBooking{VehicleID: card.ID, ArrivesAt: morning,
		PromisedAt: morning.Add(4 * time.Hour), Service: "basic", Place: place, WasherID: lead.id("osk")})
	look := told[api.LookOverView](lead, "GET", "/bookings/"+booked.ID+"/look-over", nil).LookOver
	for _, part := range vehicle.Pickup.Parts() {
		look.Grades[part.Zone] = 2
	}
	told[api.LookOverView](lead, "PUT", "/bookings/"+booked.ID+"/look-over", map[string]any{"version": 0, "lookOver": look})
	begin := func(c *caller) reply {
		return c.do("POST", "/api/bookings/"+booked.ID+"/wash", map[string]any{"procedure": "hose-two-bucket", "washerId": lead.id("osk")})
	}
	p := told[api.PlanView](lead, "GET", "/bookings/"+booked.ID+"/plan?procedure=hose-two-bucket", nil)
	at := slices.IndexFunc(p.Choices, func(c plan.Choice) bool { return c.Procedure == "hose-two-bucket" })
	require.Greater(t, p.Choices[at].Index, 60.0, "a hose alone on a large car with soft dark paint")
	assert.Contains(t, begin(s.as("osk")).problem(403).says(), "the lead says yes")
	begin(lead).is(200)
}

// A trainee is planned beside somebody signed off: without them nobody may do it, with them the promise knows, and who is
// not signed off either is refused.
func TestATraineeIsPlannedBesideSomebody(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	pia, ines := lead.id("pia"), lead.id("ines")
	bookings := told[api.Yard](lead, "GET", "/yard", nil).Bookings
	b := bookings[slices.IndexFunc(bookings, func(b api.BookingCard) bool {
		return b.Stage == visit.LookedOver && b.Washer != nil && b.Washer.ID == pia
	})]
	alone := lead.timeline(b, plan.Arranged{People: []string{pia}})
	beside := lead.timeline(b, plan.Arranged{People: []string{pia}, Beside: &plan.Beside{Trainer: ines}})
	assert.False(t, alone.Timeline.Feasible, "she is not signed off for all of it")
	require.True(t, beside.Timeline.Feasible, beside.Timeline.Why)
	require.NotNil(t, beside.Promise)
	name := beside.Timeline.Names["beside "+ines]
	assert.Equal(t, "Ines Varga, beside", name)
	for _, slot := range beside.Timeline.Slots {
		assert.Contains(t, []string{pia, ""}, slot.Who, slot.Title)
	}
	cal := plan.Arranged{People: []string{pia}, Beside: &plan.Beside{Trainer: lead.id("cal")}}
	assert.Contains(t, lead.do("POST", "/api/bookings/"+b.ID+"/timeline", cal).problem(422).says(), "is not signed off for")
	own := plan.Arranged{People: []string{pia}, Beside: &plan.Beside{Trainer: pia}}
	assert.Contains(t, lead.do("POST", "/api/bookings/"+b.ID+"/timeline", own).problem(422).says(), "beside themselves")
}

// A day on which the dwell of one car cannot be kept says so of that car; it is no reason against a slot for another.
func TestASlotIsFoundWhileAnotherCarIsInTrouble(t *testing.T) {
	s, pass := moving(t)
	lead := s.as("maren")
	pass(80 * time.Minute)
	day := told[api.DayView](lead, "GET", "/day", nil)
	waiting := lead.booking("PLT 7")
	trouble := slices.ContainsFunc(day.Soaks, func(x schedule.Soak) bool { return !x.Fits && x.Job != waiting.ID })
	require.True(t, trouble, "so late in the morning the day has become too full")
	found := told[[]api.Proposal](lead, "POST", "/day/slots", map[string]string{"bookingId": waiting.ID})
	assert.NotEmpty(t, found)
}
