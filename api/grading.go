package api

import (
	"context"
	"errors"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/store"
)

// OpenGrade is a vehicle that the person signed in may grade again, blind.
type OpenGrade struct {
	BlindLook
	BookingID string    `json:"bookingId"`
	Label     string    `json:"label"`
	Plate     string    `json:"plate"`
	At        time.Time `json:"at" doc:"when it was looked over"`
}

// ToGrade is a vehicle as it is graded again: without the first grades, and without photos of them.
type ToGrade struct {
	BookingID string          `json:"bookingId"`
	Label     string          `json:"label"`
	Plate     string          `json:"plate"`
	Spec      vehicle.Vehicle `json:"spec"`
	LookOver  int             `json:"lookOver" doc:"version that the grades are held against"`
	Zones     []vehicle.Zone  `json:"zones" doc:"that must be graded"`
}

// GradedAgain is what came of grading again: told at once, so that the two can look together.
type GradedAgain struct {
	condition.Regraded
	Apart       []vehicle.Zone `json:"apart" doc:"zones that were graded differently, the furthest apart first"`
	FirstTitle  string         `json:"firstTitle" doc:"the wash that is recommended by the first grades"`
	SecondTitle string         `json:"secondTitle"`
}

func (s *server) registerGrading(api huma.API) {
	operation(s, api, get("/second-grades", "openGrades", "Vehicles that may be graded again, blind"), shop.LookOver, s.openGrades)
	operation(s, api, get("/bookings/{id}/second-grade", "toGrade", "A vehicle as it is graded again: without the first grades"),
		shop.LookOver, s.toGrade)
	operation(s, api, post("/bookings/{id}/second-grade", "gradeAgain", "Grade a vehicle again, blind"), shop.LookOver, s.gradeAgain)
	operation(s, api, get("/grading", "grading", "How far people grade alike, and what it costs where they do not"), shop.See, s.grading)
}

const mostGrades = 6 // that are offered

func (s *server) openGrades(ctx context.Context, _ *struct{}) (*Out[[]OpenGrade], error) {
	rows, err := s.Store.OpenGrades(ctx, s.Now().AddDate(0, 0, -1), mostGrades)
	if err != nil {
		return nil, err
	}
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.BookingID
	}
	looks, err := s.blindLooks(ctx, audit.SecondGrades, ids)
	lines := []OpenGrade{}
	for i, r := range rows {
		if err == nil && looks[i].concerns(who(ctx)) {
			lines = append(lines, OpenGrade{looks[i], r.BookingID, r.Label, r.Plate, r.At.UTC()})
		}
	}
	return &Out[[]OpenGrade]{lines}, err
}

func (s *server) toGrade(ctx context.Context, in *ID) (*Out[ToGrade], error) {
	v, err := s.Store.Booking(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	if _, err := looked(v); err != nil {
		return nil, err
	}
	if err := s.Store.Accepted(ctx, audit.SecondGrades, in.ID, who(ctx).ID); err != nil {
		return nil, blindly(err)
	}
	of := v.Booking.Vehicle
	return out(ToGrade{v.Booking.ID, of.Label, of.Plate, of.Spec, v.LookOver.Version, condition.ToGrade(of.Spec.Body)})
}

func (s *server) gradeAgain(ctx context.Context, in *struct {
	ID
	Body struct {
		Grading  string               `json:"id" format:"uuid" doc:"made by the device, so that it can be sent twice"`
		LookOver int                  `json:"lookOver" minimum:"1" doc:"version that it is held against"`
		Grades   condition.ZoneGrades `json:"grades"`
	}
}) (*Out[GradedAgain], error) {
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	look, err := looked(v)
	if err != nil {
		return nil, err
	}
	if err := condition.CheckGrades(v.Booking.Vehicle.Spec.Body, in.Body.Grades); err != nil {
		return nil, invalid("", err)
	}
	told := GradedAgain{Regraded: condition.Regraded{First: look.Grades, Second: in.Body.Grades}}
	first, err := s.recommendedFor(ctx, v.Booking, look)
	if err != nil {
		return nil, err
	}
	look.Grades = in.Body.Grades
	second, err := s.recommendedFor(ctx, v.Booking, look)
	if err != nil {
		return nil, err
	}
	told.FirstOverall, told.FirstChoice, told.FirstMinutes, told.FirstTitle = first.overall, first.ID, first.minutes, first.title
	told.SecondOverall, told.SecondChoice, told.SecondMinutes, told.SecondTitle = second.overall, second.ID, second.minutes, second.title
	told.Apart = condition.Apart(told.First, told.Second)
	err = s.Store.AddSecondGrade(ctx, store.SecondGrade{ID: in.Body.Grading, BookingID: v.Booking.ID, ByID: who(ctx).ID, Doc: told.Regraded,
		At: s.Now()}, in.Body.LookOver)
	switch {
	case errors.Is(err, store.ErrStale):
		return nil, conflict("The look-over was changed since: grade it as it is now.")
	case err != nil:
		return nil, blindly(err)
	}
	return out(told)
}

// recommended is the wash that grades come to.
type recommended struct {
	ID, title string
	overall   int
	minutes   float64
}

func (s *server) recommendedFor(ctx context.Context, of store.Booking, look condition.LookOver) (recommended, error) {
	f, err := s.fillHour(ctx, of, look, plan.Arranged{AsNow: true})
	if err != nil {
		return recommended{}, err
	}
	r := recommended{overall: int(condition.Assess(of.Vehicle.Spec, look, f.settings.Menu()).Overall)}
	if len(f.choices) > 0 && f.choices[0].Plan != nil && f.choices[0].Delivers {
		c := f.choices[0]
		r.ID, r.title, r.minutes = c.Procedure, c.Title, c.Minutes
	}
	return r, nil
}

// grading is how far people grade alike; who grades dirtier is for whoever leads.
func (s *server) grading(ctx context.Context, _ *struct{}) (*Out[condition.Grading], error) {
	pairs, err := s.Store.SecondGrades(ctx, s.Now().Add(-agreedFor), mostAgreed)
	return &Out[condition.Grading]{condition.Grade(pairs, who(ctx).Role.Leads())}, err
}
