package audit

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/vehicle"
)

func TestWhoMayDispute(t *testing.T) {
	now := time.Date(2026, 4, 14, 10, 0, 0, 0, time.UTC)
	signed, old := now.Add(-time.Hour), now.Add(-DisputeWithin-time.Second)
	dirt := Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Major}
	there := dirt
	there.Before = true
	r := Judge(Starter(), all(map[string]Answer{"lower": found(dirt), "upper": found(there)}), washed, Walked{})
	washers := []string{"ann", "bo"}
	for _, c := range []struct {
		who, item string
		signed    *time.Time
		want      error
	}{
		{"ann", "lower", &signed, nil},
		{"bo", "lower", &signed, nil},
		{"cy", "lower", &signed, ErrNotWasher},
		{"ann", "lower", nil, ErrNotSigned},
		{"ann", "lower", &old, ErrLongAgo},
		{"ann", "wheels", &signed, ErrNothing},
		{"ann", "upper", &signed, ErrNothing},
	} {
		assert.Equal(t, c.want, MayDispute(c.who, washers, c.signed, now, r, c.item), "%s on %s", c.who, c.item)
	}
}

func TestWhatIsSettledForWhoeverWashedDoesNotCount(t *testing.T) {
	dirt := Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Major}
	spot := Finding{Zone: vehicle.Roof, Kind: Spots, Severity: Major}
	answers := all(map[string]Answer{"lower": found(dirt), "upper": found(spot)})
	signed := Judge(Starter(), answers, washed, Walked{})
	assert.False(t, signed.Passed)
	beside := Settled(Starter(), answers, washed, Walked{}, []string{"lower"})
	assert.Equal(t, 85, beside.Score)
	assert.True(t, beside.Passed)
	assert.Equal(t, signed, Judge(Starter(), answers, washed, Walked{}), "what was signed stays as it is")

	counted := Unsettle(signed.Findings, []string{"lower"})
	for _, f := range counted {
		assert.Equal(t, f.Item != "lower", f.Counts)
	}
	assert.True(t, signed.Findings[0].Counts && signed.Findings[1].Counts)
}
