package api

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/schedule"
	"uskel/core/visit"
	"uskel/store"
)

func (s *server) findSlots(ctx context.Context, in *In[struct {
	BookingID string `json:"bookingId" format:"uuid"`
}]) (*Out[[]Proposal], error) {
	done, err := s.heavy(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	now, _, t, err := s.laidOut(ctx)
	if err != nil {
		return nil, err
	}
	found, err := s.slotsFor(ctx, now, t, in.Body.BookingID)
	return &Out[[]Proposal]{found}, err
}

// slotsFor are the best slots for a booking on a day that is laid out.
func (s *server) slotsFor(ctx context.Context, now dayPlan, t schedule.Timeline, id string) ([]Proposal, error) {
	at := slices.IndexFunc(now.views, func(v store.BookingView) bool { return v.Booking.ID == id })
	if at < 0 {
		return nil, store.NoSuch("booking on that day")
	}
	if _, err := now.views[at].Booking.Stage.After(visit.Arrange); err != nil {
		return nil, err
	}
	before := now.view(t)
	found := []Proposal{}
	for _, place := range now.settings.Places {
		if booked := now.views[at].Booking.Place; now.assumed[id] &&
			(place.Supply != booked.Supply || place.Runoff != booked.Runoff) {
			continue // nobody has seen yet whether it could do with less water
		}
		for k, h := range now.hands {
			if len(now.people[k].Skills) == 0 {
				continue
			}
			p, ok, err := s.propose(ctx, now, before, &t, id, place, h)
			if err != nil {
				return nil, err
			}
			if ok {
				found = append(found, p)
			}
		}
	}
	return day.BestSlots(found, func(p Proposal) day.SlotWorth {
		return day.SlotWorth{Who: p.Washer.ID, Pain: p.Late + p.Delays, Ready: p.ReadyAt}
	}), nil
}

// propose lays the day out with a booking at a place in somebody's hands and says what it means.
func (s *server) propose(
	ctx context.Context,
	now dayPlan,
	before DayView,
	near *schedule.Timeline,
	id string,
	place condition.Place,
	h hand,
) (Proposal, bool, error) {
	at := slices.IndexFunc(now.views, func(v store.BookingView) bool { return v.Booking.ID == id })
	starts := now.zero.Add(max(now.now, measure.SecondsOf(now.views[at].Booking.ArrivesAt.Sub(now.zero))).Duration())
	d := now
	d.views = moved(id, store.Slot{StartsAt: starts, Place: place, WasherID: &h.person.ID})(now.views)
	d.visits = slices.Clone(now.visits)
	gone := slices.IndexFunc(d.visits, func(v day.Visit) bool { return v.ID == id })
	if gone >= 0 {
		d.visits = slices.Delete(d.visits, gone, gone+1)
	}
	d.refused = map[string]string{}
	if err := s.addVisit(ctx, &d, d.views[at], nil); err != nil || len(d.refused) > 0 {
		return Proposal{}, false, err
	}
	p, t, err := s.layOut(ctx, d, slotEffort, near)
	// What could not be kept before on another vehicle is no reason against a slot for this one.
	keeps := func() bool { return t.Keeps(id) && len(t.Breaks(*near)) == 0 }
	if err == nil && !keeps() {
		p, t, err = s.layOut(ctx, d, 8*slotEffort, near)
	}
	if err != nil || !keeps() {
		return Proposal{}, false, err
	}
	view := d.view(t)
	mine := slices.IndexFunc(view.Visits, func(v DayVisit) bool { return v.Booking.ID == id })
	v := view.Visits[mine]
	if v.End > 24*3600 || len(v.Who) == 0 {
		return Proposal{}, false, nil
	}
	proposal := Proposal{
		Place:  place.Key(),
		Called: place.Name,
		Washer: ref(h.person),
		StartsAt: d.zero.Add(v.Start.Duration()).
			UTC(),
		ReadyAt: d.zero.Add(v.End.Duration()).UTC(),
		Late:    int(v.Late / 60),
		Risk:    riskOf(p, t, id),
	}
	for _, other := range view.Visits {
		was := slices.IndexFunc(before.Visits, func(x DayVisit) bool { return x.Booking.ID == other.Booking.ID })
		if other.Booking.ID != id && was >= 0 {
			proposal.Delays += int(max(0, other.End-before.Visits[was].End) / 60)
		}
	}
	proposal.Says = v.Says
	if others := v.Who[1:]; len(others) > 0 {
		proposal.Says += " With help from " + strings.Join(others, " and ") + "."
	}
	return proposal, true, nil
}

// riskOf is the chance that some product dries on one vehicle of the day.
func riskOf(p schedule.Problem, t schedule.Timeline, job string) float64 {
	none := 1.0
	for _, d := range schedule.Chances(p, t, func(schedule.Work, string) schedule.Spread { return schedule.Practised }, 100, 1) {
		if strings.HasPrefix(d.From, job+":") {
			none *= 1 - d.Chance
		}
	}
	return 1 - none
}

// improveFor is how long a day is looked at for something better, unless it is stopped before.
const improveFor = 12 * time.Second

// Better is told of each better day.
type Better struct {
	Gap     float64 `json:"gap"`
	Late    int     `json:"late" doc:"minutes after promises, all vehicles together"`
	Finish  string  `json:"finish" doc:"when the last is ready"`
	Seconds int     `json:"seconds" doc:"looked for so long"`
	Of      int     `json:"of" doc:"s at most"`
	Done    bool    `json:"done"`
}

// improveDay goes on looking for a better day and tells of each as an event. Whoever listens stops it by hanging up:
// the best so far is kept.
func (s *server) improveDay(ctx context.Context, _ *struct{}) (*huma.StreamResponse, error) {
	d, p, best, err := s.laidOut(ctx)
	if err != nil {
		return nil, err
	}
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		hc.SetHeader("Content-Type", "text/event-stream")
		hc.SetHeader("X-Accel-Buffering", "no")
		began := time.Now()
		tell := func(t schedule.Timeline, done bool) {
			view := d.view(t)
			b := Better{
				Gap:     t.Gap,
				Seconds: int(time.Since(began).Seconds()),
				Of:      int(improveFor.Seconds()),
				Done:    done,
			}
			for _, v := range view.Visits {
				b.Late += int(v.Late / 60)
			}
			b.Finish = d.clock(t.Finish)
			data, _ := json.Marshal(b)
			send(hc.BodyWriter(), fmt.Sprintf("data: %s\n\n", data))
		}
		tell(best, false)
		if len(p.Work) == 0 {
			return
		}
		told := time.Now()
		gone := hc.Context()
		stop := func() bool {
			if time.Since(told) > time.Second {
				told = time.Now()
				tell(best, false)
			}
			return gone.Err() != nil || time.Since(began) > improveFor
		}
		key, err := keyOf(p)
		if err != nil {
			return
		}
		done, err := s.heavy(gone)
		if err != nil {
			return
		}
		defer done()
		for seed := int64(2); !stop(); seed++ {
			t, err := schedule.Solve(p, schedule.Options{Seed: seed, Effort: 2 * dayEffort, Stop: stop})
			if err == nil && t.Feasible && (t.Gap < best.Gap || !best.Feasible) {
				best = t
				s.days.keep(key, best)
				tell(best, false)
			}
		}
		tell(best, true)
	}}, nil
}

func (s *server) exportDay(ctx context.Context, in *struct {
	Format string `query:"format" enum:"ics,csv" default:"ics"`
	Person string `query:"person" format:"uuid" doc:"only this person's shift"`
}) (*Document, error) {
	d, _, t, err := s.laidOut(ctx)
	if err != nil {
		return nil, err
	}
	view, err := s.veiledDay(ctx, d, t)
	if err != nil {
		return nil, err
	}
	name := "day-" + d.zero.Format("2006-01-02")
	who := ""
	if in.Person != "" {
		if who = d.here(in.Person); who == "" {
			return nil, store.NoSuch("person who washes")
		}
		name = "shift-" + d.zero.Format("2006-01-02")
	}
	if in.Format == "csv" {
		return tableFile(name, dayTable(d, view, who, t.Names))
	}
	return &Document{
		"text/calendar; charset=utf-8",
		`attachment; filename="` + name + `.ics"`,
		[]byte(s.dayCalendar(d, view, who)),
	}, nil
}

// spanOf is from somebody's first work on a vehicle to their last; zero when they have none.
func spanOf(view DayView, job, who string) (measure.Seconds, measure.Seconds) {
	first, last := measure.Seconds(0), measure.Seconds(0)
	for _, s := range view.Slots {
		if s.Job == job && s.Who == who {
			if last == 0 || s.Start < first {
				first = s.Start
			}
			last = max(last, s.End)
		}
	}
	return first, last
}

// dayTable is the day as lines: one for each activity.
func dayTable(d dayPlan, view DayView, who string, names map[string]string) [][]string {
	lines := [][]string{{"start", "end", "plate", "vehicle", "bay", "who", "work", "machine", "procedure", "promised"}}
	at := map[string]DayVisit{}
	for _, v := range view.Visits {
		at[v.Booking.ID] = v
	}
	for _, s := range view.Slots {
		if who != "" && s.Who != who {
			continue
		}
		v := at[s.Job]
		lines = append(lines, []string{d.clock(s.Start), d.clock(s.End), v.Booking.Plate, v.Booking.Label, v.BayName,
			d.called(s.Who), s.Title, strings.Join(named(s.Machines, names),
				", "), v.Title, d.clock(measure.SecondsOf(v.Booking.PromisedAt.Sub(d.zero)))})
	}
	return lines
}

// named gives people or machines their names.
func named(ids []string, names map[string]string) []string {
	called := make([]string, len(ids))
	for i, id := range ids {
		called[i] = cmp.Or(names[id], id)
	}
	return called
}

// NoticeView is a notice in the outbox.
type NoticeView struct {
	ID    string    `json:"id"`
	Plate string    `json:"plate"`
	Text  string    `json:"text"`
	By    string    `json:"by"`
	At    time.Time `json:"at"`
	Waits bool      `json:"waits,omitempty" doc:"nobody has told the customer yet"`
}

// NoticeDraft is what a customer would be told now: read before it is sent, and changed where it is not so.
type NoticeDraft struct {
	Text string `json:"text" doc:"empty where there are no usual words: somebody writes them"`
}

// noticeDraft says what a customer would be told by how things stand.
func (s *server) noticeDraft(ctx context.Context, in *ID) (*Out[NoticeDraft], error) {
	d, _, t, err := s.laidOut(ctx)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(d.views, func(v store.BookingView) bool { return v.Booking.ID == in.ID })
	var b store.Booking
	if at >= 0 {
		b = d.views[at].Booking
	} else if v, err := s.Store.Booking(ctx, in.ID); err != nil {
		return nil, err
	} else {
		b = v.Booking
	}
	text, _ := b.Stage.Words(b.Vehicle.Label, b.Vehicle.Plate, d.expected(t, b))
	return out(NoticeDraft{text})
}

// expected is when a vehicle is ready: by its own pulse while it is washed, else as its day is laid out. Where nothing is laid out, or
// it cannot be washed as booked, nothing is expected.
func (d dayPlan) expected(t schedule.Timeline, b store.Booking) visit.Expected {
	for _, line := range d.view(t).Visits {
		if line.Booking.ID != b.ID || len(line.Who) == 0 || d.refused[b.ID] != "" {
			continue
		}
		at := d.zero.Add(line.End.Duration())
		if line.Booking.ReadyAt != nil {
			at = *line.Booking.ReadyAt
		}
		return visit.Expected{Ready: at.In(d.zero.Location()), Promised: b.PromisedAt}
	}
	return visit.Expected{}
}

func (s *server) notice(ctx context.Context, in *struct {
	ID
	Body struct {
		Text string `json:"text" minLength:"1" maxLength:"500" doc:"what is told, as it was read"`
	}
}) (*Out[NoticeView], error) {
	text := strings.TrimSpace(in.Body.Text)
	if text == "" {
		return nil, invalid("text", errors.New("text: write what the customer is to be told"))
	}
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	plate := v.Booking.Vehicle.Plate
	n := store.Notice{
		ID:        store.NewID(),
		BookingID: in.ID.ID,
		Text:      text,
		ByID:      who(ctx).ID,
		At:        s.Now().UTC().Truncate(time.Microsecond),
	}
	sent, err := s.Outbox.Send(ctx, plate, text)
	if err != nil {
		return nil, err
	}
	if sent {
		n.SentAt = &n.At
	}
	if err := s.Store.AddNotice(ctx, n); err != nil {
		return nil, err
	}
	return out(NoticeView{n.ID, plate, text, who(ctx).Name, n.At, !sent})
}

// told notes that somebody has told a customer what waited to be told.
func (s *server) told(ctx context.Context, in *ID) (*struct{}, error) {
	return nil, s.Store.SentNotice(ctx, in.ID, s.Now())
}

func (s *server) outbox(ctx context.Context, _ *struct{}) (*Out[[]NoticeView], error) {
	day, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.Store.Notices(ctx, day)
	if err != nil {
		return nil, err
	}
	views, err := s.Store.Bookings(ctx, day.AddDate(0, 0, -1), day.AddDate(0, 0, 1))
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	notices := []NoticeView{}
	for _, n := range rows {
		v := NoticeView{ID: n.ID, Text: n.Text, At: n.At.UTC(), Waits: n.SentAt == nil}
		if at := slices.IndexFunc(
			views,
			func(b store.BookingView) bool { return b.Booking.ID == n.BookingID },
		); at >= 0 {
			v.Plate = views[at].Booking.Vehicle.Plate
		}
		if at := slices.IndexFunc(people, func(p store.Person) bool { return p.ID == n.ByID }); at >= 0 {
			v.By = people[at].Name
		}
		notices = append(notices, v)
	}
	return out(notices)
}

// CareLine is what a vehicle needs next.
type CareLine struct {
	VehicleID string          `json:"vehicleId"`
	Plate     string          `json:"plate"`
	Label     string          `json:"label"`
	Washed    time.Time       `json:"washed"`
	Due       []condition.Due `json:"due" doc:"the first due first"`
}

func (s *server) care(ctx context.Context, in *Paged) (*Out[[]CareLine], error) {
	rows, err := s.Store.Care(ctx, in.From, in.Most)
	if err != nil {
		return nil, err
	}
	lines := make([]CareLine, len(rows))
	for i, r := range rows {
		lines[i] = CareLine{r.ID, r.Plate, r.Label, r.Care.Past.Washed.UTC(), r.Care.Due()}
	}
	return out(lines)
}

// Paged is a part of a long list.
type Paged struct {
	From int `query:"from" minimum:"0" maximum:"1000000" default:"0" doc:"how many to leave out"`
	Most int `query:"most" minimum:"1" maximum:"500" default:"100" doc:"how many to give"`
}
