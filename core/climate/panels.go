package climate

import (
	"math"
	"time"

	"uskel/core/measure"
	"uskel/core/vehicle"
)

// DryingRow is how long a film lasts on one kind of panel.
type DryingRow struct {
	Panel   string          `json:"panel"`
	Cover   Cover           `json:"cover"`
	Water   measure.Seconds `json:"water" doc:"drained water stays wet, s"`
	Foam    measure.Seconds `json:"foam" doc:"foam stays wet, s"`
	Suds    measure.Seconds `json:"suds" doc:"what a mitt leaves stays wet, s"`
	Endless bool            `json:"endless" doc:"does not dry within two hours"`
	Surface float64         `json:"surface" doc:"degC of the wet surface"`
	Rate    float64         `json:"rate" doc:"g/m2 s that dry off"`
	Says    string          `json:"says" doc:"what it means for the work"`
}

// offTheRoad is how hot a bonnet is that has just been driven (common practice, no source).
const offTheRoad measure.Celsius = 60

// PanelsOf are the panels that a lead looks at before a wash: the worst and the best that a yard has.
func PanelsOf(w Weather) []DryingRow {
	hot := offTheRoad
	panel := func(f vehicle.Facing, shade vehicle.Shade) Panel {
		return Panel{Facing: f, Surface: vehicle.Paint, Shade: shade}
	}
	dark, sunny := panel(vehicle.FacesFront, vehicle.Dark), "Dark side, facing the sun"
	dark.Heading = w.SunAzimuth
	if w.SunAltitude <= 0 {
		sunny = "Dark side, sun is down"
	}
	bonnet := panel(vehicle.FacesUp, vehicle.Mid)
	bonnet.Start = &hot
	return []DryingRow{
		w.row(sunny, OpenSky, dark),
		w.row("White roof", OpenSky, panel(vehicle.FacesUp, vehicle.White)),
		w.row("Door in shade", InShade, panel(vehicle.FacesLeft, vehicle.Mid)),
		w.row("Door in the covered bay", Indoors, panel(vehicle.FacesLeft, vehicle.Mid)),
		w.row("Bonnet straight off the road, 60 °C", InShade, bonnet),
	}
}

func (w Weather) row(name string, cover Cover, p Panel) DryingRow {
	here := w.Under(cover)
	water, foam, suds := here.Dry(p, DrainedWater), here.Dry(p, FoamFilm), here.Dry(p, SudsFilm)
	return DryingRow{
		Panel: name, Cover: cover,
		Water: measure.SecondsOf(water.Window), Foam: measure.SecondsOf(foam.Window), Suds: measure.SecondsOf(suds.Window),
		Endless: water.Endless, Surface: math.Round(float64(water.Surface)*10) / 10, Rate: math.Round(water.Rate*1000) / 1000,
		Says: meaning(suds.Window, suds.Endless),
	}
}

// meaning puts a suds window into what it means for the work (docs/trade.md, section 4; the bounds are the model's).
func meaning(suds time.Duration, endless bool) string {
	switch {
	case endless:
		return "Nothing dries: take your time."
	case suds < 2*time.Minute:
		return "One panel at a time, rinse at once."
	case suds < 5*time.Minute:
		return "One or two panels, then rinse."
	case suds < 10*time.Minute:
		return "About four panels may wait."
	}
	return "Half a car may wait."
}
