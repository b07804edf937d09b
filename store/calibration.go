package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"uskel/core/audit"
)

// Calibration is a signed audit with what a lead confirmed that there is to be found.
type Calibration struct {
	ID        string
	AuditID   string
	Title     string
	Truth     map[string]audit.Answer `gorm:"serializer:json"`
	Knows     []string                `gorm:"serializer:json"` // who confirmed, audited or washed: they know what there is
	ByID      string
	At        time.Time
	RetiredAt *time.Time
	By        Person
	Audit     Audit
}

// CalibrationWalk is how somebody walked it.
type CalibrationWalk struct {
	ID            string
	CalibrationID string
	AuditorID     string
	Light         audit.Light
	Answers       map[string]audit.Answer `gorm:"serializer:json"`
	At            time.Time
	Auditor       Person
}

// ErrWalked means that somebody has walked it already: who knows what there is finds it.
var ErrWalked = errors.New("you have walked it already: the first walk is the one that says something")

// AddCalibration puts a signed audit into the calibration set. Sent twice it is there once.
func (s *Store) AddCalibration(ctx context.Context, c Calibration) error {
	truth, err := json.Marshal(c.Truth)
	if err != nil {
		return err
	}
	err = s.with(ctx).Exec(`INSERT INTO calibrations (id, audit_id, title, truth, knows, by_id, at)
		SELECT @id, a.id, @title, @truth, to_jsonb(ARRAY(SELECT DISTINCT x FROM unnest(ARRAY[CAST(@by AS uuid), a.auditor_id, a.signer_id,
			w.washer_id] || w.hands || ARRAY(SELECT i.by_id FROM audit_items i WHERE i.audit_id = a.id)) x WHERE x IS NOT NULL)), @by, @at
		FROM audits a JOIN washes w ON w.id = a.wash_id WHERE a.id = @audit AND a.closed_at IS NOT NULL ON CONFLICT DO NOTHING`,
		map[string]any{"id": c.ID, "audit": c.AuditID, "title": c.Title, "truth": string(truth), "by": c.ByID, "at": c.At}).Error
	return translate(err, "calibration")
}

// Calibrations are the walks of the set that are in use, the newest first.
func (s *Store) Calibrations(ctx context.Context, most int) ([]Calibration, error) {
	rows := []Calibration{}
	err := s.with(ctx).Joins("By").Joins("Audit").Where("calibrations.retired_at IS NULL").
		Order("calibrations.at DESC, calibrations.id").Limit(most).Find(&rows).Error
	return rows, translate(err, "calibrations")
}

// Calibration finds one that is in use.
func (s *Store) Calibration(ctx context.Context, id string) (Calibration, error) {
	var c Calibration
	err := s.with(ctx).Joins("By").Joins("Audit").Where("calibrations.id = ? AND calibrations.retired_at IS NULL", id).Take(&c).Error
	return c, translate(err, "calibration")
}

// RetireCalibration takes one out of the set; how it was walked stays.
func (s *Store) RetireCalibration(ctx context.Context, id string, at time.Time) error {
	return oneRow(s.with(ctx).Where("id = ? AND retired_at IS NULL", id).Select("RetiredAt").
		Updates(&Calibration{RetiredAt: &at}), "calibration")
}

// AddCalibrationWalk stores a walk of one in use by whoever accepted it. Sent twice it changes nothing; another one of the same
// person is ErrWalked; whoever was not asked, or knows what there is, is refused by audit.ErrNotAsked.
func (s *Store) AddCalibrationWalk(ctx context.Context, w CalibrationWalk) error {
	answers, err := json.Marshal(w.Answers)
	if err != nil {
		return err
	}
	there, err := find[CalibrationWalk](ctx, s, "walk", "calibration_id = ? AND auditor_id = ?", w.CalibrationID, w.AuditorID)
	switch {
	case err == nil && there.ID != w.ID:
		return ErrWalked
	case err == nil:
		return nil
	case !errors.Is(err, ErrNotFound):
		return err
	}
	return s.atBlind(ctx, audit.SetWalk, w.CalibrationID, func(in *Store) error {
		if err := in.lookedBlind(ctx, audit.SetWalk, w.CalibrationID, w.AuditorID); err != nil {
			return err
		}
		made := in.with(ctx).Exec(`INSERT INTO calibration_walks (id, calibration_id, auditor_id, light, answers, at)
			VALUES (@id, @of, @who, @light, @answers, @at)`, map[string]any{"id": w.ID, "who": w.AuditorID, "light": w.Light,
			"answers": string(answers), "at": w.At, "of": w.CalibrationID})
		return translate(made.Error, "walk")
	})
}

// CalibrationWalks are how those of some calibrations were walked.
func (s *Store) CalibrationWalks(ctx context.Context, of []string) ([]CalibrationWalk, error) {
	rows := []CalibrationWalk{}
	if len(of) == 0 {
		return rows, nil
	}
	err := s.with(ctx).Joins("Auditor").Where("calibration_walks.calibration_id IN ?", of).Order("calibration_walks.at").Find(&rows).Error
	return rows, translate(err, "walks")
}

// AuditLabel is what is said of an audit in a list.
type AuditLabel struct {
	AuditID, Label string
	Photos         int
}

// AuditLabels say of some audits which vehicle they were of, and how many photos there are to go by.
func (s *Store) AuditLabels(ctx context.Context, ids []string) (map[string]AuditLabel, error) {
	labels := map[string]AuditLabel{}
	if len(ids) == 0 {
		return labels, nil
	}
	var rows []AuditLabel
	err := s.with(ctx).Raw(`SELECT a.id AS audit_id, v.label, (SELECT count(*) FROM photos p WHERE p.subject_id IN (a.id, b.id)) AS photos
		FROM audits a JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		WHERE a.id IN ?`, ids).Scan(&rows).Error
	for _, r := range rows {
		labels[r.AuditID] = r
	}
	return labels, translate(err, "audits")
}
