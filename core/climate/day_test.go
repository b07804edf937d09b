package climate

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
)

// Heat index: the U.S. National Weather Service's chart, whole degrees Fahrenheit, from memory.
func TestHeatIndexAgainstTheChart(t *testing.T) {
	for _, c := range []struct{ f, rh, feels float64 }{{80, 40, 80}, {90, 50, 95}, {90, 70, 106}, {100, 40, 109}, {86,
		90, 105}, {96, 60, 116}, {70, 50, 69}} {
		got := Air{fromFahrenheit(c.f), c.rh / 100}.HeatIndex().Fahrenheit()
		assert.InDelta(t, c.feels, got, 1.3, "%g degF at %g %%", c.f, c.rh)
	}
}

// Wind chill: the published chart of 2001 in degrees Celsius and km/h, from memory.
func TestWindChillAgainstTheChart(t *testing.T) {
	for _, c := range []struct{ temp, kmh, feels float64 }{{0, 10, -3}, {0, 30, -6}, {-10, 20, -18}, {-20, 30, -33}, {5, 20, 1}} {
		w := Weather{Air: Air{Temp: measure.Celsius(c.temp), RH: 0.5}, Wind: c.kmh / 3.6}
		assert.InDelta(t, c.feels, float64(w.WindChill()), 0.7, "%g degC at %g km/h", c.temp, c.kmh)
	}
	assert.EqualValues(t, 15, Weather{Air: Air{15, 0.5}, Wind: 10}.WindChill(), "it does not hold above 10 degC")
}

// In full sun the side that faces it dries first and noon is never among the best hours; shade outlasts the sun;
// early and late are best, as the trade says.
func TestTheHoursOfASunnyDay(t *testing.T) {
	var at []time.Time
	var weather []Weather
	for hour := 6; hour <= 19; hour++ {
		up := 60 * (1 - abs(float64(hour)-12.5)/7)
		w := Weather{
			Air:         Air{measure.Celsius(12 + up/5), 0.8 - up/150},
			Wind:        1.5,
			SunAltitude: up,
			SunAzimuth:  15 * float64(hour),
			Diffuse:     60,
		}
		if up > 0 {
			w.Direct = 12 * up
		}
		at = append(at, time.Date(2026, 6, 1, hour, 0, 0, 0, time.UTC))
		weather = append(weather, w)
	}
	hours := Day(at, weather)
	byHour := map[int]Hour{}
	for _, h := range hours {
		byHour[h.At.Hour()] = h
		assert.GreaterOrEqual(t, h.Shade, h.Top, "shade outlasts the sun at %d", h.At.Hour())
		assert.GreaterOrEqual(t, h.White, h.Top, "a white panel outlasts a dark one")
		assert.NotEmpty(t, h.Verdict)
	}
	assert.False(t, byHour[12].Good)
	assert.Less(t, byHour[9].Sides["east"], byHour[9].Sides["west"], "in the morning the east side dries first")
	assert.Less(t, byHour[17].Sides["west"], byHour[17].Sides["east"])
	assert.Greater(t, byHour[7].Top, byHour[12].Top)
}

func abs(x float64) float64 { return max(x, -x) }

func TestRainAndNightAreNeverBest(t *testing.T) {
	at := []time.Time{time.Date(2026, 1, 1, 3, 0, 0, 0, time.UTC), time.Date(2026, 1, 1, 12, 0, 0, 0, time.UTC)}
	hours := Day(
		at,
		[]Weather{{Air: Air{8, 0.9}, Wind: 1, SunAltitude: -20}, {Air: Air{8, 0.9}, Wind: 1, SunAltitude: 15, Rain: 1}},
	)
	assert.False(t, hours[0].Good)
	assert.False(t, hours[1].Good)
	assert.Contains(t, hours[1].Verdict, "roof")
	assert.NotEmpty(t, Day(at[:1], []Weather{{Air: Air{-5, 0.9}, Wind: 6}})[0].People, "cold and wind ask for gloves")
}
