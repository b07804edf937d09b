package contact

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/vehicle"
)

func TestMittfulsAreCutAtRinses(t *testing.T) {
	wash := func(zone vehicle.Zone, share float64) Move { return Move{Kind: WashZone, Zone: zone, Share: share} }
	flip, rub, load := Move{Kind: Flip}, Move{Kind: RubGuard}, Move{Kind: Reload}
	plan := Plan{Moves: []Move{wash("roof", 0.5), flip, wash("roof", 1), rub, load, wash("bonnet", 1), rub,
		load, {Kind: LowerMitt}, wash("lower-left", 1)}}
	assert.Equal(t, []Mittful{
		{[]Doing{{WashZone, "roof", "half"}, {Do: Flip}, {WashZone, "roof", "the rest"}}, []vehicle.Zone{"roof"}},
		{[]Doing{{WashZone, "bonnet", ""}}, []vehicle.Zone{"bonnet"}},
		{[]Doing{{Do: LowerMitt}, {WashZone, "lower-left", ""}}, []vehicle.Zone{"lower-left"}},
	}, plan.Mittfuls())
	assert.Len(t, Plan{Moves: []Move{wash("roof", 1), rub, load}}.Mittfuls(), 1, "a rinse with nothing after it")
	assert.Empty(t, Plan{}.Mittfuls())
	thirds := Plan{Moves: []Move{wash("roof", 0.32), wash("roof", 0.5), wash("roof", 1)}}.Mittfuls()
	assert.Equal(t, []Doing{{WashZone, "roof", "a third"}, {WashZone, "roof", "a third"}, {WashZone, "roof", "the rest"}},
		thirds[0].Acts, "shares are of the whole zone")
}

// A plan's mittfuls are its rinses and one more, and wash what it washes.
func TestMittfulsHoldThePlan(t *testing.T) {
	rng := rand.New(rand.NewSource(12))
	for range 200 {
		patches := randomCar(rng)
		plan, err := Make(Mitt, ordinary, patches, rng.Intn(2) == 0, DefaultAim)
		if err != nil {
			continue
		}
		list := plan.Mittfuls()
		require.Equal(t, plan.Rinses+1, len(list))
		zones := map[vehicle.Zone]bool{}
		for _, m := range list {
			for _, zone := range m.Zones {
				zones[zone] = true
			}
		}
		for _, p := range patches {
			require.True(t, zones[p.Zone] || p.Area == 0, p.Zone)
		}
	}
}
