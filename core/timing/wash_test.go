package timing

import (
	"fmt"
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
)

var foamAndDry = []wash.PlannedStep{
	{
		ID:      "foam",
		Stage:   "Pre-wash",
		Title:   "Foam",
		Minutes: 2,
		Product: "Snow",
		Dwell:   &wash.Dwell{From: 300, To: 600, Label: 600},
	},
	{ID: "fill", Stage: "Pre-wash", Title: "Fill", Minutes: 2},
	{ID: "rinse", Stage: "Pre-wash", Title: "Rinse", Minutes: 3, Ends: []string{"foam"}},
	{ID: "mitt", Stage: "Contact wash", Title: "Mitt", Minutes: 8, Written: 10, Rinses: 4, Area: 7},
	{ID: "dry", Stage: "Dry", Title: "Dry", Minutes: 5},
}

// tap is an event at a minute of the morning.
func tap(by string, kind wash.Kind, step string, minute float64) wash.Event {
	return wash.Event{
		ID:   fmt.Sprint(by, kind, step, minute),
		By:   by,
		Kind: kind,
		Step: step,
		At:   day0.Add(time.Duration(minute * float64(time.Minute))),
		Seq:  int(60 * minute),
	}
}

// Worked by hand. Foam 0 to 2; it works alone from 2 to 3 (idle 1), buckets 3 to 5, alone again from 5 to 8 (idle 3);
// rinse 8 to 11; nothing from 11 to 13 (wait 2); mitt from 13 to 25 with a pause from 20 to 22, two rinses of four;
// Bo dries from 25 to 28 and Ada, half a minute later, to 31. The first tap to the last: 31 min, of which hands-on 2
// + 2 + 3 + 10 + 5.5 = 22.5.
func TestTheTimesOfAWashByHand(t *testing.T) {
	log := []wash.Event{
		tap(
			"Ada",
			wash.Start,
			"foam",
			0,
		),
		tap("Ada", wash.Done, "foam", 2),
		tap("Ada", wash.Start, "fill", 3),
		tap("Ada", wash.Done, "fill", 5),
		tap("Ada", wash.Start, "rinse", 8),
		tap("Ada", wash.Done, "rinse", 11),
		tap(
			"Ada",
			wash.Start,
			"mitt",
			13,
		),
		tap("Ada", wash.Rinsed, "mitt", 15),
		tap("Ada", wash.Rinsed, "mitt", 17),
		tap("Ada", wash.Pause, "mitt", 20),
		tap("Ada", wash.Resume, "mitt", 22),
		tap("Ada", wash.Done, "mitt", 25),
		tap(
			"Bo",
			wash.Start,
			"dry",
			25,
		),
		tap("Bo", wash.Pause, "dry", 28),
		tap("Ada", wash.Resume, "dry", 28.5),
		tap("Ada", wash.Done, "dry", 31),
		tap("Ada", wash.Finish, "", 33),
	}
	got := Of(foamAndDry, wash.Fold(foamAndDry, log))
	assert.InDelta(t, 31, got.Elapsed, 1e-9)
	assert.InDelta(t, 22.5, got.Minutes, 1e-9)
	assert.InDelta(t, 20, got.Planned, 1e-9)
	assert.InDelta(t, 4, got.Idle, 1e-9)
	assert.InDelta(t, 2, got.Waits, 1e-9)
	assert.Equal(t, []int{1, 0}, []int{got.Kept, got.Missed}, "the foam worked from minute 2 to 8")
	require.Len(t, got.Steps, 5)
	mitt, dry := got.Steps[3], got.Steps[4]
	assert.Equal(
		t,
		StepTime{
			Step:    "mitt",
			Stage:   "Contact wash",
			Title:   "Mitt",
			By:      "Ada",
			Written: 10,
			Planned: 8,
			Actual:  10,
			Paused:  2,
			Area:    7,
			Rinses:  2,
			Asked:   4,
		},
		mitt,
	)
	assert.True(t, dry.Shared, "it is nobody's time alone")
	assert.InDelta(t, 5.5, dry.Actual, 1e-9)
	assert.InDelta(t, 2, got.Steps[0].Written, 1e-9, "what is not told apart is as written")

	tapped, asked := Wash{Times: got}.Rinses()
	assert.Equal(t, []int{2, 4}, []int{tapped, asked})
	tapped, asked = Wash{Times: Of(foamAndDry, wash.Fold(foamAndDry, log[:6]))}.Rinses()
	assert.Equal(t, []int{0, 0}, []int{tapped, asked}, "who taps none says nothing")
}

// Of any log whatever: the time from the first tap to the last is somebody's, idle, waiting or paused; a stage's
// hands-on time is its stretches of work, those of steps given up too.
func TestTheTimesOfAnyWashAddUp(t *testing.T) {
	dice := rand.New(rand.NewSource(12))
	kinds := []wash.Kind{
		wash.Start,
		wash.Start,
		wash.Done,
		wash.Done,
		wash.Pause,
		wash.Resume,
		wash.Skip,
		wash.Rinsed,
		wash.Dried,
	}
	timed := 0
	for n := range 400 {
		var log []wash.Event
		minute := 0.0
		for i := range 5 + dice.Intn(25) {
			minute += 2 * dice.Float64()
			log = append(
				log,
				tap(
					[]string{"Ada", "Bo"}[dice.Intn(2)],
					kinds[dice.Intn(len(kinds))],
					foamAndDry[min(4, i/5+dice.Intn(2))].ID,
					minute,
				),
			)
		}
		state := wash.Fold(foamAndDry, log)
		got := Of(foamAndDry, state)
		says := fmt.Sprint("log ", n)

		stage, worked, paused := map[string]string{}, map[string]float64{}, 0.0
		for _, s := range foamAndDry {
			stage[s.ID] = s.Stage
		}
		for _, s := range state.Stretches {
			worked[stage[s.Step]] += s.To.Sub(s.From).Minutes()
		}
		for _, s := range state.Steps {
			paused += s.Paused.Minutes()
		}
		all := 0.0
		for _, s := range got.Stages {
			assert.InDelta(t, worked[s.Stage], s.Actual, 0.05, says)
			all += s.Actual
		}
		assert.InDelta(t, all, got.Minutes, 0.02, says)
		assert.GreaterOrEqual(t, got.Idle, 0.0, says)
		assert.GreaterOrEqual(t, got.Waits, 0.0, says)
		assert.LessOrEqual(t, got.Idle+got.Waits, got.Elapsed+0.02, says)
		assert.LessOrEqual(t, got.Elapsed, all+paused+got.Idle+got.Waits+0.1, says)
		assert.Equal(t, len(state.Dwelling), got.Kept+got.Missed, says)
		if got.Elapsed > 0 {
			timed++
		}
	}
	assert.Greater(t, timed, 300)
}

// What is said of two groups of washes says how sure it is.
func TestContrastsInWords(t *testing.T) {
	sure, err := Welch([]float64{100, 101, 99, 100, 102, 98}, []float64{119, 121, 120, 122, 118, 120})
	require.NoError(t, err)
	assert.Equal(t, "100 before, 120 after: 20 more, between 18 and 22 (6 and 6 washes).", sure.Words())
	less, err := Welch([]float64{119, 121, 120, 122, 118, 120}, []float64{100, 101, 99, 100, 102, 98})
	require.NoError(t, err)
	assert.Equal(t, "120 before, 100 after: 20 less, between 18 and 22 (6 and 6 washes).", less.Words())
	unsure, err := Welch([]float64{80, 120, 100}, []float64{95, 130, 90})
	require.NoError(t, err)
	assert.Equal(t, "100 before, 105 after: no difference that chance could not make (3 and 3 washes).", unsure.Words())
}

// A number of each wash: the others are left out, and a product counts for the stage that used it only.
func TestSeriesLeavesOutWhatHasNoNumber(t *testing.T) {
	washes := invented(4, func(i int) (StepTime, Wash) {
		return StepTime{Written: 5, Actual: 5, Rinses: i}, Wash{Person: []string{"o", "p"}[i%2],
			Name: []string{"Osk", "Pia"}[i%2], Trainee: i == 3}
	})
	values, points := Series(washes, func(w Wash) (float64, bool) {
		tapped, _ := w.Rinses()
		return float64(tapped), tapped > 0
	})
	require.Len(t, values, 3)
	assert.Equal(t, "w1", points[0].Ref)
	assert.Equal(t, []float64{2}, Valued(values, "person", "o"))
	assert.Equal(t, []float64{1, 3}, Valued(values, "person", "p"))
	assert.Empty(t, Valued(values, "person", "nobody"))
	of := map[string]Kind{"version": {" 0", " 0"}, "person": {"p", "Pia"}, "weather": {"under 8 °C", "under 8 °C"},
		"grade": {"grade 0", "grade 0"}, "product": {}}
	assert.Equal(t, of, things(values[0]))
	practised := Practised(washes)
	assert.Len(t, practised, 3)
	assert.Len(t, washes, 4, "the list itself stays as it was")
}

// By hand: ten timings of 12 min, normal 12, where 10 is in use: 20 min in all.
func TestWhatAWrongStandardCosts(t *testing.T) {
	list := Observe(invented(10, func(int) (StepTime, Wash) { return StepTime{Written: 10, Actual: 12, By: "a"}, Wash{} }))["dry"]
	assert.InDelta(t, 20, Propose(list, nil, 0, Written("dry")).Costs(), 1e-9)
	assert.InDelta(t, 0, Propose(list, nil, 0, Standard{Step: "dry", Form: Factored, Factor: 1.2}).Costs(), 1e-9)
}

// Somebody's curve is the same whether one looks from the first wash or from the forty-first: repetition does not
// begin where the look begins.
func TestTheCurveGoesOnFromWhatWasWashedBefore(t *testing.T) {
	c := Curve{First: 200, Slope: -0.2}
	var all []float64
	for n := 1; n <= 120; n++ {
		expected, _, _ := c.At(n)
		all = append(all, expected)
	}
	for _, before := range []int{0, 10, 40} {
		got, err := Learn(all[before:], before)
		require.NoError(t, err)
		assert.InDelta(t, 200, got.First, 1e-6, "from %d on", before)
		assert.InDelta(t, -0.2, got.Slope, 1e-9)
		next, _, _ := got.At(121)
		want, _, _ := c.At(121)
		assert.InDelta(t, want, next, 1e-6)
	}
	_, err := Learn(all, -1)
	assert.ErrorContains(t, err, "before -1")
}

// Within less than a doubling no rate can be seen: after 500 washes 30 more show where somebody stands, and nothing
// of how they learn.
func TestFarAlongTheCurveNoRateIsSaid(t *testing.T) {
	dice := rand.New(rand.NewSource(5))
	washes := invented(30, func(int) (StepTime, Wash) {
		return StepTime{Written: 60, Actual: 60 * (0.95 + 0.04*dice.NormFloat64())}, Wash{Person: "o", Name: "Osk"}
	})
	l := LearningOf(washes, 500)
	assert.Zero(t, l.Rate)
	assert.Equal(t, []int{501, 530}, []int{l.Washes[0].N, l.Washes[29].N})
	assert.InDelta(t, 95, l.Next, 3)
	assert.Contains(t, l.Words, "with 500 washes before these days")
	assert.InDelta(t, l.Next, l.Washes[0].Expected, 1e-9, "level")
	// Four of five lie in the band, about.
	in := 0
	for _, w := range l.Washes {
		if w.Percent >= w.Low && w.Percent <= w.High {
			in++
		}
	}
	assert.InDelta(t, 24, in, 5)
	assert.Positive(t, LearningOf(washes, 20).Rate, "more than a doubling: a rate")
}
