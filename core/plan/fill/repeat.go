package fill

import (
	"fmt"
	"slices"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
)

// mostTimes is how often a step repeats itself at most: beyond that nobody gets to anything else (model).
const mostTimes = 8

// repeated adds a step and, where it repeats itself, puts it once more before earlier ones, as often as what it wets would
// dry before the next of them is done. What may dry by the school chosen waits for the step itself.
func (f *filler) repeated(stage procedure.Stage, s procedure.Step) error {
	restore, last := f.asItWas(), len(f.plan.Steps)
	if err := f.add(stage, s); err != nil || !s.Repeats || f.part != nil || len(f.plan.Steps) == last {
		return err
	}
	own := f.plan.Steps[last]
	from := f.firstWetted(own.Rewets)
	if from < 0 || own.Dwell == nil || own.Unlikely() {
		return nil
	}
	usable := min(own.Dwell.Full, measure.Seconds(float64(own.Dwell.Window)*dryingMargin))
	again := max(0, usable-f.until(&own, s, s).longest)
	places := f.wetPlaces(from, last, f.plan.Steps[from].Dwell.CoverBy, again)
	if len(places) == 0 {
		return nil
	}
	restore()
	f.plan.Steps, f.activities = f.plan.Steps[:last], f.activities[:last]
	return f.addTimes(stage, s, places, own.Dwell, again)
}

// addTimes adds a step before some places and at the end, each wetting what the one before has wetted.
func (f *filler) addTimes(stage procedure.Stage, s procedure.Step, places []int, dwell *plan.Dwell, again measure.Seconds) error {
	of := len(places) + 1
	var ids []string
	for k := range of {
		now := s
		now.Rewets = append(slices.Clone(s.Rewets), ids...)
		now.Title = fmt.Sprintf("%s, %d of %d", s.Title, k+1, of)
		if k < len(places) {
			now.ID, now.Act = fmt.Sprintf("%s%s%d", s.ID, plan.PartSign, k+1), ""
		}
		if err := f.add(stage, now); err != nil {
			return err
		}
		ids = append(ids, now.ID)
		if k == len(places) {
			break
		}
		step := f.lastStep()
		held := *dwell
		held.CoverBy = again
		step.Base, step.Whole, step.Dwell = s.ID, s.Title, &held
		f.moveLast(places[k] + k)
	}
	f.expanded[s.ID] = ids
	for i := range f.plan.Steps {
		f.activities[i] = activity(f.plan.Steps[i], f.plan.Steps[:i+1])
	}
	return nil
}

func (f *filler) lastStep() *plan.FilledStep { return &f.plan.Steps[len(f.plan.Steps)-1] }

// moveLast takes the last step to an earlier place.
func (f *filler) moveLast(to int) {
	step := *f.lastStep()
	f.plan.Steps = slices.Insert(f.plan.Steps[:len(f.plan.Steps)-1], to, step)
}

// firstWetted is where the first of some products is put on that must not dry until it is wetted; -1 for none.
func (f *filler) firstWetted(ids []string) int {
	return slices.IndexFunc(f.plan.Steps, func(t plan.FilledStep) bool {
		return slices.Contains(ids, t.ID) && t.Dwell != nil && !t.Dwell.MayDry && !t.Unlikely()
	})
}

// wetPlaces are the steps before which a product is wetted again, from the step that put it on to the one that is last:
// each as late as may be. A step that lasts longer than the film stays wet is begun wet.
func (f *filler) wetPlaces(from, last int, within, again measure.Seconds) []int {
	var places []int
	dry := measure.Seconds(0)
	for i := from + 1; i < last && len(places) < mostTimes-1; i++ {
		s := f.plan.Steps[i]
		if s.Unlikely() {
			continue
		}
		lasts := measure.Seconds(s.Minutes * 60)
		if dry > 0 && dry+lasts > within {
			places, dry, within = append(places, i), 0, again
		}
		dry += lasts
	}
	return places
}
