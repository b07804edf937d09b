package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"

	"uskel/core/visit"
)

// held is a booking whose row is held until the transaction ends: every change of a visit, its wash and its audits
// waits for it, so that what is decided by where the vehicle stands holds when it is written.
type held struct {
	ID        string
	VehicleID string
	Stage     visit.Stage
	Version   int
}

// atVisit holds the booking that a condition finds and does something with it. A move that was made is stored when it
// is done.
func (s *Store) atVisit(ctx context.Context, where string, arg any, do func(in *Store, v *held) error) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		var v held
		found := tx.Raw("SELECT id, vehicle_id, stage, version FROM bookings WHERE "+where+" FOR NO KEY UPDATE", arg).
			Scan(&v)
		if found.Error == nil && found.RowsAffected == 0 {
			found.Error = gorm.ErrRecordNotFound
		}
		if found.Error != nil {
			return translate(found.Error, "booking")
		}
		was := v.Stage
		if err := do(s.inside(tx), &v); err != nil || v.Stage == was {
			return err
		}
		return translate(tx.Model(&Booking{}).Where("id = ?", v.ID).Update("stage", v.Stage).Error, "booking")
	})
}

// Where the booking of a wash or of an audit is found.
const (
	ofWash  = "id = (SELECT booking_id FROM washes WHERE id = ?)"
	ofAudit = "id = (SELECT w.booking_id FROM washes w JOIN audits a ON a.wash_id = w.id WHERE a.id = ?)"
)

// move makes a move, or says why not: a *visit.NotNow.
func (v *held) move(m visit.Move) error {
	to, err := v.Stage.After(m)
	v.Stage = to
	return err
}

// ErrNotOwn means that somebody else said what is to be taken back.
var ErrNotOwn = errors.New("said by somebody else")

// Say makes a move that somebody says, and keeps who said it and why. TakeBack takes the newest back: own names who
// must have said that, or is empty for the lead, who takes back anybody's.
func (s *Store) Say(ctx context.Context, said VisitMove, own string) error {
	return s.atVisit(ctx, "id = ?", said.BookingID, func(in *Store, v *held) error {
		said.From = v.Stage
		err := error(nil)
		if said.Move == visit.TakeBack {
			err = in.takeBack(ctx, v, own)
		} else {
			err = v.move(said.Move)
		}
		if err != nil {
			return err
		}
		said.To = v.Stage
		if said.Move.Closes() {
			if err := in.closeWash(ctx, v.ID, said.At); err != nil {
				return err
			}
		}
		return translate(in.with(ctx).Create(&said).Error, "visit")
	})
}

// takeBack takes back what was said last. A wash that it had closed is open again, unless an audit closed it.
func (s *Store) takeBack(ctx context.Context, v *held, own string) error {
	var last []VisitMove
	err := s.with(ctx).Where("booking_id = ?", v.ID).Order("at DESC, id DESC").Limit(1).Find(&last).Error
	if err != nil {
		return translate(err, "visit")
	}
	var newest *visit.Taken
	if len(last) > 0 {
		newest = &visit.Taken{Move: last[0].Move, From: last[0].From, To: last[0].To}
	}
	if v.Stage, err = v.Stage.Back(newest); err != nil {
		return err
	}
	if own != "" && last[0].ByID != own {
		return ErrNotOwn
	}
	if !newest.Move.Closes() {
		return nil
	}
	return translate(
		s.with(ctx).
			Exec("UPDATE washes SET closed_at = NULL WHERE booking_id = ? AND closed_at = greatest(?, finished_at, created_at) AND "+
				"audit_id IS NULL", v.ID, last[0].At).
			Error,
		"wash",
	)
}

// closeWash closes the wash of a booking, if it has one that is open. A clock that went back closes nothing before it was finished.
func (s *Store) closeWash(ctx context.Context, bookingID string, at time.Time) error {
	return translate(s.with(ctx).Exec(`UPDATE washes SET closed_at = greatest(?, finished_at, created_at)
		WHERE booking_id = ? AND closed_at IS NULL`, at, bookingID).Error, "wash")
}

// VisitMoves lists what was said of a visit, oldest first.
func (s *Store) VisitMoves(ctx context.Context, bookingID string) ([]VisitMove, error) {
	return list[VisitMove](ctx, s, "visits", "at, id", "booking_id = ?", bookingID)
}

// NotNow finds why a move could not be made, if that is what an error says.
func NotNow(err error) (*visit.NotNow, bool) {
	var not *visit.NotNow
	return not, errors.As(err, &not)
}
