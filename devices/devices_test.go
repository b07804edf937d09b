package devices

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
)

func TestStationIsRepeatableAndPlausible(t *testing.T) {
	start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for hours := 0; hours < 365*24; hours += 5 {
		at := start.Add(time.Duration(hours) * time.Hour)
		w, from, err := Station{7}.Read(context.Background(), at)
		require.NoError(t, err)
		assert.Equal(t, climate.Simulated, from.Source, "the screen says so")
		again, _, _ := Station{7}.Read(context.Background(), at)
		assert.Equal(t, w, again)
		assert.True(t, w.Temp > -5 && w.Temp < 30, "%v at %v", w.Temp, at)
		if w.SunAltitude <= 0 {
			assert.Zero(t, w.Direct, "no sun at night")
		}
	}
	a, _, _ := Station{7}.Read(context.Background(), start)
	b, _, _ := Station{8}.Read(context.Background(), start)
	assert.NotEqual(t, a, b)
}

func TestMeterReadsHardBoreWater(t *testing.T) {
	w, _, err := Meter{7}.Read(context.Background(), time.Date(2026, 7, 1, 9, 0, 0, 0, time.UTC))
	require.NoError(t, err)
	assert.Equal(t, "very hard", w.Class)
	assert.Greater(t, w.Solids, float64(w.Hardness))
}

// log is a kept log, and how often it was read.
type log struct {
	readings, forecasts []climate.Reading
	water               *climate.Water
	reads               int
	away                error
}

func (l *log) Told(_ context.Context, from, to time.Time) ([]climate.Reading, []climate.Reading, error) {
	l.reads++
	return l.readings, l.forecasts, l.away
}

func (l *log) Supply(context.Context) (*climate.Water, time.Time, error) {
	return l.water, noon.AddDate(0, 0, -3), l.away
}

var noon = time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)

func recorded(l *log) *Recorded {
	return &Recorded{Log: l, Now: func() time.Time { return noon },
		Where: func(context.Context) (float64, *time.Location, error) { return 50, time.UTC, nil }}
}

// What was told is the weather, under the sun of the place; the log is read once for the many moments of a plan, and
// anew when something was told.
func TestRecordedWeather(t *testing.T) {
	l := &log{readings: []climate.Reading{{At: noon, Temp: 21, RH: 0.4, Wind: 3, Sky: climate.ClearSky}}}
	r := recorded(l)
	w, from, err := r.Station().Read(context.Background(), noon)
	require.NoError(t, err)
	assert.Equal(t, climate.Told, from.Source)
	assert.InDelta(t, 21, float64(w.Temp), 1e-9)
	assert.Greater(t, w.SunAltitude, 55.0)
	assert.Greater(t, w.Direct, 700.0)
	for hour := range 12 {
		_, _, err := r.Station().Read(context.Background(), noon.Add(time.Duration(hour)*time.Hour))
		require.NoError(t, err)
	}
	assert.Equal(t, 1, l.reads)
	l.readings[0].Temp = 5
	r.Forget()
	w, _, err = r.Station().Read(context.Background(), noon)
	require.NoError(t, err)
	assert.InDelta(t, 5, float64(w.Temp), 1e-9)
	assert.Equal(t, 2, l.reads)
}

// A log that cannot be read is an error, not an assumption; one that is empty is an assumption that says so.
func TestRecordedWithoutReadings(t *testing.T) {
	r := recorded(&log{})
	_, from, err := r.Station().Read(context.Background(), noon)
	require.NoError(t, err)
	assert.Equal(t, climate.Assumed, from.Source)
	water, from, err := r.Meter().Read(context.Background(), noon)
	require.NoError(t, err)
	assert.Equal(t, climate.Assumed, from.Source)
	assert.Equal(t, "very hard", water.Class)

	r = recorded(&log{away: context.DeadlineExceeded})
	_, _, err = r.Station().Read(context.Background(), noon)
	require.Error(t, err)
	_, _, err = r.Meter().Read(context.Background(), noon)
	require.Error(t, err)
}

func TestRecordedWater(t *testing.T) {
	r := recorded(&log{water: &climate.Water{Hardness: 80}})
	water, from, err := r.Meter().Read(context.Background(), noon)
	require.NoError(t, err)
	assert.Equal(t, climate.Told, from.Source)
	assert.Equal(t, climate.Water{Hardness: 80, Solids: 120, Class: "moderately hard"}, water)
	_, from, err = r.Meter().Read(context.Background(), noon.AddDate(0, 9, 0))
	require.NoError(t, err)
	assert.Equal(t, climate.Stale, from.Source)
}
