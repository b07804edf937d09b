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
	"uskel/core/shop"
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
	operation(
		s,
		api,
		get("/times", "times", "Stage times against standard, and where the minutes go"),
		shop.See,
		s.times,
	)
	operation(
		s,
		api,
		get("/times/washes", "timesWashes", "Finished washes against plan, newest first"),
		shop.See,
		s.timesWashes,
	)
	operation(
		s,
		api,
		get("/times/standards", "standards", "Standard times that the taps propose, beside those in use"),
		shop.See,
		s.standards,
	)
	operation(
		s,
		api,
		post("/times/standards", "acceptStandard", "Put a standard time in use: plans and promises follow"),
		shop.SetStandards,
		s.acceptStandard,
	)
	operation(s, api, get("/times/chart", "chart", "A control chart"), shop.See, s.chart)
	operation(
		s,
		api,
		get("/times/learning", "learning", "Times by repetition: everybody's for the lead, one's own for others"),
		shop.See,
		s.learning,
	)
	operation(
		s,
		api,
		get("/times/by", "timesBy", "Stage or step times by grade, size, person, method or place"),
		shop.See,
		s.timesBy,
	)
	export := get("/times/export", "exportTimes", "A table of times as CSV")
	export.Responses = map[string]*huma.Response{"200": {Description: "A table",
		Content: map[string]*huma.MediaType{"text/csv": {Schema: &huma.Schema{Type: huma.TypeString}}}}}
	operation(s, api, export, shop.See, s.exportTimes)
}

// timed are the washes of the last days, as if planned by today's standards, oldest first. They are shared: nobody
// changes them.
func (s *server) timed(ctx context.Context, days int) (store.Times, error) {
	return s.Store.Timed(ctx, s.Now().AddDate(0, 0, -days), s.Now())
}

// figured works something out of washes, or gives what was worked out of the same washes by the same name before.
func figured[T any](s *server, of store.Times, name string, work func([]timing.Wash) T) T {
	made, _ := figuredWith(s, of, name, func(washes []timing.Wash) (T, error) { return work(washes), nil })
	return made
}

// figuredWith is the same for work that may fail; a failure is not kept.
func figuredWith[T any](s *server, of store.Times, name string, work func([]timing.Wash) (T, error)) (T, error) {
	key := fmt.Sprintf("%s %d %d %d", name, of.Version, of.From, of.To)
	if known, there := s.figures.find(key); there {
		return known.(T), nil
	}
	made, err, _ := s.figuring.Do(key, func() (any, error) { // those who ask at once wait for one answer
		made, err := work(of.Washes)
		if err == nil {
			s.figures.keep(key, made)
		}
		return made, err
	})
	return made.(T), err
}

func (s *server) times(ctx context.Context, in *Span) (*Out[Times], error) {
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	return out(figured(s, of, "times", func(washes []timing.Wash) Times { return s.sumTimes(washes, in.Days) }))
}

// sumTimes sums the times of the last days.
func (s *server) sumTimes(washes []timing.Wash, days int) Times {
	t := Times{Days: days, Count: len(washes), Stages: timing.Summarise(washes), Shares: timing.Shares(washes),
		Savings: timing.Where(washes, s.Now().AddDate(0, 0, -days), s.Now())}
	for _, w := range washes {
		t.Planned, t.Actual = t.Planned+w.Times.Planned, t.Actual+w.Times.Minutes
		t.Idle += w.Times.Idle / float64(len(washes))
		t.Missed, t.Kept = t.Missed+w.Times.Missed, t.Kept+w.Times.Kept
		rinses, asked := w.Rinses()
		t.Rinses, t.Asked = t.Rinses+rinses, t.Asked+asked
	}
	return t
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
	rows, err := s.Store.WashLines(ctx, store.WashQuery{Since: s.Now().AddDate(0, 0, -in.Days), Before: before,
		Most: linesPage, Asks: asks.ID, Of: of})
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
	return timing.Reader{ID: who(ctx).ID, Lead: who(ctx).Role.Leads()}
}

// allowances, %, are the shop's own, or what its pauses were. (The International Labour Office's table begins at 9 %
// for needs and basic fatigue, and adds 2 for standing: Introduction to Work Study, from memory. Short rests within a
// step are in the timings already.)
func allowances(settings shop.Settings, washes []timing.Wash) int {
	if settings.Rest != nil {
		return *settings.Rest
	}
	return int(math.Round(100 * timing.Allowances(washes)))
}

func (s *server) standards(ctx context.Context, in *Span) (*Out[StandardsView], error) {
	of, err := s.timed(ctx, in.Days)
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
	v := StandardsView{
		Days:     in.Days,
		Measured: settings.Rest == nil,
		Rule:     timing.OutlierRule,
		Ratings:  []Rating{},
		History:  []StandardLine{},
	}
	found := figured(s, of, fmt.Sprintf("standards %d", allowed(settings)), func(washes []timing.Wash) proposed {
		return propose(washes, settings, inUse)
	})
	v.Allowances, v.Proposals = found.allowances, found.proposals
	ratings := found.ratings
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

// proposed is what the taps say of standards.
type proposed struct {
	allowances int
	proposals  []timing.StandardProposal
	ratings    map[string]float64
}

// allowed is what the shop set as allowances, -1 when it set none.
func allowed(settings shop.Settings) int {
	if settings.Rest == nil {
		return -1
	}
	return *settings.Rest
}

// propose works out the standards that washes ask for, beside those in use; those that differ come first.
func propose(washes []timing.Wash, settings shop.Settings, inUse timing.Standards) proposed {
	found := proposed{allowances: allowances(settings, washes), proposals: []timing.StandardProposal{}}
	byStep := timing.Observe(washes)
	found.ratings = timing.Ratings(byStep)
	for step, list := range byStep {
		current, has := inUse[step]
		if !has {
			current = timing.Written(step)
		}
		found.proposals = append(
			found.proposals,
			timing.Propose(list, found.ratings, float64(found.allowances)/100, current),
		)
	}
	slices.SortFunc(found.proposals, func(a, b timing.StandardProposal) int {
		return cmp.Or(
			-cmp.Compare(b2i(a.Different), b2i(b.Different)),
			-cmp.Compare(a.Costs(), b.Costs()),
			cmp.Compare(a.Step, b.Step),
		)
	})
	return found
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
	if !slices.ContainsFunc(
		procedures,
		func(p procedure.Procedure) bool { _, err := p.Step(to.Step); return err == nil },
	) {
		return nil, invalid("standard.step", fmt.Errorf("no published procedure has a step %q", to.Step))
	}
	row := store.StandardRow{
		ID:   store.NewID(),
		Step: to.Step,
		Doc:  to,
		Why:  in.Body.Why,
		ByID: who(ctx).ID,
		At:   s.Now().UTC().Truncate(time.Microsecond),
	}
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
	findings  = "findings"
)

// baseline is how many washes the limits of a chart come from, when there are half as many again (common practice: 20
// to 25 points).
const baseline = 24

// Charted is which chart.
type Charted struct {
	Span
	Of string `query:"of" maxLength:"80" doc:"a stage by its title or another series; what changed most surely when absent"`
}

func (s *server) chart(ctx context.Context, in *Charted) (*Out[ChartView], error) {
	v, err := s.wholeChart(ctx, in)
	v.Chart.Points = timing.Thin(v.Chart.Points, mostPoints)
	return &Out[ChartView]{v}, err
}

// wholeChart is a chart with every point.
func (s *server) wholeChart(ctx context.Context, in *Charted) (ChartView, error) {
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return ChartView{}, err
	}
	reads := reader(ctx)
	page := figured(
		s,
		of,
		fmt.Sprintf("chart %v", reads.Lead),
		func(washes []timing.Wash) chartPage { return pageOf(washes, reads) },
	)
	if in.Of != "" && !slices.Contains(page.series, in.Of) {
		return ChartView{}, invalid(
			"of",
			fmt.Errorf("%q was not timed in these days: choose one of %q", in.Of, page.series),
		)
	}
	v := figured(
		s,
		of,
		fmt.Sprintf("chart %v %s", reads.Lead, in.Of),
		func([]timing.Wash) ChartView { return page.chart(in.Of) },
	)
	v.Chart.Points = reads.Points(v.Chart.Points)
	return v, nil
}

// mostPoints is how many points of a series a screen shows apart.
const mostPoints = 600

// chartPage is every series that can be charted, with what changed lastingly in each.
type chartPage struct {
	washes   []timing.Wash
	series   []string
	drifting []string
	drifts   map[string]*timing.Drift
	learning int
}

// pageOf looks for lasting changes in all series of a page.
func pageOf(all []timing.Wash, reads timing.Reader) chartPage {
	washes := timing.Practised(all)
	p := chartPage{washes: washes, series: []string{wholeWash}, drifting: []string{},
		drifts: map[string]*timing.Drift{}, learning: len(all) - len(washes)}
	for _, stage := range timing.Shares(washes) {
		p.series = append(p.series, stage.Stage)
	}
	p.series = append(p.series, idleDwell, mittRinse, missed, findings)
	page := make([][]timing.Timed, len(p.series))
	for i, of := range p.series {
		page[i], _, _ = charted(washes, of)
	}
	for i, drift := range timing.FindDrifts(page, reads.Things(), 1) {
		if p.drifts[p.series[i]] = drift; drift != nil {
			p.drifting = append(p.drifting, p.series[i])
		}
	}
	slices.SortStableFunc(
		p.drifting,
		func(a, b string) int { return cmp.Compare(p.drifts[a].Compared.P, p.drifts[b].Compared.P) },
	)
	return p
}

// chart is one series of the page; that which changed most surely when none is named.
func (p chartPage) chart(of string) ChartView {
	if of == "" {
		of = append(slices.Clone(p.drifting), wholeWash)[0]
	}
	values, points, unit := charted(p.washes, of)
	base := 0
	if len(points) >= baseline*3/2 {
		base = baseline
	}
	return ChartView{Of: of, Unit: unit, Chart: timing.Control(points, base, scaleOf(of)), Drift: p.drifts[of],
		Versions: versions(p.washes, values),
		Series:   p.series, Drifting: p.drifting, Learning: p.learning}
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
		values, points = timing.Series(
			washes,
			func(w timing.Wash) (float64, bool) { return w.Times.Idle, len(w.Times.Dwelling) > 0 },
		)
	case mittRinse:
		unit = "% of the plan's rinses"
		values, points = timing.Series(washes, func(w timing.Wash) (float64, bool) {
			rinses, asked := w.Rinses()
			return 100 * float64(rinses) / float64(max(asked, 1)), asked > 0
		})
	case missed:
		unit = aWash
		values, points = timing.Series(
			washes,
			func(w timing.Wash) (float64, bool) { return float64(w.Times.Missed), len(w.Times.Dwelling) > 0 },
		)
		dwells := map[string]int{}
		for _, w := range washes {
			dwells[w.ID] = len(w.Times.Dwelling)
		}
		for i := range points {
			points[i].Among = dwells[points[i].Ref]
		}
	case findings:
		unit = aWash
		values, points = timing.Series(
			washes,
			func(w timing.Wash) (float64, bool) { return float64(w.Findings), w.Score != nil },
		)
	default:
		unit = ofStandard
		values, points = timing.StageSeries(washes, of)
	}
	return values, points, unit
}

// The units of series.
const (
	ofStandard = "% of standard"
	aWash      = "a wash"
)

// scaleOf says what the limits of a series are worked out on.
func scaleOf(series string) timing.Scale {
	switch series {
	case missed, findings:
		return timing.Counts
	case idleDwell, mittRinse:
		return timing.Individuals
	}
	return timing.Times
}

// versions compares each procedure's washes before and after a new version of it.
func versions(washes []timing.Wash, values []timing.Timed) []VersionChange {
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
		compared, err := timing.Welch(
			timing.Valued(values, "version", fmt.Sprintf("%s %d", w.Procedure, was)),
			timing.Valued(values, "version", fmt.Sprintf("%s %d", w.Procedure, w.Version)),
		)
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
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	if in.By == timing.ByPerson && !reader(ctx).Lead {
		return out(timing.Break(reader(ctx).Washes(of.Washes), in.By, in.Steps))
	}
	return out(figured(s, of, fmt.Sprintf("by %s %v", in.By, in.Steps),
		func(washes []timing.Wash) timing.Breakdown { return timing.Break(washes, in.By, in.Steps) }))
}

// learning shows the lead everybody's way, and everybody else their own.
func (s *server) learning(ctx context.Context, in *Span) (*Out[LearningView], error) {
	v, err := s.wholeLearning(ctx, in)
	thinned := LearningView{v.Days, make([]timing.Learning, len(v.People))}
	for i, l := range v.People {
		thinned.People[i] = l.Thinned(mostPoints / 2)
	}
	return &Out[LearningView]{thinned}, err
}

// wholeLearning is the same with every wash.
func (s *server) wholeLearning(ctx context.Context, in *Span) (LearningView, error) {
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return LearningView{}, err
	}
	reads := reader(ctx)
	return figuredWith(s, of, "learning "+reads.Key(), func(washes []timing.Wash) (LearningView, error) {
		before, err := s.Store.WashedBefore(ctx, s.Now().AddDate(0, 0, -in.Days))
		return LearningView{in.Days, ways(reads.Washes(washes), before)}, err
	})
}

// ways are people's ways by their washes, trainees first.
func ways(washes []timing.Wash, before map[string]int) []timing.Learning {
	people, by, order := []timing.Learning{}, map[string][]timing.Wash{}, []string{}
	for _, w := range washes {
		if by[w.Person] == nil {
			order = append(order, w.Person)
		}
		by[w.Person] = append(by[w.Person], w)
	}
	for _, person := range order {
		people = append(people, timing.LearningOf(by[person], before[person]))
	}
	slices.SortStableFunc(people, func(a, b timing.Learning) int {
		return cmp.Or(-cmp.Compare(b2i(a.Trainee), b2i(b.Trainee)), cmp.Compare(a.Name, b.Name))
	})
	return people
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}
