// Package visit says where a vehicle stands between its booking and its way home, what may move it on, and who may do
// that. It is the one place that knows: notices, the yard, the day and the live screens read a Stage and ask nothing
// else.
package visit

import (
	"fmt"
	"slices"
)

// Stage is where a vehicle stands.
type Stage string

// The stages of a visit.
const (
	Booked     Stage = "booked"
	Cancelled  Stage = "cancelled"
	DidNotCome Stage = "did not come"
	LookedOver Stage = "looked over"
	InBay      Stage = "in the bay"
	BrokenOff  Stage = "broken off"
	ToAudit    Stage = "to audit"
	Auditing   Stage = "being audited"
	// Rework is what an audit found being put right.
	Rework Stage = "rework"
	// Failed is an audit that did not pass and found nothing that a wash can put right: the lead decides.
	Failed     Stage = "failed"
	Ready      Stage = "ready"
	HandedOver Stage = "handed over"
	// CameBack is a customer's complaint about a vehicle that had been handed over.
	CameBack Stage = "come back"
)

// Values lists the stages in the order of the work.
func (Stage) Values() []string {
	all := []Stage{
		Booked,
		Cancelled,
		DidNotCome,
		LookedOver,
		InBay,
		BrokenOff,
		ToAudit,
		Auditing,
		Rework,
		Failed,
		Ready,
		HandedOver,
		CameBack,
	}
	values := make([]string, len(all))
	for i, s := range all {
		values[i] = string(s)
	}
	return values
}

// Move is what takes a vehicle from one stage to another.
type Move string

// The moves. Those from Cancel on are said by somebody; the others follow from the work.
const (
	LookOver    Move = "look over"
	Arrange     Move = "arrange" // give it a washer, a slot, a crew, other steps
	Begin       Move = "begin the wash"
	Finish      Move = "finish the wash"
	Unfinish    Move = "take the finish back"
	StartAudit  Move = "start the audit"
	Pass        Move = "pass the audit"
	Fail        Move = "fail the audit"
	AskRework   Move = "ask for rework"
	EndRework   Move = "end the rework"       // of a wash that passed
	CheckRework Move = "check the rework"     // of a wash that did not: it is audited again
	ReworkAgain Move = "take rework up again" // a tap on it was taken back

	Cancel   Move = "cancel"
	NotCome  Move = "did not come"
	BreakOff Move = "break off"
	Release  Move = "release without an audit"
	HandOver Move = "hand over"
	ComeBack Move = "come back"
	TakeBack Move = "take back"
)

// Said are the moves that somebody makes by saying so.
var Said = []Move{Cancel, NotCome, BreakOff, Release, HandOver, ComeBack, TakeBack}

// Values lists the moves that somebody makes by saying so.
func (Move) Values() []string {
	values := make([]string, len(Said))
	for i, m := range Said {
		values[i] = string(m)
	}
	return values
}

// after says where each move leads from each stage. What is not in it cannot be done.
var after = map[Stage]map[Move]Stage{
	Booked:     {LookOver: LookedOver, Arrange: Booked, Cancel: Cancelled, NotCome: DidNotCome},
	LookedOver: {LookOver: LookedOver, Arrange: LookedOver, Begin: InBay, Cancel: Cancelled},
	InBay:      {Finish: ToAudit, BreakOff: BrokenOff},
	BrokenOff:  {Finish: ToAudit, HandOver: HandedOver}, // taps may arrive that were made before
	ToAudit:    {Unfinish: InBay, StartAudit: Auditing, Release: Ready, HandOver: HandedOver},
	Auditing:   {Pass: Ready, Fail: Failed, AskRework: Rework},
	Rework:     {EndRework: Ready, CheckRework: ToAudit, Release: Ready},
	Failed:     {StartAudit: Auditing, Release: Ready, HandOver: HandedOver},
	Ready:      {HandOver: HandedOver, ReworkAgain: Rework},
	HandedOver: {ComeBack: CameBack},
	CameBack:   {HandOver: HandedOver},
}

// why says what stands in the way of the moves that people ask for, by stage; the stage itself is named where nothing
// better is known.
var why = map[Stage]string{
	Booked:     "look the vehicle over first",
	Cancelled:  "the booking is cancelled",
	DidNotCome: "the vehicle did not come",
	LookedOver: "the wash has not begun",
	InBay:      "the wash has begun",
	BrokenOff:  "the wash was broken off",
	ToAudit:    "the wash is finished",
	Auditing:   "it is being audited",
	Rework:     "it is being put right",
	Failed:     "its audit did not pass",
	Ready:      "it is ready",
	HandedOver: "it was handed over",
	CameBack:   "it came back",
}

// NotNow is the error of a move that cannot be made from where the vehicle stands.
type NotNow struct {
	Move  Move
	Stage Stage
}

func (e *NotNow) Error() string { return fmt.Sprintf("%s: %s", e.Move, e.Because()) }

// Because says what stands in the way.
func (e *NotNow) Because() string {
	if e.Move == Begin && e.Stage == InBay {
		return "it is in the bay already"
	}
	if e.Stage.Planned() {
		return why[e.Stage]
	}
	return why[e.Stage] + stays[e.Move]
}

// stays says what a wash that has begun keeps, by the move that would change it.
var stays = map[Move]string{
	LookOver: "; its look-over stays as it was",
	Arrange:  "; how it was arranged stays in its record",
}

// After is where a move leads. A move that cannot be made from here is a *NotNow.
func (s Stage) After(m Move) (Stage, error) {
	to, may := after[s][m]
	if !may {
		return s, &NotNow{m, s}
	}
	return to, nil
}

// Can are the moves that somebody may say from here, TakeBack aside.
func (s Stage) Can() []Move {
	moves := []Move{}
	for _, m := range Said {
		if _, may := after[s][m]; may {
			moves = append(moves, m)
		}
	}
	return moves
}

// Reason reports whether a move needs a reason: what was said is read by somebody later.
func (m Move) Reason() bool { return slices.Contains([]Move{BreakOff, Release, ComeBack}, m) }

// Taken is a move that was made.
type Taken struct {
	Move Move
	From Stage
	To   Stage
}

// Back is where taking back the newest said move leads. Only the move that brought the vehicle where it stands can be
// taken back.
func (s Stage) Back(newest *Taken) (Stage, error) {
	if newest == nil || newest.To != s || newest.Move == TakeBack {
		return s, &NotNow{TakeBack, s}
	}
	return newest.From, nil
}

// Signed is where signing an audit leads: by whether the wash passed, and whether something found can be put right.
func Signed(passed, rework bool) Move {
	switch {
	case rework:
		return AskRework
	case passed:
		return Pass
	}
	return Fail
}

// Tapped is the move that taps make: the wash is finished or not, and rework is left or not, of a wash whose last
// audit passed or not. Taps that change nothing give "".
func (s Stage) Tapped(finished, reworkLeft, passed bool) Move {
	switch {
	case (s == InBay || s == BrokenOff) && finished:
		return Finish
	case s == ToAudit && !finished:
		return Unfinish
	case s == Rework && !reworkLeft && passed:
		return EndRework
	case s == Rework && !reworkLeft:
		return CheckRework
	case s == Ready && reworkLeft && passed:
		return ReworkAgain
	}
	return ""
}

// Closes reports whether a move closes the wash: from then on its log is what it was, and only the lead corrects it.
func (m Move) Closes() bool {
	return slices.Contains([]Move{StartAudit, Release, HandOver}, m)
}

// Planned reports whether the wash is still to come.
func (s Stage) Planned() bool { return s == Booked || s == LookedOver }

// Washing reports whether somebody has the vehicle in hand.
func (s Stage) Washing() bool { return s == InBay || s == Rework }

// Open reports whether something is still to be done before the customer may fetch the vehicle.
func (s Stage) Open() bool {
	return !slices.Contains([]Stage{Cancelled, DidNotCome, Ready, HandedOver}, s)
}

// Washed reports whether the wash itself is done, whatever became of it later.
func (s Stage) Washed() bool {
	return slices.Contains([]Stage{ToAudit, Auditing, Rework, Failed, Ready, HandedOver, CameBack}, s)
}

// Here reports whether the vehicle may be fetched: the customer is told so from then on and no sooner.
func (s Stage) Here() bool { return s == Ready }
