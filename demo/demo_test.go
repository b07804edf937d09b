package demo_test

import (
	"context"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/prove"
	"uskel/core/timing"
	"uskel/core/wash"
	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

var (
	ctx  = context.Background()
	noon = time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC)
)

func load(s *store.Store) error { return demo.Load(ctx, s, noon, demo.Fortnight) }

func shop(t *testing.T) *store.Store { return storetest.OpenFilled(t, "demo at noon", load) }

// The same seed and moment tell the same story, tap for tap.
func TestTheSameSeedTellsTheSameStory(t *testing.T) {
	lines := func(s *store.Store) []store.WashLine {
		got, err := s.WashLines(ctx, store.WashQuery{Since: noon.AddDate(0, 0, -30), Before: noon.AddDate(0, 0, 1),
			Most: 1000, Asks: store.NewID()})
		require.NoError(t, err)
		return got
	}
	one, two := shop(t), storetest.OpenFilled(t, "demo at noon, again", load)
	assert.Equal(t, lines(one), lines(two))
}

// What the charts are to show is in the data: the towels that dry badly, the trainees who are slower and get faster,
// the washer who is fast and found out.
func TestTheHistoryHoldsItsStories(t *testing.T) {
	s := shop(t)
	timesFinished, err := s.Timed(ctx, noon.AddDate(0, 0, -30), noon)
	require.NoError(t, err)
	finished := timesFinished.Washes
	ratio := map[string]float64{}
	for _, sum := range timing.Summarise(finished) {
		ratio[sum.Stage] = sum.Ratio
	}
	assert.Greater(t, ratio["Dry"], ratio["Contact wash"]+0.1, "the drying stage runs over for everyone")

	lines, err := s.WashLines(ctx, store.WashQuery{Since: noon.AddDate(0, 0, -30), Before: noon.AddDate(0, 0, 1),
		Most: 1000, Asks: store.NewID()})
	require.NoError(t, err)
	assert.Greater(t, len(lines), 50)
	pace, findings, washes := map[string]float64{}, map[string]float64{}, map[string]float64{}
	for _, l := range lines {
		pace[l.WasherName] += l.Minutes / l.Planned
		findings[l.WasherName] += float64(l.Findings)
		washes[l.WasherName]++
	}
	mean := func(m map[string]float64, name string) float64 { return m[name] / washes[name] }
	assert.Greater(t, mean(pace, "Cal Strand"), mean(pace, "Osk Pellow")*1.2, "a trainee is slower")
	assert.Less(t, mean(pace, "Jory Dunn"), mean(pace, "Osk Pellow"))
	assert.Greater(t, mean(findings, "Jory Dunn"), mean(findings, "Osk Pellow"), "fast, and it shows")
}

// Half a year holds what takes longer to show: what each change did is found in the times, and the trainees' curves.
func TestHalfAYearHoldsItsStories(t *testing.T) {
	prove.Long(t)
	s := storetest.OpenFilled(
		t,
		"half a year",
		func(s *store.Store) error { return demo.Load(ctx, s, noon, demo.HalfYear) },
	)
	timesWashes, err := s.Timed(ctx, noon.AddDate(0, 0, -demo.HalfYear), noon)
	require.NoError(t, err)
	washes := timesWashes.Washes
	assert.Greater(t, len(washes), 450)

	practised := timing.Practised(washes)
	values, _ := timing.StageSeries(practised, "Dry")
	towels := timing.FindDrift(values, timing.Things, 1)
	require.NotNil(t, towels)
	assert.WithinDuration(t, noon.AddDate(0, 0, -33), towels.Since, 8*24*time.Hour, "the bad towels")
	assert.Greater(t, towels.Compared.Difference, 10.0)

	values, _ = timing.StageSeries(practised, "Pre-wash")
	foam := timing.FindDrift(values, timing.Things, 1)
	require.NotNil(t, foam)
	assert.WithinDuration(t, noon.AddDate(0, 0, -70), foam.Since, 12*24*time.Hour, "the new foam")
	named := ""
	for _, c := range foam.Causes {
		named += c.What + " "
	}
	assert.Contains(t, named, "product")

	for _, name := range []string{"Pia Lunt", "Cal Strand"} {
		var own []timing.Wash
		for _, w := range washes {
			if w.Name == name {
				own = append(own, w)
			}
		}
		l := timing.LearningOf(own, 0)
		assert.InDelta(t, 0.89, l.Rate, 0.06, "%s: 0.88, until they are as quick as practised people", name)
		assert.Greater(t, l.Fast, l.Slow, "%s: hasty washes are the dirty ones", name)
	}
	twice, err := s.Twice(ctx, noon.AddDate(0, 0, -demo.HalfYear), 5000)
	require.NoError(t, err)
	agreed := strings.Join(audit.Agree(twice, true).Says, " ")
	assert.Contains(t, agreed, `"Film edges, trim, lacquer" is answered differently`, "a vague look")
	assert.Contains(t, agreed, "Bram Oakes is more lenient")

	found, err := s.FoundIn(ctx, noon.AddDate(0, 0, -demo.HalfYear), noon, "", 5000)
	require.NoError(t, err)
	said := strings.Join(audit.Count(found, audit.Which{}, true).Says, " ")
	for _, name := range []string{"Pia Lunt", "Cal Strand", "Jory Dunn"} { // the trainees, and whoever is fast
		assert.Contains(t, said, name+": ")
	}

	pairs, err := s.SecondGrades(ctx, noon.AddDate(0, 0, -demo.HalfYear), 5000)
	require.NoError(t, err)
	graded := condition.Grade(pairs, true)
	assert.Contains(t, strings.Join(graded.Says, " "), "Jory Dunn grades cleaner")
	assert.NotContains(t, strings.Join(graded.Says, " "), "Maren Tolley", "whom Jory is held against grades as the others do")
	assert.Positive(t, graded.Each, "a grade more is a longer wash")
	assert.Contains(t, strings.Join(calibrated(t, s).Says, " "), "Bram Oakes found ")

	dirt := strings.Join(audit.Count(found, audit.Which{Kind: audit.DirtLeft}, true).Says, " ")
	assert.Contains(t, dirt, "Brush badges and edges: ", "dirt where the step was left out")
	looks, err := s.LookedAt(ctx, noon.AddDate(0, 0, -demo.HalfYear), "")
	require.NoError(t, err)
	way := audit.OnTheWay(slices.Collect(maps.Values(looks)), audit.Offered())
	require.Len(t, way, 2)
	for _, r := range way {
		assert.Greater(t, r.Made, 50)
		assert.Greater(t, r.Found, r.Left)
	}

	streaks := strings.Join(audit.Count(found, audit.Which{Kind: audit.Spots}, true).Says, " ")
	assert.Contains(t, strings.ToLower(streaks), "drying towel, white: drying, since", "a batch of towels that streaks")
	assert.Contains(t, audit.Marks(found).Says, "Marks rise with the planned risk")
	remedies, err := s.Remedies(ctx, 0)
	require.NoError(t, err)
	outcomes := map[string]audit.Measured{}
	for _, r := range remedies {
		outcomes[r.Doc.Title] = r.Doc.Pattern.Measure(found, r.ActedAt)
	}
	assert.Equal(t, audit.Fell, outcomes["Dirt left on the sills"].Outcome, outcomes["Dirt left on the sills"].Says)
	assert.Equal(t, audit.NotActed, outcomes["Spots or streaks since the new towels"].Outcome)

	for _, w := range washes {
		assert.GreaterOrEqual(t, w.Times.Elapsed, w.Times.Idle+w.Times.Waits)
		assert.GreaterOrEqual(t, w.Waited, 0.0)
	}
}

// calibrated is what the calibration set shows.
func calibrated(t *testing.T, s *store.Store) audit.Calibrated {
	rows, err := s.Calibrations(ctx, 100)
	require.NoError(t, err)
	var set []audit.Calibration
	var ids []string
	for _, r := range rows {
		set, ids = append(set, audit.Calibration{ID: r.ID, Title: r.Title, List: audit.Starter(), Truth: r.Truth}), append(ids, r.ID)
	}
	made, err := s.CalibrationWalks(ctx, ids)
	require.NoError(t, err)
	var walks []audit.CalibrationWalk
	for _, w := range made {
		walks = append(walks, audit.CalibrationWalk{Of: w.CalibrationID, By: audit.Who{ID: w.AuditorID, Name: w.Auditor.Name},
			Light: w.Light, Answers: w.Answers})
	}
	return audit.Calibrate(set, walks)
}

// Nobody audits their own wash, no wash ends before it begins, every log folds to what is kept of it.
func TestTheHistoryIsSound(t *testing.T) {
	s := shop(t)
	lines, err := s.WashLines(ctx, store.WashQuery{Since: noon.AddDate(0, 0, -30), Before: noon.AddDate(0, 0, 1),
		Most: 1000, Asks: store.NewID()})
	require.NoError(t, err)
	for _, l := range lines {
		w, err := s.Wash(ctx, l.ID)
		require.NoError(t, err)
		log, err := s.Events(ctx, l.ID)
		require.NoError(t, err)
		state := wash.Fold(w.Steps(), log)
		assert.Equal(t, l.FinishedAt.UTC(), state.Finished)
		assert.True(t, state.Started.Before(state.Finished))
		assert.Equal(t, w.Summary.Minutes, timing.Of(w.Steps(), state).Minutes)
		if l.AuditID != "" {
			a, err := s.Audit(ctx, l.AuditID)
			require.NoError(t, err)
			assert.NotEqual(t, l.WasherID, a.AuditorID)
		}
	}
}

// Started again on another day the shop keeps its history and books the day; started again on the same day it books
// nothing twice.
func TestAnotherDayIsBooked(t *testing.T) {
	s := shop(t)
	next := noon.AddDate(0, 0, 3)
	count := func() int {
		views, err := s.Bookings(ctx, next.Add(-12*time.Hour), next.Add(12*time.Hour))
		require.NoError(t, err)
		return len(views)
	}
	require.NoError(t, demo.EnsureToday(ctx, s, noon))
	assert.Zero(t, count())
	require.NoError(t, demo.EnsureToday(ctx, s, next))
	booked := count()
	assert.Positive(t, booked)
	require.NoError(t, demo.EnsureToday(ctx, s, next.Add(time.Minute)))
	assert.Equal(t, booked, count())
}

// Starting over is refused on a database that holds something else.
func TestStartingOverSparesOtherPeoplesTables(t *testing.T) {
	s := shop(t)
	_, err := s.Pool.Exec(ctx, "CREATE TABLE invoices (id int)")
	require.NoError(t, err)
	assert.ErrorContains(t, s.Clear(ctx), "invoices")
	_, err = s.Pool.Exec(ctx, "DROP TABLE invoices")
	require.NoError(t, err)
	require.NoError(t, s.Clear(ctx))
	require.NoError(t, s.Migrate(ctx))
	loaded, err := demo.Loaded(ctx, s)
	require.NoError(t, err)
	assert.False(t, loaded)
}
