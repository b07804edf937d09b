package crew

import (
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/schedule"
)

// Progress is how far a step has come, in seconds from the timeline's zero.
type Progress struct {
	Started measure.Seconds
	Ended   measure.Seconds // 0 while it runs
	Skipped bool
	Who     string
}

// leastLeft is the share of its length that a step that runs over its time is taken to need still (model): it is not
// done, or it would have been tapped.
const leastLeft = 0.1

// Rest is the plan's work with what has happened held where it happened: done steps as they were, running ones to
// their likely end, skipped ones gone, and nothing else before now.
func Rest(p plan.Plan,
	job string,
	people int,
	done map[string]Progress,
	now measure.Seconds,
) ([]schedule.Work, []schedule.Lag) {
	var without []string
	if len(done) == 0 { // it has not begun: what is expected counts
		without = p.Unlikely()
	}
	for id, d := range done {
		if d.Skipped {
			without = append(without, id)
		}
	}
	work, lags := workWithout(p, job, people, without)
	for i := range work {
		w := &work[i]
		d, begun := done[w.Step]
		if !begun {
			w.NotBefore = now
			continue
		}
		w.Pinned = d.pin(work, i, now)
	}
	return work, lags
}

// pin is a piece of a step that has begun: the step's time is shared out over its pieces as they were planned.
func (d Progress) pin(work []schedule.Work, i int, now measure.Seconds) *schedule.Pinned {
	all, before := measure.Seconds(0), measure.Seconds(0)
	for k, w := range work {
		if w.Step == work[i].Step {
			if k < i {
				before += w.Seconds
			}
			all += w.Seconds
		}
	}
	end := d.Ended
	if end == 0 {
		end = max(d.Started+all, now+measure.Seconds(leastLeft*float64(all)))
	}
	at := func(share measure.Seconds) measure.Seconds {
		if all == 0 {
			return d.Started
		}
		return d.Started + (end-d.Started)*share/all
	}
	return &schedule.Pinned{Start: at(before), End: at(before + work[i].Seconds), Who: d.Who}
}
