package timing

import (
	"cmp"
	"slices"
	"time"

	"uskel/core/procedure"
)

// Saving is where minutes go that need not, by the week.
type Saving struct {
	What    string  `json:"what"`
	Minutes float64 `json:"minutes" doc:"a week"`
	Share   float64 `json:"share" doc:"of the time the washes took, 0 to 1"`
	From    string  `json:"from" doc:"how it is counted"`
	Do      string  `json:"do"`
}

// Where counts the minutes a week that would be saved, the most first, between two moments.
func Where(washes []Wash, from, to time.Time) []Saving {
	weeks := to.Sub(from).Hours() / 24 / 7
	if weeks <= 0 || len(washes) == 0 {
		return []Saving{}
	}
	sums, elapsed := map[string]float64{}, 0.0
	best := bestSetUp(washes)
	over := map[string]float64{}
	for _, w := range washes {
		t := w.Times
		elapsed += t.Elapsed
		sums["overlap"] += t.Idle
		sums["waits"] += t.Waits
		sums["arrival"] += w.Waited
		for _, s := range t.Steps {
			sums["paused"] += s.Paused
			switch {
			case s.Rework:
				sums["rework"] += s.Actual
			case s.Technique == procedure.Prepare:
				sums["set-up"] += max(0, s.Actual-best[s.Step]*s.Written)
			default:
				over[s.Stage] += s.Actual - s.Planned
			}
		}
	}
	worst := worstStage(over)
	list := []Saving{
		{
			What:    "Overlap not used",
			Minutes: sums["overlap"],
			From:    "product worked on the car and nobody had anything in hand",
			Do:      "Fill buckets, do wheels or shuts while it works: the plan's ribbon shows what fits.",
		},
		{
			What:    "Setting up and putting away",
			Minutes: sums["set-up"],
			From:    "over what the quickest quarter of washes took for the same steps",
			Do:      "Lay out before the car comes; keep one place for each thing.",
		},
		{
			What:    "Rework",
			Minutes: sums["rework"],
			From:    "hands-on time of steps that an audit sent back",
			Do:      "See Audits for the step and the skill the findings come from.",
		},
		{
			What:    "Waiting between steps",
			Minutes: sums["waits"],
			From:    "no hands on it, no product working, no pause tapped",
			Do:      "Waiting for a machine or for somebody: see the day's conflicts.",
		},
		{
			What:    "Vehicles waiting for the washer",
			Minutes: sums["arrival"],
			From:    "from the slot's beginning, or from when it came if that was later, to the first tap",
			Do:      "Move slots, or give them to somebody who is free.",
		},
		{What: "Pauses", Minutes: sums["paused"], From: "tapped as pauses", Do: "Ask what they were for."},
	}
	if worst != "" {
		list = append(
			list,
			Saving{
				What:    worst + " over its standard",
				Minutes: over[worst],
				From:    "hands-on time over the standard, the stage that costs most",
				Do:      "Open its chart: it says what changed, if anything did.",
			},
		)
	}
	for i := range list {
		list[i].Minutes = round2(list[i].Minutes / weeks)
		if elapsed > 0 {
			list[i].Share = round3(list[i].Minutes * weeks / elapsed)
		}
	}
	list = slices.DeleteFunc(list, func(s Saving) bool { return s.Minutes < 1 })
	slices.SortStableFunc(list, func(a, b Saving) int { return cmp.Compare(b.Minutes, a.Minutes) })
	return list
}

func worstStage(over map[string]float64) string {
	worst := ""
	for _, stage := range sorted(over) {
		if over[stage] > 0 && (worst == "" || over[stage] > over[worst]) {
			worst = stage
		}
	}
	return worst
}

// bestSetUp is what the quickest quarter takes of the written time, by step.
func bestSetUp(washes []Wash) map[string]float64 {
	ratios := map[string][]float64{}
	for _, w := range washes {
		for _, s := range w.Times.Steps {
			if s.Technique == procedure.Prepare && !s.Rework && s.Written > 0 && s.Actual > 0 {
				ratios[s.Step] = append(ratios[s.Step], s.Actual/s.Written)
			}
		}
	}
	best := map[string]float64{}
	for step, list := range ratios {
		slices.Sort(list)
		best[step] = list[(len(list)-1)/4]
	}
	return best
}

// Share is a stage's part of the hands-on time.
type Share struct {
	Stage   string  `json:"stage"`
	Minutes float64 `json:"minutes" doc:"mean of the washes that had it"`
	Share   float64 `json:"share" doc:"of all hands-on time, 0 to 1"`
	Planned float64 `json:"planned" doc:"share by the standards, 0 to 1"`
}

// Shares gives the stages in the order in which they come, with their parts of the hands-on time.
func Shares(washes []Wash) []Share {
	sum, planned, n := map[string]float64{}, map[string]float64{}, map[string]int{}
	var come turns
	all, allPlanned := 0.0, 0.0
	for _, w := range washes {
		for i, s := range w.Times.Stages {
			if s.Actual == 0 {
				continue
			}
			come.met(s.Stage, i, len(w.Times.Stages))
			n[s.Stage]++
			sum[s.Stage] += s.Actual
			planned[s.Stage] += s.Planned
			all, allPlanned = all+s.Actual, allPlanned+s.Planned
		}
	}
	order := come.order()
	shares := make([]Share, 0, len(order))
	for _, stage := range order {
		shares = append(
			shares,
			Share{
				stage,
				round2(sum[stage] / float64(n[stage])),
				round3(sum[stage] / all),
				round3(planned[stage] / max(allPlanned, 1e-9)),
			},
		)
	}
	return shares
}
