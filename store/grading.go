package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm/clause"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/visit"
)

// SecondGrade is a looked-over vehicle graded again by somebody else, blind.
type SecondGrade struct {
	ID        string
	BookingID string
	FirstID   string
	ByID      string
	Doc       condition.Regraded `gorm:"serializer:json"`
	At        time.Time
	First     Person
	By        Person
}

// ErrGradedTwice means that a vehicle has been graded again already.
var ErrGradedTwice = errors.New("it has been graded again already")

// AddSecondGrade stores a second grading of a vehicle that waits for its wash, as long as its look-over is the version that it was
// held against; else it is ErrStale, or a *visit.NotNow. Whoever did not accept it is refused by audit.ErrNotAsked. Sent twice it
// changes nothing.
func (s *Store) AddSecondGrade(ctx context.Context, g SecondGrade, lookOver int) error {
	return s.atVisit(ctx, "id = ?", g.BookingID, func(in *Store, v *held) error {
		look, err := find[LookOver](ctx, in, "look-over", "booking_id = ?", g.BookingID)
		if err != nil {
			return err
		}
		var there []SecondGrade
		if err := in.with(ctx).Where("booking_id = ?", g.BookingID).Find(&there).Error; err != nil {
			return translate(err, "grades")
		}
		g.FirstID = look.ByID
		switch {
		case len(there) > 0 && there[0].ID == g.ID:
			return nil
		case len(there) > 0:
			return ErrGradedTwice
		case v.Stage != visit.LookedOver:
			return &visit.NotNow{Move: visit.LookOver, Stage: v.Stage}
		case look.Version != lookOver:
			return stale("look-over")
		}
		if err := in.lookedBlind(ctx, audit.SecondGrades, g.BookingID, g.ByID); err != nil {
			return err
		}
		return translate(in.with(ctx).Omit(clause.Associations).Create(&g).Error, "grades")
	})
}

// OpenGrade is a vehicle that somebody may grade again.
type OpenGrade struct {
	BookingID, Label, Plate string
	At                      time.Time
}

// OpenGrades are the vehicles that wait for their wash, were looked over since a time, and that nobody has graded again.
func (s *Store) OpenGrades(ctx context.Context, since time.Time, most int) ([]OpenGrade, error) {
	rows := []OpenGrade{}
	err := s.with(ctx).Raw(`SELECT b.id AS booking_id, v.label, v.plate, l.at FROM bookings b JOIN look_overs l ON l.booking_id = b.id
		JOIN vehicles v ON v.id = b.vehicle_id WHERE b.stage = 'looked over' AND l.at >= @since
		AND NOT EXISTS (SELECT 1 FROM second_grades g WHERE g.booking_id = b.id) ORDER BY b.promised_at, b.id LIMIT @most`,
		map[string]any{"since": since, "most": most}).Scan(&rows).Error
	return rows, translate(err, "bookings")
}

// SecondGrades are the vehicles that were graded twice since a time, the newest first.
func (s *Store) SecondGrades(ctx context.Context, since time.Time, most int) ([]condition.Pair, error) {
	var rows []SecondGrade
	err := s.with(ctx).Joins("First").Joins("By").Where("second_grades.at >= ?", since).Order("second_grades.at DESC").Limit(most).
		Find(&rows).Error
	pairs := make([]condition.Pair, len(rows))
	for i, r := range rows {
		pairs[i] = condition.Pair{Regraded: r.Doc, By: condition.Grader{ID: r.FirstID, Name: r.First.Name},
			Again: condition.Grader{ID: r.ByID, Name: r.By.Name}}
	}
	return pairs, translate(err, "grades")
}
