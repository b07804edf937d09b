package shelf

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
)

var noon = time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC)

// By hand: 5 l counted, 2 l used since; 1,400 ml in the last 14 days is 100 ml a day: 30 days. Delivery 7 and 3 in
// hand: order in 20.
func TestStockCountsDownAndSaysWhenToOrder(t *testing.T) {
	f := Stock{Counted: measure.Ml(5000), Used: measure.Ml(2000), LeadDays: 7}.Forecast(measure.Ml(1400), 14, noon)
	assert.Equal(t, measure.Ml(3000), f.Left)
	assert.Equal(t, 100.0, f.PerDay)
	require.NotNil(t, f.DaysLeft)
	assert.Equal(t, 30.0, *f.DaysLeft)
	assert.Equal(t, noon.AddDate(0, 0, 20), *f.OrderBy)
	assert.False(t, f.OrderNow)

	short := Stock{Counted: measure.Ml(2500), Used: measure.Ml(2000), LeadDays: 7}.Forecast(measure.Ml(1400), 14, noon)
	assert.True(t, short.OrderNow)
	gone := Stock{Counted: measure.Ml(1000), Used: measure.Ml(2000)}.Forecast(measure.Ml(1400), 14, noon)
	assert.True(t, gone.OrderNow)
	assert.Contains(t, gone.Says, "count again")
	idle := Stock{Counted: measure.Ml(1000)}.Forecast(measure.Ml(0), 14, noon)
	assert.Nil(t, idle.DaysLeft)
	assert.False(t, idle.OrderNow)
}

func TestClothsWearOut(t *testing.T) {
	set := ClothSet{"drying towel", "white: drying", 10, 200}
	assert.Equal(t, Wear{Each: 50, Left: 150, Says: "About 150 launderings left."}, set.Wear(500))
	assert.Contains(t, set.Wear(1900).Says, "order a set")
	assert.True(t, set.Wear(2000).Retired)
	assert.Zero(t, set.Wear(9999).Left)
}

// By hand: 24 ml is one cap of 25 (4 % off), 12 strokes of 2 ml (exact); 3 ml is too little for the cap and two
// strokes would be a third off.
func TestDosesAreCountedInCapsAndPumps(t *testing.T) {
	kit := []Vessel{
		{"shampoo cap", Cap, measure.Ml(25)},
		{"drum pump", Pump, measure.Ml(2)},
		{"bucket", Bucket, measure.Ml(12_000)},
	}
	assert.Equal(t, []string{"12 × drum pump", "1 × shampoo cap"}, Counted(measure.Ml(24), kit))
	assert.Equal(t, []string{"1¼ × shampoo cap"}, Counted(measure.Ml(31), kit[:1]))
	assert.Equal(t, []string{"½ × shampoo cap"}, Counted(measure.Ml(13), kit[:1]))
	assert.Empty(t, Counted(measure.Ml(3), kit))
	assert.Equal(t, []string{"20 × drum pump"}, Counted(measure.Ml(40), kit[1:]))
	assert.Empty(t, Counted(measure.Ml(44), kit[1:]), "nobody counts to twenty-two")
	assert.Empty(t, Counted(measure.Volume{}, kit))
}
