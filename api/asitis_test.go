package api_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/wash"
)

// A day that is only looked at keeps its best layout: however often it is asked for, and whatever is looked for behind it, no look
// shows it clearly worse than the one before.
func TestADayThatIsLookedAtDoesNotGetWorse(t *testing.T) {
	s, pass := moving(t)
	lead := s.as("maren")
	late := func() (sum, cars int) {
		for _, v := range into[api.DayView](lead.get("/api/day").is(200)).Visits {
			if v.Booking.Stage.Planned() {
				sum, cars = sum+int(v.Late)/60, cars+1
			}
		}
		return sum, cars
	}
	was, cars := late()
	require.Positive(t, cars)
	for range 12 {
		pass(time.Minute)
		for range 2 {
			now, _ := late()
			assert.LessOrEqual(t, now, was+8*cars, "min late in all, of %d cars", cars)
			was = min(was+2*cars, now)
		}
	}
}

// A car that comes at two is laid out from two: no clock before it is there, and a promise that can be kept by then is kept.
func TestATimelineBeginsWhenTheCarIsThere(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("CAB 14")
	arrives := morning.Add(4 * time.Hour)
	_, err := s.store.Pool.Exec(ctx, "UPDATE bookings SET arrives_at = $1, promised_at = $2, starts_at = NULL WHERE id = $3", arrives,
		arrives.Add(20*time.Minute), b.ID)
	require.NoError(t, err)
	plan := into[api.PlanView](lead.get("/api/bookings/" + b.ID + "/plan").is(200))
	require.NotEmpty(t, plan.Choices)
	path := "/api/bookings/" + b.ID + "/timeline"
	view := into[api.TimelineView](lead.do("POST", path, map[string]any{"procedure": plan.Choices[0].Procedure}).is(200))
	assert.True(t, view.Zero.Equal(arrives), "%s", view.Zero)
	if view.Promise != nil {
		assert.NotEmpty(t, view.Late, "twenty minutes after it came it is not ready, and that is said")
	}
}

// What a customer is told follows from what is so, and is read before it is sent.
func TestTheDraftForACustomerSaysLateWhereItIsLate(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("PLT 7")
	draft := func() string {
		return into[api.NoticeDraft](lead.get("/api/bookings/" + b.ID + "/notice").is(200)).Text
	}
	_, err := s.store.Pool.Exec(ctx, "UPDATE bookings SET promised_at = $1 WHERE id = $2", morning.Add(9*time.Hour), b.ID)
	require.NoError(t, err)
	assert.True(t, strings.HasSuffix(draft(), "will be ready as promised."), draft())
	_, err = s.store.Pool.Exec(ctx, `UPDATE bookings SET arrives_at = least(arrives_at, $1::timestamptz - interval '5 min'),
		promised_at = $1 WHERE id = $2`, morning.Add(10*time.Minute), b.ID)
	require.NoError(t, err)
	assert.Contains(t, draft(), "later than the")
	assert.NotContains(t, draft(), "as promised")
}

// Device and server clocks may be an hour wrong: a finish from a fast device is not in the future, so that its wash is on the page of
// audits; and a server whose clock went back signs no audit before it began, and closes no wash before it was finished.
func TestWrongClocksCloseNothingEarly(t *testing.T) {
	for _, wrong := range []time.Duration{59 * time.Minute, -59 * time.Minute} {
		s, pass := moving(t)
		lead, hesper := s.as("maren"), s.as("hesper")
		b := lead.booking("VLT 30")
		w := into[api.WashView](lead.get("/api/washes/" + b.WashID).is(200))
		last := w.Steps[len(w.Steps)-1].ID
		log := []wash.Event{tap(wash.Start, last, morning.Add(wrong-2*time.Minute), 1), tap(wash.Done, last, morning.Add(wrong), 2),
			tap(wash.Finish, "", morning.Add(wrong), 3)}
		lead.do("POST", "/api/washes/"+b.WashID+"/events", events{log}).is(200)
		finished := into[api.WashView](lead.get("/api/washes/" + b.WashID).is(200)).State.Finished
		assert.False(t, finished.After(morning), "%s", finished)
		pass(time.Second)
		lines := into[[]api.AuditLine](hesper.get("/api/audits").is(200))
		assert.True(t, slices.ContainsFunc(lines, func(l api.AuditLine) bool { return l.Wash.ID == b.WashID }), "%s", wrong)
		a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
		pass(-time.Hour) // the server's clock is set back
		hesper.passAll(a)
		hesper.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200)
		var early int
		require.NoError(t, s.store.Pool.QueryRow(ctx, `SELECT count(*) FROM audits a JOIN washes w ON w.id = a.wash_id
			WHERE w.id = $1 AND (a.closed_at < a.started_at OR w.closed_at < w.finished_at)`, b.WashID).Scan(&early))
		assert.Zero(t, early)
	}
}
