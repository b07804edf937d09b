package store_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure/starters"
	"uskel/core/timing"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

var (
	ctx  = context.Background()
	noon = time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC)
)

func fillDemo(s *store.Store) error { return demo.Load(ctx, s, noon, demo.Fortnight) }

func filled(t *testing.T) *store.Store { return storetest.OpenFilled(t, "demo at noon", fillDemo) }

// running finds the demo's wash that is in the bay.
func running(t testing.TB, s *store.Store) store.Wash {
	t.Helper()
	views, err := s.Bookings(ctx, noon.Add(-12*time.Hour), noon.Add(12*time.Hour))
	require.NoError(t, err)
	for _, v := range views {
		if v.Wash != nil && v.Wash.FinishedAt == nil {
			w, err := s.Wash(ctx, v.Wash.ID) // lists leave the plan out
			require.NoError(t, err)
			return w
		}
	}
	t.Fatal("no wash is running in the demo")
	return store.Wash{}
}

func event(kind wash.Kind, step string, seconds int, by string) wash.Event {
	return wash.Event{
		ID:   uuid.NewString(),
		Kind: kind,
		Step: step,
		At:   noon.Add(time.Duration(seconds) * time.Second),
		Seq:  seconds,
		By:   by,
	}
}

func TestMigratingTwiceChangesNothing(t *testing.T) {
	s := filled(t)
	before, err := s.People(ctx)
	require.NoError(t, err)
	require.NoError(t, s.Migrate(ctx))
	after, err := s.People(ctx)
	require.NoError(t, err)
	assert.Equal(t, before, after)
}

func TestSendingTapsTwiceChangesNothing(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	batch := []wash.Event{event(wash.Note, "", 5, w.WasherID), event(wash.Note, "", 6, w.WasherID)}
	_, err := s.Tap(ctx, w.ID, batch, noon)
	require.NoError(t, err)
	first, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	changed := batch[0]
	changed.Text = "what was written stays written"
	count, err := s.Tap(ctx, w.ID, append([]wash.Event{changed}, batch...), noon.Add(time.Hour))
	require.NoError(t, err)
	second, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	assert.Equal(t, first, second)
	assert.Len(t, second, count)
}

func TestATapWithAnotherWashsIDIsNotSwallowed(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	lines, err := s.WashLines(
		ctx,
		store.WashQuery{Since: noon.AddDate(0, 0, -20), Before: noon.AddDate(0, 0, 1), Most: 10, Asks: w.WasherID},
	)
	require.NoError(t, err)
	e := event(wash.Note, "", 5, w.WasherID)
	_, err = s.Tap(ctx, lines[0].ID, []wash.Event{e}, noon)
	require.NoError(t, err)
	fresh := event(wash.Note, "", 6, w.WasherID)
	_, err = s.Tap(ctx, w.ID, []wash.Event{fresh, e}, noon)
	require.ErrorIs(t, err, store.ErrTaken)
	log, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	for _, written := range log {
		assert.NotEqual(t, fresh.ID, written.ID, "all of a batch is written or none")
	}
}

// Twelve devices send batches that overlap, at once: each tap is kept once, and their numbers run from 1 without a gap, so that whoever has
// read up to one asks for what came after it and misses nothing.
func TestTapsAreNumberedWithoutAGap(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	was, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	all := make([]wash.Event, 60)
	for i := range all {
		all[i] = event(wash.Note, "", 10+i, w.WasherID)
	}
	var sending sync.WaitGroup
	for i := range 12 {
		sending.Go(func() {
			for from := i; from+5 <= len(all); from += 4 {
				batch := append([]wash.Event{all[from]}, all[from:from+5]...)
				_, err := s.Tap(ctx, w.ID, batch, noon)
				assert.NoError(t, err)
			}
		})
	}
	sending.Wait()
	came, err := s.EventsSince(ctx, []store.Since{{WashID: w.ID}})
	require.NoError(t, err)
	require.Len(t, came[w.ID], len(was)+len(all))
	for i, c := range came[w.ID] {
		require.EqualValues(t, i+1, c.No)
	}
	last := int64(len(was) + 57)
	came, err = s.EventsSince(ctx, []store.Since{{WashID: w.ID, No: last}})
	require.NoError(t, err)
	require.Len(t, came[w.ID], 3)
	assert.Equal(t, last+1, came[w.ID][0].No)
}

// Many devices send at once, one finishes and another takes the finish back: what is kept is what the whole log says.
func TestTapsAtOnceKeepTheTimesOfTheWholeLog(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	finish := event(wash.Finish, "", 900, w.WasherID)
	undo := event(wash.Undo, "", 901, w.WasherID)
	undo.Undoes = finish.ID
	var sending sync.WaitGroup
	for i, e := range []wash.Event{finish, undo, event(wash.Note, "", 1, w.WasherID), event(wash.Note, "", 2,
		w.WasherID), event(wash.Done, w.Plan.Steps[0].ID, 3, w.WasherID)} {
		sending.Add(1)
		go func() {
			defer sending.Done()
			for range 3 {
				_, err := s.Tap(ctx, w.ID, []wash.Event{e}, noon)
				assert.NoError(t, err, "device %d", i)
			}
		}()
	}
	sending.Wait()
	now, err := s.Wash(ctx, w.ID)
	require.NoError(t, err)
	assert.Nil(t, now.FinishedAt, "the finish was taken back")

	again := event(wash.Finish, "", 950, w.WasherID)
	_, err = s.Tap(ctx, w.ID, []wash.Event{again}, noon)
	require.NoError(t, err)
	log, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	now, err = s.Wash(ctx, w.ID)
	require.NoError(t, err)
	require.NotNil(t, now.FinishedAt)
	assert.Equal(t, again.At, now.FinishedAt.UTC())
	assert.Equal(t, wash.Fold(w.Steps(), log).Finished, now.FinishedAt.UTC())
	assert.NotEmpty(t, now.Summary.Stages)
}

func TestTheSecondSaveOfTheSameVersionIsTold(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	views, err := s.Bookings(ctx, noon, noon.Add(12*time.Hour))
	require.NoError(t, err)
	b := views[slices.IndexFunc(views, func(v store.BookingView) bool { return v.Booking.Stage == visit.LookedOver })]
	look := store.LookOver{BookingID: b.Booking.ID, Doc: condition.LookOver{Notes: "mine"}, ByID: w.WasherID, At: noon}
	_, err = s.SaveLookOver(ctx, look)
	assert.ErrorIs(t, err, store.ErrStale, "there is a first version already")
	look.Version = 1
	saved, err := s.SaveLookOver(ctx, look)
	require.NoError(t, err)
	assert.Equal(t, 2, saved.Version)
	_, err = s.SaveLookOver(ctx, look)
	assert.ErrorIs(t, err, store.ErrStale)

	settings, version, err := s.Settings(ctx)
	require.NoError(t, err)
	require.NoError(t, s.SaveSettings(ctx, settings, version))
	assert.ErrorIs(t, s.SaveSettings(ctx, settings, version), store.ErrStale)

	require.NoError(t, s.SetWasher(ctx, b.Booking.ID, w.WasherID, 1))
	assert.ErrorIs(t, s.SetWasher(ctx, b.Booking.ID, w.WasherID, 1), store.ErrStale)
}

// Published procedures never change, and a wash keeps the plan it ran.
func TestPublishedProceduresStay(t *testing.T) {
	s := filled(t)
	p := starters.Maintenance()
	p.Title = "Something else"
	require.NoError(t, s.Publish(ctx, store.Version{Doc: p, PublishedAt: noon}))
	all, err := s.Procedures(ctx)
	require.NoError(t, err)
	for _, stored := range all {
		assert.NotEqual(t, "Something else", stored.Title)
	}
	p.Version = 2
	require.NoError(t, s.Publish(ctx, store.Version{Doc: p, PublishedAt: noon}))
	w := running(t, s)
	assert.Equal(t, 1, w.Plan.Version)
	p.Title = ""
	p.Version = 3
	assert.ErrorContains(t, s.Publish(ctx, store.Version{Doc: p, PublishedAt: noon}), "title")
}

func TestPlansSurviveTheDatabase(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	var mitt *plan.FilledStep
	for i := range w.Plan.Steps {
		if w.Plan.Steps[i].Panels != nil {
			mitt = &w.Plan.Steps[i]
		}
	}
	require.NotNil(t, mitt)
	assert.Positive(t, mitt.Panels.PerMitt)
	assert.NotEmpty(t, mitt.Contact.Moves)
}

func TestUnknownAndTaken(t *testing.T) {
	s := filled(t)
	_, err := s.Wash(ctx, uuid.NewString())
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Booking(ctx, uuid.NewString())
	assert.ErrorIs(t, err, store.ErrNotFound)
	vehicles, err := s.Vehicles(ctx, "", 0, 100)
	require.NoError(t, err)
	twin := vehicles[0]
	twin.ID = store.NewID()
	assert.ErrorIs(t, s.AddVehicle(ctx, twin), store.ErrTaken)
}

// The whole yard is read in a fixed number of queries, however many bookings there are.
func TestTheYardIsReadInAFixedNumberOfQueries(t *testing.T) {
	s := filled(t)
	count := func(from, to time.Time) int {
		n := 0
		stop := s.Watch(func(string) { n++ })
		defer stop()
		_, err := s.Bookings(ctx, from, to)
		require.NoError(t, err)
		return n
	}
	today := count(noon.Add(-12*time.Hour), noon.Add(12*time.Hour))
	fortnight := count(noon.AddDate(0, 0, -20), noon.Add(12*time.Hour))
	assert.Equal(t, today, fortnight, fmt.Sprintf("%d queries for a day, %d for two weeks", today, fortnight))
	assert.LessOrEqual(t, today, 5, "bookings, look-overs, washes, audits, what was said")
}

// Leads who accept a standard at once: one of them does, the others are told that it is another by now. Every
// standard that was accepted stays as history.
func TestStandardsAreAcceptedOneAtATime(t *testing.T) {
	s := filled(t)
	lead := running(t, s).WasherID
	row := func(factor float64) store.StandardRow {
		return store.StandardRow{
			ID:   store.NewID(),
			Step: "dry",
			Doc:  timing.Standard{Step: "dry", Form: timing.Factored, Factor: factor},
			Why:  "timed",
			ByID: lead,
			At:   noon,
		}
	}
	var accepting sync.WaitGroup
	var accepted, stale atomic.Int32
	for i := range 8 {
		accepting.Go(func() {
			switch _, err := s.AcceptStandard(ctx, row(1.1+float64(i)/10), timing.Written("dry")); {
			case err == nil:
				accepted.Add(1)
			case errors.Is(err, store.ErrStale):
				stale.Add(1)
			}
		})
	}
	accepting.Wait()
	assert.EqualValues(t, 1, accepted.Load())
	assert.EqualValues(t, 7, stale.Load())
	inUse, err := s.Standards(ctx)
	require.NoError(t, err)
	now, err := s.AcceptStandard(ctx, row(2), timing.Written("dry"))
	require.ErrorIs(t, err, store.ErrStale)
	assert.Equal(t, inUse["dry"], now, "the one in use is told")
	_, err = s.AcceptStandard(
		ctx,
		store.StandardRow{
			ID:   store.NewID(),
			Step: "dry",
			Doc:  timing.Written("dry"),
			ByID: lead,
			At:   noon.Add(time.Hour),
		},
		now,
	)
	require.NoError(t, err)
	history, err := s.StandardHistory(ctx)
	require.NoError(t, err)
	require.Len(t, history, 2)
	assert.Equal(t, timing.AsWritten, history[0].Doc.Form, "newest first")
	assert.NotEmpty(t, history[0].By.Name)
}

// A finished wash is read with everything that the statistics ask, within the stretch of time asked for and oldest
// first.
func TestFinishedWashesForTheStatistics(t *testing.T) {
	s := filled(t)
	timesWashes, err := s.Timed(ctx, noon.AddDate(0, 0, -5), noon.AddDate(0, 0, -1))
	require.NoError(t, err)
	washes := timesWashes.Washes
	require.NotEmpty(t, washes)
	last := noon.AddDate(0, 0, -5)
	for _, w := range washes {
		assert.False(t, w.Finished.Before(last))
		assert.True(t, w.Finished.Before(noon.AddDate(0, 0, -1)))
		last = w.Finished
		for what, text := range map[string]string{"label": w.Label, "person": w.Person, "name": w.Name,
			"procedure": w.Procedure, "title": w.Title, "body": w.Body, "place": w.Place} {
			assert.NotEmpty(t, text, what)
		}
		assert.Positive(t, w.Version)
		assert.NotZero(t, w.Air, "the air the plan was made in")
		assert.GreaterOrEqual(t, w.Waited, 0.0)
		assert.Len(t, w.Learners, 2)
		assert.Equal(t, w.Trainee, slices.Contains(w.Learners, w.Person))
		require.NotEmpty(t, w.Times.Steps)
		whole, err := s.Wash(ctx, w.ID)
		require.NoError(t, err)
		for _, step := range w.Times.Steps {
			if step.Rework {
				continue // what an audit asked for was never written
			}
			written := 0.0 // over all parts, where a round made several steps of it
			for _, p := range whole.Steps() {
				if p.ID == step.Step || p.Base == step.Step {
					written += p.Written
				}
			}
			assert.InDelta(t, written, step.Written, 0.01)
		}
	}
}

// Whoever washed before a moment is counted up to it, and no further.
func TestWashedBeforeCountsEverybodyUpToAMoment(t *testing.T) {
	s := filled(t)
	for _, at := range []time.Time{noon.AddDate(0, 0, -40), noon.AddDate(0, 0, -6), noon} {
		counts, err := s.WashedBefore(ctx, at)
		require.NoError(t, err)
		timesWashes, err := s.Timed(ctx, noon.AddDate(-1, 0, 0), at)
		require.NoError(t, err)
		washes := timesWashes.Washes
		want := map[string]int{}
		for _, w := range washes {
			want[w.Person]++
		}
		assert.Equal(t, want, counts)
	}
}

// What some taps say besides comes back as it went in.
func TestTapsKeepWhatTheySayBesides(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	e := event(wash.Bonded, "", 7, w.WasherID)
	e.Detail = wash.Detail{Matter: condition.Tar, Zone: vehicle.LowerLeft, Remedy: wash.AskLead, To: w.WasherID}
	e.Text = "two spots, \"old\" ones"
	_, err := s.Tap(ctx, w.ID, []wash.Event{e}, noon)
	require.NoError(t, err)
	log, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	at := slices.IndexFunc(log, func(x wash.Event) bool { return x.ID == e.ID })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, e, log[at])
}
