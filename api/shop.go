package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
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
		people, err := s.Store.People(ctx)
		if err != nil {
			return nil, err
		}
		identify(&in.Body.Settings)
		if err := errors.Join(condition.CheckPlaces(in.Body.Settings.Places),
			condition.CheckPins(in.Body.Settings.Pins), checkShifts(people, in.Body.Settings)); err != nil {
			return nil, invalid("settings", err)
		}
		err = s.Store.SaveSettings(ctx, in.Body.Settings, in.Body.Version)
		if errors.Is(err, store.ErrStale) {
			if saved, _, err := s.Store.Settings(ctx); err == nil {
				return nil, stale("settings", in.Body.Settings, theirs{doc: saved})
			}
		}
		return &Out[SettingsView]{SettingsView{in.Body.Version + 1, in.Body.Settings}}, err
	})
}

// identify gives places and machines that are new an id of their own, which stays when they are called otherwise.
// What procedures call a machine by is its id, so a machine of that name is that machine.
func identify(doc *store.Settings) {
	for i := range doc.Places {
		if doc.Places[i].ID == "" {
			doc.Places[i].ID = store.NewID()
		}
	}
	for i := range doc.Machines {
		if doc.Machines[i].ID == "" {
			doc.Machines[i].ID = strings.ToLower(strings.TrimSpace(doc.Machines[i].Name))
		}
	}
}

// checkShifts says what is wrong with shifts and machines: ends before beginnings, breaks outside, people who are not
// there, names used twice.
func checkShifts(people []store.Person, doc store.Settings) error {
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
	names, keys := map[string]bool{}, map[string]bool{}
	for i, m := range doc.Machines {
		if names[m.Name] {
			errs = append(errs, fmt.Errorf("machines[%d].name: %q is there twice", i, m.Name))
		}
		if keys[m.Key()] {
			errs = append(errs, fmt.Errorf("machines[%d].id: %q is there twice", i, m.Key()))
		}
		names[m.Name], keys[m.Key()] = true, true
	}
	return errors.Join(errs...)
}
