package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"

	"uskel/core/audit"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/shop"
)

// Founding is all that a new shop begins with.
type Founding struct {
	Lead       Person
	Settings   shop.Settings
	Procedures []procedure.Procedure
	Products   []shelf.Product
	Cloths     []ClothRow
	Checklists []audit.Checklist
	Readings   []Reading
	Note       string // of the procedures' first versions
	At         time.Time
}

// ErrFounded means that the database holds a shop already.
var ErrFounded = errors.New("this database holds a shop already")

// Found fills an empty database with a new shop, all of it or nothing. Two who found at once find one shop.
func (s *Store) Found(ctx context.Context, f Founding) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec("SELECT pg_advisory_xact_lock(hashtext('staff'))").Error; err != nil {
			return translate(err, "shop")
		}
		in := s.inside(tx)
		var taken bool
		if err := tx.Raw("SELECT EXISTS (SELECT 1 FROM people) OR EXISTS (SELECT 1 FROM settings)").
			Scan(&taken).
			Error; err != nil {
			return translate(err, "shop")
		}
		if taken {
			return ErrFounded
		}
		if err := tx.Exec("INSERT INTO shop_kind (demo) VALUES (false) ON CONFLICT DO NOTHING").Error; err != nil {
			return translate(err, "shop")
		}
		if err := in.AddPerson(ctx, f.Lead); err != nil {
			return err
		}
		if err := in.SaveSettings(ctx, f.Settings, 0); err != nil {
			return err
		}
		if err := in.stock(ctx, f); err != nil {
			return err
		}
		return translate(tx.Exec("DELETE FROM setup_code").Error, "shop")
	})
}

// stock puts the starters in.
func (s *Store) stock(ctx context.Context, f Founding) error {
	for _, p := range f.Procedures {
		if err := s.Publish(ctx, Version{Doc: p, PublishedAt: f.At, Note: f.Note, ByID: &f.Lead.ID}); err != nil {
			return err
		}
	}
	for _, p := range f.Products {
		if err := s.SaveProduct(ctx, p, 0); err != nil {
			return err
		}
	}
	for _, c := range f.Cloths {
		if err := s.AddCloths(ctx, c); err != nil {
			return err
		}
	}
	for _, c := range f.Checklists {
		if err := s.PublishChecklist(ctx, c, f.At); err != nil {
			return err
		}
	}
	return s.AddReadings(ctx, f.Readings)
}

// SetSetupCode keeps the hash of the code that opens the set-up page; the newest counts.
func (s *Store) SetSetupCode(ctx context.Context, hash string) error {
	return translate(
		s.with(ctx).
			Exec("INSERT INTO setup_code (hash) VALUES (?) ON CONFLICT (only_row) DO UPDATE SET hash = "+
				"excluded.hash", hash).
			Error,
		"set-up code",
	)
}

// SetupCode is the hash of the code that opens the set-up page, "" when there is none.
func (s *Store) SetupCode(ctx context.Context) (string, error) {
	var hash string
	err := s.with(ctx).Raw("SELECT coalesce((SELECT hash FROM setup_code), '')").Scan(&hash).Error
	return hash, translate(err, "set-up code")
}
