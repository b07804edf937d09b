package climate

import (
	"math"
	"time"

	"uskel/core/measure"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// Weather is what the station reads now.
type Weather struct {
	Air
	Wind        float64 `json:"wind" minimum:"0" maximum:"40" doc:"Wind at panel height, m/s"`
	Direct      float64 `json:"direct" minimum:"0" maximum:"1400" doc:"Direct sun at right angles to the beam, W/m2"`
	Diffuse     float64 `json:"diffuse" minimum:"0" maximum:"800" doc:"Sky light on level ground, W/m2"`
	SunAltitude float64 `json:"sunAltitude" minimum:"-90" maximum:"90" doc:"degrees above the horizon"`
	SunAzimuth  float64 `json:"sunAzimuth" minimum:"0" maximum:"360" doc:"degrees from north, eastward"`
	Rain        float64 `json:"rain" minimum:"0" doc:"mm/h"`
}

// Check names the reading that cannot be.
func (w Weather) Check() error {
	if err := w.Air.Check(); err != nil {
		return err
	}
	if !(w.Wind >= 0 && w.Wind <= 40) {
		return wrong.At("wind", "%g m/s: between 0 and 40", w.Wind)
	}
	if !(w.Direct >= 0 && w.Direct <= 1400 && w.Diffuse >= 0 && w.Diffuse <= 800) {
		return wrong.At("direct", "sun %g and sky %g W/m2: at most 1400 and 800", w.Direct, w.Diffuse)
	}
	return nil
}

// Cover is what stands between the car and the sky.
type Cover string

// The covers.
const (
	OpenSky Cover = "open sky"
	InShade Cover = "shade"
	Indoors Cover = "indoors"
)

// Values lists the covers.
func (Cover) Values() []string { return []string{string(OpenSky), string(InShade), string(Indoors)} }

// Under gives the weather at the car under a cover: shade stops the beam and half of the sky, a
// roofed bay most of the sky light, the rain and much of the wind (model).
func (w Weather) Under(c Cover) Weather {
	switch c {
	case InShade:
		w.Direct, w.Diffuse = 0, w.Diffuse*0.5
	case Indoors:
		w.Direct, w.Diffuse, w.Wind, w.Rain = 0, w.Diffuse*0.1, w.Wind*0.4, 0
	}
	return w
}

// WarmedTo is the same air warmed, or cooled, to a temperature: it holds the vapour that it held, as far as it can.
func (w Weather) WarmedTo(t measure.Celsius) Weather {
	w.Air = Air{t, math.Min(1, w.VapourPressure()/SaturationPressure(t))}
	return w
}

// SunOn is the sunlight in W/m2 on a surface facing one way, on a car whose nose points to heading
// (degrees from north). Upright surfaces see half the sky, by day and at dusk.
func (w Weather) SunOn(f vehicle.Facing, heading float64) float64 {
	beam := w.Direct * discAbove(w.SunAltitude)
	alt := math.Max(0, w.SunAltitude) * math.Pi / 180
	if f == vehicle.FacesUp {
		return beam*math.Sin(alt) + w.Diffuse
	}
	turn, upright := map[vehicle.Facing]float64{vehicle.FacesFront: 0, vehicle.FacesRight: 90, vehicle.FacesRear: 180,
		vehicle.FacesLeft: 270}[f]
	if !upright {
		return w.Diffuse / 2
	}
	away := (w.SunAzimuth - heading - turn) * math.Pi / 180
	return beam*math.Cos(alt)*math.Max(0, math.Cos(away)) + w.Diffuse/2
}

// sunRadius is half of what the sun's disc is wide, degrees (common astronomical value).
const sunRadius = 0.27

// discAbove is the share of the sun's disc that stands above the horizon: an upright panel's light fades while the
// sun sets, and does not jump.
func discAbove(altitude float64) float64 {
	x := math.Max(-1, math.Min(1, altitude/sunRadius))
	return 0.5 + (x*math.Sqrt(1-x*x)+math.Asin(x))/math.Pi // a circle's segment
}

// Film is the wet layer on a panel.
type Film string

// The films. Grams per square metre (model): drained water as in docs/models.md; foam after it has
// dripped and sprayed product lie thinner; a mitt leaves a smear of suds.
const (
	DrainedWater Film = "drained water"
	FoamFilm     Film = "foam"
	SprayFilm    Film = "sprayed product"
	SudsFilm     Film = "suds left by the mitt"
)

var filmGrams = map[Film]struct{ upright, flat float64 }{
	DrainedWater: {60, 120},
	FoamFilm:     {40, 60},
	SprayFilm:    {30, 40},
	SudsFilm:     {20, 20},
}

// Grams is the film's mass in g/m2 on a surface facing one way.
func (f Film) Grams(facing vehicle.Facing) float64 {
	if facing == vehicle.FacesUp {
		return filmGrams[f].flat
	}
	return filmGrams[f].upright
}

const (
	// usableShare of a film may evaporate before product or minerals begin to mark (model).
	usableShare = 0.6
	// panelHeat is the heat a steel body panel holds, J/m2K (model).
	panelHeat = 3000.0
	// windowCap is the longest window worth telling apart.
	windowCap = 2 * time.Hour
	timeStep  = 0.5 // s, of the warm-panel integration
)

// absorptance is the share of sunlight a surface takes up (model, common handbook values for paints).
var absorptance = map[vehicle.Shade]float64{
	vehicle.White:  0.25,
	vehicle.Silver: 0.4,
	vehicle.Mid:    0.7,
	vehicle.Dark:   0.9,
}

// glassAbsorptance is 0.15 of its own and what the cabin behind it adds (model).
const glassAbsorptance = 0.35

// Panel is a wet surface.
type Panel struct {
	Facing  vehicle.Facing
	Surface vehicle.Surface
	Shade   vehicle.Shade
	Heading float64          // where the car's nose points, degrees from north
	Start   *measure.Celsius // temperature of a panel that is hotter than its surroundings; nil when unknown
}

func (p Panel) absorbs() float64 {
	switch p.Surface {
	case vehicle.Glass:
		return glassAbsorptance
	case vehicle.Fabric, vehicle.Rubber, vehicle.Liner:
		return absorptance[vehicle.Dark]
	case vehicle.Rim, vehicle.Metal:
		return absorptance[vehicle.Silver]
	}
	return absorptance[p.Shade]
}

// balance is the net heat into the film, W/m2, and the evaporation in kg/m2s at surface temperature t.
func (w Weather) balance(p Panel, t measure.Celsius) (heat, evaporation float64) {
	ta, ts := w.Temp.Kelvin(), t.Kelvin()
	density := standardPressure / (gasConstantDryAir * ta)
	// Flat plate in wind below 5 m/s: hc = 5.7 + 3.8 v (McAdams); stronger wind is held at that line.
	hc := 5.7 + 3.8*w.Wind
	transfer := hc / (density * airHeatCapacity * math.Pow(lewisNumber, 2.0/3))
	evaporation = transfer * (vapourDensity(SaturationPressure(t), t) - w.AbsoluteHumidity())
	heat = p.absorbs()*w.SunOn(p.Facing, p.Heading) + hc*(ta-ts) +
		wettedEmissivity*stefanBoltzmann*(math.Pow(ta, 4)-math.Pow(ts, 4)) - latentHeat(t)*evaporation
	return heat, evaporation
}

func latentHeat(t measure.Celsius) float64 { return latentHeatAtZero - latentHeatPerKelv*float64(t) }

// Drying is the answer for one panel.
type Drying struct {
	Window  time.Duration   `json:"window" doc:"Until the usable share of the film is gone, ns"`
	Surface measure.Celsius `json:"surface" doc:"Temperature of the wet surface in balance, degC"`
	Rate    float64         `json:"rate" doc:"Evaporation in balance, g/m2s; below zero dew forms"`
	Endless bool            `json:"endless" doc:"Does not dry within two hours"`
}

// Dry computes how long a film stays wet enough, from a steady energy balance, and, on a panel hotter
// than that balance, from cooling down to it: the stored heat evaporates water first.
func (w Weather) Dry(p Panel, f Film) Drying {
	surface := bisect(hottestConsidered, func(t measure.Celsius) float64 { heat, _ := w.balance(p, t); return heat })
	_, rate := w.balance(p, surface)
	d := Drying{Surface: surface, Rate: rate * 1000, Window: windowCap}
	usable := usableShare * f.Grams(p.Facing) / 1000 // kg/m2
	elapsed := 0.0
	if p.Start != nil && *p.Start > surface {
		usable, elapsed = w.coolDown(p, *p.Start, surface, usable)
	}
	if rate > 0 {
		elapsed += usable / rate
	}
	d.Endless = w.Rain > 0 || rate <= 0 && usable > 0 || elapsed >= windowCap.Seconds()
	if !d.Endless {
		d.Window = time.Duration(elapsed * float64(time.Second)).Round(time.Second)
	}
	return d
}

// coolDown integrates the panel's heat until it is within half a degree of its balance or the film is used up.
func (w Weather) coolDown(p Panel, start, balanceAt measure.Celsius, usable float64) (left, seconds float64) {
	t := start
	for t > balanceAt+0.5 && usable > 0 && seconds < windowCap.Seconds() {
		heat, evaporation := w.balance(p, t)
		usable -= evaporation * timeStep
		t += measure.Celsius(heat / panelHeat * timeStep)
		seconds += timeStep
	}
	return math.Max(0, usable), seconds
}

// StoredWater is how much water in g/m2 a panel's own heat evaporates while it cools to a temperature.
func StoredWater(from, to measure.Celsius) float64 {
	return math.Max(0, panelHeat*float64(from-to)/latentHeat(to)*1000)
}

// Residue is what dried water leaves in mg/m2, from dissolved solids in mg/l and the film that is
// left to evaporate in g/m2.
func Residue(dissolved, film float64) float64 { return dissolved * film / 1000 }
