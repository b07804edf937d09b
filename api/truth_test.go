package api_test

import (
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/plan"
	"uskel/core/schedule"
	"uskel/core/timing"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/store"
	"uskel/store/storetest"
)

func (c *caller) send(washID string, taps ...wash.Event) reply {
	c.t.Helper()
	return c.do("POST", "/api/washes/"+washID+"/events", events{taps})
}

func (c *caller) say(booking string, m visit.Move, why string) reply {
	c.t.Helper()
	return c.do("POST", "/api/bookings/"+booking+"/moves", map[string]string{"move": string(m), "why": why})
}

func undoOf(e wash.Event, seq int) wash.Event {
	u := tap(wash.Undo, "", e.At.Add(time.Second), seq)
	u.Undoes = e.ID
	return u
}

// After an audit was begun, no tap moves what it is about; the washer is told who can.
func TestWhatIsSignedStaysSigned(t *testing.T) {
	s := open(t)
	lead, washer, auditor := s.as("maren"), s.as("osk"), s.as("hesper")
	b := lead.booking("VLT 30")
	finish := tap(wash.Finish, "", morning, 900)
	washer.send(b.WashID, finish).is(200)
	washer.send(b.WashID, undoOf(finish, 901)).is(200)
	assert.Equal(t, visit.InBay, lead.booking("VLT 30").Stage)
	finish = tap(wash.Finish, "", morning, 902)
	washer.send(b.WashID, finish).is(200)

	a := into[api.AuditView](auditor.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	before := into[api.WashView](washer.get("/api/washes/" + b.WashID).is(200))
	assert.True(t, before.Closed)
	assert.Contains(t, washer.send(b.WashID, undoOf(finish, 903)).problem(422).says(),
		"events[0].undoes: the wash is closed; the lead can correct it")
	waiting := before.Steps[len(before.Steps)-2].ID
	washer.send(b.WashID, tap(wash.Start, waiting, morning.Add(-30*time.Minute), 904),
		tap(wash.Done, waiting, morning.Add(-2*time.Minute), 905)).is(200)
	after := into[api.WashView](washer.get("/api/washes/" + b.WashID).is(200))
	assert.Equal(t, before.State, after.State)
	assert.Equal(t, before.Stages, after.Stages)
	assert.Len(t, after.Events, len(before.Events)+2, "what came late is kept beside")

	washer.do("POST", "/api/washes/"+b.WashID+"/corrections", wash.Correction{Step: before.Steps[0].ID, Minutes: 3, Why: "as it was"}).
		is(403)
	corrected := into[api.WashView](lead.do("POST", "/api/washes/"+b.WashID+"/corrections",
		wash.Correction{Step: before.Steps[0].ID, Minutes: 3, Why: "the tap came late"}).is(200))
	require.Len(t, corrected.Corrected, 1)
	assert.Equal(t, "Maren Tolley", corrected.Corrected[0].By)
	assert.Equal(t, before.Stages, corrected.Stages, "what was tapped stays")
	assert.Contains(t, lead.do("POST", "/api/washes/"+b.WashID+"/corrections",
		wash.Correction{Step: "moon", Minutes: 3, Why: "why not"}).problem(422).says(), "no such step")

	pass := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	for _, item := range a.Checklist.Items {
		auditor.do("PUT", "/api/audits/"+a.ID+"/items/"+item.ID, map[string]any{"version": 0, "answer": pass}).is(200)
	}
	signed := into[api.AuditView](s.as("ines").do("POST", "/api/audits/"+a.ID+"/close", nil).is(200))
	assert.Equal(
		t,
		[]string{"Hesper Quill", "Ines Varga"},
		[]string{signed.Auditor.Name, signed.Signer.Name},
		"who opened it and who signed",
	)
	assert.Equal(t, visit.Ready, signed.Stage)
}

// Somebody's undo takes back their own taps only, whatever their role.
func TestUndoTakesBackNobodyElsesTap(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren"), s.as("osk")
	b := lead.booking("VLT 30")
	note := tap(wash.Note, "", morning, 1)
	washer.send(b.WashID, note).is(200)
	assert.Contains(t, lead.send(b.WashID, undoOf(note, 2)).problem(422).says(), "somebody else made that tap")
	washer.send(b.WashID, undoOf(note, 3)).is(200)
}

// What the lead arranged and saw is what the washer begins: a step left out stays out, and a plan that changed
// meanwhile is looked at again.
func TestThePlanInTheBayIsTheOneArranged(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren"), s.as("ines")
	b := lead.booking("CAB 14")
	seen := into[api.PlanView](lead.get("/api/bookings/" + b.ID + "/plan").is(200))
	chosen := seen.Choices[0]
	out := "look"
	require.True(t, slices.ContainsFunc(chosen.Plan.Steps, func(p plan.FilledStep) bool { return p.ID == out }))
	arranged := plan.Arranged{Procedure: chosen.Procedure, Without: []string{out}}
	card := told[api.BookingCard](
		lead,
		"PUT",
		"/bookings/"+b.ID+"/arranged",
		map[string]any{"version": b.Version, "arranged": arranged},
	)
	shown := into[api.PlanView](washer.get("/api/bookings/" + b.ID + "/plan").is(200))
	laid := lead.timeline(b, arranged)
	begin := map[string]any{
		"procedure": chosen.Procedure,
		"washerId":  lead.id("ines"),
		"booking":   b.Version,
		"lookOver":  seen.Version,
	}
	assert.Contains(
		t,
		washer.do("POST", "/api/bookings/"+b.ID+"/wash", begin).problem(409).says(),
		"changed since this plan was made",
	)
	begin["booking"] = card.Version
	for _, c := range shown.Choices {
		if c.Procedure != chosen.Procedure && c.Verdict == plan.Possible {
			other := map[string]any{"procedure": c.Procedure, "washerId": lead.id("ines")}
			assert.Contains(
				t,
				washer.do("POST", "/api/bookings/"+b.ID+"/wash", other).problem(409).says(),
				"arranged another procedure",
			)
			break
		}
	}
	view := into[api.WashView](washer.do("POST", "/api/bookings/"+b.ID+"/wash", begin).is(200))
	has := func(steps []plan.FilledStep) bool {
		return slices.ContainsFunc(steps, func(p plan.FilledStep) bool { return p.ID == out })
	}
	at := slices.IndexFunc(shown.Choices, func(c plan.Choice) bool { return c.Procedure == chosen.Procedure })
	assert.False(t, has(shown.Choices[at].Plan.Steps), "the plan shows what is arranged")
	assert.False(t, has(view.Plan.Steps), "and so does the bay")
	assert.Equal(t, shown.Choices[at].Plan.Steps, view.Plan.Steps, "step by step the same")
	assert.False(t, slices.ContainsFunc(laid.Timeline.Slots, func(x schedule.Slot) bool { return x.Step == out }))
	assert.True(t, slices.ContainsFunc(view.Plan.Out, func(o plan.LeftOut) bool {
		return o.ID == out && o.ByLead &&
			o.Because == plan.ByTheLead
	}))
	assert.Equal(t, arranged, view.Frozen.Arranged)
	assert.Equal(t, seen.Version, view.Frozen.LookOver)

	// The plan changes in mid-wash: by the lead, with a reason, in the log.
	change := tap(wash.Replan, "", morning, 5)
	change.Text, change.Plan = "the boat leaves early", &wash.Replanned{
		Without: []string{"shuts"},
		People:  []string{lead.id("osk")},
	}
	washer.send(view.ID, change).problem(403)
	lead.send(view.ID, change).is(200)
	now := into[api.WashView](washer.get("/api/washes/" + view.ID).is(200))
	step := slices.IndexFunc(now.State.Steps, func(x wash.StepState) bool { return x.ID == "shuts" })
	assert.Equal(t, wash.Skipped, now.State.Steps[step].Status)
	assert.Equal(t, "the boat leaves early", now.State.Steps[step].Reason)
	s.as("osk").send(view.ID, tap(wash.Note, "", morning, 6)).is(200)
	rest := into[api.TimelineView](lead.get("/api/washes/" + view.ID + "/timeline").is(200))
	assert.False(t, slices.ContainsFunc(rest.Timeline.Slots, func(x schedule.Slot) bool { return x.Step == "shuts" }))
}

// Where a vehicle stands is said by whoever may, with a reason where somebody reads it later, and taken back by
// whoever said it.
func TestWhatBecomesOfAVisit(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren"), s.as("osk")
	b := lead.booking("PLT 7")
	assert.Contains(t, b.Can, visit.Cancel)
	assert.NotContains(t, washer.booking("PLT 7").Can, visit.Cancel)
	assert.Contains(t, washer.say(b.ID, visit.Cancel, "").problem(403).says(), "ask the lead")
	into[api.BookingCard](washer.say(b.ID, visit.NotCome, "").is(200))
	card := washer.booking("PLT 7")
	assert.Equal(t, visit.DidNotCome, card.Stage)
	assert.Equal(t, []visit.Move{visit.TakeBack}, card.Can)
	assert.Equal(t, []visit.Move{}, s.as("ines").booking("PLT 7").Can, "somebody else's word is not taken back")
	assert.Contains(t, s.as("ines").say(b.ID, visit.TakeBack, "").problem(403).says(), "Somebody else said that")
	assert.Contains(t, lead.do("PUT", "/api/bookings/"+b.ID+"/washer",
		map[string]any{"washerId": lead.id("osk"), "version": b.Version}).problem(409).says(), "did not come")
	assert.Equal(t, visit.Booked, into[api.BookingCard](washer.say(b.ID, visit.TakeBack, "").is(200)).Stage)

	done := lead.booking("TID 101")
	assert.Equal(t, visit.Ready, done.Stage)
	lead.say(done.ID, visit.HandOver, "").is(200)
	assert.Contains(t, washer.say(done.ID, visit.ComeBack, " ").problem(422).says(), "say why")
	back := into[api.BookingCard](washer.say(done.ID, visit.ComeBack, "streaks on the windscreen").is(200))
	assert.Equal(t, "streaks on the windscreen", back.Said.Why)
	assert.Empty(t, told[api.NoticeDraft](lead, "GET", "/bookings/"+done.ID+"/notice", nil).Text, "there are no usual words for a complaint")
	assert.Contains(t, lead.say(done.ID, visit.Cancel, "").problem(409).says(), "It came back")
}

// A failed audit does not tell the customer to come.
func TestNobodyIsToldToFetchWhatFailed(t *testing.T) {
	s := open(t)
	lead, auditor := s.as("maren"), s.as("hesper")
	b := lead.booking("CAB 12")
	a := into[api.AuditView](auditor.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	for _, item := range a.Checklist.Items {
		answer := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if item.ID == "upper" {
			answer = audit.Answer{
				Verdict:  audit.Found,
				Findings: []audit.Finding{{Zone: "roof", Kind: audit.FineCircles, Severity: audit.Critical}},
			}
		}
		auditor.do("PUT", "/api/audits/"+a.ID+"/items/"+item.ID, map[string]any{"version": 0, "answer": answer}).is(200)
	}
	auditor.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200)
	assert.Equal(t, visit.Failed, lead.booking("CAB 12").Stage)
	notice := told[api.NoticeDraft](lead, "GET", "/bookings/"+b.ID+"/notice", nil)
	assert.NotContains(t, notice.Text, "waiting for you")
	lead.say(b.ID, visit.Release, "shown to the customer").is(200)
	notice = told[api.NoticeDraft](lead, "GET", "/bookings/"+b.ID+"/notice", nil)
	assert.Contains(t, notice.Text, "waiting for you")
}

// Two people of one name, a product and a place that get another name: nothing is mixed up, nothing is lost.
func TestThingsGoByTheirIds(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	twin, err := s.store.PersonBySignIn(ctx, "osk")
	require.NoError(t, err)
	osk := twin.ID
	twin.ID, twin.SignIn = store.NewID(), "osk2"
	require.NoError(t, s.store.AddPerson(ctx, twin))
	b := lead.booking("CAB 14")
	both := lead.timeline(b, plan.Arranged{People: []string{osk, twin.ID, osk}})
	hands := map[string]bool{}
	for _, x := range both.Timeline.Slots {
		if x.Who != "" {
			hands[x.Who] = true
		}
	}
	assert.Len(t, hands, 2)
	assert.True(t, hands[twin.ID])

	shelfOf := func(id string) api.ShelfItem {
		sh := into[api.Shelf](lead.get("/api/shelf").is(200))
		return sh.Products[slices.IndexFunc(sh.Products, func(p api.ShelfItem) bool { return p.ID == id })]
	}
	was := shelfOf("gull-shampoo")
	require.Positive(t, was.Stock.Used.Ml())
	renamed := was.Product
	renamed.Name = "Another shampoo"
	lead.do("PUT", "/api/shelf/gull-shampoo", map[string]any{"label": was.Label, "product": renamed}).is(200)
	assert.Equal(
		t,
		was.Stock.Used,
		shelfOf("gull-shampoo").Stock.Used,
		"a product that gets another name keeps its use",
	)

	settings := into[api.SettingsView](lead.get("/api/settings").is(200))
	visits := len(into[api.DayView](lead.get("/api/day").is(200)).Bays)
	settings.Settings.Places[0].Name = "Big bay"
	lead.do("PUT", "/api/settings", settings).is(200)
	assert.Len(
		t,
		into[api.DayView](lead.get("/api/day").is(200)).Bays,
		visits,
		"a place that gets another name is not a second place",
	)
}

// Connections are cut and come back all the time: taps are taken or put off, and none is refused for it.
func TestNoTapIsRefusedBecauseTheDatabaseBlinked(t *testing.T) {
	wire, address := storetest.NewWire(t, demotest.URL(t))
	db, err := store.Open(ctx, address)
	require.NoError(t, err)
	t.Cleanup(db.Close)
	s := serve(t, db)
	washer := s.as("osk")
	b := washer.booking("VLT 30")
	step := into[api.WashView](washer.get("/api/washes/" + b.WashID).is(200)).State.Current
	to := washer.id("ines")
	// As a device does: what is put off is sent again, until it is taken. Now and then the line holds for a while.
	seen := map[int]int{}
	for i := range 40 {
		over := tap(wash.HandOver, step, morning, i)
		over.To = to
		taken := false
		for attempt := 0; attempt < 60 && !taken; attempt++ {
			var cutting sync.WaitGroup
			if attempt < 4 {
				cutting.Go(func() {
					<-time.After(time.Duration((7*i+3*attempt)%12) * time.Millisecond)
					wire.Cut()
					wire.Mend()
				})
			}
			status := washer.send(b.WashID, over).status
			seen[status]++
			taken = status == http.StatusOK
			cutting.Wait()
		}
		require.True(t, taken, "tap %d", i)
	}
	for status, n := range seen {
		assert.Contains(t, []int{http.StatusOK, http.StatusServiceUnavailable}, status, "%d times", n)
	}
	require.Eventually(t, func() bool { return washer.get("/api/yard").status == 200 }, patience, 20*time.Millisecond)
	// What is wrong is refused all the same.
	over := tap(wash.HandOver, step, morning, 999)
	over.To = "nobody"
	assert.Contains(t, washer.send(b.WashID, over).problem(422).says(), "nobody's id")
	over.To = uuid.NewString()
	assert.Contains(t, washer.send(b.WashID, over).problem(422).says(), "does not wash here")
	assert.Contains(t, washer.do(
		"POST",
		"/api/washes/"+b.WashID+"/events",
		strings.Replace(
			`{"events":[{"id":"ID","kind":"note","at":"2026-04-14T10:20:00Z","seq":2147483648,"text":"x"}]}`,
			"ID",
			uuid.NewString(),
			1,
		),
	).problem(422).says(), "seq")
}

// Whose times are whose is for the lead. Everybody else reads their own and what is summed: every table and view is
// walked for rows, and for names.
func TestNobodyReadsSomebodyElsesTimes(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	people := into[[]api.PersonRef](lead.get("/api/people").is(200))
	paths := []string{
		"/api/times?days=30",
		"/api/times/washes?days=30",
		"/api/times/standards?days=30",
		"/api/times/learning?days=30",
	}
	for _, by := range []string{"grade", "size", "person", "method", "place"} {
		for _, steps := range []string{"true", "false"} {
			paths = append(paths, fmt.Sprintf("/api/times/by?days=30&by=%s&steps=%s", by, steps))
		}
	}
	for _, table := range []string{"washes", "steps", "stages", "by", "shares", "standards", "savings", "learning", "chart"} {
		paths = append(paths, "/api/times/export?days=30&by=person&table="+table)
	}
	for _, of := range into[timing.ChartView](lead.get("/api/times/chart?days=30").is(200)).Series {
		paths = append(paths, "/api/times/chart?days=30&of="+plus(of))
	}
	named := 0
	for _, path := range paths {
		all := string(lead.get(path).is(200).body)
		for _, p := range people {
			if strings.Contains(all, p.Name) || strings.Contains(all, p.ID) {
				named++
			}
		}
		for _, signIn := range []string{"osk", "pia", "hesper"} {
			body := string(s.as(signIn).get(path).is(200).body)
			for _, p := range people {
				if own := demoName(signIn) == p.Name; own ||
					p.Name == "Maren Tolley" && strings.Contains(path, "standards") {
					continue // the lead who accepted a standard is named with it
				}
				assert.NotContains(t, body, p.Name, "%s as %s", path, signIn)
				assert.NotContains(t, body, p.ID, "%s as %s", path, signIn)
			}
		}
	}
	assert.Greater(t, named, 20, "the lead does read them by name")
	own := string(s.as("pia").get("/api/times/export?days=30&table=steps").is(200).body)
	assert.Contains(t, own, "Pia Lunt", "one's own are one's own")

	finished := into[[]api.WashLine](lead.get("/api/times/washes?days=30").is(200))
	theirs := finished[slices.IndexFunc(finished, func(l api.WashLine) bool { return l.Washer.Name == "Ines Varga" })]
	s.as("pia").get("/api/washes/" + theirs.ID).problem(403)
	s.as("ines").get("/api/washes/" + theirs.ID).is(200)
}

func demoName(signIn string) string {
	return demo.Hands[slices.IndexFunc(demo.Hands, func(h demo.Hand) bool { return h.SignIn == signIn })].Name
}
