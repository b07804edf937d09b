package climate_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
)

var readAt = time.Date(2026, 4, 14, 9, 30, 0, 0, time.UTC)

// Files of readings: heads in any order, what cannot be by line and column.
func TestReadingsFromAFile(t *testing.T) {
	text := "\ufeffat,kind,temp_c,rh_percent,wind_m_s,sky,rain_mm_h,hardness_mg_l,solids_mg_l\r\n" +
		"2026-04-14T10:00:00Z,weather,12.5,70,3,overcast,0.4,,\r\n2026-04-14T10:00:00+01:00,water,,,,,,120,180\r\n"
	read, err := climate.ReadReadings(strings.NewReader(text))
	require.NoError(t, err)
	taken, err := climate.Take(read, readAt.Add(time.Hour))
	require.NoError(t, err)
	require.Len(t, taken, 2)
	assert.Equal(t, climate.WeatherReading, taken[0].Kind)
	assert.Equal(t, climate.Reading{At: readAt.Add(30 * time.Minute), Temp: 12.5, RH: 0.70, Wind: 3, Rain: 0.4,
		Sky: climate.GreySky}, taken[0].Of)
	assert.Equal(t, climate.Water{Hardness: 120, Solids: 180, Class: "moderately hard"}, taken[1].Of)
	for says, text := range map[string]string{
		"line 1":             "",
		"no column kind":     "colour,temp_c\nblue,3\n",
		"line 2: kind":       "kind,temp_c\nfog,1\n",
		"line 3: temp_c":     "kind,temp_c\nweather,1\nweather,warm\n",
		"line 2: at":         "kind,at\nweather,yesterday\n",
		"line 2: rh_percent": "kind,rh_percent\nweather,NaN\n",
		"line 3:":            "kind,temp_c\nweather,1\nweather\n",
	} {
		_, err := climate.ReadReadings(strings.NewReader(text))
		assert.ErrorContains(t, err, says, "%q", text)
	}
}

// A clock that is wrong, and what was left out, are named at their field; a forecast may tell of two weeks ahead.
func TestTakeReadings(t *testing.T) {
	temp, rh, wind := 12.0, 70.0, 3.0
	said := climate.ReadingTold{Kind: climate.WeatherReading, Temp: &temp, RH: &rh, Wind: &wind, Sky: climate.GreySky}
	late := said
	late.At = readAt.Add(time.Hour)
	taken, err := climate.Take([]climate.ReadingTold{said}, readAt)
	require.NoError(t, err)
	assert.Equal(t, readAt, taken[0].At, "now when no moment is named")
	_, err = climate.Take([]climate.ReadingTold{said, late}, readAt)
	assert.ErrorContains(t, err, "[1].at: ")
	late.Kind = climate.ForecastReading
	_, err = climate.Take([]climate.ReadingTold{said, late}, readAt)
	require.NoError(t, err)
	_, err = climate.Take([]climate.ReadingTold{{Kind: climate.WeatherReading}, {Kind: climate.WaterReading}}, readAt)
	assert.ErrorContains(t, err, "[0].temp: say one of")
	assert.ErrorContains(t, err, "[1].hardness: enter it")
	_, err = climate.Take(nil, readAt)
	assert.ErrorContains(t, err, "from 1 to 500")
}

// An instrument says what it has: a thermometer alone, a meter of dissolved solids, a column that Uskel does not know.
func TestInstrumentsSayWhatTheyHave(t *testing.T) {
	read, err := climate.ReadReadings(strings.NewReader("battery,kind,temp_c,solids_mg_l\n87 %,weather,12,\n86 %,water,,300\n"))
	require.NoError(t, err)
	taken, err := climate.Take(read, readAt)
	require.NoError(t, err)
	r := taken[0].Of.(climate.Reading)
	assert.Equal(t, []climate.ReadingPart{climate.OfRH, climate.OfWind, climate.OfSky}, r.Lacks)
	assert.Equal(t, climate.Water{Hardness: 200, Solids: 300, Class: "very hard"}, taken[1].Of)
	wind, hot := 5.0, 99.0
	_, err = climate.Take([]climate.ReadingTold{{Kind: climate.WeatherReading, Wind: &wind}}, readAt)
	require.NoError(t, err)
	_, err = climate.Take([]climate.ReadingTold{{Kind: climate.WeatherReading, Temp: &hot}}, readAt)
	assert.ErrorContains(t, err, "air temperature 99")
}

func FuzzReadReadings(f *testing.F) {
	f.Add("kind,at,temp_c,rh_percent,wind_m_s,sky\nweather,2026-04-14T10:00:00Z,12,70,3,clear\n")
	f.Add("kind,hardness_mg_l\nwater,120\n")
	f.Fuzz(func(t *testing.T, text string) {
		read, err := climate.ReadReadings(strings.NewReader(text))
		if err != nil {
			return
		}
		taken, err := climate.Take(read, readAt)
		if err == nil && len(taken) != len(read) {
			t.Errorf("%d readings told, %d taken", len(read), len(taken))
		}
	})
}
