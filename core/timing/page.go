package timing

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"
)

// WholeWash is the series of whole washes against their standard.
const WholeWash = "whole wash"

// The units of series.
const (
	ofStandard = "% of standard"
	aWash      = "a wash"
)

// kept is a series of whole washes: how a number of each is worked out, and what its limits are worked out on.
type kept struct {
	name  string
	unit  string
	scale Scale
	of    func(Wash) (value float64, has bool)
	among func(Wash) int // of how many a count is; nil where it is none
}

// whole are the series that are no stage. Every other series is a stage's time over its standard.
var whole = []kept{
	{name: WholeWash, unit: ofStandard, scale: Times, of: func(w Wash) (float64, bool) {
		return 100 * w.Times.Minutes / max(w.Times.Planned, 1e-9), w.Times.Planned > 0
	}},
	{name: "idle dwell", unit: "min", scale: Individuals, of: func(w Wash) (float64, bool) {
		return w.Times.Idle, len(w.Times.Dwelling) > 0
	}},
	{name: "mitt rinses", unit: "% of the plan's rinses", scale: Individuals, of: func(w Wash) (float64, bool) {
		rinses, asked := w.Rinses()
		return 100 * float64(rinses) / float64(max(asked, 1)), asked > 0
	}},
	{name: "dwells missed", unit: aWash, scale: Counts, of: func(w Wash) (float64, bool) {
		return float64(w.Times.Missed), len(w.Times.Dwelling) > 0
	}, among: func(w Wash) int { return len(w.Times.Dwelling) }},
	{name: "findings", unit: aWash, scale: Counts, of: func(w Wash) (float64, bool) {
		return float64(w.Findings), w.Score != nil
	}},
}

// seriesOf is one series, oldest first, with what it is counted in.
func seriesOf(washes []Wash, name string) (values []Timed, points []Point, as kept) {
	at := slices.IndexFunc(whole, func(k kept) bool { return k.name == name })
	if at < 0 {
		values, points = StageSeries(washes, name)
		return values, points, kept{name: name, unit: ofStandard, scale: Times}
	}
	as = whole[at]
	values, points = Series(washes, as.of)
	if as.among == nil {
		return values, points, as
	}
	among := map[string]int{}
	for _, w := range washes {
		among[w.ID] = as.among(w)
	}
	for i := range points {
		points[i].Among = among[points[i].Ref]
	}
	return values, points, as
}

// ChartView is a series on a control chart with what it shows.
type ChartView struct {
	Of       string          `json:"of"`
	Unit     string          `json:"unit"`
	Chart    Chart           `json:"chart"`
	Drift    *Drift          `json:"drift,omitempty"`
	Versions []VersionChange `json:"versions" doc:"new versions of procedures in this time, compared before and after"`
	Series   []string        `json:"series" doc:"what can be charted"`
	Drifting []string        `json:"drifting" doc:"which of them changed lastingly in this time, the surest first"`
	Learning int             `json:"learning" doc:"washes of trainees, left out"`
}

// Page is every series that can be charted of some washes, with what changed lastingly in each.
type Page struct {
	washes   []Wash
	series   []string
	drifting []string
	drifts   map[string]*Drift
	learning int
}

// PageOf looks for lasting changes in all series of the washes, oldest first; those of trainees are left out.
func PageOf(all []Wash, reads Reader) Page {
	washes := Practised(all)
	p := Page{washes: washes, series: []string{WholeWash}, drifting: []string{},
		drifts: map[string]*Drift{}, learning: len(all) - len(washes)}
	for _, stage := range Shares(washes) {
		p.series = append(p.series, stage.Stage)
	}
	for _, k := range whole[1:] {
		p.series = append(p.series, k.name)
	}
	page := make([][]Timed, len(p.series))
	for i, of := range p.series {
		page[i], _, _ = seriesOf(washes, of)
	}
	for i, drift := range FindDrifts(page, reads.Things(), 1) {
		if p.drifts[p.series[i]] = drift; drift != nil {
			p.drifting = append(p.drifting, p.series[i])
		}
	}
	slices.SortStableFunc(p.drifting, func(a, b string) int {
		return cmp.Compare(p.drifts[a].Compared.P, p.drifts[b].Compared.P)
	})
	return p
}

// baseline is how many washes the limits of a chart come from, when there are half as many again (common practice: 20
// to 25 points).
const baseline = 24

// Has says what is wrong with a series that cannot be charted of these washes.
func (p Page) Has(series string) error {
	if slices.Contains(p.series, series) {
		return nil
	}
	return fmt.Errorf("%q was not timed in these days: choose one of %q", series, p.series)
}

// Chart is one series of the page; that which changed most surely when none is named.
func (p Page) Chart(of string) ChartView {
	if of == "" {
		of = append(slices.Clone(p.drifting), WholeWash)[0]
	}
	values, points, as := seriesOf(p.washes, of)
	base := 0
	if len(points) >= baseline*3/2 {
		base = baseline
	}
	return ChartView{Of: of, Unit: as.unit, Chart: Control(points, base, as.scale), Drift: p.drifts[of],
		Versions: versions(p.washes, values), Series: p.series, Drifting: p.drifting, Learning: p.learning}
}

// VersionChange is a new version of a procedure, with its washes before and after.
type VersionChange struct {
	Title    string    `json:"title"`
	Version  int       `json:"version"`
	At       time.Time `json:"at" doc:"first washed by it"`
	Compared *Contrast `json:"compared,omitempty" doc:"absent while there are too few"`
	Words    string    `json:"words"`
}

// versions compares each procedure's washes before and after a new version of it.
func versions(washes []Wash, values []Timed) []VersionChange {
	changes, last := []VersionChange{}, map[string]int{}
	for _, w := range washes {
		was, seen := last[w.Procedure]
		last[w.Procedure] = max(was, w.Version)
		if !seen || w.Version <= was {
			continue
		}
		c := VersionChange{
			Title:   w.Title,
			Version: w.Version,
			At:      w.Finished,
			Words:   "Too few washes on one side to compare.",
		}
		compared, err := Welch(
			Valued(values, "version", fmt.Sprintf("%s %d", w.Procedure, was)),
			Valued(values, "version", fmt.Sprintf("%s %d", w.Procedure, w.Version)),
		)
		if err == nil {
			c.Compared = &compared
			c.Words = compared.Words()
		}
		changes = append(changes, c)
	}
	return changes
}

// Ways are people's ways by their washes, oldest first, trainees first; before is how many each had washed before.
func Ways(washes []Wash, before map[string]int) []Learning {
	people, by, order := []Learning{}, map[string][]Wash{}, []string{}
	for _, w := range washes {
		if by[w.Person] == nil {
			order = append(order, w.Person)
		}
		by[w.Person] = append(by[w.Person], w)
	}
	for _, person := range order {
		people = append(people, LearningOf(by[person], before[person]))
	}
	slices.SortStableFunc(people, func(a, b Learning) int {
		return cmp.Or(first(a.Trainee, b.Trainee), cmp.Compare(a.Name, b.Name))
	})
	return people
}

// first puts what is so before what is not.
func first(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return -1
	}
	return 1
}

// Proposed is what the taps say of all standards.
type Proposed struct {
	Allowances int                // %, as added to every proposal
	Proposals  []StandardProposal // those that differ first, then what costs most
	Ratings    map[string]float64 // of people by id; 100 is the shop's typical practised person
}

// ProposeAll works out the standards that washes ask for, beside those in use. The allowances, %, are the shop's own,
// or what its pauses were when it has set none. (The International Labour Office's table begins at 9 % for needs and
// basic fatigue, and adds 2 for standing: Introduction to Work Study, from memory. Short rests within a step are in
// the timings already.)
func ProposeAll(washes []Wash, set *int, inUse Standards) Proposed {
	found := Proposed{Allowances: int(math.Round(100 * Allowances(washes))), Proposals: []StandardProposal{}}
	if set != nil {
		found.Allowances = *set
	}
	byStep := Observe(washes)
	found.Ratings = Ratings(byStep)
	for step, list := range byStep {
		current, has := inUse[step]
		if !has {
			current = Written(step)
		}
		found.Proposals = append(found.Proposals, Propose(list, found.Ratings, float64(found.Allowances)/100, current))
	}
	slices.SortFunc(found.Proposals, func(a, b StandardProposal) int {
		return cmp.Or(first(a.Different, b.Different), -cmp.Compare(a.Costs(), b.Costs()), cmp.Compare(a.Step, b.Step))
	})
	return found
}
