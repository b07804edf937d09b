package store

import (
	"context"
	"time"

	"uskel/core/drill"
	"uskel/core/procedure"
)

// DrillRun is a drill that somebody plays.
type DrillRun struct {
	ID         string
	PersonID   string
	Title      string
	Level      int
	Kind       drill.Kind
	Skill      procedure.Skill
	Drill      drill.Task     `gorm:"serializer:json"`
	Actions    []drill.Action `gorm:"serializer:json"`
	Version    int
	StartedAt  time.Time
	FinishedAt *time.Time
	Passed     *bool
	Result     *drill.RunResult `gorm:"serializer:json"`
	Person     Person
}

// AddRun stores a run.
func (s *Store) AddRun(ctx context.Context, r DrillRun) error {
	return translate(s.with(ctx).Omit("Person").Create(&r).Error, "drill")
}

// Run finds a run.
func (s *Store) Run(ctx context.Context, id string) (DrillRun, error) {
	return find[DrillRun](ctx, s, "drill", "id = ?", id)
}

// Runs are the newest runs, without their strokes: somebody's own, or everybody's when nobody is named.
func (s *Store) Runs(ctx context.Context, person string, most int) ([]DrillRun, error) {
	rows := []DrillRun{}
	query := s.with(ctx).Omit("Drill", "Actions", "Result").Joins("Person").Order("drill_runs.started_at DESC, drill_runs.id DESC").Limit(most)
	if person != "" {
		query = query.Where("drill_runs.person_id = ?", person)
	}
	return rows, translate(query.Find(&rows).Error, "drills")
}

// SaveRun stores a run's actions and how it came out, if nobody did since its version and it is not finished.
func (s *Store) SaveRun(ctx context.Context, r DrillRun) (DrillRun, error) {
	was := r.Version
	r.Version++
	return r, oneRow(s.with(ctx).Where("id = ? AND version = ? AND finished_at IS NULL", r.ID, was).
		Select("Actions", "Version", "FinishedAt", "Passed", "Result").Updates(&r), "drill")
}
