package procedure

import (
	"errors"
	"fmt"
	"math/big"

	"uskel/core/measure"
)

// CountUnit is what a dose is counted in where its label names no ratio.
type CountUnit string

// The units. A cap and a pump hold what the product's own cap or pump holds, which is measured once (docs/trade.md, section 19).
const (
	ByMl      CountUnit = "ml"
	ByFlOunce CountUnit = "US fl oz"
	ByCap     CountUnit = "cap"
	ByPump    CountUnit = "pump"
)

// Values lists the units.
func (CountUnit) Values() []string {
	return []string{string(ByMl), string(ByFlOunce), string(ByCap), string(ByPump)}
}

// Counted is an amount of product as it is counted into a vessel: 3 pumps of 4 ml.
type Counted struct {
	Count float64        `json:"count" minimum:"0" maximum:"20000"`
	Unit  CountUnit      `json:"unit"`
	Each  measure.Volume `json:"each,omitzero" doc:"ml that one cap or pump holds"`
}

// Amount is how much product that is.
func (c Counted) Amount() (measure.Volume, error) {
	switch c.Unit {
	case ByMl:
		return measure.NewVolume(c.Count, measure.Millilitre)
	case ByFlOunce:
		return measure.NewVolume(c.Count, measure.USFluidOunce)
	case ByCap, ByPump:
		return measure.NewVolume(c.Count*c.Each.Ml(), measure.Millilitre)
	}
	return measure.Volume{}, fmt.Errorf("unit %q: use one of %q", c.Unit, CountUnit("").Values())
}

// Check says what is wrong with the amount, naming its field.
func (c Counted) Check() error {
	if !(c.Count > 0) {
		return errors.New("count: how many, above zero")
	}
	if (c.Unit == ByCap || c.Unit == ByPump) && c.Each.IsZero() {
		return fmt.Errorf("each: how many ml a %s holds; measure it once", c.Unit)
	}
	_, err := c.Amount()
	return err
}

// String is the amount as people count it.
func (c Counted) String() string {
	switch c.Unit {
	case ByCap, ByPump:
		s := ""
		if c.Count != 1 {
			s = "s"
		}
		return fmt.Sprintf("%g %s%s of %.3g ml", c.Count, c.Unit, s, c.Each.Ml())
	}
	return fmt.Sprintf("%g %s", c.Count, c.Unit)
}

// ratio is the dilution that an amount comes to in a vessel, to a ten thousandth.
func (c Counted) ratio(fill measure.Volume, byWater bool) (measure.Ratio, error) {
	product, err := c.Amount()
	if err != nil {
		return measure.Ratio{}, err
	}
	water := fill
	if !byWater {
		if water, err = fill.Sub(product); err != nil {
			return measure.Ratio{}, fmt.Errorf("%s does not fit into %.0f ml", c, fill.Ml())
		}
	}
	if product.IsZero() || water.IsZero() {
		return measure.Ratio{}, fmt.Errorf("%s in %.0f ml is no mix", c, fill.Ml())
	}
	share := new(big.Rat).Quo(rat(product), rat(water))
	const fine = 1_000_000 // parts of water, at most
	first := new(big.Rat).Mul(share, big.NewRat(fine, 1))
	parts := new(big.Int).Quo(new(big.Int).Add(new(big.Int).Mul(first.Num(), big.NewInt(2)), first.Denom()),
		new(big.Int).Mul(first.Denom(), big.NewInt(2)))
	return measure.NewRatio(max(1, parts.Int64()), fine, measure.PartsPlusParts)
}

func rat(v measure.Volume) *big.Rat { return new(big.Rat).SetFloat64(v.Ml()) }

// Says is how strong a dose is: as it is counted, or its ratio.
func (d Dose) Says() string {
	if d.Counted != nil {
		return d.Counted.String()
	}
	return d.Ratio.In(measure.PartsPlusParts)
}

// Extra is a further product in the vessel of a step's dose.
type Extra struct {
	Class   ProductClass `json:"class"`
	Product string       `json:"product,omitempty" doc:"Id of a product on the shelf, where not any of its class will do"`
	Counted Counted      `json:"counted"`
}
