package store

import (
	"context"
	"time"
)

// Absence is somebody who is not there on a day.
type Absence struct {
	PersonID string    `gorm:"primaryKey"`
	Day      time.Time `gorm:"primaryKey;type:date"`
	ByID     string
	At       time.Time
}

// SetAbsent says that somebody is not there on a day, or is after all. Saying it twice changes nothing.
func (s *Store) SetAbsent(ctx context.Context, a Absence, absent bool) error {
	if !absent {
		return translate(
			s.with(ctx).Exec("DELETE FROM absences WHERE person_id = ? AND day = ?", a.PersonID, a.Day.Format(time.DateOnly)).Error,
			"absence",
		)
	}
	return translate(s.with(ctx).Exec(`INSERT INTO absences (person_id, day, by_id, at) VALUES (?, ?, ?, ?)
		ON CONFLICT (person_id, day) DO NOTHING`, a.PersonID, a.Day.Format(time.DateOnly), a.ByID, a.At).Error, "absence")
}

// Absent are the ids of those who are not there on a day.
func (s *Store) Absent(ctx context.Context, day time.Time) ([]string, error) {
	var ids []string
	err := s.with(ctx).Model(&Absence{}).Where("day = ?", day.Format(time.DateOnly)).Order("person_id").Pluck("person_id", &ids).Error
	return ids, translate(err, "absences")
}
