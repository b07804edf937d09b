package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"

	"uskel/core/procedure"
	"uskel/core/ready"
	"uskel/core/skills"
)

// RubricRow is a version of a skill's lesson and rubric.
type RubricRow struct {
	Skill   procedure.Skill `gorm:"primaryKey"`
	Version int             `gorm:"primaryKey"`
	Body    skills.Rubric   `gorm:"serializer:json"`
	ByID    string
	At      time.Time
	By      Person
}

// TableName is rubrics.
func (RubricRow) TableName() string { return "rubrics" }

// Rubrics are the rubrics in use, in the order of teaching.
func (s *Store) Rubrics(ctx context.Context) ([]skills.Rubric, error) {
	var rows []RubricRow
	err := s.with(ctx).Where("(skill, version) IN (SELECT skill, max(version) FROM rubrics GROUP BY skill)").Find(&rows).Error
	written := make([]skills.Rubric, len(rows))
	for i, r := range rows {
		written[i] = r.Body
	}
	return skills.Current(written), translate(err, "rubrics")
}

// RubricVersions are all versions of a skill's rubric, the newest first.
func (s *Store) RubricVersions(ctx context.Context, skill procedure.Skill) ([]RubricRow, error) {
	rows := []RubricRow{}
	return rows, translate(s.with(ctx).Joins("By").Where("skill = ?", skill).Order("version DESC").Find(&rows).Error, "rubrics")
}

// AddRubric stores a new version; one that somebody else has written meanwhile is ErrStale.
func (s *Store) AddRubric(ctx context.Context, r RubricRow) error {
	created := s.with(ctx).Omit("By").Clauses(clause.OnConflict{DoNothing: true}).Create(&r)
	return oneRow(created, "rubric")
}

// WatchedRow is what a trainer saw of a criterion in a wash.
type WatchedRow struct {
	ID        string
	WashID    string
	PersonID  string
	TrainerID string
	Skill     procedure.Skill
	Version   int
	Criterion string
	Mark      skills.Mark
	Step      string
	Note      string
	At        time.Time
	Received  time.Time
}

// TableName is watched.
func (WatchedRow) TableName() string { return "watched" }

// AddWatched stores marks; those that are there already, sent twice, change nothing.
func (s *Store) AddWatched(ctx context.Context, rows []WatchedRow) error {
	if len(rows) == 0 {
		return nil
	}
	return translate(s.with(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&rows).Error, "marks")
}

// WatchedIn are the marks of a wash, the oldest first.
func (s *Store) WatchedIn(ctx context.Context, wash string) ([]WatchedRow, error) {
	rows := []WatchedRow{}
	return rows, translate(s.with(ctx).Where("wash_id = ?", wash).Order("at, id").Find(&rows).Error, "marks")
}

// WatchedOf is what was seen last of a criterion in a wash of somebody.
type WatchedOf struct {
	PersonID  string
	Skill     procedure.Skill
	WashID    string
	Criterion string
	Mark      skills.Mark
	At        time.Time
	Label     string // of the vehicle
}

// Watched is what was seen in everybody's washes since a moment: the newest mark of each criterion and wash.
func (s *Store) Watched(ctx context.Context, since time.Time) ([]WatchedOf, error) {
	var rows []WatchedOf
	err := s.with(ctx).Raw(`SELECT DISTINCT ON (m.person_id, m.wash_id, m.skill, m.criterion) m.person_id, m.skill, m.wash_id, m.criterion,
		m.mark, m.at, v.label
		FROM watched m JOIN washes w ON w.id = m.wash_id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		WHERE m.at >= ? ORDER BY m.person_id, m.wash_id, m.skill, m.criterion, m.at DESC, m.id DESC`, since).Scan(&rows).Error
	return rows, translate(err, "marks")
}

// PassedDrills is how many drills of a skill and level somebody passed.
type PassedDrills struct {
	PersonID string
	Skill    procedure.Skill
	Level    int
	Passed   int
}

// DrillsPassed counts everybody's passed drills since a moment.
func (s *Store) DrillsPassed(ctx context.Context, since time.Time) ([]PassedDrills, error) {
	var rows []PassedDrills
	err := s.with(ctx).Raw(`SELECT person_id, skill, level, count(*) AS passed FROM drill_runs WHERE passed AND finished_at >= ?
		GROUP BY person_id, skill, level`, since).Scan(&rows).Error
	return rows, translate(err, "drills")
}

// FindingsSince are the audit findings that count since a moment, going back to whoever washed and to a skill.
func (s *Store) FindingsSince(ctx context.Context, since time.Time) ([]skills.FindingOf, error) {
	var rows []skills.FindingOf
	err := s.with(ctx).Raw(`SELECT w.washer_id AS person, f ->> 'skill' AS skill, a.closed_at AS at
		FROM audits a JOIN washes w ON w.id = a.wash_id, jsonb_array_elements(a.result -> 'findings') f
		WHERE a.closed_at >= ? AND finding_counts(a.id, f)`, since).Scan(&rows).Error
	return rows, translate(err, "findings")
}

// ChangeSeen is that somebody has read what changed in a procedure since they last did it.
type ChangeSeen struct {
	PersonID  string
	Procedure string
	Version   int
	Was       int
	At        time.Time
}

// TableName is changes_seen.
func (ChangeSeen) TableName() string { return "changes_seen" }

// LastDone is the newest version of a procedure below one that somebody has washed by; 0 when they never did, or when they
// have washed by that version already, or read what changed.
func (s *Store) LastDone(ctx context.Context, person, procedure string, version int) (int, error) {
	var was int
	err := s.with(ctx).Raw(`SELECT coalesce((SELECT version FROM washes WHERE washer_id = @person AND procedure = @procedure
			AND version < @version AND finished_at IS NOT NULL ORDER BY version DESC LIMIT 1), 0)
		WHERE NOT EXISTS (SELECT 1 FROM washes WHERE washer_id = @person AND procedure = @procedure AND version = @version
				AND finished_at IS NOT NULL)
			AND NOT EXISTS (SELECT 1 FROM changes_seen WHERE person_id = @person AND procedure = @procedure AND version = @version)`,
		map[string]any{"person": person, "procedure": procedure, "version": version}).Scan(&was).Error
	return was, translate(err, "procedure")
}

// SeeChange stores it, once.
func (s *Store) SeeChange(ctx context.Context, c ChangeSeen) error {
	return translate(s.with(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&c).Error, "change")
}

// ChangesSeen are the newest changes that people have read, the newest first.
func (s *Store) ChangesSeen(ctx context.Context, since time.Time) ([]ChangeSeen, error) {
	rows := []ChangeSeen{}
	return rows, translate(s.with(ctx).Where("at >= ?", since).Order("at DESC").Limit(50).Find(&rows).Error, "changes")
}

// helpedSQL counts, for each skill, the audits of whoever passed a drill of it: before and after their first one, with a finding
// that goes back to the skill or without.
const helpedSQL = `
WITH first AS (
    SELECT person_id, skill, min(finished_at) AS at FROM drill_runs WHERE passed AND finished_at >= @since GROUP BY person_id, skill
), audited AS (
    SELECT f.skill, f.person_id, a.closed_at > f.at AS after, EXISTS (
        SELECT 1 FROM jsonb_array_elements(a.result -> 'findings') x
        WHERE finding_counts(a.id, x) AND x ->> 'skill' = f.skill) AS found
    FROM first f JOIN washes w ON w.washer_id = f.person_id JOIN audits a ON a.wash_id = w.id
    WHERE a.result IS NOT NULL AND a.closed_at BETWEEN f.at - make_interval(days => @days) AND f.at + make_interval(days => @days)
        AND a.closed_at >= @since
)
SELECT skill, count(DISTINCT person_id) AS people, count(*) FILTER (WHERE NOT after) AS before,
    count(*) FILTER (WHERE NOT after AND found) AS found_before, count(*) FILTER (WHERE after) AS after,
    count(*) FILTER (WHERE after AND found) AS found_after
FROM audited GROUP BY skill ORDER BY skill`

// Practised is what audits found before and after the first drills since a moment, skill by skill.
func (s *Store) Practised(ctx context.Context, since time.Time) ([]ready.Practised, error) {
	var rows []ready.Practised
	err := s.with(ctx).Raw(helpedSQL, map[string]any{"since": since, "days": ready.HelpedDays}).Scan(&rows).Error
	return rows, translate(err, "drills")
}
