// Package drill is practice on a model that answers every move: a small world of panels, cloths, buckets and clocks, played
// by actions that can be replayed. It judges by the same models that plan washes (docs/training.md).
package drill

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
)

// Kind is what is practised.
type Kind string

// The kinds of drill.
const (
	ByHand  Kind = "washing"
	Pails   Kind = "buckets"
	Towels  Kind = "drying"
	Dwelled Kind = "dwells"
)

// Values lists the kinds.
func (Kind) Values() []string {
	return []string{string(ByHand), string(Pails), string(Towels), string(Dwelled)}
}

// Task is a drill: one of its kinds, with what it begins from.
type Task struct {
	Kind    Kind     `json:"kind"`
	Mitt    *Mitt    `json:"mitt,omitempty"`
	Buckets *Buckets `json:"buckets,omitempty"`
	Drying  *Drying  `json:"drying,omitempty"`
	Dwells  *Dwells  `json:"dwells,omitempty"`
}

// game is what every kind of drill can do.
type game interface {
	Check() error
	// start is how it stands before the first action.
	start() State
	// play plays an action on a copy of the state, says what it did, and how many seconds it took.
	play(s *State, a Action) (Said, measure.Seconds, error)
	// pass lets what dries dry, once the clock has gone on.
	pass(s *State, said *Said)
	// asTaught is the drill played as the shop teaches it.
	asTaught() ([]Action, error)
	// judge sets a finished run beside the one as taught.
	judge(s, taught State) (RunResult, error)
}

// copied is the state with slices of its own, so that an action changes nothing of what was.
func (s State) copied() State {
	s.Said = slices.Clone(s.Said)
	if s.Washing != nil {
		s.Washing = s.Washing.copied()
	}
	if s.Buckets != nil {
		s.Buckets = s.Buckets.copied()
	}
	if s.Drying != nil {
		s.Drying = s.Drying.copied()
	}
	if s.Dwells != nil {
		s.Dwells = s.Dwells.copied()
	}
	return s
}

func (t Task) game() (game, error) {
	switch {
	case t.Kind == ByHand && t.Mitt != nil:
		return *t.Mitt, nil
	case t.Kind == Pails && t.Buckets != nil:
		return *t.Buckets, nil
	case t.Kind == Towels && t.Drying != nil:
		return *t.Drying, nil
	case t.Kind == Dwelled && t.Dwells != nil:
		return *t.Dwells, nil
	}
	return nil, fmt.Errorf("kind %q: use one of %q, with what it begins from", t.Kind, t.Kind.Values())
}

// Check says what is wrong with a drill, naming the field.
func (t Task) Check() error {
	g, err := t.game()
	if err != nil {
		return err
	}
	return g.Check()
}

// Skill is the skill that a drill practises.
func (t Task) Skill() procedure.Skill {
	switch {
	case t.Kind == Pails:
		return procedure.SkillBuckets
	case t.Kind == Towels:
		return procedure.SkillDry
	case t.Kind == Dwelled && t.Dwells != nil && t.Dwells.Wheels:
		return procedure.SkillWheels
	case t.Kind == Dwelled:
		return procedure.SkillFoam
	}
	return procedure.SkillMitt
}

// Action is one thing done.
type Action struct {
	Do       Do                  `json:"do"`
	On       string              `json:"on,omitempty" maxLength:"40" doc:"which bucket, part or wheel, by its id"`
	How      string              `json:"how,omitempty" maxLength:"40" doc:"in which of its ways"`
	Amount   float64             `json:"amount,omitempty" minimum:"0" maximum:"2000" doc:"l of water, number of caps, or s waited"`
	Path     []contact.PathPoint `json:"path,omitempty" maxItems:"4000" doc:"of a stroke, on the panel in hand"`
	Pressing bool                `json:"pressing,omitempty"`
	Mesh     bool                `json:"mesh,omitempty" doc:"a stroke with the mesh side of the mitt"`
}

// State is how a drill stands.
type State struct {
	Clock measure.Seconds `json:"clock" doc:"s since the beginning"`
	Said  []Said          `json:"said"`
	Done  bool            `json:"done"`

	*Washing `json:"mitt,omitempty"`
	Buckets  *BucketsState `json:"buckets,omitempty"`
	Drying   *DryingState  `json:"drying,omitempty"`
	Dwells   *DwellsState  `json:"dwells,omitempty"`
}

// Said is what an action did and why.
type Said struct {
	Do     Do     `json:"do"`
	Text   string `json:"text"`
	Causes []Told `json:"causes,omitempty" doc:"what was not as it should be, with what it cost"`
}

// Told is one thing that was not as it should be.
type Told struct {
	Cause Cause   `json:"cause"`
	Cost  float64 `json:"cost" doc:"how much it weighs beside the others of its drill: hundredths of scratch risk, or what compares"`
}

// tell adds a cause to what an action did.
func (s *Said) tell(cause Cause, cost float64) {
	s.Causes = append(s.Causes, Told{cause, math.Max(cost, 0.0005)})
}

// explain puts the dearest cause in words before what the action did.
func (s *Said) explain() {
	if len(s.Causes) > 0 {
		s.Text = strings.TrimSpace(words[dearest(s.Causes)] + ". " + s.Text)
	}
}

func dearest(causes []Told) Cause {
	return slices.MaxFunc(causes, func(a, b Told) int { return cmp.Compare(a.Cost, b.Cost) }).Cause
}

// Start is the drill before its first action.
func (t Task) Start() (State, error) {
	g, err := t.game()
	if err != nil {
		return State{}, err
	}
	s := g.start()
	s.Said = []Said{}
	return s, nil
}

// Play plays an action. One that cannot be done is an error and changes nothing.
func (t Task) Play(s State, a Action) (State, error) {
	g, err := t.game()
	if err != nil {
		return s, err
	}
	return playOn(g, s, a)
}

func playOn(g game, s State, a Action) (State, error) {
	if s.Done {
		return s, fmt.Errorf("this drill is done")
	}
	next := s.copied()
	said, took, err := g.play(&next, a)
	if err != nil {
		return s, err
	}
	said.Do = a.Do
	next.Clock += took
	g.pass(&next, &said)
	next.Said = append(next.Said, said)
	return next, nil
}

// Replay plays all actions from the beginning. The number of the first that cannot be done is in the error.
func (t Task) Replay(actions []Action) (State, error) {
	s, err := t.Start()
	if err != nil {
		return s, err
	}
	for i, a := range actions {
		if s, err = t.Play(s, a); err != nil {
			return s, fmt.Errorf("actions[%d]: %w", i, err)
		}
	}
	return s, nil
}

// AsTaught is the drill played as the shop teaches it.
func (t Task) AsTaught() ([]Action, error) {
	g, err := t.game()
	if err != nil {
		return nil, err
	}
	return g.asTaught()
}

// script plays actions one after another, as long as each can be done.
type script struct {
	g   game
	s   State
	all []Action
	err error
}

func scripted(g game) *script {
	s := g.start()
	s.Said = []Said{}
	return &script{g: g, s: s}
}

func (p *script) do(a Action) {
	if p.err == nil {
		p.s, p.err = playOn(p.g, p.s, a)
		p.all = append(p.all, a)
	}
}

// unknown is the refusal of an action that a drill does not know.
func unknown(a Action, known ...Do) error { return fmt.Errorf("action %q: use one of %q", a.Do, known) }
