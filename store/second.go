package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm/clause"

	"uskel/core/audit"
)

// SecondLook is a signed audit walked again by somebody else, blind.
type SecondLook struct {
	ID        string
	AuditID   string
	AuditorID string
	Light     audit.Light
	Answers   map[string]audit.Answer `gorm:"serializer:json"`
	At        time.Time
	Auditor   Person
}

// ErrWalkedTwice means that an audit has been walked again already.
var ErrWalkedTwice = errors.New("it has been walked again already")

// AddSecond stores a second look at a signed audit by whoever accepted it. Whoever washed is refused by audit.ErrWasher, whoever
// was not asked by audit.ErrNotAsked, one that is not signed or whose vehicle has moved on by a *visit.NotNow, one of which
// something was put right by audit.ErrReworked. Sent twice it changes nothing.
func (s *Store) AddSecond(ctx context.Context, look SecondLook) error {
	return s.atVisit(ctx, ofAudit, look.AuditID, func(in *Store, v *held) error {
		var there []SecondLook
		if err := in.with(ctx).Where("audit_id = ?", look.AuditID).Find(&there).Error; err != nil {
			return translate(err, "second look")
		}
		switch {
		case len(there) > 0 && there[0].ID == look.ID:
			return nil
		case len(there) > 0:
			return ErrWalkedTwice
		}
		a, err := find[Audit](ctx, in, "audit", "id = ?", look.AuditID)
		if err != nil {
			return err
		}
		if err := in.mayAudit(ctx, a.WashID, look.AuditorID); err != nil {
			return err
		}
		if err := in.asFound(ctx, v, look.AuditID); err != nil {
			return err
		}
		if err := in.lookedBlind(ctx, audit.SecondWalk, look.AuditID, look.AuditorID); err != nil {
			return err
		}
		return translate(in.with(ctx).Omit(clause.Associations).Create(&look).Error, "second look")
	})
}

// OpenSecond is an audit that somebody may walk again.
type OpenSecond struct {
	AuditID, Label, Plate, Washer string
	At                            time.Time
}

// OpenSeconds are the newest audits that were signed since a time, whose vehicle still stands there ready and as it was found, and
// that nobody has walked again.
func (s *Store) OpenSeconds(ctx context.Context, since time.Time, most int) ([]OpenSecond, error) {
	rows := []OpenSecond{}
	err := s.with(ctx).Raw(`SELECT a.id AS audit_id, v.label, v.plate, p.name AS washer, a.closed_at AS at
		FROM audits a JOIN washes w ON w.audit_id = a.id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		JOIN people p ON p.id = w.washer_id
		WHERE a.closed_at >= @since AND b.stage = 'ready' AND a.round = 1
		AND NOT EXISTS (SELECT 1 FROM jsonb_array_elements(nullif(a.result -> 'findings', 'null')) f WHERE (f ->> 'putRight')::float8 > 0)
		AND NOT EXISTS (SELECT 1 FROM second_looks s WHERE s.audit_id = a.id)
		ORDER BY a.closed_at DESC LIMIT @most`, map[string]any{"since": since, "most": most}).Scan(&rows).Error
	return rows, translate(err, "audits")
}

// Twice are the washes that were walked twice since a time, the newest first.
func (s *Store) Twice(ctx context.Context, since time.Time, most int) ([]audit.Twice, error) {
	looks := []SecondLook{}
	err := s.with(ctx).Joins("Auditor").Where("second_looks.at >= ?", since).Order("second_looks.at DESC").Limit(most).Find(&looks).Error
	if err != nil || len(looks) == 0 {
		return nil, translate(err, "second looks")
	}
	ids := make([]string, len(looks))
	for i, l := range looks {
		ids[i] = l.AuditID
	}
	var audits []Audit
	if err := s.with(ctx).Joins("Auditor").Preload("Items").Where("audits.id IN ?", ids).Find(&audits).Error; err != nil {
		return nil, translate(err, "audits")
	}
	first := map[string]Audit{}
	for _, a := range audits {
		first[a.ID] = a
	}
	lists, twice := map[string]audit.Checklist{}, make([]audit.Twice, len(looks))
	for i, l := range looks {
		a := first[l.AuditID]
		key := fmt.Sprint(a.ChecklistID, " ", a.ChecklistVersion)
		if _, known := lists[key]; !known {
			if lists[key], err = s.Checklist(ctx, a.ChecklistID, a.ChecklistVersion); err != nil {
				return nil, err
			}
		}
		twice[i] = audit.Twice{List: lists[key], First: a.Answers(), Second: l.Answers, By: audit.Who{ID: a.AuditorID, Name: a.Auditor.Name},
			Again: audit.Who{ID: l.AuditorID, Name: l.Auditor.Name}}
	}
	return twice, nil
}
