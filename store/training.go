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
