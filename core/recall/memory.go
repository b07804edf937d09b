// Package recall says how long something answered once is remembered, and when it is asked again.
package recall

import (
	"math"

	"uskel/core/wrong"
)

// Memory is how well a kind of case is remembered, by the published FSRS algorithm, version 6, with its default weights. It
// is held against the npm package ts-fsrs (testdata/memory.json).
type Memory struct {
	Stability  float64 `json:"stability" doc:"days until recall has fallen to nine tenths"`
	Difficulty float64 `json:"difficulty" doc:"1 easy to 10 hard"`
}

// Rating is how a case was answered.
type Rating int

// The ratings. Slow is right with help or a second thought, swift right within a few seconds.
const (
	Wrong Rating = iota + 1
	Slow
	Right
	Swift
)

// weights are the defaults of FSRS-6.
var weights = [21]float64{0.212, 1.2931, 2.3065, 8.2956, 6.4133, 0.8334, 3.0194, 0.001, 1.8722, 0.1666, 0.796, 1.4835, 0.0614,
	0.2629, 1.6483, 0.6014, 1.8729, 0.5425, 0.0912, 0.0658, 0.1542}

const (
	leastStability = 0.001
	mostStability  = 36500
	retention      = 0.9
)

// decay and its factor make recall nine tenths after as many days as the stability.
var (
	decay       = -weights[20]
	decayFactor = eighth(math.Exp(math.Log(retention)/decay) - 1)
	perInterval = eighth((math.Pow(retention, 1/decay) - 1) / decayFactor)
)

// eighth rounds to eight decimals, as the published implementations do.
func eighth(x float64) float64 { return math.Floor(x*1e8+0.5) / 1e8 }

func clamp(x, low, high float64) float64 { return math.Min(math.Max(x, low), high) }

// Recall is the chance that it is still known after some days, 0 to 1.
func (m Memory) Recall(days float64) float64 {
	return eighth(math.Pow(1+decayFactor*days/m.Stability, decay))
}

// Interval is after how many days it is asked again.
func (m Memory) Interval() int {
	return int(clamp(math.Floor(m.Stability*perInterval+0.5), 1, mostStability))
}

// Known reports whether anything of the kind was ever answered.
func (m Memory) Known() bool { return m.Stability > 0 }

// After is the memory after an answer, so many whole days after the one before.
func (m Memory) After(days int, r Rating) (Memory, error) {
	if r < Wrong || r > Swift {
		return m, wrong.At("rating", "%d: 1 wrong to 4 swift", r)
	}
	if days < 0 {
		return m, wrong.At("days", "%d: zero or more", days)
	}
	if !m.Known() {
		return Memory{math.Max(weights[r-1], 0.1), clamp(firstDifficulty(r), 1, 10)}, nil
	}
	next := Memory{Difficulty: m.harder(r)}
	switch recall := m.Recall(float64(days)); {
	case days == 0:
		next.Stability = m.sameDay(r)
	case r == Wrong:
		least := eighth(m.Stability / math.Exp(weights[17]*weights[18]))
		next.Stability = clamp(least, leastStability, m.forgotten(recall))
	default:
		next.Stability = m.recalled(recall, r)
	}
	return next, nil
}

func firstDifficulty(r Rating) float64 {
	return eighth(weights[4] - math.Exp(float64(r-1)*weights[5]) + 1)
}

// harder is the difficulty after an answer: it moves with the answer, less the harder it is, and leans back to easy.
func (m Memory) harder(r Rating) float64 {
	change := -weights[6] * float64(r-Right)
	moved := m.Difficulty + eighth(change*(10-m.Difficulty)/9)
	return clamp(eighth(weights[7]*firstDifficulty(Swift)+(1-weights[7])*moved), 1, 10)
}

func (m Memory) recalled(recall float64, r Rating) float64 {
	factor := 1.0
	switch r {
	case Slow:
		factor = weights[15]
	case Swift:
		factor = weights[16]
	}
	s := m.Stability
	grown := s * (1 + math.Exp(weights[8])*(11-m.Difficulty)*math.Pow(s, -weights[9])*(math.Exp((1-recall)*weights[10])-1)*factor)
	return eighth(clamp(grown, leastStability, mostStability))
}

func (m Memory) forgotten(recall float64) float64 {
	s := weights[11] * math.Pow(m.Difficulty, -weights[12]) * (math.Pow(m.Stability+1, weights[13]) - 1) *
		math.Exp((1-recall)*weights[14])
	return eighth(clamp(s, leastStability, mostStability))
}

func (m Memory) sameDay(r Rating) float64 {
	grows := math.Pow(m.Stability, -weights[19]) * math.Exp(weights[17]*(float64(r-Right)+weights[18]))
	if r >= Slow {
		grows = math.Max(grows, 1)
	}
	return eighth(clamp(m.Stability*grows, leastStability, mostStability))
}
