package store

import (
	"context"
	"time"
)

// StockCount is what stood on the shelf when a product was last counted.
type StockCount struct {
	ProductID string `gorm:"primaryKey"`
	CountedMl float64
	CountedAt time.Time
	LeadDays  int
	Version   int
}

// TableName is stock.
func (StockCount) TableName() string { return "stock" }

// ClothRow is a set of cloths.
type ClothRow struct {
	ID        string
	Kind      string
	Colour    string
	Count     int
	WashLimit int
	Since     time.Time
	RetiredAt *time.Time
}

// TableName is cloths.
func (ClothRow) TableName() string { return "cloths" }

// Stock lists the counts.
func (s *Store) Stock(ctx context.Context) ([]StockCount, error) {
	return list[StockCount](s, ctx, "stock", "product_id", "true")
}

// Count stores a count if nobody counted since version; version 0 makes the first one.
func (s *Store) Count(ctx context.Context, c StockCount) error {
	was := c.Version
	c.Version++
	if was == 0 {
		return translate(s.with(ctx).Create(&c).Error, "count of "+c.ProductID)
	}
	return oneRow(s.with(ctx).Where("product_id = ? AND version = ?", c.ProductID, was).Select("CountedMl", "CountedAt", "LeadDays", "Version").Updates(&c), "stock")
}

// Use is what a finished wash took off the shelf.
type Use struct {
	FinishedAt time.Time
	Uses       Uses `gorm:"serializer:json"`
}

// UsesSince lists what washes finished since a moment took off the shelf.
func (s *Store) UsesSince(ctx context.Context, since time.Time) ([]Use, error) {
	rows := []Use{}
	err := s.with(ctx).Table("washes").Select("finished_at, uses").Where("finished_at >= ?", since).Scan(&rows).Error
	return rows, translate(err, "use")
}

// Cloths lists the sets in use.
func (s *Store) Cloths(ctx context.Context) ([]ClothRow, error) {
	return list[ClothRow](s, ctx, "cloths", "colour, kind", "retired_at IS NULL")
}

// AddCloths stores a set.
func (s *Store) AddCloths(ctx context.Context, c ClothRow) error {
	return translate(s.with(ctx).Create(&c).Error, "cloths")
}

// RetireCloths takes a set out of use.
func (s *Store) RetireCloths(ctx context.Context, id string, at time.Time) error {
	return oneRow(s.with(ctx).Model(&ClothRow{}).Where("id = ? AND retired_at IS NULL", id).Update("retired_at", at), "cloths")
}
