package devices

import (
	"context"
	"log/slog"
)

// Outbox hands messages to customers. It reports whether the message is on its way: if not, somebody tells the
// customer.
type Outbox interface {
	Send(ctx context.Context, to, text string) (sent bool, err error)
}

// Tray is a simulated outbox, for the demo: it takes every message and sends none. What was handed over is in the
// shop's own records.
type Tray struct{ Log *slog.Logger }

// Send takes a message.
func (t Tray) Send(_ context.Context, to, _ string) (bool, error) {
	if t.Log != nil {
		t.Log.Info("notice taken by the simulated outbox", "to", to)
	}
	return true, nil
}

// ByHand is the outbox of a shop that has no service for messages: what is to be told waits until somebody has told it.
type ByHand struct{}

// Send leaves the message to be told.
func (ByHand) Send(context.Context, string, string) (bool, error) { return false, nil }
