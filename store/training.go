package store

import (
	"context"
)

// AddSignOff stores a sign-off.
func (s *Store) AddSignOff(ctx context.Context, o SignOff) error {
	return translate(s.with(ctx).Omit("Trainer").Create(&o).Error, "sign-off")
}

// SignOffs lists the newest sign-off of each person for each skill, newest first: it says whether the skill is held.
func (s *Store) SignOffs(ctx context.Context) ([]SignOff, error) {
	rows := []SignOff{}
	err := s.with(ctx).
		Joins("Trainer").
		Where("sign_offs.id IN (SELECT DISTINCT ON (person_id, skill) id FROM sign_offs ORDER BY person_id, " +
			"skill, at DESC, id DESC)").
		Order("at DESC").
		Find(&rows).
		Error
	return rows, translate(err, "sign-offs")
}

// AddDrill stores a drill.
func (s *Store) AddDrill(ctx context.Context, d Drill) error {
	return translate(s.with(ctx).Omit("Person").Create(&d).Error, "drill")
}

// Drill finds a drill.
func (s *Store) Drill(ctx context.Context, id string) (Drill, error) {
	return find[Drill](ctx, s, "drill", "id = ?", id)
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
	return d, oneRow(s.with(ctx).Where("id = ? AND version = ?", d.ID, was).Select("Moves", "Version", "FinishedAt",
		"Result").Updates(&d), "drill")
}
