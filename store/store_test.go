package store_test

import (
	"context"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/wash"
	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

var (
	ctx  = context.Background()
	noon = time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC)
)

func filled(t *testing.T) *store.Store {
	return storetest.OpenFilled(t, "demo", func(s *store.Store) error { return demo.Load(ctx, s, noon) })
}

// running finds the demo's wash that is in the bay.
func running(t *testing.T, s *store.Store) store.Wash {
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
	return wash.Event{ID: uuid.NewString(), Kind: kind, Step: step, At: noon.Add(time.Duration(seconds) * time.Second), Seq: seconds, By: by}
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
	first, err := s.Tap(ctx, w.ID, batch, noon)
	require.NoError(t, err)
	changed := batch[0]
	changed.Text = "what was written stays written"
	second, err := s.Tap(ctx, w.ID, append([]wash.Event{changed}, batch...), noon.Add(time.Hour))
	require.NoError(t, err)
	assert.Equal(t, first, second)
}

func TestATapWithAnotherWashsIDIsNotSwallowed(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	lines, err := s.WashLines(ctx, noon.AddDate(0, 0, -20))
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

// Many devices send at once, one finishes and another takes the finish back: what is kept is what the whole log says.
func TestTapsAtOnceKeepTheTimesOfTheWholeLog(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	finish := event(wash.Finish, "", 900, w.WasherID)
	undo := event(wash.Undo, "", 901, w.WasherID)
	undo.Undoes = finish.ID
	var sending sync.WaitGroup
	for i, e := range []wash.Event{finish, undo, event(wash.Note, "", 1, w.WasherID), event(wash.Note, "", 2, w.WasherID), event(wash.Done, w.Plan.Steps[0].ID, 3, w.WasherID)} {
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
	log, err := s.Tap(ctx, w.ID, []wash.Event{again}, noon)
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
	look := store.LookOver{BookingID: w.BookingID, Doc: condition.LookOver{Notes: "mine"}, ByID: w.WasherID, At: noon}
	_, err := s.SaveLookOver(ctx, look)
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

	views, err := s.Bookings(ctx, noon, noon.Add(12*time.Hour))
	require.NoError(t, err)
	require.NoError(t, s.SetWasher(ctx, views[0].Booking.ID, w.WasherID, 1))
	assert.ErrorIs(t, s.SetWasher(ctx, views[0].Booking.ID, w.WasherID, 1), store.ErrStale)
}

func TestTwoAuditorsOneItem(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	list := audit.Starter()
	a, err := s.StartAudit(ctx, store.Audit{ID: store.NewID(), WashID: w.ID, AuditorID: w.WasherID, ChecklistID: list.ID, ChecklistVersion: 1, StartedAt: noon})
	require.NoError(t, err)
	again, err := s.StartAudit(ctx, store.Audit{ID: store.NewID(), WashID: w.ID, AuditorID: w.WasherID, ChecklistID: list.ID, ChecklistVersion: 1, StartedAt: noon})
	require.NoError(t, err)
	assert.Equal(t, a.ID, again.ID, "a wash has one audit")

	item := store.AuditItem{AuditID: a.ID, Item: "shuts", Answer: audit.Answer{Verdict: audit.Pass}, ByID: w.WasherID, At: noon}
	_, err = s.SaveItem(ctx, item)
	require.NoError(t, err)
	item.Answer.Verdict = audit.NotApplicable
	_, err = s.SaveItem(ctx, item)
	require.ErrorIs(t, err, store.ErrStale)
	a, err = s.Audit(ctx, a.ID)
	require.NoError(t, err)
	assert.Equal(t, audit.Pass, a.Items[0].Answer.Verdict, "the first answer stands")

	require.NoError(t, s.CloseAudit(ctx, a.ID, w.ID, noon, audit.Result{Score: 100}, nil))
	assert.ErrorIs(t, s.CloseAudit(ctx, a.ID, w.ID, noon, audit.Result{Score: 0}, nil), store.ErrStale)
	item.Version = 1
	_, err = s.SaveItem(ctx, item)
	assert.ErrorIs(t, err, store.ErrStale, "a signed audit takes no more answers")
}

// Published procedures never change, and a wash keeps the plan it ran.
func TestPublishedProceduresStay(t *testing.T) {
	s := filled(t)
	p := procedure.Maintenance()
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
	var mitt *plan.Step
	for i := range w.Plan.Steps {
		if w.Plan.Steps[i].Panels != nil {
			mitt = &w.Plan.Steps[i]
		}
	}
	require.NotNil(t, mitt)
	assert.Positive(t, mitt.Panels.PerMitt)
	assert.NotEmpty(t, w.Plan.Contact.Moves)
}

func TestUnknownAndTaken(t *testing.T) {
	s := filled(t)
	_, err := s.Wash(ctx, uuid.NewString())
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Booking(ctx, uuid.NewString())
	assert.ErrorIs(t, err, store.ErrNotFound)
	vehicles, err := s.Vehicles(ctx)
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
	assert.LessOrEqual(t, today, 4)
}
