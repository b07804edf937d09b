package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"uskel/core/audit"
)

// Remedy is what somebody does about a pattern of findings.
type Remedy struct {
	ID         string
	Version    int
	Doc        audit.Remedy `gorm:"serializer:json"`
	OwnerID    string
	OpenedAt   time.Time
	ByID       string
	ActedAt    *time.Time // when it took effect
	ActedByID  *string
	Published  *int // the version of the procedure that it took effect with
	ClosedAt   *time.Time
	ClosedByID *string
	Measured   *audit.Measured `gorm:"serializer:json"` // as it was when it was closed
	Owner      Person
	By         Person
}

// AddRemedy stores a remedy. Sent twice it is there once.
func (s *Store) AddRemedy(ctx context.Context, r Remedy) error {
	r.Version, r.OwnerID = 1, r.Doc.Owner
	err := s.with(ctx).Omit(clause.Associations).Clauses(clause.OnConflict{DoNothing: true}).Create(&r).Error
	return translate(err, "remedy")
}

// Remedies are the open remedies and the last that were closed, those that are due first before the others.
func (s *Store) Remedies(ctx context.Context, closed int) ([]Remedy, error) {
	rows := []Remedy{}
	err := s.with(ctx).Joins("Owner").Joins("By").
		Where("remedies.closed_at IS NULL OR remedies.id IN (SELECT id FROM remedies WHERE closed_at IS NOT NULL "+
			"ORDER BY closed_at DESC LIMIT ?)", closed).
		Order("remedies.closed_at DESC NULLS FIRST, (remedies.doc ->> 'due')::timestamptz, remedies.id").Find(&rows).Error
	return rows, translate(err, "remedies")
}

// Remedy finds a remedy.
func (s *Store) Remedy(ctx context.Context, id string) (Remedy, error) {
	var r Remedy
	err := s.with(ctx).Joins("Owner").Joins("By").Where("remedies.id = ?", id).Take(&r).Error
	return r, translate(err, "remedy")
}

// SaveRemedy changes an open remedy if nobody did since its version.
func (s *Store) SaveRemedy(ctx context.Context, id string, version int, doc audit.Remedy) error {
	return oneRow(s.with(ctx).Where("id = ? AND version = ? AND closed_at IS NULL", id, version).
		Select("Version", "Doc", "OwnerID").Updates(&Remedy{Version: version + 1, Doc: doc, OwnerID: doc.Owner}), "remedy")
}

// ErrNotOwner means that a remedy is somebody else's to do.
var ErrNotOwner = errors.New("it is somebody else's: whoever sees to it, or a lead, says that it is done")

// ActRemedy says that a remedy has taken effect: its owner, or a lead. Said twice the first time stands.
func (s *Store) ActRemedy(ctx context.Context, id, who string, leads bool, at time.Time) error {
	done := s.with(ctx).Model(&Remedy{}).
		Where("id = ? AND acted_at IS NULL AND closed_at IS NULL AND (owner_id = ? OR ?)", id, who, leads).
		Updates(map[string]any{"acted_at": at, "acted_by_id": who, "version": gorm.Expr("version + 1")})
	if done.Error != nil || done.RowsAffected > 0 {
		return translate(done.Error, "remedy")
	}
	r, err := find[Remedy](ctx, s, "remedy", "id = ?", id)
	if err == nil && r.ActedAt == nil && r.ClosedAt == nil {
		err = ErrNotOwner
	}
	return err
}

// CloseRemedy closes a remedy with what was measured.
func (s *Store) CloseRemedy(ctx context.Context, id string, version int, who string, at time.Time, m audit.Measured) error {
	return oneRow(s.with(ctx).Where("id = ? AND version = ? AND closed_at IS NULL", id, version).
		Select("Version", "ClosedAt", "ClosedByID", "Measured").
		Updates(&Remedy{Version: version + 1, ClosedAt: &at, ClosedByID: &who, Measured: &m}), "remedy")
}

// ReopenRemedy takes up a closed remedy again, to be done anew.
func (s *Store) ReopenRemedy(ctx context.Context, id string, version int) error {
	return oneRow(s.with(ctx).Model(&Remedy{}).Where("id = ? AND version = ? AND closed_at IS NOT NULL", id, version).
		Updates(map[string]any{"version": version + 1, "closed_at": nil, "closed_by_id": nil, "measured": nil, "acted_at": nil,
			"acted_by_id": nil, "published": nil}), "remedy")
}

// remediedBy lets the open remedies that change a step of a procedure take effect with its new version.
func remediedBy(tx *gorm.DB, procedure string, version int, who string, at time.Time) error {
	return tx.Exec(`UPDATE remedies SET acted_at = ?, acted_by_id = ?, published = ?, version = version + 1
		WHERE acted_at IS NULL AND closed_at IS NULL AND doc ->> 'act' = ? AND doc -> 'pattern' ->> 'procedure' = ?`,
		at, who, version, audit.ChangeStep, procedure).Error
}
