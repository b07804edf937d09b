// Package devices speaks to what stands outside: the weather station, the water meter and the outbox. Behind each
// interface stands what real shops use, and a simulated stand-in for the demo that is the same for the same seed and
// time.
package devices

import (
	"context"
	"math"
	"math/rand"
	"time"

	"uskel/core/climate"
	"uskel/core/measure"
)

// WeatherStation tells the weather in the yard at a moment, past or to come, and where that came from.
type WeatherStation interface {
	Read(ctx context.Context, at time.Time) (climate.Weather, climate.From, error)
}

// WaterMeter tells the supply, and where that came from.
type WaterMeter interface {
	Read(ctx context.Context, at time.Time) (climate.Water, climate.From, error)
}

// simulated says on the screen that there is no such device.
var simulated = climate.From{Source: climate.Simulated, Says: "simulated"}

// Station is a simulated weather station on a mild, windy island at about 50 degrees north. The sky changes
// by the day, the readings run smoothly through the hours.
type Station struct{ Seed int64 }

// latitude of the invented island, degrees north.
const latitude = 50.0

// Read gives the weather at a moment.
func (s Station) Read(_ context.Context, at time.Time) (climate.Weather, climate.From, error) {
	at = at.UTC()
	hour := float64(at.Hour()) + float64(at.Minute())/60
	altitude, azimuth := climate.Sun(latitude, at.YearDay(), hour)
	day := s.day(at)
	clear := day.Float64() // 0 overcast, 1 clear
	base, swing := 9+7*math.Sin(2*math.Pi*float64(at.YearDay()-110)/365), 1.5+4*clear
	temperature := base + 3*(day.Float64()-0.5) + swing*math.Sin(2*math.Pi*(hour-9)/24)
	damp := 0.86 - 0.18*clear - 0.10*math.Sin(2*math.Pi*(hour-9)/24)
	wind := 1 + 3*day.Float64() + 0.6*math.Sin(2*math.Pi*(hour-8)/24+day.Float64())
	rain := 0.0
	if wet := day.Float64(); clear < 0.25 && math.Sin(hour/3+7*wet) > 0.6 {
		rain = 0.4 + wet
	}
	w := climate.Weather{
		Wind:        round(max(0.2, wind), 1),
		Rain:        round(rain, 1),
		SunAltitude: round(altitude, 1),
		SunAzimuth:  round(azimuth, 0),
	}
	w.Temp, w.RH = measure.Celsius(round(temperature, 1)), round(min(0.98, max(0.3, damp)), 2)
	if w.SunAltitude > 0 {
		w.Direct, w.Diffuse = climate.Light(altitude, clear)
	}
	return w, simulated, w.Check()
}

// day gives the day's own dice.
func (s Station) day(at time.Time) *rand.Rand {
	return rand.New(rand.NewSource(s.Seed*1_000_003 + int64(at.Year())*1000 + int64(at.YearDay())))
}

// Meter is a simulated water meter on a bore: hard, a little harder in dry summers.
type Meter struct{ Seed int64 }

// Read gives the water at a moment.
func (m Meter) Read(_ context.Context, at time.Time) (climate.Water, climate.From, error) {
	day := rand.New(rand.NewSource(m.Seed*7919 + int64(at.UTC().YearDay())))
	hardness := round(225+20*math.Sin(2*math.Pi*float64(at.UTC().YearDay()-200)/365)+10*day.Float64(), 0)
	return climate.Supply(measure.Hardness(hardness), 0), simulated, nil
}

func round(x float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round(x*p) / p
}
