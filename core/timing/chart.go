package timing

import (
	"fmt"
	"math"
	"time"

	"gonum.org/v1/gonum/stat"

	"uskel/core/stats"
)

// Constants of charts for individuals with moving ranges of two (NIST/SEMATECH e-Handbook of Statistical Methods,
// 6.3.2.2): a range over d2 is a standard deviation, and D4 times the mean range is the upper limit of ranges.
const (
	d2 = 1.128
	d4 = 3.267
)

// Thin keeps no more points than an eye can tell apart: of so many in a row the lowest and the highest, so that
// nothing that stands out is lost. What the chart says of them, limits and signals, is worked out from all before.
func Thin(points []Point, most int) []Point {
	if len(points) <= most || most < 2 {
		return points
	}
	kept := make([]Point, 0, most)
	rows := most / 2
	for r := range rows {
		row := points[len(points)*r/rows : len(points)*(r+1)/rows]
		low, high := 0, 0
		for i, p := range row {
			if p.Value < row[low].Value {
				low = i
			}
			if p.Value > row[high].Value {
				high = i
			}
		}
		first, last := min(low, high), max(low, high)
		kept = append(kept, row[first])
		if last != first {
			kept = append(kept, row[last])
		}
	}
	return kept
}

// Point is a value on a chart.
type Point struct {
	At      time.Time `json:"at"`
	Value   float64   `json:"value"`
	Among   int       `json:"among,omitempty" doc:"of how many it is a count; 0 where it is none or has no such number"`
	Most    *int      `json:"most,omitempty" doc:"the largest count that chance makes of so many; counts only"`
	Range   float64   `json:"range" doc:"from the value before, % of it for times; 0 for the first"`
	Signals []string  `json:"signals" doc:"run rules it ends, in words"`
	Ref     string    `json:"ref,omitempty" doc:"id of the wash"`
	Label   string    `json:"label,omitempty"`
}

// Scale is what a chart's limits are worked out on.
type Scale string

// The scales. Individuals: values as they are. Times: skewed, by their logarithms. Counts: binomial among so many,
// Poisson otherwise.
const (
	Individuals Scale = "individuals"
	Times       Scale = "times"
	Counts      Scale = "counts"
)

// Values lists the scales.
func (Scale) Values() []string { return []string{string(Individuals), string(Times), string(Counts)} }

// Chart is individuals and moving range, or counts.
type Chart struct {
	Scale     Scale   `json:"scale"`
	Points    []Point `json:"points"`
	Mean      float64 `json:"mean" doc:"of times the geometric mean"`
	MeanRange float64 `json:"meanRange"`
	Upper     float64 `json:"upper" doc:"control limit of values; of counts the highest of the points' own"`
	Lower     float64 `json:"lower" doc:"control limit of values"`
	RangeTop  float64 `json:"rangeTop" doc:"control limit of ranges"`
	Base      int     `json:"base" doc:"how many points the limits come from, the first ones"`
	All       int     `json:"all" doc:"how many points there are; a chart of very many shows the lowest and the highest of some in a row"`
	Signals   int     `json:"signals" doc:"how many of all points break a run rule"`
}

// Control charts values in their order on one of the scales. Limits come from the first base values, all when base is
// 0 or more than there are.
func Control(points []Point, base int, on Scale) Chart {
	c := Chart{Scale: on, Points: points, Base: len(points), All: len(points)}
	if base > 1 && base < len(points) {
		c.Base = base
	}
	for i := range points {
		points[i].Signals = []string{}
	}
	switch {
	case len(points) == 0:
	case on == Counts:
		c.counts()
	default:
		c.individuals()
	}
	for _, p := range points {
		if len(p.Signals) > 0 {
			c.Signals++
		}
	}
	return c
}

// leastTime stands for a time of nothing, which has no logarithm.
const leastTime = 1e-3

// individuals are charted as they are, times by their logarithms: a time is oftener far above its mean than far below.
func (c *Chart) individuals() {
	into, back, spread := same, same, same
	if c.Scale == Times {
		into = func(x float64) float64 { return math.Log(max(x, leastTime)) }
		back, spread = math.Exp, func(d float64) float64 { return 100 * math.Expm1(d) }
	}
	values, ranges := make([]float64, len(c.Points)), []float64{}
	for i, p := range c.Points {
		values[i] = into(p.Value)
		if i > 0 {
			ranges = append(ranges, abs(values[i]-values[i-1]))
			c.Points[i].Range = spread(ranges[i-1])
		}
	}
	mean := stat.Mean(values[:c.Base], nil)
	c.Mean, c.Upper, c.Lower = back(mean), back(mean), back(mean)
	if c.Base < 2 {
		return
	}
	meanRange := stat.Mean(ranges[:c.Base-1], nil)
	sigma := meanRange / d2
	c.MeanRange, c.RangeTop = spread(meanRange), spread(d4*meanRange)
	c.Upper, c.Lower = back(mean+3*sigma), back(mean-3*sigma)
	for i := range c.Points {
		c.Points[i].Signals = append(c.Points[i].Signals, signals(values[:i+1], mean, sigma)...)
		if i > 0 && ranges[i-1] > d4*meanRange {
			c.Points[i].Signals = append(
				c.Points[i].Signals,
				"it jumped from the one before by more than the range's limit",
			)
		}
	}
}

func same(x float64) float64 { return x }

// Chances of counts: that of a point beyond three sigma of a normal value, and that of eight in a row on one side of
// its middle.
const (
	rarePoint = 0.00135
	rareRun   = 1.0 / 256
)

// counts are charted by their own chances rather than by sigmas: a p-chart where a point has a number that it is
// among, else a c-chart (NIST/SEMATECH e-Handbook, 6.3.3), with exact tails. The rate is Jeffreys's, so that a base
// without any is not taken for never.
func (c *Chart) counts() {
	sum, among := 0.0, 0
	for _, p := range c.Points[:c.Base] {
		sum, among = sum+p.Value, among+max(p.Among, 1)
	}
	rate := (sum + 0.5) / float64(among)
	if c.Points[0].Among > 0 {
		rate = (sum + 0.5) / float64(among+1)
	}
	c.Mean = sum / float64(c.Base)
	side, run, chance := 0, 0, 1.0
	for i := range c.Points {
		p := &c.Points[i]
		most := mostByChance(p.Among, rate)
		p.Most, c.Upper = &most, max(c.Upper, float64(most))
		if int(p.Value) > most {
			p.Signals = append(p.Signals, "more than chance makes")
		}
		now, of := besides(int(p.Value), p.Among, rate)
		if now != side {
			side, run, chance = now, 0, 1
		}
		run, chance = run+1, chance*of
		if side != 0 && chance <= rareRun {
			p.Signals = append(
				p.Signals,
				fmt.Sprintf("%d in a row %s the mean", run, map[int]string{1: "above", -1: "below"}[side]),
			)
		}
	}
}

// mostByChance is the largest count that is not rarer than rarePoint.
func mostByChance(among int, rate float64) int {
	most := 0
	for atLeast(most+1, among, rate) > rarePoint {
		most++
	}
	return most
}

// atLeast is the chance of so many or more.
func atLeast(count, among int, rate float64) float64 {
	if among > 0 {
		return stats.BinomialUpper(count, among, rate)
	}
	return stats.PoissonUpper(count, rate)
}

// besides says on which side of its mean a count lies, and the chance of that side.
func besides(count, among int, rate float64) (side int, chance float64) {
	mean := rate * float64(max(among, 1))
	above := atLeast(int(math.Floor(mean))+1, among, rate)
	below := 1 - atLeast(int(math.Ceil(mean)), among, rate)
	switch {
	case float64(count) > mean:
		return 1, above
	case float64(count) < mean:
		return -1, below
	}
	return 0, 1
}

func abs(x float64) float64 { return max(x, -x) }

// rule is a run rule: so many of the last so many on one side beyond so many sigmas.
type rule struct {
	of, last int
	sigmas   float64
	words    string
}

// runRules are the Western Electric rules (NIST/SEMATECH e-Handbook, 6.3.2).
var runRules = []rule{
	{1, 1, 3, "beyond the control limit"},
	{2, 3, 2, "two of three beyond two sigma"},
	{4, 5, 1, "four of five beyond one sigma"},
	{8, 8, 0, "eight in a row on one side"},
}

// trend is how many in a row, each above or each below the one before, are a trend (NIST/SEMATECH e-Handbook, 6.3.2).
const trend = 6

// signals are the rules that the last of some values ends.
func signals(values []float64, mean, sigma float64) []string {
	var found []string
	for _, r := range runRules {
		if len(values) < r.last || sigma == 0 {
			continue
		}
		for _, side := range []float64{1, -1} {
			beyond := 0
			for _, v := range values[len(values)-r.last:] {
				if side*(v-mean) > r.sigmas*sigma {
					beyond++
				}
			}
			if beyond >= r.of && side*(values[len(values)-1]-mean) > r.sigmas*sigma {
				found = append(found, r.words)
			}
		}
	}
	if run(values) >= trend {
		found = append(found, "six in a row going one way")
	}
	return found
}

// run is how many of the last values, the first of them included, go one way.
func run(values []float64) int {
	last, n := len(values)-1, 1
	for i := last; i > 0 && values[i] != values[i-1] && (values[i] > values[i-1]) == (values[last] > values[last-1]); i-- {
		n++
	}
	return n
}
