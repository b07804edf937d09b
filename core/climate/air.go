// Package climate works out what weather and water do to a wet panel: moist air, the drying window,
// the residue that dried water leaves.
package climate

import (
	"math"

	"uskel/core/measure"
	"uskel/core/wrong"
)

const (
	standardPressure   = 101_325.0 // Pa, sea level
	gasConstantVapour  = 461.5     // J/kgK
	molarMassRatio     = 0.621945  // water to dry air, ASHRAE Fundamentals
	stefanBoltzmann    = 5.670374e-8
	airHeatCapacity    = 1006.0 // J/kgK
	gasConstantDryAir  = 287.05 // J/kgK
	lewisNumber        = 0.865  // water vapour in air near 20 degC, heat-transfer handbooks
	wettedEmissivity   = 0.95   // thin water film on lacquer
	latentHeatAtZero   = 2.501e6
	latentHeatPerKelv  = 2361.0
	coldestConsidered  = -60.0
	hottestConsidered  = 99.0
	bisectionTolerance = 1e-4 // K
)

// Air is moist air at sea level.
type Air struct {
	Temp measure.Celsius `json:"temp" minimum:"-40" maximum:"60" doc:"Air temperature, degC"`
	RH   float64         `json:"rh" minimum:"0" maximum:"1" doc:"Relative humidity, 0 to 1"`
}

// Check says whether the air is within what the formulas hold for.
func (a Air) Check() error {
	if !(a.Temp >= -40 && a.Temp <= 60) {
		return wrong.At("temp", "air temperature %g degC: between -40 and 60", float64(a.Temp))
	}
	if !(a.RH >= 0 && a.RH <= 1) {
		return wrong.At("rh", "relative humidity %g: between 0 and 1", a.RH)
	}
	return nil
}

// SaturationPressure is the vapour pressure in Pa over water (over ice below 0 degC).
// Source: Hyland and Wexler (1983), as printed in ASHRAE Fundamentals, psychrometrics chapter.
func SaturationPressure(t measure.Celsius) float64 {
	k := t.Kelvin()
	if t < 0 {
		powers := k * (-9.677843e-3 + k*(6.2215701e-7+k*(2.0747825e-9-k*9.484024e-13)))
		return math.Exp(-5.6745359e3/k + 6.3925247 + powers + 4.1635019*math.Log(k))
	}
	powers := k * (-4.8640239e-2 + k*(4.1764768e-5-k*1.4452093e-8))
	return math.Exp(-5.8002206e3/k + 1.3914993 + powers + 6.5459673*math.Log(k))
}

// VapourPressure is the partial pressure of water vapour in Pa.
func (a Air) VapourPressure() float64 { return a.RH * SaturationPressure(a.Temp) }

// AbsoluteHumidity is the vapour density in kg/m3.
func (a Air) AbsoluteHumidity() float64 { return vapourDensity(a.VapourPressure(), a.Temp) }

func vapourDensity(pressure float64, t measure.Celsius) float64 {
	return pressure / (gasConstantVapour * t.Kelvin())
}

// DewPoint is the temperature at which the air is saturated; colder panels grow dew. Perfectly dry
// air has none and gives the coldest temperature considered.
func (a Air) DewPoint() measure.Celsius {
	return bisect(
		float64(a.Temp),
		func(t measure.Celsius) float64 { return a.VapourPressure() - SaturationPressure(t) },
	)
}

// WetBulb is the temperature of a wetted thermometer in a draught.
// Source: ASHRAE Fundamentals, psychrometrics chapter, equations for water and ice.
func (a Air) WetBulb() measure.Celsius {
	w := humidityRatio(a.VapourPressure())
	return bisect(float64(a.Temp), func(tw measure.Celsius) float64 {
		ws, t, b := humidityRatio(SaturationPressure(tw)), float64(a.Temp), float64(tw)
		if b < 0 {
			return w - ((2830-0.24*b)*ws-1.006*(t-b))/(2830+1.86*t-2.1*b)
		}
		return w - ((2501-2.326*b)*ws-1.006*(t-b))/(2501+1.86*t-4.186*b)
	})
}

func humidityRatio(pressure float64) float64 {
	return molarMassRatio * pressure / (standardPressure - pressure)
}

// bisect finds where a falling function of temperature crosses zero, at or below top.
func bisect(top float64, f func(measure.Celsius) float64) measure.Celsius {
	low, high := coldestConsidered, top
	for high-low > bisectionTolerance {
		mid := (low + high) / 2
		if f(measure.Celsius(mid)) > 0 {
			low = mid
		} else {
			high = mid
		}
	}
	return measure.Celsius((low + high) / 2)
}
