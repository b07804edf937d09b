package measure

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Worked by hand: 100 ml of product and 900 ml of water, emptied in two minutes through 4.5 l/min: 100 ml in 9 l of
// stream and 0.9 l of the bottle, 1 + 99. The bottle says 1 in 10; the paint gets 1 in 100.
func TestWhatLandsOnThePaint(t *testing.T) {
	r, err := OnPanel(Ml(100), Ml(900), 4.5, 2*time.Minute)
	require.NoError(t, err)
	assert.Equal(t, "1 + 99", r.In(PartsPlusParts))
	assert.InDelta(t, 1, r.Percent(), 1e-9)
	slow, err := OnPanel(Ml(100), Ml(900), 4.5, 4*time.Minute)
	require.NoError(t, err)
	assert.Less(t, slow.Percent(), r.Percent(), "the slower it empties, the thinner it lands")
	for _, bad := range []struct {
		flow float64
		time time.Duration
	}{{0, time.Minute}, {-1, time.Minute}, {4, 0}, {4, 2 * time.Hour}} {
		_, err := OnPanel(Ml(100), Ml(900), bad.flow, bad.time)
		assert.Error(t, err)
	}
	_, err = OnPanel(Ml(0), Ml(900), 4, time.Minute)
	assert.Error(t, err)
}

// Worked by hand. One litre of 1 in 10 to 1 in 5: x ml more product, (100 + x)/(1000 + x) = 1/5, x = 125. To 1 in 20:
// as much water again. In a vessel that is full at one litre, 1 in 10 to 1 in 20 means half out and half water in.
func TestFromOneStrengthToAnother(t *testing.T) {
	in := func(n int64) Ratio { r, err := NewRatio(1, n, OnePartIn); require.NoError(t, err); return r }
	up, err := FromTo(in(10), Ml(1000), in(5), Volume{})
	require.NoError(t, err)
	assert.Equal(t, Restrength{Product: Ml(125), Makes: Ml(1125)}, up)
	down, err := FromTo(in(10), Ml(1000), in(20), Volume{})
	require.NoError(t, err)
	assert.Equal(t, Restrength{Water: Ml(1000), Makes: Ml(2000)}, down)
	full, err := FromTo(in(10), Ml(1000), in(20), Ml(1000))
	require.NoError(t, err)
	assert.Equal(t, Restrength{Water: Ml(500), PourOut: Ml(500), Makes: Ml(1000)}, full)
	same, err := FromTo(in(10), Ml(1000), in(10), Ml(1000))
	require.NoError(t, err)
	assert.Equal(t, Restrength{Makes: Ml(1000)}, same)
	_, err = FromTo(in(10), Ml(1000), in(5), Ml(900))
	assert.ErrorContains(t, err, "cannot have 1000 ml in it")
	_, err = FromTo(Ratio{}, Ml(1), in(5), Volume{})
	assert.Error(t, err)
	_, err = FromTo(in(10), Volume{}, in(5), Volume{})
	assert.Error(t, err)
}

// Whatever the strengths, the mix at the end has the strength asked for, and the vessel never overflows.
func TestTheMixIsWhatWasAskedFor(t *testing.T) {
	rng := rand.New(rand.NewSource(4))
	for range 500 {
		have, _ := NewRatio(1+rng.Int63n(9), 1+rng.Int63n(400), PartsPlusParts)
		want, _ := NewRatio(1+rng.Int63n(9), 1+rng.Int63n(400), PartsPlusParts)
		amount := Ml(int64(100 + rng.Intn(5000)))
		room := Ml(int64(amount.Ml()) + int64(rng.Intn(3000)))
		r, err := FromTo(have, amount, want, room)
		require.NoError(t, err)
		stays := amount.Ml() - r.PourOut.Ml()
		product := stays*have.Percent()/100 + r.Product.Ml()
		assert.InDelta(t, want.Percent(), 100*product/r.Makes.Ml(), 1e-6)
		assert.LessOrEqual(t, r.Makes.Ml(), room.Ml()+1e-6)
	}
}

// Grain per US gallon: docs/trade.md, section 15. The other units from memory, checked against one another: 1 mmol/l is
// 5.608 German, 10.009 French and 7.022 English degrees.
func TestHardnessInAnyUnit(t *testing.T) {
	one, err := NewHardness(1, GrainsUSGal)
	require.NoError(t, err)
	assert.InDelta(t, 17.118, float64(one), 0.001)
	mmol, err := NewHardness(1, Millimole)
	require.NoError(t, err)
	assert.InDelta(t, 5.608, mmol.In(GermanDegree), 0.005)
	assert.InDelta(t, 10.009, mmol.In(FrenchDegree), 0.005)
	assert.InDelta(t, 7.022, mmol.In(EnglishDegree), 0.005)
	for _, unit := range HardnessUnit("").Values() {
		h, err := NewHardness(3, HardnessUnit(unit))
		require.NoError(t, err)
		assert.InDelta(t, 3, h.In(HardnessUnit(unit)), 1e-12)
	}
	_, err = NewHardness(1, "cups")
	assert.Error(t, err)
	_, err = NewHardness(-1, MgPerLitre)
	assert.Error(t, err)
}

// By hand: a cartridge for 1,000 g, 300 mg/l: a wash of 20 l takes 6 g; 500 l have taken 150 g; 850/6 = 141 washes.
func TestWashesLeftInACartridge(t *testing.T) {
	n, err := WashesLeft(1000, Ml(500_000), Ml(20_000), 300)
	require.NoError(t, err)
	assert.Equal(t, 141, n)
	n, err = WashesLeft(1000, Ml(5_000_000), Ml(20_000), 300)
	require.NoError(t, err)
	assert.Zero(t, n, "spent")
	_, err = WashesLeft(0, Ml(1), Ml(1), 300)
	assert.Error(t, err)
}

// Whole numbers come out whole, whatever tenths the amounts have: so many washes' solids of capacity are so many
// washes.
func TestWashesLeftAreNotOneShort(t *testing.T) {
	for solids := 1; solids < 400; solids++ {
		for washes := 1; washes < 60; washes += 7 {
			mgPerLitre := float64(solids) / 10
			capacity := float64(solids*washes*21) / 10_000 // g, for washes of 21 l
			n, err := WashesLeft(capacity, Volume{}, Ml(21_000), mgPerLitre)
			require.NoError(t, err)
			require.Equal(t, washes, n, "%g g at %g mg/l", capacity, mgPerLitre)
		}
	}
}

// A strength that is probably a slip is asked about: against the label where it is known, else by what any mix is
// (model).
func TestDoubt(t *testing.T) {
	in := func(n int64) Ratio { r, err := NewRatio(1, n, OnePartIn); require.NoError(t, err); return r }
	label := in(10)
	for n, asked := range map[int64]string{2: "5 times as strong", 3: "3.3 times as strong", 4: "", 10: "", 29: "",
		30: "3 times as weak", 250: "25 times as weak"} {
		doubt := in(n).Doubt(&label)
		assert.Contains(t, doubt, asked, "1 in %d", n)
		assert.Equal(t, asked == "", doubt == "", "1 in %d", n)
	}
	swapped, err := NewRatio(10, 1, PartsPlusParts)
	require.NoError(t, err)
	assert.Contains(t, swapped.Doubt(nil), "the right way round")
	assert.Contains(t, in(4000).Doubt(nil), "hardly any product")
	assert.Empty(t, in(10).Doubt(nil))
}
