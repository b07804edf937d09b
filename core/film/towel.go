package film

import (
	"math"

	"uskel/core/climate"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Drying by towel (docs/models.md): what lies on the car after the last rinse, and what a towel takes of it. Water on a
// surface is in g/m2, in a towel in g.

// Sheen is how water stands on the paint.
type Sheen int

// The sheens. Flat water on unprotected paint stays in the greatest amount where it cannot run.
const (
	Plain Sheen = iota
	Beading
	LyingFlat
)

// AfterRinse is the water on a part after the last rinse, g/m2. The windscreen counts as flat: it lies back.
func AfterRinse(p vehicle.Part, sheen Sheen) float64 {
	facing := p.Facing
	if p.Zone == vehicle.Windscreen {
		facing = vehicle.FacesUp
	}
	grams := climate.DrainedWater.Grams(facing)
	switch {
	case sheen == Beading && p.Surface != vehicle.Fabric:
		grams *= beadedWater
	case sheen == LyingFlat && facing == vehicle.FacesUp:
		grams *= flatWater
	}
	return grams
}

const (
	beadedWater = 0.5 // of the water stays on paint that beads
	flatWater   = 1.5 // times as much on flats where nothing protects
	sheeted     = 0.35
	blownBeads  = 0.05
	blownFlat   = 0.30
)

// Sheeted is what an open hose, held low, leaves of the water.
func Sheeted(grams float64) float64 { return grams * sheeted }

// Blown is what a blower leaves of the water: beads roll, flat water clings.
func Blown(grams float64, sheen Sheen) float64 {
	if sheen == Beading {
		return grams * blownBeads
	}
	return grams * blownFlat
}

// Towel is a drying towel in hand.
type Towel struct {
	Holds float64 // g of water when it is full
	Load  float64 // g of water in it
}

// The drying towels, by g of water that they hold: a large one of twisted loops, a waffle, a small one.
const (
	LargeTowel  = 1600.0
	WaffleTowel = 700.0
	SmallTowel  = 500.0
)

const (
	drinks   = 0.97                // of what it meets, while it is empty
	leastWet = 2.0                 // g/m2 that any towel leaves
	wrung    = 0.35                // of what a towel holds stays in it after wringing by hand
	dragging = 0.05                // of what it holds: below that it drags on the paint, unless it was damped
	stretch  = 0.1                 // m2: how finely drawing is followed
	Wringing = 20 * measure.Second // a towel by hand
)

// Draw dries an area that so much water lies on, and gives what is left there on the mean and at its end, g/m2.
func (t *Towel) Draw(grams, area float64) (mean, last float64) {
	if area <= 0 {
		return grams, grams
	}
	n := max(1, int(math.Ceil(area/stretch)))
	piece := area / float64(n)
	for range n {
		last = min(grams, max(leastWet, grams*(1-t.share())))
		t.Load = min(t.Holds, t.Load+(grams-last)*piece)
		mean += last / float64(n)
	}
	return mean, last
}

// share is what the towel takes of the water that it meets.
func (t *Towel) share() float64 {
	full := t.Load / t.Holds
	return drinks * (1 - full*full*full)
}

// Wring leaves in the towel what hands cannot press out.
func (t *Towel) Wring() { t.Load = min(t.Load, wrung*t.Holds) }

// Drags reports whether the towel is so dry that it drags on the paint.
func (t *Towel) Drags() bool { return t.Load < dragging*t.Holds }

// Sheet is a stretch of the car as a towel meets it.
type Sheet struct {
	Zone  vehicle.Zone
	Area  float64 // m2
	Grams float64 // g/m2 of water
}

// Drawn is how a drying with towels comes out.
type Drawn struct {
	Water    float64 // g on the car before it
	Wringing int     // how often a towel is wrung
	Mean     float64 // g/m2 left
	Worst    float64 // g/m2 left at the wettest
}

// wrungFrom is what a towel may leave before it is wrung, g/m2: from some 10 the panel looks wet and spots dry on it
// (model).
const wrungFrom = 10.0

// DryWith draws towels over the sheets in their order: the first until it leaves too much, then the next, and once all
// are wet each is wrung in its turn.
func DryWith(holds float64, towels int, sheets []Sheet) Drawn {
	set := make([]Towel, max(1, towels))
	for i := range set {
		set[i].Holds = holds
	}
	in, fresh := 0, len(set)-1
	var d Drawn
	area := 0.0
	for _, s := range sheets {
		d.Water += s.Grams * s.Area
		n := max(1, int(math.Ceil(s.Area/vehicle.PanelArea)))
		for range n {
			panel := s.Area / float64(n)
			if s.Grams*(1-set[in].share()) > wrungFrom {
				in = (in + 1) % len(set)
				if fresh > 0 {
					fresh--
				} else {
					set[in].Wring()
					d.Wringing++
				}
			}
			mean, last := set[in].Draw(s.Grams, panel)
			d.Mean += mean * panel
			d.Worst = max(d.Worst, last)
			area += panel
		}
	}
	if area > 0 {
		d.Mean /= area
	}
	return d
}
