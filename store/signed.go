package store

import (
	"context"
	"maps"
	"time"
)

// SignedLine is a signed audit in a list of all of them.
type SignedLine struct {
	ID, Label, Plate, Washer, Auditor, Title, List string
	At                                             time.Time
	Score, Findings, Round                         int
	Passed, WashedToo                              bool
}

// Signed lists signed audits, the newest first, from before one on: its moment and its id; all of them when the moment is zero.
func (s *Store) Signed(ctx context.Context, before time.Time, id string, most int) ([]SignedLine, error) {
	if before.IsZero() {
		return s.signedWhere(ctx, "true", nil, most)
	}
	return s.signedWhere(ctx, "(a.closed_at < @before OR a.closed_at = @before AND a.id::text < @id)",
		map[string]any{"before": before, "id": id}, most)
}

// signedWhere lists the signed audits of which a condition holds, the newest first.
func (s *Store) signedWhere(ctx context.Context, holds string, with map[string]any, most int) ([]SignedLine, error) {
	rows, named := []SignedLine{}, map[string]any{"most": most}
	maps.Copy(named, with)
	err := s.with(ctx).Raw(`SELECT a.id::text, v.label, v.plate, p.name AS washer, q.name AS auditor, w.title,
		coalesce(c.doc ->> 'title', '') AS list,
		a.closed_at AS at, (a.result ->> 'score')::int AS score, (a.result ->> 'passed')::bool AS passed, a.round, a.washed_too,
		coalesce(jsonb_array_length(nullif(a.result -> 'findings', 'null')), 0) AS findings
		FROM audits a JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		JOIN people p ON p.id = w.washer_id JOIN people q ON q.id = a.auditor_id
		LEFT JOIN checklists c ON c.id = a.checklist_id AND c.version = a.checklist_version
		WHERE a.closed_at IS NOT NULL AND `+holds+` ORDER BY a.closed_at DESC, a.id::text DESC LIMIT @most`,
		named).Scan(&rows).Error
	return rows, translate(err, "audits")
}
