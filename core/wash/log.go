package wash

import (
	"math"
	"slices"
	"strings"
	"time"

	"uskel/core/measure"
	"uskel/core/wrong"
)

// Closed is what a wash's log is held to when a tap arrives.
type Closed bool

// Admit says what becomes of a tap that reaches the shop, given the steps there are, the log so far and whether the
// wash is closed: it counts, it is kept beside the log because it came late, or it is refused with the reason. Who
// taps must be in By already. What was tapped on rework counts after the wash was closed: rework comes after the
// audit that closed it.
func (closed Closed) Admit(e Event, steps []PlannedStep, log []Event) (Event, error) {
	e.Late = false
	if e.Kind == Undo {
		return e, closed.undo(e, steps, log)
	}
	e.Late = bool(closed) && !reworks(e, steps)
	if e.Kind == Finish && !e.Late {
		return e, mayFinish(e, steps, log)
	}
	return e, nil
}

// mayFinish refuses to finish a wash with something open that was left so as a reminder, unless it is said why.
func mayFinish(e Event, steps []PlannedStep, log []Event) error {
	if e.Text != "" || !slices.ContainsFunc(steps, func(s PlannedStep) bool { return len(s.Opens) > 0 }) {
		return nil
	}
	open := Fold(steps, log).Open
	if len(open) == 0 {
		return nil
	}
	names := make([]string, len(open))
	for i, m := range open {
		names[i] = m.Name
	}
	return wrong.At("text", "still open: %s. Close it, or say why the wash is finished so", strings.Join(names, ", "))
}

// undo refuses to take back somebody else's tap, and any tap of a wash that is closed. An undo may arrive before the
// tap it takes back.
func (closed Closed) undo(e Event, steps []PlannedStep, log []Event) error {
	at := slices.IndexFunc(log, func(was Event) bool { return was.ID == e.Undoes })
	if at >= 0 && log[at].By != e.By {
		return wrong.At("undoes", "somebody else made that tap; only they can take it back")
	}
	if bool(closed) && (at < 0 || !reworks(log[at], steps)) {
		return wrong.At("undoes", "the wash is closed; the lead can correct it, with a reason")
	}
	return nil
}

// reworks reports whether a tap is about rework: work on it, a note, or a call for help. The rest is about the wash.
func reworks(e Event, steps []PlannedStep) bool {
	about := e.needsStep() || e.Kind == Note || e.Kind == Help || e.Kind == Helped
	return about && slices.ContainsFunc(steps, func(s PlannedStep) bool { return s.ID == e.Step && s.Rework })
}

// hurried is by how much clocks that are kept right may still differ.
const hurried = 5 * time.Second

// NotAhead sets right the taps that a device sent together whose clock is clearly ahead of now: it was so for all of them, and their
// distances stay. Taps are left as the device has them where clocks differ by seconds, so that both fold the same.
func NotAhead(taps []Event, now time.Time) {
	ahead := time.Duration(0)
	for _, e := range taps {
		ahead = max(ahead, e.At.Sub(now))
	}
	if ahead <= hurried {
		return
	}
	for i := range taps {
		taps[i].At = taps[i].At.Add(-ahead)
	}
}

// Washers are the people who washed, settled when the wash closes: whoever it was given to, whoever had a step in hand
// (taken over or shared counts), and whoever came to help or finished it. Notes, finds and decisions are not washing:
// the lead who was asked may still audit. What came late, or was done at rework, gives nobody a say: see Hands. The
// order is of first deeds.
func Washers(given string, steps []PlannedStep, log []Event) []string {
	return deeds(given, log, func(e Event) bool { return !e.Late && !reworks(e, steps) })
}

// Hands are all who had a hand in a wash by what is known now: its washers, whoever's taps came after it was closed
// (a device was without a connection), and whoever did rework. None of them walks round it.
func Hands(given string, log []Event) []string {
	return deeds(given, log, func(Event) bool { return true })
}

// TooLate are those whose deeds reached the shop after the wash was closed: who of them signed its audit did not know, or
// did not say, that they had washed.
func TooLate(log []Event) []string {
	return deeds("", log, func(e Event) bool { return e.Late })
}

// HandedTo are those to whom a step was handed, by the taps that count and were not taken back.
func HandedTo(log []Event) []string { return EverHandedTo(inOrder(log)) }

// EverHandedTo are the same with those from whom it was taken back: a device without a connection does not know that, and what was
// tapped on it is not lost.
func EverHandedTo(log []Event) []string {
	people := []string{}
	for _, e := range log {
		if e.Kind == HandOver && !e.Late {
			people = append(people, e.To)
		}
	}
	return people
}

// deeds are who did something to a wash, by the taps that count and were not taken back.
func deeds(given string, log []Event, counts func(Event) bool) []string {
	people := []string{}
	add := func(who string) {
		if who != "" && !slices.Contains(people, who) {
			people = append(people, who)
		}
	}
	add(given)
	undone := map[undo]bool{}
	for _, e := range log {
		if e.Kind == Undo {
			undone[undo{e.Undoes, e.By}] = true
		}
	}
	for _, e := range log {
		if !counts(e) || undone[undo{e.ID, e.By}] {
			continue
		}
		switch e.Kind {
		case Start, Done, Pause, Resume, Reopen, Rinsed, Dropped, Dried, Helped, Finish:
			add(e.By)
		case HandOver:
			add(e.By)
			add(e.To)
		}
	}
	return people
}

// Correction is the lead's correction of a step of a closed wash. The log and the times by it stay beside.
type Correction struct {
	Step    string  `json:"step" minLength:"1" maxLength:"80"`
	Minutes float64 `json:"minutes" minimum:"0" maximum:"600" doc:"hands-on, as it really was"`
	Why     string  `json:"why" minLength:"3" maxLength:"400"`
}

// Check names what is wrong with a correction of a wash as it stands.
func (c Correction) Check(state State) error {
	at := slices.IndexFunc(state.Steps, func(s StepState) bool { return s.ID == c.Step })
	switch {
	case at < 0:
		return wrong.At("step", "%q: this wash has no such step", c.Step)
	case state.Steps[at].Status != Ended:
		return wrong.At("step", "%q: it was not done, so it has no time to correct", c.Step)
	case !(c.Minutes >= 0 && c.Minutes <= 600):
		return wrong.At("minutes", "%g: from 0 to 600", c.Minutes)
	case c.Why == "":
		return wrong.At("why", "say why the time is corrected")
	}
	return nil
}

// Corrected puts corrections, oldest first, in place of the hands-on times of the steps: the newest of a step counts.
// When it was done and by whom stays as it was tapped.
func (state State) Corrected(corrections []Correction) State {
	state.Steps = slices.Clone(state.Steps)
	for _, c := range corrections {
		for i := range state.Steps {
			if s := &state.Steps[i]; s.ID == c.Step && s.Status == Ended {
				s.HandsOn = measure.Seconds(math.Round(60 * c.Minutes))
			}
		}
	}
	return state
}
