package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/shop"
	"uskel/store"
)

// ChecklistView is a version of a checklist with what is to be said of it.
type ChecklistView struct {
	List    audit.Checklist `json:"list"`
	At      *time.Time      `json:"at,omitempty"`
	By      string          `json:"by,omitempty" doc:"empty of what a shop began with"`
	Changed []string        `json:"changed" doc:"in words, against the version before"`
	Doubts  []audit.Doubt   `json:"doubts"`
	Way     audit.Way       `json:"way" doc:"how far one walks for it"`
	InUse   bool            `json:"inUse" doc:"false of a list that Uskel brings and nobody has published here"`
}

// viewOf is a list with what an old hand would say of it, which takes a while to work out and is remembered.
func (s *server) viewOf(list audit.Checklist, menu condition.Menu) ChecklistView {
	key, err := keyOf(list, menu)
	if v, known := s.lists.find(key); known && err == nil {
		return v
	}
	v := ChecklistView{List: list, Changed: []string{}, Doubts: append(audit.Sense(list), audit.Unlooked(list, menu)...),
		Way: list.Walk()}
	if err == nil {
		s.lists.keep(key, v)
	}
	return v
}

// ChecklistID names a checklist in a path.
type ChecklistID struct {
	Checklist string `path:"id" maxLength:"40"`
}

func (s *server) registerChecklists(api huma.API) {
	operation(s, api, get("/checklists", "checklists", "The newest versions of all checklists"), shop.See, s.checklists)
	operation(s, api, get("/checklists/{id}", "checklist", "All versions of a checklist, the newest first"), shop.See, s.checklist)
	operation(s, api, file(get("/checklists/{id}/export", "exportChecklist", "A checklist as a JSON document, as Markdown or as a table"),
		"application/json", "text/markdown", "text/csv"),
		shop.See, s.exportChecklist)
	operation(s, api, put("/checklists/{id}", "publishChecklist", "Publish a new version of a checklist"), shop.Write, s.publishChecklist)
	operation(s, api, post("/checklists-tried", "tryChecklist", "What an old hand would say of a list before it is published"), shop.See,
		s.tryChecklist)
}

// checklists are those in use, and after them what Uskel brings and nobody has published here.
func (s *server) checklists(ctx context.Context, _ *struct{}) (*Out[[]ChecklistView], error) {
	rows, err := s.Store.Checklists(ctx)
	if err != nil {
		return nil, err
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return nil, err
	}
	views := []ChecklistView{}
	for _, r := range rows {
		views = append(views, s.published(r, menu))
	}
	for _, list := range audit.Offered() {
		if !slices.ContainsFunc(rows, func(r store.ChecklistRow) bool { return r.ID == list.ID }) {
			list.Version = 0
			views = append(views, s.viewOf(list, menu))
		}
	}
	return out(views)
}

func (s *server) published(r store.ChecklistRow, menu condition.Menu) ChecklistView {
	v, at := s.viewOf(r.Doc, menu), r.PublishedAt.UTC()
	v.At, v.InUse = &at, true
	if r.By != nil {
		v.By = r.By.Name
	}
	return v
}

func (s *server) checklist(ctx context.Context, in *ChecklistID) (*Out[[]ChecklistView], error) {
	rows, err := s.Store.ChecklistVersions(ctx, in.Checklist)
	if err != nil {
		return nil, err
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return nil, err
	}
	views := []ChecklistView{}
	for i, r := range rows {
		v := s.published(r, menu)
		if i+1 < len(rows) {
			v.Changed = r.Doc.Differs(rows[i+1].Doc)
		}
		views = append(views, v)
	}
	if list, there := audit.OfferedAs(in.Checklist); there && len(views) == 0 {
		views = append(views, s.viewOf(list, menu))
	}
	if len(views) == 0 {
		return nil, store.NoSuch("checklist")
	}
	return out(views)
}

func (s *server) publishChecklist(ctx context.Context, in *struct {
	ChecklistID
	Body struct {
		Version int             `json:"version" minimum:"0" doc:"that it was written from; 0 for a new list"`
		List    audit.Checklist `json:"list"`
	}
}) (*Out[[]ChecklistView], error) {
	list := in.Body.List
	list.ID = in.Checklist
	if err := list.Check(); err != nil {
		return nil, invalid("list", err)
	}
	rows, err := s.Store.ChecklistVersions(ctx, list.ID)
	if err != nil {
		return nil, err
	}
	if len(rows) > 0 {
		newest := s.published(rows[0], nil)
		if newest.List.Version != in.Body.Version {
			return nil, stale("list", list, theirs{newest.List, newest.By, s.local(ctx, *newest.At)})
		}
		if len(list.Differs(newest.List)) == 0 {
			return nil, invalid("list", errors.New("list: nothing is different from the version before"))
		}
	}
	list.Version = in.Body.Version + 1
	by := who(ctx).ID
	err = s.Store.AddChecklist(ctx, store.ChecklistRow{ID: list.ID, Version: list.Version, Doc: list, PublishedAt: s.Now(), ByID: &by})
	if errors.Is(err, store.ErrStale) {
		return nil, conflict("Somebody else has published a version just now: look at theirs first.")
	}
	if err != nil {
		return nil, err
	}
	return s.checklist(ctx, &in.ChecklistID)
}

func (s *server) tryChecklist(ctx context.Context, in *In[audit.Checklist]) (*Out[ChecklistView], error) {
	if err := in.Body.Check(); err != nil {
		return nil, invalid("list", err)
	}
	menu, err := s.menu(ctx)
	return &Out[ChecklistView]{s.viewOf(in.Body, menu)}, err
}

func (s *server) exportChecklist(ctx context.Context, in *struct {
	ChecklistID
	Version int    `query:"version" minimum:"0" doc:"the newest when 0"`
	Format  string `query:"format" enum:"json,markdown,csv" default:"json"`
}) (*Document, error) {
	list, err := s.Store.Checklist(ctx, in.Checklist, in.Version)
	if errors.Is(err, store.ErrNotFound) && in.Version == 0 { // one that is offered, and not taken into use yet
		if offered, there := audit.OfferedAs(in.Checklist); there {
			list, err = offered, nil
		}
	}
	if err != nil {
		return nil, err
	}
	name := fmt.Sprintf("%s-%d", list.ID, list.Version)
	switch in.Format {
	case "markdown":
		return documentOf(name, in.Format, []byte(list.Markdown())), nil
	case "csv":
		return documentOf(name, in.Format, []byte(list.CSV())), nil
	}
	data, err := json.MarshalIndent(list, "", "  ")
	return documentOf(name, in.Format, data), err
}
