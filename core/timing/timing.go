// Package timing turns the events of washes into times: stage against plan for one wash, and over many.
package timing

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"uskel/core/wash"
)

// StageTime is one stage of one wash, in minutes.
type StageTime struct {
	Stage   string  `json:"stage"`
	Planned float64 `json:"planned" doc:"min, steps that were done"`
	Actual  float64 `json:"actual" doc:"min hands-on"`
	Paused  float64 `json:"paused" doc:"min"`
	Skipped int     `json:"skipped" doc:"steps skipped"`
	Done    bool    `json:"done" doc:"every step done or skipped"`
}

// Stages sums a wash by stage, in the plan's order. Planned minutes count only steps that were started, so that a skipped step
// does not look like speed. Rework stands as a stage of its own.
func Stages(steps []wash.Step, state wash.State) []StageTime {
	var stages []StageTime
	for i, s := range steps {
		at := slices.IndexFunc(stages, func(t StageTime) bool { return t.Stage == s.Stage })
		if at < 0 {
			at = len(stages)
			stages = append(stages, StageTime{Stage: s.Stage, Done: true})
		}
		t, did := &stages[at], state.Steps[i]
		switch did.Status {
		case wash.Skipped:
			t.Skipped++
		case wash.Ended:
			t.Planned += s.Minutes
		default:
			t.Done = false
		}
		t.Actual += did.HandsOn.Minutes()
		t.Paused += did.Paused.Minutes()
	}
	for i := range stages {
		stages[i].Planned, stages[i].Actual = round2(stages[i].Planned), round2(stages[i].Actual)
		stages[i].Paused = round2(stages[i].Paused)
	}
	return stages
}

// WashTimes is what stays to hand of a wash: its stage times and how its dwells went.
type WashTimes struct {
	Stages   []StageTime     `json:"stages"`
	Dwelling []wash.Dwelling `json:"dwelling"`
	Planned  float64         `json:"planned" doc:"min of the steps that were done"`
	Minutes  float64         `json:"minutes" doc:"hands-on"`
	Kept     int             `json:"kept" doc:"dwells kept"`
	Missed   int             `json:"missed" doc:"dwells early or overrun"`
}

// Of gathers the times of a wash.
func Of(steps []wash.Step, state wash.State) WashTimes {
	t := WashTimes{Stages: Stages(steps, state), Dwelling: state.Dwelling}
	for _, stage := range t.Stages {
		t.Planned, t.Minutes = t.Planned+stage.Planned, t.Minutes+stage.Actual
	}
	t.Planned, t.Minutes = round2(t.Planned), round2(t.Minutes)
	for _, d := range t.Dwelling {
		if d.Verdict == wash.Kept {
			t.Kept++
		} else {
			t.Missed++
		}
	}
	return t
}

func round2(x float64) float64 { return math.Round(x*100) / 100 }

// Summary is a stage over many washes.
type Summary struct {
	Stage   string  `json:"stage"`
	Washes  int     `json:"washes"`
	Planned float64 `json:"planned" doc:"mean planned min"`
	Median  float64 `json:"median" doc:"median actual min"`
	Low     float64 `json:"low" doc:"lower quartile, min"`
	High    float64 `json:"high" doc:"upper quartile, min"`
	Ratio   float64 `json:"ratio" doc:"total actual over total planned"`
	Minutes float64 `json:"minutes" doc:"minutes over plan in all; below zero when faster"`
}

// Summarise gathers finished stages over many washes, the one that costs most over plan first.
func Summarise(washes [][]StageTime) []Summary {
	byStage, order := map[string][]StageTime{}, []string{}
	for _, w := range washes {
		for _, s := range w {
			if s.Done && s.Planned > 0 && s.Actual > 0 {
				if byStage[s.Stage] == nil {
					order = append(order, s.Stage)
				}
				byStage[s.Stage] = append(byStage[s.Stage], s)
			}
		}
	}
	summaries := make([]Summary, 0, len(order))
	for _, stage := range order {
		summaries = append(summaries, summarise(stage, byStage[stage]))
	}
	slices.SortStableFunc(summaries, func(a, b Summary) int { return compareDown(a.Minutes, b.Minutes) })
	return summaries
}

func compareDown(a, b float64) int {
	switch {
	case a > b:
		return -1
	case a < b:
		return 1
	}
	return 0
}

func summarise(stage string, times []StageTime) Summary {
	actual, planned := make([]float64, len(times)), 0.0
	total := 0.0
	for i, t := range times {
		actual[i] = t.Actual
		planned += t.Planned
		total += t.Actual
	}
	slices.Sort(actual)
	q := func(p float64) float64 { return round2(stat.Quantile(p, stat.LinInterp, actual, nil)) }
	return Summary{stage, len(times), round2(planned / float64(len(times))), q(0.5), q(0.25), q(0.75), round2(total / planned), round2(total - planned)}
}
