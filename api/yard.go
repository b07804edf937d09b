package api

import (
	"context"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
)

// Yard is today at a glance.
type Yard struct {
	Around
	Now      time.Time           `json:"now"`
	DewPoint float64             `json:"dewPoint" doc:"degC"`
	WetBulb  float64             `json:"wetBulb" doc:"degC"`
	Drying   []climate.DryingRow `json:"drying"`
	Bookings []BookingCard       `json:"bookings"`
}

// BookingCard is a booking in the yard.
type BookingCard struct {
	ID          string          `json:"id"`
	VehicleID   string          `json:"vehicleId"`
	Plate       string          `json:"plate"`
	Label       string          `json:"label"`
	Spec        vehicle.Vehicle `json:"spec"`
	ArrivesAt   time.Time       `json:"arrivesAt"`
	PromisedAt  time.Time       `json:"promisedAt"`
	Service     string          `json:"service" doc:"id of what was ordered"`
	ServiceName string          `json:"serviceName"`
	Place       condition.Place `json:"place"`
	Washer      *PersonRef      `json:"washer,omitempty"`
	Stage       visit.Stage     `json:"stage"`
	Can         []visit.Move    `json:"can" doc:"what whoever asks may say of it"`
	Said        *SaidLine       `json:"said,omitempty" doc:"what was said of it last"`
	Overall     *contact.Grade  `json:"overall,omitempty" doc:"overall grade once looked over"`
	WashID      string          `json:"washId,omitempty"`
	AuditID     string          `json:"auditId,omitempty"`
	Pulse       *wash.Pulse     `json:"pulse,omitempty" doc:"how a wash in the bay stands"`
	Progress    float64         `json:"progress" doc:"share of the planned minutes done, 0 to 1"`
	ReadyAt     *time.Time      `json:"readyAt,omitempty" doc:"when it will be ready at the plan's pace"`
	LateBy      float64         `json:"lateBy" doc:"minutes after the promise; 0 when in time"`
	Score       *int            `json:"score,omitempty"`
	Version     int             `json:"version"`
	Arranged    *plan.Arranged  `json:"arranged,omitempty"`
	StartsAt    *time.Time      `json:"startsAt,omitempty" doc:"when it was given a slot"`
}

// SaidLine is what somebody said of a visit.
type SaidLine struct {
	Move visit.Move `json:"move"`
	Why  string     `json:"why,omitempty"`
	At   time.Time  `json:"at"`
}

// PersonRef is a person in a list.
type PersonRef struct {
	ID   string    `json:"id"`
	Name string    `json:"name"`
	Role shop.Role `json:"role"`
}

func ref(p store.Person) PersonRef { return PersonRef{p.ID, p.Name, p.Role} }

func (s *server) registerYard(api huma.API) {
	operation(s, api, get("/yard", "yard", "Today's bookings and the conditions now"), shop.See, s.yard)
	operation(s, api, get("/weather", "weather", "The hours of today for washing"), shop.See, s.hours)
	operation(
		s,
		api,
		get("/people", "people", "Everyone who works in the shop"),
		shop.See,
		func(ctx context.Context, _ *struct{}) (*Out[[]PersonRef], error) {
			people, err := s.Store.People(ctx)
			refs := []PersonRef{}
			for _, p := range people {
				if p.Active { // who left is offered nowhere
					refs = append(refs, ref(p))
				}
			}
			return &Out[[]PersonRef]{refs}, err
		},
	)
	operation(
		s,
		api,
		get("/vehicles", "vehicles", "Vehicles by plate or name, a page at a time"),
		shop.See,
		func(ctx context.Context, in *struct {
			Paged
			Find string `query:"find" maxLength:"80" doc:"part of a plate or a name"`
		}) (*Out[[]VehicleCard], error) {
			rows, err := s.Store.Vehicles(ctx, in.Find, in.From, in.Most)
			cards := make([]VehicleCard, len(rows))
			for i, v := range rows {
				cards[i] = VehicleCard{v.ID, v.Plate, v.Label, v.Spec}
			}
			return &Out[[]VehicleCard]{cards}, err
		},
	)
	operation(s, api, post("/vehicles", "addVehicle", "Add a vehicle"), shop.LookOver, s.addVehicle)
	operation(s, api, post("/bookings", "addBooking", "Book a wash"), shop.RunTheDay, s.addBooking)
	operation(
		s,
		api,
		put("/bookings/{id}", "changeBooking", "Change a booking whose wash has not begun"),
		shop.RunTheDay,
		s.changeBooking,
	)
	operation(
		s,
		api,
		post("/day/fit", "fit", "Whether a booking would fit its day, and where it would; nothing is saved"),
		shop.RunTheDay,
		s.fit,
	)
	operation(
		s,
		api,
		put("/bookings/{id}/washer", "setWasher", "Give a booking to someone"),
		shop.RunTheDay,
		s.setWasher,
	)
	operation(
		s,
		api,
		post(
			"/bookings/{id}/moves",
			"say",
			"Say what became of a visit: cancelled, broken off, handed over, come back",
		),
		shop.Wash,
		s.say,
	)
}

// VehicleCard is a vehicle.
type VehicleCard struct {
	ID    string          `json:"id"`
	Plate string          `json:"plate"`
	Label string          `json:"label"`
	Spec  vehicle.Vehicle `json:"spec"`
}

func (s *server) yard(ctx context.Context, _ *struct{}) (*Out[Yard], error) {
	now := s.Now()
	a, err := s.around(ctx, now)
	if err != nil {
		return nil, err
	}
	views, states, err := s.todays(ctx)
	if err != nil {
		return nil, err
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return nil, err
	}
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	if err != nil {
		return nil, err
	}
	y := Yard{Around: a, Now: now, DewPoint: float64(a.Weather.DewPoint()), WetBulb: float64(a.Weather.WetBulb()),
		Drying: climate.PanelsOf(a.Weather), Bookings: make([]BookingCard, len(views))}
	for i, v := range views {
		y.Bookings[i] = s.card(ctx, v, states, menu).unseen(veil)
	}
	return out(y)
}

// todays are today's bookings, and how the washes of them stand.
func (s *server) todays(ctx context.Context) ([]store.BookingView, map[string]wash.State, error) {
	day, err := s.today(ctx)
	if err != nil {
		return nil, nil, err
	}
	views, err := s.Store.Standing(ctx, day, day.AddDate(0, 0, 1))
	if err != nil {
		return nil, nil, err
	}
	states, err := s.runningStates(ctx, views)
	return views, states, err
}

// today is the beginning of the day where the shop stands.
func (s *server) today(ctx context.Context) (time.Time, error) {
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return time.Time{}, err
	}
	zone, err := time.LoadLocation(settings.TimeZone)
	if err != nil {
		return time.Time{}, err
	}
	y, m, d := s.Now().In(zone).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, zone), nil
}

// hours works out the washing weather of today, hour by hour, from the station's forecast.
func (s *server) hours(ctx context.Context, _ *struct{}) (*Out[[]climate.Hour], error) {
	day, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	hours, err := s.hoursOf(ctx, day)
	return &Out[[]climate.Hour]{hours}, err
}

// hoursOf is the weather of a day's hours, and how long a panel stays wet in each.
func (s *server) hoursOf(ctx context.Context, day time.Time) ([]climate.Hour, error) {
	var at []time.Time
	var weather []climate.Weather
	for hour := firstHour; hour <= lastHour; hour++ {
		moment := time.Date(day.Year(), day.Month(), day.Day(), hour, 0, 0, 0, day.Location())
		w, _, err := s.Station.Read(ctx, moment)
		if err != nil {
			return nil, err
		}
		at, weather = append(at, moment.UTC()), append(weather, w)
	}
	key, err := keyOf(at, weather)
	if err != nil {
		return nil, err
	}
	hours, known := s.weather.find(key)
	if !known {
		hours = climate.Day(at, weather)
		s.weather.keep(key, hours)
	}
	return hours, nil
}

// The hours a yard may be open.
const (
	firstHour = 6
	lastHour  = 21
)

// runningStates are the states of all washes that are under way, in one query for what is new of them.
func (s *server) runningStates(ctx context.Context, views []store.BookingView) (map[string]wash.State, error) {
	steps := map[string][]wash.PlannedStep{}
	for _, v := range views {
		if v.Wash != nil {
			steps[v.Wash.ID] = v.Wash.Steps()
		}
	}
	return s.logs.states(ctx, steps)
}

// menu is what the shop sells.
func (s *server) menu(ctx context.Context) (condition.Menu, error) {
	settings, _, err := s.Store.Settings(ctx)
	return settings.Menu(), err
}

func (s *server) card(ctx context.Context, v store.BookingView, states map[string]wash.State, menu condition.Menu) BookingCard {
	b := v.Booking
	c := BookingCard{
		ID:          b.ID,
		VehicleID:   b.VehicleID,
		Plate:       b.Vehicle.Plate,
		Label:       b.Vehicle.Label,
		Spec:        b.Vehicle.Spec,
		ArrivesAt:   b.ArrivesAt.UTC(),
		PromisedAt:  b.PromisedAt.UTC(),
		Service:     b.Service,
		ServiceName: menu.Of(b.Service).Name,
		Place:       b.Place,
		Stage:       b.Stage,
		Can: maySay(who(ctx),
			v),
		Version:  b.Version,
		Arranged: b.Arranged,
		StartsAt: b.StartsAt,
	}
	if v.Said != nil {
		c.Said = &SaidLine{v.Said.Move, v.Said.Why, v.Said.At.UTC()}
	}
	if b.Washer != nil {
		w := ref(*b.Washer)
		c.Washer = &w
	}
	if v.LookOver != nil {
		overall := condition.Assess(b.Vehicle.Spec, v.LookOver.Doc, menu).Overall
		c.Overall = &overall
	}
	if v.Wash != nil {
		s.washInto(&c, *v.Wash, states[v.Wash.ID], v.Audit)
	}
	return c
}

func (s *server) washInto(c *BookingCard, w store.Wash, state wash.State, a *store.Audit) {
	c.WashID = w.ID
	washer := ref(w.Washer)
	c.Washer = &washer
	pulse := state.Pulse(w.Steps(), s.Now())
	c.Pulse, c.Progress = &pulse, pulse.Share
	ready := s.Now().Add(time.Duration(pulse.Left * float64(time.Minute))).Truncate(time.Second)
	if w.FinishedAt != nil {
		ready, c.Progress = w.FinishedAt.UTC(), 1
	}
	c.ReadyAt = &ready
	c.LateBy = math.Max(0, math.Round(ready.Sub(c.PromisedAt).Minutes()))
	if a == nil {
		return
	}
	c.AuditID = a.ID
	if a.Result != nil {
		c.Score = &a.Result.Score
	}
}

// maySay are the moves that somebody may say of a visit.
func maySay(me store.Person, v store.BookingView) []visit.Move {
	moves := []visit.Move{}
	for _, m := range v.Booking.Stage.Can() {
		if me.Role.MaySay(m) {
			moves = append(moves, m)
		}
	}
	if said := v.Said; said != nil && (me.Role.Leads() || said.ByID == me.ID) {
		if _, err := v.Booking.Stage.Back(&visit.Taken{Move: said.Move, From: said.From, To: said.To}); err == nil {
			moves = append(moves, visit.TakeBack)
		}
	}
	return moves
}

func (s *server) say(ctx context.Context, in *struct {
	ID
	Body struct {
		Move visit.Move `json:"move"`
		Why  string     `json:"why,omitempty" maxLength:"1000" doc:"the reason; of a vehicle that came back, the customer's complaint"`
	}
}) (*Out[BookingCard], error) {
	m, me := in.Body.Move, who(ctx)
	if shop.Sayable(m) && !me.Role.MaySay(m) {
		return nil, forbidden("This is not for " + article(me.Role) + " to say: ask the lead.")
	}
	if m.Reason() && strings.TrimSpace(in.Body.Why) == "" {
		return nil, invalid("why", errors.New("say why, for whoever reads it later"))
	}
	own := ""
	if !me.Role.Leads() {
		own = me.ID
	}
	err := s.Store.Say(ctx, store.VisitMove{ID: store.NewID(), BookingID: in.ID.ID, Move: m,
		Why: strings.TrimSpace(in.Body.Why), ByID: me.ID, At: s.Now()}, own)
	if errors.Is(err, store.ErrNotOwn) {
		return nil, forbidden("Somebody else said that: only they or the lead can undo it.")
	}
	if err != nil {
		return nil, err
	}
	return s.bookingCard(ctx, in.ID.ID)
}

func (s *server) addVehicle(ctx context.Context, in *In[struct {
	Plate string          `json:"plate" minLength:"1" maxLength:"20"`
	Label string          `json:"label" minLength:"1" maxLength:"80"`
	Spec  vehicle.Vehicle `json:"spec"`
}]) (*Out[VehicleCard], error) {
	if err := in.Body.Spec.Check(); err != nil {
		return nil, invalid("spec", err)
	}
	plate, err := vehicle.ParsePlate(in.Body.Plate)
	if err != nil {
		return nil, invalid("plate", err)
	}
	v := store.Vehicle{ID: store.NewID(), Plate: plate, Label: in.Body.Label, Spec: in.Body.Spec}
	return &Out[VehicleCard]{VehicleCard{v.ID, v.Plate, v.Label, v.Spec}}, s.Store.AddVehicle(ctx, v)
}

// NewBooking is what a booking is made from.
type NewBooking struct {
	VehicleID  string          `json:"vehicleId" format:"uuid"`
	ArrivesAt  time.Time       `json:"arrivesAt"`
	PromisedAt time.Time       `json:"promisedAt"`
	Service    string          `json:"service" minLength:"1" maxLength:"80" doc:"id of one of the shop's services"`
	Place      condition.Place `json:"place"`
	WasherID   string          `json:"washerId,omitempty" format:"uuid"`
}

// booked is a booking as it is asked for.
func (s *server) booked(ctx context.Context, n NewBooking) (store.Booking, error) {
	b := store.Booking{ID: store.NewID(), VehicleID: n.VehicleID, ArrivesAt: n.ArrivesAt, PromisedAt: n.PromisedAt,
		Service: n.Service, Place: n.Place, Version: 1, Stage: visit.Booked}
	if !n.PromisedAt.After(n.ArrivesAt) {
		return b, invalid("promisedAt", errors.New("must be after arrivesAt"))
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return b, err
	}
	if err := menu.Sells(n.Service); err != nil {
		return b, invalid("service", err)
	}
	v, err := s.Store.Vehicle(ctx, n.VehicleID)
	if err != nil {
		return b, err
	}
	b.Vehicle = v
	if n.WasherID != "" {
		if err := s.mayWash(ctx, n.WasherID); err != nil {
			return b, err
		}
		b.WasherID = &n.WasherID
	}
	return b, nil
}

func (s *server) addBooking(ctx context.Context, in *In[NewBooking]) (*Out[BookingCard], error) {
	b, err := s.booked(ctx, in.Body)
	if err != nil {
		return nil, err
	}
	if err := s.Store.AddBooking(ctx, b); err != nil {
		return nil, s.twice(ctx, b, err)
	}
	return s.bookingCard(ctx, b.ID)
}

// twice says that a vehicle is booked already at that time, and from when to when.
func (s *server) twice(ctx context.Context, b store.Booking, err error) error {
	var other *store.Booked
	if !errors.As(err, &other) {
		return err
	}
	from, to := s.local(ctx, other.ArrivesAt), s.local(ctx, other.PromisedAt)
	return conflict(fmt.Sprintf("%s is booked already from %s to %s: change or cancel that one first.", b.Vehicle.Plate,
		from.Format("2 January 15:04"), to.Format("15:04")))
}

func (s *server) bookingCard(ctx context.Context, id string) (*Out[BookingCard], error) {
	v, err := s.Store.Booking(ctx, id)
	if err != nil {
		return nil, err
	}
	states, err := s.runningStates(ctx, []store.BookingView{v})
	if err != nil {
		return nil, err
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return nil, err
	}
	return out(s.card(ctx, v, states, menu))
}

// mayWash refuses people who do not wash.
func (s *server) mayWash(ctx context.Context, id string) error {
	p, err := s.Store.Person(ctx, id)
	if err != nil {
		return err
	}
	if p.Role == shop.Auditor || !p.Active {
		return invalid("washerId", fmt.Errorf("%s does not wash: choose a washer, a trainee or the lead", p.Name))
	}
	return nil
}

func (s *server) setWasher(ctx context.Context, in *struct {
	ID
	Body struct {
		WasherID string `json:"washerId" format:"uuid"`
		Version  int    `json:"version"`
	}
}) (*Out[BookingCard], error) {
	if err := s.mayWash(ctx, in.Body.WasherID); err != nil {
		return nil, err
	}
	err := s.Store.SetWasher(ctx, in.ID.ID, in.Body.WasherID, in.Body.Version)
	if now, again := s.Store.Booking(ctx, in.ID.ID); errors.Is(err, store.ErrStale) && again == nil {
		return nil, stale("washerId", in.Body.WasherID, theirs{doc: now.Booking.WasherID})
	}
	if err != nil {
		return nil, err
	}
	return s.bookingCard(ctx, in.ID.ID)
}
