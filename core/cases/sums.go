package cases

import (
	"fmt"
	"math"

	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// The sums that people do by hand (docs/trade.md, section 19).

func twoReadings(d *dealer) bool {
	n := int64(among(d, []int{4, 9, 10}, []int{5, 20}, []int{3, 256}))
	reading := one(d, measure.PartsPlusParts, measure.OnePartIn, measure.WaterFirst)
	first, second := int64(1), n
	if reading == measure.WaterFirst {
		first, second = n, 1
	}
	vessel := int64(one(d, 500, 750, 1000, 1500, 2000))
	r, err := measure.NewRatio(first, second, reading)
	if err != nil {
		return false
	}
	product, _ := r.ForTotal(measure.Ml(vessel))
	d.was["n"], d.was["vessel"], d.was["in"] = float64(n), float64(vessel), map[bool]float64{true: 1}[reading == measure.OnePartIn]
	d.say("The label: %s", label(first, second, reading))
	d.say("The bottle is filled to %d ml in all", vessel)
	d.number("How much product?", "ml", product.Ml(), 0.03, 1)
	d.because("The three readings, "+trade,
		"%.4g ml. Parts plus parts and water first count the product on top; one part in counts it inside.", product.Ml())
	return true
}

func partFull(d *dealer) bool {
	strength := one(d, 200, 400, 500, 1000)
	litres := float64(among(d, []int{5, 10}, []int{8, 12}, []int{7, 13}))
	ml := litres * 1000 / float64(strength)
	d.was["strength"], d.was["litres"] = float64(strength), litres
	d.say("The shampoo: 1 part to %d parts of water", strength)
	d.say("There are %.0f l of water in the bucket", litres)
	d.number("How much shampoo?", "ml", ml, 0.05, 0.5)
	d.because("Sum", "%.0f ml / %d = %.3g ml. It is dosed on the water that is in, not on the bucket.", litres*1000, strength, ml)
	return true
}

func caps(d *dealer) bool {
	tool := one(d, "cap", "pump")
	each := among(d, []int{10, 20}, []int{4, 25}, []int{3, 15})
	count := 1 + d.rng.Intn(6)
	ml := each * count
	d.was["each"], d.was["ml"] = float64(each), float64(ml)
	d.say("The plan: %d ml of shampoo", ml)
	d.say("A %s holds %d ml", tool, each)
	d.number(fmt.Sprintf("How many %ss?", tool), tool+"s", float64(count), 0, 0.25)
	d.because("Sum", "%d / %d = %d.", ml, each, count)
	return true
}

func ounces(d *dealer) bool {
	n := among(d, []int{1, 2}, []int{3, 4}, []int{6, 16})
	v, err := measure.NewVolume(float64(n), measure.USFluidOunce)
	if err != nil {
		return false
	}
	d.was["n"] = float64(n)
	d.say("The label says %d US fl oz a bucket; the measure in hand has millilitres", n)
	d.number("How many ml?", "ml", v.Ml(), 0.05, 1)
	d.because("NIST Special Publication 811: 29.5735 ml", "%d x 29.6 = %.0f ml. A teaspoon is a sixth of an ounce.", n, v.Ml())
	return true
}

// bucketKg is what an empty bucket with its guard weighs, kg (model: a 20 l bucket of plastic).
const bucketKg = 1.0

func weight(d *dealer) bool {
	litres := 8 + d.rng.Intn(10)
	d.was["litres"] = float64(litres)
	d.say("A bucket with its guard weighs 1 kg; there are %d l of water in it", litres)
	d.number("What does it weigh?", "kg", float64(litres)+bucketKg, 0, 0.5)
	d.because("A litre of water weighs a kilogram",
		"%d kg: fill it where it will stand, lift with straight back, or carry two half full.", litres+1)
	return true
}

func towels(d *dealer) bool {
	body := one(d, vehicle.Hatch, vehicle.Saloon, vehicle.SportUtility)
	sheen := one(d, film.Beading, film.LyingFlat)
	holds := one(d, film.LargeTowel, film.WaffleTowel)
	blown := d.rng.Intn(2) == 0
	var sheets []film.Sheet
	for _, band := range []vehicle.Band{vehicle.Upper, vehicle.Middle, vehicle.Lower} {
		for _, p := range body.Parts() {
			if p.Band != band {
				continue
			}
			grams := film.AfterRinse(p, sheen)
			if blown {
				grams = film.Blown(grams, sheen)
			}
			sheets = append(sheets, film.Sheet{Zone: p.Zone, Area: p.Area, Grams: grams})
		}
	}
	drawn := film.DryWith(holds, 1, sheets)
	d.was["water"], d.was["holds"] = drawn.Water, holds
	wrings := drawn.Wringing
	full := math.Round(drawn.Water/100) / (holds / 100)
	if math.Abs(full-0.6) < 0.1 || (full > 0.6) != (wrings > 0) {
		return false // whether it has to be wrung may be seen either way
	}
	d.say("%s; water %s; %s", capital(string(body)), map[film.Sheen]string{film.Beading: "beads", film.LyingFlat: "lies flat"}[sheen],
		map[bool]string{true: "blown off first", false: "straight after the rinse"}[blown])
	d.say("%.1f l of water are on it; your one towel holds %.1f l", drawn.Water/1000, holds/1000)
	right := 0
	if wrings > 0 {
		right = 1
	}
	d.inOrder("Will the one towel do as it is?", right, "Yes: draw it once round", "No: wring it, or take a second")
	d.because("Model of drying by towel, docs/models.md", "A towel stops drinking long before it is full: it leaves a wet panel from about "+
		"six tenths on. Here it is wrung %d times.", wrings)
	return true
}
