// Package training holds drills, rubrics and who may do what (docs/trade.md, section 11).
package training

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"uskel/core/contact"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// MittDrill is a contact wash on paper: the trainee decides move by move, the grit model answers.
type MittDrill struct {
	Lacquer contact.Lacquer `json:"lacquer"`
	Patches []contact.Patch `json:"patches"`
	Aim     float64         `json:"aim,omitempty" doc:"Scratch risk that the plan stays under; the usual when absent"`
}

// slack is how much more than the plan's own fullest face a trainee's may carry before it counts as too much (model).
const slack = 1.15

// NewMittDrill is a drill on a car's patches. A face is told to be over when it carries clearly more than any face of
// the plan's own for this car: the trainee is held to the cadence that the plan asks for, not to one for all cars.
func NewMittDrill(lacquer contact.Lacquer, patches []contact.Patch, aim float64) (MittDrill, error) {
	d := MittDrill{Lacquer: lacquer, Patches: patches, Aim: aim}
	own, err := d.own()
	d.Lacquer.Limit = slack * own.Peak
	return d, err
}

// own is the plan's own run of the drill.
func (d MittDrill) own() (contact.Plan, error) {
	second := slices.ContainsFunc(d.Patches, func(p contact.Patch) bool { return p.Band == vehicle.Lower && p.Grade >= 3 })
	return contact.Make(contact.Mitt, d.Lacquer, d.Patches, second, cmp.Or(d.Aim, contact.DefaultAim))
}

// Played is a move with the model's answer.
type Played struct {
	Move  contact.Move `json:"move"`
	Why   string       `json:"why"`
	Drag  float64      `json:"drag"`
	Index float64      `json:"index" doc:"Mar index after the move"`
	Over  bool         `json:"over"`
}

// Standing is where a drill stands after its moves.
type Standing struct {
	State    contact.State `json:"state"`
	Slip     contact.Slip  `json:"slip"`
	Index    float64       `json:"index"`
	Played   []Played      `json:"played"`
	Finished bool          `json:"finished"`
}

// Play replays the moves. The number of the first move that cannot be made is in the error.
func (d MittDrill) Play(moves []contact.Move) (Standing, error) {
	s := Standing{State: contact.Start(contact.Mitt, d.Lacquer, d.Patches), Played: []Played{}}
	for i, m := range moves {
		a, err := s.State.Make(m)
		if err != nil {
			return Standing{}, fmt.Errorf("move %d: %w", i+1, err)
		}
		s.State = a.State
		s.Played = append(s.Played, Played{m, a.Why, a.Drag, a.State.Index(), a.Over})
	}
	s.Slip, s.Index, s.Finished = s.State.Slip(), s.State.Index(), s.State.Finished()
	return s, nil
}

// Comparison sets a finished drill beside the core's own plan for the same car.
type Comparison struct {
	Index       float64  `json:"index"`
	PlanIndex   float64  `json:"planIndex"`
	Rinses      int      `json:"rinses"`
	PlanRinses  int      `json:"planRinses"`
	Left        float64  `json:"left" doc:"mg"`
	PlanLeft    float64  `json:"planLeft" doc:"mg"`
	OverLimit   int      `json:"overLimit" doc:"Moves that took a face over the paint's limit"`
	Passed      bool     `json:"passed"`
	Remarks     []string `json:"remarks"`
	PlanMoves   []string `json:"planMoves"`
	PlanReasons []string `json:"planReasons"`
}

// passAllowance is how much worse than the plan's mar index a trainee may be (model): no face taken over the
// limit comes first, elegance later.
const passAllowance = 8

// Compare judges a finished drill.
func (d MittDrill) Compare(moves []contact.Move) (Comparison, error) {
	s, err := d.Play(moves)
	if err != nil {
		return Comparison{}, err
	}
	if !s.Finished {
		return Comparison{}, fmt.Errorf("the drill is not finished: some zones are still unwashed")
	}
	own, err := d.own()
	if err != nil {
		return Comparison{}, err
	}
	c := Comparison{
		Index:       s.Index,
		PlanIndex:   own.Index,
		Rinses:      s.State.Rinses,
		PlanRinses:  own.Rinses,
		Left:        s.State.Left,
		PlanLeft:    own.Left,
		PlanReasons: own.Reasons,
	}
	for _, m := range own.Moves {
		c.PlanMoves = append(c.PlanMoves, Describe(m))
	}
	c.remark(d, s)
	c.Passed = c.OverLimit == 0 && c.Index <= c.PlanIndex+passAllowance
	return c, nil
}

func (c *Comparison) remark(d MittDrill, s Standing) {
	circles, pressed, upward, dirtyDips := 0, 0, 0, 0
	lowest := 0
	var previous contact.MoveKind
	for _, p := range s.Played {
		if p.Over {
			c.OverLimit++
		}
		if p.Move.Stroke.Circles {
			circles++
		}
		if p.Move.Stroke.Pressing {
			pressed++
		}
		if p.Move.Kind == contact.Reload && previous != contact.RubGuard && previous != contact.SwishOnly {
			dirtyDips++
		}
		if p.Move.Kind == contact.WashZone {
			if r := bandRank(p.Move); r < lowest {
				upward++
			} else {
				lowest = r
			}
		}
		previous = p.Move.Kind
	}
	say := func(n int, format string) {
		if n > 0 {
			c.Remarks = append(c.Remarks, fmt.Sprintf(format, n))
		}
	}
	c.Remarks = []string{}
	say(c.OverLimit, "%d times a face went over the paint's limit: flip or rinse sooner.")
	say(circles, "%d times in circles: straight lines only.")
	say(pressed, "%d times with pressure: the weight of the mitt is enough.")
	say(upward, "%d times back up to a cleaner band: upper all round first, then middle, then lower.")
	say(dirtyDips, "%d times into the wash bucket without a rinse first.")
	if c.Rinses > c.PlanRinses+3 {
		c.Remarks = append(
			c.Remarks,
			fmt.Sprintf("%d rinses where %d would do: kind to the paint, slow for the day.", c.Rinses, c.PlanRinses),
		)
	}
	if len(c.Remarks) == 0 {
		c.Remarks = append(c.Remarks, "As clean as the plan.")
	}
}

func bandRank(m contact.Move) int {
	switch m.Zone.Band() {
	case "upper":
		return 0
	case "middle":
		return 1
	}
	return 2
}

// Describe says a move in words.
func Describe(m contact.Move) string {
	switch m.Kind {
	case contact.WashZone:
		if m.Share < 0.995 {
			return fmt.Sprintf("wash %.0f %% of what is left of the %s", m.Share*100, m.Zone.Label())
		}
		return "wash the " + m.Zone.Label()
	}
	return string(m.Kind)
}

// SignOff is a trainer's judgement of one person on one skill.
type SignOff struct {
	Person   string          `json:"person"`
	Skill    procedure.Skill `json:"skill"`
	Passed   bool            `json:"passed"`
	At       time.Time       `json:"at"`
	Lapsed   bool            `json:"lapsed,omitempty"`
	Findings int             `json:"findings,omitempty" doc:"audit findings of late that go back to the skill, since it was signed off"`
}

// Lapse is the shop's rule of when a sign-off lapses: after so many months, or so many findings within a month. 0 is never.
type Lapse struct{ Months, Findings int }

// FindingDays is within how many days findings are counted that let a sign-off lapse.
const FindingDays = 30

// LapsesAt is when a sign-off lapses by its age; never without a rule.
func (s SignOff) LapsesAt(rule Lapse) (time.Time, bool) {
	if rule.Months <= 0 || !s.Passed {
		return time.Time{}, false
	}
	return s.At.AddDate(0, rule.Months, 0), true
}

// InForce are the sign-offs as they count at a moment: one that has lapsed holds no longer, until it is done anew.
func InForce(signOffs []SignOff, at time.Time, rule Lapse) []SignOff {
	now := slices.Clone(signOffs)
	for i, s := range now {
		lapses, ever := s.LapsesAt(rule)
		if ever && !at.Before(lapses) || s.Passed && rule.Findings > 0 && s.Findings >= rule.Findings {
			now[i].Passed, now[i].Lapsed = false, true
		}
	}
	return now
}

// soon is how long before it lapses a refresher is spoken of.
const soon = 30 * 24 * time.Hour

// RefresherDue reports whether a skill is to be watched again: its sign-off has lapsed, or will within a month.
func (s SignOff) RefresherDue(at time.Time, rule Lapse) bool {
	lapses, ever := s.LapsesAt(rule)
	return InForce([]SignOff{s}, at, rule)[0].Lapsed || s.Lapsed || ever && lapses.Sub(at) < soon
}

// FindingOf is a finding in an audit, going back to a skill of whoever washed.
type FindingOf struct {
	Person string
	Skill  procedure.Skill
	At     time.Time
}

// WithFindings counts, for every sign-off, the findings since it.
func WithFindings(signOffs []SignOff, findings []FindingOf) []SignOff {
	counted := slices.Clone(signOffs)
	for i, s := range counted {
		for _, f := range findings {
			if f.Person == s.Person && f.Skill == s.Skill && f.At.After(s.At) {
				counted[i].Findings++
			}
		}
	}
	return counted
}

// Held are the skills that a person holds, in the order of teaching: those whose latest sign-off was passed. The lead
// signs others off and holds them all.
func Held(person string, lead bool, signOffs []SignOff) []procedure.Skill {
	held := []procedure.Skill{}
	for _, name := range procedure.Skill("").Values() {
		if skill := procedure.Skill(name); lead || latest(person, skill, signOffs).Passed {
			held = append(held, skill)
		}
	}
	return held
}

// latest is a person's newest sign-off for a skill.
func latest(person string, skill procedure.Skill, signOffs []SignOff) SignOff {
	var newest SignOff
	for _, s := range signOffs {
		if s.Person == person && s.Skill == skill && !s.At.Before(newest.At) {
			newest = s
		}
	}
	return newest
}
