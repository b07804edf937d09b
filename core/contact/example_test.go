package contact_test

import (
	"cmp"
	"fmt"

	"uskel/core/contact"
	"uskel/core/vehicle"
)

// A roof and a dirty sill: the sill comes last, after a rinse, and both faces of the mitt do half of each.
func ExampleMake() {
	plan, err := contact.Make(contact.Mitt, contact.LacquerOf(vehicle.Vehicle{Shade: vehicle.Mid}, false, contact.NoShield), []contact.Patch{
		{Zone: vehicle.LowerLeft, Band: vehicle.Lower, Area: 0.6, Grade: 2, Grit: 300},
		{Zone: vehicle.Roof, Band: vehicle.Upper, Area: 1.8, Grade: 1, Grit: 40},
	}, false, contact.DefaultAim)
	if err != nil {
		panic(err)
	}
	for _, m := range plan.Moves {
		fmt.Println(cmp.Or(string(m.Zone), string(m.Kind)))
	}
	// Output:
	// roof
	// flip
	// roof
	// rub on the guard
	// reload
	// lower-left
	// flip
	// lower-left
}
