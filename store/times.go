package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"

	"uskel/core/timing"
)

// StandardRow is a standard time as it was accepted.
type StandardRow struct {
	ID   string
	Step string
	Doc  timing.Standard `gorm:"serializer:json"`
	Why  string
	ByID string
	At   time.Time
	By   Person
}

// TableName is standards.
func (StandardRow) TableName() string { return "standards" }

// AcceptStandard puts a standard in use, if the one in use is still the one that was shown; that one stays as
// history. Else it is ErrStale, and the one in use is given. Leads who accept at once wait for each other.
func (s *Store) AcceptStandard(ctx context.Context, row StandardRow, was timing.Standard) (timing.Standard, error) {
	inUse := timing.Written(row.Step)
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec("SELECT pg_advisory_xact_lock(hashtext('standard ' || ?))", row.Step).Error; err != nil {
			return err
		}
		var rows []StandardRow
		if err := tx.Where("step = ?", row.Step).Order("at DESC, id DESC").Limit(1).Find(&rows).Error; err != nil {
			return err
		}
		if len(rows) > 0 {
			inUse = rows[0].Doc
		}
		if inUse != was {
			return stale("standard")
		}
		return tx.Omit("By").Create(&row).Error
	})
	if errors.Is(err, ErrStale) {
		return inUse, err
	}
	return inUse, translate(err, "standard")
}

// Standards are those in use, by step.
func (s *Store) Standards(ctx context.Context) (timing.Standards, error) {
	var rows []StandardRow
	err := s.with(ctx).
		Raw("SELECT DISTINCT ON (step) step, doc FROM standards ORDER BY step, at DESC, id DESC").
		Scan(&rows).
		Error
	standards := timing.Standards{}
	for _, r := range rows {
		standards[r.Step] = r.Doc
	}
	return standards, translate(err, "standards")
}

// StandardHistory lists every standard that was accepted, newest first.
func (s *Store) StandardHistory(ctx context.Context) ([]StandardRow, error) {
	rows := []StandardRow{}
	err := s.with(ctx).Joins("By").Order("standards.at DESC, standards.id DESC").Limit(200).Find(&rows).Error
	return rows, translate(err, "standards")
}

// WashedBefore counts the washes that each person had finished by a moment: repetition does not begin where a look at
// it begins.
func (s *Store) WashedBefore(ctx context.Context, at time.Time) (map[string]int, error) {
	var rows []struct {
		WasherID string
		N        int
	}
	err := s.with(ctx).
		Model(&Wash{}).
		Select("washer_id, count(*) AS n").
		Where("finished_at < ?", at).
		Group("washer_id").
		Scan(&rows).
		Error
	counts := map[string]int{}
	for _, r := range rows {
		counts[r.WasherID] = r.N
	}
	return counts, translate(err, "washes")
}
