package store

import (
	"context"
	"time"

	"uskel/core/audit"
)

type foundRow struct {
	ID, WashID, Label, Plate, WasherID, Washer, Procedure, Title string
	Version                                                      int
	At                                                           time.Time
	Findings                                                     []audit.Traced `gorm:"serializer:json"`
	Upheld                                                       []string       `gorm:"serializer:json"`
}

// FoundIn are the first audits that were signed in a time, with what they found, the newest first; of one washer when one is named.
func (s *Store) FoundIn(ctx context.Context, since, before time.Time, washer string, most int) ([]audit.Audited, error) {
	rows := []foundRow{}
	query := s.with(ctx).Table("audits a").
		Select(`a.id, a.wash_id, v.label, v.plate, a.closed_at AS at, w.washer_id, p.name AS washer, w.procedure, w.title, w.version,
			coalesce(nullif(a.result -> 'findings', 'null'), '[]') AS findings,
			(SELECT coalesce(json_agg(d.item), '[]') FROM disputes d WHERE d.audit_id = a.id AND d.upheld) AS upheld`).
		Joins("JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id "+
			"JOIN people p ON p.id = w.washer_id").
		Where("a.round = 1 AND a.closed_at >= ? AND a.closed_at < ?", since, before)
	if washer != "" {
		query = query.Where("w.washer_id = ?", washer)
	}
	err := query.Order("a.closed_at DESC, a.id").Limit(most).Find(&rows).Error
	all := make([]audit.Audited, len(rows))
	for i, r := range rows {
		all[i] = audit.Audited{ID: r.ID, WashID: r.WashID, Label: r.Label, Plate: r.Plate, At: r.At, WasherID: r.WasherID,
			Washer: r.Washer, Procedure: r.Procedure, Title: r.Title, Version: r.Version, Findings: audit.Unsettle(r.Findings, r.Upheld)}
	}
	return all, translate(err, "audits")
}
