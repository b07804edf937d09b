package climate

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"uskel/core/measure"
	"uskel/core/wrong"
)

// Sky is how much of the sky is cloud, as anybody sees it who looks up.
type Sky string

// The skies.
const (
	ClearSky Sky = "clear"
	SomeSky  Sky = "some cloud"
	GreySky  Sky = "overcast"
)

// Values lists the skies.
func (Sky) Values() []string { return []string{string(ClearSky), string(SomeSky), string(GreySky)} }

// clearness is what share of the beam through clear air a sky lets through (model).
var clearness = map[Sky]float64{ClearSky: 0.95, SomeSky: 0.55, GreySky: 0.05}

// Reading is weather as somebody or something told it. The sun is not told: it follows from place and moment.
type Reading struct {
	At   time.Time       `json:"at" doc:"what moment it tells of"`
	Temp measure.Celsius `json:"temp" minimum:"-30" maximum:"55" doc:"degC"`
	RH   float64         `json:"rh" minimum:"0.02" maximum:"1" doc:"relative humidity, 0 to 1"`
	Wind float64         `json:"wind" minimum:"0" maximum:"40" doc:"m/s at the car's height"`
	Rain float64         `json:"rain,omitempty" minimum:"0" maximum:"200" doc:"mm/h"`
	Sky  Sky             `json:"sky,omitempty"`
	// Lacks are parts that nobody told: a thermometer knows nothing of the wind.
	Lacks []ReadingPart `json:"lacks,omitempty" doc:"parts that were not told: their values mean nothing"`
}

// ReadingPart is a part of a reading of the weather that may be missing.
type ReadingPart string

// The parts.
const (
	OfTemp ReadingPart = "temp"
	OfRH   ReadingPart = "rh"
	OfWind ReadingPart = "wind"
	OfSky  ReadingPart = "sky"
)

// parts says what each part is called, and how it is taken over from another reading.
var parts = []struct {
	part ReadingPart
	name string
	take func(r *Reading, from Reading)
}{
	{OfTemp, "temperature", func(r *Reading, from Reading) { r.Temp = from.Temp }},
	{OfRH, "humidity", func(r *Reading, from Reading) { r.RH = from.RH }},
	{OfWind, "wind", func(r *Reading, from Reading) { r.Wind = from.Wind }},
	{OfSky, "sky", func(r *Reading, from Reading) { r.Sky = from.Sky }},
}

// Values lists the parts.
func (ReadingPart) Values() []string {
	return []string{string(OfTemp), string(OfRH), string(OfWind), string(OfSky)}
}

func (r Reading) lacks(p ReadingPart) bool { return slices.Contains(r.Lacks, p) }

// Check names what cannot be, with its field.
func (r Reading) Check() error {
	if _, known := clearness[r.Sky]; !known && !r.lacks(OfSky) {
		return wrong.At("sky", "%q: use one of %q", r.Sky, Sky("").Values())
	}
	if !(r.Rain >= 0 && r.Rain <= 200) {
		return wrong.At("rain", "%g mm/h: between 0 and 200", r.Rain)
	}
	return r.Under(45, 0).Check()
}

// Under is the reading as weather under a sun at an altitude and azimuth, degrees.
func (r Reading) Under(altitude, azimuth float64) Weather {
	direct, diffuse := Light(altitude, clearness[r.Sky])
	return Weather{Air: Air{Temp: r.Temp, RH: r.RH}, Wind: r.Wind, Rain: r.Rain, Direct: direct, Diffuse: diffuse,
		SunAltitude: math.Round(10*altitude) / 10, SunAzimuth: math.Mod(math.Round(azimuth)+360, 360)}
}

// Light is the beam at right angles to itself and the sky's light on level ground, W/m2, under a sun at an altitude,
// degrees, through a sky that is so clear, 0 to 1. The beam thins towards the horizon, and cloud takes most of it
// (model).
func Light(altitude, clear float64) (direct, diffuse float64) {
	if altitude <= 0 {
		return 0, 0
	}
	up := math.Sin(altitude * math.Pi / 180)
	return math.Round(900 * clear * math.Pow(up, 0.35)), math.Round((60+160*(1-clear))*up + 20*up)
}

// Sun is where the sun stands, degrees above the horizon and degrees from north, at a latitude, degrees, on a day of
// the year and at a solar hour: the usual spherical formulas with Cooper's declination (1969), from memory.
func Sun(latitude float64, yearDay int, hour float64) (altitude, azimuth float64) {
	rad := math.Pi / 180
	declination := 23.45 * math.Sin(2*math.Pi*float64(284+yearDay)/365) * rad
	angle := 15 * (hour - 12) * rad
	up := math.Sin(latitude*rad)*math.Sin(declination) + math.Cos(latitude*rad)*math.Cos(declination)*math.Cos(angle)
	south := math.Atan2(
		math.Sin(angle),
		math.Cos(angle)*math.Sin(latitude*rad)-math.Tan(declination)*math.Cos(latitude*rad),
	)
	return math.Asin(up) / rad, math.Mod(south/rad+180+360, 360)
}

// SolarHour is about what a sundial shows where a clock stands: the zone's time without summer time. It is off by as
// much as the shop lies from the middle of its zone, mostly under an hour.
func SolarHour(at time.Time, zone *time.Location) (yearDay int, hour float64) {
	here := at.In(zone)
	hour = float64(here.Hour()) + float64(here.Minute())/60
	if here.IsDST() {
		hour--
	}
	return here.YearDay(), hour
}

// Source is where a reading came from.
type Source string

// The sources.
const (
	Simulated Source = "simulated"
	Told      Source = "told" // a reading of the time
	Forecast  Source = "forecast"
	Stale     Source = "stale"   // the last reading, some hours old
	Assumed   Source = "assumed" // nobody said anything
)

// Values lists the sources.
func (Source) Values() []string {
	return []string{string(Simulated), string(Told), string(Forecast), string(Stale), string(Assumed)}
}

// From says where what is taken came from, for the screen.
type From struct {
	Source Source     `json:"source"`
	Says   string     `json:"says"`
	At     *time.Time `json:"at,omitempty" doc:"when it was read"`
}

// How long a reading is taken for what is (model): weather turns within the hour or two, and what was read in the
// morning is still better than nothing until the evening.
const (
	readingHolds  = 90 * time.Minute
	forecastHolds = 3 * time.Hour
	staleHolds    = 12 * time.Hour
)

// At picks what is known of the weather at a moment: a reading of about then, else the forecast, between its hours,
// else the last reading, else what is assumed. What the reading lacks is looked for in the same order in those that have it. Readings and
// forecasts may come in any order.
func At(at time.Time, readings, forecasts []Reading) (Reading, From) {
	r, from := pick(at, readings, forecasts)
	others := map[string][]string{}
	var order []string
	for _, p := range parts {
		if !r.lacks(p.part) {
			continue
		}
		has := func(list []Reading) []Reading {
			return slices.DeleteFunc(slices.Clone(list), func(r Reading) bool { return r.lacks(p.part) })
		}
		other, how := pick(at, has(readings), has(forecasts))
		p.take(&r, other)
		says := how.short()
		if others[says] == nil {
			order = append(order, says)
		}
		others[says] = append(others[says], p.name)
	}
	for _, says := range order {
		from.Says += "; " + listed(others[says]) + " " + says
	}
	r.Lacks = nil
	return r, from
}

// listed writes names one after the other.
func listed(names []string) string {
	last := len(names) - 1
	if last < 1 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:last], ", ") + " and " + names[last]
}

// short says in a word where a part was taken from.
func (f From) short() string {
	if f.Source == Assumed {
		return "assumed"
	}
	return f.Says
}

func pick(at time.Time, readings, forecasts []Reading) (Reading, From) {
	if r, far, there := nearest(at, readings); there && far <= readingHolds {
		return r, From{Told, "as read", &r.At}
	}
	if r, there := between(at, forecasts); there {
		return r, From{Forecast, "by the forecast", &r.At}
	}
	if r, there := lastBefore(at, readings); there && at.Sub(r.At) <= staleHolds {
		return r, From{Stale, "the last reading: look whether it still holds", &r.At}
	}
	return assumedWeather(at), From{
		Source: Assumed,
		Says: fmt.Sprintf(
			"nobody has said: %g °C, %.0f %% and %g m/s under an overcast sky are assumed",
			mild.Temp,
			100*mild.RH,
			mild.Wind,
		),
	}
}

// mild is what is assumed of weather that nobody tells (model): neither the best nor the worst to wash in.
var mild = Reading{Temp: 15, RH: 0.65, Wind: 2, Sky: GreySky}

func assumedWeather(at time.Time) Reading { r := mild; r.At = at; return r }

func nearest(at time.Time, readings []Reading) (found Reading, far time.Duration, there bool) {
	for _, r := range readings {
		if d := at.Sub(r.At).Abs(); !there || d < far {
			found, far, there = r, d, true
		}
	}
	return found, far, there
}

func lastBefore(at time.Time, readings []Reading) (found Reading, there bool) {
	for _, r := range readings {
		if !r.At.After(at) && (!there || r.At.After(found.At)) {
			found, there = r, true
		}
	}
	return found, there
}

// between is the forecast for a moment: between the hours before and after it, or the one of them that is near enough.
func between(at time.Time, forecasts []Reading) (Reading, bool) {
	sorted := slices.Clone(forecasts)
	slices.SortStableFunc(sorted, func(a, b Reading) int { return a.At.Compare(b.At) })
	after := slices.IndexFunc(sorted, func(r Reading) bool { return !r.At.Before(at) })
	near := func(r Reading) (Reading, bool) { return r, at.Sub(r.At).Abs() <= forecastHolds }
	switch {
	case len(sorted) == 0:
		return Reading{}, false
	case after < 0:
		return near(sorted[len(sorted)-1])
	case after == 0 || sorted[after].At.Equal(at):
		return near(sorted[after])
	}
	a, b := sorted[after-1], sorted[after]
	if b.At.Sub(a.At) > 2*forecastHolds {
		r, _, _ := nearest(at, []Reading{a, b})
		return near(r)
	}
	share := float64(at.Sub(a.At)) / float64(b.At.Sub(a.At))
	mix := func(x, y float64) float64 { return math.Round(100*(x+share*(y-x))) / 100 }
	r := Reading{At: at, Temp: measure.Celsius(mix(float64(a.Temp), float64(b.Temp))), RH: mix(a.RH, b.RH),
		Wind: mix(a.Wind, b.Wind), Rain: mix(a.Rain, b.Rain), Sky: a.Sky, Lacks: slices.Concat(a.Lacks, b.Lacks)}
	if share > 0.5 {
		r.Sky = b.Sky
	}
	return r, true
}

// Water is what is known of the supply.
type Water struct {
	Hardness measure.Hardness `json:"hardness" minimum:"0" maximum:"5000" doc:"mg/l as calcium carbonate"`
	Solids   float64          `json:"solids" minimum:"0" maximum:"10000" doc:"dissolved solids, mg/l"`
	Class    string           `json:"class,omitempty" doc:"hardness class"`
}

// solidsPerHardness is about how much is dissolved in tap water in all, for each mg/l of hardness (model).
const solidsPerHardness = 1.5

// mostHardness is harder than any supply, mg/l.
const mostHardness = 5000

// Supply is water of a hardness; solids are worked out from it when nobody measured them.
func Supply(hardness measure.Hardness, solids float64) Water {
	if solids == 0 {
		solids = math.Round(float64(hardness) * solidsPerHardness)
	}
	return Water{hardness, solids, hardness.Class()}
}

// hardWater is assumed of a supply that nobody measured, mg/l: water that spots, so that nothing is promised (model).
const hardWater = 200

// waterHolds is how long a measured supply is taken as it was (model): wells turn with the seasons.
const waterHolds = 180 * 24 * time.Hour

// AssumedWater is the supply when nobody has measured it.
func AssumedWater() (Water, From) {
	return Supply(hardWater, 0), From{Source: Assumed,
		Says: fmt.Sprintf("nobody has measured: hard water of %d mg/l is assumed", hardWater)}
}

// Measured is the supply as it was measured at a moment.
func Measured(w Water, at, now time.Time) (Water, From) {
	w = Supply(w.Hardness, w.Solids)
	if now.Sub(at) > waterHolds {
		return w, From{Stale, "measured over half a year ago: measure again", &at}
	}
	return w, From{Told, "as measured", &at}
}
