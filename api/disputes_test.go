package api_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/vehicle"
)

// audited walks CAB 12, which Jory washed, with dirt on a sill, and signs.
func (s *place) audited() (audited, path string) {
	s.t.Helper()
	hesper := s.as("hesper")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+hesper.booking("CAB 12").WashID+"/audit", nil).is(200))
	for _, id := range a.Result.Open {
		given := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if id == "lower" {
			given = audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
				{Zone: vehicle.LowerRight, Kind: audit.DirtLeft, Severity: audit.Major}}}
		}
		hesper.do("PUT", "/api/audits/"+a.ID+"/items/"+id, map[string]any{"version": 0, "answer": given}).is(200)
	}
	hesper.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200)
	return a.ID, "/api/audits/" + a.ID
}

// Whoever washed disputes a finding with a note, once; a lead who did not settles it, once; what was signed stays, and what was
// settled for whoever washed counts nowhere.
func TestADisputeIsSettled(t *testing.T) {
	s := open(t)
	_, path := s.audited()
	jory, osk, maren := s.as("jory"), s.as("osk"), s.as("maren")
	counts := func() int {
		found, err := s.store.FoundIn(ctx, morning.Add(-time.Minute), morning.Add(time.Minute), "", 10)
		require.NoError(t, err)
		return audit.Count(found, audit.Which{Kind: audit.DirtLeft}, true).Findings
	}
	require.Equal(t, 1, counts())

	body := map[string]any{"id": uuid.NewString(), "item": "lower", "note": "The ferry ramp was wet: it splashed there afterwards."}
	osk.do("POST", path+"/disputes", body).problem(403)
	s.as("hesper").do("POST", path+"/disputes", body).problem(403)
	view := into[api.AuditView](jory.get(path).is(200))
	assert.Equal(t, []string{"lower"}, view.Disputable)
	for range 2 {
		view = into[api.AuditView](jory.do("POST", path+"/disputes", body).is(200))
	}
	require.Len(t, view.Disputes, 1)
	assert.Empty(t, view.Disputable)
	body["id"] = uuid.NewString()
	jory.do("POST", path+"/disputes", body).problem(409)
	body["item"] = "wheels"
	assert.Contains(t, jory.do("POST", path+"/disputes", body).problem(409).says(), "Nothing that counts")

	open := into[[]api.OpenDispute](maren.get("/api/disputes").is(200))
	require.Len(t, open, 1)
	assert.Empty(t, into[[]api.OpenDispute](osk.get("/api/disputes").is(200)), "others' disputes are not everybody's to read")
	settle := "/api/disputes/" + view.Disputes[0].ID + "/settle"
	jory.do("POST", settle, map[string]any{"upheld": true, "answer": "I said so"}).problem(403)
	settled := into[api.AuditView](maren.do("POST", settle, map[string]any{"upheld": true, "answer": "The ramp camera shows it."}).is(200))
	assert.Equal(t, 85, settled.Result.Score, "what was signed stays signed")
	require.NotNil(t, settled.Settled)
	assert.Equal(t, 100, settled.Settled.Score)
	maren.do("POST", settle, map[string]any{"upheld": true, "answer": "again, as the reply was lost"}).is(200)
	maren.do("POST", settle, map[string]any{"upheld": false, "answer": "no, it stands"}).problem(409)
	assert.Zero(t, counts())
	assert.Empty(t, into[[]api.OpenDispute](maren.get("/api/disputes").is(200)))
}

// A lead who washed does not settle what they dispute.
func TestNobodySettlesTheirOwnDispute(t *testing.T) {
	s := open(t)
	id, path := s.audited()
	jory := s.as("jory")
	body := map[string]any{"id": uuid.NewString(), "item": "lower", "note": "It splashed there afterwards."}
	view := into[api.AuditView](jory.do("POST", path+"/disputes", body).is(200))
	_, err := s.store.Pool.Exec(ctx, "UPDATE people SET role = 'lead' WHERE sign_in = 'jory'")
	require.NoError(t, err)
	said := jory.do("POST", "/api/disputes/"+view.Disputes[0].ID+"/settle", map[string]any{"upheld": true, "answer": "so"}).problem(403).says()
	assert.Contains(t, said, "does not settle it")
	assert.Nil(t, into[api.AuditView](jory.get("/api/audits/" + id).is(200)).Disputes[0].Upheld)
}
