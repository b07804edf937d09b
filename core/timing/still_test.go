package timing

import (
	"fmt"
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/prove"
)

// Shifts in which two or three people of different paces come: any order, a week about, a fortnight about, and who is
// slower more and more often at the end of a week. None of them is a change of the work.
var shifts = map[string]func(i int, dice *rand.Rand) int{
	"one person":       func(int, *rand.Rand) int { return 0 },
	"any order":        func(_ int, dice *rand.Rand) int { return dice.Intn(2) },
	"by turns":         func(i int, _ *rand.Rand) int { return i % 2 },
	"a week about":     func(i int, _ *rand.Rand) int { return i / 5 % 2 },
	"a fortnight each": func(i int, _ *rand.Rand) int { return i / 10 % 2 },
	"three in turn":    func(i int, _ *rand.Rand) int { return i / 5 % 3 },
}

// stillShop is a series in which nothing changes: people differ by a quarter, times are skewed.
func stillShop(n int, shift func(int, *rand.Rand) int, dice *rand.Rand) []Timed {
	return told(n, dice.Int63(), func(i int, dice *rand.Rand) (float64, string, string) {
		who := shift(i, dice)
		return 100 * math.Exp(0.25*float64(who)+0.15*dice.NormFloat64()), fmt.Sprint("p", who), "x"
	})
}

// A still series is told to have changed in one of a hundred; 150 shops of each kind of shift, of 80 washes each,
// allow for 6 by chance (a binomial's tail of 1 in 1,000). Reordering single washes told of 6 to 42 of a hundred.
func TestStillShopsDoNotDrift(t *testing.T) {
	t.Parallel()
	const shops = 150
	for name, shift := range shifts {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			dice := rand.New(rand.NewSource(3))
			wrong := 0
			for k := range shops {
				if FindDrift(stillShop(80, shift, dice), nil, int64(k)) != nil {
					wrong++
				}
			}
			assert.LessOrEqual(t, wrong, 6)
		})
	}
}

// A page of sixteen still series tells of one no oftener than its rate, whoever had which shift: 40 pages allow for 6
// (a binomial's tail of 3 in 1,000).
func TestAStillPageDoesNotDrift(t *testing.T) {
	t.Parallel()
	dice, pages, names := rand.New(
		rand.NewSource(4),
	), 0, []string{
		"any order",
		"a week about",
		"a fortnight each",
		"three in turn",
	}
	for k := range 40 {
		page := make([][]Timed, 16)
		for i := range page {
			page[i] = stillShop(60, shifts[names[k%len(names)]], dice)
		}
		for _, d := range FindDrifts(page, nil, int64(k)) {
			if d != nil {
				pages++
				break
			}
		}
	}
	assert.LessOrEqual(t, pages, 6)
}

// What is said of a true step holds it: the interval of a difference whose moment was chosen because it is large is
// as sure as it says.
func TestADriftsIntervalHolds(t *testing.T) {
	t.Parallel()
	dice, found, holds := rand.New(rand.NewSource(5)), 0, 0
	for k := range 150 {
		values := told(80, dice.Int63(), func(i int, dice *rand.Rand) (float64, string, string) {
			return 100 + 20*float64(i/50) + 15*dice.NormFloat64(), "a", "x"
		})
		if d := FindDrift(values, nil, int64(k)); d != nil {
			found++
			if d.Compared.Low <= 20 && 20 <= d.Compared.High {
				holds++
			}
		}
	}
	require.Greater(t, found, 130, "a step of 1.3 standard deviations is seen")
	assert.GreaterOrEqual(t, float64(holds)/float64(found), 0.93)
}

// flagged is the share of points of still series that a chart with limits from the first 24 of 60 flags, in many shops.
func flagged(on Scale, draw func(dice *rand.Rand) Point) float64 {
	dice, out, all := rand.New(rand.NewSource(6)), 0, 0
	for range 1500 {
		points := make([]Point, 60)
		for i := range points {
			points[i] = draw(dice)
		}
		c := Control(points, 24, on)
		out, all = out+c.Signals, all+c.All
	}
	return float64(out) / float64(all)
}

// Still counts are seldom flagged, be they among many or few dwells, rare or not; on a chart of individuals up to a
// quarter of them were. More than what their limits promise comes from limits that are estimated from 24 washes.
func TestChartsOfStillCounts(t *testing.T) {
	t.Parallel()
	for _, rate := range prove.Few(t, 0.02, 0.1, 0.3) {
		draw := func(dice *rand.Rand) Point {
			p := Point{Among: 1 + dice.Intn(6)}
			for range p.Among {
				if dice.Float64() < rate {
					p.Value++
				}
			}
			return p
		}
		assert.Less(t, flagged(Counts, draw), 0.02, "dwells missed, one in %g", 1/rate)
		if rate == 0.1 {
			assert.Greater(t, flagged(Individuals, draw), 0.05, "which individuals are not charts for")
		}
	}
	for _, mean := range prove.Few(t, 0.3, 1, 4) {
		draw := func(dice *rand.Rand) Point { return Point{Value: float64(poisson(mean, dice))} }
		assert.Less(t, flagged(Counts, draw), 0.02, "findings, %g a wash", mean)
	}
}

// poisson draws a count by its definition: how many waiting times fit into one.
func poisson(mean float64, dice *rand.Rand) int {
	n := 0
	for at := dice.ExpFloat64(); at < mean; at += dice.ExpFloat64() {
		n++
	}
	return n
}

// Skewed times charted by their logarithms are flagged as seldom as normal values are; charted as they are, oftener.
func TestChartsOfSkewedTimes(t *testing.T) {
	t.Parallel()
	normal := flagged(Individuals, func(dice *rand.Rand) Point { return Point{Value: 100 + 10*dice.NormFloat64()} })
	skewed := func(dice *rand.Rand) Point { return Point{Value: 100 * math.Exp(0.35*dice.NormFloat64())} }
	assert.InDelta(t, normal, flagged(Times, skewed), 0.003)
	assert.Greater(t, flagged(Individuals, skewed), normal+0.01)
}

// A count that chance does not make is flagged, and so is a run that it does not make. By hand: 24 washes with 2 of 4
// dwells missed in each fourth are 12 of 96, smoothed 12.5 of 97; of four, three or more come by chance in 0.008, all
// four in 0.0003.
func TestCountsThatChanged(t *testing.T) {
	points := make([]Point, 36)
	for i := range points {
		points[i].Among = 4
		if i%4 == 0 && i < 24 {
			points[i].Value = 2
		}
	}
	points[30].Value = 4
	c := Control(points, 24, Counts)
	require.NotNil(t, c.Points[30].Most)
	assert.Equal(t, 3, *c.Points[30].Most)
	assert.Equal(t, []string{"more than chance makes"}, c.Points[30].Signals)
	assert.InDelta(t, 0.5, c.Mean, 1e-9)
	assert.InDelta(t, 3, c.Upper, 1e-9)
	assert.Zero(t, c.Lower)
	for i := 29; i < 36; i++ {
		points[i].Value = max(points[i].Value, 1)
	}
	c = Control(points, 24, Counts)
	assert.Empty(
		t,
		c.Points[34].Signals,
		"by hand: one or more of four come by a chance of 0.424, six times in a row in 1 of 172",
	)
	assert.Equal(t, []string{"7 in a row above the mean"}, c.Points[35].Signals, "and seven times in 1 of 405")
}
