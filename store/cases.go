package store

import (
	"context"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"uskel/core/cases"
	"uskel/core/procedure"
)

// CaseRow is a judgement case that was dealt to somebody.
type CaseRow struct {
	ID         string
	PersonID   string
	Kind       string
	Skill      procedure.Skill
	Body       cases.Case `gorm:"serializer:json"`
	DealtAt    time.Time
	AnsweredAt *time.Time
	Given      *cases.Given `gorm:"serializer:json"`
	Correct    *bool
}

// TableName is cases.
func (CaseRow) TableName() string { return "cases" }

// RecallRow is what somebody remembers of a kind of case.
type RecallRow struct {
	PersonID string `gorm:"primaryKey"`
	Kind     string `gorm:"primaryKey"`
	Skill    procedure.Skill
	Body     cases.Recall `gorm:"serializer:json"`
}

// TableName is recalls.
func (RecallRow) TableName() string { return "recalls" }

// OwnCase is a case that a lead has written.
type OwnCase struct {
	ID       string
	Body     cases.Own `gorm:"serializer:json"`
	ByID     string
	At       time.Time
	Archived bool
}

// OwnCases are those in use, the oldest first.
func (s *Store) OwnCases(ctx context.Context) ([]OwnCase, error) {
	rows := []OwnCase{}
	return rows, translate(s.with(ctx).Where("NOT archived").Order("at, id").Find(&rows).Error, "own cases")
}

// AddOwnCase stores a case that a lead has written.
func (s *Store) AddOwnCase(ctx context.Context, c OwnCase) error {
	return translate(s.with(ctx).Create(&c).Error, "own case")
}

// ArchiveOwnCase takes an own case out of use; what was dealt of it stays.
func (s *Store) ArchiveOwnCase(ctx context.Context, id string) error {
	return oneRow(s.with(ctx).Model(&OwnCase{}).Where("id = ? AND NOT archived", id).Update("archived", true), "own case")
}

// Recalls are what somebody remembers, by kind.
func (s *Store) Recalls(ctx context.Context, person string) ([]cases.Recall, error) {
	var rows []RecallRow
	err := s.with(ctx).Where("person_id = ?", person).Order("kind").Find(&rows).Error
	known := make([]cases.Recall, len(rows))
	for i, r := range rows {
		known[i] = r.Body
	}
	return known, translate(err, "recalls")
}

// AllRecalls are what everybody remembers, by person.
func (s *Store) AllRecalls(ctx context.Context) (map[string][]cases.Recall, error) {
	var rows []RecallRow
	err := s.with(ctx).Order("person_id, kind").Find(&rows).Error
	known := map[string][]cases.Recall{}
	for _, r := range rows {
		known[r.PersonID] = append(known[r.PersonID], r.Body)
	}
	return known, translate(err, "recalls")
}

// DealCases gives somebody's open cases, dealing more by a function of those until there are enough; nobody else deals for
// them meanwhile.
func (s *Store) DealCases(ctx context.Context, person string, deal func(open []CaseRow) ([]CaseRow, error)) ([]CaseRow, error) {
	var open []CaseRow
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec("SELECT 1 FROM people WHERE id = ? FOR UPDATE", person).Error; err != nil {
			return translate(err, "person")
		}
		if err := tx.Where("person_id = ? AND answered_at IS NULL", person).Order("dealt_at, id").Find(&open).Error; err != nil {
			return translate(err, "cases")
		}
		more, err := deal(open)
		if err != nil || len(more) == 0 {
			return err
		}
		open = append(open, more...)
		return translate(tx.Create(&more).Error, "cases")
	})
	return open, err
}

// Case finds a case.
func (s *Store) Case(ctx context.Context, id string) (CaseRow, error) {
	return find[CaseRow](ctx, s, "case", "id = ?", id)
}

// AnswerCase keeps somebody's answer to a case that is still open, and what they remember then: it follows from what they
// remembered, by a function of it.
func (s *Store) AnswerCase(ctx context.Context, c CaseRow, learn func(cases.Recall) (cases.Recall, error)) (cases.Recall, error) {
	var next cases.Recall
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		answer := tx.Where("id = ? AND person_id = ? AND answered_at IS NULL", c.ID, c.PersonID).
			Select("AnsweredAt", "Given", "Correct").Updates(&c)
		if err := oneRow(answer, "case"); err != nil {
			return err
		}
		was := RecallRow{PersonID: c.PersonID, Kind: c.Kind, Skill: c.Skill, Body: cases.Recall{Kind: c.Kind, Skill: c.Skill}}
		found := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("person_id = ? AND kind = ?", c.PersonID, c.Kind).Limit(1).Find(&was)
		if found.Error != nil {
			return translate(found.Error, "recall")
		}
		var err error
		if next, err = learn(was.Body); err != nil {
			return err
		}
		was.Body = next
		return translate(tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&was).Error, "recall")
	})
	return next, err
}

// AnsweredSince counts somebody's answers since a moment, and those that were right.
func (s *Store) AnsweredSince(ctx context.Context, person string, since time.Time) (answered, right int, err error) {
	err = s.with(ctx).Raw("SELECT count(*), count(*) FILTER (WHERE correct) FROM cases WHERE person_id = ? AND answered_at >= ?",
		person, since).Row().Scan(&answered, &right)
	return answered, right, translate(err, "cases")
}

// atOwnCase does something while a case of the shop's own is held.
func (s *Store) atOwnCase(ctx context.Context, id string, do func(in *Store) error) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		held := tx.Exec("SELECT 1 FROM own_cases WHERE id = ? AND NOT archived FOR UPDATE", id)
		if held.Error == nil && held.RowsAffected == 0 {
			held.Error = gorm.ErrRecordNotFound
		}
		if held.Error != nil {
			return translate(held.Error, "case")
		}
		return do(s.inside(tx))
	})
}
