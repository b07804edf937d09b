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

// UsedMl is how much of each product's name the plans of washes finished since a moment used, ml by name, for each product's own moment.
func (s *Store) UsedMl(ctx context.Context, since map[string]time.Time) (map[string]float64, error) {
	used := map[string]float64{}
	if len(since) == 0 {
		return used, nil
	}
	earliest := time.Now()
	for _, at := range since {
		if at.Before(earliest) {
			earliest = at
		}
	}
	var rows []struct {
		Product    string
		FinishedAt time.Time
		Ml         float64
	}
	err := s.with(ctx).Raw(`SELECT step->'mix'->>'product' AS product, w.finished_at, sum((step->'mix'->>'ml')::float8) AS ml
		FROM washes w, jsonb_array_elements(w.plan->'steps') step WHERE w.finished_at >= ? AND step->'mix' IS NOT NULL GROUP BY 1, 2`, earliest).Scan(&rows).Error
	for _, r := range rows {
		if at, wanted := since[r.Product]; wanted && !r.FinishedAt.Before(at) {
			used[r.Product] += r.Ml
		}
	}
	return used, translate(err, "use")
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

// ClothUse is how many cloths of a colour a step of a finished wash used.
type ClothUse struct {
	Colour     string
	Cloth      string
	FinishedAt time.Time
}

// ClothUses lists the cloths that plans of washes finished since a moment name.
func (s *Store) ClothUses(ctx context.Context, since time.Time) ([]ClothUse, error) {
	rows := []ClothUse{}
	err := s.with(ctx).Raw(`SELECT step->>'colour' AS colour, step->>'cloth' AS cloth, w.finished_at
		FROM washes w, jsonb_array_elements(w.plan->'steps') step WHERE w.finished_at >= ? AND step->>'colour' IS NOT NULL`, since).Scan(&rows).Error
	return rows, translate(err, "cloths")
}
