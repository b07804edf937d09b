// Package measure holds the quantities of the wash bench: volumes, ratios and how they are read,
// temperatures, hardness. Volumes and ratios are exact: a US fluid ounce, a litre and an imperial
// gallon are all whole numbers of the unit kept inside.
package measure

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/big"
)

// Volume is an amount of liquid, zero or more, exact to 0.1 pl. That odd unit is the largest of which
// the millilitre, the US fluid ounce (29.5735295625 ml) and the imperial fluid ounce (28.4130625 ml)
// are all whole multiples; the range is 0 to about 920,000 l.
type Volume struct{ tenthPicolitres int64 }

// VolumeUnit is a unit a volume can be given in.
type VolumeUnit string

// The units of NIST SP 811 that the trade uses.
const (
	Millilitre        VolumeUnit = "ml"
	Litre             VolumeUnit = "l"
	USFluidOunce      VolumeUnit = "US fl oz"
	USGallon          VolumeUnit = "US gal"
	ImperialFluidOz   VolumeUnit = "imp fl oz"
	ImperialGallon    VolumeUnit = "imp gal"
	unitsPerMl                   = 10_000_000_000
	unitsPerUSFlOz               = 295_735_295_625
	unitsPerImpFlOz              = 284_130_625_000
	flOzPerUSGallon              = 128
	flOzPerImpGallon             = 160
	millilitresPerLit            = 1000
)

var unitSize = map[VolumeUnit]int64{
	Millilitre:      unitsPerMl,
	Litre:           unitsPerMl * millilitresPerLit,
	USFluidOunce:    unitsPerUSFlOz,
	USGallon:        unitsPerUSFlOz * flOzPerUSGallon,
	ImperialFluidOz: unitsPerImpFlOz,
	ImperialGallon:  unitsPerImpFlOz * flOzPerImpGallon,
}

// NewVolume builds a volume from an amount in a unit. It refuses amounts that are negative, not
// finite or beyond the range, and units it does not know.
func NewVolume(amount float64, unit VolumeUnit) (Volume, error) {
	size, known := unitSize[unit]
	if !known {
		return Volume{}, fmt.Errorf("unit %q: use ml, l, US fl oz, US gal, imp fl oz or imp gal", unit)
	}
	if math.IsNaN(amount) || amount < 0 {
		return Volume{}, fmt.Errorf("volume %g %s: must be zero or more", amount, unit)
	}
	scaled := new(big.Rat).Mul(ratFromFloat(amount), new(big.Rat).SetInt64(size))
	if scaled == nil || scaled.Cmp(new(big.Rat).SetInt64(math.MaxInt64)) > 0 {
		return Volume{}, fmt.Errorf("volume %g %s: more than the 900,000 l this can hold", amount, unit)
	}
	return volumeFromRat(scaled), nil
}

// Ml builds a volume from whole millilitres known to be in range; it panics on a negative count and
// is meant for constants.
func Ml(n int64) Volume {
	if n < 0 || n > math.MaxInt64/unitsPerMl {
		panic("measure.Ml: out of range")
	}
	return Volume{n * unitsPerMl}
}

// In gives the amount in a unit.
func (v Volume) In(unit VolumeUnit) float64 {
	return float64(v.tenthPicolitres) / float64(unitSize[unit])
}

// Ml gives the amount in millilitres.
func (v Volume) Ml() float64 { return v.In(Millilitre) }

// IsZero reports whether there is nothing.
func (v Volume) IsZero() bool { return v.tenthPicolitres == 0 }

// Add sums two volumes.
func (v Volume) Add(o Volume) Volume { return Volume{v.tenthPicolitres + o.tenthPicolitres} }

// Sub takes o from v, or says that there is not so much.
func (v Volume) Sub(o Volume) (Volume, error) {
	if o.tenthPicolitres > v.tenthPicolitres {
		return Volume{}, fmt.Errorf("cannot take %.1f ml from %.1f ml", o.Ml(), v.Ml())
	}
	return Volume{v.tenthPicolitres - o.tenthPicolitres}, nil
}

func (v Volume) times(r *big.Rat) Volume {
	return volumeFromRat(new(big.Rat).Mul(new(big.Rat).SetInt64(v.tenthPicolitres), r))
}

// MarshalJSON writes millilitres.
func (v Volume) MarshalJSON() ([]byte, error) { return json.Marshal(v.Ml()) }

// UnmarshalJSON reads millilitres.
func (v *Volume) UnmarshalJSON(b []byte) error {
	var ml float64
	if err := json.Unmarshal(b, &ml); err != nil {
		return errors.New("volume: give millilitres as a number")
	}
	parsed, err := NewVolume(ml, Millilitre)
	if err == nil {
		*v = parsed
	}
	return err
}

// ratFromFloat reads the float as the decimal a person typed (0.1 is one tenth), not as its binary
// neighbour.
func ratFromFloat(f float64) *big.Rat {
	r, ok := new(big.Rat).SetString(fmt.Sprint(f))
	if !ok {
		return new(big.Rat).SetInt64(math.MaxInt64) // infinite: beyond every range
	}
	return r
}

// volumeFromRat rounds half up to the kept unit.
func volumeFromRat(r *big.Rat) Volume {
	twice := new(big.Rat).Add(new(big.Rat).Mul(r, big.NewRat(2, 1)), big.NewRat(1, 1))
	den := new(big.Int).Mul(twice.Denom(), big.NewInt(2))
	return Volume{new(big.Int).Quo(twice.Num(), den).Int64()}
}
