package condition_test

import (
	"fmt"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/vehicle"
)

// The worst painted zone decides, not the average; nothing is said before all are graded.
func ExampleAssess() {
	car := vehicle.Vehicle{Body: vehicle.Hatch}
	grades := map[vehicle.Zone]contact.Grade{vehicle.Roof: 1}
	fmt.Println(condition.Assess(car, condition.LookOver{Grades: grades}, nil).Looked())
	for _, p := range car.Body.Parts() {
		grades[p.Zone] = 1
	}
	grades[vehicle.LowerLeft] = 3
	a := condition.Assess(car, condition.LookOver{Grades: grades}, nil)
	fmt.Println(a.Looked(), a.Overall, a.Driver.Label())
	// Output:
	// false
	// true 3 lower doors and sill, left
}
