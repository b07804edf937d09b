package store

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"uskel/core/procedure"
)

// Version is a published version of a procedure.
type Version struct {
	ID          string
	Version     int
	Doc         procedure.Procedure `gorm:"serializer:json"`
	PublishedAt time.Time
	Note        string
	ByID        *string
	RetiredAt   *time.Time
	By          *Person
}

// TableName is procedures.
func (Version) TableName() string { return "procedures" }

// Draft is a procedure being written.
type Draft struct {
	ID       string
	Revision int
	BasedOn  int
	Doc      procedure.Procedure `gorm:"serializer:json"`
	ByID     string
	At       time.Time
	By       Person
}

// Publish stores a version of a procedure. A version that is there already stays as it is.
func (s *Store) Publish(ctx context.Context, v Version) error {
	if err := v.Doc.Check(); err != nil {
		return err
	}
	v.ID, v.Version = v.Doc.ID, v.Doc.Version
	return translate(s.with(ctx).Omit("By").Clauses(clause.OnConflict{DoNothing: true}).Create(&v).Error, "procedure")
}

// Procedures lists the newest version of each procedure that is not retired.
func (s *Store) Procedures(ctx context.Context) ([]procedure.Procedure, error) {
	var rows []Version
	err := s.with(ctx).
		Raw("SELECT DISTINCT ON (id) id, version, published_at, retired_at FROM procedures ORDER BY id, version DESC").
		Scan(&rows).
		Error
	if err != nil {
		return nil, translate(err, "procedures")
	}
	rows = slices.DeleteFunc(rows, func(v Version) bool { return v.RetiredAt != nil })
	if err := s.fillDocs(ctx, rows); err != nil {
		return nil, err
	}
	docs := make([]procedure.Procedure, len(rows))
	for i, r := range rows {
		docs[i] = r.Doc
	}
	return docs, nil
}

// Versions lists all versions of all procedures, newest first, or of one.
func (s *Store) Versions(ctx context.Context, id string) ([]Version, error) {
	rows := []Version{}
	q := s.with(ctx).Omit("Doc").Joins("By").Order("procedures.id, procedures.version DESC")
	if id != "" {
		q = q.Where("procedures.id = ?", id)
	}
	if err := q.Find(&rows).Error; err != nil {
		return nil, translate(err, "versions")
	}
	return rows, s.fillDocs(ctx, rows)
}

// published remembers documents: a published version never changes, so one reading is enough. Callers do not change
// them.
type published struct {
	sync.RWMutex
	docs map[publishedKey]procedure.Procedure
}

type publishedKey struct {
	id      string
	version int
	at      int64
}

func keyOf(v Version) publishedKey { return publishedKey{v.ID, v.Version, v.PublishedAt.UnixMicro()} }

// fillDocs gives versions their documents, reading only those not read before.
func (s *Store) fillDocs(ctx context.Context, rows []Version) error {
	var missing []string
	s.published.RLock()
	for i := range rows {
		doc, known := s.published.docs[keyOf(rows[i])]
		if rows[i].Doc = doc; !known {
			missing = append(missing, rows[i].ID)
		}
	}
	s.published.RUnlock()
	if len(missing) == 0 {
		return nil
	}
	read, err := list[Version](ctx, s, "procedures", "id", "id IN ?", missing)
	if err != nil {
		return err
	}
	s.published.Lock()
	defer s.published.Unlock()
	for _, v := range read {
		s.published.docs[keyOf(v)] = v.Doc
	}
	for i := range rows {
		rows[i].Doc = s.published.docs[keyOf(rows[i])]
	}
	return nil
}

// Drafts lists all drafts.
func (s *Store) Drafts(ctx context.Context) ([]Draft, error) {
	rows := []Draft{}
	err := s.with(ctx).Joins("By").Order("drafts.id").Find(&rows).Error
	return rows, translate(err, "drafts")
}

// Draft finds a procedure's draft.
func (s *Store) Draft(ctx context.Context, id string) (Draft, error) {
	var d Draft
	err := s.with(ctx).Joins("By").Where("drafts.id = ?", id).Take(&d).Error
	return d, translate(err, "draft")
}

// SaveDraft stores a draft if nobody saved since its revision; revision 0 makes the first one.
func (s *Store) SaveDraft(ctx context.Context, d Draft) (Draft, error) {
	was := d.Revision
	d.Revision++
	if was == 0 {
		err := translate(s.with(ctx).Omit("By").Create(&d).Error, "draft")
		if errors.Is(err, ErrTaken) {
			err = stale("draft")
		}
		return d, err
	}
	return d, oneRow(
		s.with(ctx).Where("id = ? AND revision = ?", d.ID, was).Select("Revision", "Doc", "ByID", "At").Updates(&d),
		"draft",
	)
}

// DropDraft throws a draft away.
func (s *Store) DropDraft(ctx context.Context, id string) error {
	return oneRow(s.with(ctx).Where("id = ?", id).Delete(&Draft{}), "draft")
}

// PublishDraft makes a draft of a revision the next version of its procedure, and clears the draft.
func (s *Store) PublishDraft(
	ctx context.Context,
	id string,
	revision int,
	note, byID string,
	at time.Time,
) (procedure.Procedure, error) {
	var published procedure.Procedure
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		var d Draft
		err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).
			Where("id = ? AND revision = ?", id, revision).
			Take(&d).
			Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return stale("draft")
		}
		if err != nil {
			return err
		}
		var newest int
		if err := tx.Raw("SELECT coalesce(max(version), 0) FROM procedures WHERE id = ?", id).
			Scan(&newest).
			Error; err != nil {
			return err
		}
		published = d.Doc
		published.ID, published.Version = id, newest+1
		v := Version{ID: id, Version: newest + 1, Doc: published, PublishedAt: at, Note: note, ByID: &byID}
		if err := tx.Omit("By").Create(&v).Error; err != nil {
			return err
		}
		if err := remediedBy(tx, id, v.Version, byID, at); err != nil {
			return err
		}
		return tx.Where("id = ?", id).Delete(&Draft{}).Error
	})
	if errors.Is(err, ErrStale) {
		return published, err
	}
	return published, translate(err, "procedure")
}

// Retire hides a procedure from the chooser, or brings it back.
func (s *Store) Retire(ctx context.Context, id string, at *time.Time) error {
	done := s.with(ctx).
		Model(&Version{}).
		Where("id = ? AND version = (SELECT max(version) FROM procedures WHERE id = ?)", id, id).
		Update("retired_at", at)
	if done.Error == nil && done.RowsAffected == 0 {
		return NoSuch("procedure")
	}
	return translate(done.Error, "procedure")
}

// WashesByVersion counts the washes that ran each version of a procedure.
func (s *Store) WashesByVersion(ctx context.Context, id string) (map[int]int, error) {
	var rows []struct{ Version, Washes int }
	err := s.with(ctx).
		Raw("SELECT version, count(*) AS washes FROM washes WHERE procedure = ? GROUP BY version", id).
		Scan(&rows).
		Error
	ran := map[int]int{}
	for _, r := range rows {
		ran[r.Version] = r.Washes
	}
	return ran, translate(err, "washes")
}
