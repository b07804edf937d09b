package shop_test

import (
	"fmt"

	"uskel/core/shop"
)

// What a role may do, and why others may not.
func ExampleRole_May() {
	fmt.Println(shop.Washer.May(shop.SetStandards), shop.Lead.May(shop.SetStandards))
	// Output: false true
}

// A sign-in name is read as people type it.
func ExampleParseSignIn() {
	name, err := shop.ParseSignIn("  Maren ")
	fmt.Println(name, err)
	// Output: maren <nil>
}
