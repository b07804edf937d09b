package procedure_test

import (
	"fmt"

	"uskel/core/condition"
	"uskel/core/procedure"
)

// A rule holds of a vehicle's facts, and says itself in a sentence.
func ExampleRule() {
	rule := procedure.All(procedure.Max(condition.GradeOverall, 2), procedure.Not(procedure.Be(condition.CoverHere, "open sky")))
	fmt.Println(rule.Sentence())
	// Output:
	// the overall grade is at most 2 and not (the cover is open sky)
}
