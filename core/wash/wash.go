// Package wash folds the events of a bay into the state of a running wash. Events are never changed: the
// state is what they say together, in whatever order and however often they arrive.
package wash

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/vehicle"
	"uskel/core/wrong"
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
	// Rinsed is a rinse of the mitt, Dropped a mitt that fell: a fresh one is taken, nothing that touched the ground
	// touches paint.
	Rinsed  Kind = "rinsed"
	Dropped Kind = "dropped"
	// Dried is product seen dry before its time: the drying window was wrong.
	Dried Kind = "dried"
	// Help asks for somebody, Helped says that somebody came.
	Help   Kind = "help"
	Helped Kind = "helped"
	// Bonded is bonded matter found in the wash, with what is done about it.
	Bonded Kind = "bonded"
	// HandOver gives the step in hand to somebody else: the time after it is theirs.
	HandOver Kind = "hand over"
	// Answer answers a step's question: what is seen in the work decides how it goes on.
	Answer Kind = "answer"
	// Shut closes what a step left open as a reminder.
	Shut Kind = "shut"
	// Here says, when it is asked, that somebody is still at the step in hand.
	Here Kind = "here"
	// Moved says, when it is asked, that the step in hand ended at about that moment and another was begun: both times are
	// estimated.
	Moved Kind = "moved"
	// Reopen takes a step that was done, or left out, in hand again: something of it was missed.
	Reopen Kind = "reopen"
	// Replan is the lead's change of the plan in mid-wash: which steps are left out from then on, and who helps.
	Replan Kind = "replan"
	// Checked answers a look that is made before a step is begun: what was found, or that it is right.
	Checked Kind = "checked"
	// Poured says how much of a step's product was really put in, where that was not what the plan asks.
	Poured Kind = "poured"
)

// Values lists the kinds.
func (Kind) Values() []string {
	return []string{
		string(Start),
		string(Done),
		string(Pause),
		string(Resume),
		string(Skip),
		string(Note),
		string(Undo),
		string(Finish),
		string(Rinsed),
		string(Dropped),
		string(Dried),
		string(Help),
		string(Helped),
		string(Bonded),
		string(HandOver),
		string(Answer),
		string(Shut),
		string(Here),
		string(Moved),
		string(Reopen),
		string(Replan),
		string(Checked),
		string(Poured),
	}
}

// Remedy is what is done about bonded matter found in a wash.
type Remedy string

// The remedies.
const (
	TakeOff Remedy = "take off"
	Leave   Remedy = "leave"
	AskLead Remedy = "ask"
)

// Values lists the remedies.
func (Remedy) Values() []string { return []string{string(TakeOff), string(Leave), string(AskLead)} }

// Event is one tap. The id and the time are the device's own.
type Event struct {
	ID     string    `json:"id" format:"uuid"`
	Kind   Kind      `json:"kind"`
	Step   string    `json:"step,omitempty" maxLength:"80"`
	At     time.Time `json:"at"`
	Seq    int       `json:"seq" minimum:"0" maximum:"1000000000" doc:"The device's own count, for taps in the same instant"`
	Text   string    `json:"text,omitempty" maxLength:"1000" doc:"Reason of a skip, text of a note"`
	Undoes string    `json:"undoes,omitempty" doc:"Event that an undo takes back"`
	By     string    `json:"by,omitempty" doc:"Set by the server: the person signed in"`
	Device string    `json:"device,omitempty" maxLength:"80" doc:"The device's own id, made by it once"`
	Late   bool      `json:"late,omitempty" doc:"Set by the server: it came after the wash was closed, and is kept beside it"`
	Detail
}

// Detail is what some kinds of event say besides.
type Detail struct {
	Matter condition.Matter  `json:"matter,omitempty" doc:"Bonded matter found"`
	Zone   vehicle.Zone      `json:"zone,omitempty" doc:"Where"`
	Remedy Remedy            `json:"remedy,omitempty" doc:"What is done about it"`
	To     string            `json:"to,omitempty" maxLength:"80" doc:"Person a step is handed to"`
	Rest   bool              `json:"rest,omitempty" doc:"Handed over with all that its giver had still to do; the step may be absent then"`
	Whole  bool              `json:"whole,omitempty" doc:"Of a step done: closed with the rest of its part, its time is not its own"`
	Plan   *Replanned        `json:"plan,omitempty" doc:"What the plan is from now on"`
	Says   procedure.YesOrNo `json:"says,omitempty" doc:"Answer to the step's question"`
	Mark   string            `json:"mark,omitempty" maxLength:"80" doc:"What is closed that was left open"`
	Next   string            `json:"next,omitempty" maxLength:"80" doc:"Of moved: the step begun since; absent when none is"`
	Look   string            `json:"look,omitempty" maxLength:"120" doc:"Of checked: the look"`
	Found  string            `json:"found,omitempty" maxLength:"80" doc:"Of checked: what was found; absent when it is right"`
	Ml     *float64          `json:"ml,omitempty" minimum:"0" maximum:"100000" doc:"Of poured: ml of the step's product that were put in"`
}

// Replanned is the plan as it is from a moment on: it stands in place of the one before, whole.
type Replanned struct {
	Without []string `json:"without" maxItems:"60" doc:"steps left out; one that was begun goes on"`
	People  []string `json:"people,omitempty" maxItems:"12" doc:"ids of who helps from now on; nothing changes when empty"`
}

// Check names what is missing in an event, given the steps there are.
func (e Event) Check(steps []PlannedStep) error {
	known := slices.ContainsFunc(steps, func(s PlannedStep) bool { return s.ID == e.Step })
	switch {
	case e.ID == "":
		return wrong.At("id", "every event needs one, made on the device")
	case !slices.Contains(e.Kind.Values(), string(e.Kind)):
		return wrong.At("kind", "%q: use one of %q", e.Kind, e.Kind.Values())
	case e.At.IsZero():
		return wrong.At("at", "say when it happened")
	case strings.ContainsRune(e.Text+e.Step+e.Undoes, 0):
		return wrong.At("text", "it holds a character that is no text")
	case e.Kind == Undo && e.Undoes == "":
		return wrong.At("undoes", "say which event is taken back")
	case e.Kind == Skip && e.Text == "":
		return wrong.At("text", "say why the step is skipped")
	case e.needsStep() && !known:
		return wrong.At("step", "%q: this wash has no such step", e.Step)
	case e.Kind == Answer:
		return e.checkAnswer(steps)
	case e.Kind == Checked:
		return e.checkLook(steps)
	case e.Kind == Poured && (e.Ml == nil || !(*e.Ml >= 0 && *e.Ml <= mostPoured)):
		return wrong.At("ml", "say how much was put in, 0 to %d", mostPoured)
	case e.Kind == Shut && !slices.ContainsFunc(steps, func(s PlannedStep) bool { return slices.Contains(s.Opens, e.Mark) }):
		return wrong.At("mark", "%q: this wash leaves no such thing open", e.Mark)
	case e.Kind == Moved && e.Next != "" && !slices.ContainsFunc(steps, func(s PlannedStep) bool { return s.ID == e.Next }):
		return wrong.At("next", "%q: this wash has no such step", e.Next)
	case e.Kind == HandOver && e.To == "":
		return wrong.At("to", "say who takes it over")
	case e.Kind == Replan:
		return e.checkPlan(steps)
	case e.Kind == Bonded:
		return e.checkFinding()
	}
	return nil
}

// mostPoured is more than anybody puts in for one car, ml.
const mostPoured = 100_000

func (e Event) checkPlan(steps []PlannedStep) error {
	switch {
	case e.Plan == nil:
		return wrong.At("plan", "say what is left out and who helps")
	case e.Text == "":
		return wrong.At("text", "say why the plan changes")
	}
	for i, id := range e.Plan.Without {
		if !slices.ContainsFunc(steps, func(s PlannedStep) bool { return s.ID == id }) {
			return wrong.At(fmt.Sprintf("plan.without[%d]", i), "%q: this wash has no such step", id)
		}
	}
	return nil
}

func (e Event) checkFinding() error {
	switch {
	case !slices.Contains(e.Matter.Values(), string(e.Matter)):
		return wrong.At("matter", "%q: use one of %q", e.Matter, e.Matter.Values())
	case !e.Zone.Known():
		return fmt.Errorf("zone %q: there is no such zone", e.Zone)
	case !slices.Contains(e.Remedy.Values(), string(e.Remedy)):
		return wrong.At("remedy", "%q: use one of %q", e.Remedy, e.Remedy.Values())
	}
	return nil
}

func (e Event) needsStep() bool {
	switch e.Kind {
	case Start, Done, Pause, Resume, Skip, Reopen, Rinsed, Dropped, Dried, Answer, Here, Moved, Checked, Poured:
		return true
	}
	return e.Kind == HandOver && !(e.Rest && e.Step == "")
}

// PlannedStep is what the fold must know of a planned step.
type PlannedStep struct {
	ID      string   `json:"id"`
	Stage   string   `json:"stage"`
	Title   string   `json:"title"`
	Minutes float64  `json:"minutes"`
	Dwell   *Dwell   `json:"dwell,omitempty"`
	Ends    []string `json:"ends,omitempty"`
	Rewets  []string `json:"rewets,omitempty"`
	Rework  bool     `json:"rework,omitempty"`
	// Of a step that a round is made of, for one part of the car:
	Base  string `json:"base,omitempty" doc:"Id of the procedure's step"`
	Whole string `json:"whole,omitempty" doc:"Its title"`
	Round string `json:"round,omitempty" doc:"Id of the round"`
	Part  string `json:"part,omitempty" doc:"The part in words"`
	// What the times of a step are compared by.
	Technique procedure.Technique `json:"technique,omitempty"`
	Area      float64             `json:"area,omitempty" doc:"m2"`
	Written   float64             `json:"written,omitempty" doc:"min by the procedure as written; Minutes is by the shop's standard"`
	Product   string              `json:"product,omitempty" doc:"Name of the product used"`
	ProductID string              `json:"productId,omitempty"`
	Covers    bool                `json:"covers,omitempty" doc:"It puts protection on"`
	Rinses    int                 `json:"rinses,omitempty" doc:"Rinses of the mitt that the plan asks for"`
	Rinsing   float64             `json:"rinsing,omitempty" doc:"min of Minutes for these rinses, or for fresh cloths"`
	// What depends on the work itself.
	Asks   *Asked    `json:"asks,omitempty" doc:"A question whose answer decides about later steps"`
	If     *OnAnswer `json:"if,omitempty" doc:"Done only after an answer; until then what is expected counts"`
	Opens  []string  `json:"opens,omitempty" doc:"What it leaves open"`
	Closes []string  `json:"closes,omitempty" doc:"What it closes again"`
	CV     float64   `json:"cv,omitempty" doc:"How its length varies from wash to wash, as a share of it; as usual when 0"`
	Looks  []Look    `json:"looks,omitempty" doc:"What is looked at before it is begun"`
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
	By      string          `json:"by,omitempty" doc:"who has it in hand, or had it last"`
	Rinses  int             `json:"rinses,omitempty" doc:"times the mitt was rinsed"`
	Dropped int             `json:"dropped,omitempty" doc:"mitts that fell"`
	Loose   bool            `json:"loose,omitempty" doc:"Closed together with others of its part: its time is not its own"`
	// Replanned is a step that a change of the plan left out: another change may bring it back.
	Replanned bool `json:"replanned,omitempty"`
	// Unasked is a step that an answer, or what is expected until it is given, leaves out.
	Unasked   bool              `json:"unasked,omitempty"`
	Answer    procedure.YesOrNo `json:"answer,omitempty" doc:"What was said to its question"`
	Estimated bool              `json:"estimated,omitempty" doc:"Its begin or its end was not tapped but said later: no time for a standard"`
	AskAt     time.Time         `json:"askAt,omitzero" doc:"While it runs: from when on it is asked where its hand is now"`
	Looks     []Looked          `json:"looks,omitempty" doc:"What was looked at before it was begun"`
	Poured    *float64          `json:"poured,omitempty" doc:"ml of its product that were put in, where somebody said so"`
	Due       []string          `json:"due,omitempty" doc:"While it waits: looks to be made, or to be put right, before it is begun"`
}

// DwellKept is how a dwell went.
type DwellKept string

// The verdicts.
const (
	Working DwellKept = "working"
	Kept    DwellKept = "kept"
	Early   DwellKept = "early"
	Overrun DwellKept = "overrun"
)

// Values lists the verdicts.
func (DwellKept) Values() []string {
	return []string{string(Working), string(Kept), string(Early), string(Overrun)}
}

// Dwelling is a product on the car.
type Dwelling struct {
	Step     string    `json:"step"`
	Since    time.Time `json:"since"`
	Earliest time.Time `json:"earliest"`
	Latest   time.Time `json:"latest"`
	Ended    time.Time `json:"ended,omitzero"`
	Dried    bool      `json:"dried,omitempty" doc:"Seen dry in the bay"`
	Verdict  DwellKept `json:"verdict"`
	Soon     time.Time `json:"soon" doc:"from here on: get ready to take it off"`
	Urgent   time.Time `json:"urgent" doc:"from here on: take it off now"`
}

// The warnings before product dries leave time to fetch the lance and to reach the first panel, which takes about a
// minute (common practice, no source). A short dwell is warned of at half and at three quarters.
const (
	soonBefore   = 2 * time.Minute
	urgentBefore = time.Minute
)

// warn says from when on the bay warns.
func (d *Dwelling) warn() {
	whole := d.Latest.Sub(d.Since)
	d.Soon = d.Latest.Add(-min(soonBefore, whole/2))
	d.Urgent = d.Latest.Add(-min(urgentBefore, whole/4))
}

// Stretch is a piece of one person's work on a step, without pauses.
type Stretch struct {
	Step string    `json:"step"`
	By   string    `json:"by,omitempty"`
	From time.Time `json:"from"`
	To   time.Time `json:"to"`
}

// Hand is a step that somebody has in hand, running or paused.
type Hand struct {
	By   string `json:"by"`
	Step string `json:"step"`
}

// Handed is work that one person gave to another.
type Handed struct {
	At   time.Time `json:"at"`
	By   string    `json:"by"`
	To   string    `json:"to"`
	Step string    `json:"step,omitempty"`
	Rest bool      `json:"rest,omitempty" doc:"with all that was still to do"`
}

// Call is somebody asking for help.
type Call struct {
	At   time.Time `json:"at"`
	By   string    `json:"by,omitempty"`
	Step string    `json:"step,omitempty"`
	Text string    `json:"text,omitempty"`
}

// Find is bonded matter found in the wash. What is said of it later counts: the lead's word after a question.
type Find struct {
	At      time.Time        `json:"at"`
	By      string           `json:"by,omitempty"`
	Matter  condition.Matter `json:"matter"`
	Zone    vehicle.Zone     `json:"zone"`
	Remedy  Remedy           `json:"remedy"`
	Decided string           `json:"decided,omitempty" doc:"who said so after it was found"`
}

// Covered reports whether a step that puts protection on was done.
func (state State) Covered(steps []PlannedStep) bool {
	for i, s := range steps {
		if s.Covers && state.Steps[i].Status == Ended {
			return true
		}
	}
	return false
}

// ReworkLeft reports whether rework is still to be done.
func (state State) ReworkLeft(steps []PlannedStep) bool {
	for i, s := range steps {
		if did := state.Steps[i].Status; s.Rework && did != Ended && did != Skipped {
			return true
		}
	}
	return false
}

// Noted is matter found in the wash that was left and that the service ordered does not take off: declared, as if it
// had been seen at the look-over.
func (state State) Noted(ordered condition.Service) []condition.OutOfScope {
	var out []condition.OutOfScope
	for _, f := range state.Found {
		if f.Remedy == Leave && !ordered.TakesOn(f.Matter) {
			out = append(out, condition.OutOfScope{Matter: f.Matter, Zones: []vehicle.Zone{f.Zone}})
		}
	}
	return out
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
	Current  string      `json:"current,omitempty" doc:"Step running or paused that was begun last; empty between steps"`
	Hands    []Hand      `json:"hands" doc:"Who has what in hand, the step begun last by each"`
	Next     string      `json:"next,omitempty" doc:"First step still waiting"`
	Dwelling []Dwelling  `json:"dwelling"`
	Notes    []Remark    `json:"notes"`
	Handed   []Handed    `json:"handed,omitempty" doc:"What was handed over, in order"`
	Found    []Find      `json:"found" doc:"Bonded matter found in the wash"`
	Help     *Call       `json:"help,omitempty" doc:"Somebody is asked for"`
	Open     []Mark      `json:"open" doc:"What was left open and is not closed yet"`
	Why      string      `json:"why,omitempty" doc:"Why it was finished with something open"`
	Asking   []string    `json:"asking" doc:"Steps whose question waits for an answer: in hand, or what somebody did last"`
	Started  time.Time   `json:"started,omitzero"`
	Finished time.Time   `json:"finished,omitzero"`
	LastTap  string      `json:"lastTap,omitempty" doc:"Event an undo would take back"`
	Taps     int         `json:"taps" doc:"events that count"`
	Helpers  []string    `json:"helpers,omitempty" doc:"who helps by the newest change of the plan; as arranged before it began when absent"`
	// Stretches are the finished pieces of work, in the order of their ends. They are for the times, not for the
	// screens.
	Stretches []Stretch `json:"-"`
}

// tapTolerance forgives a tap that comes a moment before or after its time.
const tapTolerance = 5 * time.Second

// Fold gives the state. Events may be out of order, repeated or late: they are put in the order of
// their own times first, and an undone event counts as never made.
func Fold(steps []PlannedStep, events []Event) State {
	f := begin(steps)
	for _, e := range inOrder(events) {
		f.apply(e)
	}
	return f.end(steps)
}

// begin is a wash before anything was tapped.
func begin(steps []PlannedStep) *fold {
	f := fold{plan: map[string]PlannedStep{}, index: map[string]int{}, begun: map[string]int{},
		here: map[string]time.Time{}, ahead: map[string]time.Time{}}
	f.state = State{
		Steps:    make([]StepState, len(steps)),
		Hands:    []Hand{},
		Dwelling: []Dwelling{},
		Notes:    []Remark{},
		Found:    []Find{},
		Open:     []Mark{},
		Asking:   []string{},
	}
	for i, s := range steps {
		f.plan[s.ID], f.index[s.ID] = s, i
		f.state.Steps[i] = StepState{ID: s.ID, Status: Waiting}
	}
	return &f
}

// end works out what follows from all that was tapped.
func (f *fold) end(steps []PlannedStep) State {
	f.unasked(steps)
	f.asking(steps)
	f.askWhere(steps)
	f.due(steps)
	for _, s := range f.state.Steps {
		if f.state.Next == "" && s.Status == Waiting {
			f.state.Next = s.ID
		}
	}
	f.inHand()
	for i := range f.state.Dwelling {
		f.state.Dwelling[i].warn()
	}
	return f.state
}

// inHand says who has what in hand: of the steps open, the one each began last.
func (f *fold) inHand() {
	open := slices.Clone(f.state.Steps)
	open = slices.DeleteFunc(open, func(s StepState) bool { return s.Status != Running && s.Status != Paused })
	slices.SortStableFunc(open, func(a, b StepState) int { return f.begun[b.ID] - f.begun[a.ID] })
	for _, s := range open {
		if f.state.Current == "" {
			f.state.Current = s.ID
		}
		if !slices.ContainsFunc(f.state.Hands, func(h Hand) bool { return h.By == s.By }) {
			f.state.Hands = append(f.state.Hands, Hand{s.By, s.ID})
		}
	}
	slices.SortFunc(f.state.Hands, func(a, b Hand) int { return cmp.Compare(a.By, b.By) })
}

// inOrder sorts events by time, drops repeats, what came after the wash was closed, and what was undone. Somebody's
// undo takes back their own taps only.
func inOrder(events []Event) []Event {
	undone, seen := map[undo]bool{}, map[string]bool{}
	for _, e := range events {
		if e.Kind == Undo && !e.Late {
			undone[undo{e.Undoes, e.By}] = true
		}
	}
	sorted := make([]Event, 0, len(events))
	for _, e := range events {
		if e.Kind != Undo && !e.Late && !undone[undo{e.ID, e.By}] && !seen[e.ID] {
			seen[e.ID] = true
			sorted = append(sorted, e)
		}
	}
	slices.SortFunc(sorted, earlierTap)
	return sorted
}

// LastOf is the newest tap of somebody that still counts, which their Undo takes back; nothing when there is none. Of a
// wash that is closed only what was tapped on its rework can still be taken back.
func LastOf(who string, steps []PlannedStep, events []Event, closed bool) string {
	rework := map[string]bool{}
	for _, s := range steps {
		rework[s.ID] = s.Rework
	}
	own := slices.DeleteFunc(slices.Clone(events), func(e Event) bool {
		return e.Kind != Undo && (e.By != who || closed && !rework[e.Step])
	})
	sorted := inOrder(own)
	if len(sorted) == 0 {
		return ""
	}
	return sorted[len(sorted)-1].ID
}

// undo is a tap that somebody took back.
type undo struct{ id, by string }

type fold struct {
	plan  map[string]PlannedStep
	index map[string]int
	state State
	begun map[string]int       // when a step was last taken in hand, in taps
	here  map[string]time.Time // when somebody said that they are still at it
	ahead map[string]time.Time // when another's tap showed that the work is further on
}

func (f *fold) apply(e Event) {
	f.state.LastTap = e.ID
	f.state.Taps++
	if e.Kind == HandOver {
		f.state.Handed = append(f.state.Handed, Handed{e.At, e.By, e.To, e.Step, e.Rest})
	}
	switch e.Kind {
	case Note:
		f.state.Notes = append(f.state.Notes, Remark{e.At, e.Step, e.Text, e.By})
	case Bonded:
		f.found(e)
	case Help:
		f.state.Help = &Call{e.At, e.By, e.Step, e.Text}
	case Helped:
		f.state.Help = nil
	case Finish:
		f.state.Finished, f.state.Help, f.state.Why = e.At, nil, e.Text
	case Shut:
		f.shut(e.Mark)
	case Replan:
		f.replan(e)
	default:
		if i, known := f.index[e.Step]; known {
			f.onStep(&f.state.Steps[i], e)
		}
	}
}

// replan leaves out the steps that the new plan does not have, and brings back those that an earlier one had left
// out. What was begun goes on.
func (f *fold) replan(e Event) {
	if e.Plan == nil {
		return
	}
	for i := range f.state.Steps {
		s := &f.state.Steps[i]
		out := slices.Contains(e.Plan.Without, s.ID)
		switch {
		case out && s.Status == Waiting:
			s.Status, s.Reason, s.Ended, s.Replanned = Skipped, e.Text, e.At, true
		case !out && s.Replanned:
			*s = StepState{ID: s.ID, Status: Waiting, Looks: s.Looks}
		}
	}
	if len(e.Plan.People) > 0 {
		f.state.Helpers = slices.Clone(e.Plan.People)
	}
}

func (f *fold) found(e Event) {
	for i := range f.state.Found {
		if was := &f.state.Found[i]; was.Matter == e.Matter && was.Zone == e.Zone {
			was.Remedy, was.Decided = e.Remedy, e.By
			return
		}
	}
	f.state.Found = append(f.state.Found, Find{At: e.At, By: e.By, Matter: e.Matter, Zone: e.Zone, Remedy: e.Remedy})
}

func (f *fold) onStep(s *StepState, e Event) {
	switch e.Kind {
	case Start, Resume:
		f.start(s, e)
	case Pause:
		if s.Status == Running {
			f.stretch(s, e.At)
			s.Status, s.Since = Paused, e.At
		}
	case Done:
		f.done(s, e)
	case Skip:
		if s.Status != Ended && s.Status != Skipped {
			f.close(s, e.At)
			s.Status, s.Reason = Skipped, e.Text
		}
	case Reopen:
		f.reopen(s, e)
	case Answer:
		s.Answer = e.Says
	case Here:
		f.here[s.ID] = e.At
	case Moved:
		f.moved(s, e)
	case HandOver:
		f.handOver(s, e)
	case Rinsed:
		s.Rinses++
	case Dropped:
		s.Dropped++
	case Dried:
		f.dried(s.ID, e.At)
	case Checked:
		looked(s, e)
	case Poured:
		s.Poured = e.Ml
	}
}

func (f *fold) start(s *StepState, e Event) {
	switch s.Status {
	case Waiting:
		s.Started = e.At
		if f.state.Started.IsZero() {
			f.state.Started = e.At
		}
		f.endDwells(f.plan[s.ID].Ends, e.At)
		f.further(s.ID, e)
	case Paused:
		s.Paused += measure.SecondsOf(e.At.Sub(s.Since))
	default:
		return
	}
	s.Status, s.Since, s.By = Running, e.At, e.By
	f.begun[s.ID] = f.state.Taps
}

func (f *fold) done(s *StepState, e Event) {
	if s.Status == Ended || s.Status == Skipped {
		return
	}
	if s.Status == Waiting { // done without a start: it counts as done, with no time
		f.start(s, e)
	}
	f.close(s, e.At)
	s.Status, s.Loose = Ended, s.Loose || e.Whole
	f.mark(s, e)
	if d := f.plan[s.ID].Dwell; d != nil {
		f.rewet(f.plan[s.ID].Rewets, s.Started, e.At.Add(d.To.Duration()))
		f.state.Dwelling = append(f.state.Dwelling, Dwelling{Step: s.ID, Since: e.At,
			Earliest: e.At.Add(d.From.Duration()), Latest: e.At.Add(d.To.Duration()), Verdict: Working})
	}
}

// reopen takes a step in hand again that was over. What product of its still works is being put on anew.
func (f *fold) reopen(s *StepState, e Event) {
	if s.Status != Ended && s.Status != Skipped {
		return
	}
	f.state.Dwelling = slices.DeleteFunc(f.state.Dwelling, func(d Dwelling) bool { return d.Step == s.ID && d.Verdict == Working })
	if s.Started.IsZero() {
		s.Started = e.At
	}
	s.Status, s.Since, s.By, s.Ended, s.Reason, s.Replanned = Running, e.At, e.By, time.Time{}, "", false
	f.begun[s.ID] = f.state.Taps
}

// stretch keeps the piece of work that ends now.
func (f *fold) stretch(s *StepState, at time.Time) {
	s.HandsOn += measure.SecondsOf(at.Sub(s.Since))
	f.state.Stretches = append(f.state.Stretches, Stretch{s.ID, s.By, s.Since, at})
}

// close ends the running stretch.
func (f *fold) close(s *StepState, at time.Time) {
	switch s.Status {
	case Running:
		f.stretch(s, at)
	case Paused:
		s.Paused += measure.SecondsOf(at.Sub(s.Since))
	}
	s.Ended, s.Since = at, time.Time{}
}

// handOver gives a step in hand to somebody else, running or paused as it is.
func (f *fold) handOver(s *StepState, e Event) {
	if s.Status == Running {
		f.stretch(s, e.At)
		s.Since = e.At
	}
	if s.Status == Running || s.Status == Paused {
		s.By = e.To
		f.begun[s.ID] = f.state.Taps
	}
}

// dried marks product that was seen dry: it can only overrun from then on.
func (f *fold) dried(step string, at time.Time) {
	for i := range f.state.Dwelling {
		d := &f.state.Dwelling[i]
		if d.Step == step && d.Verdict == Working {
			d.Dried, d.Latest = true, earlier(d.Latest, at)
		}
	}
}

func earlier(a, b time.Time) time.Time {
	if b.Before(a) {
		return b
	}
	return a
}

// rewet lets products that were still wet when the step began dry no earlier than what was put over them; their
// labels still end them.
func (f *fold) rewet(ids []string, began, dries time.Time) {
	for i := range f.state.Dwelling {
		d := &f.state.Dwelling[i]
		if d.Verdict != Working || d.Dried || !slices.Contains(ids, d.Step) || began.After(d.Latest.Add(tapTolerance)) {
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
		case !d.Dried && at.Before(d.Earliest.Add(-tapTolerance)):
			d.Verdict = Early
		case d.Dried || at.After(d.Latest.Add(tapTolerance)):
			d.Verdict = Overrun
		}
	}
}
