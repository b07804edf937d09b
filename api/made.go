package api

import (
	"context"
	"fmt"
	"slices"
	"time"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/timing"
	"uskel/store"
)

// basis is what every plan of the shop is made from besides its booking: read once, however many plans follow.
type basis struct {
	settings  shop.Settings
	shelf     []plan.Product
	standards timing.Standards
	methods   []procedure.Procedure
}

func (s *server) basis(ctx context.Context) (basis, error) {
	var b basis
	var err error
	if b.settings, _, err = s.Store.Settings(ctx); err != nil {
		return b, err
	}
	if b.shelf, err = s.Store.Products(ctx); err != nil {
		return b, err
	}
	if b.standards, err = s.Store.Standards(ctx); err != nil {
		return b, err
	}
	b.methods, err = s.Store.Procedures(ctx)
	return b, err
}

// job is a booking's car as it was seen, at a moment: with the weather by the forecast, and as the lead arranged it.
func (s *server) job(ctx context.Context, b basis, of store.Booking, look condition.LookOver, at time.Time,
	a plan.Arranged) (plan.Job, error) {
	weather, err := s.Station.Read(ctx, at)
	if err != nil {
		return plan.Job{}, err
	}
	water, err := s.Meter.Read(ctx, at)
	return plan.Job{Pins: b.settings.Pins, Vehicle: of.Vehicle.Spec, LookOver: look, Weather: weather,
		Hardness: water.Hardness, Solids: water.Solids, Shelf: b.shelf,
		Standards: b.standards, Arranged: plan.Arranged{Procedure: a.Procedure, Without: a.Without}}, err
}

// filled is a job with every procedure judged and filled for it. Look-over, chooser, timeline, day and the start of a
// wash all take their plan from here, so that what is shown is what is begun.
type filled struct {
	basis
	job      plan.Job
	choices  []plan.Choice
	arranged plan.Arranged
}

// fill judges and fills every procedure for a booking at a moment. When no procedure is named in what was arranged, it is the recommended
// one.
func (s *server) fill(ctx context.Context, b basis, of store.Booking, look condition.LookOver, at time.Time,
	a plan.Arranged) (filled, error) {
	f := filled{basis: b, arranged: a}
	var err error
	if f.job, err = s.job(ctx, b, of, look, at, a); err != nil {
		return f, err
	}
	if f.choices, err = s.choose(b.methods, f.job); err != nil {
		return f, err
	}
	if a.Procedure == "" && len(f.choices) > 0 && f.choices[0].Plan != nil {
		a.Procedure = f.choices[0].Procedure
		if len(a.Without) > 0 {
			return s.fill(ctx, b, of, look, at, a)
		}
		f.arranged = a
	}
	return f, nil
}

// fillNow is the same for this moment, from what the shop is now.
func (s *server) fillNow(ctx context.Context, of store.Booking, look condition.LookOver, a plan.Arranged) (filled, error) {
	b, err := s.basis(ctx)
	if err != nil {
		return filled{}, err
	}
	return s.fill(ctx, b, of, look, s.Now(), a)
}

// made is the plan by what was arranged, or why there is none.
func (f filled) made() (plan.Plan, error) {
	if f.arranged.Procedure == "" {
		return plan.Plan{}, conflict("Every procedure would do harm or cannot be done here.")
	}
	at := slices.IndexFunc(f.choices, func(c plan.Choice) bool { return c.Procedure == f.arranged.Procedure })
	switch {
	case at < 0:
		return plan.Plan{}, invalid("procedure", fmt.Errorf("there is no published procedure %q", f.arranged.Procedure))
	case f.choices[at].Plan == nil:
		return plan.Plan{}, conflict(fmt.Sprintf("%s is refused here: %s", f.choices[at].Title, f.choices[at].Why[0]))
	}
	return *f.choices[at].Plan, nil
}

// arrangedOf is what the lead arranged for a booking; nothing yet is the zero value.
func arrangedOf(b store.Booking) plan.Arranged {
	if b.Arranged == nil {
		return plan.Arranged{}
	}
	return *b.Arranged
}
