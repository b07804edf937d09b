package api

import (
	"archive/zip"
	"context"
	"io"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"uskel/core/shop"
)

func (s *server) registerExport(api huma.API) {
	op := file(get("/export", "exportShop", "All of the shop's records: a ZIP of CSV files, a table each, and its photos"), "application/zip")
	operation(s, api, op, shop.Export, s.exportShop)
}

// exportLimit is how long taking all records away may last.
const exportLimit = 10 * time.Minute

// exportShop streams the shop's records. What breaks off in the middle leaves a file that does not open, not one that
// lacks something quietly: a ZIP's list of contents stands at its end.
func (s *server) exportShop(context.Context, *struct{}) (*huma.StreamResponse, error) {
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		hc.SetHeader("Content-Type", "application/zip")
		hc.SetHeader("Content-Disposition", `attachment; filename="uskel-`+s.Now().UTC().Format(time.DateOnly)+`.zip"`)
		_ = http.NewResponseController(humagin.Unwrap(hc).Writer).SetWriteDeadline(time.Now().Add(exportLimit))
		z := zip.NewWriter(hc.BodyWriter())
		err := s.Store.Export(hc.Context(), func(name string) (io.Writer, error) { return z.Create(name) })
		if err == nil {
			// JPEG does not shrink any more: it is stored as it is.
			err = s.Store.ExportPictures(hc.Context(), func(name string) (io.Writer, error) {
				return z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store})
			})
		}
		if err == nil {
			err = z.Close()
		}
		if err != nil {
			s.Log.Warn("an export broke off", "error", err)
		}
	}}, nil
}
