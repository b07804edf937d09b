package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"strconv"
	"time"

	"uskel/demo"
	"uskel/store"
)

// errRealShop keeps the demo out of a shop that is real.
var errRealShop = errors.New(
	"this database holds a shop that is not the demo: the demo is put into an empty database or into one of its " +
		"own, and wipes nothing else. " +
		"Name another database in DATABASE_URL",
)

// loadDemo fills the demo shop, or books today's vehicles in one that is there, on a clock of its own that stands at a
// working hour. It touches an empty database or a demo's, and no other.
func loadDemo(ctx context.Context, s *store.Store, fresh bool) error {
	empty, err := s.Empty(ctx)
	if err != nil {
		return err
	}
	ours, err := demo.Ours(ctx, s)
	if err != nil {
		return err
	}
	if !empty && !ours {
		return errRealShop
	}
	if fresh {
		if err := s.Clear(ctx); err != nil {
			return err
		}
	}
	if err := s.Migrate(ctx); err != nil {
		return err
	}
	loaded, err := demo.Loaded(ctx, s)
	if err != nil {
		return err
	}
	if err := s.MarkKind(ctx, true); err != nil {
		return err
	}
	before, err := s.Ahead(ctx)
	if err != nil {
		return err
	}
	ahead := demo.Ahead(time.Now(), before)
	if err := s.GoAhead(ctx, ahead); err != nil {
		return err
	}
	there := time.Now().Add(ahead)
	if loaded {
		return demo.EnsureToday(ctx, s, there)
	}
	return demo.Load(ctx, s, there, demo.HalfYear)
}

// grow makes a demo years older, to measure reads on.
func grow(ctx context.Context, s *store.Store, args []string, out io.Writer) error {
	if len(args) != 1 {
		return errors.New("grow: say to how many washes, as in grow 50000")
	}
	washes, err := strconv.Atoi(args[0])
	if err != nil || washes < 1 || washes > 1_000_000 {
		return fmt.Errorf("grow %q: a number of washes from 1 to 1000000", args[0])
	}
	return s.Grow(ctx, washes, func(have int) { fmt.Fprintf(out, "\r%d of %d washes", have, washes) })
}
