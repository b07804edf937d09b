package audit_test

import (
	"fmt"

	"uskel/core/audit"
)

// Whoever washed a vehicle does not audit it.
func ExampleMayAudit() {
	fmt.Println(audit.MayAudit("osk", []string{"osk", "brenn"}))
	fmt.Println(audit.MayAudit("iva", []string{"osk", "brenn"}))
	// Output:
	// whoever washed it does not audit it: ask someone else to walk round
	// <nil>
}
