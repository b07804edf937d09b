package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/measure"
)

// By hand: 3 pumps of 4 ml are 12 ml; 2 fl oz are 59.147 ml (NIST SP 811: 29.5735 ml a US fluid ounce); in 15 l of water
// 12 ml are 1:1250; as part of a 500 ml bottle 40 ml leave 460 ml of water.
func TestADoseThatIsCounted(t *testing.T) {
	for _, row := range []struct {
		counted Counted
		fill    int64
		byWater bool
		ml      float64
		parts   int64 // of water to one of product, a hundredth
		says    string
	}{
		{Counted{3, ByPump, measure.Ml(4)}, 15_000, true, 12, 125_000, "3 pumps of 4 ml"},
		{Counted{1, ByCap, measure.Ml(25)}, 10_000, true, 25, 40_000, "1 cap of 25 ml"},
		{Counted{40, ByMl, measure.Volume{}}, 500, false, 40, 1_150, "40 ml"},
	} {
		amount, err := row.counted.Amount()
		require.NoError(t, err)
		assert.InDelta(t, row.ml, amount.Ml(), 1e-9)
		assert.Equal(t, row.says, row.counted.String())
		d := Dose{Class: Shampoo, Vessel: "bucket", Fill: measure.Ml(row.fill), ByWater: row.byWater, Counted: &row.counted}
		here := d.Here(c.Facts{})
		want, err := measure.NewRatio(100, row.parts, measure.PartsPlusParts)
		require.NoError(t, err)
		assert.InEpsilon(t, want.Percent(), here.Ratio.Percent(), 1e-4, row.says)
	}
	ounces, err := Counted{2, ByFlOunce, measure.Volume{}}.Amount()
	require.NoError(t, err)
	assert.InDelta(t, 59.147, ounces.Ml(), 0.001)
}
