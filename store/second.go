package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm/clause"

	"uskel/core/audit"
	"uskel/core/visit"
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

// ErrNotBlind is why somebody may not walk again: they know what was found.
var ErrNotBlind = errors.New("whoever audited it does not walk it again: ask somebody who has not seen what was found")

// ErrWalkedTwice means that an audit has been walked again already.
var ErrWalkedTwice = errors.New("it has been walked again already")

// AddSecond stores a second look at a signed audit. Whoever washed is refused by audit.ErrWasher, whoever audited by ErrNotBlind,
// one that is not signed or whose vehicle has moved on by a *visit.NotNow. Sent twice it changes nothing.
func (s *Store) AddSecond(ctx context.Context, look SecondLook) error {
	return s.atVisit(ctx, ofAudit, look.AuditID, func(in *Store, v *held) error {
		a, err := in.Audit(ctx, look.AuditID)
		if err != nil {
			return err
		}
		if err := in.mayAudit(ctx, a.WashID, look.AuditorID); err != nil {
			return err
		}
		known := a.AuditorID == look.AuditorID || a.SignerID != nil && *a.SignerID == look.AuditorID
		for _, item := range a.Items {
			known = known || item.ByID == look.AuditorID
		}
		var there []SecondLook
		if err := in.with(ctx).Where("audit_id = ?", look.AuditID).Find(&there).Error; err != nil {
			return translate(err, "second look")
		}
		switch {
		case known:
			return ErrNotBlind
		case len(there) > 0 && there[0].ID == look.ID:
			return nil
		case len(there) > 0:
			return ErrWalkedTwice
		case a.ClosedAt == nil || v.Stage != visit.Ready:
			return &visit.NotNow{Move: visit.StartAudit, Stage: v.Stage}
		}
		return translate(in.with(ctx).Omit(clause.Associations).Create(&look).Error, "second look")
	})
}

// OpenSecond is an audit that somebody may walk again.
type OpenSecond struct {
	AuditID, Label, Plate, Washer string
	At                            time.Time
}

// OpenSeconds are the newest audits that were signed since a time, whose vehicle still stands there ready, and that somebody may
// walk again: nobody has, and they neither washed nor audited.
func (s *Store) OpenSeconds(ctx context.Context, who string, since time.Time, most int) ([]OpenSecond, error) {
	rows := []OpenSecond{}
	err := s.with(ctx).Raw(`SELECT a.id AS audit_id, v.label, v.plate, p.name AS washer, a.closed_at AS at
		FROM audits a JOIN washes w ON w.audit_id = a.id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		JOIN people p ON p.id = w.washer_id
		WHERE a.closed_at >= @since AND b.stage = 'ready' AND a.auditor_id <> @who AND a.signer_id <> @who AND w.washer_id <> @who
		AND NOT @who = ANY(w.hands) AND NOT EXISTS (SELECT 1 FROM second_looks s WHERE s.audit_id = a.id)
		AND NOT EXISTS (SELECT 1 FROM audit_items i WHERE i.audit_id = a.id AND i.by_id = @who)
		ORDER BY a.closed_at DESC LIMIT @most`, map[string]any{"since": since, "who": who, "most": most}).Scan(&rows).Error
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
