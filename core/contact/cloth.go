package contact

import (
	"math"

	"uskel/core/measure"
)

// Cloth is what touches the paint.
type Cloth string

// The cloths the model knows.
const (
	Mitt        Cloth = "long-pile mitt"
	Pad         Cloth = "flat pad"
	SplitSponge Cloth = "split-face sponge"
	PlainSponge Cloth = "plain sponge"
	PlushTowel  Cloth = "plush towel in four"
	WetTowel    Cloth = "wet plush towel"
)

type release struct{ exposed, sunk float64 }

type clothFacts struct {
	change   measure.Seconds // to rinse, wring and reload it; for a cloth that is not rinsed, to take a fresh one
	swallows float64         // share of offered grit an empty pile takes in
	capacity float64         // mg a face
	faces    int
	rub      release // share that a rub on the guard takes
	swish    release // share that swishing takes
}

// Cloth values (model). A towel is not rinsed: it goes to the laundry.
var cloths = map[Cloth]clothFacts{
	Mitt:        {24, 0.80, 250, 2, release{0.95, 0.85}, release{0.85, 0.50}},
	Pad:         {18, 0.60, 120, 2, release{0.95, 0.90}, release{0.85, 0.60}},
	SplitSponge: {18, 0.75, 160, 2, release{0.90, 0.80}, release{0.85, 0.60}},
	PlainSponge: {18, 0.10, 60, 2, release{0.60, 0.20}, release{0.40, 0.10}},
	PlushTowel:  {6, 0.70, 60, 8, release{}, release{}},
	WetTowel:    {18, 0.65, 200, 2, release{0.80, 0.60}, release{0.75, 0.55}}, // several folds count as one face
}

// Values lists the cloths.
func (Cloth) Values() []string {
	return []string{
		string(Mitt),
		string(Pad),
		string(SplitSponge),
		string(PlainSponge),
		string(PlushTowel),
		string(WetTowel),
	}
}

// Faces is how many clean faces a fresh cloth has.
func (c Cloth) Faces() int { return cloths[c].faces }

// RinseTime is how long a rinse takes, walk, wringing and suds included; for a cloth that is not rinsed, taking a fresh
// one (model, from 20 to 25 s as people are seen to do it).
func (c Cloth) RinseTime() measure.Seconds { return cloths[c].change }

// pace is the share of a mitt's stroke time that a cloth needs: a wet towel in folds covers half as much again (model).
var pace = map[Cloth]float64{WetTowel: 0.67}

// Pace is the share of a mitt's stroke time that the cloth needs.
func (c Cloth) Pace() float64 {
	if share, known := pace[c]; known {
		return share
	}
	return 1
}

// Rinses reports whether the cloth is cleaned in a bucket during the wash.
func (c Cloth) Rinses() bool { return cloths[c].rub.exposed > 0 }

// Face is one side of a cloth: grit at its surface, which scratches, and grit sunk in the pile, mg.
type Face struct {
	Exposed float64 `json:"exposed" doc:"mg at the surface"`
	Sunk    float64 `json:"sunk" doc:"mg deep in the pile"`
}

// picksUp is the share of the panel's grit that a touch takes along.
const picksUp = 0.95

// underFace is how much the panel's own grit counts against the grit of the face while it is rubbed (model).
const underFace = 0.02

// Stroke is how the cloth is moved.
type Stroke struct {
	Pressing bool `json:"pressing" doc:"Pressed on, not just the weight of the mitt"`
	Circles  bool `json:"circles" doc:"Circles or eights, not straight lines"`
	Dry      bool `json:"dry,omitempty" doc:"Over what has dried on the panel"`
	Mesh     bool `json:"mesh,omitempty" doc:"With the mesh side, which takes stuck bugs"`
}

// Stroke and slip factors (model): weight of the mitt 1, pressing 3 (2 to 4); circles 2, for they show
// from every angle; the mesh side 2; good solution 1, poor 1.5, dry 4.
func (s Stroke) factor() float64 {
	f := 1.0
	if s.Pressing {
		f *= 3
	}
	if s.Circles {
		f *= 2
	}
	if s.Mesh {
		f *= 2
	}
	if s.Dry {
		f *= NoSlip.factor()
	}
	return f
}

// Slip is how well the solution in the cloth still lubricates.
type Slip string

// The slips.
const (
	GoodSlip Slip = "good"
	PoorSlip Slip = "poor"
	NoSlip   Slip = "dry"
)

// SudsArea is how far a mitt full of suds slips well, m2: about a side of a car (model).
const SudsArea = 3.5

// poorSlipArea is where the mitt has run dry, m2 since the last reload (model).
const poorSlipArea = 6.0

func slipAfter(area float64) Slip {
	switch {
	case area <= SudsArea:
		return GoodSlip
	case area <= poorSlipArea:
		return PoorSlip
	}
	return NoSlip
}

func (s Slip) factor() float64 {
	switch s {
	case PoorSlip:
		return 1.5
	case NoSlip:
		return 4
	}
	return 1
}

// touch draws a face over area m2 of a panel that carries grit mg/m2. It gives the face afterwards and
// the plain drag, the integral of (exposed + underFace x grit) over the area, in mg m2.
func (c Cloth) touch(f Face, grit, area float64) (Face, float64) {
	facts := cloths[c]
	offered := picksUp * grit
	room := facts.capacity - f.Sunk
	if grit <= 0 || room <= 0 {
		after := Face{f.Exposed + offered*area, f.Sunk}
		return after, f.Exposed*area + offered*area*area/2 + underFace*grit*area
	}
	rate := facts.swallows * offered / facts.capacity // per m2
	sunk := room * -math.Expm1(-rate*area)
	after := Face{f.Exposed + offered*area - sunk, f.Sunk + sunk}
	sunkIntegral := room * (area + math.Expm1(-rate*area)/rate)
	drag := f.Exposed*area + offered*area*area/2 - sunkIntegral + underFace*grit*area
	return after, drag
}

// reach is the largest area of a panel the face can wash before its exposed grit passes the limit. Exposed grit grows
// ever faster with the area, so Newton's method comes down on the answer from above; what it leaves over is taken
// off, for the limit is never passed.
func (c Cloth) reach(f Face, grit, area, limit float64) float64 {
	after, _ := c.touch(f, grit, area)
	if after.Exposed <= limit {
		return area
	}
	facts := cloths[c]
	for range 40 {
		slope := picksUp * grit * (1 - facts.swallows*max(0, 1-after.Sunk/facts.capacity)) // of exposed grit, mg/m2
		over := (after.Exposed - limit) / slope
		if area -= over; area <= 0 {
			return 0
		}
		if after, _ = c.touch(f, grit, area); after.Exposed <= limit || over < 1e-13*area {
			break
		}
	}
	return area * (1 - 1e-12)
}

// less is what stays on a face after a release takes its shares.
func (f Face) less(r release) Face { return Face{f.Exposed * (1 - r.exposed), f.Sunk * (1 - r.sunk)} }

// grit is everything on the face, mg.
func (f Face) grit() float64 { return f.Exposed + f.Sunk }
