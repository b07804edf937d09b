package store

import (
	"context"
	"time"

	"uskel/core/condition"
	"uskel/core/measure"
)

// Arranged is how a booking's wash is laid out: what was chosen and moved by hand. The timeline follows from it.
type Arranged struct {
	Procedure string   `json:"procedure,omitempty" maxLength:"80" doc:"the recommended one when absent"`
	People    []string `json:"people,omitempty" maxItems:"12" doc:"ids of who washes; the booked washer when empty"`
	Without   []string `json:"without,omitempty" maxItems:"40" doc:"steps left out"`
	Moved     []Moved  `json:"moved,omitempty" maxItems:"60"`
}

// Moved is an activity moved by hand.
type Moved struct {
	Work      string          `json:"work" minLength:"1" maxLength:"120"`
	Person    string          `json:"person,omitempty" format:"uuid" doc:"who is to do it"`
	NotBefore measure.Seconds `json:"notBefore,omitempty" minimum:"0" maximum:"86400" doc:"s from the start of the wash"`
}

// Shift is when somebody works, in minutes of the day where the shop stands.
type Shift struct {
	PersonID  string `json:"personId" format:"uuid"`
	From      int    `json:"from" minimum:"0" maximum:"1440"`
	To        int    `json:"to" minimum:"0" maximum:"1440"`
	BreakFrom int    `json:"breakFrom,omitempty" minimum:"0" maximum:"1440"`
	BreakTo   int    `json:"breakTo,omitempty" minimum:"0" maximum:"1440"`
}

// Equipment is machines of one name.
type Equipment struct {
	Name  string `json:"name" minLength:"1" maxLength:"40"`
	Count int    `json:"count" minimum:"1" maximum:"20"`
}

// Notice is a message to a customer.
type Notice struct {
	ID        string
	BookingID string
	Text      string
	ByID      string
	At        time.Time
}

// Arrange stores how a booking's wash is laid out, if nobody changed the booking since version.
func (s *Store) Arrange(ctx context.Context, bookingID string, a Arranged, version int) error {
	return oneRow(s.with(ctx).Model(&Booking{}).Where("id = ? AND version = ?", bookingID, version).Select("Arranged", "Version").
		Updates(&Booking{Arranged: &a, Version: version + 1}), "booking")
}

// Slot is where and when a booking's wash is to be, and who does it.
type Slot struct {
	StartsAt time.Time
	Place    condition.Place
	WasherID *string
}

// MoveTo gives a booking its slot, if nobody changed it since version.
func (s *Store) MoveTo(ctx context.Context, bookingID string, to Slot, version int) error {
	return oneRow(s.with(ctx).Model(&Booking{}).Where("id = ? AND version = ?", bookingID, version).Select("StartsAt", "Place", "WasherID", "Version").
		Updates(&Booking{StartsAt: &to.StartsAt, Place: to.Place, WasherID: to.WasherID, Version: version + 1}), "booking")
}

// AddNotice stores a notice.
func (s *Store) AddNotice(ctx context.Context, n Notice) error {
	return translate(s.with(ctx).Create(&n).Error, "notice")
}

// Notices lists the notices since a moment, oldest first.
func (s *Store) Notices(ctx context.Context, since time.Time) ([]Notice, error) {
	return list[Notice](s, ctx, "notices", "at", "at >= ?", since)
}

// LastWash is the newest finished wash of a vehicle, with what was seen before it.
type LastWash struct {
	VehicleID  string
	Plate      string
	Label      string
	FinishedAt time.Time
	LookOver   condition.LookOver `gorm:"serializer:json"`
	Covered    *time.Time
	Serviced   *time.Time
}

// LastWashes lists the newest finished wash of each vehicle, and when its plans last put protection on or serviced a coating, in one query.
func (s *Store) LastWashes(ctx context.Context) ([]LastWash, error) {
	var rows []LastWash
	err := s.with(ctx).Raw(`SELECT DISTINCT ON (v.id) v.id AS vehicle_id, v.plate, v.label, w.finished_at, l.doc AS look_over,
		(SELECT max(x.finished_at) FROM washes x JOIN bookings y ON y.id = x.booking_id WHERE y.vehicle_id = v.id AND x.finished_at IS NOT NULL
			AND EXISTS (SELECT 1 FROM jsonb_array_elements(x.steps) st WHERE st->>'id' IN ('seal', 'topup', 'wax'))) AS covered,
		(SELECT max(x.finished_at) FROM washes x JOIN bookings y ON y.id = x.booking_id WHERE y.vehicle_id = v.id AND x.finished_at IS NOT NULL
			AND x.plan->>'family' = 'F4') AS serviced
		FROM vehicles v JOIN bookings b ON b.vehicle_id = v.id JOIN washes w ON w.booking_id = b.id JOIN look_overs l ON l.booking_id = b.id
		WHERE w.finished_at IS NOT NULL ORDER BY v.id, w.finished_at DESC`).Scan(&rows).Error
	return rows, translate(err, "last washes")
}
