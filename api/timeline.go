package api

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/day"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/mend"
	"uskel/core/plan/wet"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/core/timing"
	"uskel/core/wash"
	"uskel/store"
)

// TimelineView is a wash laid out for a crew.
type TimelineView struct {
	Timeline  schedule.Timeline `json:"timeline"`
	Promise   *schedule.Promise `json:"promise,omitempty" doc:"absent when some dwell cannot be kept"`
	Zero      time.Time         `json:"zero" doc:"the timeline's beginning"`
	Crew      []PersonRef       `json:"crew"`
	Turns     map[string]string `json:"turns" doc:"by step, how pieces with product on each are done"`
	Titles    map[string]string `json:"titles" doc:"of the plan's steps, by id"`
	NoOverlap measure.Seconds   `json:"noOverlap" doc:"the first of the crew alone, every dwell waited out"`
	Product   measure.Money     `json:"product"`
	Labour    measure.Money     `json:"labour" doc:"what the people's time costs, from their first to their last work"`
	Unpaid    bool              `json:"unpaid,omitempty" doc:"no price of an hour of work is set: labour counts for nothing"`
	Procedure string            `json:"procedure"`
	Arranged  plan.Arranged     `json:"arranged"`
	Version   int               `json:"version" doc:"of the booking"`
	Spots     []plan.Spot       `json:"spots,omitempty" doc:"water and suds that dry on the car by this timeline"`
	Wet       []plan.WetFault   `json:"wet" doc:"products that are not taken off in time somewhere, by the wet clock"`
	Late      []string          `json:"late" doc:"what will be late, in words, in time to act"`
}

// WhatIf is one way to do the wash otherwise.
type WhatIf struct {
	Name     string          `json:"name"`
	Feasible bool            `json:"feasible"`
	Finish   measure.Seconds `json:"finish"`
	P80      measure.Seconds `json:"p80"`
	Overrun  float64         `json:"overrun" doc:"chance that some product dries, 0 to 1"`
	Cost     measure.Money   `json:"cost" doc:"product and labour"`
	Why      []string        `json:"why,omitempty"`
	Arranged *plan.Arranged  `json:"arranged,omitempty" doc:"to take it over; absent when it asks for something that is not there"`
}

func (s *server) registerTimeline(api huma.API) {
	operation(
		s,
		api,
		post("/bookings/{id}/timeline", "timeline", "Lay a booking's wash out for a crew; nothing is saved"),
		shop.See,
		s.timeline,
	)
	operation(
		s,
		api,
		put("/bookings/{id}/arranged", "arrange", "Save how a booking's wash is laid out"),
		shop.RunTheDay,
		s.arrange,
	)
	operation(
		s,
		api,
		post("/bookings/{id}/what-if", "whatIf", "Other ways to do the wash, side by side"),
		shop.See,
		s.whatIf,
	)
	operation(
		s,
		api,
		get(
			"/washes/{id}/timeline",
			"washTimeline",
			"The rest of a running wash, laid out anew from what has happened",
		),
		shop.See,
		s.washTimeline,
	)
}

// effort of a timeline that follows a keystroke, and of each of several side by side, in activities laid down.
const (
	quickEffort = 120_000
	sideEffort  = 60_000
	promiseRuns = 2000
	sideRuns    = 600
)

// hand is somebody who washes, as the schedule knows them.
type hand struct {
	person store.Person
	as     schedule.Person
}

// paces is how fast everybody is by their own washes of the last month, and how each stage varies.
type paces struct {
	ratios  map[string][]float64 // over plan, by person
	spreads map[string]schedule.Spread
}

// hands are the people who wash, with what they may do and how fast they are.
func (s *server) hands(ctx context.Context) ([]hand, paces, error) {
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, paces{}, err
	}
	offs, err := s.signOffs(ctx)
	if err != nil {
		return nil, paces{}, err
	}
	of, err := s.timed(ctx, spreadDays)
	if err != nil {
		return nil, paces{}, err
	}
	p := figured(
		s,
		of,
		"paces",
		func(washes []timing.Wash) paces { return paces{timing.OverPlan(washes), timing.Spreads(washes)} },
	)
	ratios := p.ratios
	var hands []hand
	for _, p := range people {
		if p.Role == shop.Auditor || !p.Active {
			continue
		}
		pace, past := timing.Past(ratios[p.ID])
		h := hand{p, schedule.Person{ID: p.ID, Name: p.Name, Pace: pace, History: past}}
		if slices.ContainsFunc(hands, func(o hand) bool { return o.as.Name == p.Name }) {
			h.as.Name += " (" + p.SignIn + ")"
		}
		if h.as.Pace == 0 {
			h.as.Pace = p.Role.UsualPace()
		}
		for _, skill := range skillsOf(p, offs) {
			h.as.Skills = append(h.as.Skills, string(skill))
		}
		hands = append(hands, h)
	}
	return hands, p, nil
}

// varies is how the length of each stage varies, as a share of it, by the shop's own times; a trainee's varies at least as
// trainees' do.
func (s *server) varies(ctx context.Context, washer string) (map[string]float64, error) {
	_, known, err := s.hands(ctx)
	if err != nil {
		return nil, err
	}
	p, err := s.Store.Person(ctx, washer)
	if err != nil {
		return nil, err
	}
	varies := map[string]float64{}
	for stage, spread := range known.spreads {
		varies[stage] = spread.CV
		if p.Role == shop.Trainee {
			varies[stage] = max(spread.CV, schedule.Learning.CV)
		}
	}
	return varies, nil
}

// spreadDays is how far back times count for paces and spreads.
const spreadDays = 30

// layout is what a timeline is made from.
type layout struct {
	view     store.BookingView
	look     condition.LookOver
	plan     plan.Plan
	job      *plan.Job // what the plan was made for; nil of a wash that runs
	settings shop.Settings
	hands    []hand
	spreads  map[string]schedule.Spread
	arranged plan.Arranged
	kit      []schedule.Machine
	stop     func() bool // whoever asked has hung up
}

// gather reads what a booking's timeline is made from.
func (s *server) gather(ctx context.Context, id string, a plan.Arranged) (layout, error) {
	v, err := s.Store.Booking(ctx, id)
	if err != nil {
		return layout{}, err
	}
	l := layout{view: v, arranged: a, stop: until(ctx)}
	if l.look, err = looked(v); err != nil {
		return l, err
	}
	if l.settings, _, err = s.Store.Settings(ctx); err != nil {
		return l, err
	}
	l.kit = l.settings.Kit()
	hands, known, err := s.hands(ctx)
	if err != nil {
		return l, err
	}
	l.hands, l.spreads = hands, known.spreads
	return l, s.replan(ctx, &l)
}

// replan takes the plan of a layout from its look-over and what is arranged.
func (s *server) replan(ctx context.Context, l *layout) error {
	f, err := s.fillHour(ctx, l.view.Booking, l.look, l.arranged)
	if err != nil {
		return err
	}
	l.arranged, l.job = f.arranged, &f.job
	l.plan, err = f.made()
	return err
}

// crew are the people chosen; the booked washer, else the first who washes, when none are.
func (l layout) crew() ([]hand, error) {
	ids := l.arranged.People
	if len(ids) == 0 && l.view.Booking.WasherID != nil {
		ids = []string{*l.view.Booking.WasherID}
	}
	var team []hand
	for i, id := range ids {
		if slices.Contains(ids[:i], id) {
			continue // named twice, there once
		}
		at := slices.IndexFunc(l.hands, func(h hand) bool { return h.person.ID == id })
		if at < 0 {
			return nil, invalid("people", fmt.Errorf("%s does not wash here: choose washers, trainees or the lead", id))
		}
		team = append(team, l.hands[at])
	}
	if len(team) == 0 {
		at := max(0, slices.IndexFunc(l.hands, func(h hand) bool { return h.person.Role == shop.Washer }))
		team = append(team, l.hands[at])
	}
	return team, nil
}

// problem is the plan as work for the team, with what was moved by hand.
func (l layout) problem(team []hand) (schedule.Problem, error) {
	p := schedule.Problem{Machines: l.kit}
	for _, h := range team {
		p.People = append(p.People, h.as)
	}
	p.Work, p.Lags = crew.Work(l.plan, "", len(team))
	if err := l.stand(&p, team); err != nil {
		return p, err
	}
	p.Equip()
	for _, m := range l.arranged.Moved {
		at := slices.IndexFunc(p.Work, func(w schedule.Work) bool { return w.ID == m.Work })
		if at < 0 {
			continue // the plan no longer has it
		}
		p.Work[at].NotBefore = m.NotBefore
		if m.Person == "" {
			continue
		}
		who := slices.IndexFunc(team, func(h hand) bool { return h.person.ID == m.Person })
		if who < 0 {
			return p, invalid("moved", fmt.Errorf("%s: who is to do it is not in the crew", m.Work))
		}
		p.Work[at].Only = []string{team[who].as.ID}
	}
	return p, nil
}

// stand puts who stands beside the trainee into the work, if the lead arranged it so.
func (l layout) stand(p *schedule.Problem, team []hand) error {
	b := l.arranged.Beside
	if b == nil {
		return nil
	}
	at := slices.IndexFunc(l.hands, func(h hand) bool { return h.person.ID == b.Trainer })
	if at < 0 {
		return invalid("beside", fmt.Errorf("nobody who washes here has this id"))
	}
	if err := b.Check(p.Work, team[0].as, l.hands[at].as); err != nil {
		return invalid("beside", err)
	}
	p.Machines = append(slices.Clone(p.Machines), b.Machine(l.hands[at].as.Name))
	b.Stand(p.Work, team[0].as)
	return nil
}

// spread is how an activity varies: by its stage's own times where there are enough, else by who does it.
func (l layout) spread(team []hand) func(schedule.Work, string) schedule.Spread {
	stage, trainee := map[string]string{}, map[string]bool{}
	for _, s := range l.plan.Steps {
		stage[s.ID] = s.Stage
	}
	for _, h := range team {
		trainee[h.person.ID] = h.person.Role == shop.Trainee
	}
	return func(w schedule.Work, who string) schedule.Spread {
		common := schedule.Practised
		if trainee[who] {
			common = schedule.Learning
		}
		if own, known := l.spreads[stage[w.Step]]; known {
			common.Mean, common.CV = own.Mean, own.CV
		}
		return common
	}
}

// solve lays the wash out and foretells it.
func (l layout) solve(effort, runs int) (TimelineView, error) {
	team, err := l.crew()
	if err != nil {
		return TimelineView{}, err
	}
	p, err := l.problem(team)
	if err != nil {
		return TimelineView{}, err
	}
	t, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: effort, Stop: l.stop})
	if err != nil {
		return TimelineView{}, err
	}
	return l.show(p, t, team, runs), nil
}

func (l layout) show(p schedule.Problem, t schedule.Timeline, team []hand, runs int) TimelineView {
	view := TimelineView{Timeline: t, Turns: map[string]string{}, Titles: map[string]string{}, Product: l.plan.Cost,
		Procedure: l.plan.Procedure, Arranged: l.arranged, Version: l.view.Booking.Version, Late: []string{}, Wet: []plan.WetFault{}}
	if l.job != nil {
		view.Wet = wet.WetFaults(l.plan, p.Work, t, *l.job)
		view.Spots = wet.Spots(l.plan, p.Work, t, *l.job)
	}
	for _, h := range team {
		view.Crew = append(view.Crew, ref(h.person))
	}
	for _, w := range p.Work {
		view.NoOverlap += w.Seconds * measure.Seconds(cmp.Or(team[0].as.Pace, 100)) / 100
		if how := crew.Turns(p, t, w.Step); how != "" {
			view.Turns[w.Step] = how
		}
	}
	for _, s := range l.plan.Steps {
		view.Titles[s.ID] = s.Title
		if s.Dwell != nil && !s.Dwell.Each {
			view.NoOverlap += s.Dwell.From
		}
	}
	view.Labour, view.Unpaid = t.Labour(l.settings.Labour), l.settings.Labour == 0
	if t.Feasible {
		promise := schedule.Foretell(p, t, l.spread(team), runs, 1)
		if wet.Dries(view.Wet) {
			promise.Overrun = 1
		}
		view.Promise = &promise
	}
	return view
}

func (s *server) timeline(ctx context.Context, in *struct {
	ID
	Body plan.Arranged
}) (*Out[TimelineView], error) {
	l, err := s.gather(ctx, in.ID.ID, in.Body)
	if err != nil {
		return nil, err
	}
	view, err := l.solve(quickEffort, promiseRuns)
	view.Zero = day.Begins(s.Now(), l.view.Booking.ArrivesAt, l.view.Booking.StartsAt).UTC()
	view.Late = l.warned(view)
	return &Out[TimelineView]{view}, err
}

// warned is what will be late or dry on a wash that is laid out; nothing when some dwell cannot be kept at all.
func (l layout) warned(view TimelineView) []string {
	if view.Promise == nil {
		return []string{}
	}
	return view.Promise.Warnings(view.Timeline, measure.SecondsOf(l.view.Booking.PromisedAt.Sub(view.Zero)))
}

func (s *server) arrange(ctx context.Context, in *struct {
	ID
	Body struct {
		Version  int           `json:"version" minimum:"1"`
		Arranged plan.Arranged `json:"arranged"`
	}
}) (*Out[BookingCard], error) {
	in.Body.Arranged.AsNow = false // a way of looking at it, not of doing it
	l, err := s.gather(ctx, in.ID.ID, in.Body.Arranged)
	if err != nil {
		return nil, err
	}
	team, err := l.crew()
	if err != nil {
		return nil, err
	}
	if _, err := l.problem(team); err != nil {
		return nil, err
	}
	if err := s.Store.Arrange(ctx, in.ID.ID, in.Body.Arranged, in.Body.Version); err != nil {
		return nil, err
	}
	return s.bookingCard(ctx, in.ID.ID)
}

func (s *server) whatIf(ctx context.Context, in *struct {
	ID
	Body plan.Arranged
}) (*Out[[]WhatIf], error) {
	done, err := s.heavy(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	l, err := s.gather(ctx, in.ID.ID, in.Body)
	if err != nil {
		return nil, err
	}
	team, err := l.crew()
	if err != nil {
		return nil, err
	}
	ways := []WhatIf{}
	for _, o := range mend.Others(l.plan, l.look.Place, hired(team), hired(l.spare(team)), l.kit, l.worthDropping(team)) {
		way, err := s.tryOtherwise(ctx, l, o)
		if err != nil {
			return nil, err
		}
		if way != nil {
			ways = append(ways, *way)
		}
	}
	return out(ways)
}

// tryOtherwise lays a wash out in another way; nothing where it cannot be filled so.
func (s *server) tryOtherwise(ctx context.Context, l layout, o mend.Otherwise) (*WhatIf, error) {
	other := l
	other.arranged, other.kit = o.Take(l.arranged), slices.Clone(l.kit)
	if at := slices.IndexFunc(other.kit, func(m schedule.Machine) bool { return m.Key() == o.OneMore }); at >= 0 {
		other.kit[at].Count++
	}
	if o.Shade {
		other.look.Place.Cover = climate.InShade
	}
	if (o.Shade || o.Without != "") && s.replan(ctx, &other) != nil {
		return nil, nil
	}
	view, err := other.solve(sideEffort, sideRuns)
	if err = cmp.Or(err, ctx.Err()); err != nil {
		return nil, err
	}
	way := WhatIf{Name: o.Says, Feasible: view.Timeline.Feasible, Finish: view.Timeline.Finish, Cost: view.Product + view.Labour,
		Why: view.Timeline.Why}
	if view.Promise != nil {
		way.P80, way.Overrun = view.Promise.P80, view.Promise.Overrun
	}
	if o.Takeable {
		way.Arranged = &other.arranged
	}
	return &way, nil
}

// spare are the people who are not in a crew.
func (l layout) spare(team []hand) []hand {
	return slices.DeleteFunc(slices.Clone(l.hands), func(h hand) bool {
		return slices.ContainsFunc(team, func(c hand) bool { return c.person.ID == h.person.ID }) ||
			h.person.Role != shop.Washer && h.person.Role != shop.Trainee
	})
}

func hired(hands []hand) []mend.Hand {
	list := make([]mend.Hand, len(hands))
	for i, h := range hands {
		list[i] = mend.Hand{ID: h.person.ID, Name: h.as.Name, Trainee: h.person.Role == shop.Trainee}
	}
	return list
}

// worthDropping is the step worth leaving out by a quick timeline; nil for none.
func (l layout) worthDropping(team []hand) *plan.Drop {
	p, err := l.problem(team)
	if err != nil {
		return nil
	}
	t, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 1})
	if err != nil {
		return nil
	}
	return mend.WorthDropping(l.plan, t)
}

// washTimeline lays out the rest of a running wash.
func (s *server) washTimeline(ctx context.Context, in *ID) (*Out[TimelineView], error) {
	w, err := s.Store.Wash(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	events, err := s.Store.Events(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	if err := seesTimes(who(ctx), w, events); err != nil {
		return nil, err
	}
	l := layout{plan: w.Plan, stop: until(ctx)}
	if l.view, err = s.Store.Booking(ctx, w.BookingID); err != nil {
		return nil, err
	}
	if l.settings, _, err = s.Store.Settings(ctx); err != nil {
		return nil, err
	}
	hands, known, err := s.hands(ctx)
	if err != nil {
		return nil, err
	}
	l.hands, l.spreads, l.kit = hands, known.spreads, l.settings.Kit()
	state := wash.Fold(w.Steps(), events)
	l.arranged, l.arranged.People = w.Frozen.Arranged, nil
	for _, id := range crewOf(w, state, events) {
		id = state.Heir(id)
		if !slices.Contains(l.arranged.People, id) {
			l.arranged.People = append(l.arranged.People, id)
		}
	}
	view, err := s.rest(l, w, state)
	return &Out[TimelineView]{view}, err
}

// rest plans what is left of a wash. Whoever washes may do all of it: they have begun, and somebody signed off stands
// beside where it is needed.
func (s *server) rest(l layout, w store.Wash, state wash.State) (TimelineView, error) {
	team, err := l.crew()
	if err != nil {
		return TimelineView{}, err
	}
	zero := cmp.Or(state.Started, w.CreatedAt).UTC()
	since := func(t time.Time) measure.Seconds { return measure.SecondsOf(t.Sub(zero)) }
	p := schedule.Problem{Machines: l.kit}
	for _, h := range team {
		p.People = append(p.People, h.as)
	}
	lay := func(done map[string]crew.Progress, now measure.Seconds, near *schedule.Timeline) (schedule.Timeline, error) {
		p.Work, p.Lags = crew.Rest(l.plan, "", len(team), done, now)
		p.Equip()
		if len(team) == 1 {
			for i := range p.Work {
				p.Work[i].Skill = ""
			}
		}
		return schedule.Solve(p, schedule.Options{Seed: 1, Effort: sideEffort, Near: near, Stop: l.stop})
	}
	asPlanned, err := s.asPlanned(w.ID, p, func() (schedule.Timeline, error) { return lay(nil, 0, nil) })
	if err != nil {
		return TimelineView{}, err
	}
	t, err := lay(progress(state, team, since), since(s.Now()), &asPlanned)
	if err != nil {
		return TimelineView{}, err
	}
	view := l.show(p, t, team, sideRuns)
	view.Zero = zero
	view.Late = append(l.warned(view), t.Why...)
	return view, nil
}

// asPlanned is a running wash as it was laid out before anything happened: the same at every tap.
func (s *server) asPlanned(
	washID string,
	p schedule.Problem,
	lay func() (schedule.Timeline, error),
) (schedule.Timeline, error) {
	key, err := keyOf(washID, p.People, p.Machines)
	if err != nil {
		return schedule.Timeline{}, err
	}
	if t, known := s.begun.find(key); known {
		return t, nil
	}
	t, err := lay()
	if err == nil {
		s.begun.keep(key, t)
	}
	return t, err
}

// progress is what has happened to each step, as the schedule knows it.
func progress(state wash.State, hands []hand, since func(time.Time) measure.Seconds) map[string]crew.Progress {
	done := map[string]crew.Progress{}
	for _, step := range state.Steps {
		d := crew.Progress{Started: since(step.Started)}
		if at := slices.IndexFunc(hands, func(h hand) bool { return h.person.ID == step.By }); at >= 0 {
			d.Who = hands[at].as.ID
		}
		switch step.Status {
		case wash.Waiting:
			continue
		case wash.Skipped:
			d.Skipped = true
		case wash.Ended:
			d.Ended = max(since(step.Ended), d.Started)
			if d.Ended == 0 {
				d.Ended = 1
			}
		}
		done[step.ID] = d
	}
	return done
}
