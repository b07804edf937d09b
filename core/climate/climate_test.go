package climate

import (
	"encoding/csv"
	"math/rand"
	"os"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Reference: the psychrolib package 1.1.1 from npm (ASHRAE Fundamentals 2017), written to
// testdata/psychrolib.csv by testdata/psychrolib.mjs.
func TestMoistAirAgainstPsychrolib(t *testing.T) {
	f, err := os.Open("testdata/psychrolib.csv")
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 61)
	for _, row := range rows[1:] {
		n := make([]float64, len(row))
		for i := range row {
			n[i], err = strconv.ParseFloat(row[i], 64)
			require.NoError(t, err)
		}
		air := Air{Temp: measure.Celsius(n[0]), RH: n[1]}
		require.NoError(t, air.Check())
		assert.InEpsilon(t, n[2], SaturationPressure(air.Temp), 1e-3, "saturation pressure at %v", row)
		assert.InDelta(t, n[3], float64(air.DewPoint()), 0.05, "dew point at %v", row)
		assert.InDelta(t, n[4], float64(air.WetBulb()), 0.05, "wet bulb at %v", row)
		assert.InEpsilon(t, n[5], air.VapourPressure(), 1e-3, "vapour pressure at %v", row)
	}
}

// Steam tables: 20 degC 2,339 Pa (docs/trade.md, section 15); saturated vapour 17.3 g/m3.
func TestSteamTable(t *testing.T) {
	assert.InDelta(t, 2339, SaturationPressure(20), 1)
	assert.InDelta(t, 17.3e-3, Air{20, 1}.AbsoluteHumidity(), 0.05e-3)
}

var (
	// Shade under a roof edge still sees a little sky: 30 W/m2 on level ground, 15 on a door.
	coolShade = Weather{Air: Air{18, 0.6}, Wind: 1, Diffuse: 30}
	fullSun   = Weather{Air: Air{28, 0.4}, Wind: 2, Direct: 800, SunAltitude: 1, SunAzimuth: 270}
	leftDoor  = Panel{Facing: vehicle.FacesLeft, Surface: vehicle.Paint, Shade: vehicle.Dark}
)

// Calibration of docs/models.md, which is the trade's experience: common practice, no source.
func TestDryingAsTheTradeKnowsIt(t *testing.T) {
	shade := coolShade.Dry(leftDoor, DrainedWater)
	assert.InDelta(t, 0.03, shade.Rate, 0.005, "g/m2s in cool shade")
	assert.InDelta(t, 20, shade.Window.Minutes(), 3)

	foam := coolShade.Dry(leftDoor, FoamFilm).Window.Minutes()
	assert.True(t, foam >= 10 && foam <= 15, "in cool shade thick foam lives 10 to 15 min, got %.1f", foam)

	sun := fullSun.Dry(leftDoor, DrainedWater)
	assert.InDelta(t, 32, float64(sun.Surface), 1.5, "a dark panel in the sun")
	assert.InDelta(t, 0.28, sun.Rate, 0.03)
	assert.InDelta(t, 2, sun.Window.Minutes(), 0.5, "about two minutes: one panel at a time")

	assert.InDelta(t, 35, StoredWater(60, 32), 2, "a steel panel at 60 degC boils off about 35 g/m2 by itself")
	hot := measure.Celsius(60)
	bonnet := leftDoor
	bonnet.Start = &hot
	assert.Less(t, coolShade.Dry(bonnet, SprayFilm).Window, 3*time.Minute, "a hot panel dries a film by itself")
	assert.Less(t, coolShade.Dry(bonnet, DrainedWater).Window, shade.Window/2)
}

func TestDewAndRainNeverDry(t *testing.T) {
	assert.True(t, Weather{Air: Air{10, 1}, Wind: 1}.Dry(leftDoor, DrainedWater).Endless)
	rainy := coolShade
	rainy.Rain = 2
	assert.True(t, rainy.Dry(leftDoor, DrainedWater).Endless)
	assert.False(t, rainy.Under(Indoors).Dry(leftDoor, SudsFilm).Endless)
}

// More sun, more wind in dry air, less humidity and a darker panel never lengthen the window.
func TestDryingMovesTheRightWay(t *testing.T) {
	rng := rand.New(rand.NewSource(1))
	for range 300 {
		w := Weather{Air: Air{measure.Celsius(5 + 30*rng.Float64()), 0.2 + 0.7*rng.Float64()}, Wind: 5 * rng.Float64(),
			Direct: 900 * rng.Float64(), Diffuse: 100, SunAltitude: 20 + 40*rng.Float64(), SunAzimuth: 270}
		p := leftDoor
		p.Shade = vehicle.Mid
		base := w.Dry(p, DrainedWater).Window
		sunnier, damper, darker := w, w, p
		sunnier.Direct += 100
		damper.RH += 0.1
		darker.Shade = vehicle.Dark
		assert.LessOrEqual(t, sunnier.Dry(p, DrainedWater).Window, base)
		assert.GreaterOrEqual(t, damper.Dry(p, DrainedWater).Window, base)
		assert.LessOrEqual(t, w.Dry(darker, DrainedWater).Window, base)
		assert.GreaterOrEqual(t, w.Under(InShade).Dry(p, DrainedWater).Window, base)
		hot := measure.Celsius(55)
		warm := p
		warm.Start = &hot
		assert.LessOrEqual(t, w.Dry(warm, DrainedWater).Window, base+time.Second)
	}
}

func TestSunFallsOnTheSideThatFacesIt(t *testing.T) {
	w := Weather{Direct: 800, Diffuse: 100, SunAltitude: 30, SunAzimuth: 180}
	assert.InDelta(t, 800*0.8660+50, w.SunOn(vehicle.FacesFront, 180), 0.1, "nose to the sun")
	assert.InDelta(t, 50, w.SunOn(vehicle.FacesRear, 180), 0.1)
	assert.InDelta(t, 800*0.8660+50, w.SunOn(vehicle.FacesRight, 90), 0.1, "nose east: the sun is on the right")
	assert.InDelta(t, 500, w.SunOn(vehicle.FacesUp, 0), 0.1)
}

// A sun that sinks in steps of a hundredth of a degree takes no panel's light by a jump, wherever the panel faces;
// below the horizon only sky is left.
func TestASinkingSunFades(t *testing.T) {
	for _, facing := range []vehicle.Facing{vehicle.FacesUp, vehicle.FacesFront, vehicle.FacesLeft} {
		w := Weather{Direct: 800, Diffuse: 100, SunAltitude: 2, SunAzimuth: 0}
		was := w.SunOn(facing, 0)
		for w.SunAltitude > -2 {
			w.SunAltitude -= 0.01
			now := w.SunOn(facing, 0)
			assert.InDelta(t, was, now, 20, "%s at %.2f", facing, w.SunAltitude)
			was = now
		}
	}
	set := Weather{Direct: 800, Diffuse: 100, SunAltitude: -2}
	assert.InDelta(t, 50, set.SunOn(vehicle.FacesFront, 0), 1e-9, "half the sky")
	assert.InDelta(t, 100, set.SunOn(vehicle.FacesUp, 0), 1e-9)
	half := Weather{Direct: 800}
	assert.InDelta(t, 400, half.SunOn(vehicle.FacesFront, 0), 1e-9, "half the disc is above the horizon")
}

// Residue: 300 mg/l in the 60 g/m2 that stay on an upright panel leave 18 mg/m2 (arithmetic).
func TestResidue(t *testing.T) { assert.InDelta(t, 18, Residue(300, 60), 1e-9) }

func TestImpossibleWeatherIsNamed(t *testing.T) {
	for says, w := range map[string]Weather{
		"air temperature": {Air: Air{80, 0.5}}, "relative humidity": {Air: Air{20, 1.5}},
		"wind": {Air: Air{20, 0.5}, Wind: -1}, "sun": {Air: Air{20, 0.5}, Direct: 5000},
	} {
		assert.ErrorContains(t, w.Check(), says)
	}
	assert.NoError(t, coolShade.Check())
}
