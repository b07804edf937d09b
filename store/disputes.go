package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm/clause"

	"uskel/core/audit"
)

// Dispute is what somebody who washed says against what an audit found at an item, and how a lead settled it.
type Dispute struct {
	ID        string
	AuditID   string
	Item      string
	Note      string
	ByID      string
	At        time.Time
	Upheld    *bool // whether it was settled for whoever washed; nil until it is settled
	Answer    string
	SettlerID *string
	SettledAt *time.Time
	By        Person
	Settler   *Person
}

// ErrDisputed means that somebody disputed the item already.
var ErrDisputed = errors.New("this is disputed already")

// AddDispute stores a dispute that may says nothing against: it is asked with the audit and who washed, while both are held. Sent
// twice it changes nothing.
func (s *Store) AddDispute(ctx context.Context, d Dispute, may func(a Audit, washers []string) error) error {
	return s.atVisit(ctx, ofAudit, d.AuditID, func(in *Store, _ *held) error {
		a, err := in.Audit(ctx, d.AuditID)
		if err != nil {
			return err
		}
		there, err := in.Disputes(ctx, d.AuditID)
		if err != nil {
			return err
		}
		for _, t := range there {
			switch {
			case t.ID == d.ID:
				return nil
			case t.Item == d.Item:
				return ErrDisputed
			}
		}
		washers, err := in.washers(ctx, a.WashID)
		if err != nil {
			return err
		}
		if err := may(a, washers); err != nil {
			return err
		}
		return translate(in.with(ctx).Omit(clause.Associations).Create(&d).Error, "dispute")
	})
}

// washers are who had a hand in a wash: whom it was given to, and whoever tapped in it.
func (s *Store) washers(ctx context.Context, washID string) ([]string, error) {
	var ids []string
	err := s.with(ctx).Raw("SELECT DISTINCT unnest(washers || washer_id) FROM washes WHERE id = ?", washID).Scan(&ids).Error
	return ids, translate(err, "wash")
}

// Disputes are the disputes of an audit, in the order in which they came.
func (s *Store) Disputes(ctx context.Context, auditID string) ([]Dispute, error) {
	rows := []Dispute{}
	err := s.with(ctx).Joins("By").Joins("Settler").Where("disputes.audit_id = ?", auditID).Order("disputes.at").Find(&rows).Error
	return rows, translate(err, "disputes")
}

// SettleDispute settles a dispute once; whoever disputes does not settle.
func (s *Store) SettleDispute(ctx context.Context, d Dispute) (auditID string, err error) {
	set := s.with(ctx).Model(&Dispute{}).Where("id = ? AND settled_at IS NULL AND by_id <> ?", d.ID, d.SettlerID).
		Updates(map[string]any{"upheld": d.Upheld, "answer": d.Answer, "settler_id": d.SettlerID, "settled_at": d.SettledAt})
	if set.Error != nil {
		return "", translate(set.Error, "dispute")
	}
	row, err := find[Dispute](ctx, s, "dispute", "id = ?", d.ID)
	switch {
	case err != nil:
		return "", err
	case set.RowsAffected > 0:
		// The statistics read the wash anew.
		err = s.with(ctx).Exec("UPDATE washes SET times_at = clock_timestamp() WHERE id = (SELECT wash_id FROM audits WHERE id = ?)",
			row.AuditID).Error
		return row.AuditID, translate(err, "wash")
	case row.SettledAt == nil:
		return "", audit.ErrOwnDispute
	case *row.Upheld == *d.Upheld && *row.SettlerID == *d.SettlerID:
		return row.AuditID, nil // sent again
	}
	return "", ErrStale
}

// OpenDispute is a dispute that waits to be settled.
type OpenDispute struct {
	ID, AuditID, Label, Plate, Item, Note, By, ByID string
	At                                              time.Time
}

// OpenDisputes are the disputes that wait to be settled, the oldest first; of one person where one is named.
func (s *Store) OpenDisputes(ctx context.Context, of string, most int) ([]OpenDispute, error) {
	rows := []OpenDispute{}
	err := s.with(ctx).Raw(`SELECT d.id, d.audit_id, v.label, v.plate, d.item, d.note, p.name AS by, d.by_id, d.at
		FROM disputes d JOIN people p ON p.id = d.by_id JOIN audits a ON a.id = d.audit_id JOIN washes w ON w.id = a.wash_id
		JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		WHERE d.settled_at IS NULL AND (@of = '' OR d.by_id::text = @of) ORDER BY d.at LIMIT @most`,
		map[string]any{"of": of, "most": most}).Scan(&rows).Error
	return rows, translate(err, "disputes")
}
