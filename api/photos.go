package api

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/photo"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/store"
)

// PhotoView is a photo without its picture, which is at /photos/{id}.
type PhotoView struct {
	ID      string        `json:"id"`
	Subject photo.Subject `json:"subject"`
	Zone    vehicle.Zone  `json:"zone,omitempty" doc:"what it shows; absent for the whole vehicle"`
	Item    string        `json:"item" doc:"the look of the checklist, for an audit's"`
	Note    string        `json:"note"`
	By      string        `json:"by"`
	Mine    bool          `json:"mine"`
	At      time.Time     `json:"at"`
	Late    bool          `json:"late" doc:"arrived after the wash had begun, or after the audit was signed"`
	Width   int           `json:"width"`
	Height  int           `json:"height"`
}

// photoSent is a photo as a device sends it: under an id of the device's own, so that it can be sent twice.
type photoSent struct {
	ID
	Photo   string       `path:"photo" format:"uuid"`
	Zone    vehicle.Zone `query:"zone"`
	Item    string       `query:"item" maxLength:"80"`
	Note    string       `query:"note" maxLength:"300"`
	RawBody []byte       `contentType:"image/jpeg"`
}

func (s *server) registerPhotos(api huma.API) {
	operation(s, api, put("/bookings/{id}/photos/{photo}", "lookOverPhoto", "Keep a photo of a vehicle as it came"), shop.LookOver,
		func(ctx context.Context, in *photoSent) (*Out[[]PhotoView], error) {
			return s.addPhoto(ctx, photo.OfLookOver, in)
		})
	operation(s, api, put("/audits/{id}/photos/{photo}", "auditPhoto", "Keep a photo of a finished wash"), shop.Audit,
		func(ctx context.Context, in *photoSent) (*Out[[]PhotoView], error) {
			return s.addPhoto(ctx, photo.OfAudit, in)
		})
	show := file(get("/photos/{id}", "photo", "A photo's picture"), "image/jpeg")
	operation(s, api, show, shop.See, s.photo)
	operation(s, api, put("/own-cases/{id}/photos/{photo}", "casePhoto", "Keep a photo that a case of the shop's own shows"), shop.SignOff,
		func(ctx context.Context, in *photoSent) (*Out[[]PhotoView], error) {
			return s.addPhoto(ctx, photo.OfCase, in)
		})
	gone := huma.Operation{Method: "DELETE", Path: "/photos/{id}", OperationID: "dropPhoto", Summary: "Take a photo of one's own out"}
	operation(s, api, gone, shop.See, s.dropPhoto)
}

func (s *server) addPhoto(ctx context.Context, of photo.Subject, in *photoSent) (*Out[[]PhotoView], error) {
	if in.Zone != "" && !in.Zone.Known() {
		return nil, invalid("zone", errors.New("zone: there is no such part of a vehicle"))
	}
	done, err := s.pictures.take(ctx)
	if err != nil {
		return nil, err
	}
	picture, err := photo.Clean(in.RawBody)
	done()
	if err != nil {
		return nil, invalid("photo", err)
	}
	err = s.Store.AddPhoto(ctx, store.Photo{ID: in.Photo, Subject: of, SubjectID: in.ID.ID, Zone: in.Zone, Item: in.Item, Note: in.Note,
		Width: picture.Width, Height: picture.Height, ByID: who(ctx).ID, At: s.Now()}, picture)
	if errors.Is(err, store.ErrManyPhotos) {
		return nil, conflict(sentenceCase(err.Error()) + ".")
	}
	if err != nil {
		return nil, err
	}
	views, err := s.photosOf(ctx, in.ID.ID)
	return &Out[[]PhotoView]{views}, err
}

// photosOf are the photos of some look-overs and audits.
func (s *server) photosOf(ctx context.Context, subjects ...string) ([]PhotoView, error) {
	rows, err := s.Store.Photos(ctx, subjects...)
	views := make([]PhotoView, len(rows))
	for i, p := range rows {
		views[i] = photoView(p, who(ctx).ID)
	}
	return views, err
}

func photoView(p store.Photo, me string) PhotoView {
	return PhotoView{ID: p.ID, Subject: p.Subject, Zone: p.Zone, Item: p.Item, Note: p.Note, By: p.By.Name,
		Mine: p.ByID == me, At: p.At.UTC(), Late: p.Late, Width: p.Width, Height: p.Height}
}

func (s *server) photo(ctx context.Context, in *struct {
	ID
	Small bool `query:"small" doc:"as it is shown in a list"`
}) (*Document, error) {
	picture, err := s.Store.Pictures().Get(ctx, in.ID.ID, in.Small)
	return &Document{"image/jpeg", "inline", picture}, err
}

func (s *server) dropPhoto(ctx context.Context, in *ID) (*struct{}, error) {
	err := s.Store.DropPhoto(ctx, in.ID, who(ctx).ID)
	switch {
	case errors.Is(err, store.ErrNotTheirs):
		return nil, forbidden(sentenceCase(err.Error()) + ".")
	case errors.Is(err, store.ErrEvidence):
		return nil, conflict(sentenceCase(err.Error()) + ".")
	}
	return nil, err
}

// photographed are the items of a checklist that photos of an audit were taken at.
func photographed(photos []PhotoView) []string {
	var items []string
	for _, p := range photos {
		if p.Subject == photo.OfAudit {
			items = append(items, p.Item)
		}
	}
	return items
}

// shownBefore reports whether a look-over photo of a zone, from before the wash, shows how it came.
func shownBefore(photos []PhotoView, zone vehicle.Zone) bool {
	return slices.ContainsFunc(photos, func(p PhotoView) bool { return p.Subject == photo.OfLookOver && !p.Late && p.Zone == zone })
}
