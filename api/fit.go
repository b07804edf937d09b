package api

import (
	"context"
	"fmt"
	"slices"
	"time"

	"uskel/core/measure"
	"uskel/core/schedule"
	"uskel/store"
)

// Fit is whether a booking would fit into its day, before it is saved.
type Fit struct {
	Fits    bool       `json:"fits"             doc:"ready by its promise, and no other vehicle is made late"`
	Says    string     `json:"says"`
	ReadyAt time.Time  `json:"readyAt,omitzero"`
	Late    []string   `json:"late"             doc:"plates of other vehicles that it would make late"`
	Where   []Proposal `json:"where"            doc:"where and when it would fit better; empty when it fits"`
}

// NewTimes is a booking with what it is changed to.
type NewTimes struct {
	NewBooking
	Version int `json:"version"`
}

func (s *server) changeBooking(ctx context.Context, in *struct {
	ID
	Body NewTimes
}) (*Out[BookingCard], error) {
	was, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	b, err := s.booked(ctx, in.Body.NewBooking)
	if err != nil {
		return nil, err
	}
	if b.VehicleID != was.Booking.VehicleID {
		return nil, invalid("vehicleId", fmt.Errorf("the vehicle of a booking cannot change: cancel it and book again"))
	}
	b.ID, b.Version = in.ID.ID, in.Body.Version
	if b.ArrivesAt.Equal(was.Booking.ArrivesAt) {
		b.StartsAt = was.Booking.StartsAt
	}
	if err := s.Store.ChangeBooking(ctx, b); err != nil {
		return nil, s.twice(ctx, b, err)
	}
	return s.bookingCard(ctx, b.ID)
}

// fit lays the day out with the booking in it and without, and looks for better slots where it does not fit.
func (s *server) fit(ctx context.Context, in *In[struct {
	NewBooking
	BookingID string `json:"bookingId,omitempty" format:"uuid" doc:"the booking that is to be changed; absent for a new one"`
}]) (*Out[Fit], error) {
	b, err := s.booked(ctx, in.Body.NewBooking)
	if err != nil {
		return nil, err
	}
	done, err := s.heavy(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	today, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	zero, err := s.onDay(ctx, b.ArrivesAt.In(today.Location()).Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	without := func(views []store.BookingView) []store.BookingView {
		return slices.DeleteFunc(views, func(v store.BookingView) bool { return v.Booking.ID == in.Body.BookingID })
	}
	before, err := s.gatherDay(ctx, zero, without)
	if err != nil {
		return nil, err
	}
	_, was, err := s.layOut(ctx, before, dropEffort, nil)
	if err != nil {
		return nil, err
	}
	d, err := s.gatherDay(ctx, zero, func(views []store.BookingView) []store.BookingView {
		return append(without(views), store.BookingView{Booking: b})
	})
	if err != nil {
		return nil, err
	}
	_, t, err := s.layOut(ctx, d, dropEffort, &was)
	if err != nil {
		return nil, err
	}
	f := fitOf(before.view(was), was, d, t, b)
	if !f.Fits && d.refused[b.ID] == "" {
		if f.Where, err = s.slotsFor(ctx, d, t, b.ID); err != nil {
			return nil, err
		}
	}
	return out(f)
}

// fitOf compares the day with a booking to the day without.
func fitOf(before DayView, was schedule.Timeline, d dayPlan, t schedule.Timeline, b store.Booking) Fit {
	f := Fit{Late: []string{}, Where: []Proposal{}}
	late, broken := map[string]measure.Seconds{}, t.Breaks(was)
	for _, v := range before.Visits {
		late[v.Booking.ID] = v.Late
	}
	for _, v := range d.view(t).Visits {
		if v.Booking.ID == b.ID {
			f.Says, f.Fits = v.Says, t.Keeps(b.ID) && v.Late < measure.Minute && d.refused[b.ID] == "" && len(v.Who) > 0
			f.ReadyAt = d.zero.Add(v.End.Duration()).UTC()
			if len(v.Who) == 0 && d.refused[b.ID] == "" {
				f.Says = "Nobody is there to wash it at that hour."
			}
			continue
		}
		if v.Late >= measure.Minute && v.Late > late[v.Booking.ID] || slices.Contains(broken, v.Booking.ID) {
			f.Late = append(f.Late, v.Booking.Plate)
		}
	}
	f.Fits = f.Fits && len(f.Late) == 0
	return f
}
