package demo

import (
	"math/rand"
	"time"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/shop"
	"uskel/core/wash"
	"uskel/store"
)

// What happens on the way of a wash, from dice of its own: since some weeks ago the yard looks before it dries; and now and then
// the brush at badges and edges is left out, and dirt stays in the front.
const (
	looksSince  = 24   // days ago
	lookedAt    = 0.85 // share of such looks that are made
	caught      = 0.14 // share of them that find something
	skipped     = "badges"
	skippedIn   = 0.10 // share of the washes that have the step
	dirtSkipped = 0.65 // share of those with dirt in the front
)

// onTheWay are the checks of a wash, by step.
func (l *loader) onTheWay(t story, made plan.Plan) map[string][]wash.Look {
	if t.ago > looksSince {
		return nil
	}
	lists := []audit.Checklist{beforeDrying()}
	return audit.Looks(lists, made, condition.Facts{condition.TraineeWashes: condition.YesOrNo(t.hand.Role == shop.Trainee)})
}

func beforeDrying() audit.Checklist {
	for _, c := range audit.Offered() {
		if c.At == audit.BeforeDrying {
			return c
		}
	}
	panic("no such list is offered")
}

func (l *loader) publishOnTheWay() error {
	return l.store.PublishChecklist(l.ctx, beforeDrying(), l.now.AddDate(0, 0, -looksSince-1))
}

// leavesOut reports whether a wash leaves the step out that is left out now and then.
func (l *loader) leavesOut(t story, at time.Time) bool {
	return l.days > newVersion && t.ago > 0 && t.hand.Role == shop.Washer &&
		rand.New(rand.NewSource(Seed-at.Unix())).Float64() < skippedIn
}

// besidesTaps puts into a wash's taps what was looked at on the way, and takes out the step that was left out.
func (l *loader) besidesTaps(t story, w store.Wash, events []wash.Event) []wash.Event {
	dice := rand.New(rand.NewSource(Seed + 7*w.CreatedAt.Unix()))
	out, steps := l.leavesOut(t, w.CreatedAt), map[string]wash.PlannedStep{}
	for _, s := range w.Steps() {
		steps[s.ID] = s
	}
	told := []wash.Event{}
	for _, e := range events {
		s := steps[e.Step]
		switch {
		case out && s.Base == "" && e.Step == skipped && e.Kind == wash.Start:
			e.Kind, e.Text = wash.Skip, "No time left."
		case out && s.Base == "" && e.Step == skipped:
			continue
		case e.Kind == wash.Start && t.ago > 0:
			told = append(told, looks(s, e, dice)...)
		}
		told = append(told, e)
	}
	return told
}

// looks are the looks before a step, each a few seconds after the other; what was found is put right.
func looks(s wash.PlannedStep, begun wash.Event, dice *rand.Rand) []wash.Event {
	var taps []wash.Event
	at := begun.At.Add(-2 * time.Minute)
	for i, look := range s.Looks {
		tap := wash.Event{Kind: wash.Checked, Step: s.ID, By: begun.By, Seq: 500 + 10*i}
		tap.Look = look.ID
		if dice.Float64() >= lookedAt {
			continue
		}
		if dice.Float64() < caught {
			tap.Found, tap.ID, tap.At = look.Finds[0], idFrom(dice), at.Truncate(time.Microsecond)
			taps = append(taps, tap)
			at = at.Add(measure.Seconds(20 + dice.Intn(25)).Duration())
			tap.Found, tap.Seq = "", tap.Seq+1
		}
		tap.ID, tap.At = idFrom(dice), at.Truncate(time.Microsecond)
		taps = append(taps, tap)
		at = at.Add(4 * time.Second)
	}
	return taps
}
