package api

import (
	"context"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/store"
)

// Changed is what has changed in a wash's procedure since whoever asks last did it.
type Changed struct {
	Title   string   `json:"title"`
	Was     int      `json:"was" doc:"version done last; 0 when there is nothing to tell"`
	Version int      `json:"version"`
	Lines   []string `json:"lines" doc:"at most four"`
	More    int      `json:"more" doc:"further changes"`
}

// toldLines is how many changes are told: more is not read between two cars.
const toldLines = 4

func (s *server) registerChanged(api huma.API) {
	operation(s, api, get("/washes/{id}/changed", "changed", "What changed in the procedure since you last did it"), shop.Wash, s.changed)
	operation(s, api, post("/washes/{id}/changed", "changeSeen", "Confirm that you have read what changed"), shop.Wash, s.changeSeen)
}

func (s *server) changed(ctx context.Context, in *ID) (*Out[Changed], error) {
	w, err := s.Store.Wash(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	c := Changed{Title: w.Plan.Title, Version: w.Plan.Version, Lines: []string{}}
	if c.Was, err = s.Store.LastDone(ctx, who(ctx).ID, w.Plan.Procedure, w.Plan.Version); err != nil || c.Was == 0 {
		return &Out[Changed]{c}, err
	}
	versions, err := s.Store.Versions(ctx, w.Plan.Procedure)
	if err != nil {
		return nil, err
	}
	docs := map[int]procedure.Procedure{}
	for _, v := range versions {
		docs[v.Version] = v.Doc
	}
	for _, e := range procedure.Difference(docs[c.Was], docs[c.Version]) {
		if len(c.Lines) == toldLines {
			c.More++
			continue
		}
		c.Lines = append(c.Lines, e.Says)
	}
	if len(c.Lines) == 0 {
		c.Was = 0
	}
	return out(c)
}

func (s *server) changeSeen(ctx context.Context, in *ID) (*Out[Changed], error) {
	c, err := s.changed(ctx, in)
	if err != nil || c.Body.Was == 0 {
		return c, err
	}
	w, err := s.Store.Wash(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	err = s.Store.SeeChange(ctx, store.ChangeSeen{PersonID: who(ctx).ID, Procedure: w.Plan.Procedure, Version: c.Body.Version,
		Was: c.Body.Was, At: s.Now()})
	if err != nil {
		return nil, fmt.Errorf("change: %w", err)
	}
	return s.changed(ctx, in)
}
