package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure/starters"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/core/timing"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
)

// WashView is a wash in the bay.
type WashView struct {
	ID         string                       `json:"id"`
	BookingID  string                       `json:"bookingId"`
	Plate      string                       `json:"plate"`
	Label      string                       `json:"label"`
	Spec       vehicle.Vehicle              `json:"spec"`
	PromisedAt time.Time                    `json:"promisedAt"`
	Washer     PersonRef                    `json:"washer"`
	Plan       plan.Plan                    `json:"plan"`
	Steps      []wash.PlannedStep           `json:"steps" doc:"the plan's steps and any rework"`
	Events     []wash.Event                 `json:"events"`
	State      wash.State                   `json:"state"`
	Stages     []timing.StageTime           `json:"stages"`
	MayTap     bool                         `json:"mayTap"`
	Crew       []PersonRef                  `json:"crew" doc:"who washes: the washer, those planned to help, those who took a step over"`
	People     []PersonRef                  `json:"people" doc:"who else could take a step over"`
	Matters    []MatterRule                 `json:"matters" doc:"bonded matter and what is done about it when it is found in mid-wash"`
	Closed     bool                         `json:"closed" doc:"its audit has begun, or it was handed over: it is corrected by the lead only"`
	Stage      visit.Stage                  `json:"stage"`
	Frozen     plan.Frozen                  `json:"frozen" doc:"what it was begun from"`
	Corrected  []CorrectionLine             `json:"corrected" doc:"the lead's corrections, oldest first; stages and log are as tapped"`
	Takers     map[string][]string          `json:"takers" doc:"by step that asks for a skill, who of crew and people holds it"`
	Mittfuls   map[string][]contact.Mittful `json:"mittfuls" doc:"by step: each contact plan cut at its rinses"`
	Counted    map[string]string            `json:"counted" doc:"by step, its dose in the shop's caps and pump strokes"`
	Measures   []shelf.Vessel               `json:"measures" doc:"the shop's caps and dosing pumps, to say how much was put in"`
	Spent      *Spent                       `json:"spent,omitempty" doc:"once it is finished"`
	Now        time.Time                    `json:"now" doc:"the server's clock"`
}

// Spent is what products and laundering came to, at today's prices, minor units.
type Spent struct {
	Tapped  measure.Money `json:"tapped" doc:"by what was tapped"`
	Planned measure.Money `json:"planned" doc:"by the plan"`
}

// spent is what a finished wash came to; nothing before.
func (s *server) spent(ctx context.Context, w store.Wash, settings shop.Settings) (*Spent, error) {
	if w.Used == nil {
		return nil, nil
	}
	products, err := s.Store.Products(ctx)
	return &Spent{w.Used.Cost(products, settings.Launder), w.Uses.Cost(products, settings.Launder)}, err
}

// MatterRule is what the scope says of a kind of bonded matter.
type MatterRule struct {
	Matter  condition.Matter `json:"matter"`
	InScope bool             `json:"inScope"`
	Says    string           `json:"says"`
}

// Tapped is what came of some taps: the device folds the log itself, and asks for the wash anew when others' taps are
// in it.
type Tapped struct {
	Events int       `json:"events" doc:"in the log now"`
	Now    time.Time `json:"now" doc:"the server's clock"`
}

// CorrectionLine is a correction with who made it.
type CorrectionLine struct {
	wash.Correction
	Was float64   `json:"was" doc:"min hands-on as tapped"`
	By  string    `json:"by"`
	At  time.Time `json:"at"`
}

func (s *server) registerBay(api huma.API) {
	operation(s, api, post("/bookings/{id}/wash", "startWash", "Take a plan into the bay"), shop.Wash, s.startWash)
	operation(s, api, get("/washes/{id}", "wash", "A wash"), shop.See, s.wash)
	operation(s, api, post("/washes/{id}/events", "tap", "Send taps; sending twice changes nothing"), shop.Wash, s.tap)
	operation(s, api, post("/washes/{id}/corrections", "correct",
		"Correct a time of a closed wash; what was tapped stays beside it"), shop.Correct, s.correct)
}

func (s *server) startWash(ctx context.Context, in *struct {
	ID
	Body struct {
		Procedure string `json:"procedure" minLength:"1" maxLength:"80"`
		WasherID  string `json:"washerId" format:"uuid"`
		Booking   int    `json:"booking,omitempty" minimum:"0" doc:"of the booking as the plan was seen: another is refused"`
		LookOver  int    `json:"lookOver,omitempty" minimum:"0" doc:"version of the look-over that the plan was seen with"`
	}
}) (*Out[WashView], error) {
	me := who(ctx)
	if !me.Role.Leads() && in.Body.WasherID != me.ID {
		return nil, forbidden("Only the lead starts a wash for somebody else.")
	}
	if err := s.mayWash(ctx, in.Body.WasherID); err != nil {
		return nil, err
	}
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if v.Booking.WasherID != nil && *v.Booking.WasherID != me.ID {
		may, err := s.mayStandIn(ctx, *v.Booking.WasherID, me.Role)
		if err != nil {
			return nil, err
		}
		if !may {
			return nil, forbidden("This one is given to " + v.Booking.Washer.Name + ". Ask the lead to give it to you.")
		}
	}
	l, err := looked(v)
	if err != nil {
		return nil, err
	}
	a, err := asArranged(me, arrangedOf(v.Booking), in.Body.Procedure)
	if err != nil {
		return nil, err
	}
	now := a
	now.AsNow = true
	f, err := s.fillHour(ctx, v.Booking, l, now)
	if err != nil {
		return nil, err
	}
	made, err := f.made()
	if err != nil {
		return nil, err
	}
	if made.Index > contact.LeadsYes && !me.Role.Leads() {
		return nil, forbidden(fmt.Sprintf("The scratch risk is %.0f of 100: above %d the lead says yes. Ask them to take it into the bay, or "+
			"choose a kinder wash.", made.Index, contact.LeadsYes))
	}
	varies, err := s.varies(ctx, in.Body.WasherID)
	if err != nil {
		return nil, err
	}
	looks, err := s.looksOf(ctx, f, made, in.Body.WasherID)
	if err != nil {
		return nil, err
	}
	w := store.Wash{ID: store.NewID(), BookingID: v.Booking.ID, Plan: made, WasherID: in.Body.WasherID, Varies: varies, Looks: looks,
		CreatedAt: s.Now(), Frozen: plan.Frozen{Arranged: a, Pins: f.settings.Pins}}
	// What was read for the plan is what must still be there when it is begun.
	seen := store.Seen{
		Booking:  cmp.Or(in.Body.Booking, v.Booking.Version),
		LookOver: cmp.Or(in.Body.LookOver, v.LookOver.Version),
	}
	if _, err := s.Store.AddWash(ctx, w, seen); errors.Is(err, store.ErrStale) {
		return nil, conflict(
			"The booking or its look-over was changed since this plan was made. Look at the plan again.",
		)
	} else if err != nil {
		return nil, err
	}
	return s.washView(ctx, w.ID)
}

// looksOf is what is looked at on the way of a wash.
func (s *server) looksOf(ctx context.Context, f filled, made plan.Plan, washer string) (map[string][]wash.Look, error) {
	lists, err := s.newestLists(ctx)
	if err != nil || !slices.ContainsFunc(lists, func(c audit.Checklist) bool { return c.At != audit.WhenFinished }) {
		return nil, err
	}
	p, err := s.Store.Person(ctx, washer)
	if err != nil {
		return nil, err
	}
	facts := fill.Facts(starters.Maintenance(), f.job)
	facts[condition.TraineeWashes] = condition.YesOrNo(p.Role == shop.Trainee)
	return audit.Looks(lists, made, facts), nil
}

// asArranged is what a wash by a procedure is begun from: what the lead arranged. Only the lead begins another
// procedure than that.
func asArranged(me store.Person, a plan.Arranged, procedure string) (plan.Arranged, error) {
	switch {
	case a.Procedure == procedure, a.Procedure == "" && len(a.Without) == 0:
		a.Procedure = procedure
		return a, nil
	case a.Procedure == "", me.Role.Leads():
		return plan.Arranged{Procedure: procedure, People: a.People}, nil
	}
	return a, conflict("The lead arranged another procedure for this wash. Look at the plan again, or ask the lead.")
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
	if err := seesTimes(who(ctx), w, events); err != nil {
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
	corrections, err := s.Store.Corrections(ctx, id)
	if err != nil {
		return nil, err
	}
	offs, err := s.signOffs(ctx)
	if err != nil {
		return nil, err
	}
	steps := w.Steps()
	state := wash.Fold(steps, events)
	if events == nil {
		events = []wash.Event{}
	}
	v := WashView{
		ID:         w.ID,
		BookingID:  w.BookingID,
		Plate:      w.Booking.Vehicle.Plate,
		Label:      w.Booking.Vehicle.Label,
		Spec:       w.Booking.Vehicle.Spec,
		PromisedAt: w.Booking.PromisedAt.UTC(),
		Washer:     ref(w.Washer),
		Plan:       w.Plan,
		Steps:      steps,
		Events:     events,
		State:      state,
		Stages: timing.Stages(
			steps,
			state,
		),
		Crew:      []PersonRef{ref(w.Washer)},
		People:    []PersonRef{},
		Mittfuls:  map[string][]contact.Mittful{},
		Counted:   counted(w.Plan, settings.Vessels),
		Measures:  shelf.Measures(settings.Vessels),
		Now:       s.Now(),
		Closed:    w.ClosedAt != nil,
		Stage:     w.Booking.Stage,
		Frozen:    w.Frozen,
		Corrected: correctionLines(corrections, state),
	}
	v.Takers = takers(w.Plan, people, offs)
	if v.Spent, err = s.spent(ctx, w, settings); err != nil {
		return nil, err
	}
	for _, step := range w.Plan.Steps {
		if step.Contact != nil {
			v.Mittfuls[step.ID] = step.Contact.Mittfuls()
		}
	}
	crew := crewOf(w, state, events)
	for _, p := range people {
		switch {
		case p.ID == w.WasherID || p.Role == shop.Auditor || !p.Active:
		case slices.Contains(crew, p.ID):
			v.Crew = append(v.Crew, ref(p))
		default:
			v.People = append(v.People, ref(p))
		}
	}
	for _, name := range condition.Matter("").Values() {
		m := condition.Matter(name)
		v.Matters = append(v.Matters, MatterRule{m, w.Plan.Ordered.TakesOn(m), m.Found(w.Plan.Ordered)})
	}
	me := who(ctx)
	v.MayTap = me.Role.Leads() || slices.Contains(crew, me.ID)
	return out(v)
}

// seesTimes refuses a finished wash, whose taps are times, to whoever neither washed it nor leads. A running one is for all
// who may help.
func seesTimes(me store.Person, w store.Wash, log []wash.Event) error {
	if w.FinishedAt == nil || w.Booking.Stage.Washing() || me.Role.Leads() ||
		slices.Contains(wash.Washers(w.WasherID, w.Steps(), log), me.ID) {
		return nil
	}
	return forbidden("This wash is finished: only the lead and whoever washed it see its times.")
}

// takers are who may take each step over that asks for a skill.
func takers(p plan.Plan, people []store.Person, offs []skills.SignOff) map[string][]string {
	may := map[string][]string{}
	for _, step := range p.Steps {
		if step.Skill == "" {
			continue
		}
		may[step.ID] = []string{}
		for _, person := range people {
			if slices.Contains(skillsOf(person, offs), step.Skill) {
				may[step.ID] = append(may[step.ID], person.ID)
			}
		}
	}
	return may
}

func correctionLines(rows []store.Correction, state wash.State) []CorrectionLine {
	lines := make([]CorrectionLine, len(rows))
	for i, r := range rows {
		lines[i] = CorrectionLine{Correction: r.Doc, By: r.By.Name, At: r.At.UTC()}
		for _, did := range state.Steps {
			if did.ID == r.Doc.Step {
				lines[i].Was = did.HandsOn.Minutes()
			}
		}
	}
	return lines
}

func (s *server) correct(ctx context.Context, in *struct {
	ID
	Body wash.Correction
}) (*Out[WashView], error) {
	err := s.Store.Correct(
		ctx,
		store.Correction{ID: store.NewID(), WashID: in.ID.ID, Doc: in.Body, ByID: who(ctx).ID, At: s.Now()},
	)
	var refused *store.Refused
	switch {
	case errors.As(err, &refused):
		return nil, invalid("", refused.Why)
	case errors.Is(err, store.ErrOpen):
		return nil, conflict("This wash is not closed yet: whoever tapped wrong uses Undo.")
	case err != nil:
		return nil, err
	}
	return s.washView(ctx, in.ID.ID)
}

// crewOf are the people who tap on a wash, besides the lead: its washer, those arranged or planned since to help, and
// those a step was handed to.
func crewOf(w store.Wash, state wash.State, log []wash.Event) []string {
	crew := []string{w.WasherID}
	if len(state.Helpers) > 0 {
		crew = append(crew, state.Helpers...)
	} else {
		crew = append(crew, w.Frozen.Arranged.People...)
	}
	return append(crew, wash.HandedTo(log)...)
}

// counted says each step's dose in caps and pump strokes, the nearest.
func counted(p plan.Plan, vessels []shelf.Vessel) map[string]string {
	doses := map[string]string{}
	for _, step := range p.Steps {
		if step.Mix == nil {
			continue
		}
		if words := shelf.Counted(step.Mix.Millis, vessels); step.Mix.Counts != "" {
			doses[step.ID] = step.Mix.Counts
		} else if len(words) > 0 {
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
		field := fmt.Sprintf("events[%d]", i)
		if err := cmp.Or(e.Check(steps), s.timely(*e, w)); err != nil {
			return nil, invalid(field, err)
		}
		if err := s.takesOver(ctx, *e, field); err != nil {
			return nil, err
		}
		e.By, e.Late = who(ctx).ID, false
	}
	wash.NotAhead(in.Body.Events, s.Now())
	count, err := s.Store.Tap(ctx, w.ID, in.Body.Events, s.Now())
	var refused *store.Refused
	if errors.As(err, &refused) {
		return nil, invalid(fmt.Sprintf("events[%d]", refused.Index), refused.Why)
	}
	if err != nil {
		return nil, err
	}
	s.meters.tapped(len(in.Body.Events))
	return out(Tapped{count, s.Now()})
}

// mayTap lets the crew and the lead tap. As long as a wash is open anybody who washes may say that they came to help; only
// the lead changes the plan.
func (s *server) mayTap(ctx context.Context, w store.Wash, taps []wash.Event) error {
	me := who(ctx)
	if me.Role.Leads() {
		return nil
	}
	if slices.ContainsFunc(taps, func(e wash.Event) bool { return e.Kind == wash.Replan }) {
		return forbidden("Only the lead changes the plan of a wash that runs.")
	}
	comesToHelp := w.ClosedAt == nil && !slices.ContainsFunc(taps, func(e wash.Event) bool { return e.Kind != wash.Helped })
	if comesToHelp || slices.Contains(crewOf(w, wash.State{}, nil), me.ID) {
		return nil
	}
	log, err := s.Store.Events(ctx, w.ID)
	if err != nil {
		return err
	}
	if !slices.Contains(append(crewOf(w, wash.Fold(w.Steps(), log), log), wash.EverHandedTo(log)...), me.ID) {
		if w.ClosedAt != nil {
			return forbidden("This wash is closed, and who washed it is settled. Whoever puts something right is handed the step by the lead.")
		}
		return forbidden("Only " + w.Washer.Name + ", who helps with it, and the lead tap on this wash.")
	}
	return nil
}

// takesOver refuses to hand a step to somebody who does not wash here. That the database is away is no refusal: the
// tap is tried again.
func (s *server) takesOver(ctx context.Context, e wash.Event, field string) error {
	people := []string{}
	if e.Kind == wash.HandOver {
		people = append(people, e.To)
	}
	if e.Plan != nil {
		people = append(people, e.Plan.People...)
	}
	for _, id := range people {
		if uuid.Validate(id) != nil {
			return invalid(field, fmt.Errorf("to: %q is nobody's id", id))
		}
		p, err := s.Store.Person(ctx, id)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		if err != nil || p.Role == shop.Auditor || !p.Active {
			return invalid(field, fmt.Errorf("to: %q does not wash here", id))
		}
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
		return fmt.Errorf(
			"at %s: the device's clock is wrong: this wash began at %s and it is now %s",
			e.At.UTC().Format(time.RFC3339),
			w.CreatedAt.UTC().Format(time.RFC3339),
			s.Now().Format(time.RFC3339),
		)
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
	return WashLine{
		ID:       w.ID,
		At:       w.FinishedAt.UTC(),
		Plate:    w.Plate,
		Label:    w.Label,
		Washer:   PersonRef{w.WasherID, w.WasherName, w.WasherRole},
		Title:    w.Title,
		Version:  w.Version,
		Overall:  w.Overall,
		Planned:  w.Planned,
		Actual:   w.Minutes,
		Kept:     w.Kept,
		Missed:   w.Missed,
		Score:    w.Score,
		Findings: w.Findings,
	}
}
