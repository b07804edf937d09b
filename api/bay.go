package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/shelf"
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
	Crew       []PersonRef        `json:"crew" doc:"who washes: the washer, those planned to help, those who took a step over"`
	People     []PersonRef        `json:"people" doc:"who else could take a step over"`
	Matters    []MatterRule       `json:"matters" doc:"bonded matter and what is done about it when it is found in mid-wash"`
	Counted    map[string]string  `json:"counted" doc:"by step, its dose in the shop's caps and pump strokes"`
	Now        time.Time          `json:"now" doc:"the server's clock"`
}

// MatterRule is what the scope says of a kind of bonded matter.
type MatterRule struct {
	Matter  condition.Matter `json:"matter"`
	InScope bool             `json:"inScope"`
	Says    string           `json:"says"`
}

// Tapped is what came of some taps: the device folds the log itself, and asks for the wash anew when others' taps are in it.
type Tapped struct {
	Events int       `json:"events" doc:"in the log now"`
	Now    time.Time `json:"now" doc:"the server's clock"`
}

func (s *server) registerBay(api huma.API) {
	operation(s, api, post("/bookings/{id}/wash", "startWash", "Take a plan into the bay"), handsOn, s.startWash)
	operation(s, api, get("/washes/{id}", "wash", "A wash"), anyone, s.wash)
	operation(s, api, post("/washes/{id}/events", "tap", "Send taps; sending twice changes nothing"), handsOn, s.tap)
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
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	steps := w.Steps()
	state := wash.Fold(steps, events)
	if events == nil {
		events = []wash.Event{}
	}
	v := WashView{ID: w.ID, BookingID: w.BookingID, Plate: w.Booking.Vehicle.Plate, Label: w.Booking.Vehicle.Label, Spec: w.Booking.Vehicle.Spec,
		PromisedAt: w.Booking.PromisedAt.UTC(), Washer: ref(w.Washer), Plan: w.Plan, Steps: steps, Events: events, State: state,
		Stages: timing.Stages(steps, state), Crew: []PersonRef{ref(w.Washer)}, People: []PersonRef{}, Counted: counted(w.Plan, settings.Vessels), Now: s.Now()}
	crew := crewOf(w, events)
	for _, p := range people {
		switch {
		case p.ID == w.WasherID || p.Role == store.Auditor || !p.Active:
		case slices.Contains(crew, p.ID):
			v.Crew = append(v.Crew, ref(p))
		default:
			v.People = append(v.People, ref(p))
		}
	}
	for _, name := range condition.Matter("").Values() {
		m := condition.Matter(name)
		v.Matters = append(v.Matters, MatterRule{m, m.InMaintenance(), m.Found()})
	}
	me := who(ctx)
	v.MayTap = me.Role == store.Lead || slices.Contains(crew, me.ID)
	return out(v)
}

// crewOf are the people who tap on a wash, besides the lead: its washer, those the plan has on it, and those a step was handed to.
func crewOf(w store.Wash, log []wash.Event) []string {
	crew := []string{w.WasherID}
	if w.Booking.Arranged != nil {
		crew = append(crew, w.Booking.Arranged.People...)
	}
	for _, e := range log {
		if e.Kind == wash.HandOver {
			crew = append(crew, e.To)
		}
	}
	return crew
}

// counted says each step's dose in caps and pump strokes, the nearest.
func counted(p plan.Plan, vessels []shelf.Vessel) map[string]string {
	doses := map[string]string{}
	for _, step := range p.Steps {
		if step.Mix == nil {
			continue
		}
		if words := shelf.Counted(step.Mix.Millis, vessels); len(words) > 0 {
			doses[step.ID] = words[0]
		}
	}
	return doses
}

func (s *server) tap(ctx context.Context, in *struct {
	ID
	Body struct {
		Events []wash.Event `json:"events" minItems:"1" maxItems:"500"`
	}
}) (*Out[Tapped], error) {
	w, err := s.Store.WashHead(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if err := s.mayTap(ctx, w, in.Body.Events); err != nil {
		return nil, err
	}
	steps := w.Steps()
	for i := range in.Body.Events {
		e := &in.Body.Events[i]
		if err := cmp.Or(e.Check(steps), s.timely(*e, w), s.takesOver(ctx, *e)); err != nil {
			return nil, invalid(fmt.Sprintf("events[%d]", i), err)
		}
		e.By = who(ctx).ID
	}
	count, err := s.Store.Tap(ctx, w.ID, in.Body.Events, s.Now())
	if err != nil {
		return nil, err
	}
	return out(Tapped{count, s.Now()})
}

// mayTap lets the crew and the lead tap. Anybody who washes may say that they came to help.
func (s *server) mayTap(ctx context.Context, w store.Wash, taps []wash.Event) error {
	me := who(ctx)
	if me.Role == store.Lead || slices.Contains(crewOf(w, nil), me.ID) {
		return nil
	}
	if !slices.ContainsFunc(taps, func(e wash.Event) bool { return e.Kind != wash.Helped }) {
		return nil
	}
	log, err := s.Store.Events(ctx, w.ID)
	if err != nil {
		return err
	}
	if !slices.Contains(crewOf(w, log), me.ID) {
		return forbidden("Only " + w.Washer.Name + ", who helps with it, and the lead tap on this wash.")
	}
	return nil
}

// takesOver refuses to hand a step to somebody who does not wash here.
func (s *server) takesOver(ctx context.Context, e wash.Event) error {
	if e.Kind != wash.HandOver {
		return nil
	}
	p, err := s.Store.Person(ctx, e.To)
	if err != nil || p.Role == store.Auditor || !p.Active {
		return fmt.Errorf("to: %q does not wash here", e.To)
	}
	return nil
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

func lineOf(w store.WashLine) WashLine {
	return WashLine{ID: w.ID, At: w.FinishedAt.UTC(), Plate: w.Plate, Label: w.Label, Washer: PersonRef{w.WasherID, w.WasherName, w.WasherRole},
		Title: w.Title, Version: w.Version, Overall: w.Overall, Planned: w.Planned, Actual: w.Minutes, Kept: w.Kept, Missed: w.Missed, Score: w.Score, Findings: w.Findings}
}
