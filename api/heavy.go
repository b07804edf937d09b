package api

import (
	"context"
	"runtime"
)

// heavyAtOnce is how many of the pieces of work that take a processor for seconds are done at once: half of those
// there are stay free for everybody else.
var heavyAtOnce = max(1, runtime.GOMAXPROCS(0)/2)

// heavy waits for a turn at work that takes a processor for long: other ways side by side, slots, a better day.
// Whoever hangs up gives the turn to the next, and so does whoever is done.
func (s *server) heavy(ctx context.Context) (done func(), err error) {
	select {
	case s.heavies <- struct{}{}:
		return func() { <-s.heavies }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// until stops what is worked out for somebody when they hang up.
func until(ctx context.Context) func() bool {
	return func() bool { return ctx.Err() != nil }
}
