package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"time"

	"gorm.io/gorm/clause"

	"uskel/core/photo"
	"uskel/core/vehicle"
)

// Photo is a photo of a look-over (SubjectID is its booking), of an audit or of a case of the shop's own, without its picture.
type Photo struct {
	ID            string
	Subject       photo.Subject
	SubjectID     string
	Zone          vehicle.Zone
	Item          string // of the checklist, for an audit's
	Note          string
	Width, Height int
	ByID          string
	At            time.Time
	// Late is said of a photo that arrived after the wash had begun, or after the audit was signed: it proves nothing of before.
	Late bool
	By   Person
}

// Pictures is where the pictures of photos lie: in the database, or wherever a shop puts them.
type Pictures interface {
	// Put keeps a photo's picture; what is there under its id is replaced.
	Put(ctx context.Context, id string, p photo.Photo) error
	// Get gives a photo's picture as JPEG, large or small; ErrNotFound when there is none.
	Get(ctx context.Context, id string, small bool) ([]byte, error)
}

// inTables keeps pictures in the shop's own database.
type inTables struct{ s *Store }

type pictureRow struct {
	PhotoID      string `gorm:"primaryKey"`
	Large, Small []byte
}

// TableName is photo_pictures.
func (pictureRow) TableName() string { return "photo_pictures" }

func (t inTables) Put(ctx context.Context, id string, p photo.Photo) error {
	row := pictureRow{PhotoID: id, Large: p.Large, Small: p.Small}
	return translate(t.s.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&row).Error, "picture")
}

func (t inTables) Get(ctx context.Context, id string, small bool) ([]byte, error) {
	column := "large"
	if small {
		column = "small"
	}
	var row pictureRow
	err := t.s.with(ctx).Select("photo_id", column+" AS large").Where("photo_id = ?", id).Take(&row).Error
	return row.Large, translate(err, "picture")
}

// Pictures is where this shop's pictures lie.
func (s *Store) Pictures() Pictures { return inTables{s} }

// ErrManyPhotos means that a look-over or an audit has as many photos as it may.
var ErrManyPhotos = fmt.Errorf("there are %d photos of it already: take one out first", photo.MostOf)

// AddPhoto keeps a photo with its picture. Whoever washed is refused by audit.ErrWasher for an audit's. One that is sent again
// changes nothing; one that comes late is kept and says so.
func (s *Store) AddPhoto(ctx context.Context, p Photo, picture photo.Photo) error {
	if p.Subject == photo.OfCase {
		return s.atOwnCase(ctx, p.SubjectID, func(in *Store) error { return in.keepPhoto(ctx, p, picture) })
	}
	where := "id = ?"
	if p.Subject == photo.OfAudit {
		where = ofAudit
	}
	return s.atVisit(ctx, where, p.SubjectID, func(in *Store, _ *held) error {
		var err error
		if p.Late, err = in.tooLate(ctx, p); err != nil {
			return err
		}
		return in.keepPhoto(ctx, p, picture)
	})
}

// keepPhoto stores a photo of something that is held.
func (s *Store) keepPhoto(ctx context.Context, p Photo, picture photo.Photo) error {
	there, err := s.Photos(ctx, p.SubjectID)
	if err != nil {
		return err
	}
	for _, t := range there {
		if t.ID == p.ID {
			return nil
		}
	}
	if len(there) >= photo.MostOf {
		return ErrManyPhotos
	}
	if err := s.with(ctx).Omit(clause.Associations).Create(&p).Error; err != nil {
		return translate(err, "photo")
	}
	return s.Pictures().Put(ctx, p.ID, picture)
}

// tooLate reports whether what a photo is of is over: a wash has begun, an audit is signed. Whoever washed adds nothing to an audit.
func (s *Store) tooLate(ctx context.Context, p Photo) (bool, error) {
	if p.Subject == photo.OfLookOver {
		var begun int64
		err := s.with(ctx).Model(&Wash{}).Where("booking_id = ? AND started_at <= ?", p.SubjectID, p.At).Count(&begun).Error
		return begun > 0, translate(err, "wash")
	}
	a, err := find[Audit](ctx, s, "audit", "id = ?", p.SubjectID)
	if err != nil {
		return false, err
	}
	return a.ClosedAt != nil && !p.At.Before(*a.ClosedAt), s.mayAudit(ctx, a.WashID, p.ByID)
}

// Photos are the photos of some look-overs and audits, in the order in which they came.
func (s *Store) Photos(ctx context.Context, subjects ...string) ([]Photo, error) {
	rows := []Photo{}
	err := s.with(ctx).Joins("By").Where("photos.subject_id IN ?", subjects).Order("photos.at, photos.id").Find(&rows).Error
	return rows, translate(err, "photos")
}

// Photo finds a photo.
func (s *Store) Photo(ctx context.Context, id string) (Photo, error) {
	return find[Photo](ctx, s, "photo", "id = ?", id)
}

// DropPhoto takes a photo out for good: whoever took it, as long as the wash has not begun, or the audit is not signed.
func (s *Store) DropPhoto(ctx context.Context, id, who string) error {
	gone := s.with(ctx).Exec(`DELETE FROM photos p WHERE p.id = ? AND p.by_id = ? AND CASE p.subject
		WHEN 'case' THEN true WHEN 'audit' THEN EXISTS (SELECT 1 FROM audits a WHERE a.id = p.subject_id AND a.closed_at IS NULL)
		ELSE NOT EXISTS (SELECT 1 FROM washes w WHERE w.booking_id = p.subject_id AND w.started_at IS NOT NULL) END`, id, who)
	if gone.Error != nil || gone.RowsAffected > 0 {
		return translate(gone.Error, "photo")
	}
	p, err := s.Photo(ctx, id)
	switch {
	case errors.Is(err, ErrNotFound):
		return nil // it is gone already
	case err != nil:
		return err
	case p.ByID != who:
		return ErrNotTheirs
	}
	return ErrEvidence
}

var (
	// ErrNotTheirs means that somebody else took a photo.
	ErrNotTheirs = errors.New("somebody else took this photo: ask them to take it out")
	// ErrEvidence means that a photo stays: what it shows is on the record.
	ErrEvidence = errors.New("this photo stays: the wash has begun, or the audit is signed")
)

// ExportPictures writes every photo's picture into what into gives for it, as JPEG, one at a time.
func (s *Store) ExportPictures(ctx context.Context, into func(name string) (io.Writer, error)) error {
	var ids []string
	if err := s.with(ctx).Model(&Photo{}).Order("id").Pluck("id", &ids).Error; err != nil {
		return translate(err, "photos")
	}
	for _, id := range ids {
		picture, err := s.Pictures().Get(ctx, id, false)
		if errors.Is(err, ErrNotFound) {
			continue // taken out in the meantime
		}
		if err != nil {
			return err
		}
		w, err := into("photos/" + id + ".jpg")
		if err == nil {
			_, err = w.Write(picture)
		}
		if err != nil {
			return err
		}
	}
	return nil
}
