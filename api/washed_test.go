package api_test

import (
	"slices"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/wash"
)

// An old wash of somebody else is nobody's to join: to have helped with it is not said afterwards, and gives no rights.
func TestNobodyBecomesAWasherOfAClosedWash(t *testing.T) {
	s := open(t)
	lead, pia, ines := s.as("maren"), s.as("pia"), s.as("ines")
	lines := into[[]api.AuditLine](lead.get("/api/audits").is(200))
	at := slices.IndexFunc(lines, func(l api.AuditLine) bool {
		return l.Stage == "handed over" && l.AuditID != "" && l.Wash.Washer.ID != pia.id("pia") && l.Wash.Washer.ID != ines.id("ines") &&
			l.Wash.Findings > 0
	})
	require.GreaterOrEqual(t, at, 0)
	washID, auditID := lines[at].Wash.ID, lines[at].AuditID
	for name, c := range map[string]*caller{"pia": pia, "ines": ines} {
		helped := events{[]wash.Event{tap(wash.Helped, "", morning, 1)}}
		assert.Contains(t, c.do("POST", "/api/washes/"+washID+"/events", helped).problem(403).says(), "who washed it is settled", name)
		c.get("/api/washes/" + washID).is(403)
		c.get("/api/washes/" + washID + "/timeline").is(403)
		found := into[api.AuditView](c.get("/api/audits/" + auditID).is(200))
		require.NotEmpty(t, found.Result.Findings)
		body := map[string]any{"id": uuid.NewString(), "item": found.Result.Findings[0].Item, "note": "not so"}
		c.do("POST", "/api/audits/"+auditID+"/disputes", body).is(403)
		for _, l := range into[[]api.AuditLine](c.get("/api/audits").is(200)) {
			assert.False(t, l.Wash.ID == washID && l.Mine, name)
		}
	}
}

// Somebody signs an audit while taps of theirs for that wash still lie on a device without a connection. Nothing of the taps is
// lost, they are no washer by them, and the lead reads that the signature is one of somebody who washed.
func TestASignerWhoTurnsOutToHaveWashedIsTold(t *testing.T) {
	s := open(t)
	lead, ines, hesper := s.as("maren"), s.as("ines"), s.as("hesper")
	b := lead.booking("VLT 30") // Osk washes; Ines takes a step over, on a device that is cut off, after it was hers to take
	w := into[api.WashView](lead.get("/api/washes/" + b.WashID).is(200))
	over := tap(wash.HandOver, w.Steps[len(w.Steps)-1].ID, morning, 1)
	over.To = lead.id("ines")
	finish := tap(wash.Finish, "", morning, 3)
	lead.do("POST", "/api/washes/"+b.WashID+"/events", events{[]wash.Event{over}}).is(200)
	undo := wash.Event{ID: uuid.NewString(), Kind: wash.Undo, Undoes: over.ID, At: morning, Seq: 2}
	lead.do("POST", "/api/washes/"+b.WashID+"/events", events{[]wash.Event{undo, finish}}).is(200)
	a := into[api.AuditView](ines.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	assert.False(t, a.WashedToo)
	ines.passAll(a)
	ines.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200)
	assert.Empty(t, into[[]api.SignedAudit](lead.get("/api/washed-too").is(200)))

	did := events{[]wash.Event{tap(wash.Start, w.Steps[len(w.Steps)-1].ID, morning, 4)}}
	ines.do("POST", "/api/washes/"+b.WashID+"/events", did).is(200)
	after := into[api.AuditView](hesper.get("/api/audits/" + a.ID).is(200))
	assert.True(t, after.WashedToo)
	told := into[[]api.SignedAudit](lead.get("/api/washed-too").is(200))
	require.Len(t, told, 1)
	assert.Equal(t, []string{a.ID, "Ines Varga"}, []string{told[0].ID, told[0].Auditor})
	ines.get("/api/washed-too").is(403)
	ines.get("/api/washes/" + b.WashID).is(403)
	for _, e := range into[api.WashView](lead.get("/api/washes/" + b.WashID).is(200)).Events {
		if e.ID == did.Events[0].ID {
			assert.True(t, e.Late)
			return
		}
	}
	assert.Fail(t, "the tap was lost")
}

// passAll answers all that is open of an audit with a pass.
func (c *caller) passAll(a api.AuditView) {
	c.t.Helper()
	c.do("PUT", "/api/audits/"+a.ID+"/light", map[string]string{"light": string(audit.Lamp)}).is(200)
	for _, id := range a.Result.Open {
		c.do("PUT", "/api/audits/"+a.ID+"/items/"+id, map[string]any{"version": 0,
			"answer": audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}}).is(200)
	}
}

// A step that was handed over and taken back leaves whoever it was handed to out of the crew and of the washers; what they tapped on a
// device that did not know is not lost. Who never had it does not tap.
func TestAHandOverThatWasTakenBack(t *testing.T) {
	s := open(t)
	lead, osk, ines := s.as("maren"), s.as("osk"), s.as("ines")
	b := lead.booking("VLT 30")
	path := "/api/washes/" + b.WashID + "/events"
	w := into[api.WashView](lead.get("/api/washes/" + b.WashID).is(200))
	note := func() events { return events{[]wash.Event{tap(wash.Note, "", morning, 9)}} }
	over := tap(wash.HandOver, w.Steps[len(w.Steps)-1].ID, morning, 1)
	over.To = lead.id("ines")
	said := note()
	said.Events[0].Text = "a chip"
	ines.do("POST", path, said).problem(403)
	osk.do("POST", path, events{[]wash.Event{over}}).is(200)
	ines.do("POST", path, said).is(200)
	crew := func() (ids []string) {
		for _, p := range into[api.WashView](lead.get("/api/washes/" + b.WashID).is(200)).Crew {
			ids = append(ids, p.ID)
		}
		return ids
	}
	assert.Contains(t, crew(), lead.id("ines"))
	osk.do("POST", path, events{[]wash.Event{{ID: uuid.NewString(), Kind: wash.Undo, Undoes: over.ID, At: morning, Seq: 2}}}).is(200)
	said = note()
	said.Events[0].Text = "another chip"
	ines.do("POST", path, said).is(200)
	assert.NotContains(t, crew(), lead.id("ines"))
}
