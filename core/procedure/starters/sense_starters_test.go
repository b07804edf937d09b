package starters

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/procedure"
)

// Every starter procedure is clean: no error, and a reason for every warning it lets stand.
func TestStartersPassTheSenseCheck(t *testing.T) {
	for _, p := range Starters() {
		for _, m := range procedure.SenseCheck(p, nil) {
			assert.NotEmpty(t, m.Waived, "%s %s: %s at %q: %s", p.Family, m.Severity, m.Rule, m.Step, m.Says)
		}
	}
}
