package measure

import (
	"errors"
	"fmt"
	"math"
	"math/big"
	"strconv"
	"time"
)

// The strengths past which a mix is asked about (model): stronger than one to one is next to neat, and nothing that
// washes a car by hand works thinner than one in two thousand. A mix that is three times as strong as its label says,
// or a third, is more than somebody's taste.
const (
	neat      = 0.5
	nothing   = 1.0 / 2000
	tasteSpan = 3.0
)

// Doubt asks about a strength that is probably a slip; nothing when it may be meant. The label is the product's own
// ratio, nil when the product is not known.
func (r Ratio) Doubt(label *Ratio) string {
	share, _ := r.Share().Float64()
	if label != nil {
		printed, _ := label.Share().Float64()
		switch times := share / printed; {
		case times >= tasteSpan:
			return fmt.Sprintf("That is %s times as strong as its label says. Is it meant?", short1(times))
		case times <= 1/tasteSpan:
			return fmt.Sprintf("That is %s times as weak as its label says. Is it meant?", short1(1/times))
		}
		return ""
	}
	switch {
	case share > neat:
		return "That is more product than water. Are the two numbers the right way round?"
	case share < nothing:
		return "That is hardly any product. Are the two numbers right?"
	}
	return ""
}

// short1 writes a number of times to one decimal, and without it from ten on.
func short1(f float64) string {
	if f >= 10 {
		return fmt.Sprintf("%.0f", f)
	}
	return short(math.Round(f*10) / 10)
}

// OnPanel is what lands on the paint from a foam sprayer: the bottle is drawn through a stream of water, so the
// product in the bottle is spread over all the water through the nozzle while the bottle empties, and the bottle's
// own (docs/trade.md, section 7). Flow is in l/min.
func OnPanel(product, water Volume, flow float64, emptying time.Duration) (Ratio, error) {
	if !(flow > 0 && flow <= 100) {
		return Ratio{}, fmt.Errorf("flow %g l/min: above 0 and at most 100", flow)
	}
	if emptying <= 0 || emptying > time.Hour {
		return Ratio{}, fmt.Errorf("emptying time %s: above 0 and at most an hour", emptying)
	}
	stream, err := NewVolume(flow*emptying.Minutes(), Litre)
	if err != nil {
		return Ratio{}, err
	}
	return RatioMade(product, stream.Add(water))
}

// Restrength is how to turn a mix into another strength: product or water to add, or, in a vessel that is full, how
// much to pour out first.
type Restrength struct {
	Product Volume `json:"product" doc:"ml of product to add"`
	Water   Volume `json:"water" doc:"ml of water to add"`
	PourOut Volume `json:"pourOut" doc:"ml of the mix to pour out first, so that the vessel holds it"`
	Makes   Volume `json:"makes" doc:"ml of mix at the end"`
}

// FromTo says how an amount of one strength becomes another. A room of zero means that there is always room;
// otherwise the vessel holds no more than that in all. Exact: strengths are rational.
func FromTo(have Ratio, amount Volume, want Ratio, room Volume) (Restrength, error) {
	if have.IsZero() || want.IsZero() {
		return Restrength{}, errors.New("say both strengths: what it is and what it is to be")
	}
	if amount.IsZero() {
		return Restrength{}, errors.New("say how much mix there is")
	}
	if !room.IsZero() && room.tenthPicolitres < amount.tenthPicolitres {
		return Restrength{}, fmt.Errorf(
			"the vessel holds %.0f ml and cannot have %.0f ml in it",
			room.Ml(),
			amount.Ml(),
		)
	}
	one := big.NewRat(1, 1)
	is, wish := have.Share(), want.Share()
	var grow *big.Rat // added for each part of the mix that stays
	stronger := wish.Cmp(is) > 0
	if stronger {
		grow = new(big.Rat).Quo(new(big.Rat).Sub(wish, is), new(big.Rat).Sub(one, wish))
	} else {
		grow = new(big.Rat).Quo(new(big.Rat).Sub(is, wish), wish)
	}
	stays := amount
	if !room.IsZero() {
		if most := room.times(
			new(big.Rat).Inv(new(big.Rat).Add(one, grow)),
		); most.tenthPicolitres < amount.tenthPicolitres {
			stays = most
		}
	}
	added := stays.times(grow)
	r := Restrength{PourOut: Volume{amount.tenthPicolitres - stays.tenthPicolitres}, Makes: stays.Add(added)}
	if stronger {
		r.Product = added
	} else {
		r.Water = added
	}
	return r, nil
}

// HardnessUnit is a unit of water hardness.
type HardnessUnit string

// The units in use; each is so many mg/l of calcium carbonate. Grain per US gallon: docs/trade.md, section 15; the others
// from memory: German degree 17.848, French degree 10, English (Clark) degree 14.254, millimole per litre 100.09.
const (
	MgPerLitre    HardnessUnit = "mg/l CaCO3"
	GrainsUSGal   HardnessUnit = "grains per US gal"
	GermanDegree  HardnessUnit = "German degrees"
	FrenchDegree  HardnessUnit = "French degrees"
	EnglishDegree HardnessUnit = "English degrees"
	Millimole     HardnessUnit = "mmol/l"
)

var hardnessSize = map[HardnessUnit]float64{
	MgPerLitre:    1,
	GrainsUSGal:   mgPerLitrePerGrainUSGal,
	GermanDegree:  17.848,
	FrenchDegree:  10,
	EnglishDegree: 14.254,
	Millimole:     100.09,
}

// Values lists the units.
func (HardnessUnit) Values() []string {
	return []string{
		string(MgPerLitre),
		string(GrainsUSGal),
		string(GermanDegree),
		string(FrenchDegree),
		string(EnglishDegree),
		string(Millimole),
	}
}

// NewHardness builds a hardness from an amount in a unit.
func NewHardness(amount float64, unit HardnessUnit) (Hardness, error) {
	size, known := hardnessSize[unit]
	if !known {
		return 0, fmt.Errorf("unit %q: use one of %q", unit, unit.Values())
	}
	if !(amount >= 0 && amount*size <= 5000) {
		return 0, fmt.Errorf("hardness %g %s: between 0 and 5,000 mg/l", amount, unit)
	}
	return Hardness(amount * size), nil
}

// In gives the hardness in a unit.
func (h Hardness) In(unit HardnessUnit) float64 { return float64(h) / hardnessSize[unit] }

// WashesLeft is how many washes a deionising cartridge still does: its capacity in grams of dissolved solids, what
// has run through it, and what a wash takes. Solids are in mg/l.
func WashesLeft(capacity float64, used, aWash Volume, solids float64) (int, error) {
	if !(capacity > 0 && capacity < 1e9) || !(solids > 0 && solids < 1e9) || aWash.IsZero() {
		return 0, errors.New(
			"capacity, dissolved solids and water a wash must all be above zero, and amounts that there are",
		)
	}
	litre := func(v Volume) *big.Rat { return new(big.Rat).Quo(typed(v.Ml()), big.NewRat(1000, 1)) }
	takes, taken := new(big.Rat).Mul(typed(capacity), big.NewRat(1000, 1)), new(big.Rat).Mul(litre(used), typed(solids))
	left := new(big.Rat).Sub(takes, taken)
	washes := left.Quo(left, new(big.Rat).Mul(litre(aWash), typed(solids)))
	if washes.Sign() <= 0 {
		return 0, nil
	}
	whole := new(big.Int).Quo(washes.Num(), washes.Denom())
	if !whole.IsInt64() || whole.Int64() > math.MaxInt32 {
		return 0, errors.New("that is too many washes: check the capacity, the dissolved solids and the water per wash")
	}
	return int(whole.Int64()), nil
}

// typed is a number exactly as somebody typed it: 0.1 is a tenth, which no float is. A whole number of washes must
// not be one short for that.
func typed(x float64) *big.Rat {
	r, _ := new(big.Rat).SetString(strconv.FormatFloat(x, 'f', -1, 64))
	return r
}
