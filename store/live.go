package store

import (
	"context"
	"fmt"
	"time"
)

// Change is something that was saved. Numbers are unique, not in order; changes come in the order of their commits,
// to every listener alike.
type Change struct {
	No    int64
	Topic string // wash, booking, look-over, audit, notice, absence
	Ref   string
}

// How long to wait before listening again after the connection was lost: longer each time, up to a bound.
const (
	listenAgain   = 100 * time.Millisecond
	listenAtLeast = 2 * time.Second
)

// Listen tells of every change until the context ends. It holds a connection of its own; joined is told whenever it
// has begun to listen, at first and after a loss: what changed before that may have been missed.
func (s *Store) Listen(ctx context.Context, joined func(), changed func(Change)) {
	wait := listenAgain
	for ctx.Err() == nil {
		if s.listenOnce(ctx, joined, changed) {
			wait = listenAgain
		}
		select {
		case <-ctx.Done():
		case <-time.After(wait):
		}
		wait = min(2*wait, listenAtLeast)
	}
}

// listenOnce listens until the connection is lost, and reports whether it had one.
func (s *Store) listenOnce(ctx context.Context, joined func(), changed func(Change)) bool {
	pooled, err := s.Pool.Acquire(ctx)
	if err != nil {
		return false
	}
	conn := pooled.Hijack()
	defer func() { _ = conn.Close(context.WithoutCancel(ctx)) }()
	if _, err := conn.Exec(ctx, "LISTEN uskel_changes"); err != nil {
		return false
	}
	joined()
	for {
		told, err := conn.WaitForNotification(ctx)
		if err != nil {
			return true
		}
		var c Change
		if _, err := fmt.Sscanf(told.Payload, "%d %s %s", &c.No, &c.Topic, &c.Ref); err == nil {
			changed(c)
		}
	}
}
