package store

import (
	"context"
	"time"

	"uskel/core/audit"
	"uskel/core/climate"
)

type foundRow struct {
	ID, WashID, Label, Plate, WasherID, Washer, Procedure, Title string
	Version                                                      int
	At                                                           time.Time
	Findings                                                     []audit.Traced `gorm:"serializer:json"`
	Place, Cover                                                 string
	Cloths                                                       []string `gorm:"serializer:json"`
	CameBack                                                     bool
	Minutes                                                      float64
	Upheld                                                       []string `gorm:"serializer:json"`
}

// FoundIn are the first audits that were signed in a time, with what they found, the newest first; of one washer when one is named.
func (s *Store) FoundIn(ctx context.Context, since, before time.Time, washer string, most int) ([]audit.Audited, error) {
	rows := []foundRow{}
	query := s.with(ctx).Table("audits a").
		Select(`a.id, a.wash_id, v.label, v.plate, a.closed_at AS at, w.washer_id, p.name AS washer, w.procedure, w.title, w.version,
			coalesce(nullif(a.result -> 'findings', 'null'), '[]') AS findings,
			coalesce(b.place ->> 'name', '') AS place, coalesce(b.place ->> 'cover', '') AS cover,
			coalesce((w.summary ->> 'minutes')::float8, 0) AS minutes,
			(SELECT coalesce(json_agg(
				DISTINCT c.kind || ', ' || c.colour || ', since ' || to_char(c.since, 'FMDD Mon YYYY')), '[]') FROM jsonb_object_keys(w.uses -> 'cloths') k
				JOIN cloths c ON c.id::text = k) AS cloths,
			EXISTS (SELECT 1 FROM visit_moves m WHERE m.booking_id = b.id AND m.move = 'come back'
				AND m.at < a.closed_at + interval '7 days') AS came_back,
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
			Washer: r.Washer, Procedure: r.Procedure, Title: r.Title, Version: r.Version, Place: r.Place, Cover: climate.Cover(r.Cover),
			Cloths: r.Cloths, CameBack: r.CameBack, Minutes: r.Minutes, Findings: audit.Unsettle(r.Findings, r.Upheld)}
	}
	return all, translate(err, "audits")
}
