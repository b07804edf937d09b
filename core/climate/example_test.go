package climate_test

import (
	"fmt"

	"uskel/core/climate"
	"uskel/core/vehicle"
)

// Foam on the sunny side of a dark car, and the same indoors.
func ExampleWeather_Dry() {
	noon := climate.Weather{Air: climate.Air{Temp: 24, RH: 0.45}, Wind: 3, Direct: 800, Diffuse: 120,
		SunAltitude: 45, SunAzimuth: 180}
	left := climate.Panel{Facing: vehicle.FacesLeft, Surface: vehicle.Paint, Shade: vehicle.Dark, Heading: 270}
	sun := noon.Dry(left, climate.FoamFilm)
	roofed := noon.Under(climate.Indoors).Dry(left, climate.FoamFilm)
	fmt.Println("dries sooner in the sun:", sun.Window < roofed.Window/4)
	fmt.Printf("the wet panel has %.0f °C in the sun, %.0f indoors\n", sun.Surface, roofed.Surface)
	// Output:
	// dries sooner in the sun: true
	// the wet panel has 25 °C in the sun, 17 indoors
}
