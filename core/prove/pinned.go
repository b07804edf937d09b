package prove

import (
	"math"
	"testing"
)

// Pin is a constant of the trade or of physics beside the value that its source gives, in the unit that the source says.
type Pin struct {
	Name      string
	Is, Typed float64
	Source    string // where Typed was read; "model" where it is the project's own choice
}

// Hold fails for each constant that is not what its source says.
func Hold(t *testing.T, pins ...Pin) {
	t.Helper()
	for _, p := range pins {
		if math.Abs(p.Is-p.Typed) > 1e-12*math.Abs(p.Typed) {
			t.Errorf("%s is %g; %s: %g", p.Name, p.Is, p.Source, p.Typed)
		}
		if p.Source == "" {
			t.Errorf("%s: say where the value is from", p.Name)
		}
	}
}
