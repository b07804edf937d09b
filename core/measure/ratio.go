package measure

import (
	"encoding/json"
	"fmt"
	"math"
	"math/big"
	"strconv"
)

// Reading is how the two numbers of a dilution are meant. The same "1 to 10" is 9.1 % in one reading
// and 10 % in another, which is the trade's commonest mixing error (docs/trade.md, section 7).
type Reading string

// The three readings in use.
const (
	PartsPlusParts Reading = "parts plus parts" // 1:10 is 1 part product and 10 parts water
	OnePartIn      Reading = "one part in"      // 1:10 is 1 part product in 10 parts of mix
	WaterFirst     Reading = "water first"      // 10:1 is 10 parts water and 1 part product
)

// Values lists the readings.
func (Reading) Values() []string {
	return []string{string(PartsPlusParts), string(OnePartIn), string(WaterFirst)}
}

// Ratio is a dilution: parts product and parts water, both above zero, in lowest terms. The zero
// Ratio is not a dilution; neat use is the absence of one.
type Ratio struct{ product, water int64 }

// maxParts keeps every product of two parts inside an int64.
const maxParts = 1_000_000_000

// NewRatio builds a ratio from the two numbers as printed and the reading that says what they mean.
func NewRatio(first, second int64, reading Reading) (Ratio, error) {
	if first <= 0 || second <= 0 {
		return Ratio{}, fmt.Errorf(
			"ratio %d:%d: both numbers must be above zero; for undiluted use choose neat",
			first,
			second,
		)
	}
	if first > maxParts || second > maxParts {
		return Ratio{}, fmt.Errorf("ratio %d:%d: each number must be at most %d", first, second, maxParts)
	}
	switch reading {
	case PartsPlusParts:
		return reduced(first, second), nil
	case WaterFirst:
		return reduced(second, first), nil
	case OnePartIn:
		if second <= first {
			return Ratio{}, fmt.Errorf(
				"%d part in %d of mix leaves no water: the second number must be larger",
				first,
				second,
			)
		}
		return reduced(first, second-first), nil
	case "":
		return Ratio{}, fmt.Errorf(
			"ratio %d:%d: say how the label reads it: parts plus parts, one part in, or water first",
			first,
			second,
		)
	}
	return Ratio{}, fmt.Errorf("reading %q: use parts plus parts, one part in, or water first", reading)
}

// RatioMade says what was really mixed from the amounts poured.
func RatioMade(product, water Volume) (Ratio, error) {
	if product.IsZero() || water.IsZero() {
		return Ratio{}, fmt.Errorf("product %g ml, water %g ml: both must be above zero", product.Ml(), water.Ml())
	}
	return reduced(product.tenthPicolitres, water.tenthPicolitres), nil
}

func reduced(p, w int64) Ratio {
	g := new(big.Int).GCD(nil, nil, big.NewInt(p), big.NewInt(w)).Int64()
	return Ratio{p / g, w / g}
}

// IsZero reports whether the ratio was never set.
func (r Ratio) IsZero() bool { return r.product == 0 }

// Share is the product's exact share of the mix, above 0 and below 1.
func (r Ratio) Share() *big.Rat {
	mix := new(big.Int).Add(big.NewInt(r.product), big.NewInt(r.water))
	return new(big.Rat).SetFrac(big.NewInt(r.product), mix)
}

// Percent is the product's share of the mix in percent.
func (r Ratio) Percent() float64 {
	f, _ := new(big.Rat).Mul(r.Share(), big.NewRat(100, 1)).Float64()
	return f
}

// ForTotal splits a vessel's contents into product and water.
func (r Ratio) ForTotal(mix Volume) (product, water Volume) {
	product = mix.times(r.Share())
	return product, Volume{mix.tenthPicolitres - product.tenthPicolitres}
}

// ForWater is the product to add to an amount of water already measured.
func (r Ratio) ForWater(water Volume) Volume { return water.times(big.NewRat(r.product, r.water)) }

// In writes the ratio's two numbers under a reading, as a label would print them.
func (r Ratio) In(reading Reading) string {
	p, w := r.product, r.water
	if p != 1 && float64(w)/float64(p) >= 1 { // labels print "one to something"
		return r.inOnes(reading)
	}
	switch reading {
	case OnePartIn:
		return fmt.Sprintf("%d in %d", p, p+w)
	case WaterFirst:
		return fmt.Sprintf("%d:%d", w, p)
	}
	return fmt.Sprintf("%d + %d", p, w)
}

func (r Ratio) inOnes(reading Reading) string {
	w := float64(r.water) / float64(r.product)
	switch reading {
	case OnePartIn:
		return "1 in " + short(1+w)
	case WaterFirst:
		return short(w) + ":1"
	}
	return "1 + " + short(w)
}

// short writes at most two decimals and no trailing noughts.
func short(f float64) string {
	return strconv.FormatFloat(math.Round(f*100)/100, 'f', -1, 64)
}

// Readings is a ratio written in every way at once, so that nobody has to guess.
type Readings struct {
	PartsPlusParts string  `json:"partsPlusParts" doc:"Parts product + parts water" example:"1 + 9"`
	OnePartIn      string  `json:"onePartIn" doc:"Parts product in parts of mix" example:"1 in 10"`
	WaterFirst     string  `json:"waterFirst" doc:"Parts water to parts product" example:"9:1"`
	Percent        float64 `json:"percent" doc:"Product's share of the mix, percent"`
}

// As is the ratio as one of its readings prints it.
func (r Readings) As(reading Reading) string {
	switch reading {
	case OnePartIn:
		return r.OnePartIn
	case WaterFirst:
		return r.WaterFirst
	}
	return r.PartsPlusParts
}

// Readings writes the ratio in all readings.
func (r Ratio) Readings() Readings {
	return Readings{r.In(PartsPlusParts), r.In(OnePartIn), r.In(WaterFirst), r.Percent()}
}

type ratioJSON struct {
	Product int64 `json:"product"`
	Water   int64 `json:"water"`
}

// MarshalJSON writes {"product":1,"water":9}, which has one reading only.
func (r Ratio) MarshalJSON() ([]byte, error) { return json.Marshal(ratioJSON{r.product, r.water}) }

// UnmarshalJSON reads {"product":1,"water":9}.
func (r *Ratio) UnmarshalJSON(b []byte) error {
	var j ratioJSON
	if err := json.Unmarshal(b, &j); err != nil {
		return fmt.Errorf(`ratio: write {"product":1,"water":9}: %w`, err)
	}
	parsed, err := NewRatio(j.Product, j.Water, PartsPlusParts)
	if err == nil {
		*r = parsed
	}
	return err
}
