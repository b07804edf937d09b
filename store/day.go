package store

import (
	"context"
	"time"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/visit"
)

// Notice is a message to a customer.
type Notice struct {
	ID        string
	BookingID string
	Text      string
	ByID      string
	At        time.Time
	SentAt    *time.Time // nil while somebody is still to tell the customer
}

// Slot is where and when a booking's wash is to be, and who does it.
type Slot struct {
	StartsAt time.Time
	Place    condition.Place
	WasherID *string
}

// Arrange stores how a booking's wash is laid out, if nobody changed the booking since version and its wash has not
// begun.
func (s *Store) Arrange(ctx context.Context, bookingID string, a plan.Arranged, version int) error {
	return s.changePlanned(ctx, bookingID, version, &Booking{Arranged: &a}, "Arranged")
}

// MoveTo gives a booking its slot, if nobody changed it since version and its wash has not begun.
func (s *Store) MoveTo(ctx context.Context, bookingID string, to Slot, version int) error {
	return s.changePlanned(ctx, bookingID, version, &Booking{StartsAt: &to.StartsAt, Place: to.Place,
		WasherID: to.WasherID}, "StartsAt", "Place", "WasherID")
}

// SetWasher gives a booking to someone, if nobody changed it since version and its wash has not begun.
func (s *Store) SetWasher(ctx context.Context, bookingID, washerID string, version int) error {
	return s.changePlanned(ctx, bookingID, version, &Booking{WasherID: &washerID}, "WasherID")
}

// ChangeBooking changes when, where, what for and by whom, if nobody changed it since its version and its wash has not
// begun. A slot that was given by hand does not outlive a change of the hour.
func (s *Store) ChangeBooking(ctx context.Context, b Booking) error {
	return s.atVehicle(ctx, b.VehicleID, func(in *Store) error {
		if err := in.notBooked(ctx, b); err != nil {
			return err
		}
		return in.changePlanned(ctx, b.ID, b.Version, &b, "ArrivesAt", "PromisedAt", "Service", "Place", "WasherID", "StartsAt")
	})
}

// changePlanned changes fields of a booking in one statement that asks for its version and for its wash not to have
// begun. A booking that stands elsewhere is a *visit.NotNow; one that somebody changed is ErrStale.
func (s *Store) changePlanned(ctx context.Context, bookingID string, version int, to *Booking, fields ...string) error {
	to.Version = version + 1
	done := s.with(ctx).Model(&Booking{}).Where("id = ? AND version = ? AND stage IN ?", bookingID, version, planned).
		Select("Version", fields).Updates(to)
	if done.Error != nil || done.RowsAffected == 1 {
		return translate(done.Error, "booking")
	}
	now, err := find[Booking](ctx, s, "booking", "id = ?", bookingID)
	if err != nil {
		return err
	}
	if _, err := now.Stage.After(visit.Arrange); err != nil {
		return err
	}
	return stale("booking")
}

// planned are the stages in which a visit may still be arranged.
var planned = stagesWith(visit.Arrange)

// stagesWith are the stages from which a move can be made.
func stagesWith(m visit.Move) []string {
	var stages []string
	for _, name := range visit.Stage("").Values() {
		if _, err := visit.Stage(name).After(m); err == nil {
			stages = append(stages, name)
		}
	}
	return stages
}

// AddNotice stores a notice.
func (s *Store) AddNotice(ctx context.Context, n Notice) error {
	return translate(s.with(ctx).Create(&n).Error, "notice")
}

// Notices lists the notices since a moment and those that nobody has sent yet, oldest first.
func (s *Store) Notices(ctx context.Context, since time.Time) ([]Notice, error) {
	return list[Notice](ctx, s, "notices", "at", "at >= ? OR sent_at IS NULL", since)
}

// SentNotice notes that the customer was told.
func (s *Store) SentNotice(ctx context.Context, id string, at time.Time) error {
	return oneRow(s.with(ctx).Model(&Notice{}).Where("id = ? AND sent_at IS NULL", id).Update("sent_at", at), "notice")
}

// Unsent is how many notices nobody has sent yet, and since when the oldest waits.
func (s *Store) Unsent(ctx context.Context) (n int, oldest time.Time, err error) {
	err = s.Pool.QueryRow(ctx, "SELECT count(*), coalesce(min(at), now()) FROM notices WHERE sent_at IS NULL").
		Scan(&n, &oldest)
	return n, oldest, translate(err, "notices")
}

// Care lists the vehicles that need something next, the first due first, from some place in the list on.
func (s *Store) Care(ctx context.Context, from, most int) ([]Vehicle, error) {
	rows := []Vehicle{}
	err := s.with(ctx).Where("due_at IS NOT NULL").Order("due_at, id").Offset(from).Limit(most).Find(&rows).Error
	return rows, translate(err, "vehicles")
}
