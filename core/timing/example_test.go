package timing_test

import (
	"fmt"

	"uskel/core/timing"
)

// A standard by area and grade grows with the car; one by a factor keeps to what the procedure says.
func ExampleStandard_Minutes() {
	fitted := timing.Standard{Step: "dry", Form: timing.Fitted, Fixed: 2, PerM2: 0.5, PerGrade: 0.4}
	factored := timing.Standard{Step: "dry", Form: timing.Factored, Factor: 1.2}
	fmt.Println(fitted.Minutes(10, 16, 2), factored.Minutes(10, 16, 2), timing.Written("dry").Minutes(10, 16, 2))
	// Output: 10.8 12 10
}
