package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"uskel/core/audit"
	"uskel/core/timing"
	"uskel/core/wash"
)

// AddWash stores a wash with its plan; a booking has one.
func (s *Store) AddWash(ctx context.Context, w Wash) (Wash, error) {
	w.Planned, w.Uses = foldable(w.Plan), usesOf(w.Plan)
	if w.Rework == nil {
		w.Rework = []wash.Step{}
	}
	return w, translate(s.with(ctx).Omit("Booking", "Washer").Create(&w).Error, "wash")
}

// Wash finds a wash with its booking, vehicle and washer.
func (s *Store) Wash(ctx context.Context, id string) (Wash, error) {
	var w Wash
	err := s.with(ctx).Joins("Washer").Joins("Booking").Joins("Booking.Vehicle").Where("washes.id = ?", id).Take(&w).Error
	return w, translate(err, "wash")
}

// WashHead finds a wash without its plan, as taps need it.
func (s *Store) WashHead(ctx context.Context, id string) (Wash, error) {
	var w Wash
	err := s.with(ctx).Omit("Plan").Joins("Washer").Joins("Booking").Where("washes.id = ?", id).Take(&w).Error
	return w, translate(err, "wash")
}

// WashLine is a finished wash in a list, with what its audit came to.
type WashLine struct {
	ID, Plate, Label, WasherID, WasherName, Title, AuditID string
	WasherRole                                             Role
	Version, Overall, Kept, Missed, Findings               int
	Planned, Minutes                                       float64
	Score                                                  *int
	Passed                                                 *bool
	FinishedAt                                             time.Time
}

// WashLines lists finished washes since a moment, newest first, in one query that leaves the plans where they are.
func (s *Store) WashLines(ctx context.Context, since time.Time) ([]WashLine, error) {
	rows := []WashLine{}
	err := s.with(ctx).Table("washes w").Select(`w.id, v.plate, v.label, p.id AS washer_id, p.name AS washer_name, p.role AS washer_role,
		w.title, w.version, w.overall, w.finished_at,
		(w.summary->>'planned')::float8 AS planned, (w.summary->>'minutes')::float8 AS minutes, (w.summary->>'kept')::int AS kept, (w.summary->>'missed')::int AS missed,
		coalesce(a.id::text, '') AS audit_id, (a.result->>'score')::int AS score, (a.result->>'passed')::bool AS passed, coalesce(jsonb_array_length(a.result->'findings'), 0) AS findings`).
		Joins("JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id JOIN people p ON p.id = w.washer_id LEFT JOIN audits a ON a.wash_id = w.id").
		Where("w.finished_at >= ?", since).Order("w.finished_at DESC").Scan(&rows).Error
	return rows, translate(err, "washes")
}

// WashSteps reads the steps of several washes in one query.
func (s *Store) WashSteps(ctx context.Context, ids []string) (map[string][]wash.Step, error) {
	var rows []Wash
	err := s.with(ctx).Select("id", "steps", "rework").Where("id IN ?", ids).Find(&rows).Error
	steps := map[string][]wash.Step{}
	for _, w := range rows {
		steps[w.ID] = w.Steps()
	}
	return steps, translate(err, "washes")
}

// Events reads a wash's log.
func (s *Store) Events(ctx context.Context, washID string) ([]wash.Event, error) {
	byWash, err := s.EventsOf(ctx, []string{washID})
	return byWash[washID], err
}

// EventsOf reads the logs of several washes in one query.
func (s *Store) EventsOf(ctx context.Context, washIDs []string) (map[string][]wash.Event, error) {
	byWash := map[string][]wash.Event{}
	if len(washIDs) == 0 {
		return byWash, nil
	}
	rows, err := list[eventRow](s, ctx, "events", "at, seq, id", "wash_id IN ?", washIDs)
	for _, r := range rows {
		byWash[r.WashID] = append(byWash[r.WashID], r.event())
	}
	return byWash, err
}

// Tap writes taps to a wash's log and keeps the times of a wash that its log says is finished, or takes them back when the finish
// was undone. A tap that is there already is left alone, so that sending twice changes nothing; all of a batch is written or none.
// Batches for one wash wait for each other, so that the times kept are those of the whole log. It gives the number of events in the log.
func (s *Store) Tap(ctx context.Context, washID string, events []wash.Event, received time.Time) (int, error) {
	var count int64
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		var w Wash
		err := tx.Clauses(clause.Locking{Strength: "NO KEY UPDATE"}).Select("id", "finished_at").Where("id = ?", washID).Take(&w).Error
		if err != nil {
			return translate(err, "wash")
		}
		inside := &Store{s.Pool, tx, s.published}
		if err := inside.append(ctx, washID, events, received); err != nil {
			return err
		}
		ends := slices.ContainsFunc(events, func(e wash.Event) bool { return e.Kind == wash.Finish })
		if w.FinishedAt != nil || ends {
			log, err := inside.Events(ctx, washID)
			if err != nil {
				return err
			}
			count = int64(len(log))
			return inside.keepTimes(ctx, washID, log)
		}
		return translate(tx.Model(&eventRow{}).Where("wash_id = ?", washID).Count(&count).Error, "events")
	})
	return int(count), err
}

// tapRow is a tap as the database unpacks it: a batch goes there as one JSON array, which costs the driver and the planner a fraction of a parameter for each column.
type tapRow struct {
	ID     string      `json:"id"`
	Kind   wash.Kind   `json:"kind"`
	Step   string      `json:"step"`
	At     time.Time   `json:"at"`
	Seq    int         `json:"seq"`
	Body   string      `json:"body"`
	Undoes string      `json:"undoes"`
	ByID   string      `json:"by_id"`
	Detail wash.Detail `json:"detail"`
}

func (s *Store) append(ctx context.Context, washID string, events []wash.Event, received time.Time) error {
	if len(events) == 0 {
		return nil
	}
	rows, ids := make([]tapRow, len(events)), make([]string, len(events))
	for i, e := range events {
		ids[i] = e.ID
		rows[i] = tapRow{e.ID, e.Kind, e.Step, e.At.UTC().Truncate(time.Microsecond), e.Seq, e.Text, e.Undoes, e.By, e.Detail}
	}
	batch, err := json.Marshal(rows)
	if err != nil {
		return err
	}
	written := s.with(ctx).Exec(`INSERT INTO wash_events (id, wash_id, kind, step, at, seq, body, undoes, by_id, received_at, detail)
		SELECT t.id, ?, t.kind, t.step, t.at, t.seq, t.body, t.undoes, t.by_id, ?, t.detail
		FROM jsonb_to_recordset(?::jsonb) AS t(id uuid, kind text, step text, at timestamptz, seq int, body text, undoes text, by_id uuid, detail jsonb)
		ON CONFLICT (id) DO NOTHING`, washID, received, string(batch))
	if written.Error != nil || written.RowsAffected == int64(len(rows)) {
		return translate(written.Error, "events")
	}
	// Some ids were there already: sent before, or, which must not pass for saved, used on another wash.
	var elsewhere int64
	err = s.with(ctx).Model(&eventRow{}).Where("id IN ? AND wash_id <> ?", ids, washID).Count(&elsewhere).Error
	if err == nil && elsewhere > 0 {
		return fmt.Errorf("%d event ids are used on another wash: %w", elsewhere, ErrTaken)
	}
	return translate(err, "events")
}

// keepTimes stores or takes back the times when the log's finish, or the times under it, have changed.
func (s *Store) keepTimes(ctx context.Context, washID string, log []wash.Event) error {
	var w Wash
	if err := s.with(ctx).Select("id", "steps", "rework", "finished_at").Where("id = ?", washID).Take(&w).Error; err != nil {
		return translate(err, "wash")
	}
	state := wash.Fold(w.Steps(), log)
	next := Wash{}
	if !state.Finished.IsZero() {
		finished, times := state.Finished.UTC(), timing.Of(w.Steps(), state)
		next.FinishedAt, next.Summary = &finished, &times
		if started := state.Started.UTC(); !state.Started.IsZero() {
			next.StartedAt = &started
		}
	} else if w.FinishedAt == nil {
		return nil
	}
	return translate(s.with(ctx).Model(&Wash{ID: w.ID}).Select("StartedAt", "FinishedAt", "Summary").Updates(&next).Error, "wash")
}

// StartAudit opens an audit of a wash; the wash's earlier audit, if any, is returned instead.
func (s *Store) StartAudit(ctx context.Context, a Audit) (Audit, error) {
	err := s.with(ctx).Omit("Auditor", "Items").Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "wash_id"}}, DoNothing: true}).Create(&a).Error
	if err != nil {
		return Audit{}, translate(err, "audit")
	}
	return s.audit(ctx, "wash_id = ?", a.WashID)
}

// Audit finds an audit with its answers.
func (s *Store) Audit(ctx context.Context, id string) (Audit, error) {
	return s.audit(ctx, "audits.id = ?", id)
}

func (s *Store) audit(ctx context.Context, where string, args ...any) (Audit, error) {
	var a Audit
	err := s.with(ctx).Joins("Auditor").Preload("Items").Where(where, args...).Take(&a).Error
	return a, translate(err, "audit")
}

// SaveItem stores an answer if nobody saved since its version; version 0 is a first answer. A closed
// audit takes no more answers.
func (s *Store) SaveItem(ctx context.Context, item AuditItem) (AuditItem, error) {
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		var open Audit
		err := tx.Clauses(clause.Locking{Strength: "SHARE"}).Where("id = ? AND closed_at IS NULL", item.AuditID).Take(&open).Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return errors.Join(errors.New("audit is closed"), ErrStale)
		}
		if err != nil {
			return err
		}
		was := item.Version
		item.Version++
		if was == 0 {
			err := tx.Create(&item).Error
			if errors.Is(err, gorm.ErrDuplicatedKey) {
				return errors.Join(errors.New("item"), ErrStale)
			}
			return err
		}
		return oneRow(tx.Where("audit_id = ? AND item = ? AND version = ?", item.AuditID, item.Item, was).Select("Version", "Answer", "ByID", "At").Updates(&item), "item")
	})
	if errors.Is(err, ErrStale) {
		return item, err
	}
	return item, translate(err, "item")
}

// CloseAudit stores the result and gives the wash its rework steps; a closed audit stays as it is.
func (s *Store) CloseAudit(ctx context.Context, id, washID string, at time.Time, result audit.Result, rework []wash.Step) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		err := oneRow(tx.Where("id = ? AND closed_at IS NULL", id).Select("ClosedAt", "Result").Updates(&Audit{ClosedAt: &at, Result: &result}), "audit")
		if err != nil || len(rework) == 0 {
			return err
		}
		return translate(tx.Model(&Wash{ID: washID}).Select("Rework").Updates(&Wash{Rework: rework}).Error, "rework")
	})
}

// AddSignOff stores a sign-off.
func (s *Store) AddSignOff(ctx context.Context, o SignOff) error {
	return translate(s.with(ctx).Omit("Trainer").Create(&o).Error, "sign-off")
}

// SignOffs lists all sign-offs, newest first.
func (s *Store) SignOffs(ctx context.Context) ([]SignOff, error) {
	rows := []SignOff{}
	err := s.with(ctx).Joins("Trainer").Order("at DESC").Find(&rows).Error
	return rows, translate(err, "sign-offs")
}

// AddDrill stores a drill.
func (s *Store) AddDrill(ctx context.Context, d Drill) error {
	return translate(s.with(ctx).Omit("Person").Create(&d).Error, "drill")
}

// Drill finds a drill.
func (s *Store) Drill(ctx context.Context, id string) (Drill, error) {
	return find[Drill](s, ctx, "drill", "id = ?", id)
}

// Drills lists drills, newest first.
func (s *Store) Drills(ctx context.Context) ([]Drill, error) {
	rows := []Drill{}
	err := s.with(ctx).Joins("Person").Order("started_at DESC").Limit(100).Find(&rows).Error
	return rows, translate(err, "drills")
}

// SaveDrill stores a drill's moves and result if nobody did since its version.
func (s *Store) SaveDrill(ctx context.Context, d Drill) (Drill, error) {
	was := d.Version
	d.Version++
	return d, oneRow(s.with(ctx).Where("id = ? AND version = ?", d.ID, was).Select("Moves", "Version", "FinishedAt", "Result").Updates(&d), "drill")
}
