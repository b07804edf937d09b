package api_test

import (
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
)

func newRequest(t testing.TB, method, url, body string) *http.Request {
	t.Helper()
	req, err := http.NewRequest(method, url, strings.NewReader(body))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	return req
}

type saveLookOver struct {
	Version  int                `json:"version"`
	LookOver condition.LookOver `json:"lookOver"`
}

// graded is the booking's blank look-over with every zone at a grade.
func graded(c *caller, b api.BookingCard, g contact.Grade) api.LookOverView {
	view := into[api.LookOverView](c.get("/api/bookings/" + b.ID + "/look-over").is(200))
	for _, p := range b.Spec.Body.Parts() {
		view.LookOver.Grades[p.Zone] = g
	}
	return view
}

func tap(kind wash.Kind, step string, at time.Time, seq int) wash.Event {
	return wash.Event{ID: uuid.NewString(), Kind: kind, Step: step, At: at, Seq: seq}
}

type events struct {
	Events []wash.Event `json:"events"`
}

// The path of the slice over HTTP: look-over, plan, wash, audit, rework.
func TestFromLookOverToSignedAudit(t *testing.T) {
	s, later := moving(t)
	lead, washer, auditor := s.as("maren"), s.as("jory"), s.as("hesper")
	b := lead.booking("PLT 7")
	assert.Equal(t, visit.Booked, b.Stage)

	assert.Contains(t, washer.get("/api/bookings/"+b.ID+"/plan").problem(409).says(), "Look the vehicle over first")
	look := graded(washer, b, 2)
	look.LookOver.Bonded = []condition.Bonded{{Matter: condition.Tar, Zone: vehicle.LowerLeft}}
	saved := into[api.LookOverView](
		washer.do("PUT", "/api/bookings/"+b.ID+"/look-over", saveLookOver{0, look.LookOver}).is(200),
	)
	assert.Equal(t, 1, saved.Version)
	assert.EqualValues(t, 2, saved.Assessment.Overall)
	assert.Contains(t, saved.Assessment.Scope, "tar on lower doors and sill, left")

	made := into[api.PlanView](washer.get("/api/bookings/" + b.ID + "/plan").is(200))
	require.Equal(t, plan.Recommended, made.Choices[0].Verdict)
	assert.Equal(t, "maintenance", made.Choices[0].Procedure)
	assert.Empty(t, made.Missing["maintenance"], "a washer holds every skill")

	view := into[api.WashView](
		washer.do("POST", "/api/bookings/"+b.ID+"/wash", map[string]string{"procedure": "maintenance", "washerId": lead.id("jory")}).
			is(200),
	)
	assert.Contains(
		t,
		washer.do("PUT", "/api/bookings/"+b.ID+"/look-over", saveLookOver{1, look.LookOver}).problem(409).says(),
		"stays as it was",
	)
	assert.Contains(
		t,
		lead.do("POST", "/api/bookings/"+b.ID+"/wash", map[string]string{"procedure": "maintenance", "washerId": lead.id("osk")}).
			problem(409).
			says(),
		"already",
	)

	var batch []wash.Event
	at := morning
	for i, step := range view.Steps {
		batch = append(batch, tap(wash.Start, step.ID, at, 2*i), tap(wash.Done, step.ID, at.Add(90*time.Second), 2*i+1))
		at = at.Add(95 * time.Second)
	}
	later(at.Sub(morning)) // they were made before they are sent
	tapped := func(taps []wash.Event) api.WashView {
		reply := into[api.Tapped](washer.do("POST", "/api/washes/"+view.ID+"/events", events{taps}).is(200))
		now := into[api.WashView](washer.get("/api/washes/" + view.ID).is(200))
		assert.Len(t, now.Events, reply.Events)
		return now
	}
	half := tapped(batch[:11])
	assert.Equal(t, view.Steps[5].ID, half.State.Current)
	assert.Equal(t, visit.InBay, lead.booking("PLT 7").Stage)
	auditor.do("POST", "/api/washes/"+view.ID+"/audit", nil).problem(409)

	rest := append(batch[11:], tap(wash.Finish, "", at, 1000))
	whole := tapped(rest)
	assert.Equal(t, at, whole.State.Finished)
	require.NotEmpty(t, whole.Stages)
	for _, stage := range whole.Stages {
		assert.True(t, stage.Done, stage.Stage)
	}
	again := tapped(rest)
	assert.Equal(t, whole.State, again.State, "sending twice changes nothing")

	assert.Contains(t, washer.do("POST", "/api/washes/"+view.ID+"/audit", nil).problem(403).says(), "does not audit it")
	a := into[api.AuditView](auditor.do("POST", "/api/washes/"+view.ID+"/audit", nil).is(200))
	path := "/api/audits/" + a.ID
	assert.Contains(t, auditor.do("POST", path+"/close", nil).problem(409).says(), "no answer yet")
	answer := func(item string, given audit.Answer) api.AuditView {
		return into[api.AuditView](
			auditor.do("PUT", path+"/items/"+item, map[string]any{"version": 0, "answer": given}).is(200),
		)
	}
	pass := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	for _, item := range a.Checklist.Items {
		switch item.ID {
		case "lower":
			answer(
				item.ID,
				audit.Answer{
					Verdict: audit.Found,
					Findings: []audit.Finding{
						{
							Zone:     vehicle.LowerLeft,
							Kind:     audit.BondedMatter,
							Matter:   condition.Tar,
							Severity: audit.Major,
						},
					},
				},
			)
		case "wheels":
			answer(
				item.ID,
				audit.Answer{
					Verdict: audit.Found,
					Findings: []audit.Finding{
						{
							Zone:     vehicle.WheelFR,
							Kind:     audit.BrakeDust,
							Severity: audit.Minor,
							Note:     "behind the spokes",
						},
					},
				},
			)
		default:
			answer(item.ID, pass)
		}
	}
	signed := into[api.AuditView](auditor.do("POST", path+"/close", nil).is(200))
	assert.Equal(t, 95, signed.Result.Score, "tar was declared out of scope, one minor weighs five")
	assert.True(t, signed.Result.Passed)
	require.Len(t, signed.Rework, 1)
	byKind := map[audit.Kind]audit.Traced{}
	for _, f := range signed.Result.Findings {
		byKind[f.Kind] = f
	}
	assert.False(t, byKind[audit.BondedMatter].Counts)
	assert.Equal(t, "wheels@fr", byKind[audit.BrakeDust].Step, "the wheel it was found on")
	assert.EqualValues(t, "wheels", byKind[audit.BrakeDust].Skill)
	late := into[api.AuditView](auditor.do(
		"PUT",
		path+"/items/shuts",
		map[string]any{
			"version": 1,
			"answer":  audit.Answer{Verdict: audit.NotApplicable, Note: "not ordered", Findings: []audit.Finding{}},
		},
	).is(200))
	assert.Equal(t, signed.Result, late.Result, "what comes after signing is beside the result, not in it")
	assert.Equal(t, audit.Pass, late.Answers["shuts"].Answer.Verdict)
	require.Len(t, late.Remarks, 1)
	assert.Equal(t, "Hesper Quill", late.Remarks[0].By)
	assert.Contains(t, auditor.do("POST", path+"/close", nil).problem(409).says(), "signed")

	assert.Equal(t, visit.Rework, lead.booking("PLT 7").Stage)
	rework := signed.Rework[0].ID
	washer.do("POST", "/api/washes/"+view.ID+"/events", events{[]wash.Event{tap(wash.Start, rework,
		at.Add(time.Minute), 1), tap(wash.Done, rework, at.Add(3*time.Minute), 2)}}).
		is(200)
	ready := lead.booking("PLT 7")
	assert.Equal(t, visit.Ready, ready.Stage)
	assert.Equal(t, 95, *ready.Score)
}

func TestNobodyTapsOnSomebodyElsesWash(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	running := lead.booking("VLT 30")
	e := events{[]wash.Event{tap(wash.Note, "", morning, 1)}}
	assert.Contains(
		t,
		s.as("ines").do("POST", "/api/washes/"+running.WashID+"/events", e).problem(403).says(),
		"Only Osk Pellow, who helps",
	)
	s.as("pia").do("POST", "/api/washes/"+running.WashID+"/events", e).is(403)
	lead.do("POST", "/api/washes/"+running.WashID+"/events", e).is(200)

	b := lead.booking("CAB 14")
	start := map[string]string{"procedure": "maintenance", "washerId": lead.id("cal")}
	assert.Contains(
		t,
		s.as("cal").do("POST", "/api/bookings/"+b.ID+"/wash", start).problem(403).says(),
		"given to Ines Varga",
	)
	start["washerId"] = lead.id("osk")
	assert.Contains(
		t,
		s.as("cal").do("POST", "/api/bookings/"+b.ID+"/wash", start).problem(403).says(),
		"Only the lead",
	)
}

// Whoever taps on a wash has washed: the lead, helping out, cannot audit it either.
func TestWhoeverTappedCannotAudit(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("VLT 30")
	e := events{[]wash.Event{tap(wash.Finish, "", morning, 1)}}
	lead.do("POST", "/api/washes/"+b.WashID+"/events", e).is(200)
	lead.do("POST", "/api/washes/"+b.WashID+"/audit", nil).problem(403)
	a := into[api.AuditView](s.as("ines").do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	lead.do("PUT", "/api/audits/"+a.ID+"/items/shuts", map[string]any{"version": 0,
		"answer": audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}}).
		problem(403)
	lead.do("POST", "/api/audits/"+a.ID+"/close", nil).problem(403)
}

// Rinseless on grade 4 is refused, with the fact that refuses, and cannot be started around the screen either.
func TestHarmfulProceduresAreRefused(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("MUD 4")
	look := graded(lead, b, 4)
	look.LookOver.Place.Cover = "indoors"
	lead.do("PUT", "/api/bookings/"+b.ID+"/look-over", saveLookOver{0, look.LookOver}).is(200)
	made := into[api.PlanView](lead.get("/api/bookings/" + b.ID + "/plan").is(200))
	for _, c := range made.Choices {
		if c.Procedure == "rinseless-towels" {
			assert.Equal(t, plan.Refused, c.Verdict)
			assert.Contains(t, c.Why[0], "the overall grade is 4 (asked: at most 2)")
		}
	}
	start := map[string]string{"procedure": "rinseless-towels", "washerId": lead.id("osk")}
	assert.Contains(t, lead.do("POST", "/api/bookings/"+b.ID+"/wash", start).problem(409).says(), "refused here")
}

func TestSignOffs(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	off := map[string]any{
		"personId": lead.id("pia"),
		"skill":    "foam",
		"criteria": map[string]bool{"bottom": true, "clock": true},
	}
	learner := into[api.Learner](lead.do("POST", "/api/sign-offs", off).is(200))
	assert.Equal(t, "mitt", learner.Next)
	off["personId"] = lead.id("maren")
	assert.Contains(t, lead.do("POST", "/api/sign-offs", off).problem(403).says(), "own work")
	off["personId"], off["criteria"] = lead.id("pia"), map[string]bool{"bottom": true}
	assert.Contains(t, lead.do("POST", "/api/sign-offs", off).problem(422).says(), "criteria.clock")
	off["criteria"], off["washId"] = map[string]bool{"bottom": true, "clock": true}, lead.booking("VLT 30").WashID
	assert.Contains(t, lead.do("POST", "/api/sign-offs", off).problem(422).says(), "somebody else")
}
