package api

import (
	"context"
	"errors"
	"fmt"
	"time"
	_ "time/tzdata" // so that time zones are known on machines without them

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/store"
)

// SettingsView is the settings with their version.
type SettingsView struct {
	Version  int            `json:"version"`
	Settings store.Settings `json:"settings"`
}

func (s *server) registerShop(api huma.API) {
	operation(s, api, get("/settings", "settings", "The shop's settings"), anyone, func(ctx context.Context, _ *struct{}) (*Out[SettingsView], error) {
		doc, version, err := s.Store.Settings(ctx)
		return &Out[SettingsView]{SettingsView{version, doc}}, err
	})
	operation(s, api, put("/settings", "saveSettings", "Change the shop's settings"), onlyLead, func(ctx context.Context, in *In[SettingsView]) (*Out[SettingsView], error) {
		if _, err := time.LoadLocation(in.Body.Settings.TimeZone); err != nil {
			return nil, invalid("settings.timeZone", fmt.Errorf("%q is not in the time zone database: write it like Europe/Lisbon", in.Body.Settings.TimeZone))
		}
		if err := errors.Join(condition.CheckPlaces(in.Body.Settings.Places), condition.CheckPins(in.Body.Settings.Pins)); err != nil {
			return nil, invalid("settings", err)
		}
		err := s.Store.SaveSettings(ctx, in.Body.Settings, in.Body.Version)
		if errors.Is(err, store.ErrStale) {
			if saved, _, err := s.Store.Settings(ctx); err == nil {
				return nil, stale("settings", in.Body.Settings, theirs{doc: saved})
			}
		}
		return &Out[SettingsView]{SettingsView{in.Body.Version + 1, in.Body.Settings}}, err
	})
}
