package api_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/vehicle"
)

// A signed audit is walked again by somebody who sees nothing of what was found; whoever audited or washed is refused; sent twice
// it changes nothing; then it is known how far they agree.
func TestAnAuditIsWalkedAgainBlind(t *testing.T) {
	s := open(t)
	lead, hesper, jory := s.as("maren"), s.as("hesper"), s.as("jory")
	b := lead.booking("CAB 12") // washed by Jory
	before := into[audit.Agreed](lead.get("/api/agreement").is(200))
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	path := "/api/audits/" + a.ID
	pass := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	drip := audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
		{Zone: vehicle.MirrorLeft, Kind: audit.Drips, Severity: audit.Minor, Amount: 2}}}
	for _, id := range a.Result.Open {
		given := pass
		if id == "front" {
			given = drip
		}
		hesper.do("PUT", path+"/items/"+id, map[string]any{"version": 0, "answer": given}).is(200)
	}
	body := map[string]any{"id": uuid.NewString(), "light": audit.Lamp, "answers": map[string]audit.Answer{}}
	assert.Contains(t, lead.do("POST", path+"/second", body).problem(422).says(), "is not answered yet")
	answers := map[string]audit.Answer{}
	for _, id := range a.Result.Open {
		answers[id] = pass
	}
	body["answers"] = answers
	lead.do("POST", path+"/second", body).problem(409) // not signed yet
	lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("maren"))).problem(409)
	hesper.do("POST", path+"/close", nil).is(200)

	open := into[[]api.OpenSecond](lead.get("/api/second-looks").is(200))
	require.NotEmpty(t, open)
	assert.Equal(t, a.ID, open[0].AuditID)
	for _, c := range []*caller{hesper, jory} {
		for _, o := range into[[]api.OpenSecond](c.get("/api/second-looks").is(200)) {
			assert.NotEqual(t, a.ID, o.AuditID)
		}
	}
	lead.get(path + "/second").problem(409) // nobody said that she walks it
	assert.True(t, open[0].May)
	own := hesper.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("hesper"))).problem(409).says()
	assert.Contains(t, own, "had a hand in it")
	jory.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("jory"))).problem(409)
	lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("maren"))).is(204)
	blind := into[api.AuditView](lead.get(path + "/second").is(200))
	assert.Empty(t, blind.Answers)
	assert.Empty(t, blind.Result.Findings)
	assert.ElementsMatch(t, a.Result.Open, blind.Result.Open)
	assert.Nil(t, blind.ClosedAt)

	assert.Contains(t, hesper.do("POST", path+"/second", body).problem(409).says(), "was not offered to you")
	jory.do("POST", path+"/second", body).problem(403)
	got := into[audit.Agreed](lead.do("POST", path+"/second", body).is(200))
	assert.Equal(t, before.Washes+1, got.Washes)
	assert.Equal(t, before.Overall.Pairs+len(answers), got.Overall.Pairs)
	assert.NotEmpty(t, got.People)
	lead.do("POST", path+"/second", body).is(200)
	body["id"] = uuid.NewString()
	lead.do("POST", path+"/second", body).problem(409)
	assert.Equal(t, got.Washes, into[audit.Agreed](lead.get("/api/agreement").is(200)).Washes)
	assert.Empty(t, into[audit.Agreed](jory.get("/api/agreement").is(200)).People, "who is strict is the lead's to know")
}

// takes is what somebody sends who takes, or is asked for, a blind look.
func takes(kind audit.Blind, of, person string) map[string]any {
	return map[string]any{"kind": kind, "of": of, "personId": person}
}
