package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/judge"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
)

// DayView is the day laid out: every vehicle in its bay, everybody's work.
type DayView struct {
	Zero     time.Time       `json:"zero" doc:"midnight where the shop stands; the timeline counts from it"`
	Opens    measure.Seconds `json:"opens"`
	Closes   measure.Seconds `json:"closes"`
	Now      measure.Seconds `json:"now"`
	Visits   []DayVisit      `json:"visits"`
	Slots    []schedule.Slot `json:"slots"`
	Soaks    []schedule.Soak `json:"soaks"`
	People   []DayPerson     `json:"people"`
	Bays     []DayBay        `json:"bays"`
	Hours    []climate.Hour  `json:"hours"`
	Conflict []string        `json:"conflicts" doc:"what does not work out, in words"`
	Gap      float64         `json:"gap" doc:"share by which the weighed finishes may at most be better"`
	Tries    int             `json:"tries"`
}

// DayVisit is a booking on its day.
type DayVisit struct {
	Booking BookingCard     `json:"booking"`
	Start   measure.Seconds `json:"start"`
	End     measure.Seconds `json:"end" doc:"ready"`
	Bay     string          `json:"bay" doc:"id of its place"`
	BayName string          `json:"bayName"`
	Who     []string        `json:"who" doc:"names"`
	Late    measure.Seconds `json:"late" doc:"after the promise; 0 when in time"`
	Assumed bool            `json:"assumed" doc:"not looked over yet: two weeks of dry road are assumed"`
	Fixed   bool            `json:"fixed" doc:"was given its slot by hand"`
	Title   string          `json:"title" doc:"procedure; empty for whoever grades the vehicle again, blind"`
	Says    string          `json:"says"`
}

// DayPerson is somebody's day.
type DayPerson struct {
	Person PersonRef       `json:"person"`
	Shut   []schedule.Span `json:"shut"`
	Busy   measure.Seconds `json:"busy"`
	Absent bool            `json:"absent" doc:"is not there on that day"`
}

// DayBay is a place and when it may not be used.
type DayBay struct {
	ID   string          `json:"id"`
	Name string          `json:"name"`
	Shut []schedule.Span `json:"shut"`
}

// Proposal is a slot for a booking.
type Proposal struct {
	Place    string    `json:"place" doc:"id"`
	Called   string    `json:"called" doc:"the place's name"`
	Washer   PersonRef `json:"washer"`
	StartsAt time.Time `json:"startsAt"`
	ReadyAt  time.Time `json:"readyAt"`
	Late     int       `json:"late" doc:"minutes after the promise"`
	Delays   int       `json:"delays" doc:"minutes by which other vehicles are done later, together"`
	Risk     float64   `json:"risk" doc:"chance that some product dries on it, 0 to 1"`
	Says     string    `json:"says"`
}

func (s *server) registerDay(api huma.API) {
	operation(s, api, get("/day", "day", "The day laid out"), shop.See, s.day)
	operation(
		s,
		api,
		post("/day/drop", "dropOnSlot", "What it would mean to give a booking a slot; nothing is saved"),
		shop.RunTheDay,
		s.drop,
	)
	operation(s, api, post("/day/slots", "findSlots", "Three slots for a booking"), shop.RunTheDay, s.findSlots)
	operation(s, api, put("/bookings/{id}/slot", "giveSlot", "Give a booking a slot"), shop.RunTheDay, s.giveSlot)
	operation(
		s,
		api,
		streams[Better](
			api,
			get("/day/improve", "improveDay", "Go on looking for a better day, told as events until it is stopped"),
		),
		shop.RunTheDay,
		s.improveDay,
	)
	operation(s, api, put("/day/absent", "setAbsent", "Say who is not there today, and lay the day out again"), shop.RunTheDay, s.setAbsent)
	operation(s, api, file(get("/day/export", "exportDay", "The day as a calendar or a table"), "text/calendar", "text/csv"), shop.See,
		s.exportDay)
	operation(s, api, get("/bookings/{id}/notice", "noticeDraft", "What the customer would be told now"), shop.LookOver, s.noticeDraft)
	operation(s, api, post("/bookings/{id}/notice", "notice", "Tell the customer"), shop.LookOver, s.notice)
	operation(s, api, get("/outbox", "outbox", "Notices handed over today"), shop.See, s.outbox)
	operation(s, api, post("/outbox/{id}/told", "told", "Say that the customer was told"), shop.LookOver, s.told)
	operation(s, api, get("/care", "care", "What every vehicle needs next"), shop.See, s.care)
}

// Efforts of a day, in activities laid down: as it is opened, another day than today, as a booking is dropped on a
// slot, and for each slot looked at.
const (
	dayEffort   = 1_200_000
	otherEffort = 200_000
	dropEffort  = 50_000
	slotEffort  = 15_000
)

// nowStep keeps the day from being laid out anew with every second.
const nowStep = 5 * measure.Minute

// dayPlan is what a day is laid out from.
type dayPlan struct {
	basis
	zero    time.Time
	now     measure.Seconds
	hands   []hand
	views   []store.BookingView
	cards   []BookingCard
	visits  []day.Visit
	assumed map[string]bool
	refused map[string]string
	kit     []schedule.Machine
	people  []schedule.Person
	hours   []climate.Hour
	absent  []string // ids of who is not there
}

// gatherDay reads the day that begins at zero; change alters the bookings before they are planned.
func (s *server) gatherDay(
	ctx context.Context,
	zero time.Time,
	change func([]store.BookingView) []store.BookingView,
) (dayPlan, error) {
	d := dayPlan{zero: zero, assumed: map[string]bool{}, refused: map[string]string{}}
	var err error
	d.now = min(max(0, measure.SecondsOf(s.Now().Sub(d.zero))/nowStep*nowStep), measure.Day)
	if d.basis, err = s.basis(ctx); err != nil {
		return d, err
	}
	if d.hands, _, err = s.hands(ctx); err != nil {
		return d, err
	}
	read := s.Store.Bookings
	if now := s.Now(); !now.Before(zero) && now.Before(zero.AddDate(0, 0, 1)) { // today: with what stands here from before
		read = s.Store.Standing
	}
	if d.views, err = read(ctx, d.zero, d.zero.AddDate(0, 0, 1)); err != nil {
		return d, err
	}
	d.views = slices.DeleteFunc(d.views, func(v store.BookingView) bool { // nobody has said yet that it did not come
		return v.Booking.Stage == visit.Booked && v.Booking.PromisedAt.Before(zero)
	})
	if change != nil {
		d.views = change(d.views)
	}
	states, err := s.runningStates(ctx, d.views)
	if err != nil {
		return d, err
	}
	if d.hours, err = s.hoursOf(ctx, d.zero); err != nil {
		return d, err
	}
	if d.absent, err = s.Store.Absent(ctx, d.zero); err != nil {
		return d, err
	}
	d.open()
	for _, v := range d.views {
		d.cards = append(d.cards, s.card(ctx, v, states, d.basis.settings.Menu()))
	}
	return d, s.visits(ctx, &d, states)
}

// open sets up the people in their shifts, the machines, and the bays; one under the open sky is shut while it rains.
func (d *dayPlan) open() {
	d.kit = d.settings.Kit()
	for _, h := range d.hands {
		for _, shift := range d.settings.Shifts {
			if shift.PersonID == h.person.ID {
				h.as.Shut = append(h.as.Shut, shift.Off(d.zero)...)
			}
		}
		if d.absentToday(h.person.ID) {
			h.as.Shut = []schedule.Span{allDay}
		}
		d.people = append(d.people, h.as)
	}
	d.kit = append(d.kit, d.settings.Bays(d.zero, d.hours)...)
}

// visits plans every booking that is not finished.
func (s *server) visits(ctx context.Context, d *dayPlan, states map[string]wash.State) error {
	for _, v := range d.views {
		if !v.Booking.Stage.Planned() && v.Booking.Stage != visit.InBay {
			continue
		}
		if err := s.addVisit(ctx, d, v, states); err != nil {
			return err
		}
	}
	return nil
}

// addVisit plans one booking.
func (s *server) addVisit(ctx context.Context, d *dayPlan, v store.BookingView, states map[string]wash.State) error {
	b := v.Booking
	visit := day.Visit{ID: b.ID, Place: shop.BayKey(b.Place.Key()), Arrives: measure.SecondsOf(b.ArrivesAt.Sub(d.zero)),
		Promised: max(1, measure.SecondsOf(b.PromisedAt.Sub(d.zero)))}
	if b.StartsAt != nil {
		visit.Arrives = max(visit.Arrives, measure.SecondsOf(b.StartsAt.Sub(d.zero)))
	}
	visit.Arrives = max(0, visit.Arrives)
	if b.WasherID != nil && !d.absentToday(*b.WasherID) { // theirs again when they are back
		visit.Washer = d.here(*b.WasherID)
	}
	if b.Arranged != nil {
		if beside := b.Arranged.Beside; beside != nil && d.here(beside.Trainer) != "" && !d.absentToday(beside.Trainer) {
			visit.Beside = beside
		}
		for _, id := range b.Arranged.People {
			if d.here(id) != "" && id != visit.Washer && !d.absentToday(id) {
				visit.Helpers = append(visit.Helpers, id)
			}
		}
	}
	if !slices.ContainsFunc(d.kit, func(m schedule.Machine) bool { return m.Key() == visit.Place }) {
		d.kit = append(
			d.kit,
			schedule.Machine{ID: visit.Place, Name: b.Place.Name, Count: 1},
		) // a place that is no longer in the settings
	}
	return s.planVisit(ctx, d, v, &visit, states)
}

// here is somebody's id if they wash here; "" otherwise.
func (d *dayPlan) here(id string) string {
	if slices.ContainsFunc(d.hands, func(h hand) bool { return h.person.ID == id }) {
		return id
	}
	return ""
}

// called is the name of somebody who washes here.
func (d *dayPlan) called(id string) string {
	at := slices.IndexFunc(d.hands, func(h hand) bool { return h.person.ID == id })
	if at < 0 {
		return ""
	}
	return d.hands[at].as.Name
}

// planVisit fills the procedure for a visit at the hour it arrives. What is in the bay keeps its plan.
func (s *server) planVisit(
	ctx context.Context,
	d *dayPlan,
	v store.BookingView,
	visit *day.Visit,
	states map[string]wash.State,
) error {
	if v.Wash != nil {
		w, err := s.Store.Wash(ctx, v.Wash.ID)
		if err != nil {
			return err
		}
		visit.Plan = w.Plan
		if visit.Washer = d.here(w.WasherID); d.absentToday(w.WasherID) {
			visit.Washer = "" // somebody else goes on with it
		}
		since := func(t time.Time) measure.Seconds { return max(0, measure.SecondsOf(t.Sub(d.zero))) } // what began yesterday began at midnight
		visit.Done = progress(states[v.Wash.ID], d.hands, since)
		d.visits = append(d.visits, *visit)
		return nil
	}
	look := assumed(v.Booking, d.basis.settings.Menu())
	if v.LookOver != nil {
		look = v.LookOver.Doc
	}
	look.Place = v.Booking.Place
	d.assumed[v.Booking.ID] = v.LookOver == nil
	at := d.zero.Add(max(visit.Arrives, d.now).Duration()).Truncate(time.Hour)
	f, err := s.fill(ctx, d.basis, v.Booking, look, at, arrangedOf(v.Booking))
	if err != nil {
		return err
	}
	made, err := f.made()
	if err != nil &&
		f.arranged.Procedure != "" { // what was arranged cannot be done at that hour: the recommended one is
		if f, err = s.fill(ctx, d.basis, v.Booking, look, at, plan.Arranged{}); err != nil {
			return err
		}
		made, err = f.made()
	}
	if err != nil {
		d.refused[v.Booking.ID] = judge.NothingDelivers(f.choices, f.job)
		return nil
	}
	visit.Plan = made
	d.visits = append(d.visits, *visit)
	return nil
}

// assumed is what a vehicle that nobody has looked over yet is taken for: two weeks of dry road, grade 1 above and 2
// below (docs/trade.md, section 3).
func assumed(b store.Booking, menu condition.Menu) condition.LookOver {
	look := blank(b, menu)
	for _, p := range b.Vehicle.Spec.Body.Parts() {
		look.Grades[p.Zone] = contact.Grade(1)
		if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
			look.Grades[p.Zone] = 2
		}
	}
	return look
}

// layOut solves the day, or takes what was found for it before.
func (s *server) layOut(
	ctx context.Context,
	d dayPlan,
	effort int,
	near *schedule.Timeline,
) (schedule.Problem, schedule.Timeline, error) {
	p := day.Day(d.visits, d.people, d.kit, d.now)
	if len(p.Work) == 0 {
		return p, schedule.Timeline{Feasible: true}, nil
	}
	key, err := keyOf(p)
	if err != nil {
		return p, schedule.Timeline{}, err
	}
	if t, known := s.days.find(key); known {
		return p, t, nil
	}
	t, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: effort, Near: near, Stop: until(ctx)})
	if err == nil {
		err = ctx.Err() // what was broken off is nobody's day
	}
	if err != nil {
		return p, t, err
	}
	if effort >= dayEffort {
		t = s.bestOf(key, p, t)
	}
	return p, t, nil
}

func (s *server) keepDay(key string, p schedule.Problem, t schedule.Timeline) {
	s.days.keep(key, t)
	s.lastDay.Store(&laidDay{t, t.Feasible, t.Weighed(p), len(p.Jobs)})
}

// nearDay is the newest laid-out day, to begin another from; nil when there is none.
func (s *server) nearDay() *schedule.Timeline {
	if last := s.lastDay.Load(); last != nil {
		return &last.timeline
	}
	return nil
}

// openDay lays the day out for somebody who looks at it. Where there is a day to begin from, as when some minutes
// have passed or a tap was made, it is brought up to date at once, and looked at for longer behind their back: the
// next look has that. Where bringing it up to date makes it clearly worse it is laid out anew before it is shown: for one state
// there is one day.
func (s *server) openDay(ctx context.Context, d dayPlan) (schedule.Problem, schedule.Timeline, error) {
	last := s.lastDay.Load()
	if last == nil {
		return s.layOut(ctx, d, dayEffort, nil)
	}
	p, t, err := s.layOut(ctx, d, dropEffort, &last.timeline)
	if err != nil || len(p.Work) == 0 {
		return p, t, err
	}
	key, err := keyOf(p)
	if err != nil {
		return p, t, err
	}
	if _, known := s.days.find(key); known {
		return p, t, nil
	}
	if last.worse(t, p) {
		if _, _, err := s.layOut(ctx, d, dayEffort, nil); err != nil {
			return p, t, err
		}
		return p, s.bestOf(key, p, t), nil
	}
	if s.refining.CompareAndSwap(false, true) {
		go func() {
			defer s.refining.Store(false)
			s.refine(key, p, t)
		}()
	}
	return p, t, nil
}

// laidDay is a day as it was laid out, and how good it was.
type laidDay struct {
	timeline schedule.Timeline
	feasible bool
	weighed  int64
	jobs     int
}

// clearly is by how much the lateness of one vehicle, or all finishes together, must grow before a day counts as worse, s a vehicle.
const clearly = 300

// worse reports whether a day that was only brought up to date is clearly worse than the one before it.
func (l *laidDay) worse(t schedule.Timeline, p schedule.Problem) bool {
	return l.feasible && !t.Feasible || l.jobs == len(p.Jobs) && t.Weighed(p) > l.weighed+clearly*int64(len(p.Jobs))
}

// refine looks at a day for longer, from what is shown and from nothing, and keeps the best of them: never one that is worse than
// what was shown.
func (s *server) refine(key string, p schedule.Problem, shown schedule.Timeline) {
	s.keepDay(key, p, shown)
	for _, near := range []*schedule.Timeline{&shown, nil} {
		t, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: dayEffort, Near: near, Stop: until(s.Ends)})
		if err == nil && s.Ends.Err() == nil {
			s.bestOf(key, p, t)
		}
	}
}

// bestOf keeps a timeline of a day if it beats the one that is kept, and gives the better of the two.
func (s *server) bestOf(key string, p schedule.Problem, t schedule.Timeline) schedule.Timeline {
	if kept, known := s.days.find(key); known && !t.Beats(kept, p) {
		return kept
	}
	s.keepDay(key, p, t)
	return t
}

// OnDay is which day, where the shop stands.
type OnDay struct {
	Date string `query:"date" pattern:"^\\d{4}-\\d{2}-\\d{2}$" doc:"YYYY-MM-DD; today when absent" example:"2026-04-15"`
}

func (s *server) day(ctx context.Context, in *OnDay) (*Out[DayView], error) {
	today, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	zero := today
	if in.Date != "" {
		if zero, err = s.onDay(ctx, in.Date); err != nil {
			return nil, err
		}
	}
	if zero.Equal(today) {
		d, _, t, err := s.laidOutOn(ctx, today)
		if err != nil {
			return nil, err
		}
		return s.dayView(ctx, d, t)
	}
	d, err := s.gatherDay(ctx, zero, nil)
	if err != nil {
		return nil, err
	}
	_, t, err := s.layOut(ctx, d, otherEffort, nil) // from nothing: few look at another day
	if err != nil {
		return nil, err
	}
	return s.dayView(ctx, d, t)
}

// dayView is a laid-out day as whoever asks may see it.
func (s *server) dayView(ctx context.Context, d dayPlan, t schedule.Timeline) (*Out[DayView], error) {
	v, err := s.veiledDay(ctx, d, t)
	return &Out[DayView]{v}, err
}

// veiledDay is a laid-out day without what is hidden from whoever asks.
func (s *server) veiledDay(ctx context.Context, d dayPlan, t schedule.Timeline) (DayView, error) {
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	v := d.view(t)
	for i := range v.Visits {
		v.Visits[i].Booking = v.Visits[i].Booking.unseen(veil)
		if veil.Bookings[v.Visits[i].Booking.ID] {
			v.Visits[i].Title = ""
		}
	}
	return v, err
}

// onDay is the beginning of a day by its date; today without one.
func (s *server) onDay(ctx context.Context, date string) (time.Time, error) {
	today, err := s.today(ctx)
	if err != nil || date == "" {
		return today, err
	}
	zero, err := time.ParseInLocation(time.DateOnly, date, today.Location())
	if err != nil {
		return zero, invalid("date", fmt.Errorf("%q is no day: write YYYY-MM-DD", date))
	}
	return zero, nil
}

// laidOut is today as it stands.
func (s *server) laidOut(ctx context.Context) (dayPlan, schedule.Problem, schedule.Timeline, error) {
	zero, err := s.today(ctx)
	if err != nil {
		return dayPlan{}, schedule.Problem{}, schedule.Timeline{}, err
	}
	return s.laidOutOn(ctx, zero)
}

// laidOutOn is the same where it is known when today begins.
func (s *server) laidOutOn(ctx context.Context, zero time.Time) (dayPlan, schedule.Problem, schedule.Timeline, error) {
	d, err := s.gatherDay(ctx, zero, nil)
	if err != nil {
		return d, schedule.Problem{}, schedule.Timeline{}, err
	}
	p, t, err := s.openDay(ctx, d)
	return d, p, t, err
}

// view shows a laid-out day.
func (d dayPlan) view(t schedule.Timeline) DayView {
	v := DayView{
		Zero:     d.zero.UTC(),
		Opens:    shop.Clock(d.zero, firstHour*60),
		Closes:   shop.Clock(d.zero, lastHour*60),
		Now:      d.now,
		Visits:   []DayVisit{},
		Slots:    t.Slots,
		Soaks:    t.Soaks,
		Hours:    d.hours,
		Conflict: []string{},
		Gap:      t.Gap,
		Tries:    t.Tries,
	}
	if v.Slots == nil {
		v.Slots, v.Soaks = []schedule.Slot{}, []schedule.Soak{}
	}
	for i, b := range d.views {
		v.Visits = append(v.Visits, d.visit(b, d.cards[i], t))
	}
	slices.SortStableFunc(v.Visits, func(a, b DayVisit) int { return int(a.Start - b.Start) })
	for k, h := range d.hands {
		person := DayPerson{Person: ref(h.person), Shut: d.people[k].Shut, Absent: d.absentToday(h.person.ID)}
		if person.Shut == nil {
			person.Shut = []schedule.Span{}
		}
		for _, s := range t.Slots {
			if s.Who == h.as.ID {
				person.Busy += s.End - s.Start
			}
		}
		v.People = append(v.People, person)
	}
	for _, m := range d.kit {
		if place, bay := shop.BayPlace(m); bay {
			shut := m.Shut
			if shut == nil {
				shut = []schedule.Span{}
			}
			v.Bays = append(v.Bays, DayBay{place, m.Name, shut})
		}
	}
	for _, x := range v.Visits {
		if conflict := d.standing(x).Conflict(); conflict != "" {
			v.Conflict = append(v.Conflict, conflict)
		}
	}
	v.Conflict = append(v.Conflict, t.Why...)
	return v
}

func (d dayPlan) visit(b store.BookingView, card BookingCard, t schedule.Timeline) DayVisit {
	v := DayVisit{Booking: card, Bay: b.Booking.Place.Key(), BayName: b.Booking.Place.Name, Who: []string{},
		Assumed: d.assumed[b.Booking.ID], Fixed: b.Booking.StartsAt != nil}
	if at := slices.IndexFunc(d.visits, func(x day.Visit) bool { return x.ID == b.Booking.ID }); at >= 0 {
		v.Title = d.visits[at].Plan.Title
	}
	first := true
	for _, s := range t.Slots {
		if s.Job != b.Booking.ID {
			continue
		}
		if first || s.Start < v.Start {
			v.Start = s.Start
		}
		first, v.End = false, max(v.End, s.End)
		if name := d.called(s.Who); name != "" && !slices.Contains(v.Who, name) {
			v.Who = append(v.Who, name)
		}
	}
	if first { // finished, or not to be planned
		v.Start = max(0, measure.SecondsOf(b.Booking.ArrivesAt.Sub(d.zero)))
		v.End = v.Start + 1800
		if b.Wash != nil && b.Wash.FinishedAt != nil {
			v.Start, v.End = max(
				0,
				measure.SecondsOf(b.Wash.CreatedAt.Sub(d.zero)),
			), measure.SecondsOf(
				b.Wash.FinishedAt.Sub(d.zero),
			)
			v.Who = []string{b.Wash.Washer.Name}
		}
	}
	standing := d.standing(v)
	v.Late, v.Says = standing.Late(), standing.Says()
	return v
}

// standing is how a visit stands in the day.
func (d dayPlan) standing(v DayVisit) day.Standing {
	return day.Standing{Plate: v.Booking.Plate, Place: v.BayName, Stage: v.Booking.Stage,
		Refused: d.refused[v.Booking.ID], Ready: v.End, Promised: measure.SecondsOf(v.Booking.PromisedAt.Sub(d.zero)),
		Zero: d.zero}
}

// clock is a moment of the day as a clock on the wall shows it.
func (d dayPlan) clock(at measure.Seconds) string { return d.zero.Add(at.Duration()).Format("15:04") }

// Drop is a booking on a slot.
type Drop struct {
	BookingID string    `json:"bookingId" format:"uuid"`
	StartsAt  time.Time `json:"startsAt"`
	Place     string    `json:"place" minLength:"1" maxLength:"80" doc:"id of a place"`
	WasherID  string    `json:"washerId,omitempty" format:"uuid" doc:"anybody when absent"`
}

// slot finds what a drop names.
func (s *server) slot(ctx context.Context, to Drop) (store.Slot, error) {
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return store.Slot{}, err
	}
	at := slices.IndexFunc(settings.Places, func(p condition.Place) bool { return p.Key() == to.Place })
	if at < 0 {
		return store.Slot{}, invalid(
			"place",
			fmt.Errorf("there is no place %q: use the id of one of the shop's places", to.Place),
		)
	}
	slot := store.Slot{StartsAt: to.StartsAt.UTC().Truncate(time.Second), Place: settings.Places[at]}
	if to.WasherID != "" {
		if err := s.mayWash(ctx, to.WasherID); err != nil {
			return slot, err
		}
		slot.WasherID = &to.WasherID
	}
	return slot, nil
}

// moved puts a booking on a slot in a list.
func moved(id string, to store.Slot) func([]store.BookingView) []store.BookingView {
	return func(views []store.BookingView) []store.BookingView {
		views = slices.Clone(views)
		for i := range views {
			if views[i].Booking.ID == id {
				views[i].Booking.StartsAt, views[i].Booking.Place, views[i].Booking.WasherID = &to.StartsAt, to.Place, to.WasherID
			}
		}
		return views
	}
}

func (s *server) drop(ctx context.Context, in *In[Drop]) (*Out[DayView], error) {
	slot, err := s.slot(ctx, in.Body)
	if err != nil {
		return nil, err
	}
	zero, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	d, err := s.gatherDay(ctx, zero, moved(in.Body.BookingID, slot))
	if err != nil {
		return nil, err
	}
	_, t, err := s.layOut(ctx, d, dropEffort, s.nearDay())
	if err != nil {
		return nil, err
	}
	view := d.view(t)
	at := slices.IndexFunc(view.Visits, func(v DayVisit) bool { return v.Booking.ID == in.Body.BookingID })
	if at < 0 {
		return nil, store.NoSuch("booking")
	}
	wanted := measure.SecondsOf(slot.StartsAt.Sub(d.zero))
	if later := d.standing(view.Visits[at]).Later(t, in.Body.BookingID, wanted); later != "" {
		view.Conflict = append([]string{later}, view.Conflict...)
	}
	return out(view)
}

func (s *server) giveSlot(ctx context.Context, in *struct {
	ID
	Body struct {
		StartsAt time.Time `json:"startsAt"`
		Place    string    `json:"place" minLength:"1" maxLength:"80"`
		WasherID string    `json:"washerId,omitempty" format:"uuid"`
		Version  int       `json:"version" minimum:"1"`
	}
}) (*Out[BookingCard], error) {
	slot, err := s.slot(ctx, Drop{in.ID.ID, in.Body.StartsAt, in.Body.Place, in.Body.WasherID})
	if err != nil {
		return nil, err
	}
	err = s.Store.MoveTo(ctx, in.ID.ID, slot, in.Body.Version)
	if now, again := s.Store.Booking(ctx, in.ID.ID); errors.Is(err, store.ErrStale) && again == nil {
		return nil, stale(
			"startsAt",
			slot,
			theirs{doc: store.Slot{Place: now.Booking.Place, WasherID: now.Booking.WasherID}},
		)
	}
	if err != nil {
		return nil, err
	}
	return s.bookingCard(ctx, in.ID.ID)
}
