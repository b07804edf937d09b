package store

import (
	"context"
	"encoding/json"
	"reflect"
	"time"

	"uskel/core/shelf"
	"uskel/core/stock"
	"uskel/core/wash"
)

// StockCount is what stood on the shelf when a product was last counted.
type StockCount struct {
	ProductID string `gorm:"primaryKey"`
	CountedMl float64
	CountedAt time.Time
	LeadDays  int
	Version   int
	BeforeMl  float64 // used on the day of the count before it, ml
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
	return list[StockCount](ctx, s, "stock", "product_id", "true")
}

// Count stores a count if nobody counted since version; version 0 makes the first one.
func (s *Store) Count(ctx context.Context, c StockCount) error {
	was := c.Version
	c.Version++
	err := s.with(ctx).
		Raw("SELECT coalesce((SELECT amount FROM use_days WHERE thing = ? AND day = (?::timestamptz AT TIME ZONE "+
			"'UTC')::date), 0)",
			productThing(c.ProductID), c.CountedAt.UTC()).
		Scan(&c.BeforeMl).
		Error
	if err != nil {
		return translate(err, "use")
	}
	if was == 0 {
		return translate(s.with(ctx).Create(&c).Error, "count of "+c.ProductID)
	}
	return oneRow(s.with(ctx).Where("product_id = ? AND version = ?", c.ProductID, was).Select("CountedMl",
		"CountedAt", "LeadDays", "Version", "BeforeMl").Updates(&c), "stock")
}

// Things that are used up, by what they are kept under.
func productThing(id string) string { return "product " + id }
func clothThing(id string) string   { return "cloths " + id }

// countUses adds what a wash took off the shelf, by its taps, to its day when it finishes, and takes it off again when the finish
// is undone or moves.
func (s *Store) countUses(ctx context.Context, w Wash, state wash.State) error {
	used := w.Uses.Tapped(state)
	used.Steps = nil
	if w.FinishedAt != nil && w.FinishedAt.Equal(state.Finished) && (w.Used == nil || reflect.DeepEqual(*w.Used, used)) {
		return nil
	}
	if w.FinishedAt != nil && w.Used != nil {
		if err := s.addUses(ctx, *w.Used, *w.FinishedAt, -1); err != nil {
			return err
		}
	}
	w.Used = nil
	if !state.Finished.IsZero() {
		w.Used = &used
		if err := s.addUses(ctx, used, state.Finished, 1); err != nil {
			return err
		}
	}
	return translate(s.with(ctx).Model(&Wash{ID: w.ID}).Select("Used").Updates(&w).Error, "wash")
}

func (s *Store) addUses(ctx context.Context, u stock.Uses, at time.Time, sign float64) error {
	amounts := map[string]float64{}
	for id, ml := range u.Products {
		amounts[productThing(id)] = sign * ml
	}
	for id, n := range u.Cloths {
		amounts[clothThing(id)] = sign * float64(n)
	}
	if len(amounts) == 0 {
		return nil
	}
	text, err := json.Marshal(amounts)
	if err != nil {
		return err
	}
	// In the order of the things, so that washes that finish at once wait for each other and never in a circle.
	return translate(s.with(ctx).Exec(`INSERT INTO use_days (thing, day, amount)
		SELECT key, (?::timestamptz AT TIME ZONE 'UTC')::date, value::float8 FROM jsonb_each_text(?::jsonb) ORDER BY key
		ON CONFLICT (thing, day) DO UPDATE SET amount = use_days.amount + excluded.amount`, at.UTC(), string(text)).Error, "use")
}

// Used is what was used of a thing: since it was counted or bought, and of late.
type Used struct {
	Since  float64
	Recent float64
}

// UsedProducts sums what washes have used of each product, ml: since it was last counted, and since a day.
func (s *Store) UsedProducts(ctx context.Context, recent time.Time) (map[string]Used, error) {
	return s.used(ctx, `SELECT p.id,
		coalesce(sum(u.amount) FILTER (WHERE u.day >= (k.counted_at AT TIME ZONE 'UTC')::date), 0) - coalesce(max(k.before_ml), 0) AS since,
		coalesce(sum(u.amount) FILTER (WHERE u.day >= @day), 0) AS recent
		FROM products p LEFT JOIN stock k ON k.product_id = p.id
		LEFT JOIN use_days u ON u.thing = 'product ' || p.id AND u.day >= least(@day, (k.counted_at AT TIME ZONE 'UTC')::date) GROUP BY p.id`,
		map[string]any{"day": recent.UTC().Format(time.DateOnly)})
}

// UsedCloths counts the launderings of each set in use since it was bought.
func (s *Store) UsedCloths(ctx context.Context) (map[string]Used, error) {
	return s.used(ctx, `SELECT c.id::text AS id, coalesce(sum(u.amount), 0) AS since, 0 AS recent FROM cloths c
		LEFT JOIN use_days u ON u.thing = 'cloths ' || c.id AND u.day >= (c.since AT TIME ZONE 'UTC')::date
		WHERE c.retired_at IS NULL GROUP BY c.id`)
}

func (s *Store) used(ctx context.Context, sql string, args ...any) (map[string]Used, error) {
	var rows []struct {
		ID string
		Used
	}
	err := s.with(ctx).Raw(sql, args...).Scan(&rows).Error
	used := map[string]Used{}
	for _, r := range rows {
		used[r.ID] = r.Used
	}
	return used, translate(err, "use")
}

// ClothSets are the sets in use, as plans take from them.
func (s *Store) ClothSets(ctx context.Context) ([]shelf.ClothStock, error) {
	rows, err := s.Cloths(ctx)
	sets := make([]shelf.ClothStock, len(rows))
	for i, r := range rows {
		sets[i] = shelf.ClothStock{ID: r.ID, Kind: r.Kind, Colour: r.Colour, Count: r.Count, Since: r.Since}
	}
	return sets, err
}

// Cloths lists the sets in use.
func (s *Store) Cloths(ctx context.Context) ([]ClothRow, error) {
	return list[ClothRow](ctx, s, "cloths", "colour, kind", "retired_at IS NULL")
}

// AddCloths stores a set.
func (s *Store) AddCloths(ctx context.Context, c ClothRow) error {
	return translate(s.with(ctx).Create(&c).Error, "cloths")
}

// RetireCloths takes a set out of use.
func (s *Store) RetireCloths(ctx context.Context, id string, at time.Time) error {
	return oneRow(
		s.with(ctx).Model(&ClothRow{}).Where("id = ? AND retired_at IS NULL", id).Update("retired_at", at),
		"cloths",
	)
}
