package contact

import "math"

// SettlingVelocity is the fall of a natural grain in still water, m/s, from its diameter in metres.
// Source: Ferguson and Church (2004), Journal of Sedimentary Research 74, with C1 = 18, C2 = 1.0
// (natural grains), submerged specific gravity 1.65 (quartz) and water at 20 degC.
func SettlingVelocity(diameter float64) float64 {
	const r, g, nu, c1, c2 = 1.65, 9.81, 1.0e-6, 18.0, 1.0
	return r * g * diameter * diameter / (c1*nu + math.Sqrt(0.75*c2*r*g*diameter*diameter*diameter))
}

// Road grit is taken as lognormal by mass: median 60 um, spread a factor 2.5 (model).
const (
	medianGrain = 60e-6 // m
	grainSpread = 2.5
	guardDepth  = 0.20 // m of water over the guard (model)
	rinseWater  = 15.0 // l in the bucket
	clothWater  = 0.25 // l the cloth keeps
)

// stillUp is the share of stirred grit, weighted by its harm, that still hangs above the guard after
// some seconds. Fine grains weigh less in harm: by the root of their size over the median, at most 2.
func stillUp(seconds float64) float64 {
	const steps = 41
	var up, all float64
	for i := range steps {
		z := -3 + 6*float64(i)/(steps-1)
		d := medianGrain * math.Pow(grainSpread, z)
		weight := math.Exp(-z*z/2) * math.Min(2, math.Sqrt(d/medianGrain))
		all += weight
		up += weight * math.Max(0, 1-SettlingVelocity(d)*seconds/guardDepth)
	}
	return up / all
}

// secondsBetweenRinses is how long a bucket usually rests between two visits (model).
const secondsBetweenRinses = 90

var settledShare = stillUp(secondsBetweenRinses)

// Bucket is a rinse bucket: grit hanging above the guard and grit at rest under it, mg.
type Bucket struct {
	Guard  bool    `json:"guard" doc:"Guard seated and under water"`
	Up     float64 `json:"up" doc:"mg still in the water above the guard"`
	Bottom float64 `json:"bottom" doc:"mg on the bottom"`
}

// settle lets the bucket rest for the usual time between two rinses.
func (b Bucket) settle() Bucket {
	stays := b.Up * settledShare
	return Bucket{b.Guard, stays, b.Bottom + b.Up - stays}
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
	back := b.Up * clothWater / rinseWater
	b.Up -= back
	return b, back
}
