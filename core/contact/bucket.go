package contact

import (
	"cmp"
	"math"

	"uskel/core/measure"
)

// SettlingVelocity is the fall of a natural grain in still water, m/s, from its diameter in metres.
// Source: Ferguson and Church (2004), Journal of Sedimentary Research 74, with C1 = 18, C2 = 1.0
// (natural grains) and submerged specific gravity 1.65 (quartz).
func SettlingVelocity(diameter float64, water measure.Celsius) float64 {
	const r, g, c1, c2 = 1.65, 9.81, 18.0, 1.0
	nu := viscosity(water)
	return r * g * diameter * diameter / (c1*nu + math.Sqrt(0.75*c2*r*g*diameter*diameter*diameter))
}

// viscosity is how thick water is, m2/s: Vogel's equation with the constants that handbooks give for water, within 1
// % from 0 to 60 degC (from memory), over a density of 998 kg/m3, which changes by 1 % in that range.
func viscosity(water measure.Celsius) float64 {
	t := min(max(float64(water), 0), 60) + 273.15
	return 2.414e-5 * math.Pow(10, 247.8/(t-140)) / 998
}

// usualWater is what a rinse bucket's water has when nobody said, degC (model).
const usualWater measure.Celsius = 20

// Road grit is taken as lognormal by mass: median 60 um, spread a factor 2.5 (model).
const (
	medianGrain = 60e-6 // m
	grainSpread = 2.5
	guardDepth  = 0.20 // m of water over the guard (model)
	rinseWater  = 15.0 // l in the bucket
	clothWater  = 0.25 // l the cloth keeps
)

// stillUp is the share of stirred grit, weighted by its harm, that still hangs above the guard after some seconds in
// water of a temperature. Fine grains weigh less in harm: by the root of their size over the median, at most 2.
func stillUp(seconds float64, water measure.Celsius) float64 {
	const steps = 41
	var up, all float64
	for i := range steps {
		z := -3 + 6*float64(i)/(steps-1)
		d := medianGrain * math.Pow(grainSpread, z)
		weight := math.Exp(-z*z/2) * math.Min(2, math.Sqrt(d/medianGrain))
		all += weight
		up += weight * math.Max(0, 1-SettlingVelocity(d, water)*seconds/guardDepth)
	}
	return up / all
}

// secondsBetweenRinses is how long a bucket usually rests between two visits (model).
const secondsBetweenRinses = 90

// settledAt is the share that is still up after that time, by whole degrees of the water.
var settledAt = func() (share [61]float64) {
	for t := range share {
		share[t] = stillUp(secondsBetweenRinses, measure.Celsius(t))
	}
	return share
}()

// Bucket is a rinse bucket: grit hanging above the guard and grit at rest under it, mg.
type Bucket struct {
	Guard  bool    `json:"guard" doc:"Guard seated and under water"`
	Up     float64 `json:"up" doc:"mg still in the water above the guard"`
	Bottom float64 `json:"bottom" doc:"mg on the bottom"`

	Water measure.Celsius `json:"water" doc:"degC: grit sinks more slowly in cold water"`

	Litres float64 `json:"litres,omitempty" doc:"l of water in it; the usual 15 when 0"`
}

// NewBucket is clean water of a temperature, over a guard or over none.
func NewBucket(guard bool, water measure.Celsius) Bucket { return Bucket{Guard: guard, Water: water} }

// settle lets the bucket rest for the usual time between two rinses.
func (b Bucket) settle() Bucket {
	share := settledAt[int(math.Round(min(max(float64(b.Water), 0), 60)))]
	sinks := b.Up * (1 - share)
	b.Up, b.Bottom = b.Up-sinks, b.Bottom+sinks
	return b
}

// stirredUp is the share of the bottom's grit that a hand brings up when no guard holds it (model).
const stirredUp = 0.3

// dip puts a cloth's grit into the bucket and gives back what its water carries, mg.
func (b Bucket) dip(added float64) (Bucket, float64) {
	b = b.settle()
	b.Up += added
	if !b.Guard {
		b.Up, b.Bottom = b.Up+stirredUp*b.Bottom, b.Bottom*(1-stirredUp)
	}
	back := b.comesBack()
	b.Up -= back
	return b, back
}

// comesBack is the grit that a cloth brings back with the water it keeps, mg.
func (b Bucket) comesBack() float64 { return b.Up * min(1, clothWater/cmp.Or(b.Litres, rinseWater)) }

// Murky is how dirty the water looks, 0 to 1: from 1 the guard cannot be seen, and a clean face comes back dirty (the
// same tenth of what ordinary paint lets a face carry).
func (b Bucket) Murky() float64 { return min(1, b.comesBack()/tooMuchBack) }

// BucketTale is how a rinse bucket clears between two visits, and what a guard is worth.
type BucketTale struct {
	Clears   []Clearing `json:"clears" doc:"share of stirred grit, by its harm, still over the guard"`
	HalfAt   float64    `json:"halfAt" doc:"s until half has sunk below the guard"`
	CleanAt  float64    `json:"cleanAt" doc:"s until nine tenths have"`
	Guarded  []float64  `json:"guarded" doc:"mg that come back with the mitt at each rinse of a moderately dirty wash, guard seated"`
	Bare     []float64  `json:"bare" doc:"the same without a guard"`
	ChangeAt int        `json:"changeAt" doc:"rinses until the water dirties a clean face; 0 for none in a wash"`
	Says     []string   `json:"says"`
}

// Clearing is a moment and the share still up.
type Clearing struct {
	Seconds float64 `json:"seconds"`
	Up      float64 `json:"up" doc:"0 to 1"`
}

const (
	toldRinses  = 12
	toldGrit    = 300.0 // mg a rinse of a moderately dirty wash brings (model: two full faces)
	tooMuchBack = 5.5   // mg, a tenth of what ordinary paint lets a face carry
)

// TellBucket works the tale out for water of a temperature, from settling (Ferguson and Church 2004) and the model of
// the bucket.
func TellBucket(water measure.Celsius) BucketTale {
	t := BucketTale{}
	for _, s := range []float64{0, 15, 30, 60, 90, 120, 300, 600, 1800} {
		t.Clears = append(t.Clears, Clearing{s, math.Round(stillUp(s, water)*1000) / 1000})
	}
	t.HalfAt, t.CleanAt = secondsUntil(0.5, water), secondsUntil(0.1, water)
	with, without := NewBucket(true, water), NewBucket(false, water)
	for i := range toldRinses {
		var back float64
		with, back = with.dip(toldGrit)
		t.Guarded = append(t.Guarded, math.Round(back*10)/10)
		if t.ChangeAt == 0 && back > tooMuchBack+toldGrit*clothWater/rinseWater {
			t.ChangeAt = i + 1
		}
		without, back = without.dip(toldGrit)
		t.Bare = append(t.Bare, math.Round(back*10)/10)
	}
	t.Says = []string{
		"Coarse grit is under the guard within a minute; the fine tail hangs for many, which is why the water " +
			"darkens and the guard works all the same.",
		"A guard that stands off the bottom keeps what has sunk from being stirred: without it each visit brings " +
			"part of all the grit back.",
		"What the mitt has just brought in is still up: rub, wring outside, and let the bucket rest while you wash.",
	}
	return t
}

func secondsUntil(share float64, water measure.Celsius) float64 {
	low, high := 0.0, 1e6
	for range 60 {
		if mid := (low + high) / 2; stillUp(mid, water) > share {
			low = mid
		} else {
			high = mid
		}
	}
	return math.Round(high)
}
