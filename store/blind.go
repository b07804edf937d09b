package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"

	"uskel/core/audit"
	"uskel/core/visit"
)

// BlindOffer is a blind look that was offered to one named person.
type BlindOffer struct {
	Kind       audit.Blind `gorm:"primaryKey"`
	SubjectID  string      `gorm:"primaryKey"`
	PersonID   string      `gorm:"primaryKey"`
	ByID       string
	State      audit.OfferState
	At         time.Time
	AnsweredAt *time.Time
	Person     Person
	By         Person
}

// knowing are the queries of who knows the first look at something: whoever had a hand in it, and whoever has read it.
var knowing = map[audit.Blind]string{
	audit.SecondWalk: `SELECT a.id::text AS subject, x::text AS who FROM audits a JOIN washes w ON w.id = a.wash_id CROSS JOIN LATERAL unnest(
			ARRAY[a.auditor_id, a.signer_id, w.washer_id] || w.hands
			|| ARRAY(SELECT i.by_id FROM audit_items i WHERE i.audit_id = a.id)
			|| ARRAY(SELECT r.by_id FROM audit_remarks r WHERE r.audit_id = a.id)
			|| ARRAY(SELECT l.person_id FROM looks_read l WHERE l.subject_id = a.id)) x WHERE a.id IN @subjects AND x IS NOT NULL`,
	audit.SetWalk: `SELECT c.id::text AS subject, x AS who FROM calibrations c
			CROSS JOIN LATERAL unnest(ARRAY(SELECT jsonb_array_elements_text(c.knows))
			|| ARRAY(SELECT l.person_id::text FROM looks_read l WHERE l.subject_id = c.audit_id)) x WHERE c.id IN @subjects`,
	audit.SecondGrades: `SELECT o.booking_id::text AS subject, x::text AS who FROM look_overs o CROSS JOIN LATERAL unnest(ARRAY[o.by_id]
			|| ARRAY(SELECT l.person_id FROM looks_read l WHERE l.subject_id = o.booking_id)) x WHERE o.booking_id IN @subjects`,
}

// Knowing are those who know the first look at some things, by each.
func (s *Store) Knowing(ctx context.Context, kind audit.Blind, subjects ...string) (map[string][]string, error) {
	var rows []struct{ Subject, Who string }
	by := map[string][]string{}
	if len(subjects) == 0 {
		return by, nil
	}
	err := s.with(ctx).Raw(knowing[kind], map[string]any{"subjects": subjects}).Scan(&rows).Error
	for _, r := range rows {
		by[r.Subject] = append(by[r.Subject], r.Who)
	}
	return by, translate(err, "offer")
}

// Read notes that somebody has read what was found in audits, or how vehicles were graded. What is no audit and no booking is
// left out.
func (s *Store) Read(ctx context.Context, who string, at time.Time, subjects ...string) error {
	if len(subjects) == 0 {
		return nil
	}
	err := s.with(ctx).Exec(`INSERT INTO looks_read (person_id, subject_id, at)
		SELECT ?, x.id, ? FROM (SELECT id FROM audits UNION ALL SELECT id FROM bookings) x WHERE x.id IN ? ON CONFLICT DO NOTHING`,
		who, at, subjects).Error
	return translate(err, "reading")
}

// AskBlind offers a blind look to one named person, or takes it for oneself. Refused are whoever knows the first
// (audit.ErrKnowsFirst), what somebody else was asked for (audit.ErrOffered), what was put right since (audit.ErrReworked), and a
// vehicle that has moved on (a *visit.NotNow). Asked twice it changes nothing.
func (s *Store) AskBlind(ctx context.Context, o BlindOffer) error {
	return s.atBlind(ctx, o.Kind, o.SubjectID, func(in *Store) error {
		know, err := in.Knowing(ctx, o.Kind, o.SubjectID)
		if err != nil {
			return err
		}
		if err := audit.MayLookBlind(o.PersonID, know[o.SubjectID]); err != nil {
			return err
		}
		made := in.with(ctx).Exec(`INSERT INTO blind_offers (kind, subject_id, person_id, by_id, state, at, answered_at)
			SELECT @kind, @subject, @person, @by, @state, @at, @answered WHERE @kind = 'set walk' OR NOT EXISTS (SELECT 1 FROM blind_offers x
				WHERE x.kind = @kind AND x.subject_id = @subject AND x.person_id <> @person AND x.state <> 'declined')
			ON CONFLICT (kind, subject_id, person_id) DO UPDATE SET state = CASE WHEN blind_offers.state IN ('accepted', 'done')
				THEN blind_offers.state ELSE excluded.state END, answered_at = excluded.answered_at`,
			map[string]any{"kind": o.Kind, "subject": o.SubjectID, "person": o.PersonID, "by": o.ByID, "state": o.State, "at": o.At,
				"answered": o.AnsweredAt})
		if made.Error == nil && made.RowsAffected == 0 {
			return audit.ErrOffered
		}
		return translate(made.Error, "offer")
	})
}

// atBlind holds what a blind look is of, as long as it may be looked at blind.
func (s *Store) atBlind(ctx context.Context, kind audit.Blind, subject string, do func(in *Store) error) error {
	switch kind {
	case audit.SetWalk:
		return s.with(ctx).Transaction(func(tx *gorm.DB) error {
			in := s.inside(tx)
			if _, err := in.Calibration(ctx, subject); err != nil {
				return err
			}
			return do(in)
		})
	case audit.SecondGrades:
		return s.atVisit(ctx, "id = ?", subject, func(in *Store, v *held) error {
			if v.Stage != visit.LookedOver {
				return &visit.NotNow{Move: visit.LookOver, Stage: v.Stage}
			}
			return do(in)
		})
	}
	return s.atVisit(ctx, ofAudit, subject, func(in *Store, v *held) error {
		if err := in.asFound(ctx, v, subject); err != nil {
			return err
		}
		return do(in)
	})
}

// asFound refuses an audit that is not signed, whose vehicle has moved on, or of which something was put right since.
func (s *Store) asFound(ctx context.Context, v *held, id string) error {
	a, err := find[Audit](ctx, s, "audit", "id = ?", id)
	switch {
	case err != nil:
		return err
	case a.ClosedAt == nil || v.Stage != visit.Ready:
		return &visit.NotNow{Move: visit.StartAudit, Stage: v.Stage}
	case !audit.AsFound(a.Round, *a.Result):
		return audit.ErrReworked
	}
	return nil
}

// AnswerBlind accepts or declines what was offered to somebody; what was accepted may still be declined.
func (s *Store) AnswerBlind(ctx context.Context, kind audit.Blind, subject, who string, yes bool, at time.Time) error {
	to, from := audit.IsDeclined, []audit.OfferState{audit.IsOffered, audit.IsAccepted, audit.IsDeclined}
	if yes {
		to, from = audit.IsAccepted, []audit.OfferState{audit.IsOffered, audit.IsAccepted}
	}
	set := s.with(ctx).Model(&BlindOffer{}).Where("kind = ? AND subject_id = ? AND person_id = ? AND state IN ?", kind, subject, who, from).
		Updates(map[string]any{"state": to, "answered_at": at})
	if set.Error == nil && set.RowsAffected == 0 {
		return audit.ErrNotAsked
	}
	return translate(set.Error, "offer")
}

// lookedBlind ends an offer with the look that was made. Whoever did not accept is refused by audit.ErrNotAsked.
func (s *Store) lookedBlind(ctx context.Context, kind audit.Blind, subject, who string) error {
	set := s.with(ctx).Model(&BlindOffer{}).Where("kind = ? AND subject_id = ? AND person_id = ? AND state = ?", kind, subject, who,
		audit.IsAccepted).Update("state", audit.IsDone)
	if set.Error == nil && set.RowsAffected == 0 {
		return audit.ErrNotAsked
	}
	return translate(set.Error, "offer")
}

// Accepted reports whether somebody has accepted a blind look, or made it: audit.ErrNotAsked when not.
func (s *Store) Accepted(ctx context.Context, kind audit.Blind, subject, who string) error {
	o, err := find[BlindOffer](ctx, s, "offer", "kind = ? AND subject_id = ? AND person_id = ?", kind, subject, who)
	if errors.Is(err, ErrNotFound) || err == nil && (o.State == audit.IsOffered || o.State == audit.IsDeclined) {
		return audit.ErrNotAsked
	}
	return err
}

// Offers are those of some subjects that were not declined, by subject.
func (s *Store) Offers(ctx context.Context, kind audit.Blind, subjects []string) (map[string]BlindOffer, error) {
	by, rows := map[string]BlindOffer{}, []BlindOffer{}
	if len(subjects) == 0 {
		return by, nil
	}
	err := s.with(ctx).Joins("Person").Joins("By").Where("kind = ? AND subject_id IN ? AND state <> ?", kind, subjects, audit.IsDeclined).
		Find(&rows).Error
	for _, r := range rows {
		by[r.SubjectID] = r
	}
	return by, translate(err, "offers")
}

// Veil is what somebody reads nowhere: what audits found, and how vehicles were graded, that they look at again.
type Veil struct {
	Audits, Bookings map[string]bool
	Photos           map[string]bool // audits whose photos are hidden, too: a walk of the set is made by them
}

// Empty reports whether nothing is hidden.
func (v Veil) Empty() bool { return len(v.Audits)+len(v.Bookings) == 0 }

// Veil finds what is hidden from somebody now; nothing from nobody. A vehicle that has moved on hides nothing any more.
func (s *Store) Veil(ctx context.Context, who string) (Veil, error) {
	var rows []struct {
		Audit, Booking string
		Photos         bool
	}
	if who == "" { // the server itself
		return Veil{}, nil
	}
	err := s.with(ctx).Raw(`SELECT a.id::text AS audit, '' AS booking, true AS photos FROM blind_offers o JOIN audits a ON a.id = o.subject_id
			JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id
			WHERE o.person_id = @who AND o.state IN ('offered', 'accepted') AND o.kind = 'second walk' AND b.stage = 'ready'
		UNION ALL SELECT c.audit_id::text, '', false FROM blind_offers o JOIN calibrations c ON c.id = o.subject_id
			WHERE o.person_id = @who AND o.state IN ('offered', 'accepted') AND o.kind = 'set walk' AND c.retired_at IS NULL
		UNION ALL SELECT '', b.id::text, false FROM blind_offers o JOIN bookings b ON b.id = o.subject_id
			WHERE o.person_id = @who AND o.state IN ('offered', 'accepted') AND o.kind = 'second grades' AND b.stage = 'looked over'`,
		map[string]any{"who": who}).Scan(&rows).Error
	v := Veil{map[string]bool{}, map[string]bool{}, map[string]bool{}}
	for _, r := range rows {
		if r.Audit != "" {
			v.Audits[r.Audit] = true
			v.Photos[r.Audit] = v.Photos[r.Audit] || r.Photos
		}
		if r.Booking != "" {
			v.Bookings[r.Booking] = true
		}
	}
	return v, translate(err, "offers")
}
