// Package devices speaks to what stands outside: the weather station and the water meter. Behind each
// interface stands a simulated stand-in that is the same for the same seed and time.
package devices

import (
	"context"
	"math"
	"math/rand"
	"time"

	"uskel/core/climate"
	"uskel/core/measure"
)

// WeatherStation reads the weather in the yard.
type WeatherStation interface {
	Read(ctx context.Context, at time.Time) (climate.Weather, error)
}

// Water is what the meter on the supply reads.
type Water struct {
	Hardness measure.Hardness `json:"hardness" doc:"mg/l as calcium carbonate"`
	Solids   float64          `json:"solids" doc:"dissolved solids, mg/l"`
	Class    string           `json:"class" doc:"hardness class"`
}

// WaterMeter reads the supply.
type WaterMeter interface {
	Read(ctx context.Context, at time.Time) (Water, error)
}

// Station is a simulated weather station on a mild, windy island at about 50 degrees north. The sky changes
// by the day, the readings run smoothly through the hours.
type Station struct{ Seed int64 }

// latitude of the invented island, degrees north.
const latitude = 50.0

// Read gives the weather at a moment.
func (s Station) Read(_ context.Context, at time.Time) (climate.Weather, error) {
	at = at.UTC()
	hour := float64(at.Hour()) + float64(at.Minute())/60
	altitude, azimuth := sun(at.YearDay(), hour)
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
	w := climate.Weather{Wind: round(max(0.2, wind), 1), Rain: round(rain, 1), SunAltitude: round(altitude, 1), SunAzimuth: round(azimuth, 0)}
	w.Temp, w.RH = measure.Celsius(round(temperature, 1)), round(min(0.98, max(0.3, damp)), 2)
	if w.SunAltitude > 0 { // beam through clear air thins towards the horizon; cloud takes most of it
		up := math.Sin(altitude * math.Pi / 180)
		w.Direct = round(900*clear*math.Pow(up, 0.35), 0)
		w.Diffuse = round((60+160*(1-clear))*up+20*up, 0)
	}
	return w, w.Check()
}

// day gives the day's own dice.
func (s Station) day(at time.Time) *rand.Rand {
	return rand.New(rand.NewSource(s.Seed*1_000_003 + int64(at.Year())*1000 + int64(at.YearDay())))
}

// sun gives altitude and azimuth in degrees for a day of the year and a solar hour, by the usual
// spherical formulas with Cooper's declination (1969), from memory.
func sun(yearDay int, hour float64) (altitude, azimuth float64) {
	rad := math.Pi / 180
	declination := 23.45 * math.Sin(2*math.Pi*float64(284+yearDay)/365) * rad
	angle := 15 * (hour - 12) * rad
	sinAlt := math.Sin(latitude*rad)*math.Sin(declination) + math.Cos(latitude*rad)*math.Cos(declination)*math.Cos(angle)
	alt := math.Asin(sinAlt)
	south := math.Atan2(math.Sin(angle), math.Cos(angle)*math.Sin(latitude*rad)-math.Tan(declination)*math.Cos(latitude*rad))
	return alt / rad, math.Mod(south/rad+180+360, 360)
}

// Meter is a simulated water meter on a bore: hard, a little harder in dry summers.
type Meter struct{ Seed int64 }

// Read gives the water at a moment.
func (m Meter) Read(_ context.Context, at time.Time) (Water, error) {
	day := rand.New(rand.NewSource(m.Seed*7919 + int64(at.UTC().YearDay())))
	h := measure.Hardness(round(225+20*math.Sin(2*math.Pi*float64(at.UTC().YearDay()-200)/365)+10*day.Float64(), 0))
	return Water{Hardness: h, Solids: round(float64(h)*1.5, 0), Class: h.Class()}, nil
}

func round(x float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round(x*p) / p
}
