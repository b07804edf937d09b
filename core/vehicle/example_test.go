package vehicle_test

import (
	"fmt"

	"uskel/core/vehicle"
)

// Areas grow with the body; zones keep their names.
func ExampleBody_AreaOf() {
	top := []vehicle.Zone{vehicle.Roof, vehicle.Bonnet}
	fmt.Println(vehicle.ListLabels(top))
	fmt.Println("larger on a van:", vehicle.Van.AreaOf(top) > vehicle.Hatch.AreaOf(top))
	// Output:
	// roof, bonnet
	// larger on a van: true
}
