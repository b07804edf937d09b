package contact_test

import (
	"cmp"
	"fmt"

	"uskel/core/contact"
	"uskel/core/vehicle"
)

// A roof and a dirty sill: the sill comes last, and the mitt is turned when its first face is full.
func ExampleMake() {
	plan, err := contact.Make(contact.Mitt, contact.LacquerOf(vehicle.Vehicle{Shade: vehicle.Mid}, false), []contact.Patch{
		{Zone: vehicle.LowerLeft, Band: vehicle.Lower, Area: 0.6, Grade: 2, Grit: 300},
		{Zone: vehicle.Roof, Band: vehicle.Upper, Area: 1.8, Grade: 1, Grit: 40},
	}, false)
	if err != nil {
		panic(err)
	}
	for _, m := range plan.Moves {
		fmt.Println(cmp.Or(string(m.Zone), string(m.Kind)))
	}
	// Output:
	// roof
	// lower-left
	// flip
	// lower-left
}
