package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/procedure"
	"uskel/core/timing"
	"uskel/store"
)

// Times are the times of a stretch of days.
type Times struct {
	Days    int              `json:"days"`
	Count   int              `json:"count" doc:"washes finished"`
	Planned float64          `json:"planned" doc:"min, by the standards"`
	Actual  float64          `json:"actual" doc:"min hands-on"`
	Stages  []timing.Summary `json:"stages"`
	Shares  []timing.Share   `json:"shares"`
	Savings []timing.Saving  `json:"savings" doc:"where the minutes go, what would save most first"`
	Idle    float64          `json:"idle" doc:"min a wash in which product worked and nobody did"`
	Missed  int              `json:"missed" doc:"dwells early or overrun"`
	Kept    int              `json:"kept" doc:"dwells kept"`
	Rinses  int              `json:"rinses" doc:"rinses of the mitt, tapped"`
	Asked   int              `json:"asked" doc:"rinses that the plans asked for, where any were tapped"`
}

// StandardsView is what the taps say of standard times.
type StandardsView struct {
	Days       int                       `json:"days"`
	Allowances int                       `json:"allowances" doc:"%"`
	Measured   bool                      `json:"measured" doc:"Allowances are the pauses that were tapped; the shop has set none"`
	Rule       string                    `json:"rule" doc:"how outliers are set apart"`
	Proposals  []timing.StandardProposal `json:"proposals" doc:"those that differ first"`
	Ratings    []Rating                  `json:"ratings"`
	History    []StandardLine            `json:"history" doc:"accepted standards, newest first"`
}

// Rating is how fast somebody works, 100 for the shop's typical practised person.
type Rating struct {
	Person PersonRef `json:"person"`
	Rating float64   `json:"rating"`
}

// StandardLine is an accepted standard.
type StandardLine struct {
	Standard timing.Standard `json:"standard"`
	Words    string          `json:"words"`
	Why      string          `json:"why"`
	By       string          `json:"by"`
	At       time.Time       `json:"at"`
}

// ChartView is a series on a control chart with what it shows.
type ChartView struct {
	Of       string          `json:"of"`
	Unit     string          `json:"unit"`
	Chart    timing.Chart    `json:"chart"`
	Drift    *timing.Drift   `json:"drift,omitempty"`
	Versions []VersionChange `json:"versions" doc:"new versions of procedures in this time, compared before and after"`
	Series   []string        `json:"series" doc:"what can be charted"`
	Drifting []string        `json:"drifting" doc:"which of them changed lastingly in this time, the surest first"`
	Learning int             `json:"learning" doc:"washes of trainees, left out"`
}

// VersionChange is a new version of a procedure, with its washes before and after.
type VersionChange struct {
	Title    string           `json:"title"`
	Version  int              `json:"version"`
	At       time.Time        `json:"at" doc:"first washed by it"`
	Compared *timing.Contrast `json:"compared,omitempty" doc:"absent while there are too few"`
	Words    string           `json:"words"`
}

// LearningView is everybody's way.
type LearningView struct {
	Days   int               `json:"days"`
	People []timing.Learning `json:"people" doc:"trainees first"`
}

// Span is how far back is looked.
type Span struct {
	Days int `query:"days" minimum:"1" maximum:"366" default:"28"`
}

func (s *server) registerTimes(api huma.API) {
	operation(s, api, get("/times", "times", "Stage times against standard, and where the minutes go"), anyone, s.times)
	operation(s, api, get("/times/washes", "timesWashes", "Finished washes against plan, newest first"), anyone, s.timesWashes)
	operation(s, api, get("/times/standards", "standards", "Standard times that the taps propose, beside those in use"), anyone, s.standards)
	operation(s, api, post("/times/standards", "acceptStandard", "Put a standard time in use: plans and promises follow"), onlyLead, s.acceptStandard)
	operation(s, api, get("/times/chart", "chart", "A control chart"), anyone, s.chart)
	operation(s, api, get("/times/learning", "learning", "Times by repetition: everybody's for the lead, one's own for others"), anyone, s.learning)
	operation(s, api, get("/times/by", "timesBy", "Stage or step times by grade, size, person, method or place"), anyone, s.timesBy)
	operation(s, api, get("/times/export", "exportTimes", "A table of times as CSV"), anyone, s.exportTimes)
}

// timed are the washes of the last days, as if planned by today's standards, oldest first.
func (s *server) timed(ctx context.Context, days int) ([]timing.Wash, error) {
	washes, err := s.Store.FinishedWashes(ctx, s.Now().AddDate(0, 0, -days), s.Now())
	if err != nil {
		return nil, err
	}
	standards, err := s.Store.Standards(ctx)
	if err != nil {
		return nil, err
	}
	return standards.Rebase(washes), nil
}

func (s *server) times(ctx context.Context, in *Span) (*Out[Times], error) {
	washes, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	t := Times{Days: in.Days, Count: len(washes), Stages: timing.Summarise(washes), Shares: timing.Shares(washes), Savings: timing.Where(washes, s.Now().AddDate(0, 0, -in.Days), s.Now())}
	for _, w := range washes {
		t.Planned, t.Actual = t.Planned+w.Times.Planned, t.Actual+w.Times.Minutes
		t.Idle += w.Times.Idle / float64(len(washes))
		t.Missed, t.Kept = t.Missed+w.Times.Missed, t.Kept+w.Times.Kept
		rinses, asked := w.Rinses()
		t.Rinses, t.Asked = t.Rinses+rinses, t.Asked+asked
	}
	return out(t)
}

// Listed is which finished washes.
type Listed struct {
	Span
	Before time.Time `query:"before" doc:"only those finished before; for the next page"`
}

func (s *server) timesWashes(ctx context.Context, in *Listed) (*Out[[]WashLine], error) {
	before := s.Now()
	if !in.Before.IsZero() && in.Before.Before(before) {
		before = in.Before
	}
	asks := reader(ctx)
	of := asks.ID
	if asks.Lead {
		of = ""
	}
	rows, err := s.Store.WashLines(ctx, store.WashQuery{Since: s.Now().AddDate(0, 0, -in.Days), Before: before, Most: linesPage, Asks: asks.ID, Of: of})
	if err != nil {
		return nil, err
	}
	lines := make([]WashLine, len(rows))
	for i, w := range rows {
		lines[i] = lineOf(w)
	}
	return out(lines)
}

// linesPage is how many finished washes a page of times gives.
const linesPage = 200

// reader is whoever reads times.
func reader(ctx context.Context) timing.Reader {
	return timing.Reader{ID: who(ctx).ID, Lead: who(ctx).Role == store.Lead}
}

// allowances, %, are the shop's own, or what its pauses were. (The International Labour Office's table begins at 9 % for needs and basic fatigue, and adds 2 for standing: Introduction to Work Study,
// from memory. Short rests within a step are in the timings already.)
func allowances(settings store.Settings, washes []timing.Wash) int {
	if settings.Rest != nil {
		return *settings.Rest
	}
	return int(math.Round(100 * timing.Allowances(washes)))
}

func (s *server) standards(ctx context.Context, in *Span) (*Out[StandardsView], error) {
	washes, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	inUse, err := s.Store.Standards(ctx)
	if err != nil {
		return nil, err
	}
	history, err := s.Store.StandardHistory(ctx)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	v := StandardsView{Days: in.Days, Allowances: allowances(settings, washes), Measured: settings.Rest == nil, Rule: timing.OutlierRule, Proposals: []timing.StandardProposal{}, Ratings: []Rating{}, History: []StandardLine{}}
	byStep := timing.Observe(washes)
	ratings := timing.Ratings(byStep)
	for step, list := range byStep {
		current, has := inUse[step]
		if !has {
			current = timing.Written(step)
		}
		v.Proposals = append(v.Proposals, timing.Propose(list, ratings, float64(v.Allowances)/100, current))
	}
	slices.SortFunc(v.Proposals, func(a, b timing.StandardProposal) int {
		return cmp.Or(-cmp.Compare(b2i(a.Different), b2i(b.Different)), -cmp.Compare(a.Costs(), b.Costs()), cmp.Compare(a.Step, b.Step))
	})
	for _, p := range people {
		if r, rated := ratings[p.ID]; rated && reader(ctx).Sees(p.ID) {
			v.Ratings = append(v.Ratings, Rating{ref(p), r})
		}
	}
	for _, row := range history {
		v.History = append(v.History, StandardLine{row.Doc, row.Doc.Words(), row.Why, row.By.Name, row.At.UTC()})
	}
	return out(v)
}

func (s *server) acceptStandard(ctx context.Context, in *struct {
	Body struct {
		Standard timing.Standard `json:"standard"`
		Why      string          `json:"why" maxLength:"400"`
		Was      timing.Standard `json:"was" doc:"the standard in use as it was shown: refused when another was accepted meanwhile"`
	}
}) (*Out[StandardLine], error) {
	to := in.Body.Standard
	if err := to.Check(); err != nil {
		return nil, invalid("standard", err)
	}
	procedures, err := s.Store.Procedures(ctx)
	if err != nil {
		return nil, err
	}
	if !slices.ContainsFunc(procedures, func(p procedure.Procedure) bool { _, err := p.Step(to.Step); return err == nil }) {
		return nil, invalid("standard.step", fmt.Errorf("no published procedure has a step %q", to.Step))
	}
	row := store.StandardRow{ID: store.NewID(), Step: to.Step, Doc: to, Why: in.Body.Why, ByID: who(ctx).ID, At: s.Now().UTC().Truncate(time.Microsecond)}
	if now, err := s.Store.AcceptStandard(ctx, row, in.Body.Was); errors.Is(err, store.ErrStale) {
		return nil, conflict("Another standard was accepted for this step meanwhile: " + now.Words() + ". Look again.")
	} else if err != nil {
		return nil, err
	}
	return out(StandardLine{to, to.Words(), row.Why, who(ctx).Name, row.At})
}

// The series besides stages.
const (
	wholeWash = "whole wash"
	idleDwell = "idle dwell"
	mittRinse = "mitt rinses"
	missed    = "dwells missed"
)

// baseline is how many washes the limits of a chart come from, when there are half as many again (common practice: 20 to 25 points).
const baseline = 24

// Charted is which chart.
type Charted struct {
	Span
	Of string `query:"of" maxLength:"80" doc:"a stage by its title, whole wash, idle dwell, mitt rinses or dwells missed; what changed most surely when absent"`
}

func (s *server) chart(ctx context.Context, in *Charted) (*Out[ChartView], error) {
	all, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	washes := timing.Practised(all)
	v := ChartView{Of: in.Of, Versions: []VersionChange{}, Series: []string{wholeWash}, Drifting: []string{}, Learning: len(all) - len(washes)}
	for _, stage := range timing.Shares(washes) {
		v.Series = append(v.Series, stage.Stage)
	}
	v.Series = append(v.Series, idleDwell, mittRinse, missed)
	if in.Of != "" && !slices.Contains(v.Series, in.Of) {
		return nil, invalid("of", fmt.Errorf("%q was not timed in these days: choose one of %q", in.Of, v.Series))
	}
	drifts := map[string]*timing.Drift{}
	for _, of := range v.Series {
		values, _, _ := charted(washes, of)
		if drifts[of] = timing.FindDrift(values, reader(ctx).Things(), 1); drifts[of] != nil {
			v.Drifting = append(v.Drifting, of)
		}
	}
	slices.SortStableFunc(v.Drifting, func(a, b string) int { return cmp.Compare(drifts[a].Compared.P, drifts[b].Compared.P) })
	if v.Of == "" {
		v.Of = append(v.Drifting, wholeWash)[0]
	}
	values, points, unit := charted(washes, v.Of)
	base := 0
	if len(points) >= baseline*3/2 {
		base = baseline
	}
	v.Unit, v.Chart, v.Drift, v.Versions = unit, timing.Control(points, base), drifts[v.Of], versions(washes, values)
	v.Chart.Points = reader(ctx).Points(v.Chart.Points)
	return out(v)
}

// charted is one series with its unit.
func charted(washes []timing.Wash, of string) (values []timing.Timed, points []timing.Point, unit string) {
	switch of {
	case wholeWash:
		unit = ofStandard
		values, points = timing.Series(washes, func(w timing.Wash) (float64, bool) {
			return 100 * w.Times.Minutes / max(w.Times.Planned, 1e-9), w.Times.Planned > 0
		})
	case idleDwell:
		unit = "min"
		values, points = timing.Series(washes, func(w timing.Wash) (float64, bool) { return w.Times.Idle, len(w.Times.Dwelling) > 0 })
	case mittRinse:
		unit = "% of the plan's rinses"
		values, points = timing.Series(washes, func(w timing.Wash) (float64, bool) {
			rinses, asked := w.Rinses()
			return 100 * float64(rinses) / float64(max(asked, 1)), asked > 0
		})
	case missed:
		unit = "dwells"
		values, points = timing.Series(washes, func(w timing.Wash) (float64, bool) { return float64(w.Times.Missed), len(w.Times.Dwelling) > 0 })
	default:
		unit = ofStandard
		values, points = timing.StageSeries(washes, of)
	}
	return values, points, unit
}

const ofStandard = "% of standard"

// versions compares each procedure's washes before and after a new version of it.
func versions(washes []timing.Wash, values []timing.Timed) []VersionChange {
	changes, last := []VersionChange{}, map[string]int{}
	for _, w := range washes {
		was, seen := last[w.Procedure]
		last[w.Procedure] = max(was, w.Version)
		if !seen || w.Version <= was {
			continue
		}
		c := VersionChange{Title: w.Title, Version: w.Version, At: w.Finished, Words: "Too few washes on one side to compare."}
		compared, err := timing.Welch(timing.Valued(values, "version", fmt.Sprintf("%s %d", w.Procedure, was)), timing.Valued(values, "version", fmt.Sprintf("%s %d", w.Procedure, w.Version)))
		if err == nil {
			c.Compared = &compared
			c.Words = compared.Words()
		}
		changes = append(changes, c)
	}
	return changes
}

// Grouped is how times are told apart.
type Grouped struct {
	Span
	By    timing.Grouping `query:"by" default:"grade" enum:"grade,size,person,method,place"`
	Steps bool            `query:"steps" doc:"steps rather than stages"`
}

func (s *server) timesBy(ctx context.Context, in *Grouped) (*Out[timing.Breakdown], error) {
	washes, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	if in.By == timing.ByPerson {
		washes = reader(ctx).Washes(washes)
	}
	return out(timing.Break(washes, in.By, in.Steps))
}

// learning shows the lead everybody's way, and everybody else their own.
func (s *server) learning(ctx context.Context, in *Span) (*Out[LearningView], error) {
	washes, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	before, err := s.Store.WashedBefore(ctx, s.Now().AddDate(0, 0, -in.Days))
	if err != nil {
		return nil, err
	}
	v := LearningView{Days: in.Days, People: []timing.Learning{}}
	by, order := map[string][]timing.Wash{}, []string{}
	for _, w := range reader(ctx).Washes(washes) {
		if by[w.Person] == nil {
			order = append(order, w.Person)
		}
		by[w.Person] = append(by[w.Person], w)
	}
	for _, person := range order {
		v.People = append(v.People, timing.LearningOf(by[person], before[person]))
	}
	slices.SortStableFunc(v.People, func(a, b timing.Learning) int {
		return cmp.Or(-cmp.Compare(b2i(a.Trainee), b2i(b.Trainee)), cmp.Compare(a.Name, b.Name))
	})
	return out(v)
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}
