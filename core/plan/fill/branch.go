package fill

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/wash"
)

// branch says what a step asks, if anything hangs on it here, and on which answer it hangs itself. A step that hangs on
// a question nobody asks here is done or not as the question's author expected.
func (f *filler) branch(step *plan.FilledStep, s procedure.Step) {
	hangs := func(t procedure.Step) bool { return t.If != nil && t.If.Step == s.ID }
	if s.Asks != nil && slices.ContainsFunc(f.all, hangs) {
		step.Asks = &wash.Asked{Text: s.Asks.Text, Expect: s.Asks.Expected()}
	}
	if s.If == nil {
		return
	}
	b := &wash.OnAnswer{Steps: f.refs([]string{s.If.Step}), Says: s.If.Says}
	at := slices.IndexFunc(f.all, func(t procedure.Step) bool { return t.ID == s.If.Step && t.Asks != nil })
	expects := procedure.SaysNo
	if at >= 0 {
		b.Text, expects = f.all[at].Asks.Text, f.all[at].Asks.Expected()
	}
	b.Expected = expects == b.Says
	step.If = b
}

// asItWas gives back what a plan had come to, so that a step it does not count with changes nothing: no grit taken off,
// no cost, no water.
func (f *filler) asItWas() func() {
	soil, covered, washed, beaded := maps.Clone(f.soil), maps.Clone(f.covered), maps.Clone(f.washed), maps.Clone(f.beaded)
	vessels, spent, water := maps.Clone(f.vessels), f.spent, maps.Clone(f.water)
	harm, left, contacted, was, bucket := f.harm, f.left, f.contacted, f.plan, f.bucket
	return func() {
		f.soil, f.covered, f.washed, f.beaded = soil, covered, washed, beaded
		f.harm, f.left, f.contacted, f.vessels, f.spent, f.water = harm, left, contacted, vessels, spent, water
		f.bucket = bucket
		steps := f.plan.Steps
		f.plan = was
		f.plan.Steps = steps
	}
}

// planned are the activities without some steps. What another would have taken off or wetted stays out of them, too.
func (f *filler) planned(without []string) []schedule.Activity {
	if len(without) == 0 {
		return f.activities
	}
	out := func(id string) bool { return slices.Contains(without, id) }
	var list []schedule.Activity
	for _, a := range f.activities {
		if out(a.ID) {
			continue
		}
		a.Ends, a.Rewets, a.Over = kept(a.Ends, out), kept(a.Rewets, out), kept(a.Over, out)
		list = append(list, a)
	}
	return list
}

func kept(ids []string, out func(string) bool) []string {
	return slices.DeleteFunc(slices.Clone(ids), out)
}

// outcomes are the plan's questions, each with both outcomes.
func (f *filler) outcomes() []plan.Outcome {
	var all []plan.Outcome
	for _, s := range f.plan.Steps {
		if s.Asks == nil || slices.ContainsFunc(all, func(o plan.Outcome) bool { return o.Step == s.Origin() }) {
			continue
		}
		all = append(all, f.outcome(s))
	}
	return all
}

func (f *filler) outcome(asks plan.FilledStep) plan.Outcome {
	o := plan.Outcome{Step: asks.Origin(), Text: asks.Asks.Text, Expect: asks.Asks.Expect, Adds: []string{}}
	minutes := func(answer procedure.YesOrNo) float64 {
		var without []string
		for _, s := range f.plan.Steps {
			hangs := s.If != nil && f.baseOf(s.If.Steps) == o.Step
			if hangs && s.If.Says != answer || !hangs && s.Unlikely() {
				without = append(without, s.ID)
			}
			if title := cmp.Or(s.Whole, s.Title); hangs && !s.If.Expected && !slices.Contains(o.Adds, title) {
				o.Adds = append(o.Adds, title)
			}
		}
		return math.Round(schedule.OnePerson(f.planned(without)).Minutes*10) / 10
	}
	o.Yes, o.No = minutes(procedure.SaysYes), minutes(procedure.SaysNo)
	return o
}

// baseOf is the procedure's step that some steps of the plan were made from.
func (f *filler) baseOf(ids []string) string {
	for _, s := range f.plan.Steps {
		if slices.Contains(ids, s.ID) {
			return s.Origin()
		}
	}
	return ""
}
