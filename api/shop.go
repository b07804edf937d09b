package api

import (
	"context"
	"errors"
	_ "time/tzdata" // so that time zones are known on machines without them

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/shop"
	"uskel/store"
)

// SettingsView is the settings with their version.
type SettingsView struct {
	Version  int           `json:"version"`
	Settings shop.Settings `json:"settings"`
}

func (s *server) registerShop(api huma.API) {
	operation(
		s,
		api,
		get("/settings", "settings", "The shop's settings"),
		shop.See,
		func(ctx context.Context, _ *struct{}) (*Out[SettingsView], error) {
			doc, version, err := s.Store.Settings(ctx)
			doc.Services = doc.Menu()
			return &Out[SettingsView]{SettingsView{version, doc}}, err
		},
	)
	operation(
		s,
		api,
		put("/settings", "saveSettings", "Change the shop's settings"),
		shop.Set,
		func(ctx context.Context, in *In[SettingsView]) (*Out[SettingsView], error) {
			people, err := s.Store.People(ctx)
			if err != nil {
				return nil, err
			}
			in.Body.Settings = in.Body.Settings.Identified(store.NewID)
			if err := in.Body.Settings.Check(idsOf(people)); err != nil {
				return nil, invalid("settings", err)
			}
			err = s.Store.SaveSettings(ctx, in.Body.Settings, in.Body.Version)
			if errors.Is(err, store.ErrStale) {
				if saved, _, err := s.Store.Settings(ctx); err == nil {
					return nil, stale("settings", in.Body.Settings, theirs{doc: saved})
				}
			}
			return &Out[SettingsView]{SettingsView{in.Body.Version + 1, in.Body.Settings}}, err
		},
	)
}

func idsOf(people []store.Person) []string {
	ids := make([]string, len(people))
	for i, p := range people {
		ids[i] = p.ID
	}
	return ids
}
