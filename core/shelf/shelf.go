// Package shelf knows what stands there: products and what their labels say, sets of cloths and what they are for, the
// vessels doses are counted in; how long stock lasts, when to order, when a cloth has had its washes.
package shelf

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"uskel/core/measure"
)

// Stock is a product as it was last counted, and what the washes since have used.
type Stock struct {
	Counted   measure.Volume `json:"counted" doc:"ml when counted"`
	CountedAt time.Time      `json:"countedAt"`
	Used      measure.Volume `json:"used" doc:"ml that the plans of washes since have used"`
	LeadDays  int            `json:"leadDays" minimum:"0" maximum:"365" doc:"days from order to delivery"`
}

// Forecast is how long a stock lasts at the pace of late.
type Forecast struct {
	Left     measure.Volume `json:"left" doc:"ml"`
	PerDay   float64        `json:"perDay" doc:"ml a day, of late"`
	DaysLeft *float64       `json:"daysLeft,omitempty" doc:"absent when nothing of it is used"`
	OrderBy  *time.Time     `json:"orderBy,omitempty"`
	OrderNow bool           `json:"orderNow"`
	Says     string         `json:"says"`
}

// safetyDays are kept in hand beyond the delivery time (model).
const safetyDays = 3

// Forecast says how much is left and when to order. Recent is what was used over some days up to now.
func (s Stock) Forecast(recent measure.Volume, days float64, now time.Time) Forecast {
	left, err := s.Counted.Sub(s.Used)
	f := Forecast{Left: left}
	if err != nil {
		f.Left = measure.Volume{}
	}
	if days > 0 {
		f.PerDay = math.Round(recent.Ml()/days*10) / 10
	}
	if err != nil {
		f.OrderNow, f.Says = true, "The washes have used more than was counted: count again, and order."
		return f
	}
	if f.PerDay == 0 {
		f.Says = "Nothing of it is used."
		return f
	}
	lasts := f.Left.Ml() / f.PerDay
	rounded := math.Round(lasts*10) / 10
	f.DaysLeft = &rounded
	by := now.Add(time.Duration((lasts - float64(s.LeadDays) - safetyDays) * 24 * float64(time.Hour))).
		Truncate(time.Hour)
	f.OrderBy, f.OrderNow = &by, !by.After(now)
	f.Says = fmt.Sprintf(
		"Lasts %.0f days at %.0f ml a day; delivery takes %d and %d are kept in hand.",
		lasts,
		f.PerDay,
		s.LeadDays,
		safetyDays,
	)
	return f
}

// VesselKind is what a mix is made in.
type VesselKind string

// The kinds of vessel.
const (
	Bucket     VesselKind = "bucket"
	FoamBottle VesselKind = "foam bottle"
	Sprayer    VesselKind = "sprayer"
	Cap        VesselKind = "cap"  // a bottle's cap: holds one capful
	Pump       VesselKind = "pump" // a dosing pump: holds one stroke
)

// Values lists the kinds.
func (VesselKind) Values() []string {
	return []string{string(Bucket), string(FoamBottle), string(Sprayer), string(Cap), string(Pump)}
}

// Vessel is one of the shop's vessels, with the line it is filled to.
type Vessel struct {
	Name  string         `json:"name" minLength:"1" maxLength:"60"`
	Kind  VesselKind     `json:"kind"`
	Holds measure.Volume `json:"holds" doc:"ml to its fill line"`
}

// What a dose may be off when it is counted in caps or strokes, and how many anybody counts (model).
const (
	nearEnough = 0.15
	mostCounts = 20
)

// Counted says a dose in the shop's caps, to a quarter, and whole pump strokes, the nearest first; those that would
// be too far off or too many are left out.
func Counted(dose measure.Volume, vessels []Vessel) []string {
	type count struct {
		words string
		off   float64
	}
	var counts []count
	for _, v := range vessels {
		step := 1.0
		switch v.Kind {
		case Cap:
			step = 0.25
		case Pump:
		default:
			continue
		}
		if v.Holds.Ml() <= 0 || dose.Ml() <= 0 {
			continue
		}
		n := math.Round(dose.Ml()/v.Holds.Ml()/step) * step
		off := math.Abs(n*v.Holds.Ml()/dose.Ml() - 1)
		if n == 0 || n > mostCounts || off > nearEnough {
			continue
		}
		counts = append(counts, count{fmt.Sprintf("%s × %s", quarters(n), v.Name), off})
	}
	slices.SortStableFunc(counts, func(a, b count) int { return cmp.Compare(a.off, b.off) })
	words := make([]string, len(counts))
	for i, c := range counts {
		words[i] = c.words
	}
	return words
}

// Measures are the vessels that doses are counted in.
func Measures(vessels []Vessel) []Vessel {
	counted := []Vessel{}
	for _, v := range vessels {
		if (v.Kind == Cap || v.Kind == Pump) && v.Holds.Ml() > 0 {
			counted = append(counted, v)
		}
	}
	return counted
}

// quarters writes a number of quarters as people do.
func quarters(n float64) string {
	whole, part := math.Modf(n)
	sign := map[float64]string{0: "", 0.25: "¼", 0.5: "½", 0.75: "¾"}[part]
	if whole == 0 && sign != "" {
		return sign
	}
	return fmt.Sprintf("%.0f%s", whole, sign)
}

// ClothSet is a number of cloths of one kind and colour, bought together.
type ClothSet struct {
	Kind   string `json:"kind" minLength:"1" maxLength:"60" example:"drying towel"`
	Colour string `json:"colour" minLength:"1" maxLength:"40" doc:"where it may go" example:"white: drying"`
	Count  int    `json:"count" minimum:"1" maximum:"1000"`
	Limit  int    `json:"limit" minimum:"1" maximum:"1000" doc:"launderings a cloth stands before its pile is spent"`
}

// Wear is how far a set of cloths is worn.
type Wear struct {
	Each    float64 `json:"each" doc:"launderings a cloth, on the average of the set"`
	Left    float64 `json:"left" doc:"launderings left"`
	Retired bool    `json:"retired"`
	Says    string  `json:"says"`
}

// Wear works out a set's wear from how often its cloths were used: each use is a laundering, shared evenly.
func (c ClothSet) Wear(uses int) Wear {
	each := math.Round(float64(uses)/float64(c.Count)*10) / 10
	w := Wear{Each: each, Left: math.Max(0, float64(c.Limit)-each), Retired: each >= float64(c.Limit)}
	switch {
	case w.Retired:
		w.Says = "Past its washes: to wheels, shuts or the engine bay, then out."
	case w.Left <= 0.1*float64(c.Limit):
		w.Says = "Nearly through: order a set."
	default:
		w.Says = fmt.Sprintf("About %.0f launderings left.", w.Left)
	}
	return w
}
