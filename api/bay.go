package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/timing"
	"uskel/core/vehicle"
	"uskel/core/wash"
	"uskel/store"
)

// WashView is a wash in the bay.
type WashView struct {
	ID         string             `json:"id"`
	BookingID  string             `json:"bookingId"`
	Plate      string             `json:"plate"`
	Label      string             `json:"label"`
	Spec       vehicle.Vehicle    `json:"spec"`
	PromisedAt time.Time          `json:"promisedAt"`
	Washer     PersonRef          `json:"washer"`
	Plan       plan.Plan          `json:"plan"`
	Steps      []wash.Step        `json:"steps" doc:"the plan's steps and any rework"`
	Events     []wash.Event       `json:"events"`
	State      wash.State         `json:"state"`
	Stages     []timing.StageTime `json:"stages"`
	MayTap     bool               `json:"mayTap"`
	Now        time.Time          `json:"now" doc:"the server's clock"`
}

func (s *server) registerBay(api huma.API) {
	operation(s, api, post("/bookings/{id}/wash", "startWash", "Take a plan into the bay"), handsOn, s.startWash)
	operation(s, api, get("/washes/{id}", "wash", "A wash"), anyone, s.wash)
	operation(s, api, post("/washes/{id}/events", "tap", "Send taps; sending twice changes nothing"), handsOn, s.tap)
	operation(s, api, get("/times", "times", "Stage times against plan"), anyone, s.times)
}

func (s *server) startWash(ctx context.Context, in *struct {
	ID
	Body struct {
		Procedure string `json:"procedure" minLength:"1" maxLength:"80"`
		WasherID  string `json:"washerId" format:"uuid"`
	}
}) (*Out[WashView], error) {
	me := who(ctx)
	if me.Role != store.Lead && in.Body.WasherID != me.ID {
		return nil, forbidden("Only the lead starts a wash for somebody else.")
	}
	if err := s.mayWash(ctx, in.Body.WasherID); err != nil {
		return nil, err
	}
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if me.Role != store.Lead && v.Booking.WasherID != nil && *v.Booking.WasherID != me.ID {
		return nil, forbidden("This one is given to " + v.Booking.Washer.Name + ". Ask the lead to give it to you.")
	}
	l, err := looked(v)
	if err != nil {
		return nil, err
	}
	made, err := s.resolve(ctx, v.Booking, l, in.Body.Procedure)
	if err != nil {
		return nil, err
	}
	w := store.Wash{ID: store.NewID(), BookingID: v.Booking.ID, Plan: made, WasherID: in.Body.WasherID, CreatedAt: s.Now()}
	if _, err := s.Store.AddWash(ctx, w); errors.Is(err, store.ErrTaken) {
		return nil, conflict("This booking is in the bay already.")
	} else if err != nil {
		return nil, err
	}
	return s.washView(ctx, w.ID)
}

// resolve fills one procedure for a booking or says why it must not be used.
func (s *server) resolve(ctx context.Context, b store.Booking, look condition.LookOver, id string) (plan.Plan, error) {
	job, err := s.job(ctx, b, look)
	if err != nil {
		return plan.Plan{}, err
	}
	procedures, err := s.Store.Procedures(ctx)
	if err != nil {
		return plan.Plan{}, err
	}
	for _, p := range procedures {
		if p.ID != id {
			continue
		}
		made, err := plan.Resolve(p, job)
		var refusal *plan.Refusal
		if errors.As(err, &refusal) {
			return plan.Plan{}, conflict(fmt.Sprintf("%s is refused here: %s", p.Title, refusal.Reasons[0]))
		}
		return made, err
	}
	return plan.Plan{}, invalid("procedure", fmt.Errorf("there is no published procedure %q", id))
}

func (s *server) wash(ctx context.Context, in *ID) (*Out[WashView], error) {
	return s.washView(ctx, in.ID)
}

func (s *server) washView(ctx context.Context, id string) (*Out[WashView], error) {
	w, err := s.Store.Wash(ctx, id)
	if err != nil {
		return nil, err
	}
	events, err := s.Store.Events(ctx, id)
	if err != nil {
		return nil, err
	}
	return out(s.viewOf(ctx, w, events))
}

func (s *server) viewOf(ctx context.Context, w store.Wash, events []wash.Event) WashView {
	steps := w.Steps()
	state := wash.Fold(steps, events)
	if events == nil {
		events = []wash.Event{}
	}
	return WashView{ID: w.ID, BookingID: w.BookingID, Plate: w.Booking.Vehicle.Plate, Label: w.Booking.Vehicle.Label, Spec: w.Booking.Vehicle.Spec,
		PromisedAt: w.Booking.PromisedAt.UTC(), Washer: ref(w.Washer), Plan: w.Plan, Steps: steps, Events: events, State: state,
		Stages: timing.Stages(steps, state), MayTap: mayTap(ctx, w), Now: s.Now()}
}

func mayTap(ctx context.Context, w store.Wash) bool {
	me := who(ctx)
	return me.Role == store.Lead || me.ID == w.WasherID
}

func (s *server) tap(ctx context.Context, in *struct {
	ID
	Body struct {
		Events []wash.Event `json:"events" minItems:"1" maxItems:"500"`
	}
}) (*Out[WashView], error) {
	w, err := s.Store.Wash(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if !mayTap(ctx, w) {
		return nil, forbidden("Only " + w.Washer.Name + " and the lead tap on this wash.")
	}
	for i := range in.Body.Events {
		e := &in.Body.Events[i]
		if err := cmp.Or(e.Check(w.Steps()), s.timely(*e, w)); err != nil {
			return nil, invalid(fmt.Sprintf("events[%d]", i), err)
		}
		e.By = who(ctx).ID
	}
	events, err := s.Store.Tap(ctx, w.ID, in.Body.Events, s.Now())
	if err != nil {
		return nil, err
	}
	return out(s.viewOf(ctx, w, events))
}

// earliestTap and latestTap bound the clocks of devices: a tap outside them is a clock gone wrong, not a wash.
const (
	earliestTap = -24 * time.Hour // before the wash was made
	latestTap   = time.Hour       // after the server's now
)

func (s *server) timely(e wash.Event, w store.Wash) error {
	if e.At.Before(w.CreatedAt.Add(earliestTap)) || e.At.After(s.Now().Add(latestTap)) {
		return fmt.Errorf("at %s: the device's clock is wrong: this wash began at %s and it is now %s", e.At.UTC().Format(time.RFC3339), w.CreatedAt.UTC().Format(time.RFC3339), s.Now().Format(time.RFC3339))
	}
	return nil
}

// Times are stage times over a stretch of days.
type Times struct {
	Days   int              `json:"days"`
	Stages []timing.Summary `json:"stages"`
	Washes []WashLine       `json:"washes"`
}

// WashLine is a finished wash in a list.
type WashLine struct {
	ID       string    `json:"id"`
	At       time.Time `json:"at"`
	Plate    string    `json:"plate"`
	Label    string    `json:"label"`
	Washer   PersonRef `json:"washer"`
	Title    string    `json:"title"`
	Version  int       `json:"version"`
	Overall  int       `json:"overall"`
	Planned  float64   `json:"planned" doc:"hands-on min"`
	Actual   float64   `json:"actual" doc:"hands-on min"`
	Kept     int       `json:"kept" doc:"dwells kept"`
	Missed   int       `json:"missed" doc:"dwells early or overrun"`
	Score    *int      `json:"score,omitempty"`
	Findings int       `json:"findings"`
}

func (s *server) times(ctx context.Context, in *struct {
	Days int `query:"days" minimum:"1" maximum:"366" default:"14"`
}) (*Out[Times], error) {
	since := s.Now().AddDate(0, 0, -in.Days)
	washes, err := s.Store.WashLines(ctx, since)
	if err != nil {
		return nil, err
	}
	stages, err := s.Store.StageTimes(ctx, since)
	if err != nil {
		return nil, err
	}
	t := Times{Days: in.Days, Stages: timing.Summarise(stages), Washes: make([]WashLine, len(washes))}
	for i, w := range washes {
		t.Washes[i] = lineOf(w)
	}
	return out(t)
}

func lineOf(w store.WashLine) WashLine {
	return WashLine{ID: w.ID, At: w.FinishedAt.UTC(), Plate: w.Plate, Label: w.Label, Washer: PersonRef{w.WasherID, w.WasherName, w.WasherRole},
		Title: w.Title, Version: w.Version, Overall: w.Overall, Planned: w.Planned, Actual: w.Minutes, Kept: w.Kept, Missed: w.Missed, Score: w.Score, Findings: w.Findings}
}
