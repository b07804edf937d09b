package devices

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStationIsRepeatableAndPlausible(t *testing.T) {
	start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for hours := 0; hours < 365*24; hours += 5 {
		at := start.Add(time.Duration(hours) * time.Hour)
		w, err := Station{7}.Read(context.Background(), at)
		require.NoError(t, err)
		again, _ := Station{7}.Read(context.Background(), at)
		assert.Equal(t, w, again)
		assert.True(t, w.Temp > -5 && w.Temp < 30, "%v at %v", w.Temp, at)
		if w.SunAltitude <= 0 {
			assert.Zero(t, w.Direct, "no sun at night")
		}
	}
	a, _ := Station{7}.Read(context.Background(), start)
	b, _ := Station{8}.Read(context.Background(), start)
	assert.NotEqual(t, a, b)
}

// Geometry: at the equinox the noon sun stands at 90 degrees less the latitude, due south; it rises due east.
func TestSunsPath(t *testing.T) {
	altitude, azimuth := sun(81, 12)
	assert.InDelta(t, 90-latitude, altitude, 0.5)
	assert.InDelta(t, 180, azimuth, 0.5)
	altitude, azimuth = sun(81, 6)
	assert.InDelta(t, 0, altitude, 0.5)
	assert.InDelta(t, 90, azimuth, 1)
}

func TestMeterReadsHardBoreWater(t *testing.T) {
	w, err := Meter{7}.Read(context.Background(), time.Date(2026, 7, 1, 9, 0, 0, 0, time.UTC))
	require.NoError(t, err)
	assert.Equal(t, "very hard", w.Class)
	assert.Greater(t, w.Solids, float64(w.Hardness))
}
