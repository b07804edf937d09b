package wash

import (
	"cmp"
	"maps"
	"slices"
)

// Log is the log of a wash that grows: what comes in order is folded as it comes, so that a tap costs what a tap costs, however many
// went before. Its state is the one that Fold gives of all of it.
type Log struct {
	steps  []PlannedStep
	events []Event
	undone map[undo]bool
	seen   map[string]bool
	last   Event
	fold   *fold
}

// NewLog is a log without taps.
func NewLog(steps []PlannedStep) *Log {
	return &Log{steps: steps, undone: map[undo]bool{}, seen: map[string]bool{}, fold: begin(steps)}
}

// Add takes taps, in whatever order they come. One that lies before another, or is taken back after it was folded, has the whole log
// folded anew: that is seldom.
func (l *Log) Add(events ...Event) {
	again := false
	for _, e := range events {
		l.events = append(l.events, e)
		switch {
		case e.Late, l.seen[e.ID]:
		case e.Kind == Undo:
			l.undone[undo{e.Undoes, e.By}] = true
			again = again || l.seen[e.Undoes]
		case l.undone[undo{e.ID, e.By}]:
		case again, len(l.seen) > 0 && earlierTap(e, l.last) < 0:
			l.seen[e.ID], again = true, true
		default:
			l.seen[e.ID], l.last = true, e
			l.fold.apply(e)
		}
	}
	if again {
		l.anew()
	}
}

// anew folds the whole log.
func (l *Log) anew() {
	l.fold, l.seen = begin(l.steps), map[string]bool{}
	for _, e := range inOrder(l.events) {
		l.fold.apply(e)
		l.seen[e.ID], l.last = true, e
	}
}

// Taps is how many taps it holds, with those that do not count.
func (l *Log) Taps() int { return len(l.events) }

// State is how the wash stands.
func (l *Log) State() State { return l.fold.copied().end(l.steps) }

// earlierTap orders taps by their own time, then by the device's count.
func earlierTap(a, b Event) int {
	return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Seq, b.Seq), cmp.Compare(a.ID, b.ID))
}

// copied is a fold that goes on by itself. What only grows is shared up to where it is; what changes in place is copied.
func (f *fold) copied() *fold {
	c := *f
	c.begun, c.here, c.ahead = maps.Clone(f.begun), maps.Clone(f.here), maps.Clone(f.ahead)
	s := &c.state
	s.Steps = slices.Clone(s.Steps)
	for i := range s.Steps {
		s.Steps[i].Looks = slices.Clone(s.Steps[i].Looks)
	}
	s.Hands, s.Dwelling, s.Found = slices.Clone(s.Hands), slices.Clone(s.Dwelling), slices.Clone(s.Found)
	s.Open, s.Asking, s.Helpers = slices.Clone(s.Open), slices.Clone(s.Asking), slices.Clone(s.Helpers)
	s.Notes, s.Handed, s.Stretches = slices.Clip(s.Notes), slices.Clip(s.Handed), slices.Clip(s.Stretches)
	return &c
}
