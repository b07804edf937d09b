package timing

import (
	"fmt"
	"math"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/prove"
)

// told makes values by kinds of person and product.
func told(n int, seed int64, of func(i int, dice *rand.Rand) (float64, string, string)) []Timed {
	dice := rand.New(rand.NewSource(seed))
	values := make([]Timed, n)
	for i := range values {
		v, person, product := of(i, dice)
		values[i] = Timed{day0.AddDate(0, 0, i), v, func(thing string) Kind {
			name := map[string]string{"person": person, "product": product}[thing]
			return Kind{name, name}
		}}
	}
	return values
}

// Where nothing changes no drift is found, but for one in a hundred series: that is the chance asked for.
func TestNoDriftWhereNothingChanges(t *testing.T) {
	found := 0
	for seed := range int64(200) {
		if FindDrift(
			told(
				60,
				seed,
				func(_ int, dice *rand.Rand) (float64, string, string) { return 100 + 10*dice.NormFloat64(), "a", "x" },
			),
			[]string{"person"},
			1,
		) != nil {
			found++
		}
	}
	assert.LessOrEqual(t, found, 7, "200 series at a chance of 0.01 each: over 7 has a chance of 0.001")
}

// A new product that takes a fifth longer is named; the people, who did not change, are not.
func TestDriftIsExplainedByWhatChanged(t *testing.T) {
	d := FindDrift(told(80, 4, func(i int, dice *rand.Rand) (float64, string, string) {
		v, product := 100+8*dice.NormFloat64(), "old towels"
		if i >= 50 {
			v, product = v*1.2, "new towels"
		}
		return v, []string{"a", "b"}[dice.Intn(2)], product
	}), []string{"person", "product"}, 1)
	require.NotNil(t, d)
	assert.WithinDuration(t, day0.AddDate(0, 0, 50), d.Since, 4*24*time.Hour)
	require.Len(t, d.Causes, 1)
	assert.Equal(t, "product", d.Causes[0].What)
	assert.InDelta(t, 1, d.Causes[0].Share, 0.1)
	assert.Contains(t, d.Words, "new towels")
	assert.InDelta(t, 20, d.Compared.Difference, 6)
}

// A slow person who comes to do most washes makes the times rise, though nobody became slower: the mix explains it.
func TestDriftOfTheMixIsNotDriftOfTheWork(t *testing.T) {
	d := FindDrift(told(120, 5, func(i int, dice *rand.Rand) (float64, string, string) {
		slow := dice.Float64() < 0.2
		if i >= 60 {
			slow = dice.Float64() < 0.8
		}
		if slow {
			return 140 + 6*dice.NormFloat64(), "slow", "x"
		}
		return 100 + 6*dice.NormFloat64(), "quick", "x"
	}), []string{"person", "product"}, 1)
	require.NotNil(t, d)
	require.Len(t, d.Causes, 1)
	assert.Equal(t, "person", d.Causes[0].What)
	assert.Greater(t, d.Causes[0].Share, 0.8)
}

// A drift whose cause is not known says so.
func TestDriftWithoutACause(t *testing.T) {
	d := FindDrift(told(80, 6, func(i int, dice *rand.Rand) (float64, string, string) {
		return 100 + 20*float64(i/40) + 8*dice.NormFloat64(), []string{"a", "b"}[dice.Intn(2)], "x"
	}), []string{"person", "product"}, 1)
	require.NotNil(t, d)
	assert.Empty(t, d.Causes)
	assert.Contains(t, d.Words, "Nothing that Uskel knows of")
	assert.Nil(t, FindDrift(nil, nil, 1))
}

func TestComparingNeedsTwoOnEachSide(t *testing.T) {
	_, err := Welch([]float64{1}, []float64{2, 3})
	assert.ErrorContains(t, err, "1 and 2")
	same, err := Welch([]float64{2, 2}, []float64{2, 2})
	require.NoError(t, err)
	assert.InDelta(t, 1, same.P, 0)
	_, p := Variance([][]float64{{1, 2}, {}})
	assert.InDelta(t, 1, p, 0, "one group")
	_, p = Mixed(map[string]int{"a": 3}, map[string]int{"a": 4})
	assert.InDelta(t, 1, p, 0, "one kind")
}

// Somebody who learns: times fall by Wright's curve, and washes that were fast for their number carry the findings.
func TestLearningShowsHaste(t *testing.T) {
	dice := rand.New(rand.NewSource(8))
	score := 60
	var washes []Wash
	for n := 1; n <= 40; n++ {
		w := Wash{ID: fmt.Sprint(n), Person: "p", Name: "Pia", Trainee: true, Finished: day0.AddDate(0, 0, n)}
		expected, _, _ := Curve{First: 170, Slope: -0.15}.At(n)
		w.Times.Planned = 60
		w.Times.Minutes = expected * 0.6 * (1 + 0.05*dice.NormFloat64())
		if n%3 == 0 {
			w.Times.Minutes *= 0.85
			w.Findings, w.Score = 3, &score
		}
		washes = append(washes, w)
	}
	l := LearningOf(washes, 0)
	assert.InDelta(t, 0.90, l.Rate, 0.03)
	assert.Greater(t, l.Fast, l.Slow)
	assert.Contains(t, l.Words, "Fast and dirty")
	assert.True(t, l.Washes[2].Hasty)
	assert.False(t, l.Washes[3].Hasty)
	assert.Less(t, l.NextLow, l.Next)
	assert.Less(t, l.Next, l.NextTop)
	assert.Contains(t, LearningOf(washes[:3], 0).Words, "a curve needs 6")
}

// What is said of a rate is tested. True learners are hardly ever told that their times do not fall (at most 1 in 50;
// untested it was 1 in 8), those who do not learn are told to learn no oftener than an interval of 95 of 100 errs,
// and the interval holds the true rate.
func TestTheRateIsTested(t *testing.T) {
	dice := rand.New(rand.NewSource(12))
	const runs = 600
	for _, rate := range []float64{0.80, 0.90, 0.95, 1} {
		for _, n := range prove.Few(t, 8, 20, 40) {
			denied, told, holds := 0, 0, 0
			for range runs {
				var washes []Wash
				for k := 1; k <= n; k++ {
					w := Wash{ID: fmt.Sprint(k)}
					w.Times.Planned = 100
					w.Times.Minutes = 150 * math.Pow(float64(k), math.Log2(rate)) * math.Exp(0.2*dice.NormFloat64())
					washes = append(washes, w)
				}
				l := LearningOf(washes, 0)
				if strings.Contains(l.Words, "do not fall") {
					denied++
				}
				if strings.Contains(l.Words, "Each doubling") {
					told++
				}
				if l.RateLow-0.001 <= rate && rate <= l.RateTop+0.001 {
					holds++
				}
			}
			assert.InDelta(t, 0.95, float64(holds)/runs, 0.03, "rate %g of %d", rate, n)
			if rate < stillLearning {
				assert.LessOrEqual(t, denied, runs/50, "rate %g of %d: times do fall", rate, n)
			} else {
				assert.LessOrEqual(t, told, runs/20, "rate %g of %d: times do not fall", rate, n)
			}
		}
	}
}

// By hand: two washes in one week; 6 min of foam working alone, 4 of waiting, 10 of rework, a set-up at 3 and 5 min
// on 3 written (best 3), 2 min of pause, 5 min on the kerb.
func TestWhereTheMinutesGo(t *testing.T) {
	w := func(setUp float64) Wash {
		return Wash{Waited: 2.5, Times: WashTimes{Elapsed: 60, Idle: 3, Waits: 2, Steps: []StepTime{
			{Step: "lay", Stage: "Set up", Technique: "prepare", Written: 3, Planned: 3, Actual: setUp, Paused: 1},
			{Step: "dry", Stage: "Dry", Written: 8, Planned: 8, Actual: 11},
			{Step: "again", Stage: "Rework", Written: 5, Planned: 5, Actual: 5, Rework: true}}}}
	}
	list := Where([]Wash{w(3), w(5)}, day0, day0.AddDate(0, 0, 7))
	got := map[string]float64{}
	for _, s := range list {
		got[s.What] = s.Minutes
	}
	assert.Equal(
		t,
		map[string]float64{
			"Overlap not used":                6,
			"Setting up and putting away":     2,
			"Rework":                          10,
			"Waiting between steps":           4,
			"Vehicles waiting for the washer": 5,
			"Pauses":                          2,
			"Dry over its standard":           6,
		},
		got,
	)
	assert.Equal(t, "Rework", list[0].What, "what saves most comes first")
	assert.InDelta(t, 10.0/120, list[0].Share, 0.001)
	assert.Empty(t, Where(nil, day0, day0.AddDate(0, 0, 7)))
}

func TestSharesOfTheWash(t *testing.T) {
	shares := Shares(
		[]Wash{
			{
				Times: WashTimes{
					Stages: []StageTime{
						{Stage: "Wash", Planned: 10, Actual: 15},
						{Stage: "Dry", Planned: 10, Actual: 5},
						{Stage: "Look"},
					},
				},
			},
		},
	)
	assert.Equal(t, []Share{{"Wash", 15, 0.75, 0.5}, {"Dry", 5, 0.25, 0.5}}, shares)
}

// Washes of different kinds, the short one first: their stages still stand in the order of the work.
func TestStagesStandInTheOrderOfTheWork(t *testing.T) {
	w := func(stages ...string) Wash {
		var w Wash
		for _, s := range stages {
			w.Times.Stages = append(w.Times.Stages, StageTime{Stage: s, Planned: 5, Actual: 5, Done: true})
			w.Times.Steps = append(
				w.Times.Steps,
				StepTime{Step: s, Stage: s, Title: s, Planned: 5, Written: 5, Actual: 5},
			)
		}
		return w
	}
	washes := []Wash{
		w("Set up", "Dry", "Put away"),
		w("Set up", "Rinse", "Wheels", "Foam", "Mitt", "Dry", "Glass", "Put away"),
		w("Set up", "Rinse", "Foam", "Mitt", "Dry", "Put away"),
	}
	want := []string{"Set up", "Rinse", "Wheels", "Foam", "Mitt", "Dry", "Glass", "Put away"}
	var got []string
	for _, s := range Shares(washes) {
		got = append(got, s.Stage)
	}
	assert.Equal(t, want, got)
	for _, steps := range []bool{false, true} {
		got = nil
		for _, line := range Break(washes, ByGrade, steps).Lines {
			got = append(got, line.Title)
		}
		assert.Equal(t, want, got)
	}
}

// A stage's series carries what may explain it.
func TestStageSeries(t *testing.T) {
	w := Wash{
		ID:        "w",
		Finished:  day0,
		Procedure: "p",
		Version:   2,
		Person:    "o",
		Name:      "Osk",
		Grade:     1,
		Air:       5,
		Times: WashTimes{
			Stages: []StageTime{{Stage: "Dry", Planned: 8, Actual: 10, Done: true}, {Stage: "Foam", Planned: 3}},
			Steps:  []StepTime{{Stage: "Dry", Product: "Slick", ProductID: "s1"}, {Stage: "Foam", Product: "Snow"}}},
	}
	values, points := StageSeries([]Wash{w}, "Dry")
	require.Len(t, values, 1)
	assert.InDelta(t, 125, values[0].Value, 1e-9)
	assert.Equal(t, map[string]Kind{"version": {"p 2", "p 2"}, "person": {"o", "Osk"}, "product": {"s1", "Slick"},
		"weather": {"under 8 °C", "under 8 °C"}, "grade": {"grade 1", "grade 1"}}, things(values[0]))
	assert.Equal(t, "w", points[0].Ref)
	none, _ := StageSeries([]Wash{w}, "Foam")
	assert.Empty(t, none, "not done")
}

// things is what may explain a value, by thing.
func things(v Timed) map[string]Kind {
	by := map[string]Kind{}
	for _, thing := range Things {
		by[thing] = v.Of(thing)
	}
	return by
}
