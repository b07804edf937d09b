package api

import (
	"context"
	"fmt"
	"slices"

	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/store"
)

// AbsentView is a day laid out anew because somebody is not there, or is back, and what that moves.
type AbsentView struct {
	Day     DayView       `json:"day"`
	Shifted []day.Shifted `json:"shifted" doc:"vehicles that are ready at another time, or no longer fit"`
}

// setAbsent says that somebody is not there today, or is after all, and lays the day out again. What was given to them
// and has not begun is done by whoever can; it stays theirs, and is again when they are back.
func (s *server) setAbsent(ctx context.Context, in *In[struct {
	PersonID string `json:"personId" format:"uuid"`
	Absent   bool   `json:"absent"`
}]) (*Out[AbsentView], error) {
	d, _, t, err := s.laidOut(ctx)
	if err != nil {
		return nil, err
	}
	if d.here(in.Body.PersonID) == "" {
		return nil, invalid("personId", fmt.Errorf("nobody who washes here has this id"))
	}
	before := d.view(t)
	absence := store.Absence{PersonID: in.Body.PersonID, Day: d.zero, ByID: who(ctx).ID, At: s.Now()}
	if err := s.Store.SetAbsent(ctx, absence, in.Body.Absent); err != nil {
		return nil, err
	}
	now, err := s.gatherDay(ctx, d.zero, nil)
	if err != nil {
		return nil, err
	}
	if _, t, err = s.layOut(ctx, now, dayEffort, nil); err != nil { // from nothing: the day before is no day to begin from
		return nil, err
	}
	after := now.view(t)
	was, order := d.standings(before)
	is, _ := now.standings(after)
	return out(AbsentView{after, day.Shifts(order, was, is)})
}

// standings are how the visits of a day stand, by their ids and in their order.
func (d dayPlan) standings(v DayView) (map[string]day.Standing, []string) {
	of, order := map[string]day.Standing{}, []string{}
	for _, x := range v.Visits {
		of[x.Booking.ID] = d.standing(x)
		order = append(order, x.Booking.ID)
	}
	return of, order
}

// absentToday reports whether somebody is not there on the day that is laid out.
func (d *dayPlan) absentToday(id string) bool { return slices.Contains(d.absent, id) }

// allDay is a whole day in which somebody is not there.
var allDay = schedule.Span{Start: 0, End: measure.Day + 2*measure.Hour} // a day on which clocks go back has an hour more

// mayStandIn reports whether somebody may take up a wash that was given to another: who it was given to is not there.
func (s *server) mayStandIn(ctx context.Context, given string, me shop.Role) (bool, error) {
	if me.Leads() {
		return true, nil
	}
	zero, err := s.today(ctx)
	if err != nil {
		return false, err
	}
	absent, err := s.Store.Absent(ctx, zero)
	return slices.Contains(absent, given), err
}
