package store

import (
	"context"
	"fmt"

	"gorm.io/gorm"
)

// growSpans is over how many stretches of the history there is the copies are laid, one before the other: a shop that
// is that much older.
const growSpans = 10

// grown are the tables that a copy of the history has rows in, each with what is copied of it. @copy names the copy,
// @back is how far it lies further back; ids are made of the copy's number and the old id, so that they still fit
// together.
var grown = []string{
	`INSERT INTO vehicles (id, plate, plate_key, label, spec, care, due_at)
		SELECT md5(CAST(@copy AS text) || id::text)::uuid, plate || ' ' || CAST(@copy AS text),
			plate_key || '-' || CAST(@copy AS text), label, spec, care, due_at FROM origin_vehicles`,
	`INSERT INTO bookings (id, vehicle_id, arrives_at, promised_at, service, place, washer_id, version, arranged, starts_at, stage)
		SELECT md5(CAST(@copy AS text) || id::text)::uuid, md5(CAST(@copy AS text) || vehicle_id::text)::uuid,
			arrives_at - CAST(@back AS interval), promised_at - CAST(@back AS interval), service, place, washer_id,
			version, arranged, starts_at - CAST(@back AS interval), stage
		FROM origin_bookings`,
	`INSERT INTO look_overs (booking_id, version, doc, by_id, at)
		SELECT md5(CAST(@copy AS text) || l.booking_id::text)::uuid, l.version, l.doc, l.by_id,
			l.at - CAST(@back AS interval) FROM look_overs l JOIN origin_bookings o ON o.id = l.booking_id`,
	`INSERT INTO washes (id, booking_id, plan, steps, rework, washer_id, created_at, finished_at, summary, uses, used,
		started_at, closed_at, frozen, washers, hands, covered, serviced, times_at)
		SELECT md5(CAST(@copy AS text) || w.id::text)::uuid, md5(CAST(@copy AS text) || w.booking_id::text)::uuid,
			w.plan, w.steps, w.rework, w.washer_id, w.created_at - CAST(@back AS interval),
			w.finished_at - CAST(@back AS interval), w.summary, w.uses, w.used,
			w.started_at - CAST(@back AS interval), w.closed_at - CAST(@back AS interval), w.frozen, w.washers, w.hands,
				w.covered, w.serviced, w.finished_at - CAST(@back AS interval) FROM washes w JOIN origin_bookings o ON o.id = w.booking_id`,
	`INSERT INTO wash_events (id, wash_id, kind, step, at, seq, body, undoes, by_id, received_at, detail, device, late, no)
		SELECT md5(CAST(@copy AS text) || e.id::text)::uuid, md5(CAST(@copy AS text) || e.wash_id::text)::uuid,
			e.kind, e.step, e.at - CAST(@back AS interval), e.seq, e.body, e.undoes, e.by_id,
			e.received_at - CAST(@back AS interval), e.detail, e.device, e.late, e.no
		FROM wash_events e JOIN washes w ON w.id = e.wash_id JOIN origin_bookings o ON o.id = w.booking_id`,
	`INSERT INTO audits (id, wash_id, auditor_id, checklist_id, checklist_version, started_at, closed_at, result, round, signer_id)
		SELECT md5(CAST(@copy AS text) || a.id::text)::uuid, md5(CAST(@copy AS text) || a.wash_id::text)::uuid,
			a.auditor_id, a.checklist_id, a.checklist_version, a.started_at - CAST(@back AS interval),
			a.closed_at - CAST(@back AS interval), a.result, a.round, a.signer_id
		FROM audits a JOIN washes w ON w.id = a.wash_id JOIN origin_bookings o ON o.id = w.booking_id`,
	`INSERT INTO audit_items (audit_id, item, version, answer, by_id, at)
		SELECT md5(CAST(@copy AS text) || i.audit_id::text)::uuid, i.item, i.version, i.answer, i.by_id, i.at - CAST(@back AS interval)
		FROM audit_items i JOIN audits a ON a.id = i.audit_id JOIN washes w ON w.id = a.wash_id JOIN origin_bookings o ON o.id = w.booking_id`,
	`UPDATE washes n SET audit_id = md5(CAST(@copy AS text) || w.audit_id::text)::uuid
		FROM washes w JOIN origin_bookings o ON o.id = w.booking_id
		WHERE n.id = md5(CAST(@copy AS text) || w.id::text)::uuid AND w.audit_id IS NOT NULL AND CAST(@back AS interval) IS NOT NULL`,
	`INSERT INTO visit_moves (id, booking_id, move, from_stage, to_stage, why, by_id, at)
		SELECT md5(CAST(@copy AS text) || m.id::text)::uuid, md5(CAST(@copy AS text) || m.booking_id::text)::uuid,
			m.move, m.from_stage, m.to_stage, m.why, m.by_id, m.at - CAST(@back AS interval)
		FROM visit_moves m JOIN origin_bookings o ON o.id = m.booking_id`,
}

// quiet are the tables that tell of every save: copies are not told.
var quiet = []string{"bookings", "look_overs", "washes", "wash_events", "audits", "audit_items", "visit_moves"}

// Grow copies the finished washes of a demo, further and further back, until there are at least so many: a shop that
// is years older, to measure reads on. Progress is told after each copy with how many washes there are. It refuses a
// database that is no demo.
func (s *Store) Grow(ctx context.Context, washes int, progress func(int)) error {
	demo, err := s.IsDemo(ctx)
	if err != nil {
		return err
	}
	if !demo {
		return fmt.Errorf("this database is no demo: washes are made up in a demo only")
	}
	var have, each int
	var days float64
	err = s.Pool.QueryRow(ctx, `SELECT count(*),
		coalesce(ceil(extract(epoch FROM max(finished_at) - min(finished_at)) / 86400),
		1) FROM washes WHERE finished_at IS NOT NULL`).Scan(&have, &days)
	if err != nil {
		return translate(err, "washes")
	}
	if each = have; each == 0 {
		return fmt.Errorf("this demo has no finished wash to copy")
	}
	for copies := 1; have < washes; copies++ {
		back := (copies - 1) % growSpans * int(days)
		if err := s.copyHistory(ctx, copies, back); err != nil {
			return err
		}
		have += each
		progress(have)
	}
	_, err = s.Pool.Exec(ctx, "ANALYZE")
	return translate(err, "washes")
}

// copyHistory copies the demo's own finished washes once. The copies of copies have another plate and are left alone.
func (s *Store) copyHistory(ctx context.Context, number, daysBack int) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		do := func(sql string, args ...any) error { return translate(tx.Exec(sql, args...).Error, "copy") }
		if err := do("SET LOCAL statement_timeout = 0"); err != nil {
			return err
		}
		for _, table := range quiet {
			if err := do("ALTER TABLE " + table + " DISABLE TRIGGER USER"); err != nil {
				return err
			}
		}
		if err := do(
			`CREATE TEMP TABLE origin_vehicles ON COMMIT DROP AS SELECT * FROM vehicles WHERE plate !~ ' copy [0-9]+$'`,
		); err != nil {
			return err
		}
		if err := do(
			`CREATE TEMP TABLE origin_bookings ON COMMIT DROP AS SELECT b.* FROM bookings b JOIN origin_vehicles v ON v.id = b.vehicle_id
			WHERE EXISTS (SELECT 1 FROM washes w WHERE w.booking_id = b.id AND w.finished_at IS NOT NULL AND w.closed_at IS NOT NULL)`,
		); err != nil {
			return err
		}
		for _, sql := range grown {
			if err := s.copyRows(tx, sql, number, daysBack); err != nil {
				return err
			}
		}
		for _, table := range quiet {
			if err := do("ALTER TABLE " + table + " ENABLE TRIGGER USER"); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Store) copyRows(tx *gorm.DB, sql string, number, daysBack int) error {
	args := map[string]any{
		"copy": fmt.Sprintf("copy %d", number),
		"back": fmt.Sprintf("%d days %d minutes", daysBack, number),
	}
	return translate(tx.Exec(sql, args).Error, "copy")
}
