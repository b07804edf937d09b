package api

import (
	"context"
	"errors"
	"fmt"
	"time"
	_ "time/tzdata" // so that time zones are known on machines without them

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/store"
)

// Shelf is the products, each with its ratio in all readings.
type Shelf struct {
	Products []ShelfItem `json:"products"`
}

// ShelfItem is a product on the shelf.
type ShelfItem struct {
	plan.Product
	Readings *measure.Readings `json:"readings,omitempty"`
}

// MixQuestion is a ratio as printed, how it is read, and the vessel in hand.
type MixQuestion struct {
	First   int64              `json:"first"`
	Second  int64              `json:"second"`
	Reading measure.Reading    `json:"reading"`
	Amount  float64            `json:"amount" doc:"What the vessel holds, mix in all"`
	Unit    measure.VolumeUnit `json:"unit" enum:"ml,l,US fl oz,US gal,imp fl oz,imp gal"`
}

// MixAnswer is what to pour, and what the other readings would have poured.
type MixAnswer struct {
	Readings measure.Readings `json:"readings"`
	Product  measure.Volume   `json:"product" doc:"ml"`
	Water    measure.Volume   `json:"water" doc:"ml"`
	ToWater  measure.Volume   `json:"toWater" doc:"ml of product if the amount is water already measured"`
	Misread  []Misread        `json:"misread"`
}

// Misread is what the same two numbers give under another reading.
type Misread struct {
	Reading measure.Reading `json:"reading"`
	Product measure.Volume  `json:"product" doc:"ml"`
	Times   float64         `json:"times" doc:"strength against what is meant"`
}

// SettingsView is the settings with their version.
type SettingsView struct {
	Version  int            `json:"version"`
	Settings store.Settings `json:"settings"`
}

func (s *server) registerShop(api huma.API) {
	operation(s, api, get("/shelf", "shelf", "Products with their ratios in every reading"), anyone, s.shelf)
	operation(s, api, post("/mix", "mix", "How much product for this vessel"), anyone, s.mix)
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

func (s *server) shelf(ctx context.Context, _ *struct{}) (*Out[Shelf], error) {
	products, err := s.Store.Products(ctx)
	if err != nil {
		return nil, err
	}
	shelf := Shelf{Products: make([]ShelfItem, len(products))}
	for i, p := range products {
		shelf.Products[i] = ShelfItem{Product: p}
		if p.Ratio != nil {
			r := p.Ratio.Readings()
			shelf.Products[i].Readings = &r
		}
	}
	return out(shelf)
}

func (s *server) mix(_ context.Context, in *In[MixQuestion]) (*Out[MixAnswer], error) {
	q := in.Body
	r, err := measure.NewRatio(q.First, q.Second, q.Reading)
	if err != nil {
		return nil, invalid("first", err)
	}
	vessel, err := measure.NewVolume(q.Amount, q.Unit)
	if err != nil || vessel.IsZero() {
		return nil, invalid("amount", orElse(err, "the vessel must hold more than nothing"))
	}
	a := MixAnswer{Readings: r.Readings(), ToWater: r.ForWater(vessel), Misread: []Misread{}}
	a.Product, a.Water = r.ForTotal(vessel)
	for _, name := range q.Reading.Values() {
		other, err := measure.NewRatio(q.First, q.Second, measure.Reading(name))
		if err != nil || name == string(q.Reading) {
			continue
		}
		product, _ := other.ForTotal(vessel)
		a.Misread = append(a.Misread, Misread{measure.Reading(name), product, product.Ml() / a.Product.Ml()})
	}
	return out(a)
}
