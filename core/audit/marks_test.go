package audit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/vehicle"
)

// Worked by hand: 40 washes at a risk of 8 with 2 marked, 40 at 30 with 12; what was there before counts for nothing.
func TestMarksAgainstRisk(t *testing.T) {
	circles := Finding{Zone: vehicle.Bonnet, Kind: FineCircles, Severity: Minor}
	before := circles
	before.Before = true
	var all []Audited
	for i := range 80 {
		found := []Finding{sill}
		if i < 2 || i >= 40 && i < 52 {
			found = append(found, circles, circles)
		} else {
			found = append(found, before)
		}
		a := auditOf("ann", i, found...)
		a.Risk = 8
		if i >= 40 {
			a.Risk = 30
		}
		all = append(all, a)
	}
	m := Marks(all)
	require.Len(t, m.Bands, 2)
	assert.Equal(t, [4]int{2, 40, 12, 40}, [4]int{m.Bands[0].With, m.Bands[0].Of, m.Bands[1].With, m.Bands[1].Of})
	assert.Contains(t, m.Says, "more than chance")
	assert.Contains(t, Marks(all[:40]).Says, "about the same risk")
	assert.Contains(t, Marks(append(all[:5:5], all[40:45]...)).Says, "7 audits found marks")
	assert.Contains(t, Marks(nil).Says, "No marks")
	all[0].Risk = 100
	assert.Len(t, Marks(all).Bands, 3, "a risk of 100 is in the last band")
}
