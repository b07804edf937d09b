package store

import (
	"context"
	"database/sql"

	"gorm.io/gorm"
)

// aboutPerson is what goes with somebody's name: where they signed in and by what, what was written about them by hand. What they
// washed, answered and signed stays, under a number.
var aboutPerson = []string{
	`DELETE FROM sessions x USING sign_ins i WHERE i.id = x.sign_in_id AND i.person_id = @id`,
	`DELETE FROM sign_ins WHERE person_id = @id`,
	`DELETE FROM sign_in_codes WHERE person_id = @id`,
	`DELETE FROM known_devices WHERE person_id = @id`,
	`DELETE FROM authenticators WHERE person_id = @id`,
	`DELETE FROM digit_tries WHERE person_id = @id`,
	`DELETE FROM sign_in_limits WHERE key LIKE '%' || CAST(@id AS text) || '%'`,
	`UPDATE readings SET source = 'typed in' WHERE by_id = @id`,
	`UPDATE watched SET note = '' WHERE person_id = @id`,
	`UPDATE remedies SET doc = doc || '{"title": "Forgotten", "cause": "Forgotten", "note": ""}'
		WHERE doc -> 'pattern' ->> 'washer' = CAST(@id AS text)`,
	`UPDATE disputes SET note = 'Forgotten' WHERE by_id = @id`,
	`DELETE FROM looks_read WHERE person_id = @id`,
}

// Where a vehicle's visits, washes and audits are.
const (
	itsBookings = `(SELECT id FROM bookings WHERE vehicle_id = @id)`
	itsWashes   = `(SELECT w.id FROM washes w JOIN bookings b ON b.id = w.booking_id WHERE b.vehicle_id = @id)`
	itsAudits   = `(SELECT a.id FROM audits a JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id
		WHERE b.vehicle_id = @id)`
)

// aboutVehicle is what goes with a vehicle's plate: its photos, and all that somebody wrote about it by hand, in whatever it was said.
// Grades, taps, findings and results stay; of a signed audit, too, but for the words.
var aboutVehicle = []string{
	`DELETE FROM photos WHERE subject_id IN (SELECT id FROM bookings WHERE vehicle_id = @id UNION SELECT * FROM ` + itsAudits + ` x)`,
	`UPDATE notices SET text = 'Forgotten', sent_at = coalesce(sent_at, at) WHERE booking_id IN ` + itsBookings,
	`UPDATE visit_moves SET why = CASE why WHEN '' THEN '' ELSE 'Forgotten' END WHERE booking_id IN ` + itsBookings,
	`UPDATE look_overs SET doc = without_notes(doc) WHERE booking_id IN ` + itsBookings,
	`UPDATE second_grades SET doc = without_notes(doc) WHERE booking_id IN ` + itsBookings,
	`UPDATE wash_events SET body = CASE body WHEN '' THEN '' ELSE 'Forgotten' END WHERE wash_id IN ` + itsWashes,
	`UPDATE corrections SET doc = without_notes(doc) || '{"why": "Forgotten"}' WHERE wash_id IN ` + itsWashes,
	`UPDATE watched SET note = '' WHERE wash_id IN ` + itsWashes,
	`UPDATE audits SET result = without_notes(result) WHERE id IN ` + itsAudits,
	`UPDATE audit_items SET answer = without_notes(answer) WHERE audit_id IN ` + itsAudits,
	`UPDATE audit_remarks SET answer = without_notes(answer) WHERE audit_id IN ` + itsAudits,
	`UPDATE second_looks SET answers = without_notes(answers) WHERE audit_id IN ` + itsAudits,
	`UPDATE disputes SET note = 'Forgotten', answer = CASE answer WHEN '' THEN '' ELSE 'Forgotten' END WHERE audit_id IN ` + itsAudits,
	`UPDATE calibration_walks SET answers = without_notes(answers)
		WHERE calibration_id IN (SELECT c.id FROM calibrations c WHERE c.audit_id IN ` + itsAudits + `)`,
	`UPDATE calibrations SET title = 'Forgotten vehicle', truth = without_notes(truth) WHERE audit_id IN ` + itsAudits,
	`UPDATE drills SET title = 'Forgotten vehicle' WHERE title IN (SELECT label FROM vehicles WHERE id = @id)`,
	`UPDATE drill_runs SET title = replace(title, (SELECT label FROM vehicles WHERE id = @id), 'Forgotten vehicle')
		WHERE title LIKE '%' || (SELECT replace(replace(label, '%', '\%'), '_', '\_') FROM vehicles WHERE id = @id) || '%'`,
}

// Forget takes a name away from somebody who was let go, with all that lies about of them. Their washes stay, under a number.
func (s *Store) Forget(ctx context.Context, personID string) error {
	return s.forget(ctx, "person", `UPDATE people SET name = 'Former hand ' || left(id::text, 4), sign_in = 'gone-' || id,
		password_hash = '', pin_hash = '', version = version + 1 WHERE id = @id AND NOT active`, nil, aboutPerson, personID)
}

// ForgetVehicle takes a vehicle's plate and name away, its photos, and what was written about it. Its washes stay.
func (s *Store) ForgetVehicle(ctx context.Context, id string) error {
	return s.forget(ctx, "vehicle",
		"UPDATE vehicles SET plate = 'gone-' || id, plate_key = 'gone-' || id, label = 'Forgotten vehicle' WHERE id = @id", aboutVehicle, nil, id)
}

// forget takes a name away with what goes before it, while the name is still known, and after it.
func (s *Store) forget(ctx context.Context, what, name string, before, after []string, id string) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		for _, statement := range before {
			if err := tx.Exec(statement, sql.Named("id", id)).Error; err != nil {
				return translate(err, what)
			}
		}
		if err := oneRow(tx.Exec(name, sql.Named("id", id)), what); err != nil {
			return err
		}
		for _, statement := range after {
			if err := tx.Exec(statement, sql.Named("id", id)).Error; err != nil {
				return translate(err, what)
			}
		}
		return nil
	})
}
