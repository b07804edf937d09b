package stats_test

import (
	"fmt"

	"uskel/core/stats"
)

// The minutes in which four washes of five are done.
func ExampleQuantile() {
	fmt.Println(stats.Quantile(0.8, []float64{38, 40, 41, 43, 44, 46, 47, 49, 52, 60}))
	// Output:
	// 49.6
}
