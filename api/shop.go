package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
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
		if err := errors.Join(condition.CheckPlaces(in.Body.Settings.Places), condition.CheckPins(in.Body.Settings.Pins), s.checkShifts(ctx, in.Body.Settings)); err != nil {
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

// checkShifts says what is wrong with shifts and machines: ends before beginnings, breaks outside, people who are not there, names used twice.
func (s *server) checkShifts(ctx context.Context, doc store.Settings) error {
	people, err := s.Store.People(ctx)
	if err != nil {
		return err
	}
	var errs []error
	for i, shift := range doc.Shifts {
		name := fmt.Sprintf("shifts[%d]", i)
		if !slices.ContainsFunc(people, func(p store.Person) bool { return p.ID == shift.PersonID }) {
			errs = append(errs, fmt.Errorf("%s.personId: nobody has this id", name))
		}
		if shift.To <= shift.From {
			errs = append(errs, fmt.Errorf("%s.to: must be after from", name))
		}
		if shift.BreakTo != 0 && (shift.BreakFrom < shift.From || shift.BreakTo > shift.To || shift.BreakTo <= shift.BreakFrom) {
			errs = append(errs, fmt.Errorf("%s.breakFrom: the break must lie inside the shift", name))
		}
	}
	seen := map[string]bool{}
	for i, m := range doc.Machines {
		if seen[m.Name] {
			errs = append(errs, fmt.Errorf("machines[%d].name: %q is there twice", i, m.Name))
		}
		seen[m.Name] = true
	}
	return errors.Join(errs...)
}
