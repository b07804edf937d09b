package timing

import (
	"cmp"
	"fmt"
	"slices"

	"uskel/core/stats"
)

// Grouping is what times are told apart by.
type Grouping string

// The groupings.
const (
	ByGrade  Grouping = "grade"
	BySize   Grouping = "size"
	ByPerson Grouping = "person"
	ByMethod Grouping = "method"
	ByPlace  Grouping = "place"
)

// Values lists the groupings.
func (Grouping) Values() []string {
	return []string{string(ByGrade), string(BySize), string(ByPerson), string(ByMethod), string(ByPlace)}
}

// Cell is one stage or step in one kind of wash.
type Cell struct {
	N      int     `json:"n" doc:"timings counted"`
	Apart  int     `json:"apart" doc:"outliers set apart"`
	Median float64 `json:"median" doc:"min hands-on"`
	Low    float64 `json:"low" doc:"lower quartile, min"`
	High   float64 `json:"high" doc:"upper quartile, min"`
	Ratio  float64 `json:"ratio" doc:"total over standard"`
	Paused float64 `json:"paused" doc:"min of pauses in all, apart from the times"`
}

// KindLine is a stage or a step over all kinds.
type KindLine struct {
	Title string `json:"title"`
	Stage string `json:"stage"`
	Cells []Cell `json:"cells" doc:"as the kinds are"`
}

// Breakdown is times by kind of wash.
type Breakdown struct {
	By    Grouping   `json:"by"`
	Kinds []string   `json:"kinds"`
	Lines []KindLine `json:"lines" doc:"in the order of the work"`
}

// timingOf is one time of a line.
type timingOf struct {
	kind                    string
	actual, planned, paused float64
}

// Break tells stage times, or step times, apart. Rework, shared work and what was not timed say nothing; outliers of
// a line, by their ratio to the standard, are counted and set apart.
func Break(washes []Wash, by Grouping, steps bool) Breakdown {
	names := map[string]string{}
	for _, w := range washes {
		names[w.Person] = w.Name
	}
	lines, stageOf := map[string][]timingOf{}, map[string]string{}
	var come turns
	add := func(title, stage string, t timingOf) {
		lines[title], stageOf[title] = append(lines[title], t), stage
	}
	for i := range washes {
		w := &washes[i]
		if !steps {
			for i, s := range w.Times.Stages {
				if s.timed() {
					come.met(s.Stage, i, len(w.Times.Stages))
					add(s.Stage, s.Stage, timingOf{w.kind(by, w.Name), s.Actual, s.Planned, s.Paused})
				}
			}
			continue
		}
		for i, s := range w.Times.Steps {
			if s.Actual > 0 && s.Planned > 0 && !s.Shared && !s.Rework && !s.Loose {
				come.met(s.Title, i, len(w.Times.Steps))
				add(
					s.Title,
					s.Stage,
					timingOf{w.kind(by, cmp.Or(names[s.By], "somebody else")), s.Actual, s.Planned, s.Paused},
				)
				for _, part := range s.Parts { // the rear wheels take longer
					if part.Actual > 0 && part.Written > 0 {
						title := s.Title + ", " + part.Part
						come.met(title, i, len(w.Times.Steps))
						add(title, s.Stage, timingOf{w.kind(by, cmp.Or(names[s.By], "somebody else")), part.Actual, part.Written, 0})
					}
				}
			}
		}
	}
	b := Breakdown{By: by, Kinds: []string{}, Lines: []KindLine{}}
	for _, list := range lines {
		for _, t := range list {
			if !slices.Contains(b.Kinds, t.kind) {
				b.Kinds = append(b.Kinds, t.kind)
			}
		}
	}
	slices.Sort(b.Kinds)
	for _, title := range come.order() {
		b.Lines = append(b.Lines, KindLine{title, stageOf[title], cells(lines[title], b.Kinds)})
	}
	return b
}

// kind is what a wash counts as.
func (w *Wash) kind(by Grouping, person string) string {
	switch by {
	case ByGrade:
		return gradeBand(w.Grade)
	case BySize:
		return w.Body
	case ByPerson:
		return person
	case ByPlace:
		return w.Place
	}
	return fmt.Sprintf("%s %d", w.Title, w.Version)
}

func cells(list []timingOf, kinds []string) []Cell {
	ratios := make([]float64, len(list))
	for i, t := range list {
		ratios[i] = t.actual / t.planned
	}
	far := outliers(ratios)
	row := make([]Cell, len(kinds))
	for k, kind := range kinds {
		c, times, planned, actual := &row[k], []float64{}, 0.0, 0.0
		for i, t := range list {
			if t.kind != kind {
				continue
			}
			c.Paused += t.paused
			if far[i] {
				c.Apart++
				continue
			}
			times = append(times, t.actual)
			planned, actual = planned+t.planned, actual+t.actual
		}
		c.N, c.Paused = len(times), round2(c.Paused)
		if c.N == 0 {
			continue
		}
		slices.Sort(times)
		q := func(p float64) float64 { return round2(stats.Quantile(p, times)) }
		c.Median, c.Low, c.High, c.Ratio = q(0.5), q(0.25), q(0.75), round2(actual/planned)
	}
	return row
}
