package climate

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var noon = time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)

func told(hours float64, temp float64) Reading {
	return Reading{
		At:   noon.Add(time.Duration(hours * float64(time.Hour))),
		Temp: 10,
		RH:   0.5,
		Wind: temp,
		Sky:  ClearSky,
	}
}

// What is taken of the weather, nearest first: a reading of about then, the forecast, the last reading, what is
// assumed.
func TestWhatIsTakenOfTheWeather(t *testing.T) {
	for name, c := range map[string]struct {
		readings, forecasts []Reading
		source              Source
		wind                float64
	}{
		"nothing":                          {nil, nil, Assumed, mild.Wind},
		"read just now":                    {[]Reading{told(-0.2, 3)}, []Reading{told(0, 9)}, Told, 3},
		"the nearer of two":                {[]Reading{told(-1, 3), told(0.3, 4)}, nil, Told, 4},
		"the forecast, an old reading":     {[]Reading{told(-4, 3)}, []Reading{told(-1, 6), told(1, 8)}, Forecast, 7},
		"a quarter of the way":             {nil, []Reading{told(3, 10), told(-1, 2)}, Forecast, 4},
		"on the hour":                      {nil, []Reading{told(0, 5), told(1, 9)}, Forecast, 5},
		"the forecast's last hour":         {nil, []Reading{told(-2, 5)}, Forecast, 5},
		"the forecast's first hour":        {nil, []Reading{told(2, 5)}, Forecast, 5},
		"a forecast that ended long ago":   {[]Reading{told(-5, 3)}, []Reading{told(-4, 5)}, Stale, 3},
		"a gap in the forecast":            {nil, []Reading{told(-2, 5), told(9, 50)}, Forecast, 5},
		"in the middle of a long gap":      {nil, []Reading{told(-5, 5), told(5, 50)}, Assumed, mild.Wind},
		"this morning's":                   {[]Reading{told(-6, 3), told(-30, 1)}, nil, Stale, 3},
		"yesterday's is nothing":           {[]Reading{told(-20, 3)}, nil, Assumed, mild.Wind},
		"a reading of later is no old one": {[]Reading{told(4, 3)}, nil, Assumed, mild.Wind},
	} {
		r, from := At(noon, c.readings, c.forecasts)
		assert.Equal(t, c.source, from.Source, name)
		assert.InDelta(t, c.wind, r.Wind, 1e-9, name)
		assert.NotEmpty(t, from.Says, name)
	}
}

// What a reading lacks is taken from others that have it, and said: never the zero that stands in its place.
func TestWhatAReadingLacksIsTakenFromOthers(t *testing.T) {
	warm := Reading{At: noon, Temp: 31, Lacks: []ReadingPart{OfRH, OfWind, OfSky}}
	windy := Reading{At: noon.Add(-20 * time.Minute), Wind: 7, Lacks: []ReadingPart{OfTemp, OfRH, OfSky}}
	hours := []Reading{{At: noon.Add(-time.Hour), Temp: 20, RH: 0.4, Wind: 1, Sky: ClearSky},
		{At: noon.Add(time.Hour), Temp: 22, RH: 0.5, Wind: 3, Sky: ClearSky}}
	r, from := At(noon, []Reading{warm}, nil)
	assert.Equal(t, Reading{At: noon, Temp: 31, RH: mild.RH, Wind: mild.Wind, Sky: mild.Sky}, r)
	assert.Equal(t, From{Told, "as read; humidity, wind and sky assumed", &warm.At}, from)
	r, from = At(noon, []Reading{warm, windy}, hours)
	assert.Equal(t, Reading{At: noon, Temp: 31, RH: 0.45, Wind: 7, Sky: ClearSky}, r)
	assert.Equal(t, "as read; humidity and sky by the forecast; wind as read", from.Says)
	hours[0].Lacks, hours[0].Wind = []ReadingPart{OfWind}, 0
	r, from = At(noon, nil, hours)
	assert.InDelta(t, 3, r.Wind, 1e-9, "half of nothing is no wind of a forecast")
	assert.Equal(t, Forecast, from.Source)
	assert.Empty(t, r.Lacks)
}

// Solar altitude at noon is 90 degrees less the latitude and plus the declination (geometry): 23.45 at midsummer,
// within the formula's half degree. South of the equator the noon sun stands in the north.
func TestTheSunByPlace(t *testing.T) {
	for _, c := range []struct {
		latitude float64
		day      int
		altitude float64
		azimuth  float64
	}{{50, 172, 63.45, 180}, {50, 355, 16.55, 180}, {45, 81, 45, 180}, {-35, 355, 78.45, 0}, {-35, 172, 31.55, 0}} {
		altitude, azimuth := Sun(c.latitude, c.day, 12)
		assert.InDelta(t, c.altitude, altitude, 0.6, "%g on day %d", c.latitude, c.day)
		off := azimuth - c.azimuth
		assert.InDelta(t, 0, min(abs(off), 360-abs(off)), 1, "%g on day %d", c.latitude, c.day)
	}
}

// Summer time is no later sun: the solar hour is the same on both sides of the change of the clocks.
func TestTheSolarHourKnowsSummerTime(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Paris")
	require.NoError(t, err)
	_, winter := SolarHour(time.Date(2026, 3, 28, 11, 0, 0, 0, time.UTC), zone)
	_, summer := SolarHour(time.Date(2026, 3, 30, 11, 0, 0, 0, time.UTC), zone)
	assert.InDelta(t, winter, summer, 1e-9)
	assert.InDelta(t, 12, summer, 1e-9)
}

func TestReadingsAreChecked(t *testing.T) {
	good := Reading{Temp: 12, RH: 0.6, Wind: 3, Sky: SomeSky}
	require.NoError(t, good.Check())
	for says, change := range map[string]func(*Reading){
		"sky":  func(r *Reading) { r.Sky = "purple" },
		"rain": func(r *Reading) { r.Rain = -1 },
		"wind": func(r *Reading) { r.Wind = 90 },
	} {
		r := good
		change(&r)
		assert.ErrorContains(t, r.Check(), says)
	}
	r := good
	r.RH = 1.4
	assert.Error(t, r.Check())
}

// A clearer sky gives more beam and less sky light; at night there is neither.
func TestLightFollowsTheSky(t *testing.T) {
	for altitude := 1.0; altitude < 90; altitude += 7 {
		bright, low := Light(altitude, clearness[ClearSky])
		dim, high := Light(altitude, clearness[GreySky])
		assert.Greater(t, bright, dim)
		assert.LessOrEqual(t, low, high)
	}
	direct, diffuse := Light(-2, 1)
	assert.Zero(t, direct+diffuse)
}
