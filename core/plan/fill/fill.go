// Package fill makes a plan of a procedure and a job: which steps apply and why, zones, millilitres, dwell shortened by
// the drying window, panels before the mitt and the car are rinsed, minutes, cautions.
package fill

import (
	"fmt"
	"maps"
	"math"
	"runtime"
	"slices"
	"sync"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// Resolve fills a procedure for a job. A procedure that would do harm or cannot be done here gives a
// *Refusal.
func Resolve(p procedure.Procedure, job plan.Job) (plan.Plan, error) {
	f, err := fill(p, newSite(job))
	if err != nil {
		return plan.Plan{}, err
	}
	return f.plan, nil
}

// Filled is a procedure filled for a job, and the facts that its conditions ask about; or why it was refused, a *Refusal.
type Filled struct {
	Plan  plan.Plan
	Facts condition.Facts
	Err   error
}

// All fills every procedure, shared out over the processors there are. Each worker has a site of its own, so that
// nothing is shared but the job, and the result does not depend on who comes first.
func All(procedures []procedure.Procedure, job plan.Job) []Filled {
	all := make([]Filled, len(procedures))
	workers := min(runtime.GOMAXPROCS(0), (len(procedures)+3)/4)
	var working sync.WaitGroup
	for w := range workers {
		working.Go(func() {
			at := newSite(job)
			for i := w; i < len(procedures); i += workers {
				f, err := fill(procedures[i], at)
				if all[i].Err = err; err == nil {
					all[i].Plan, all[i].Facts = f.plan, f.facts
				}
			}
		})
	}
	working.Wait()
	return all
}

// Facts are everything a condition of the procedure may ask about one job, disagreements settled.
func Facts(p procedure.Procedure, job plan.Job) condition.Facts {
	return newFiller(p, newSite(job)).facts
}

func fill(p procedure.Procedure, at *site) (*filler, error) {
	f, job := newFiller(p, at), at.job
	var refused []string
	for _, e := range p.Entry {
		if !e.Rule.Holds(f.facts) {
			refused = append(refused, fmt.Sprintf("%s (%s)", e.Refusal, e.Rule.Why(f.facts)))
		}
	}
	if len(refused) > 0 {
		return nil, &plan.Refusal{Reasons: refused}
	}
	f.all = slices.DeleteFunc(p.Steps(), func(s procedure.Step) bool {
		return job.Arranged.LeavesOut(p.ID, s.ID) || !s.When.Holds(f.facts)
	})
	if hard := f.jetTooHard(); hard != "" {
		return nil, &plan.Refusal{Reasons: []string{hard}}
	}
	f.rounds = map[string]bool{}
	for _, r := range p.Rounds {
		f.rounds[r.ID] = r.When.Holds(f.facts)
	}
	f.shareAims(f.all)
	if err := f.steps(p); err != nil {
		return nil, &plan.Refusal{Reasons: []string{err.Error()}}
	}
	f.leftOver()
	f.leftIn()
	f.plan.Costs = f.costs()
	f.plan.Line = schedule.OnePerson(f.planned(f.plan.Unlikely()))
	f.plan.Minutes = math.Round(f.plan.Line.Minutes*10) / 10
	f.plan.Branches = f.outcomes()
	f.plan.Drop = []plan.Drop{}
	if b := at.service.There(job.LookOver.Budget); b > 0 {
		f.plan.Drop = f.plan.Drops(float64(b))
	}
	f.warn()
	return f, nil
}

// steps fills every step in order; those of a round together.
func (f *filler) steps(p procedure.Procedure) error {
	var run []placed // the steps of the round that is being read
	round := procedure.Round{}
	end := func() error {
		steps := run
		run = nil
		if len(steps) == 0 {
			return nil
		}
		return f.run(round, steps)
	}
	for _, stage := range p.Stages {
		for _, s := range stage.Steps {
			if s.Round != round.ID {
				if err := end(); err != nil {
					return err
				}
				round, _ = p.Round(s.Round)
			}
			switch out := f.leftOut(p.ID, stage, s); {
			case out != nil:
				f.plan.Out = append(f.plan.Out, *out)
			case s.Round != "":
				run = append(run, placed{stage, s})
			default:
				if err := f.repeated(stage, s); err != nil {
					return err
				}
			}
		}
	}
	return end()
}

// leftOut is why a step is not in the plan; nil when it is.
func (f *filler) leftOut(procedure string, stage procedure.Stage, s procedure.Step) *plan.LeftOut {
	switch {
	case f.job.Arranged.LeavesOut(procedure, s.ID):
		return &plan.LeftOut{ID: s.ID, Stage: stage.Title, Title: s.Title, Because: plan.ByTheLead, ByLead: true}
	case !s.When.Holds(f.facts):
		return &plan.LeftOut{ID: s.ID, Stage: stage.Title, Title: s.Title, Because: "Left out: " + s.When.Why(f.facts) + ".", ByLead: false}
	}
	return nil
}

type filler struct {
	*site
	facts      condition.Facts // the job's, and how this procedure settles what is disagreed on
	soil       map[vehicle.Zone]contact.Soil
	vessels    map[string]vessel            // those that were filled, by what is in them
	spent      float64                      // on product, minor units
	harm, left float64                      // of all contact steps: drag over the scales of the paint; mg left
	bucket     measure.Celsius              // of the rinse bucket; that of the tap until one is filled warm
	covered    map[vehicle.Zone]contact.Act // whose product is still on a zone
	aims       map[string]float64           // by contact step: its share of the plan's scratch risk
	part       *plan.RoundPart              // of the round that is being filled
	all        []procedure.Step             // those that apply
	rounds     map[string]bool              // the rounds that are done part by part here
	only       map[vehicle.Zone]bool        // the zones of that part; all when nil
	expanded   map[string][]string          // by step of the procedure: the steps that a round made from it
	beaded     map[vehicle.Zone]bool        // the first pre-wash has been: beading paint let go more easily
	washed     map[vehicle.Zone]bool
	water      map[vehicle.Zone]float64 // g/m2 that lies on a zone
	contacted  bool                     // the paint has been touched
	plan       plan.Plan
	activities []schedule.Activity
}

func newFiller(p procedure.Procedure, at *site) *filler {
	job, a := at.job, at.assessed
	f := &filler{site: at, facts: maps.Clone(at.facts), soil: maps.Clone(at.soiled), washed: map[vehicle.Zone]bool{},
		covered: map[vehicle.Zone]contact.Act{}, beaded: map[vehicle.Zone]bool{}, expanded: map[string][]string{},
		vessels: map[string]vessel{}, water: map[vehicle.Zone]float64{}}
	foam := f.foamWorks(p, f.driest(procedure.Outside, climate.FoamFilm).window)
	f.facts[condition.FoamOutlasts] = condition.YesOrNo(float64(foam) > walked*float64(f.wheelsUnderFoam(p)))
	f.plan = plan.Plan{
		Air:       job.Weather.Air,
		Buckets:   job.Buckets,
		Suds:      f.driest(procedure.Outside, climate.SudsFilm).window,
		Procedure: p.ID,
		Family:    p.Family,
		Version:   p.Version,
		Title:     p.Title,
		Out:       []plan.LeftOut{},
		Steps:     []plan.FilledStep{},
		Undone:    []vehicle.Zone{},
		Settled:   p.Relevant(procedure.Settle(f.facts, job.LookOver.Pins, p.Pins, job.Pins)),
		Scope:     a.Scope,
		OutScope:  a.OutScope,
		Ordered:   at.service,
		Overall:   a.Overall,
		Warnings:  []string{},
	}
	return f
}

func (f *filler) add(stage procedure.Stage, s procedure.Step) error {
	step := plan.FilledStep{
		ID:         s.ID,
		Stage:      stage.Title,
		Title:      s.Title,
		Text:       s.Text,
		Technique:  s.Technique,
		Tool:       s.Tool,
		Cloth:      s.Cloth,
		Colour:     marked(f.job, s.Cloth, s.Colour),
		Machine:    s.Machine,
		Ends:       f.refs(s.Ends),
		Rewets:     f.refs(s.Rewets),
		After:      f.refs(s.After),
		Part:       f.part,
		PerWheel:   s.Time.PerWheel > 0,
		Unattended: s.Time.Unattended,
		Fresh:      s.Fresh,
		Water:      s.Water,
		Class:      s.Class,
		Group:      s.Zones,
		Skill:      s.Skill,
		Cautions:   f.cautions(s),
		LookFor:    s.LookFor,
		Opens:      s.Opens,
		Closes:     s.Closes,
		Zones:      []vehicle.Zone{},
		Figures:    []plan.Figure{},
	}
	if during := f.refs([]string{s.During}); s.During != "" && len(during) > 0 {
		step.During = during[0]
	}
	if f.part != nil {
		step.ID, step.Base, step.Whole = s.ID+plan.PartSign+f.part.Key, s.ID, s.Title
		step.Title = s.Title + ", " + f.part.Label
		step.PerWheel = false
		f.expanded[s.ID] = append(f.expanded[s.ID], step.ID)
	}
	for _, p := range f.parts {
		if f.on(s, p) {
			step.Zones = append(step.Zones, p.Zone)
			step.Area += p.Area
		}
	}
	step.Area = math.Round(step.Area*100) / 100
	for _, saying := range s.Says {
		if saying.When.Holds(f.facts) {
			step.Text += " " + saying.Text
		}
	}
	if s.Class != "" {
		step.Product = string(s.Class)
		if p, ok := f.product(s.Class, s.Product); ok {
			step.Product, step.ProductID = p.Name, p.ID
			if p.Cautions != "" {
				step.Cautions = append(step.Cautions, p.Name+": "+p.Cautions)
			}
		}
	}
	f.branch(&step, s)
	if step.Unlikely() {
		defer f.asItWas()()
	}
	out, err := f.label(&step, s)
	if err != nil {
		return err
	}
	if out != "" {
		f.forget(s.ID, step.ID)
		f.plan.Out = append(f.plan.Out, plan.LeftOut{ID: step.ID, Stage: stage.Title, Title: step.Title, Because: out, ByLead: false})
		return nil
	}
	step.Because = s.Reason
	if !s.When.Always() {
		step.Because = fmt.Sprintf("Because %s. %s", s.When.Why(f.facts), s.Reason)
	}
	if !s.Touches() { // a contact step's minutes follow from its plan
		f.minutes(&step, s)
	}
	step.Way = f.wayOf(s)
	f.contacted = f.contacted || s.Touches()
	if s.Dose != nil {
		f.mix(&step, s)
	}
	f.neat(&step, s)
	f.addWater(&step, s)
	if s.Dwell != nil {
		f.dwell(&step, s)
	}
	f.wash(step, s)
	f.drawn(&step, s)
	f.rinsedWet(&step, s)
	if err := f.touch(&step, s); err != nil {
		return err
	}
	f.plan.Steps = append(f.plan.Steps, step)
	f.activities = append(f.activities, activity(step, f.plan.Steps))
	return nil
}

// activity is a step for one person's timeline, with the steps up to it.
func activity(s plan.FilledStep, steps []plan.FilledStep) schedule.Activity {
	a := schedule.Activity{
		ID:      s.ID,
		Title:   s.Title,
		Minutes: s.Minutes,
		Machine: s.Machine,
		Ends:    s.Ends,
		Rewets:  s.Rewets,
	}
	for i := range steps {
		if plan.Brushes(steps, &steps[i], &s) {
			a.Over = append(a.Over, steps[i].ID)
		}
	}
	if s.Dwell != nil && !s.Dwell.Each {
		a.Dwell = &schedule.Dwell{Min: s.Dwell.From.Minutes(), Max: s.Dwell.To.Minutes(), Label: s.Dwell.Full.Minutes()}
	}
	return a
}

// product is the one a step names, or the first of its class on the shelf.
func (f *filler) product(class procedure.ProductClass, id string) (shelf.Product, bool) {
	found, there := shelf.Product{}, false
	for _, p := range f.job.Shelf {
		if id != "" && p.ID == id {
			return p, true
		}
		if p.Class == class && !there {
			found, there = p, true
		}
	}
	return found, there
}
