package api

import (
	"context"
	"fmt"
	"slices"
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/day"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/judge"
	"uskel/core/plan/mend"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/timing"
	"uskel/store"
)

// basis is what every plan of the shop is made from besides its booking: read once, however many plans follow.
type basis struct {
	settings  shop.Settings
	shelf     []shelf.Product
	cloths    []shelf.ClothStock
	standards timing.Standards
	methods   []procedure.Procedure
}

func (s *server) basis(ctx context.Context) (basis, error) {
	var b basis
	var err error
	if b.settings, _, err = s.Store.Settings(ctx); err != nil {
		return b, err
	}
	if b.shelf, err = s.Store.Products(ctx); err != nil {
		return b, err
	}
	if b.cloths, err = s.Store.ClothSets(ctx); err != nil {
		return b, err
	}
	if b.standards, err = s.Store.Standards(ctx); err != nil {
		return b, err
	}
	b.methods, err = s.Store.Procedures(ctx)
	return b, err
}

// Around is the weather and the water at a moment, and where each came from.
type Around struct {
	Weather     climate.Weather `json:"weather"`
	WeatherFrom climate.From    `json:"weatherFrom"`
	Water       climate.Water   `json:"water"`
	WaterFrom   climate.From    `json:"waterFrom"`
}

// around reads weather and water.
func (s *server) around(ctx context.Context, at time.Time) (Around, error) {
	var a Around
	var err error
	if a.Weather, a.WeatherFrom, err = s.Station.Read(ctx, at); err != nil {
		return a, err
	}
	a.Water, a.WaterFrom, err = s.Meter.Read(ctx, at)
	return a, err
}

// job is a booking's car as it was seen, among what is around it at a moment, and as the lead arranged it.
func (b basis) job(of store.Booking, look condition.LookOver, x Around, a plan.Arranged) plan.Job {
	return plan.Job{Pins: b.settings.Pins, Vehicle: of.Vehicle.Spec, LookOver: look, Weather: x.Weather,
		Hardness: x.Water.Hardness, Solids: x.Water.Solids, Shelf: b.shelf, Cloths: b.cloths,
		Launder: b.settings.Launder, Buckets: b.settings.Buckets, WaterPrice: b.settings.Water,
		Standards: b.standards, Aim: b.settings.Aim, Menu: b.settings.Menu(), Past: pastOf(of),
		Trainee: of.Washer != nil && of.Washer.Role == shop.Trainee, Arranged: plan.Arranged{Procedure: a.Procedure, Without: a.Without}}
}

// pastOf is what was done to a booking's vehicle before.
func pastOf(of store.Booking) condition.Past {
	if of.Vehicle.Care == nil {
		return condition.Past{}
	}
	return of.Vehicle.Care.Past
}

// filled is a job with every procedure judged and filled for it. Look-over, chooser, timeline, day and the start of a
// wash all take their plan from here, so that what is shown is what is begun.
type filled struct {
	basis
	around   Around
	at       time.Time // what the weather is for
	job      plan.Job
	choices  []plan.Choice
	arranged plan.Arranged
}

// fill judges and fills every procedure for a booking at a moment. When no procedure is named in what was arranged,
// it is the recommended one.
func (s *server) fill(ctx context.Context, b basis, of store.Booking, look condition.LookOver, at time.Time,
	a plan.Arranged) (filled, error) {
	f := filled{basis: b, arranged: a, at: at}
	var err error
	if f.around, err = s.around(ctx, at); err != nil {
		return f, err
	}
	f.job = b.job(of, look, f.around, a)
	f.job.At = at.Truncate(time.Hour) // what was done before is counted in days
	if f.choices, err = s.choose(b.methods, f.job); err != nil {
		return f, err
	}
	if a.Procedure == "" && len(f.choices) > 0 && f.choices[0].Plan != nil && f.choices[0].Delivers {
		a.Procedure = f.choices[0].Procedure
		if len(a.Without) > 0 {
			return s.fill(ctx, b, of, look, at, a)
		}
		f.arranged = a
	}
	return f, nil
}

// fillHour is the same for the hour at which the wash is to begin, or for this moment where that is asked for, from what
// the shop is now.
func (s *server) fillHour(
	ctx context.Context,
	of store.Booking,
	look condition.LookOver,
	a plan.Arranged,
) (filled, error) {
	b, err := s.basis(ctx)
	if err != nil {
		return filled{}, err
	}
	return s.fill(ctx, b, of, look, s.begins(of, a), a)
}

// begins is when a booking's wash is planned for.
func (s *server) begins(of store.Booking, a plan.Arranged) time.Time {
	if a.AsNow {
		return s.Now()
	}
	return day.Begins(s.Now(), of.ArrivesAt, of.StartsAt)
}

// betterHour is an hour before the promise at which a plan goes clearly better than when it is to begin; nothing when
// there is none. The hours are full ones; the look stays as it is.
func (s *server) betterHour(ctx context.Context, f filled, of store.Booking, made plan.Plan) (*mend.BetterHour, error) {
	at := slices.IndexFunc(f.methods, func(p procedure.Procedure) bool { return p.ID == made.Procedure })
	if at < 0 {
		return nil, nil
	}
	var later []mend.Hour
	for hour := nextHour(f.at); hour.Before(of.PromisedAt) && len(later) < mostHours; hour = hour.Add(time.Hour) {
		weather, _, err := s.Station.Read(ctx, hour)
		if err != nil {
			return nil, err
		}
		job := f.job
		job.Weather = weather
		if then, err := fill.Resolve(f.methods[at], job); err == nil {
			later = append(later, mend.Hour{At: hour, Plan: then})
		}
	}
	return mend.Better(mend.Hour{At: f.at, Plan: made}, later, of.PromisedAt), nil
}

// waysStay is how long the ways out of a plan stay what they were found to be.
const waysStay = 10 * time.Minute

// waysOut are the two cheapest ways to keep every dwell of a plan that does not keep them: tried once for a job and a
// plan, as long as they stay what they are.
func (s *server) waysOut(ctx context.Context, f filled, of store.Booking, made plan.Plan) ([]mend.WayOut, error) {
	at := slices.IndexFunc(f.methods, func(p procedure.Procedure) bool { return p.ID == made.Procedure })
	if at < 0 {
		return nil, nil
	}
	same := f.job // for some minutes of weather: nobody looks for another way every second
	same.Weather = climate.Weather{}
	key, err := keyOf(same, made.Procedure, made.Version, of.PromisedAt, f.settings.Places, f.at.Truncate(waysStay))
	if err != nil {
		return nil, err
	}
	if ways, known := s.ways.find(key); known {
		return ways, nil
	}
	where := mend.Elsewhere{Places: f.settings.Places, Promised: of.PromisedAt}
	for hour := nextHour(f.at); hour.Before(of.PromisedAt) && len(where.Hours) < mostHours; hour = hour.Add(time.Hour) {
		weather, _, err := s.Station.Read(ctx, hour)
		if err != nil {
			return nil, err
		}
		where.Hours = append(where.Hours, mend.HourAir{At: hour, Weather: weather})
	}
	ways := mend.WaysOut(f.methods[at], f.job, made, where)
	zone, err := time.LoadLocation(f.settings.TimeZone)
	if err != nil {
		return nil, err
	}
	for i := range ways {
		ways[i].Says = ways[i].Words(func(at time.Time) string { return at.In(zone).Format("15:04") })
	}
	s.ways.keep(key, ways)
	return ways, nil
}

// nextHour is the first full hour after a moment.
func nextHour(at time.Time) time.Time { return at.Truncate(time.Hour).Add(time.Hour) }

// mostHours is how many later hours are tried.
const mostHours = 12

// made is the plan by what was arranged, or why there is none.
func (f filled) made() (plan.Plan, error) {
	if f.arranged.Procedure == "" {
		return plan.Plan{}, conflict(judge.NothingDelivers(f.choices, f.job))
	}
	at := slices.IndexFunc(f.choices, func(c plan.Choice) bool { return c.Procedure == f.arranged.Procedure })
	switch {
	case at < 0:
		return plan.Plan{}, invalid("procedure", fmt.Errorf("there is no published procedure %q", f.arranged.Procedure))
	case f.choices[at].Plan == nil:
		return plan.Plan{}, conflict(fmt.Sprintf("%s is refused here: %s", f.choices[at].Title, f.choices[at].Why[0]))
	}
	return *f.choices[at].Plan, nil
}

// arrangedOf is what the lead arranged for a booking; nothing yet is the zero value.
func arrangedOf(b store.Booking) plan.Arranged {
	if b.Arranged == nil {
		return plan.Arranged{}
	}
	return *b.Arranged
}
