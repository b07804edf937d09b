package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/api"
	"uskel/core/audit"
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
	p := into[audit.Proof](hesper.get("/api/audit-proof").is(200))
	assert.Equal(t, audited, p.Audited)
	assert.Equal(t, bad, p.Bad)
	assert.Positive(t, audited)
	assert.NotEmpty(t, p.Says)
}
