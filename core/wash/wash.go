// Package wash folds the events of a bay into the state of a running wash. Events are never changed: the
// state is what they say together, in whatever order and however often they arrive.
package wash

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"uskel/core/measure"
)

// Kind is what happened.
type Kind string

// The kinds of event.
const (
	Start  Kind = "start"
	Done   Kind = "done"
	Pause  Kind = "pause"
	Resume Kind = "resume"
	Skip   Kind = "skip"
	Note   Kind = "note"
	Undo   Kind = "undo"
	Finish Kind = "finish"
)

// Values lists the kinds.
func (Kind) Values() []string {
	return []string{string(Start), string(Done), string(Pause), string(Resume), string(Skip), string(Note), string(Undo), string(Finish)}
}

// Event is one tap. The id and the time are the device's own.
type Event struct {
	ID     string    `json:"id" format:"uuid"`
	Kind   Kind      `json:"kind"`
	Step   string    `json:"step,omitempty" maxLength:"80"`
	At     time.Time `json:"at"`
	Seq    int       `json:"seq" minimum:"0" doc:"The device's own count, for taps in the same instant"`
	Text   string    `json:"text,omitempty" maxLength:"1000" doc:"Reason of a skip, text of a note"`
	Undoes string    `json:"undoes,omitempty" doc:"Event that an undo takes back"`
	By     string    `json:"by,omitempty" doc:"Set by the server: the person signed in"`
}

// Check names what is missing in an event, given the steps there are.
func (e Event) Check(steps []Step) error {
	known := slices.ContainsFunc(steps, func(s Step) bool { return s.ID == e.Step })
	switch {
	case e.ID == "":
		return fmt.Errorf("id: every event needs one, made on the device")
	case !slices.Contains(e.Kind.Values(), string(e.Kind)):
		return fmt.Errorf("kind %q: use one of %q", e.Kind, e.Kind.Values())
	case e.At.IsZero():
		return fmt.Errorf("at: say when it happened")
	case e.Kind == Undo && e.Undoes == "":
		return fmt.Errorf("undoes: say which event is taken back")
	case e.Kind == Skip && e.Text == "":
		return fmt.Errorf("text: say why the step is skipped")
	case e.needsStep() && !known:
		return fmt.Errorf("step %q: this wash has no such step", e.Step)
	}
	return nil
}

func (e Event) needsStep() bool {
	return e.Kind == Start || e.Kind == Done || e.Kind == Pause || e.Kind == Resume || e.Kind == Skip
}

// Step is what the fold must know of a planned step.
type Step struct {
	ID      string   `json:"id"`
	Stage   string   `json:"stage"`
	Title   string   `json:"title"`
	Minutes float64  `json:"minutes"`
	Dwell   *Dwell   `json:"dwell,omitempty"`
	Ends    []string `json:"ends,omitempty"`
	Rewets  []string `json:"rewets,omitempty"`
	Rework  bool     `json:"rework,omitempty"`
}

// Dwell is the planned dwell, from the end of the application.
type Dwell struct {
	From  measure.Seconds `json:"from"`
	To    measure.Seconds `json:"to" doc:"it dries or its label ends"`
	Label measure.Seconds `json:"label" doc:"its label ends"`
}

// Status is where a step stands.
type Status string

// The statuses.
const (
	Waiting Status = "waiting"
	Running Status = "running"
	Paused  Status = "paused"
	Ended   Status = "done"
	Skipped Status = "skipped"
)

// Values lists the statuses.
func (Status) Values() []string {
	return []string{string(Waiting), string(Running), string(Paused), string(Ended), string(Skipped)}
}

// StepState is what happened to a step.
type StepState struct {
	ID      string          `json:"id"`
	Status  Status          `json:"status"`
	Started time.Time       `json:"started,omitzero"`
	Ended   time.Time       `json:"ended,omitzero"`
	Since   time.Time       `json:"since,omitzero" doc:"Start of the running stretch"`
	HandsOn measure.Seconds `json:"handsOn" doc:"Finished stretches, s; add now minus since while running"`
	Paused  measure.Seconds `json:"paused" doc:"s"`
	Reason  string          `json:"reason,omitempty"`
	By      string          `json:"by,omitempty"`
}

// Verdict is how a dwell went.
type Verdict string

// The verdicts.
const (
	Working Verdict = "working"
	Kept    Verdict = "kept"
	Early   Verdict = "early"
	Overrun Verdict = "overrun"
)

// Values lists the verdicts.
func (Verdict) Values() []string {
	return []string{string(Working), string(Kept), string(Early), string(Overrun)}
}

// Dwelling is a product on the car.
type Dwelling struct {
	Step     string    `json:"step"`
	Since    time.Time `json:"since"`
	Earliest time.Time `json:"earliest"`
	Latest   time.Time `json:"latest"`
	Ended    time.Time `json:"ended,omitzero"`
	Verdict  Verdict   `json:"verdict"`
}

// Remark is a note taken in the bay.
type Remark struct {
	At   time.Time `json:"at"`
	Step string    `json:"step,omitempty"`
	Text string    `json:"text"`
	By   string    `json:"by,omitempty"`
}

// State is a wash as its events tell it.
type State struct {
	Steps    []StepState `json:"steps"`
	Current  string      `json:"current,omitempty" doc:"Step running or paused; empty between steps"`
	Next     string      `json:"next,omitempty" doc:"First step still waiting"`
	Dwelling []Dwelling  `json:"dwelling"`
	Notes    []Remark    `json:"notes"`
	Started  time.Time   `json:"started,omitzero"`
	Finished time.Time   `json:"finished,omitzero"`
	LastTap  string      `json:"lastTap,omitempty" doc:"Event an undo would take back"`
}

// tapTolerance forgives a tap that comes a moment before or after its time.
const tapTolerance = 5 * time.Second

// Fold gives the state. Events may be out of order, repeated or late: they are put in the order of
// their own times first, and an undone event counts as never made.
func Fold(steps []Step, events []Event) State {
	f := fold{plan: map[string]Step{}, index: map[string]int{}}
	f.state = State{Steps: make([]StepState, len(steps)), Dwelling: []Dwelling{}, Notes: []Remark{}}
	for i, s := range steps {
		f.plan[s.ID], f.index[s.ID] = s, i
		f.state.Steps[i] = StepState{ID: s.ID, Status: Waiting}
	}
	for _, e := range inOrder(events) {
		f.apply(e)
	}
	for _, s := range f.state.Steps {
		if f.state.Next == "" && s.Status == Waiting {
			f.state.Next = s.ID
		}
	}
	return f.state
}

// inOrder sorts events by time, drops repeats and takes out what was undone.
func inOrder(events []Event) []Event {
	undone, seen := map[string]bool{}, map[string]bool{}
	for _, e := range events {
		if e.Kind == Undo {
			undone[e.Undoes] = true
		}
	}
	sorted := make([]Event, 0, len(events))
	for _, e := range events {
		if e.Kind != Undo && !undone[e.ID] && !seen[e.ID] {
			seen[e.ID] = true
			sorted = append(sorted, e)
		}
	}
	slices.SortFunc(sorted, func(a, b Event) int {
		return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Seq, b.Seq), cmp.Compare(a.ID, b.ID))
	})
	return sorted
}

type fold struct {
	plan  map[string]Step
	index map[string]int
	state State
}

func (f *fold) apply(e Event) {
	f.state.LastTap = e.ID
	switch e.Kind {
	case Note:
		f.state.Notes = append(f.state.Notes, Remark{e.At, e.Step, e.Text, e.By})
		return
	case Finish:
		f.state.Finished = e.At
		return
	}
	i, known := f.index[e.Step]
	if !known {
		return
	}
	s := &f.state.Steps[i]
	switch e.Kind {
	case Start, Resume:
		f.start(s, e)
	case Pause:
		if s.Status == Running {
			s.HandsOn += measure.SecondsOf(e.At.Sub(s.Since))
			s.Status, s.Since = Paused, e.At
		}
	case Done:
		f.done(s, e)
	case Skip:
		if s.Status != Ended {
			f.close(s, e.At)
			s.Status, s.Reason = Skipped, e.Text
			f.release(s.ID)
		}
	}
}

func (f *fold) start(s *StepState, e Event) {
	switch s.Status {
	case Waiting:
		s.Started, s.By = e.At, e.By
		if f.state.Started.IsZero() {
			f.state.Started = e.At
		}
		f.endDwells(f.plan[s.ID].Ends, e.At)
	case Paused:
		s.Paused += measure.SecondsOf(e.At.Sub(s.Since))
	default:
		return
	}
	s.Status, s.Since = Running, e.At
	f.state.Current = s.ID
}

func (f *fold) done(s *StepState, e Event) {
	if s.Status == Ended || s.Status == Skipped {
		return
	}
	if s.Status == Waiting { // done without a start: it counts as done, with no time
		f.start(s, e)
	}
	f.close(s, e.At)
	s.Status = Ended
	f.release(s.ID)
	if d := f.plan[s.ID].Dwell; d != nil {
		f.rewet(f.plan[s.ID].Rewets, s.Started, e.At.Add(d.To.Duration()))
		f.state.Dwelling = append(f.state.Dwelling, Dwelling{Step: s.ID, Since: e.At,
			Earliest: e.At.Add(d.From.Duration()), Latest: e.At.Add(d.To.Duration()), Verdict: Working})
	}
}

// close ends the running stretch.
func (f *fold) close(s *StepState, at time.Time) {
	switch s.Status {
	case Running:
		s.HandsOn += measure.SecondsOf(at.Sub(s.Since))
	case Paused:
		s.Paused += measure.SecondsOf(at.Sub(s.Since))
	}
	s.Ended, s.Since = at, time.Time{}
}

func (f *fold) release(id string) {
	if f.state.Current == id {
		f.state.Current = ""
	}
}

// rewet lets products that were still wet when the step began dry no earlier than what was put over them; their labels still end them.
func (f *fold) rewet(ids []string, began, dries time.Time) {
	for i := range f.state.Dwelling {
		d := &f.state.Dwelling[i]
		if d.Verdict != Working || !slices.Contains(ids, d.Step) || began.After(d.Latest.Add(tapTolerance)) {
			continue
		}
		until := dries
		if label := d.Since.Add(f.plan[d.Step].Dwell.Label.Duration()); label.Before(until) {
			until = label
		}
		if until.After(d.Latest) {
			d.Latest = until
		}
	}
}

func (f *fold) endDwells(ids []string, at time.Time) {
	for i := range f.state.Dwelling {
		d := &f.state.Dwelling[i]
		if d.Verdict != Working || !slices.Contains(ids, d.Step) {
			continue
		}
		d.Ended, d.Verdict = at, Kept
		switch {
		case at.Before(d.Earliest.Add(-tapTolerance)):
			d.Verdict = Early
		case at.After(d.Latest.Add(tapTolerance)):
			d.Verdict = Overrun
		}
	}
}
