package measure

import "math"

// Tenths is a number rounded to one place.
func Tenths(x float64) float64 { return math.Round(x*10) / 10 }

// Hundredths is a number rounded to two places.
func Hundredths(x float64) float64 { return math.Round(x*100) / 100 }
