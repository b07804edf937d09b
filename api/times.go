package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/timing"
	"uskel/store"
)

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

// LearningView is everybody's way.
type LearningView struct {
	Days   int               `json:"days"`
	People []timing.Learning `json:"people" doc:"trainees first"`
}

// DaysBack is how far back is looked.
type DaysBack struct {
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
	export := file(get("/times/export", "exportTimes", "A table of times as CSV"), "text/csv")
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

func (s *server) times(ctx context.Context, in *DaysBack) (*Out[timing.Totals], error) {
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return nil, err
	}
	return out(figured(s, of, "times", func(washes []timing.Wash) timing.Totals { return timing.TotalsOf(washes, in.Days, s.Now()) }))
}

// Listed is which finished washes.
type Listed struct {
	DaysBack
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

func (s *server) standards(ctx context.Context, in *DaysBack) (*Out[StandardsView], error) {
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
	found := figured(s, of, fmt.Sprintf("standards %d", allowed(settings)), func(washes []timing.Wash) timing.Proposed {
		return timing.ProposeAll(washes, settings.Rest, inUse)
	})
	v.Allowances, v.Proposals = found.Allowances, found.Proposals
	ratings := found.Ratings
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

// allowed is what the shop set as allowances, -1 when it set none.
func allowed(settings shop.Settings) int {
	if settings.Rest == nil {
		return -1
	}
	return *settings.Rest
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

// Charted is which chart.
type Charted struct {
	DaysBack
	Of string `query:"of" maxLength:"80" doc:"a stage by its title or another series; what changed most surely when absent"`
}

func (s *server) chart(ctx context.Context, in *Charted) (*Out[timing.ChartView], error) {
	v, err := s.wholeChart(ctx, in)
	v.Chart.Points = timing.Thin(v.Chart.Points, mostPoints)
	return &Out[timing.ChartView]{v}, err
}

// wholeChart is a chart with every point.
func (s *server) wholeChart(ctx context.Context, in *Charted) (timing.ChartView, error) {
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return timing.ChartView{}, err
	}
	reads := reader(ctx)
	page := figured(
		s,
		of,
		fmt.Sprintf("chart %v", reads.Lead),
		func(washes []timing.Wash) timing.Page { return timing.PageOf(washes, reads) },
	)
	if in.Of != "" {
		if err := page.Has(in.Of); err != nil {
			return timing.ChartView{}, invalid("of", err)
		}
	}
	v := figured(
		s,
		of,
		fmt.Sprintf("chart %v %s", reads.Lead, in.Of),
		func([]timing.Wash) timing.ChartView { return page.Chart(in.Of) },
	)
	v.Chart.Points = reads.Points(v.Chart.Points)
	return v, nil
}

// mostPoints is how many points of a series a screen shows apart.
const mostPoints = 600

// Grouped is how times are told apart.
type Grouped struct {
	DaysBack
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
func (s *server) learning(ctx context.Context, in *DaysBack) (*Out[LearningView], error) {
	v, err := s.wholeLearning(ctx, in)
	thinned := LearningView{v.Days, make([]timing.Learning, len(v.People))}
	for i, l := range v.People {
		thinned.People[i] = l.Thinned(mostPoints / 2)
	}
	return &Out[LearningView]{thinned}, err
}

// wholeLearning is the same with every wash.
func (s *server) wholeLearning(ctx context.Context, in *DaysBack) (LearningView, error) {
	of, err := s.timed(ctx, in.Days)
	if err != nil {
		return LearningView{}, err
	}
	reads := reader(ctx)
	return figuredWith(s, of, "learning "+reads.Key(), func(washes []timing.Wash) (LearningView, error) {
		before, err := s.Store.WashedBefore(ctx, s.Now().AddDate(0, 0, -in.Days))
		return LearningView{in.Days, timing.Ways(reads.Washes(washes), before)}, err
	})
}
