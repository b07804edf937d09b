package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"uskel/core/audit"
	"uskel/core/visit"
	"uskel/core/wash"
)

// StartAudit opens an audit of a wash and closes the wash; the audit that is under way, if any, is returned instead.
// An audit after rework takes over the answers of the round before that found nothing. Whoever washed is refused by
// audit.MayAudit's error, a vehicle that stands elsewhere by a *visit.NotNow. Its id is made by the device: sent twice it changes
// nothing.
func (s *Store) StartAudit(ctx context.Context, a Audit) (Audit, error) {
	err := s.atVisit(ctx, ofWash, a.WashID, func(in *Store, v *held) error {
		var there int64
		if err := in.with(ctx).Model(&Audit{}).Where("id = ? AND wash_id = ?", a.ID, a.WashID).Count(&there).Error; err != nil || there > 0 {
			return translate(err, "audit")
		}
		w, err := in.WashHead(ctx, a.WashID)
		if err != nil {
			return err
		}
		if err := in.mayAudit(ctx, w.ID, a.AuditorID); err != nil {
			return err
		}
		if v.Stage == visit.Auditing && w.AuditID != nil {
			a.ID = *w.AuditID
			return nil
		}
		if err := v.move(visit.StartAudit); err != nil {
			return err
		}
		if err := in.closeWash(ctx, v.ID, a.StartedAt); err != nil {
			return err
		}
		if w.FinishedAt != nil && a.StartedAt.Before(*w.FinishedAt) {
			a.StartedAt = *w.FinishedAt
		}
		return in.openRound(ctx, &a, w)
	})
	if err != nil {
		return Audit{}, err
	}
	return s.Audit(ctx, a.ID)
}

// AsBegun fills in what an audit of a wash would begin with: its round, and the answers of the round before that found nothing.
func (s *Store) AsBegun(ctx context.Context, a *Audit, w Wash) error {
	a.Round = 1
	if a.Skips == nil {
		a.Skips = map[string]string{}
	}
	if w.AuditID == nil {
		return nil
	}
	before, err := s.Audit(ctx, *w.AuditID)
	if err != nil {
		return err
	}
	a.Round = before.Round + 1
	for _, item := range before.Items {
		if len(item.Answer.Findings) == 0 {
			item.AuditID = a.ID
			a.Items = append(a.Items, item)
		}
	}
	return nil
}

// openRound stores an audit as the newest of its wash.
func (s *Store) openRound(ctx context.Context, a *Audit, w Wash) error {
	if err := s.AsBegun(ctx, a, w); err != nil {
		return err
	}
	if err := s.with(ctx).Omit(clause.Associations).Create(a).Error; err != nil {
		return translate(err, "audit")
	}
	for _, item := range a.Items {
		if err := s.with(ctx).Create(&item).Error; err != nil {
			return translate(err, "audit")
		}
	}
	return translate(s.with(ctx).Model(&Wash{}).Where("id = ?", w.ID).Update("audit_id", a.ID).Error, "wash")
}

// mayAudit asks audit.MayAudit of whoever had a hand in a wash (wash.Hands). Who did is kept with the times of a finished
// wash, and anew with every tap that comes after.
func (s *Store) mayAudit(ctx context.Context, washID, who string) error {
	var washed []string
	err := s.with(ctx).
		Raw("SELECT washer_id::text FROM washes WHERE id = @id UNION SELECT unnest(hands)::text FROM washes WHERE id = @id",
			map[string]any{"id": washID}).
		Scan(&washed).
		Error
	if err != nil {
		return translate(err, "wash")
	}
	return audit.MayAudit(who, washed)
}

// markSigners says of a wash's signed audits whether somebody who signed or answered them turned out to have washed.
func (s *Store) markSigners(ctx context.Context, washID string, tooLate []string) error {
	late, err := json.Marshal(tooLate)
	if err != nil {
		return err
	}
	return translate(s.with(ctx).Exec(`UPDATE audits a SET washed_too = to_jsonb(a.signer_id) <@ x.late OR to_jsonb(a.auditor_id) <@ x.late
			OR EXISTS (SELECT 1 FROM audit_items i WHERE i.audit_id = a.id AND to_jsonb(i.by_id) <@ x.late)
		FROM (SELECT CAST(? AS jsonb) AS late) x WHERE a.wash_id = ? AND a.closed_at IS NOT NULL`, string(late), washID).Error,
		"audit")
}

// WashedToo are the signed audits of which that turned out, the newest first.
func (s *Store) WashedToo(ctx context.Context, most int) ([]SignedLine, error) {
	return s.signedWhere(ctx, "a.washed_too", nil, most)
}

// Audit finds an audit with its answers.
func (s *Store) Audit(ctx context.Context, id string) (Audit, error) {
	var a Audit
	err := s.with(ctx).Joins("Auditor").Joins("Signer").Preload("Items").
		Preload("Remarks", func(tx *gorm.DB) *gorm.DB { return tx.Order("at, id") }).
		Where("audits.id = ?", id).Take(&a).Error
	return a, translate(err, "audit")
}

// SaveItem stores an answer if nobody saved since its version; version 0 is a first answer. An answer that comes
// after the audit was signed is kept beside it as a remark, which is told; the signed result stays as it is.
func (s *Store) SaveItem(ctx context.Context, item AuditItem) (remark bool, err error) {
	err = s.atVisit(ctx, ofAudit, item.AuditID, func(in *Store, _ *held) error {
		a, err := find[Audit](ctx, in, "audit", "id = ?", item.AuditID)
		if err != nil {
			return err
		}
		if err := in.mayAudit(ctx, a.WashID, item.ByID); err != nil {
			return err
		}
		if a.ClosedAt != nil {
			remark = true
			late := AuditRemark{
				ID:      NewID(),
				AuditID: a.ID,
				Item:    item.Item,
				Answer:  item.Answer,
				ByID:    item.ByID,
				At:      item.At,
			}
			return translate(in.with(ctx).Create(&late).Error, "remark")
		}
		return in.storeItem(ctx, item)
	})
	return remark, err
}

func (s *Store) storeItem(ctx context.Context, item AuditItem) error {
	was := item.Version
	item.Version++
	if was == 0 {
		err := s.with(ctx).Create(&item).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return stale("item")
		}
		return translate(err, "item")
	}
	return oneRow(s.with(ctx).Where("audit_id = ? AND item = ? AND version = ?", item.AuditID, item.Item,
		was).Select("Version", "Answer", "ByID", "At").Updates(&item), "item")
}

// Candidates are finished washes as the plan of audits asks of them: moments and counts, of which audit.Sampling makes a
// verdict. What went before is counted up to most, so that it costs the same however long a shop has been at work.
func (s *Store) Candidates(ctx context.Context, washes []string, most int) ([]audit.Candidate, error) {
	rows := []audit.Candidate{}
	if len(washes) == 0 {
		return rows, nil
	}
	err := s.with(ctx).Raw(`SELECT w.id, p.role = 'trainee' AS trainee,
		(SELECT count(*) FROM (SELECT 1 FROM washes o WHERE o.washer_id = w.washer_id AND o.finished_at < w.finished_at LIMIT @most) x)
			AS of_washer,
		(SELECT count(*) FROM (SELECT 1 FROM washes o WHERE o.procedure = w.procedure AND o.version = w.version
			AND o.finished_at < w.finished_at LIMIT @most) x) AS of_version,
		coalesce(so.skill, '') AS skill,
		(SELECT count(*) FROM (SELECT 1 FROM washes o WHERE o.washer_id = w.washer_id AND o.finished_at < w.finished_at
			AND o.finished_at > so.at LIMIT @most) x) AS since_skill,
		coalesce(np.name, '') AS product,
		(SELECT count(*) FROM (SELECT 1 FROM washes o WHERE o.finished_at >= np.first AND o.finished_at < w.finished_at
			AND jsonb_exists(o.uses -> 'products', np.id) LIMIT @most) x) AS of_product,
		np.first AS product_from, w.finished_at AS finished,
		(SELECT max(m.at) FROM visit_moves m JOIN bookings before ON before.id = m.booking_id WHERE before.vehicle_id = b.vehicle_id
			AND m.move = 'come back' AND m.at < w.finished_at) AS came_back
		FROM washes w JOIN people p ON p.id = w.washer_id JOIN bookings b ON b.id = w.booking_id
		LEFT JOIN LATERAL (SELECT s.skill, s.at FROM sign_offs s WHERE s.person_id = w.washer_id AND s.passed AND s.at < w.finished_at
			ORDER BY s.at DESC LIMIT 1) so ON true
		LEFT JOIN LATERAL (SELECT k.id, coalesce(pr.doc ->> 'name', k.id) AS name, u.first FROM jsonb_object_keys(w.uses -> 'products') k (id)
			CROSS JOIN LATERAL (SELECT min(d.day)::timestamp AT TIME ZONE 'UTC' AS first FROM use_days d WHERE d.thing = 'product ' || k.id) u
			LEFT JOIN products pr ON pr.id = k.id WHERE u.first IS NOT NULL
			ORDER BY u.first DESC, k.id LIMIT 1) np ON true
		WHERE w.id IN @ids`,
		map[string]any{"most": most, "ids": washes}).Scan(&rows).Error
	return rows, translate(err, "washes")
}

// SetLight stores in which light an audit is walked, as long as it is not signed.
func (s *Store) SetLight(ctx context.Context, id, who string, light audit.Light) error {
	return s.atVisit(ctx, ofAudit, id, func(in *Store, _ *held) error {
		a, err := find[Audit](ctx, in, "audit", "id = ?", id)
		if err != nil {
			return err
		}
		if err := in.mayAudit(ctx, a.WashID, who); err != nil {
			return err
		}
		set := in.with(ctx).Model(&Audit{}).Where("id = ? AND closed_at IS NULL", id).Update("light", light)
		if set.Error == nil && set.RowsAffected == 0 {
			return of("audit", ErrSigned)
		}
		return translate(set.Error, "audit")
	})
}

// Signing is what an audit is judged from: all of it held while it is judged and stored.
type Signing struct {
	Audit Audit
	Wash  Wash
	Log   []wash.Event
}

// CloseAudit judges an audit as it stands, stores the result with who signed it, gives the wash its rework and moves
// the vehicle on. A signed audit stays as it is.
func (s *Store) CloseAudit(
	ctx context.Context,
	id, signer string,
	at time.Time,
	judge func(Signing) (audit.Result, error),
) error {
	return s.atVisit(ctx, ofAudit, id, func(in *Store, v *held) error {
		a, err := in.Audit(ctx, id)
		if err != nil {
			return err
		}
		if a.ClosedAt != nil {
			return of("audit", ErrSigned)
		}
		w, err := in.Wash(ctx, a.WashID)
		if err != nil {
			return err
		}
		if err := in.mayAudit(ctx, w.ID, signer); err != nil {
			return err
		}
		log, err := in.Events(ctx, w.ID)
		if err != nil {
			return err
		}
		result, err := judge(Signing{a, w, log})
		if err != nil {
			return err
		}
		rework := audit.Rework(result, a.Round)
		if err := v.move(visit.Signed(result.Passed, len(rework) > 0)); err != nil {
			return err
		}
		return in.sign(ctx, a, signer, at, result, append(w.Rework, rework...))
	})
}

// ErrSigned means that an audit is signed: it stays as it is.
var ErrSigned = errors.New("signed")

func (s *Store) sign(
	ctx context.Context,
	a Audit,
	signer string,
	at time.Time,
	result audit.Result,
	rework []wash.PlannedStep,
) error {
	if at.Before(a.StartedAt) { // a clock that went back signs nothing before it began
		at = a.StartedAt
	}
	err := oneRow(s.with(ctx).Where("id = ? AND closed_at IS NULL", a.ID).Select("ClosedAt", "Result", "SignerID").
		Updates(&Audit{ClosedAt: &at, Result: &result, SignerID: &signer}), "audit")
	if err != nil {
		return err
	}
	// What an audit found counts in the statistics: they read the wash anew.
	err = s.with(ctx).Exec("UPDATE washes SET times_at = clock_timestamp() WHERE id = ?", a.WashID).Error
	if err != nil || len(rework) == 0 {
		return translate(err, "wash")
	}
	return translate(
		s.with(ctx).Model(&Wash{ID: a.WashID}).Select("Rework").Updates(&Wash{Rework: rework}).Error,
		"rework",
	)
}
