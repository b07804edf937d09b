package store_test

import (
	"errors"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/audit"
	"uskel/core/plan"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
)

// somebody finds a person of the demo by sign-in.
func somebody(t testing.TB, s *store.Store, signIn string) string {
	t.Helper()
	p, err := s.PersonBySignIn(ctx, signIn)
	require.NoError(t, err)
	return p.ID
}

// standing is where a booking's vehicle stands.
func standing(t testing.TB, s *store.Store, booking string) visit.Stage {
	t.Helper()
	v, err := s.Booking(ctx, booking)
	require.NoError(t, err)
	return v.Booking.Stage
}

// at finds one of today's bookings by where it stands.
func at(t testing.TB, s *store.Store, stage visit.Stage) store.BookingView {
	t.Helper()
	views, err := s.Bookings(ctx, noon.Add(-12*time.Hour), noon.Add(12*time.Hour))
	require.NoError(t, err)
	i := slices.IndexFunc(views, func(v store.BookingView) bool { return v.Booking.Stage == stage })
	require.GreaterOrEqual(t, i, 0, "nothing is %s in the demo", stage)
	return views[i]
}

func finish(t testing.TB, s *store.Store, w store.Wash) wash.Event {
	t.Helper()
	e := event(wash.Finish, "", 900, w.WasherID)
	_, err := s.Tap(ctx, w.ID, []wash.Event{e}, noon)
	require.NoError(t, err)
	return e
}

func startAudit(t testing.TB, s *store.Store, washID, who string) store.Audit {
	t.Helper()
	list := audit.Starter()
	a, err := s.StartAudit(ctx, store.Audit{ID: store.NewID(), WashID: washID, AuditorID: who, ChecklistID: list.ID,
		ChecklistVersion: 1, StartedAt: noon})
	require.NoError(t, err)
	return a
}

var pass = audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}

// walk answers every item that has no answer yet; bad answers one of them with a finding.
func walk(t testing.TB, s *store.Store, a store.Audit, who, bad string, found audit.Finding) {
	t.Helper()
	for _, item := range audit.Starter().Items {
		if slices.ContainsFunc(a.Items, func(i store.AuditItem) bool { return i.Item == item.ID }) {
			continue
		}
		answer := pass
		if item.ID == bad {
			answer = audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{found}}
		}
		remark, err := s.SaveItem(
			ctx,
			store.AuditItem{AuditID: a.ID, Item: item.ID, Answer: answer, ByID: who, At: noon},
		)
		require.NoError(t, err)
		require.False(t, remark)
	}
}

// judged signs with what the answers come to.
func judged(of store.Signing) (audit.Result, error) {
	given := map[string]audit.Answer{}
	for _, i := range of.Audit.Items {
		given[i.Item] = i.Answer
	}
	return audit.Judge(audit.Starter(), given, of.Wash.Plan, of.Audit.Walked()), nil
}

var (
	dirt    = audit.Finding{Zone: vehicle.LowerLeft, Kind: audit.DirtLeft, Severity: audit.Minor}
	circles = audit.Finding{Zone: vehicle.Roof, Kind: audit.FineCircles, Severity: audit.Critical}
)

// A wash that is closed stays: its finish is not undone, its minutes do not move, nobody's tap is lost.
func TestWhatIsClosedStaysClosed(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	end := finish(t, s, w)
	undo := event(wash.Undo, "", 905, w.WasherID)
	undo.Undoes = end.ID
	_, err := s.Tap(ctx, w.ID, []wash.Event{undo}, noon)
	require.NoError(t, err)
	assert.Equal(t, visit.InBay, standing(t, s, w.BookingID), "before it is closed the washer takes the finish back")
	end = finish(t, s, w)
	assert.Equal(t, visit.ToAudit, standing(t, s, w.BookingID))

	startAudit(t, s, w.ID, somebody(t, s, "hesper"))
	before, err := s.Wash(ctx, w.ID)
	require.NoError(t, err)
	require.NotNil(t, before.ClosedAt)
	undo = event(wash.Undo, "", 950, w.WasherID)
	undo.Undoes = end.ID
	_, err = s.Tap(ctx, w.ID, []wash.Event{undo}, noon)
	var refused *store.Refused
	require.ErrorAs(t, err, &refused)
	assert.ErrorContains(t, err, "the wash is closed")

	late := []wash.Event{event(wash.Start, w.Plan.Steps[5].ID, 10, w.WasherID),
		event(wash.Done, w.Plan.Steps[5].ID, 3000, w.WasherID), event(wash.Note, "", 20, w.WasherID)}
	_, err = s.Tap(ctx, w.ID, late, noon.Add(time.Hour))
	require.NoError(t, err)
	_, err = s.Tap(ctx, w.ID, late, noon.Add(2*time.Hour))
	require.NoError(t, err, "sent again it is there already")
	after, err := s.Wash(ctx, w.ID)
	require.NoError(t, err)
	assert.Equal(t, before.Summary, after.Summary)
	assert.Equal(t, before.FinishedAt, after.FinishedAt)
	log, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	kept := 0
	for _, e := range log {
		if slices.ContainsFunc(late, func(l wash.Event) bool { return l.ID == e.ID }) {
			kept++
			assert.True(t, e.Late)
		}
	}
	assert.Equal(t, len(late), kept, "every tap that came late is kept beside the wash")
}

func TestUndoIsOfOnesOwn(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	note := event(wash.Note, "", 5, w.WasherID)
	_, err := s.Tap(ctx, w.ID, []wash.Event{note}, noon)
	require.NoError(t, err)
	undo := event(wash.Undo, "", 6, somebody(t, s, "maren"))
	undo.Undoes = note.ID
	_, err = s.Tap(ctx, w.ID, []wash.Event{undo}, noon)
	assert.ErrorContains(t, err, "somebody else made that tap")
}

// The lead corrects a closed wash; what was tapped stays beside.
func TestTheLeadCorrectsAClosedWash(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	lead := somebody(t, s, "maren")
	done := w.Plan.Steps[0].ID
	fix := store.Correction{ID: store.NewID(), WashID: w.ID,
		Doc: wash.Correction{Step: done, Minutes: 41, Why: "the tap came after lunch"}, ByID: lead, At: noon}
	assert.ErrorIs(t, s.Correct(ctx, fix), store.ErrOpen)
	finish(t, s, w)
	startAudit(t, s, w.ID, somebody(t, s, "hesper"))
	was, err := s.Wash(ctx, w.ID)
	require.NoError(t, err)
	require.NoError(t, s.Correct(ctx, fix))
	now, err := s.Wash(ctx, w.ID)
	require.NoError(t, err)
	assert.Greater(t, now.Summary.Minutes, was.Summary.Minutes+30)
	log, err := s.Events(ctx, w.ID)
	require.NoError(t, err)
	assert.Less(t, wash.Fold(w.Steps(), log).Steps[0].HandsOn.Minutes(), 40.0, "the log says what was tapped")
	kept, err := s.Corrections(ctx, w.ID)
	require.NoError(t, err)
	assert.Equal(t, fix.Doc, kept[0].Doc)
	fix.ID, fix.Doc.Step = store.NewID(), "polish"
	assert.ErrorContains(t, s.Correct(ctx, fix), "no such step")
}

// Who did every step by hand-over washed, and does not audit; who helped neither.
func TestWhoWashedByHandOverDoesNotAudit(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	ines := somebody(t, s, "ines")
	over := event(wash.HandOver, w.Plan.Steps[5].ID, 1, w.WasherID)
	over.To = ines
	_, err := s.Tap(ctx, w.ID, []wash.Event{over}, noon)
	require.NoError(t, err)
	finish(t, s, w)
	list := audit.Starter()
	_, err = s.StartAudit(ctx, store.Audit{ID: store.NewID(), WashID: w.ID, AuditorID: ines, ChecklistID: list.ID,
		ChecklistVersion: 1, StartedAt: noon})
	assert.ErrorIs(t, err, audit.ErrWasher)
	lines, err := s.WashLines(
		ctx,
		store.WashQuery{Since: noon.Add(-time.Hour), Before: noon.Add(time.Hour), Most: 5, Asks: ines},
	)
	require.NoError(t, err)
	require.Equal(t, w.ID, lines[0].ID)
	assert.True(t, lines[0].Mine, "the list says so, too")
}

// Two auditors: the first answer stands, the record says who answered what and who signed, and what comes after is a
// remark.
func TestAnAuditSaysWhoAnsweredAndWhoSigned(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	finish(t, s, w)
	hesper, maren := somebody(t, s, "hesper"), somebody(t, s, "maren")
	a := startAudit(t, s, w.ID, hesper)
	assert.Equal(t, a.ID, startAudit(t, s, w.ID, maren).ID, "whoever joins joins the same audit")
	assert.Equal(t, visit.Auditing, standing(t, s, w.BookingID))

	_, err := s.SaveItem(ctx, store.AuditItem{AuditID: a.ID, Item: "shuts", Answer: pass, ByID: maren, At: noon})
	require.NoError(t, err)
	_, err = s.SaveItem(ctx, store.AuditItem{AuditID: a.ID, Item: "shuts",
		Answer: audit.Answer{Verdict: audit.NotApplicable}, ByID: hesper, At: noon})
	require.ErrorIs(t, err, store.ErrStale)
	_, err = s.SaveItem(ctx, store.AuditItem{AuditID: a.ID, Item: "wheels", Answer: pass, ByID: w.WasherID, At: noon})
	require.ErrorIs(t, err, audit.ErrWasher)
	a, err = s.Audit(ctx, a.ID)
	require.NoError(t, err)
	walk(t, s, a, hesper, "", dirt)
	require.NoError(t, s.CloseAudit(ctx, a.ID, maren, noon, judged))
	assert.ErrorIs(t, s.CloseAudit(ctx, a.ID, hesper, noon, judged), store.ErrSigned)
	assert.ErrorIs(t, s.CloseAudit(ctx, a.ID, w.WasherID, noon, judged), store.ErrSigned)

	remark, err := s.SaveItem(ctx, store.AuditItem{
		AuditID: a.ID,
		Item:    "shuts",
		Version: 1,
		Answer: audit.Answer{
			Verdict:  audit.Found,
			Findings: []audit.Finding{dirt},
		},
		ByID: hesper,
		At:   noon.Add(time.Hour),
	})
	require.NoError(t, err)
	assert.True(t, remark)
	signed, err := s.Audit(ctx, a.ID)
	require.NoError(t, err)
	assert.Equal(t, hesper, signed.AuditorID)
	assert.Equal(t, maren, *signed.SignerID, "who signed is who signed")
	assert.Equal(t, "Maren Tolley", signed.Signer.Name)
	assert.Empty(t, signed.Result.Findings, "what came late is not in the result")
	require.Len(t, signed.Remarks, 1)
	assert.Equal(t, dirt, signed.Remarks[0].Answer.Findings[0])
	for _, i := range signed.Items {
		if i.Item == "shuts" {
			assert.Equal(t, maren, i.ByID)
			assert.Equal(t, audit.Pass, i.Answer.Verdict)
		}
	}
	assert.Equal(t, visit.Ready, standing(t, s, w.BookingID))
}

// A wash that failed is put right and looked at again before anybody is told to fetch it.
func TestAFailedAuditDoesNotMakeItReady(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	finish(t, s, w)
	hesper := somebody(t, s, "hesper")
	bad := dirt
	bad.Severity = audit.Critical
	a := startAudit(t, s, w.ID, hesper)
	walk(t, s, a, hesper, "lower", bad)
	require.NoError(t, s.CloseAudit(ctx, a.ID, hesper, noon, judged))
	assert.Equal(t, visit.Rework, standing(t, s, w.BookingID))

	now, err := s.Wash(ctx, w.ID)
	require.NoError(t, err)
	require.Len(t, now.Rework, 1)
	before := now.Summary
	again := now.Rework[0].ID
	_, err = s.Tap(
		ctx,
		w.ID,
		[]wash.Event{event(wash.Start, again, 2000, w.WasherID), event(wash.Done, again, 2120, w.WasherID)},
		noon,
	)
	require.NoError(t, err)
	assert.Equal(t, visit.ToAudit, standing(t, s, w.BookingID), "it is looked at again")
	now, err = s.Wash(ctx, w.ID)
	require.NoError(t, err)
	assert.Equal(t, []float64{before.Planned, before.Minutes, before.Elapsed},
		[]float64{now.Summary.Planned, now.Summary.Minutes, now.Summary.Elapsed})
	assert.Equal(t, before.Stages, now.Summary.Stages[:len(before.Stages)], "the wash's own times stay")

	second := startAudit(t, s, w.ID, hesper)
	assert.Equal(t, 2, second.Round)
	assert.Len(t, second.Items, len(audit.Starter().Items)-1, "what was good need not be walked again")
	walk(t, s, second, hesper, "", dirt)
	require.NoError(t, s.CloseAudit(ctx, second.ID, hesper, noon, judged))
	assert.Equal(t, visit.Ready, standing(t, s, w.BookingID))
	first, err := s.Audit(ctx, a.ID)
	require.NoError(t, err)
	assert.False(t, first.Result.Passed, "the first round stays as it was signed")
}

// Damage cannot be washed away: the lead decides, with a reason.
func TestWhatCannotBePutRightIsTheLeadsToDecide(t *testing.T) {
	s := filled(t)
	w := running(t, s)
	finish(t, s, w)
	hesper, maren := somebody(t, s, "hesper"), somebody(t, s, "maren")
	a := startAudit(t, s, w.ID, hesper)
	walk(t, s, a, hesper, "upper", circles)
	require.NoError(t, s.CloseAudit(ctx, a.ID, hesper, noon, judged))
	assert.Equal(t, visit.Failed, standing(t, s, w.BookingID))
	say := func(m visit.Move, own string, min int) error {
		return s.Say(ctx, store.VisitMove{ID: store.NewID(), BookingID: w.BookingID, Move: m,
			Why: "shown to the customer", ByID: maren, At: noon.Add(time.Duration(min) * time.Minute)}, own)
	}
	require.NoError(t, say(visit.Release, "", 1))
	require.NoError(t, say(visit.HandOver, "", 2))
	assert.ErrorIs(t, say(visit.TakeBack, hesper, 3), store.ErrNotOwn)
	require.NoError(t, say(visit.TakeBack, maren, 3))
	assert.Equal(t, visit.Ready, standing(t, s, w.BookingID))
	var not *visit.NotNow
	assert.ErrorAs(t, say(visit.TakeBack, "", 4), &not, "only what was said last is taken back, and once")
	require.NoError(t, say(visit.HandOver, "", 5))
	require.NoError(t, say(visit.ComeBack, "", 6))
	v, err := s.Booking(ctx, w.BookingID)
	require.NoError(t, err)
	assert.Equal(t, visit.CameBack, v.Booking.Stage)
	assert.Equal(t, "shown to the customer", v.Said.Why)
}

// A wash that was handed over without an audit is closed; taken back, it is open again.
func TestTakingBackAHandOverOpensTheWash(t *testing.T) {
	s := filled(t)
	b := at(t, s, visit.ToAudit)
	maren := somebody(t, s, "maren")
	move := store.VisitMove{ID: store.NewID(), BookingID: b.Booking.ID, Move: visit.HandOver, ByID: maren, At: noon}
	require.NoError(t, s.Say(ctx, move, ""))
	w, err := s.Wash(ctx, b.Wash.ID)
	require.NoError(t, err)
	require.NotNil(t, w.ClosedAt)
	move.ID, move.Move, move.At = store.NewID(), visit.TakeBack, noon.Add(time.Minute)
	require.NoError(t, s.Say(ctx, move, ""))
	w, err = s.Wash(ctx, b.Wash.ID)
	require.NoError(t, err)
	assert.Nil(t, w.ClosedAt)
	assert.Equal(t, visit.ToAudit, standing(t, s, b.Booking.ID))
	said, err := s.VisitMoves(ctx, b.Booking.ID)
	require.NoError(t, err)
	assert.Len(t, said, 2, "what was said and taken back stays on record")
}

// What is decided before a wash begins is refused once it has begun, in the statement that changes: many leads at
// once against one start.
func TestNothingIsArrangedOnceTheWashHasBegun(t *testing.T) {
	s := filled(t)
	for range 6 {
		b := at(t, s, visit.LookedOver)
		w := store.Wash{
			ID:        store.NewID(),
			BookingID: b.Booking.ID,
			Plan:      running(t, s).Plan,
			WasherID:  *b.Booking.WasherID,
			CreatedAt: noon,
		}
		look := *b.LookOver
		var racing sync.WaitGroup
		changed := make([]error, 4)
		var begun error
		racing.Go(
			func() { _, begun = s.AddWash(ctx, w, store.Seen{Booking: b.Booking.Version, LookOver: look.Version}) },
		)
		racing.Go(func() { changed[0] = s.SetWasher(ctx, b.Booking.ID, w.WasherID, b.Booking.Version) })
		racing.Go(func() {
			changed[1] = s.Arrange(ctx, b.Booking.ID, plan.Arranged{Procedure: "rinseless"}, b.Booking.Version)
		})
		racing.Go(func() {
			changed[2] = s.MoveTo(
				ctx,
				b.Booking.ID,
				store.Slot{StartsAt: noon, Place: b.Booking.Place},
				b.Booking.Version,
			)
		})
		racing.Go(func() { _, changed[3] = s.SaveLookOver(ctx, look) })
		racing.Wait()
		if begun != nil {
			require.ErrorIs(t, begun, store.ErrStale, "somebody changed it first: the plan is looked at again")
			now, err := s.Booking(ctx, b.Booking.ID)
			require.NoError(t, err)
			w.ID = store.NewID()
			_, err = s.AddWash(ctx, w, store.Seen{Booking: now.Booking.Version, LookOver: now.LookOver.Version})
			require.NoError(t, err)
		} else {
			for i, err := range changed {
				var not *visit.NotNow
				assert.True(t, errors.As(err, &not), "change %d against a wash that had begun: %v", i, err)
			}
		}
		require.Equal(t, visit.InBay, standing(t, s, b.Booking.ID))
		now, err := s.Booking(ctx, b.Booking.ID)
		require.NoError(t, err)
		kept, err := s.Wash(ctx, now.Wash.ID)
		require.NoError(t, err)
		assert.Equal(t, now.Booking.Version, kept.Frozen.Booking, "what it was begun from is what it is")
		assert.Equal(t, now.LookOver.Version, kept.Frozen.LookOver)
		_, err = s.AddWash(ctx, w, store.Seen{})
		var not *visit.NotNow
		assert.ErrorAs(t, err, &not)
		if len(remaining(t, s)) == 0 {
			return
		}
	}
}

func remaining(t testing.TB, s *store.Store) []store.BookingView {
	views, err := s.Bookings(ctx, noon.Add(-12*time.Hour), noon.Add(12*time.Hour))
	require.NoError(t, err)
	return slices.DeleteFunc(views, func(v store.BookingView) bool { return v.Booking.Stage != visit.LookedOver })
}
