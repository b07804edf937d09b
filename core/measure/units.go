package measure

// Conversion factors to SI. All are exact by definition except where a digit count is given.
// Source: NIST Special Publication 811 (2008), Appendix B.
const (
	litresPerUSGallon       = 3.785411784
	litresPerImperialGallon = 4.54609
	kilopascalsPerPSI       = 6.894757 // seven digits in SP 811
	// mgPerLitrePerGrainUSGal is one grain (64.79891 mg, exact) in one US gallon.
	mgPerLitrePerGrainUSGal = 64.79891 / litresPerUSGallon
)

// System is the set of units a shop reads. The core computes in SI whatever is shown.
type System string

// The systems a shop can choose.
const (
	Metric System = "metric"
	US     System = "us"
)

// Values lists the systems.
func (System) Values() []string { return []string{string(Metric), string(US)} }

// Celsius is a temperature in degrees Celsius.
type Celsius float64

// absoluteZero in degrees Celsius (SP 811, exact).
const absoluteZero Celsius = -273.15

// Kelvin gives the thermodynamic temperature.
func (c Celsius) Kelvin() float64 { return float64(c - absoluteZero) }

// Fahrenheit gives degrees Fahrenheit (SP 811, exact).
func (c Celsius) Fahrenheit() float64 { return float64(c)*1.8 + 32 }

// KilopascalsFromPSI converts a pressure in pounds-force per square inch.
func KilopascalsFromPSI(psi float64) float64 { return psi * kilopascalsPerPSI }

// Hardness is water hardness in mg/l expressed as calcium carbonate.
type Hardness float64

// Class names the hardness as the U.S. Geological Survey does: soft 0 to 60 mg/l, moderately hard 61
// to 120, hard 121 to 180, very hard above.
func (h Hardness) Class() string {
	switch {
	case h <= 60:
		return "soft"
	case h <= 120:
		return "moderately hard"
	case h <= 180:
		return "hard"
	}
	return "very hard"
}

// Money is an amount in the minor unit of the shop's currency (cents, pence).
type Money int64
