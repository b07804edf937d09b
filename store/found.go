package store

import (
	"context"
	"encoding/json"
	"time"

	"uskel/core/audit"
	"uskel/core/climate"
)

// foundSQL reads first audits; what is told of few of them is read apart (backs, upheld), so that many are read in a moment.
const foundSQL = `SELECT a.id::text, a.wash_id::text, b.id::text, v.label, v.plate, a.closed_at, w.washer_id::text, p.name, w.procedure,
	w.title, w.version, coalesce(b.place ->> 'name', ''), coalesce(b.place ->> 'cover', ''), w.minutes, w.risk, w.uses -> 'cloths',
	coalesce(nullif(nullif(a.result -> 'findings', 'null'), '[]')::text, '')
	FROM audits a JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
	JOIN people p ON p.id = w.washer_id
	WHERE a.round = 1 AND a.closed_at >= $1 AND a.closed_at < $2 AND ($3 = '' OR w.washer_id::text = $3)
	ORDER BY a.closed_at DESC, a.id LIMIT $4`

// complainedWithin is how soon a complaint says that something was missed.
const complainedWithin = 7 * 24 * time.Hour

// FoundIn are the first audits that were signed in a time, with what they found, the newest first; of one washer when one is named.
func (s *Store) FoundIn(ctx context.Context, since, before time.Time, washer string, most int) ([]audit.Audited, error) {
	backs, err := s.backs(ctx, since)
	if err != nil {
		return nil, err
	}
	upheld, err := s.upheld(ctx, since)
	if err != nil {
		return nil, err
	}
	sets, err := s.clothNames(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.Pool.Query(ctx, foundSQL, since, before, washer, most)
	if err != nil {
		return nil, translate(err, "audits")
	}
	defer rows.Close()
	all := []audit.Audited{}
	for rows.Next() {
		var a audit.Audited
		var booking, cover, findings string
		var cloths []byte
		if err := rows.Scan(&a.ID, &a.WashID, &booking, &a.Label, &a.Plate, &a.At, &a.WasherID, &a.Washer, &a.Procedure, &a.Title,
			&a.Version, &a.Place, &cover, &a.Minutes, &a.Risk, &cloths, &findings); err != nil {
			return nil, translate(err, "audits")
		}
		a.Cover, a.Cloths = climate.Cover(cover), namesOf(cloths, sets)
		if findings != "" {
			if err := json.Unmarshal([]byte(findings), &a.Findings); err != nil {
				return nil, err
			}
			a.Findings = audit.Unsettle(a.Findings, upheld[a.ID])
		}
		for _, back := range backs[booking] {
			a.CameBack = a.CameBack || back.After(a.At) && back.Before(a.At.Add(complainedWithin))
		}
		all = append(all, a)
	}
	return all, translate(rows.Err(), "audits")
}

// namesOf are the names of the sets that a wash took cloths from; what it took is kept by their ids.
func namesOf(used []byte, sets map[string]string) []string {
	var by map[string]json.RawMessage
	if len(used) == 0 || json.Unmarshal(used, &by) != nil {
		return nil
	}
	names := make([]string, 0, len(by))
	for id := range by {
		if name, known := sets[id]; known {
			names = append(names, name)
		}
	}
	return names
}

// clothNames names the sets of cloths, each with since when: batches of one kind are told apart by that.
func (s *Store) clothNames(ctx context.Context) (map[string]string, error) {
	rows, err := list[ClothRow](s, ctx, "cloths", "id", "true")
	names := map[string]string{}
	for _, c := range rows {
		names[c.ID] = c.Kind + ", " + c.Colour + ", since " + c.Since.UTC().Format("2 Jan 2006")
	}
	return names, err
}

// backs is when visits came back since a moment, by booking.
func (s *Store) backs(ctx context.Context, since time.Time) (map[string][]time.Time, error) {
	var rows []VisitMove
	err := s.with(ctx).Where("move = 'come back' AND at >= ?", since).Find(&rows).Error
	backs := map[string][]time.Time{}
	for _, m := range rows {
		backs[m.BookingID] = append(backs[m.BookingID], m.At)
	}
	return backs, translate(err, "moves")
}

// upheld are the items that were settled for whoever washed, by audit, of disputes since a moment.
func (s *Store) upheld(ctx context.Context, since time.Time) (map[string][]string, error) {
	rows, err := list[Dispute](s, ctx, "disputes", "id", "upheld AND at >= ?", since)
	items := map[string][]string{}
	for _, d := range rows {
		items[d.AuditID] = append(items[d.AuditID], d.Item)
	}
	return items, err
}
