package mend

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/procedure"
	"uskel/core/procedure/starters"
)

// A procedure that is misted again or done in sections is one that could be published.
func TestOtherWaysAreProcedures(t *testing.T) {
	for _, p := range starters.Starters() {
		before := procedure.Markdown(p)
		if misted, ok := mistedAgain(p); ok {
			assert.NoError(t, misted.Check(), p.Family)
		}
		if parts, ok := inSections(p); ok {
			assert.NoError(t, parts.Check(), p.Family)
			assert.Greater(t, len(parts.Rounds), len(p.Rounds))
		}
		assert.Equal(t, before, procedure.Markdown(p), "the procedure itself stays as it was")
	}
}
