package api

import (
	"cmp"
	"context"
	"fmt"
	"iter"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/timing"
)

// exportTimes writes a table of the times as CSV.
func (s *server) exportTimes(ctx context.Context, in *struct {
	Grouped
	Of    string `query:"of" maxLength:"80" doc:"for a chart: which"`
	Table string `query:"table" enum:"washes,steps,stages,by,shares,standards,savings,learning,chart" default:"washes"`
}) (*huma.StreamResponse, error) {
	if in.Table == "steps" {
		return s.stepsFile(ctx, in.Days)
	}
	lines, err := s.timesTable(ctx, in.Table, in.Grouped, in.Of)
	if err != nil {
		return nil, err
	}
	return streamTable(in.Table, lines), nil
}

// timesTable gives a table line by line, the first of them the heads.
func (s *server) timesTable(ctx context.Context, name string, in Grouped, of string) (iter.Seq[[]string], error) {
	switch name {
	case "standards":
		v, err := s.standards(ctx, &in.DaysBack)
		return tableOf(v, err, standardsTable)
	case "chart":
		v, err := s.wholeChart(ctx, &Charted{in.DaysBack, of})
		return slices.Values(chartTable(v)), err
	case "learning":
		v, err := s.wholeLearning(ctx, &in.DaysBack)
		return slices.Values(learningTable(v)), err
	case "by":
		v, err := s.timesBy(ctx, &in)
		return tableOf(v, err, kindsTable)
	case "stages":
		v, err := s.times(ctx, &in.DaysBack)
		return tableOf(v, err, stagesTable)
	case "savings":
		v, err := s.times(ctx, &in.DaysBack)
		return tableOf(v, err, savingsTable)
	case "shares":
		v, err := s.times(ctx, &in.DaysBack)
		return tableOf(v, err, sharesTable)
	}
	timed, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	return washesTable(reader(ctx).Washes(timed.Washes)), nil
}

// stepsFile is the table of every step's timings. A year of a large shop has 160,000 of them, 20 MB: the newest such
// table is kept as it is sent, one of them, so that those who ask for the same get the same.
func (s *server) stepsFile(ctx context.Context, days int) (*huma.StreamResponse, error) {
	timed, err := s.timed(ctx, days)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	for _, p := range people {
		names[p.ID] = p.Name
	}
	reads := reader(ctx)
	key := fmt.Sprintf("steps %d %d %d %s", timed.Version, timed.From, timed.To, reads.Key())
	if kept, there := s.steps.find(key); there {
		return kept.send("steps"), nil
	}
	made, _, _ := s.figuring.Do(key, func() (any, error) { // those who ask at once wait for one table
		var p pieces
		apart := figured(s, timed, "set apart", timing.SetApart)
		writeTable(&p, stepsTable(timed.Washes, apart, names, reads), func() bool { return s.Ends.Err() == nil })
		s.steps.keep(key, p)
		return p, nil
	})
	return made.(pieces).send("steps"), nil
}

// tableOf makes a table of what a view shows.
func tableOf[T any](view *Out[T], err error, table func(T) [][]string) (iter.Seq[[]string], error) {
	if err != nil {
		return nil, err
	}
	return slices.Values(table(view.Body)), nil
}

func standardsTable(v StandardsView) [][]string {
	lines := [][]string{
		{
			"step",
			"title",
			"timings",
			"set apart",
			"needed",
			"written min",
			"in use min",
			"observed min",
			"rating",
			"normal min",
			"standard min",
			"low min",
			"high min",
			"proposed",
			"in use",
		},
	}
	for _, p := range v.Proposals {
		lines = append(
			lines,
			[]string{
				p.Step,
				p.Title,
				num(p.N),
				num(p.Outliers),
				num(p.Needed),
				dec(p.Written),
				dec(p.InUse),
				dec(p.Observed),
				dec(p.Rating),
				dec(p.Normal),
				dec(p.Standard),
				dec(p.Low),
				dec(p.High),
				p.Words,
				p.Uses,
			},
		)
	}
	return lines
}

func chartTable(v timing.ChartView) [][]string {
	c := v.Chart
	lines := [][]string{
		{"finished", "vehicle", v.Of + ", " + v.Unit, "moving range", "mean", "lower limit", "upper limit", "signals"},
	}
	for _, p := range c.Points {
		lines = append(
			lines,
			[]string{
				stamp(p.At),
				p.Label,
				dec(p.Value),
				dec(p.Range),
				dec(c.Mean),
				dec(c.Lower),
				dec(c.Upper),
				strings.Join(p.Signals, "; "),
			},
		)
	}
	return lines
}

func learningTable(v LearningView) [][]string {
	lines := [][]string{
		{"person", "wash", "finished", "% of standard", "expected", "low", "high", "findings", "dwells missed"},
	}
	for _, l := range v.People {
		for _, r := range l.Washes {
			lines = append(
				lines,
				[]string{
					l.Name,
					num(r.N),
					stamp(r.At),
					dec(r.Percent),
					dec(r.Expected),
					dec(r.Low),
					dec(r.High),
					num(r.Findings),
					num(r.Missed),
				},
			)
		}
	}
	return lines
}

func savingsTable(t timing.Totals) [][]string {
	lines := [][]string{{"where", "min a week", "share", "counted as", "what to do"}}
	for _, s := range t.Savings {
		lines = append(lines, []string{s.What, dec(s.Minutes), dec(s.Share), s.From, s.Do})
	}
	return lines
}

func sharesTable(t timing.Totals) [][]string {
	lines := [][]string{{"stage", "min a wash", "share", "share by standard"}}
	for _, s := range t.Shares {
		lines = append(lines, []string{s.Stage, dec(s.Minutes), dec(s.Share), dec(s.Planned)})
	}
	return lines
}

func stagesTable(t timing.Totals) [][]string {
	lines := [][]string{
		{
			"stage",
			"washes",
			"standard min",
			"median min",
			"lower quartile min",
			"upper quartile min",
			"over standard in all min",
		},
	}
	for _, s := range t.Stages {
		lines = append(
			lines,
			[]string{s.Stage, num(s.Washes), dec(s.Planned), dec(s.Median), dec(s.Low), dec(s.High), dec(s.Minutes)},
		)
	}
	return lines
}

// kindsTable has a line for each stage or step in each kind.
func kindsTable(b timing.Breakdown) [][]string {
	lines := [][]string{
		{
			"stage",
			"title",
			string(b.By),
			"timings",
			"set apart",
			"median min",
			"lower quartile min",
			"upper quartile min",
			"over standard",
			"paused min",
		},
	}
	for _, line := range b.Lines {
		for k, c := range line.Cells {
			lines = append(
				lines,
				[]string{
					line.Stage,
					line.Title,
					b.Kinds[k],
					num(c.N),
					num(c.Apart),
					dec(c.Median),
					dec(c.Low),
					dec(c.High),
					dec(c.Ratio),
					dec(c.Paused),
				},
			)
		}
	}
	return lines
}

// washesTable is a line for each wash.
func washesTable(washes []timing.Wash) iter.Seq[[]string] {
	heads := []string{"finished", "vehicle", "who", "procedure", "version", "grade", "place", "air degC",
		"standard min", "hands-on min", "elapsed min",
		"product working alone min", "waits min", "dwells kept", "dwells missed", "findings", "score"}
	return func(yield func([]string) bool) {
		if !yield(heads) {
			return
		}
		for _, w := range washes {
			score := ""
			if w.Score != nil {
				score = num(*w.Score)
			}
			t := w.Times
			if !yield([]string{stamp(w.Finished), w.Label, w.Name, w.Procedure, num(w.Version), num(w.Grade),
				w.Place, dec(w.Air), dec(t.Planned), dec(t.Minutes),
				dec(t.Elapsed), dec(t.Idle), dec(t.Waits), num(t.Kept), num(t.Missed), num(w.Findings), score}) {
				return
			}
		}
	}
}

// stepsTable is every timing of every step that the reader may see, by finish and step, those set apart marked as
// they lie among all of them.
func stepsTable(
	washes []timing.Wash,
	apart map[*timing.StepTime]bool,
	names map[string]string,
	reads timing.Reader,
) iter.Seq[[]string] {
	heads := []string{"finished", "vehicle", "body", "grade", "who did it", "stage", "step", "title", "area m2",
		"written min", "standard min", "hands-on min", "paused min", "product", "outlier"}
	return func(yield func([]string) bool) {
		if !yield(heads) {
			return
		}
		cells := make([]string, 0, len(heads)) // the same for every line: a year has 160,000
		steps := []*timing.StepTime{}
		for i := range washes {
			w := &washes[i]
			steps = steps[:0]
			for k := range w.Times.Steps {
				if s := &w.Times.Steps[k]; s.Tells() && reads.Sees(s.By) {
					steps = append(steps, s)
				}
			}
			slices.SortFunc(steps, func(a, b *timing.StepTime) int { return cmp.Compare(a.Step, b.Step) })
			finished, grade := stamp(w.Finished), num(w.Grade)
			for _, s := range steps {
				cells = append(
					cells[:0],
					finished,
					w.Label,
					w.Body,
					grade,
					names[s.By],
					s.Stage,
					s.Step,
					s.Title,
					dec(s.Area),
					dec(s.Written),
					dec(s.Planned),
					dec(s.Actual),
					dec(s.Paused),
					s.Product,
					strconv.FormatBool(apart[s]),
				)
				if !yield(cells) {
					return
				}
			}
		}
	}
}
