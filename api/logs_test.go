package api_test

import (
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/wash"
)

// However taps come, in order, behind others, twice, taken back, by two servers at once: the yard shows the wash as its whole log has
// it, on both servers.
func TestTheYardShowsTheWholeLog(t *testing.T) {
	s := open(t)
	second := serve(t, s.store)
	osk := s.as("osk")
	here, there := s.as("maren"), second.as("maren")
	b := here.booking("VLT 30")
	path := "/api/washes/" + b.WashID
	w := into[api.WashView](here.get(path).is(200))
	same := func(when string) {
		t.Helper()
		whole := into[api.WashView](here.get(path).is(200))
		folded := wash.Fold(whole.Steps, whole.Events).Pulse(whole.Steps, morning)
		for _, c := range []*caller{here, there} {
			card := c.booking("VLT 30")
			require.NotNil(t, card.Pulse)
			assert.Equal(t, folded.Taps, card.Pulse.Taps, when)
			assert.Equal(t, folded.Last, card.Pulse.Last, when)
			assert.InDelta(t, folded.Left, card.Pulse.Left, 1e-6, when)
			assert.Len(t, card.Pulse.Hands, len(folded.Hands), when)
		}
	}
	same("before")
	next := w.Steps[len(w.Steps)-2].ID
	begun := tap(wash.Start, next, morning.Add(-time.Minute), 1)
	note := tap(wash.Note, "", morning.Add(-2*time.Minute), 2) // behind
	osk.do("POST", path+"/events", events{[]wash.Event{begun}}).is(200)
	same("in order")
	osk.do("POST", path+"/events", events{[]wash.Event{note, begun}}).is(200)
	same("behind, and twice")
	back := wash.Event{ID: note.ID[:35] + "f", Kind: wash.Undo, Undoes: begun.ID, At: morning, Seq: 3}
	osk.do("POST", path+"/events", events{[]wash.Event{back}}).is(200)
	same("taken back")
	var all sync.WaitGroup
	for i := range 12 {
		all.Go(func() {
			e := events{[]wash.Event{tap(wash.Note, "", morning.Add(-time.Duration(i)*time.Second), 10+i)}}
			osk.do("POST", path+"/events", e).is(200)
			[]*caller{here, there}[i%2].booking("VLT 30")
		})
	}
	all.Wait()
	same("at once")
}
