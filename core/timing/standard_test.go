package timing

import (
	"fmt"
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var day0 = time.Date(2026, 1, 5, 9, 0, 0, 0, time.UTC)

// invented makes washes of one step: minutes by a rule, a day apart.
func invented(n int, of func(i int) (StepTime, Wash)) []Wash {
	washes := make([]Wash, n)
	for i := range washes {
		s, w := of(i)
		if s.Step == "" {
			s.Step, s.Stage, s.Title = "dry", "Dry", "Dry it"
		}
		if s.Planned == 0 {
			s.Planned = s.Written
		}
		w.ID, w.Finished = fmt.Sprint("w", i), day0.AddDate(0, 0, i)
		w.Times.Steps = []StepTime{s}
		w.Times.Stages = []StageTime{{Stage: s.Stage, Planned: s.Planned, Actual: s.Actual, Done: true}}
		w.Times.Planned, w.Times.Minutes = s.Planned, s.Actual
		washes[i] = w
	}
	return washes
}

// By hand: ten timings of 12 min on 10 written, rated 100, 11 % allowances: normal 12, standard 13.32 before it is
// drawn to the written 10; weight 0.04 / (0.04 + 0.0625/10) = 0.8649, so 10 x (1 + 0.8649 x 0.332) = 12.87.
func TestStandardTimeByHand(t *testing.T) {
	washes := invented(10, func(int) (StepTime, Wash) { return StepTime{Written: 10, Actual: 12, By: "a"}, Wash{} })
	list := Observe(washes)["dry"]
	p := Propose(list, nil, 0.11, Standard{Step: "dry", Form: AsWritten})
	assert.Equal(t, 10, p.N)
	assert.InDelta(t, 12, p.Normal, 1e-9)
	assert.InDelta(t, 0.86, p.Weight, 0.005)
	assert.InDelta(t, 12.87, p.Standard, 0.005)
	assert.InDelta(t, 1.29, p.Propose.Factor, 0.005)
	assert.Zero(t, p.Needed, "ten alike need no more")
	assert.True(t, p.Different)

	slow := Propose(list, map[string]float64{"a": 75}, 0, Standard{Step: "dry", Form: AsWritten})
	assert.InDelta(t, 9, slow.Normal, 1e-9, "a person rated 75 takes 12 min for what takes the typical one 9")
}

// Few timings move a standard little, many all the way.
func TestThinDataIsDrawnToTheWritten(t *testing.T) {
	last := 1.0
	for _, n := range []int{1, 2, 5, 20, 100, 5000} {
		to, weight := shrink(1.5, n)
		assert.Greater(t, to, last, "%d timings", n)
		assert.Less(t, to, 1.5)
		assert.InDelta(t, 1+0.5*weight, to, 1e-12)
		last = to
	}
	assert.InDelta(t, 1.5, last, 0.001)
	none, weight := shrink(0, 0)
	assert.Equal(t, []float64{1, 0}, []float64{none, weight})
}

// A step whose minutes really are 1 + 0.8 a m2 + 0.5 a grade is found out, a person who takes a quarter longer is
// rated 80, and the standard is for the typical person.
func TestStandardByAreaAndGrade(t *testing.T) {
	dice := rand.New(rand.NewSource(3))
	washes := invented(200, func(i int) (StepTime, Wash) {
		area, grade := 4+6*dice.Float64(), dice.Intn(4)
		minutes := 1 + 0.8*area + 0.5*float64(grade)
		by := "quick"
		if i%4 == 0 {
			minutes, by = minutes*1.25, "slow"
		}
		return StepTime{
				Written: 7,
				Actual:  minutes * (1 + 0.03*dice.NormFloat64()),
				Area:    area,
				By:      by,
			}, Wash{
				Grade:    grade,
				Learners: []string{"new"},
			}
	})
	byStep := Observe(washes)
	ratings := Ratings(byStep)
	assert.InDelta(t, 100, ratings["quick"], 10, "the typical time has a quarter of slow ones in it")
	assert.InDelta(t, ratings["quick"]/ratings["slow"], 1.25, 0.06)
	p := Propose(byStep["dry"], map[string]float64{"quick": 100, "slow": 80}, 0, Standard{Step: "dry", Form: AsWritten})
	require.NotNil(t, p.Fit)
	assert.InDelta(t, 1, p.Fit.Fixed, 0.2)
	assert.InDelta(t, 0.8, p.Fit.PerM2, 0.03)
	assert.InDelta(t, 0.5, p.Fit.PerGrade, 0.05)
	assert.Equal(t, Fitted, p.Propose.Form)
	assert.NoError(t, p.Propose.Check())
	assert.Contains(t, p.Words, "for each m²")
	assert.InDelta(t, 1+0.8*8+0.5*2, p.Propose.Minutes(7, 8, 2), 0.3)

	few := Propose(byStep["dry"][:12], nil, 0, Standard{})
	assert.Nil(t, few.Fit, "too few for a line")
}

// A timing far out is kept in the list and out of the mean.
func TestOutliersDoNotMakeStandards(t *testing.T) {
	washes := invented(12, func(i int) (StepTime, Wash) {
		minutes := 10 + 0.1*float64(i)
		if i == 7 {
			minutes = 60 // went for lunch without a pause
		}
		return StepTime{Written: 10, Actual: minutes, By: "a"}, Wash{}
	})
	list := Observe(washes)["dry"]
	assert.Len(t, list, 12)
	assert.True(t, list[7].Outlier)
	p := Propose(list, nil, 0, Standard{Form: AsWritten})
	assert.Equal(t, []int{11, 1}, []int{p.N, p.Outliers})
	assert.Equal(t, []Far{{"w7", "", day0.AddDate(0, 0, 7), 60, 10}}, p.Far, "it is kept, and shown")
	assert.InDelta(t, 10.55, p.Observed, 0.05)
}

func TestWhatSaysNothingOfAStandardIsLeftOut(t *testing.T) {
	for name, s := range map[string]StepTime{"two people": {Written: 5, Actual: 3, Shared: true},
		"rework": {Written: 5, Actual: 3, Rework: true}, "no time": {Written: 5}, "nothing written": {Actual: 3}} {
		assert.Empty(t, Observe(invented(1, func(int) (StepTime, Wash) { return s, Wash{} })), name)
	}
}

func TestStandardsAreChecked(t *testing.T) {
	for says, s := range map[string]Standard{"step": {Form: AsWritten}, "form": {Step: "x", Form: "guessed"},
		"factor": {Step: "x", Form: Factored, Factor: 9}, "fixed": {Step: "x", Form: Fitted}} {
		assert.ErrorContains(t, s.Check(), says)
	}
	assert.NoError(t, Standard{Step: "x", Form: AsWritten}.Check())
	assert.Equal(t, "120 % of the written time", Standard{Form: Factored, Factor: 1.2}.Words())
	assert.InDelta(t, 6, Standard{Form: Factored, Factor: 1.2}.Minutes(5, 0, 0), 1e-9)
	assert.InDelta(t, 5, Standard{}.Minutes(5, 3, 2), 1e-9)
}

// Once a standard is raised to what is taken, old washes no longer look slow: nothing is counted twice.
func TestRebaseCountsARaisedStandardOnce(t *testing.T) {
	washes := invented(10, func(int) (StepTime, Wash) { return StepTime{Written: 10, Actual: 12.5}, Wash{Grade: 1} })
	rebased := Standards{"dry": {Step: "dry", Form: Factored, Factor: 1.25}}.Rebase(washes)
	assert.InDelta(t, 12.5, rebased[0].Times.Planned, 1e-9)
	assert.InDelta(t, 12.5, rebased[0].Times.Stages[0].Planned, 1e-9)
	assert.InDelta(t, 10, washes[0].Times.Planned, 1e-9, "the kept ones are untouched")
	assert.InDelta(t, 10, Standards{}.Rebase(rebased)[0].Times.Planned, 1e-9, "and back")
}

// By hand: 3 min of pauses in 60 of work.
func TestAllowancesAreThePausesUnlessSet(t *testing.T) {
	washes := []Wash{{Times: WashTimes{Steps: []StepTime{{Actual: 40, Paused: 3}, {Actual: 20}}}}}
	assert.InDelta(t, 0.05, Allowances(washes), 1e-9)
	assert.Zero(t, Allowances(nil))
}

// A standard that is a hair off, however surely, is not worth changing.
func TestSmallDifferencesAreLetStand(t *testing.T) {
	list := func(actual float64) []Observation {
		return Observe(invented(50, func(int) (StepTime, Wash) { return StepTime{Written: 10, Actual: actual, By: "a"}, Wash{} }))["dry"]
	}
	assert.False(t, Propose(list(10.3), nil, 0, Standard{Form: AsWritten}).Different)
	assert.True(t, Propose(list(10.8), nil, 0, Standard{Form: AsWritten}).Different)
}
