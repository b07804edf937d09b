// Package timing turns the events of washes into times: stage against plan for one wash, and over many.
package timing

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"uskel/core/schedule"
	"uskel/core/stats"
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

// Stages sums a wash by stage, in the plan's order. Planned minutes count only steps that were started, so that a
// skipped step does not look like speed. Rework stands as a stage of its own.
func Stages(steps []wash.PlannedStep, state wash.State) []StageTime {
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
func Summarise(washes []Wash) []Summary {
	byStage, order := map[string][]StageTime{}, []string{}
	for _, w := range washes {
		for _, s := range w.Times.Stages {
			if s.timed() {
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
	slices.SortStableFunc(summaries, func(a, b Summary) int { return cmp.Compare(b.Minutes, a.Minutes) })
	return summaries
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
	q := func(p float64) float64 { return round2(stats.Quantile(p, actual)) }
	return Summary{
		stage,
		len(times),
		round2(planned / float64(len(times))),
		q(0.5),
		q(0.25),
		q(0.75),
		round2(total / planned),
		round2(total - planned),
	}
}

// thinStage is how many times a stage must have been timed before its own spread is used (model).
const thinStage = 8

// Spreads says how each stage's time varies beside the rest of its wash: each wash's stages over plan are first
// divided by the whole wash over plan, so that a slow person does not make every stage look slow. Stages timed too
// seldom are left out.
func Spreads(washes []Wash) map[string]schedule.Spread {
	ratios := map[string][]float64{}
	for _, w := range washes {
		planned, actual := 0.0, 0.0
		for _, s := range w.Times.Stages {
			if s.timed() {
				planned, actual = planned+s.Planned, actual+s.Actual
			}
		}
		for _, s := range w.Times.Stages {
			if s.timed() {
				ratios[s.Stage] = append(ratios[s.Stage], s.Actual/s.Planned*planned/actual)
			}
		}
	}
	spreads := map[string]schedule.Spread{}
	for stage, r := range ratios {
		if len(r) < thinStage {
			continue
		}
		mean, sd := stat.MeanStdDev(r, nil)
		spreads[stage] = schedule.Spread{Mean: mean, CV: sd / mean}
	}
	return spreads
}

// timed reports whether a stage says anything of its time.
func (s StageTime) timed() bool { return s.Done && s.Planned > 0 && s.Actual > 0 }

// OverPlan gives each person's washes over plan, oldest first: of each wash what they did alone.
func OverPlan(washes []Wash) map[string][]float64 {
	ratios := map[string][]float64{}
	for _, w := range washes {
		type sum struct{ planned, actual float64 }
		by := map[string]*sum{}
		for _, s := range w.Times.Steps {
			if s.Shared || s.Rework || s.By == "" {
				continue
			}
			if by[s.By] == nil {
				by[s.By] = &sum{}
			}
			by[s.By].planned += s.Planned
			by[s.By].actual += s.Actual
		}
		for who, t := range by {
			if t.planned > 0 && t.actual > 0 {
				ratios[who] = append(ratios[who], t.actual/t.planned)
			}
		}
	}
	return ratios
}

// paceFrom is how many washes a person must have finished before their own pace is used (model).
const paceFrom = 4

// forgotten is how many times longer or shorter than the middle one a wash must have been for its taps to say nothing
// of anybody's pace: a finish that was forgotten, a step that was never begun (model). Washes themselves do not vary
// that far.
const forgotten = 3

// Past is what a person's washes over plan say of their next: how long they take of the standard time, %, in the
// mean, and how much that varies. 0 and nil while there are too few. The washes are taken as lognormal, as the
// simulation draws them (model): the mean follows from the logarithms, so that one wash that took far too long does
// not weigh more than it should.
func Past(actualOverPlanned []float64) (pace int, past *schedule.History) {
	if len(actualOverPlanned) < paceFrom {
		return 0, nil
	}
	logs, middle := []float64{}, stats.Median(actualOverPlanned)
	for _, r := range actualOverPlanned {
		if r < forgotten*middle && r > middle/forgotten {
			logs = append(logs, math.Log(r))
		}
	}
	if len(logs) < paceFrom-1 {
		return 0, nil
	}
	mean, sigma := stat.MeanStdDev(logs, nil)
	return int(math.Round(100 * math.Exp(mean+sigma*sigma/2))), &schedule.History{Sigma: sigma, Washes: len(logs)}
}
