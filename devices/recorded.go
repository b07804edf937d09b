package devices

import (
	"context"
	"sync"
	"time"

	"uskel/core/climate"
)

// Log is where readings are kept that people typed in, instruments posted or files brought.
type Log interface {
	// Told are the readings and the forecasts that tell of a span of time.
	Told(ctx context.Context, from, to time.Time) (readings, forecasts []climate.Reading, err error)
	// Supply is the newest reading of the water; nil when there is none.
	Supply(ctx context.Context) (*climate.Water, time.Time, error)
}

// Where is the place on earth and its clock.
type Where func(ctx context.Context) (latitude float64, zone *time.Location, err error)

// Recorded is a weather station and a water meter made of the readings that a shop keeps. They need no instrument and
// nobody's service.
type Recorded struct {
	Log   Log
	Where Where
	Now   func() time.Time
	memo  memo
}

// freshFor is how long readings are taken as they were read from the log: a plan asks for many moments at once.
const freshFor = 3 * time.Second

// reach is how far before and after a moment what is told may matter.
const reach = 36 * time.Hour

// memo are the readings as they were read last.
type memo struct {
	mu                  sync.Mutex
	at                  time.Time
	from, to            time.Time
	readings, forecasts []climate.Reading
}

// recordedStation is the recorded weather.
type recordedStation struct{ *Recorded }

// recordedMeter is the recorded water.
type recordedMeter struct{ *Recorded }

// Station gives the weather by the readings.
func (r *Recorded) Station() WeatherStation { return recordedStation{r} }

// Meter gives the water by the readings.
func (r *Recorded) Meter() WaterMeter { return recordedMeter{r} }

// Read gives the weather at a moment.
func (s recordedStation) Read(ctx context.Context, at time.Time) (climate.Weather, climate.From, error) {
	latitude, zone, err := s.Where(ctx)
	if err != nil {
		return climate.Weather{}, climate.From{}, err
	}
	readings, forecasts, err := s.told(ctx, at)
	if err != nil {
		return climate.Weather{}, climate.From{}, err
	}
	r, from := climate.At(at, readings, forecasts)
	day, hour := climate.SolarHour(at, zone)
	w := r.Under(climate.Sun(latitude, day, hour))
	return w, from, w.Check()
}

// told reads what is told of the days about a moment, or gives what was read just now.
func (r *Recorded) told(ctx context.Context, at time.Time) (readings, forecasts []climate.Reading, err error) {
	m := &r.memo
	m.mu.Lock()
	defer m.mu.Unlock()
	now := r.Now()
	if now.Sub(m.at).Abs() > freshFor || at.Before(m.from.Add(reach/2)) || at.After(m.to.Add(-reach/2)) {
		from, to := at.Add(-reach), at.Add(reach)
		if m.readings, m.forecasts, err = r.Log.Told(ctx, from, to); err != nil {
			m.at = time.Time{}
			return nil, nil, err
		}
		m.at, m.from, m.to = now, from, to
	}
	return m.readings, m.forecasts, nil
}

// Forget reads the log anew at the next look: something was told.
func (r *Recorded) Forget() {
	r.memo.mu.Lock()
	defer r.memo.mu.Unlock()
	r.memo.at = time.Time{}
}

// Read gives the water at a moment.
func (m recordedMeter) Read(ctx context.Context, at time.Time) (climate.Water, climate.From, error) {
	w, read, err := m.Log.Supply(ctx)
	if err != nil {
		return climate.Water{}, climate.From{}, err
	}
	if w == nil {
		w, from := climate.AssumedWater()
		return w, from, nil
	}
	told, from := climate.Measured(*w, read, at)
	return told, from, nil
}
