package condition

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// docs/trade.md, section 7: how long protection lasts; common practice, no source.
func TestCareComesRound(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC).AddDate(0, 0, n) }
	for name, x := range map[string]struct {
		p    Protection
		past Past
		want map[CareKind]time.Time
	}{
		"never washed here": {Protection{Kind: Wax}, Past{}, map[CareKind]time.Time{}},
		"bare paint only " +
			"wants washing": {Protection{Kind: Bare}, Past{Washed: day(0)}, map[CareKind]time.Time{NextWash: day(14)}},
		"salt brings it " +
			"back in a week": {Protection{Kind: Bare}, Past{Washed: day(0), Salt: true}, map[CareKind]time.Time{NextWash: day(7)}},
		"wax by its age": {Protection{Kind: Wax, AgeDays: 20, Water: Beads}, Past{Washed: day(0)},
			map[CareKind]time.Time{NextWash: day(14), TopUp: day(8)}},
		"sealant since " +
			"it was put on": {Protection{Kind: Sealant, AgeDays: 300}, Past{Washed: day(0), Covered: day(0)},
			map[CareKind]time.Time{NextWash: day(14), TopUp: day(60)}},
		"coating": {Protection{Kind: Coating}, Past{Washed: day(0), Covered: day(-10), Serviced: day(-60)},
			map[CareKind]time.Time{NextWash: day(14), TopUp: day(39), ServiceWash: day(15)}},
		"flat water: " +
			"it has gone": {Protection{Kind: Sealant, AgeDays: 5, Water: Flat}, Past{Washed: day(0)},
			map[CareKind]time.Time{NextWash: day(14), TopUp: day(0)}},
		"film": {Protection{Kind: FilmWrap}, Past{Washed: day(0)}, map[CareKind]time.Time{NextWash: day(14)}},
	} {
		due := CareDue(x.p, x.past)
		got := map[CareKind]time.Time{}
		for i, d := range due {
			got[d.Kind] = d.At
			assert.NotEmpty(t, d.Because, name)
			if i > 0 {
				assert.False(t, d.At.Before(due[i-1].At), "%s: the first due first", name)
			}
		}
		assert.Equal(t, x.want, got, name)
	}
	require.Len(t, CareKind("").Values(), 3)
}
