package wash

import (
	"fmt"
	"math"
	"slices"
	"time"

	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/wrong"
)

// What a plan cannot know is seen in the work: an answer to a step's question, what was left open as a reminder, and
// where somebody is whose hands were too wet to tap.

// Asked is a question that a step asks of whoever washes.
type Asked struct {
	Text   string            `json:"text"`
	Expect procedure.YesOrNo `json:"expect" doc:"what the plan counts with"`
}

// OnAnswer makes a step depend on an answer.
type OnAnswer struct {
	Steps    []string          `json:"steps" doc:"steps that ask; one such answer is enough"`
	Text     string            `json:"text" doc:"what they ask"`
	Says     procedure.YesOrNo `json:"says" doc:"the answer after which it is done"`
	Expected bool              `json:"expected" doc:"the plan counts with it"`
}

// Mark is something left open as a reminder.
type Mark struct {
	Name string    `json:"name" example:"filler flap"`
	Step string    `json:"step" doc:"what left it open"`
	At   time.Time `json:"at"`
}

func (e Event) checkAnswer(steps []PlannedStep) error {
	at := slices.IndexFunc(steps, func(s PlannedStep) bool { return s.ID == e.Step })
	switch {
	case at < 0 || steps[at].Asks == nil:
		return wrong.At("step", "%q: it asks nothing", e.Step)
	case !slices.Contains(e.Says.Values(), string(e.Says)):
		return wrong.At("says", "%q: use yes or no", e.Says)
	}
	return nil
}

// unasked leaves out the steps that wait for an answer which was not given, and brings in those that it asks for. What
// was begun all the same goes on.
func (f *fold) unasked(steps []PlannedStep) {
	for i, planned := range steps {
		s := &f.state.Steps[i]
		if planned.If == nil || s.Status != Waiting {
			continue
		}
		said := slices.DeleteFunc(slices.Clone(planned.If.Steps), func(id string) bool { return f.answer(id) == "" })
		done := planned.If.Expected
		if len(said) > 0 {
			done = slices.ContainsFunc(said, func(id string) bool { return f.answer(id) == planned.If.Says })
		}
		if !done {
			s.Status, s.Unasked, s.Reason = Skipped, true, fmt.Sprintf("Only after %s to “%s”", planned.If.Says, planned.If.Text)
		}
	}
}

// asking are the questions that wait for an answer: of the steps in hand, and of the last that each has done. Later than
// that what was expected has come to pass.
func (f *fold) asking(steps []PlannedStep) {
	last := map[string]StepState{}
	for _, s := range f.state.Steps {
		if s.Status == Ended && !s.Ended.Before(last[s.By].Ended) {
			last[s.By] = s
		}
	}
	for i, planned := range steps {
		s := f.state.Steps[i]
		open := s.Status == Running || s.Status == Paused || s.Status == Ended && last[s.By].ID == s.ID
		if planned.Asks != nil && s.Answer == "" && open && f.state.Finished.IsZero() {
			f.state.Asking = append(f.state.Asking, s.ID)
		}
	}
}

func (f *fold) answer(step string) procedure.YesOrNo {
	if i, known := f.index[step]; known {
		return f.state.Steps[i].Answer
	}
	return ""
}

// mark keeps what a step leaves open, and takes away what it closes.
func (f *fold) mark(s *StepState, e Event) {
	for _, name := range f.plan[s.ID].Opens {
		f.shut(name)
		f.state.Open = append(f.state.Open, Mark{name, s.ID, e.At})
	}
	for _, name := range f.plan[s.ID].Closes {
		f.shut(name)
	}
}

func (f *fold) shut(name string) {
	f.state.Open = slices.DeleteFunc(f.state.Open, func(m Mark) bool { return m.Name == name })
}

// moved ends a step at about a moment and begins the next. Neither time was tapped, so neither tells anything of the work;
// dwells and promises go by them.
func (f *fold) moved(s *StepState, e Event) {
	if s.Status != Running && s.Status != Paused {
		return
	}
	f.done(s, e)
	s.Estimated = true
	if i, known := f.index[e.Next]; known && f.state.Steps[i].Status == Waiting {
		f.start(&f.state.Steps[i], e)
		f.state.Steps[i].Estimated = true
	}
}

// further notes that somebody's tap shows that the work is further on than another's step in hand: what takes its product
// off has begun.
func (f *fold) further(begun string, e Event) {
	for _, other := range f.state.Steps {
		if other.Status == Running && other.By != e.By && slices.Contains(f.plan[begun].Ends, other.ID) {
			f.ahead[other.ID] = e.At
		}
	}
}

const (
	// usualCV is how the length of a step varies of somebody practised, as a share of it (docs/models.md).
	usualCV = 0.15
	// oddsOut is how far out in that spread a step must be before its hand is asked where it is: one in a hundred takes
	// longer.
	oddsOut = 2.33
	// leastOver is the least by which a step must be over, s: short steps vary by more than their share.
	leastOver = 2 * measure.Minute
)

// overdue is after how long a hand that is still at a step is asked where it is.
func (p PlannedStep) overdue() measure.Seconds {
	cv := p.CV
	if cv <= 0 {
		cv = usualCV
	}
	sigma := math.Sqrt(math.Log(1 + cv*cv))
	planned := measure.Seconds(p.Minutes * 60)
	return max(measure.Seconds(p.Minutes*60*math.Exp(oddsOut*sigma-sigma*sigma/2)), planned+leastOver)
}

// askWhere says from when on it is asked, once, where somebody is whose step runs on and on. Whoever says that they are
// still at it is asked again when as much again is over.
func (f *fold) askWhere(steps []PlannedStep) {
	for i, planned := range steps {
		s := &f.state.Steps[i]
		if s.Status != Running || !f.state.Finished.IsZero() {
			continue
		}
		over := planned.overdue()
		s.AskAt = s.Since.Add((over - s.HandsOn).Duration())
		if at, there := f.ahead[s.ID]; there && at.Before(s.AskAt) {
			s.AskAt = at
		}
		if said, there := f.here[s.ID]; there && !said.Before(s.Since) {
			s.AskAt = later(s.AskAt, said.Add(over.Duration()))
		}
	}
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}
