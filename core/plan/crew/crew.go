// Package crew cuts a plan into work for people: pieces that can be shared, what must wait for what, and what is left of
// a wash that has begun.
package crew

import (
	"fmt"
	"slices"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// halvedFrom is how long a drying or finishing step must be for two people to take a side each (model).
const halvedFrom = 3 * measure.Minute

// puttingOn is how long the cleaner on one wheel takes to put on, part of the wheel's own time (docs/trade.md, section 7:
// spray cleaner 0.3 a wheel).
const puttingOn = 18 * measure.Second

// A wheel's time holds the walk to the next wheel, and where cleaner is put on and worked in, taking up the sprayer
// and the brush again. The timeline counts these apart (schedule.ChangeOver), so they are taken out of the wheel: one
// wheel after the other then lasts what the step lasts.
const (
	walkInside = 3 * measure.Second
	swapInside = 16 * measure.Second
)

// sides are the halves of a car that two people can take.
var sides = []schedule.Place{schedule.LeftSide, schedule.RightSide}

// Work cuts the plan into activities for a number of people, as a job with an id that also begins the activities' ids.
func Work(p plan.Plan, job string, people int) ([]schedule.Work, []schedule.Lag) {
	return workWithout(p, job, people, p.Unlikely())
}

// workWithout is the work without some steps: those that were skipped.
func workWithout(p plan.Plan, job string, people int, without []string) ([]schedule.Work, []schedule.Lag) {
	c := &cutter{job: job, people: people, buckets: p.Buckets, pieces: map[string][]piece{}}
	for _, s := range p.Steps {
		if !slices.Contains(without, s.ID) {
			c.steps = append(c.steps, s)
		}
	}
	for i := range c.steps {
		c.cut(&c.steps[i])
	}
	for j := range c.steps {
		for i := range j {
			if c.follows(i, j) {
				c.tie(&c.steps[i], &c.steps[j])
			}
		}
		c.end(&c.steps[j])
	}
	return c.work, c.lags
}

// piece is a part of a step on the timeline: its first and its last activity.
type piece struct{ first, last string }

type cutter struct {
	job     string
	people  int
	buckets int
	steps   []plan.FilledStep
	work    []schedule.Work
	lags    []schedule.Lag
	pieces  map[string][]piece // by step
}

// cut makes a step's activities: a wheel each, a part each where product would dry, a side each for two people, else
// one.
func (c *cutter) cut(s *plan.FilledStep) {
	total := measure.Seconds(s.Minutes*60 + 0.5)
	places := []schedule.Place{schedule.Around}
	switch {
	case s.Part != nil:
		places = []schedule.Place{s.Part.At}
	case s.PerWheel:
		places = plan.Corners
	case c.parts(s) > 1:
		places = make([]schedule.Place, c.parts(s))
	case c.people > 1 && total >= halvedFrom && halved(s) && bothSides(s.Zones):
		places = sides
	}
	for k, at := range places {
		length := total*measure.Seconds(
			k+1,
		)/measure.Seconds(
			len(places),
		) - total*measure.Seconds(k)/measure.Seconds(
			len(places),
		)
		w := schedule.Work{ID: c.id(s, k, len(places)), Title: titled(s.Title, at, k, len(places)), Step: s.ID,
			Whole: s.Title, Job: c.job, Seconds: length, Skill: string(s.Skill), At: at, Unattended: s.Unattended}
		if !s.Unattended {
			w.Seconds = max(w.Seconds, 1)
		}
		if len(places) == len(sides) && at != schedule.Around && s.Touches() {
			w.Seconds += c.queueing(s)
		}
		if s.Machine != "" {
			w.Uses = []string{s.Machine}
		}
		if s.Part != nil {
			w.Title, w.Tool = s.Title, s.Origin()
		}
		if s.Part != nil && s.Part.Over == procedure.OverWheels {
			w.Seconds = max(w.Seconds-walkInside, w.Seconds/2, 1)
		}
		if s.PerWheel {
			if s.Tool != "" {
				w.Tool = s.ID // what a step is done with is laid down for another step's
			}
			w.Seconds = max(w.Seconds-walkInside, w.Seconds/2, 1)
		}
		c.pieces[s.ID] = append(c.pieces[s.ID], c.rinsed(s, w))
	}
}

// queueing is what each of two people who wash a side waits at the only rinse bucket: at each rinse half a rinse, as often as
// the other is at it (model: a rinse comes at any moment of the other's).
func (c *cutter) queueing(s *plan.FilledStep) measure.Seconds {
	if c.buckets >= len(sides) || s.Minutes <= 0 {
		return 0
	}
	each, busy := s.Rinsing*60/float64(len(sides)), s.Rinsing/s.Minutes
	return measure.Seconds(each * busy / 2)
}

// halved reports whether two people can take a side each: each washes with a mitt of their own, dries or finishes.
func halved(s *plan.FilledStep) bool {
	return s.Touches() || s.Technique == procedure.Dry || s.Technique == procedure.Finish
}

// rinsing is how long the water runs at the end of a wheel that is brushed and rinsed in one step (docs/trade.md, section 7:
// wheel rinse 0.4 to 0.5 min).
const rinsing = 27 * measure.Second

// rinsed puts an activity in; where a wheel is brushed and then rinsed, the washer is busy only while water runs, at its
// end, so that two people can share it over four wheels.
func (c *cutter) rinsed(s *plan.FilledStep, w schedule.Work) piece {
	wheel := s.PerWheel || s.Part != nil && s.Part.Over == procedure.OverWheels
	if s.Technique != procedure.Agitate || !wheel || len(w.Uses) == 0 || w.Seconds < 3*rinsing {
		return c.add(s, w)
	}
	water := w
	water.ID, water.Title, water.Seconds = w.ID+"/rinse", "Rinse: "+w.Title, rinsing
	w.Uses, w.Seconds = nil, w.Seconds-rinsing
	w.Together, water.Together = w.ID, w.ID // whoever brushed it rinses it
	p := c.add(s, w)
	soon := rinsing
	c.work = append(c.work, water)
	c.lags = append(c.lags, schedule.Lag{From: p.last, To: water.ID, Max: &soon})
	return piece{p.first, water.ID}
}

// add puts an activity in; one that puts product on and works it in becomes two, so that the solver may put it on all
// round first where it stays wet long enough. In a round one wheel is done in one go.
func (c *cutter) add(s *plan.FilledStep, w schedule.Work) piece {
	if s.Dwell == nil || !s.Dwell.Each || s.Part != nil || w.Seconds < 2*puttingOn {
		c.work = append(c.work, w)
		return piece{w.ID, w.ID}
	}
	on := w
	on.ID, on.Title, on.Seconds, on.Uses, on.Tool = w.ID+"/on", "Cleaner on: "+w.Title, puttingOn, nil, s.ID+"/sprayer"
	w.Seconds = max(w.Seconds-puttingOn-swapInside, w.Seconds/2)
	c.work = append(c.work, on, w)
	wet := s.Dwell.To
	c.lags = append(c.lags, schedule.Lag{From: on.ID, To: w.ID, Max: &wet})
	return piece{on.ID, w.ID}
}

// parts is in how many parts a step is done because product would dry: its own, or those of the product that it takes
// off.
func (c *cutter) parts(s *plan.FilledStep) int {
	parts := 1
	if s.Dwell != nil {
		parts = max(1, s.Dwell.Sections)
	}
	for _, id := range s.Ends {
		if made := c.pieces[id]; len(made) > parts && !c.perWheel(id) {
			parts = len(made)
		}
	}
	return parts
}

func (c *cutter) perWheel(id string) bool {
	return slices.ContainsFunc(c.steps, func(s plan.FilledStep) bool { return s.ID == id && s.PerWheel })
}

func (c *cutter) id(s *plan.FilledStep, k, of int) string {
	id := s.ID
	if c.job != "" {
		id = c.job + ":" + id
	}
	if of > 1 {
		id += fmt.Sprintf("#%d", k+1)
	}
	return id
}

func titled(title string, at schedule.Place, k, of int) string {
	switch {
	case at != schedule.Around:
		return fmt.Sprintf("%s, %s", title, at)
	case of > 1:
		return fmt.Sprintf("%s, part %d of %d", title, k+1, of)
	}
	return title
}

func bothSides(zones []vehicle.Zone) bool {
	return slices.Contains(zones, vehicle.UpperLeft) && slices.Contains(zones, vehicle.UpperRight) ||
		slices.Contains(zones, vehicle.GlassLeft) && slices.Contains(zones, vehicle.GlassRight)
}

// tie orders two steps, piece by piece where both are cut alike.
func (c *cutter) tie(a, b *plan.FilledStep) {
	from, to := c.pieces[a.ID], c.pieces[b.ID]
	alike := len(from) == len(to) && len(from) > 1 && a.PerWheel == b.PerWheel
	least := measure.Seconds(0)
	if plan.Brushes(c.steps, a, b) {
		least = a.Dwell.From
	}
	for k := range from {
		for l := range to {
			if !alike || k == l {
				c.lags = append(c.lags, schedule.Lag{From: from[k].last, To: to[l].first, Min: least})
			}
		}
	}
}

// end holds the products that a step takes off to their dwells. Product that another is put over stays wet with it:
// then it must be covered in time, and its label alone ends it.
func (c *cutter) end(s *plan.FilledStep) {
	for _, a := range c.steps {
		if a.Dwell == nil || a.Dwell.Each || a.ID == s.ID {
			continue
		}
		covers := s.Dwell != nil && c.wetsFirst(s, a.ID)
		ends := slices.Contains(s.Ends, a.ID) && c.firstToEnd(a.ID) == s.Origin()
		if !covers && !ends {
			continue
		}
		low, high := a.Dwell.From, a.Dwell.To
		dries := max(high, min(a.Dwell.Full-a.Dwell.Strict(), a.Dwell.Window-a.Dwell.Spread))
		switch {
		case covers:
			low = 0
			if a.Dwell.CoverBy > 0 && !a.Dwell.MayDry {
				high = min(high, a.Dwell.CoverBy)
			}
		case c.covered(a.ID, s.ID):
			high = max(high, a.Dwell.Full-a.Dwell.Strict())
			dries = high
		}
		c.hold(c.pieces[a.ID], c.pieces[s.ID], schedule.Lag{Min: low, Max: &high, Limit: &dries, Cover: covers})
	}
}

// firstToEnd is the step of the procedure that takes a product off first; in a round all its parts do, each on its zones.
func (c *cutter) firstToEnd(id string) string {
	for _, s := range c.steps {
		if slices.Contains(s.Ends, id) {
			return s.Origin()
		}
	}
	return ""
}

// wetsFirst reports whether a step is the first to wet a product again, or one of a round's parts that are: what wets it
// later finds the dwell of that one.
func (c *cutter) wetsFirst(s *plan.FilledStep, id string) bool {
	for _, t := range c.steps {
		if t.Dwell != nil && slices.Contains(t.Rewets, id) {
			return t.ID == s.ID || t.Part != nil && s.Part != nil && t.Base == s.Base && slices.Contains(s.Rewets, id)
		}
	}
	return false
}

// covered reports whether a step before the one that takes product off puts other product over it.
func (c *cutter) covered(id, before string) bool {
	for _, s := range c.steps {
		if s.ID == before {
			return false
		}
		if s.Dwell != nil && slices.Contains(s.Rewets, id) {
			return true
		}
	}
	return false
}

// hold ties pieces by a dwell: piece by piece when cut alike, else all by the first put on and the last.
func (c *cutter) hold(on, off []piece, lag schedule.Lag) {
	for k := range on {
		for l := range off {
			if len(on) != len(off) || k == l {
				lag.From, lag.To = on[k].last, off[l].first
				c.lags = append(c.lags, lag)
			}
		}
	}
}

// follows says whether step j must wait for step i. In a round one part is finished before the next is begun; where there
// are more people than one, wheels and sides may be shared out, each to whoever is free.
func (c *cutter) follows(i, j int) bool {
	a, b := c.steps[i].Part, c.steps[j].Part
	if a == nil || b == nil || a.Round != b.Round || a.N == b.N {
		return follows(c.steps, i, j)
	}
	if c.people > 1 && (a.Over == procedure.OverWheels || a.Over == procedure.OverSides) {
		return false
	}
	return b.N == a.N+1 // and so on: the parts before have been waited for
}

// follows says whether step j must wait for step i, which the procedure has before it.
func follows(steps []plan.FilledStep, i, j int) bool {
	a, b := &steps[i], &steps[j]
	switch {
	case slices.Contains(b.After, a.ID) || b.During == a.ID || slices.Contains(b.Ends, a.ID) || slices.Contains(b.Rewets, a.ID):
		return true
	case leads(steps, i):
		// Nothing is begun before everything is laid out; the panels cool by themselves meanwhile.
		return !leads(steps, j) || a.Technique != procedure.Prepare
	case trails(steps, j):
		// Things are put away when the last step that may need one is done; the last look needs none of them.
		return a.Technique != procedure.Inspect
	case b.Technique == procedure.Inspect || a.Technique == procedure.Inspect:
		return true
	case a.Technique == procedure.Prepare:
		return j == neededFrom(steps, i)
	case b.Technique == procedure.Prepare:
		return false
	case a.Technique == procedure.Rinse || b.Technique == procedure.Rinse:
		// Rinse water runs over all that is below and beside it.
		return true
	case vehicle.Meet(a.Zones, b.Zones):
		return true
	case a.Technique == procedure.Dry || b.Technique == procedure.Dry:
		// Finishing waits for dry paint and dry tyres, drying for the washing.
		return true
	case onlyWheels(a) != onlyWheels(b):
		// What splashes off a wheel must not land on washed paint, nor a wheel's dirt come last on it: their order is
		// the procedure's, but product may go on the body before the wheels are done only where the procedure lets
		// wheels be done while it works.
		return true
	case a.Technique == procedure.Finish && b.Technique == procedure.Finish:
		return false
	}
	return len(a.Zones) == 0 || len(b.Zones) == 0
}

// leads reports whether a step belongs to setting up.
func leads(steps []plan.FilledStep, i int) bool {
	for _, s := range steps[:i+1] {
		if s.Technique != procedure.Prepare {
			return false
		}
	}
	return true
}

// trails reports whether a step belongs to putting away.
func trails(steps []plan.FilledStep, i int) bool {
	if steps[i].Technique != procedure.Prepare || leads(steps, i) {
		return false
	}
	for _, s := range steps[i:] {
		if s.Technique != procedure.Prepare && s.Technique != procedure.Inspect {
			return false
		}
	}
	return true
}

// neededFrom is the step that a preparation in mid-wash is for: a mix for the next touching of the paint, anything
// else for the next step that is no preparation.
func neededFrom(steps []plan.FilledStep, i int) int {
	for j := i + 1; j < len(steps); j++ {
		if steps[j].Touches() || steps[i].Mix == nil && steps[j].Technique != procedure.Prepare {
			return j
		}
	}
	return i + 1
}

// onlyWheels reports whether a step washes wheels and nothing else.
func onlyWheels(s *plan.FilledStep) bool {
	wheels := s.Group == procedure.AllWheels || s.Group == procedure.Rims || s.Group == procedure.Tyres
	return wheels && s.Technique != procedure.Finish && s.Technique != procedure.Dry
}

// Turns says how the timeline does a step that is cut into pieces with product on each: all round first and then
// taken off in the same order, one after the other, or something between; "" for other steps.
func Turns(p schedule.Problem, t schedule.Timeline, step string) string {
	type at struct{ on, off measure.Seconds }
	start, pieces := map[string]measure.Seconds{}, []at{}
	for _, s := range t.Slots {
		start[s.ID] = s.Start
	}
	for _, l := range p.Lags {
		from := slices.IndexFunc(p.Work, func(w schedule.Work) bool { return w.ID == l.From })
		if l.Max != nil && p.Work[from].Step == step && p.Work[from].At != schedule.Around {
			pieces = append(pieces, at{start[l.From], start[l.To]})
		}
	}
	if len(pieces) < 2 {
		return ""
	}
	slices.SortFunc(pieces, func(a, b at) int { return int(a.on - b.on) })
	most := 0
	for i, x := range pieces {
		open := 0
		for _, y := range pieces[:i+1] {
			if y.off > x.on {
				open++
			}
		}
		most = max(most, open)
	}
	switch most {
	case 1:
		return "one at a time"
	case len(pieces):
		return "all round first, then off in the same order"
	}
	return fmt.Sprintf("%d at a time", most)
}
