package measure_test

import (
	"fmt"
	"time"

	"uskel/core/measure"
)

// The same strength, read three ways: the label says which one it means.
func ExampleRatio() {
	r, err := measure.NewRatio(1, 10, measure.PartsPlusParts)
	if err != nil {
		panic(err)
	}
	product, water := r.ForTotal(measure.Ml(1100))
	fmt.Println(product.Ml(), "ml of product,", water.Ml(), "ml of water")
	fmt.Println(r.In(measure.OnePartIn), "is the same")
	// Output:
	// 100 ml of product, 1000 ml of water
	// 1 in 11 is the same
}

// A span is said as people say it.
func ExampleSeconds() {
	fmt.Println(measure.SecondsOf(330*time.Second), "or", 90*measure.Minute, "or", 125*measure.Minute)
	// Output: 5 min 30 s or 90 min or 2 h 5 min
}
