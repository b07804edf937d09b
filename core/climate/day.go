package climate

import (
	"math"
	"time"

	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Hour is the washing weather of one hour: how long what a mitt leaves stays wet, by where a panel faces, outdoors
// and in shade.
type Hour struct {
	At      time.Time `json:"at"`
	Weather Weather   `json:"weather"`
	// Sides are the suds windows of a dark panel under the open sky, s, by the direction it faces; Top is a flat one.
	Sides   map[string]measure.Seconds `json:"sides" doc:"north, east, south, west"`
	Top     measure.Seconds            `json:"top" doc:"s, a dark flat panel"`
	White   measure.Seconds            `json:"white" doc:"s, a white flat panel"`
	Shade   measure.Seconds            `json:"shade" doc:"s, a door in shade"`
	Verdict string                     `json:"verdict" doc:"what one may do under the open sky"`
	Good    bool                       `json:"good" doc:"one of the best hours to wash outdoors"`
	People  []string                   `json:"people" doc:"cautions for those who work in it"`
}

// compass is where the sides of a car may look, degrees from north.
var compass = map[string]float64{"north": 0, "east": 90, "south": 180, "west": 270}

const (
	// goodWindow is the suds window under the open sky from which work flows: two panels and a rinse.
	goodWindow = 4 * measure.Minute
	// leastWindow is the shortest window in which one panel can be washed and rinsed in time.
	leastWindow = 2 * measure.Minute
	// nearBest is the share of the day's longest window from which an hour counts among the best (model).
	nearBest = 0.75
)

// Day works out the hours of a day from their weather, in order. Rain and hours with no light are never among the best.
func Day(at []time.Time, weather []Weather) []Hour {
	hours, windows, best := make([]Hour, len(at)), make([]measure.Seconds, len(at)), measure.Seconds(0)
	for i, w := range weather {
		h := Hour{At: at[i], Weather: w, Sides: map[string]measure.Seconds{}, People: Cautions(w)}
		suds := func(w Weather, f vehicle.Facing, shade vehicle.Shade, heading float64) measure.Seconds {
			return measure.SecondsOf(
				w.Dry(Panel{Facing: f, Surface: vehicle.Paint, Shade: shade, Heading: heading}, SudsFilm).Window,
			)
		}
		worst := measure.Seconds(math.MaxInt32)
		for name, heading := range compass {
			h.Sides[name] = suds(w, vehicle.FacesFront, vehicle.Dark, heading)
			worst = min(worst, h.Sides[name])
		}
		h.Top, h.White = suds(w, vehicle.FacesUp, vehicle.Dark, 0), suds(w, vehicle.FacesUp, vehicle.White, 0)
		h.Shade = suds(w.Under(InShade), vehicle.FacesLeft, vehicle.Mid, 0)
		worst = min(worst, h.Top)
		h.Verdict = hourWords(w, worst)
		if w.Rain == 0 && w.SunAltitude > 0 {
			windows[i] = worst
			best = max(best, worst)
		}
		hours[i] = h
	}
	for i := range hours {
		hours[i].Good = windows[i] >= leastWindow && float64(windows[i]) >= nearBest*float64(best)
	}
	return hours
}

func hourWords(w Weather, worst measure.Seconds) string {
	switch {
	case w.Rain > 0:
		return "rain: wash under a roof"
	case w.Temp < 2:
		return "near frost: water freezes on the ground and in gaps"
	case worst < leastWindow:
		return "one panel at a time"
	case worst < goodWindow:
		return "two panels, then rinse"
	case worst < 10*measure.Minute:
		return "four panels may wait"
	}
	return "half a car may wait"
}

// HeatIndex is what the air feels like, degC, by the U.S. National Weather Service: Rothfusz's regression with its
// adjustments, and Steadman's simple formula below 80 degF.
func (a Air) HeatIndex() measure.Celsius {
	t, r := a.Temp.Fahrenheit(), a.RH*100
	simple := 0.5 * (t + 61 + (t-68)*1.2 + r*0.094)
	if (simple+t)/2 < 80 {
		return fromFahrenheit((simple + t) / 2)
	}
	hi := -42.379 + 2.04901523*t + 10.14333127*r - 0.22475541*t*r - 6.83783e-3*t*t - 5.481717e-2*r*r +
		1.22874e-3*t*t*r + 8.5282e-4*t*r*r - 1.99e-6*t*t*r*r
	switch {
	case r < 13 && t >= 80 && t <= 112:
		hi -= (13 - r) / 4 * math.Sqrt((17-math.Abs(t-95))/17)
	case r > 85 && t >= 80 && t <= 87:
		hi += (r - 85) / 10 * (87 - t) / 5
	}
	return fromFahrenheit(hi)
}

// WindChill is what the air feels like in wind, degC, by the formula of 2001 (U.S. National Weather Service and
// Environment Canada). It holds at or below 10 degC and from 1.34 m/s (4.8 km/h) at head height; elsewhere it is the
// air's temperature.
func (w Weather) WindChill() measure.Celsius {
	kmh := w.Wind * 3.6
	if w.Temp > 10 || kmh < 4.8 {
		return w.Temp
	}
	t, v := float64(w.Temp), math.Pow(kmh, 0.16)
	return measure.Celsius(13.12 + 0.6215*t - 11.37*v + 0.3965*t*v)
}

func fromFahrenheit(f float64) measure.Celsius { return measure.Celsius((f - 32) / 1.8) }

// Cautions are for the people who work in the weather (docs/trade.md, section 12). Classes of the heat index: U.S.
// National Weather Service, 80, 90, 103 degF.
func Cautions(w Weather) []string {
	said := []string{}
	heat, chill := w.HeatIndex().Fahrenheit(), w.WindChill()
	switch {
	case heat >= 103:
		said = append(said, "Danger of heat: shade, water, short turns; stop when anyone feels unwell.")
	case heat >= 90:
		said = append(said, "Heat: water every twenty minutes, rest in the shade.")
	case heat >= 80:
		said = append(said, "Warm: drink more than thirst asks for.")
	}
	if w.Temp <= 0 && w.Temp > -40 {
		said = append(said, "It freezes: water on the floor turns to ice, shuts and locks freeze shut. Salt the floor, dry seals and locks.")
	}
	if chill < -10 {
		said = append(said, "Wet hands freeze: dry gloves, warm breaks, short turns.")
	} else if chill < 2 {
		said = append(said, "Cold and wet: gloves; ice on the floor.")
	}
	return said
}
