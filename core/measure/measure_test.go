package measure

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Expected values: NIST SP 811 (2008), Appendix B.8, to the digits printed there; the imperial gallon
// and the grain per US gallon as quoted in docs/trade.md, section 15.
func TestConversionsAgainstSP811(t *testing.T) {
	in := func(amount float64, unit VolumeUnit) float64 {
		v, err := NewVolume(amount, unit)
		require.NoError(t, err)
		return v.Ml()
	}
	assert.InDelta(t, 3785.412, in(1, USGallon), 0.0005)
	assert.InDelta(t, 29.57353, in(1, USFluidOunce), 0.000005)
	assert.InDelta(t, 4546.09, in(1, ImperialGallon), 1e-9)
	assert.InDelta(t, 28.41306, in(1, ImperialFluidOz), 0.000005)
	assert.InDelta(t, 6.894757, KilopascalsFromPSI(1), 1e-6)
	assert.InDelta(t, 98.6, Celsius(37).Fahrenheit(), 1e-9)
	assert.InDelta(t, 273.15, Celsius(0).Kelvin(), 1e-9)
}

// Classes: U.S. Geological Survey, water hardness scale in mg/l as CaCO3.
func TestHardnessClasses(t *testing.T) {
	for mg, class := range map[Hardness]string{0: "soft", 60: "soft", 61: "moderately hard", 120: "moderately hard",
		121: "hard", 180: "hard", 181: "very hard", 400: "very hard"} {
		assert.Equal(t, class, mg.Class(), "%g mg/l", float64(mg))
	}
}

// Worked rows of docs/trade.md, section 15: common practice, no source.
func TestRatiosOfTheTrade(t *testing.T) {
	gal := func(n float64) Volume { v, _ := NewVolume(n, USGallon); return v }

	rinseless, err := NewRatio(256, 1, WaterFirst)
	require.NoError(t, err)
	assert.Equal(t, 2.0, rinseless.ForWater(gal(4)).In(USFluidOunce), "256:1 in 4 gal is exactly 2 fl oz")
	assert.Equal(t, 1.0, rinseless.ForWater(gal(2)).In(USFluidOunce), "1 fl oz to 2 gal is 1:256")

	made, err := RatioMade(Ml(100), Ml(900))
	require.NoError(t, err)
	assert.Equal(t, Readings{"1 + 9", "1 in 10", "9:1", 10}, made.Readings())

	shampoo, err := NewRatio(1, 500, PartsPlusParts)
	require.NoError(t, err)
	assert.Equal(t, 20.0, shampoo.ForWater(Ml(10_000)).Ml(), "20 ml per 10 l is 1:500")

	// "1 to 2 fl oz into 18 fl oz is often called 1:10; it is really 1:18 to 1:9"
	oz := func(n float64) Volume { v, _ := NewVolume(n, USFluidOunce); return v }
	thin, _ := RatioMade(oz(1), oz(18))
	strong, _ := RatioMade(oz(2), oz(18))
	assert.Equal(t, "1 + 18", thin.In(PartsPlusParts))
	assert.Equal(t, "1 + 9", strong.In(PartsPlusParts))
}

func TestOneToTenHasThreeMeanings(t *testing.T) {
	for reading, percent := range map[Reading]float64{PartsPlusParts: 100.0 / 11, OnePartIn: 10} {
		r, err := NewRatio(1, 10, reading)
		require.NoError(t, err)
		assert.InDelta(t, percent, r.Percent(), 1e-12, string(reading))
	}
	waterFirst, err := NewRatio(10, 1, WaterFirst)
	require.NoError(t, err)
	assert.InDelta(t, 100.0/11, waterFirst.Percent(), 1e-12)
}

func TestNonsenseIsRefusedWithAReason(t *testing.T) {
	for _, c := range []struct {
		first, second int64
		reading       Reading
		says          string
	}{
		{1, 10, "", "say how the label reads it"},
		{1, 0, PartsPlusParts, "above zero"},
		{0, 1, WaterFirst, "above zero"},
		{-1, 10, PartsPlusParts, "above zero"},
		{1, 1, OnePartIn, "leaves no water"},
		{1, 10, "upside down", "use parts plus parts"},
	} {
		_, err := NewRatio(c.first, c.second, c.reading)
		assert.ErrorContains(t, err, c.says, "%d:%d, %q", c.first, c.second, c.reading)
	}
	for _, amount := range []float64{-1, math.NaN(), math.Inf(1), 1e12} {
		_, err := NewVolume(amount, Litre)
		assert.Error(t, err, "%g l", amount)
	}
	_, err := NewVolume(1, "cup")
	assert.ErrorContains(t, err, "use ml")
	_, err = RatioMade(Ml(0), Ml(10))
	assert.Error(t, err)
	_, err = Ml(1).Sub(Ml(2))
	assert.Error(t, err)
}

func TestProductAndWaterFillTheVessel(t *testing.T) {
	for p := int64(1); p < 20; p++ {
		for w := int64(1); w < 300; w += 7 {
			r, err := NewRatio(p, w, PartsPlusParts)
			require.NoError(t, err)
			product, water := r.ForTotal(Ml(1000))
			assert.Equal(t, Ml(1000), product.Add(water))
			parts, err := NewRatio(w, p, WaterFirst)
			require.NoError(t, err)
			assert.Equal(t, r, parts, "one mix, however it is written")
		}
	}
}

func TestJSONKeepsValues(t *testing.T) {
	r, _ := NewRatio(1, 9, PartsPlusParts)
	data, err := json.Marshal(map[string]any{"r": r, "v": Ml(150)})
	require.NoError(t, err)
	assert.JSONEq(t, `{"r":{"product":1,"water":9},"v":150}`, string(data))
	var back Ratio
	require.NoError(t, json.Unmarshal([]byte(`{"product":1,"water":9}`), &back))
	assert.Equal(t, r, back)
	assert.Error(t, json.Unmarshal([]byte(`{"product":1,"water":0}`), &back))
	var v Volume
	assert.Error(t, json.Unmarshal([]byte(`-3`), &v))
	assert.Error(t, json.Unmarshal([]byte(`"x"`), &v))
}

func FuzzNewRatio(f *testing.F) {
	f.Add(int64(1), int64(10), "parts plus parts")
	f.Add(int64(9223372036854775807), int64(1), "one part in")
	f.Fuzz(func(t *testing.T, first, second int64, reading string) {
		r, err := NewRatio(first, second, Reading(reading))
		if err == nil && (r.Percent() <= 0 || r.Percent() >= 100) {
			t.Fatalf("%d:%d as %q gave %g %%", first, second, reading, r.Percent())
		}
	})
}
