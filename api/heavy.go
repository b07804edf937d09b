package api

import (
	"context"
	"net/http"
	"runtime"
	"sync"

	"github.com/danielgtaylor/huma/v2"
)

// heavyAtOnce is how many of the pieces of work that take a processor for seconds are done at once: half of those
// there are stay free for everybody else.
var heavyAtOnce = max(1, runtime.GOMAXPROCS(0)/2)

// slot is a kind of heavy work: so many pieces at once, and of one person one at a time, so that nobody takes all the turns.
type slot struct {
	turns chan struct{}
	mu    sync.Mutex
	own   map[string]chan struct{}
}

func newSlot(atOnce int) *slot {
	return &slot{turns: make(chan struct{}, atOnce), own: map[string]chan struct{}{}}
}

// ofPerson is where one person's pieces wait for each other.
func (l *slot) ofPerson(id string) chan struct{} {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.own[id] == nil {
		l.own[id] = make(chan struct{}, 1)
	}
	return l.own[id]
}

// take waits for a turn. Whoever hangs up gives it to the next, and so does whoever is done.
func (l *slot) take(ctx context.Context) (done func(), err error) {
	own := l.ofPerson(who(ctx).ID)
	for _, wait := range []chan struct{}{own, l.turns} {
		select {
		case wait <- struct{}{}:
		case <-ctx.Done():
			if wait == l.turns {
				<-own
			}
			return nil, ctx.Err()
		}
	}
	return func() { <-l.turns; <-own }, nil
}

// heavy waits for a turn at work that takes a processor for long: other ways side by side, slots, a better day.
func (s *server) heavy(ctx context.Context) (done func(), err error) { return s.heavies.take(ctx) }

// until stops what is worked out for somebody when they hang up.
func until(ctx context.Context) func() bool {
	return func() bool { return ctx.Err() != nil }
}

// mostStreams is how many screens one person follows the shop on at once: far more than anybody looks at, and few enough that nobody
// takes the server from the others.
const mostStreams = 120

// open counts what each person has open of a kind.
type open struct {
	mu sync.Mutex
	by map[string]int
}

// one opens one more, or refuses it.
func (o *open) one(ctx context.Context, most int) (leave func(), err error) {
	id := who(ctx).ID
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.by[id] >= most {
		return nil, huma.ErrorWithHeaders(huma.NewError(http.StatusTooManyRequests, "You follow the shop on too many screens: close some."),
			http.Header{"Retry-After": {"60"}})
	}
	o.by[id]++
	return sync.OnceFunc(func() {
		o.mu.Lock()
		defer o.mu.Unlock()
		if o.by[id]--; o.by[id] == 0 {
			delete(o.by, id)
		}
	}), nil
}
