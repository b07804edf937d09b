package wash

import (
	"slices"
	"time"

	"uskel/core/measure"
	"uskel/core/wrong"
)

// Look is one look of a check on the way: it is made before a step is begun, while what is found can still be put right with
// what is at hand.
type Look struct {
	ID    string   `json:"id" doc:"checklist@version/item"`
	Check string   `json:"check" doc:"what the checklist is called"`
	Title string   `json:"title"`
	How   string   `json:"how,omitempty"`
	Done  string   `json:"done,omitempty" doc:"done when"`
	Finds []string `json:"finds" doc:"what it may find, likeliest first"`
}

// Looked is what a look came to.
type Looked struct {
	Look  string          `json:"look"`
	At    time.Time       `json:"at"`
	By    string          `json:"by,omitempty"`
	Found string          `json:"found,omitempty" doc:"what was found first; it stays when it was put right"`
	Right time.Time       `json:"right,omitzero" doc:"since when it is right"`
	Took  measure.Seconds `json:"took,omitempty" doc:"s from finding it until it was right"`
}

func (e Event) checkLook(steps []PlannedStep) error {
	for _, s := range steps {
		if s.ID != e.Step {
			continue
		}
		for _, l := range s.Looks {
			switch {
			case l.ID != e.Look:
			case e.Found != "" && !slices.Contains(l.Finds, e.Found):
				return wrong.At("found", "%q: use one of %q", e.Found, l.Finds)
			default:
				return nil
			}
		}
	}
	return wrong.At("look", "%q: nothing of the kind is looked at before this step", e.Look)
}

// looked keeps the first finding of a look until it is said that it is right.
func looked(s *StepState, e Event) {
	at := slices.IndexFunc(s.Looks, func(l Looked) bool { return l.Look == e.Look })
	if at < 0 {
		at = len(s.Looks)
		s.Looks = append(s.Looks, Looked{Look: e.Look, At: e.At, By: e.By})
	}
	l := &s.Looks[at]
	switch {
	case e.Found != "" && l.Found == "":
		l.Found, l.At, l.By, l.Right = e.Found, e.At, e.By, time.Time{}
	case e.Found != "":
		l.Right, l.Took = time.Time{}, 0 // not right yet after all
	case l.Right.IsZero():
		l.Right = e.At
		if l.Found != "" {
			l.Took = measure.SecondsOf(e.At.Sub(l.At))
		}
	}
}

// due says which looks are still to be made, or what they found to be put right, before each step that waits. A step that was
// begun without them goes on: they were left out.
func (f *fold) due(steps []PlannedStep) {
	for i, planned := range steps {
		s := &f.state.Steps[i]
		if s.Status != Waiting || !f.state.Finished.IsZero() {
			continue
		}
		for _, l := range planned.Looks {
			right := func(seen Looked) bool { return seen.Look == l.ID && !seen.Right.IsZero() }
			if !slices.ContainsFunc(s.Looks, right) {
				s.Due = append(s.Due, l.ID)
			}
		}
	}
}

// LookedAt is what the looks of one wash came to, of all its steps, from what was tapped on them in order and not taken back.
func LookedAt(log []Event) []Looked {
	var s StepState
	for _, e := range log {
		if e.Kind == Checked {
			looked(&s, e)
		}
	}
	return s.Looks
}
