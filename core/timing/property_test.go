package timing

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// positive makes some values above zero.
func positive(dice *rand.Rand, n int) []float64 {
	values := make([]float64, n)
	for i := range values {
		values[i] = 1 + 20*dice.Float64()
	}
	return values
}

func mapped(values []float64, f func(float64) float64) []float64 {
	out := make([]float64, len(values))
	for i, v := range values {
		out[i] = f(v)
	}
	return out
}

func charted(values []float64) Chart {
	points := make([]Point, len(values))
	for i, v := range values {
		points[i].Value = v
	}
	return Control(points, 0, Individuals)
}

// A chart in other units, or from another nought, says the same.
func TestChartsDoNotDependOnUnits(t *testing.T) {
	dice := rand.New(rand.NewSource(1))
	for range 200 {
		values := positive(dice, 2+dice.Intn(40))
		plain := charted(values)
		k, shift := 0.1+10*dice.Float64(), 100*dice.Float64()
		other := charted(mapped(values, func(v float64) float64 { return k*v + shift }))
		assert.InDelta(t, k*plain.Mean+shift, other.Mean, 1e-6)
		assert.InDelta(t, k*plain.Upper+shift, other.Upper, 1e-6)
		assert.InDelta(t, k*plain.Lower+shift, other.Lower, 1e-6)
		assert.InDelta(t, k*plain.RangeTop, other.RangeTop, 1e-6)
		for i := range plain.Points {
			assert.Equal(t, plain.Points[i].Signals, other.Points[i].Signals)
		}
	}
}

// How many timings are needed, which are outliers and how fast somebody learns do not depend on the unit of time.
func TestStatisticsDoNotDependOnTheUnit(t *testing.T) {
	dice := rand.New(rand.NewSource(2))
	for range 200 {
		values := positive(dice, learnFrom+dice.Intn(30))
		seconds := mapped(values, func(v float64) float64 { return 60 * v })
		assert.InEpsilon(t, 1+Needed(values), 1+Needed(seconds), 1e-9)
		assert.Equal(t, outliers(values), outliers(seconds))
		a, err := Learn(values, 0)
		require.NoError(t, err)
		b, err := Learn(seconds, 0)
		require.NoError(t, err)
		assert.InEpsilon(t, a.Rate, b.Rate, 1e-9)
		assert.InEpsilon(t, 60*a.First, b.First, 1e-9)
	}
}

// A proposal is the same in whatever order washes were timed, lies within what was observed but for rating,
// allowances and the written time, and a second look changes nothing.
func TestProposalsDoNotDependOnOrder(t *testing.T) {
	dice := rand.New(rand.NewSource(3))
	for range 100 {
		washes := invented(5+dice.Intn(40), func(int) (StepTime, Wash) {
			return StepTime{
					Written: 5 + 5*dice.Float64(),
					Actual:  3 + 9*dice.Float64(),
					Area:    4 + 6*dice.Float64(),
					By:      []string{"a", "b"}[dice.Intn(2)],
				}, Wash{
					Grade: dice.Intn(4),
				}
		})
		list := Observe(washes)["dry"]
		p := Propose(list, nil, 0, Standard{Step: "dry", Form: AsWritten})
		mixed := append([]Observation{}, list...)
		dice.Shuffle(len(mixed), func(i, j int) { mixed[i], mixed[j] = mixed[j], mixed[i] })
		q := Propose(mixed, nil, 0, Standard{Step: "dry", Form: AsWritten})
		p.Far, q.Far = nil, nil // the newest of them
		if p.Fit != nil && q.Fit != nil {
			assert.InDelta(t, p.Fit.PerM2, q.Fit.PerM2, 1e-9)
			p.Fit, q.Fit = nil, nil
		}
		assert.Equal(t, p, q)
		assert.LessOrEqual(t, p.Low, p.High)
		assert.NoError(t, p.Propose.Check())
	}
}

// Counting with today's standards twice is counting with them once.
func TestRebasingTwiceChangesNothing(t *testing.T) {
	dice := rand.New(rand.NewSource(4))
	washes := invented(30, func(int) (StepTime, Wash) {
		return StepTime{Written: 5, Planned: 4 + 3*dice.Float64(), Actual: 6, Area: 8}, Wash{Grade: dice.Intn(4)}
	})
	s := Standards{"dry": {Step: "dry", Form: Fitted, Fixed: 1, PerM2: 0.5, PerGrade: 0.3}}
	once := s.Rebase(washes)
	twice := s.Rebase(once)
	for i := range once {
		assert.InDelta(t, once[i].Times.Planned, twice[i].Times.Planned, 1e-9)
		assert.InDelta(t, once[i].Times.Steps[0].Planned, 1+0.5*8+0.3*float64(washes[i].Grade), 1e-9)
	}
}

// Stretches cover no more than the whole, and more stretches cover no less.
func TestCoverIsBounded(t *testing.T) {
	dice := rand.New(rand.NewSource(5))
	at := func(m int) time.Time { return day0.Add(time.Duration(m) * time.Minute) }
	for range 300 {
		whole := span{at(10), at(70)}
		var others []span
		last := time.Duration(0)
		for range 1 + dice.Intn(12) {
			from := dice.Intn(90)
			others = append(others, span{at(from), at(from + dice.Intn(30))})
			now := covered(whole, append([]span{}, others...))
			assert.GreaterOrEqual(t, now, last)
			assert.LessOrEqual(t, now, time.Hour)
			last = now
		}
	}
}
