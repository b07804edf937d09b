package schedule

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
)

func spreading(cv float64) func(Work, string) Spread {
	return func(Work, string) Spread { return Spread{1, cv, cv / 3} }
}

func TestWithoutSpreadAPromiseIsThePlan(t *testing.T) {
	p := foamed()
	line := solve(t, p)
	pr := Foretell(p, line, spreading(0), 100, 1)
	assert.Equal(t, []measure.Seconds{line.Finish, line.Finish, line.Finish}, []measure.Seconds{pr.P50, pr.P80, pr.P95})
	assert.Zero(t, pr.Overrun)
}

// What all of a person's work shares does not average out over a wash.
func TestABadDayWidensAPromise(t *testing.T) {
	p := foamed()
	line := solve(t, p)
	alone := Foretell(p, line, func(Work, string) Spread { return Spread{1, 0.2, 0} }, 4000, 1)
	day := Foretell(p, line, func(Work, string) Spread { return Spread{1, 0.2, 0.2} }, 4000, 1)
	assert.Greater(t, day.P95-day.P50, alone.P95-alone.P50+30)
}

func TestAPromiseGrowsWithSpreadAndTightDwells(t *testing.T) {
	p := foamed()
	for i := range p.Work {
		p.Work[i].Step = p.Work[i].ID
	}
	line := solve(t, p)
	calm, wild := Foretell(p, line, spreading(0.1), 2000, 1), Foretell(p, line, spreading(0.4), 2000, 1)
	assert.Less(t, calm.P80, wild.P80)
	assert.LessOrEqual(t, wild.P50, wild.P80)
	assert.LessOrEqual(t, wild.P80, wild.P95)
	assert.Equal(t, "mitt", wild.Helper.Step, "the longest that the finish depends on")
	assert.InDelta(t, 240, float64(wild.Helper.Saves), 60, "half of its eight minutes")
	assert.Equal(t, wild, Foretell(p, line, spreading(0.4), 2000, 1), "same seed, same promise")

	tight := foamed()
	tight.Work[1].Seconds = 290 // the buckets fill the dwell
	tight.Lags[0].Max = most(310)
	tight.Lags = append(tight.Lags, Lag{From: "foam", To: "buckets"}, Lag{From: "buckets", To: "rinse"})
	line = solve(t, tight)
	pr := Foretell(tight, line, spreading(0.2), 2000, 1)
	assert.Greater(t, pr.Overrun, 0.2)
	assert.Equal(t, pr.Overrun, pr.Dwells[0].Chance)
	assert.InDelta(t, pr.Overrun, Chances(tight, line, spreading(0.2), 2000, 1)[0].Chance, 1e-12)
}

// The lognormal of the simulation has the mean and the coefficient of variation it is given (its formulas: any
// handbook of distributions).
func TestSpreadsAreWhatTheySay(t *testing.T) {
	rng := rand.New(rand.NewSource(3))
	for _, x := range []Spread{Practised, Learning, {1.2, 0.5, 0}} {
		sum, squares, n := 0.0, 0.0, 200_000
		for range n {
			v := x.draw(rng, 1)
			sum, squares = sum+v, squares+v*v
		}
		mean := sum / float64(n)
		assert.InDelta(t, x.Mean, mean, 0.01)
		assert.InDelta(t, x.CV, math.Sqrt(squares/float64(n)-mean*mean)/mean, 0.01)
	}
}

// washed plays one wash by its own rules, written apart from the simulation: everybody does the work in the order of
// the plan, begins as soon as nobody and nothing is waited for, and puts product on no sooner after the last thing
// than planned. It goes through the work again and again until nothing moves any more.
func washed(p Problem, line Timeline, rng *rand.Rand, cv float64) measure.Seconds {
	length, begin, wait := map[string]float64{}, map[string]float64{}, map[string]float64{}
	sigma, shared := math.Sqrt(math.Log(1+cv*cv)), math.Sqrt(math.Log(1+cv*cv/9))
	day := map[string]float64{}
	for _, s := range line.Slots {
		if _, known := day[s.Who]; !known {
			day[s.Who] = math.Exp(shared*rng.NormFloat64() - shared*shared/2)
		}
		length[s.ID] = float64(s.End-s.Start) * day[s.Who] * math.Exp(sigma*rng.NormFloat64()-sigma*sigma/2)
	}
	earliest := func(i int, end func(Slot) float64) float64 {
		s, t := line.Slots[i], 0.0
		for _, l := range p.Lags {
			if l.To == s.ID {
				for _, from := range line.Slots {
					if from.ID == l.From {
						t = math.Max(t, end(from)+float64(l.Min))
					}
				}
			}
		}
		for _, before := range line.Slots[:i] {
			shared := before.Who == s.Who
			for _, m := range s.Machines {
				for _, n := range before.Machines {
					shared = shared || m == n
				}
			}
			if shared {
				t = math.Max(t, end(before))
			}
		}
		return t
	}
	for i, s := range line.Slots {
		wait[s.ID] = math.Max(0, float64(s.Start)-earliest(i, func(o Slot) float64 { return float64(o.End) }))
	}
	for moved := true; moved; {
		moved = false
		for i, s := range line.Slots {
			t := earliest(i, func(o Slot) float64 { return begin[o.ID] + length[o.ID] }) + wait[s.ID]
			if t > begin[s.ID]+1e-9 {
				begin[s.ID], moved = t, true
			}
		}
	}
	last := 0.0
	for id, b := range begin {
		last = math.Max(last, b+length[id])
	}
	return measure.Seconds(math.Ceil(last))
}

// Coverage: what is told to customers holds in 78 to 82 of 100 washes.
func TestFourOfFivePromisesHold(t *testing.T) {
	two := foamed()
	two.People = crew("Ada", "Bo")
	two.Work = append(two.Work, Work{ID: "tyres", Seconds: 300}, Work{ID: "glass", Seconds: 240})
	two.Lags = append(two.Lags, Lag{From: "mitt", To: "tyres"}, Lag{From: "mitt", To: "glass"})
	for name, p := range map[string]Problem{"one": foamed(), "two": two} {
		line := solve(t, p)
		pr := Foretell(p, line, spreading(0.3), 8000, 1)
		rng := rand.New(rand.NewSource(99))
		held, n := 0, 8000
		for range n {
			if washed(p, line, rng, 0.3) <= pr.P80 {
				held++
			}
		}
		share := float64(held) / float64(n)
		assert.GreaterOrEqual(t, share, 0.78, name)
		assert.LessOrEqual(t, share, 0.82, name)
	}
}
