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

// A pattern of findings becomes a remedy: its step is opened as a draft with the change prepared, the version that is published
// links back to it, and from then on the audits tell.
func TestARemedyGoesRound(t *testing.T) {
	s := open(t)
	lead, osk := s.as("maren"), s.as("osk")
	p := into[audit.Proposal](lead.get("/api/remedy-proposal?weeks=2&kind=dirt+left").is(200))
	require.Equal(t, audit.ChangeStep, p.Act, "%+v", p)
	require.NotEmpty(t, p.Causes)
	remedy := audit.Remedy{Title: p.Title, Pattern: audit.Pattern{Kind: audit.DirtLeft, Zone: vehicle.LowerLeft, Procedure: p.Procedure},
		Cause: p.Causes[0], Act: p.Act, Step: p.Step, Owner: lead.id("osk"), Due: morning.Add(48 * time.Hour)}
	body := map[string]any{"id": uuid.NewString(), "remedy": remedy}
	osk.do("POST", "/api/remedies", body).problem(403)
	for range 2 {
		lead.do("POST", "/api/remedies", body).is(200)
	}
	all := into[[]api.RemedyView](osk.get("/api/remedies").is(200))
	require.Len(t, all, 1)
	r := all[0]
	assert.True(t, r.Mine)
	assert.Equal(t, audit.NotActed, r.Measured.Outcome)

	path := "/api/remedies/" + r.ID
	drafted := into[api.Prepared](lead.do("POST", path+"/draft", nil).is(200))
	assert.NotEmpty(t, drafted.Changes)
	assert.Empty(t, into[api.Prepared](lead.do("POST", path+"/draft", nil).is(200)).Changes, "prepared twice it changes nothing more")
	view := into[api.ProcedureView](lead.get("/api/procedures/" + p.Procedure).is(200))
	require.NotNil(t, view.Draft)
	lead.do("POST", "/api/procedures/"+p.Procedure+"/publish",
		map[string]any{"revision": view.Draft.Revision, "note": "A look at the sill before going on."}).is(200)

	r = into[[]api.RemedyView](lead.get("/api/remedies").is(200))[0]
	require.NotNil(t, r.Published, "the published version links back")
	assert.Equal(t, view.Draft.BasedOn+1, *r.Published)
	assert.NotNil(t, r.ActedAt)

	remedy.Note = "Told at the morning round."
	lead.do("PUT", path, map[string]any{"version": r.Version - 1, "remedy": remedy}).problem(409)
	lead.do("PUT", path, map[string]any{"version": r.Version, "remedy": remedy}).is(200)
	lead.do("POST", path+"/close", map[string]any{"version": r.Version, "again": false}).problem(409)
	closed := into[[]api.RemedyView](lead.do("POST", path+"/close", map[string]any{"version": r.Version + 1, "again": false}).is(200))[0]
	assert.NotNil(t, closed.ClosedAt)
	lead.do("PUT", path, map[string]any{"version": closed.Version, "remedy": remedy}).problem(409)
	again := into[[]api.RemedyView](lead.do("POST", path+"/close", map[string]any{"version": closed.Version, "again": true}).is(200))[0]
	assert.Nil(t, again.ClosedAt)
	assert.Nil(t, again.ActedAt)
}

// Whoever sees to it says that it is done, nobody else but a lead; what is about one person is not everybody's to read.
func TestARemedyIsItsOwners(t *testing.T) {
	s := open(t)
	lead, osk, jory := s.as("maren"), s.as("osk"), s.as("jory")
	remedy := audit.Remedy{Title: "Sills", Pattern: audit.Pattern{Kind: audit.DirtLeft, Washer: lead.id("jory")}, Cause: "one mitt for all",
		Act: audit.Practise, Owner: lead.id("osk"), Due: morning.Add(-time.Hour)}
	lead.do("POST", "/api/remedies", map[string]any{"id": uuid.NewString(), "remedy": remedy}).is(200)
	r := into[[]api.RemedyView](jory.get("/api/remedies").is(200))[0]
	assert.True(t, r.Overdue)
	assert.Empty(t, into[[]api.RemedyView](s.as("ines").get("/api/remedies").is(200)))
	jory.do("POST", "/api/remedies/"+r.ID+"/acted", nil).problem(403)
	osk.do("POST", "/api/remedies/"+r.ID+"/acted", nil).is(200)
	done := into[[]api.RemedyView](osk.do("POST", "/api/remedies/"+r.ID+"/acted", nil).is(200))[0]
	assert.False(t, done.Overdue)
	lead.do("POST", "/api/remedies/"+r.ID+"/draft", nil).problem(409)

	for says, change := range map[string]func(*audit.Remedy){
		"owner": func(r *audit.Remedy) { r.Owner = uuid.NewString() },
		"no step": func(r *audit.Remedy) {
			r.Act, r.Pattern.Procedure, r.Step = audit.ChangeStep, "maintenance", "sunbathe"
		},
		"which findi": func(r *audit.Remedy) { r.Pattern = audit.Pattern{} },
	} {
		bad := remedy
		change(&bad)
		assert.Contains(t, lead.do("POST", "/api/remedies", map[string]any{"id": uuid.NewString(), "remedy": bad}).problem(422).says(), says)
	}
}
