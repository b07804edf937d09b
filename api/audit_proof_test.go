package api_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/visit"
)

// What the audits prove is worked out from the first audits that the page lists.
func TestAuditProof(t *testing.T) {
	s := open(t)
	hesper := s.as("hesper")
	audited, bad := 0, 0
	for _, line := range into[[]api.AuditLine](hesper.get("/api/audits").is(200)) {
		if line.AtOnce != nil {
			audited++
			if !*line.AtOnce {
				bad++
			}
		}
	}
	p := into[api.AuditProof](hesper.get("/api/audit-proof").is(200))
	assert.Equal(t, audited, p.Audited)
	assert.Equal(t, bad, p.Bad)
	assert.Positive(t, audited)
	assert.NotEmpty(t, p.Says)
}

// The plan of audits says of every wash that waits whether it is to be looked at, and why; the draw is the shop's to set.
func TestWhichWashesAreAudited(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	waiting := func() []api.AuditLine {
		lines := into[[]api.AuditLine](lead.get("/api/audits").is(200))
		return slices.DeleteFunc(lines, func(l api.AuditLine) bool { return l.Stage != visit.ToAudit || l.AuditID != "" })
	}
	set := func(share, first int) {
		view := into[api.SettingsView](lead.get("/api/settings").is(200))
		view.Settings.Drawn, view.Settings.Trainee, view.Settings.Version = &share, &first, &first
		lead.do("PUT", "/api/settings", map[string]any{"version": view.Version, "settings": view.Settings}).is(200)
	}
	require.NotEmpty(t, waiting())
	// A complaint of long ago is no reason any more.
	_, err := s.store.Pool.Exec(ctx, "UPDATE visit_moves SET at = at - interval '1 year' WHERE move = 'come back'")
	require.NoError(t, err)
	set(0, 0)
	for _, l := range waiting() {
		require.NotNil(t, l.Asked)
		assert.False(t, l.Asked.Asked, l.Asked.Why)
	}
	set(0, 100)
	always := 0
	for _, l := range waiting() {
		if l.Asked.Asked {
			always++
			assert.Contains(t, l.Asked.Why, "of the first 100")
		}
	}
	assert.Positive(t, always)
	set(100, 0)
	for _, l := range waiting() {
		assert.Equal(t, audit.Asked{Asked: true, Why: "every wash is audited"}, *l.Asked)
	}
	set(30, 0)
	p := into[api.AuditProof](lead.get("/api/audit-proof").is(200))
	assert.Contains(t, []int{15, 30, 60}, p.Plan.Share)
	assert.Positive(t, p.Plan.Finds)
}
