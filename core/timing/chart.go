package timing

import (
	"time"

	"gonum.org/v1/gonum/stat"
)

// Constants of charts for individuals with moving ranges of two (NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.2): a range over d2 is a standard deviation, and
// D4 times the mean range is the upper limit of ranges.
const (
	d2 = 1.128
	d4 = 3.267
)

// Thin keeps no more points than an eye can tell apart: of so many in a row the lowest and the highest, so that nothing that stands out is lost.
// What the chart says of them, limits and signals, is worked out from all before.
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
	Range   float64   `json:"range" doc:"from the value before; 0 for the first"`
	Signals []string  `json:"signals" doc:"run rules it ends, in words"`
	Ref     string    `json:"ref,omitempty" doc:"id of the wash"`
	Label   string    `json:"label,omitempty"`
}

// Chart is individuals and moving range.
type Chart struct {
	Points    []Point `json:"points"`
	Mean      float64 `json:"mean"`
	MeanRange float64 `json:"meanRange"`
	Upper     float64 `json:"upper" doc:"control limit of values"`
	Lower     float64 `json:"lower" doc:"control limit of values"`
	RangeTop  float64 `json:"rangeTop" doc:"control limit of ranges"`
	Base      int     `json:"base" doc:"how many points the limits come from, the first ones"`
	All       int     `json:"all" doc:"how many points there are; a chart of very many shows the lowest and the highest of some in a row"`
	Signals   int     `json:"signals" doc:"how many of all points end a run rule"`
}

// Control charts values in their order. Limits come from the first base values, all when base is 0 or more than there are.
func Control(points []Point, base int) Chart {
	c := Chart{Points: points, Base: len(points), All: len(points)}
	if base > 1 && base < len(points) {
		c.Base = base
	}
	if len(points) == 0 {
		return c
	}
	values, ranges := make([]float64, len(points)), []float64{}
	for i := range points {
		values[i] = points[i].Value
		points[i].Signals = []string{}
		if i > 0 {
			points[i].Range = abs(values[i] - values[i-1])
			if i < c.Base {
				ranges = append(ranges, points[i].Range)
			}
		}
	}
	c.Mean = stat.Mean(values[:c.Base], nil)
	if len(ranges) == 0 {
		c.Upper, c.Lower = c.Mean, c.Mean
		return c
	}
	c.MeanRange = stat.Mean(ranges, nil)
	sigma := c.MeanRange / d2
	c.Upper, c.Lower, c.RangeTop = c.Mean+3*sigma, c.Mean-3*sigma, d4*c.MeanRange
	for i := range points {
		points[i].Signals = append(points[i].Signals, signals(values[:i+1], c.Mean, sigma)...)
		if points[i].Range > c.RangeTop {
			points[i].Signals = append(points[i].Signals, "it jumped from the one before by more than the range's limit")
		}
		if len(points[i].Signals) > 0 {
			c.Signals++
		}
	}
	return c
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
