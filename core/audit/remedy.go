package audit

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"uskel/core/procedure"
	"uskel/core/stats"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// Act is what is done about a pattern of findings.
type Act string

// The acts.
const (
	ChangeStep  Act = "change a step"
	Practise    Act = "practise"
	RetireCloth Act = "retire a cloth set"
	LookAtMore  Act = "look at more washes"
	MoveSlots   Act = "move slots out of the sun"
	OtherAct    Act = "something else"
)

// Acts are all acts.
func Acts() []Act { return []Act{ChangeStep, Practise, RetireCloth, LookAtMore, MoveSlots, OtherAct} }

// Values lists the acts.
func (Act) Values() []string {
	names := make([]string, len(Acts()))
	for i, a := range Acts() {
		names[i] = string(a)
	}
	return names
}

// Pattern is which findings a remedy is to lower.
type Pattern struct {
	Kind      Kind            `json:"kind,omitempty"`
	Zone      vehicle.Zone    `json:"zone,omitempty"`
	Skill     procedure.Skill `json:"skill,omitempty"`
	Washer    string          `json:"washer,omitempty" maxLength:"36"`
	Procedure string          `json:"procedure,omitempty" maxLength:"60" doc:"id, whichever version"`
	Place     string          `json:"place,omitempty" maxLength:"60"`
}

// has reports whether an audit could have had the findings, and whether it did.
func (p Pattern) has(a Audited) (could, did bool) {
	which := Which{Kind: p.Kind, Zone: p.Zone, Skill: p.Skill, Washer: p.Washer, Place: p.Place}
	could = which.audit(a) && (p.Procedure == "" || a.Procedure == p.Procedure)
	return could, could && slices.ContainsFunc(a.Findings, which.finding)
}

// Title names what is found.
func (p Pattern) Title() string {
	words := cmp.Or(string(p.Kind), string(p.Skill), "findings")
	if p.Zone != "" {
		words += " on " + p.Zone.Label()
	}
	return strings.ToUpper(words[:1]) + words[1:]
}

// Remedy is what somebody does about a pattern of findings, and by when.
type Remedy struct {
	Title   string    `json:"title" minLength:"1" maxLength:"120"`
	Pattern Pattern   `json:"pattern"`
	Cause   string    `json:"cause" minLength:"1" maxLength:"300" doc:"what is thought to be behind it"`
	Act     Act       `json:"act"`
	Step    string    `json:"step,omitempty" maxLength:"80" doc:"the step that is changed"`
	Note    string    `json:"note,omitempty" maxLength:"1000"`
	Owner   string    `json:"owner" format:"uuid" doc:"who sees to it"`
	Due     time.Time `json:"due"`
}

// Check says what is wrong with a remedy.
func (r Remedy) Check() error {
	switch {
	case strings.TrimSpace(r.Title) == "":
		return wrong.At("title", "say in a few words what is to get better")
	case strings.TrimSpace(r.Cause) == "":
		return wrong.At("cause", "say what you think is behind it; the audits will tell")
	case !slices.Contains(r.Act.Values(), string(r.Act)):
		return wrong.At("act", "%q: use one of %q", r.Act, r.Act.Values())
	case r.Act == ChangeStep && (r.Pattern.Procedure == "" || r.Step == ""):
		return wrong.At("step", "say which step of which procedure is changed")
	case r.Pattern == Pattern{}:
		return wrong.At("pattern", "say which findings are to become fewer")
	case r.Due.IsZero():
		return wrong.At("due", "say by when")
	}
	return nil
}

// Proposal is what Uskel proposes about a pattern of findings. Its causes are hypotheses: the first is the trade's usual one
// (docs/trade.md, section 10), the others are what stands out among these findings beyond chance.
type Proposal struct {
	Title     string   `json:"title"`
	Causes    []string `json:"causes"`
	Act       Act      `json:"act"`
	Procedure string   `json:"procedure,omitempty" doc:"of most of these findings"`
	Step      string   `json:"step,omitempty" doc:"that most of these findings go back to"`
	StepName  string   `json:"stepName,omitempty"`
}

// usualAct is what is done first about a kind of finding (common practice, no source).
var usualAct = map[Kind]Act{FineCircles: Practise, StraightMark: RetireCloth, Spots: MoveSlots, SmearedGlass: RetireCloth,
	LiftedEdge: Practise, BondedMatter: Practise}

// Propose says what may be done about a pattern, by the audits that there are.
func Propose(all []Audited, p Pattern, washers bool) Proposal {
	which := Which{Kind: p.Kind, Zone: p.Zone, Skill: p.Skill, Washer: p.Washer, Place: p.Place}
	matching := Matching(all, which)
	matching = slices.DeleteFunc(matching, func(a Audited) bool { return p.Procedure != "" && a.Procedure != p.Procedure })
	kinds_, steps, names := map[Kind]int{}, map[[2]string]int{}, map[string]string{}
	for _, a := range matching {
		for _, f := range a.Findings {
			kinds_[f.Kind]++
			if f.Step != "" {
				steps[[2]string{a.Procedure, f.Step}]++
				names[f.Step] = f.StepName
			}
		}
	}
	kind := cmp.Or(p.Kind, most(kinds_, func(a, b Kind) int { return cmp.Compare(a, b) }))
	v := Proposal{Title: p.Title(), Causes: []string{}, Act: cmp.Or(usualAct[kind], ChangeStep)}
	at := most(steps, func(a, b [2]string) int { return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1])) })
	v.Procedure, v.Step, v.StepName = at[0], at[1], names[at[1]]
	if v.Step == "" && v.Act == ChangeStep {
		v.Act = OtherAct
	}
	if cause := kinds[kind].cause; cause != "" {
		v.Causes = append(v.Causes, cause)
	}
	v.Causes = append(v.Causes, Count(all, which, washers).Says...)
	return v
}

// most is the key with the largest count; of equal ones the first by order.
func most[K comparable](counts map[K]int, order func(a, b K) int) K {
	var best K
	for k, n := range counts {
		if n > counts[best] || n == counts[best] && order(k, best) < 0 {
			best = k
		}
	}
	return best
}

// Prepare writes into a step what is to be watched so that a pattern of findings becomes rarer: what shows that the step is
// done; and for dirt low down a mitt of its own. It changes nothing else: the lead writes the rest. Changes says what was changed.
func Prepare(s procedure.Step, p Pattern) (changed procedure.Step, changes []string) {
	where := "anywhere"
	if p.Zone != "" {
		where = "on " + p.Zone.Label()
	}
	look := fmt.Sprintf("No %s %s: look again before you go on.", cmp.Or(string(p.Kind), "finding"), where)
	if !strings.Contains(s.LookFor, look) {
		s.LookFor = strings.TrimSpace(s.LookFor + " " + look)
		changes = append(changes, "done when: "+look)
	}
	if p.Kind == DirtLeft && s.Technique == procedure.ContactWash && !s.LowerMitt && (p.Zone == "" || low(p.Zone)) {
		s.LowerMitt = true
		changes = append(changes, "a mitt of its own for the lower band")
	}
	return s, changes
}

// PrepareIn writes the same into a step of a procedure, which is left as it is: what comes back is another.
func PrepareIn(doc procedure.Procedure, step string, p Pattern) (changed procedure.Procedure, changes []string) {
	doc.Stages = slices.Clone(doc.Stages)
	for i := range doc.Stages {
		doc.Stages[i].Steps = slices.Clone(doc.Stages[i].Steps)
		for k, s := range doc.Stages[i].Steps {
			if s.ID == step {
				doc.Stages[i].Steps[k], changes = Prepare(s, p)
			}
		}
	}
	return doc, changes
}

func low(z vehicle.Zone) bool { return zonePart(z).Band == vehicle.Lower }

// Share is in how many of the audits that could have had a finding there was one.
type Share struct {
	With    int     `json:"with"`
	Of      int     `json:"of"`
	Share   float64 `json:"share"`
	Low     float64 `json:"low" doc:"at the least, with 90 % certainty for the range"`
	High    float64 `json:"high"`
	Minutes float64 `json:"minutes" doc:"min hands-on that a wash took on average; 0 without one"`
}

// Outcome is what became of a pattern after a remedy.
type Outcome string

// The outcomes.
const (
	NotActed Outcome = "not done yet"
	TooEarly Outcome = "too early"
	Fell     Outcome = "fell"
	Rose     Outcome = "rose"
	NotShown Outcome = "no change shown"
)

// Values lists the outcomes.
func (Outcome) Values() []string {
	return []string{string(NotActed), string(TooEarly), string(Fell), string(Rose), string(NotShown)}
}

// Measured is a remedy held against the audits before and after it.
type Measured struct {
	Outcome Outcome `json:"outcome"`
	Before  Share   `json:"before"`
	After   Share   `json:"after"`
	Needs   int     `json:"needs" doc:"audits after it from which on something is said"`
	Chance  float64 `json:"chance" doc:"how likely so few would be by chance if nothing had changed; 1 before enough audits"`
	Says    string  `json:"says"`
}

const (
	// MeasuredOver is how far back a pattern is counted before a remedy (model): long enough for some audits, short enough for the
	// same people and cloths.
	MeasuredOver = 12 * 7 * 24 * time.Hour
	// sureEnough is the chance below which a change is told (common practice).
	sureEnough = 0.05
	// leastAfter is the fewest audits after a remedy that anything is said on (model).
	leastAfter = 10
)

// Measure holds what audits found before a moment against what they found from it on. acted is when the remedy took effect; nil
// before. It says something once there are as many audits as would have shown at least one finding with 95 % certainty, had
// nothing changed; then by Fisher's exact test to either side.
func (p Pattern) Measure(all []Audited, acted *time.Time) Measured {
	m := Measured{Outcome: NotActed, Chance: 1}
	for _, a := range all {
		could, did := p.has(a)
		if !could {
			continue
		}
		switch {
		case acted == nil || a.At.Before(*acted):
			if acted == nil || acted.Sub(a.At) <= MeasuredOver {
				m.Before.add(a, did)
			}
		default:
			m.After.add(a, did)
		}
	}
	m.Before.close()
	m.After.close()
	m.Needs = needed(m.Before.Share)
	m.judge(acted != nil)
	return m
}

func (s *Share) add(a Audited, did bool) {
	s.Of++
	s.Minutes += a.Minutes
	if did {
		s.With++
	}
}

func (s *Share) close() {
	if s.Of == 0 {
		return
	}
	s.Share = float64(s.With) / float64(s.Of)
	s.Minutes /= float64(s.Of)
	s.Low, s.High = clopperPearson(s.With, s.Of, rangeCertainty)
}

// needed is how many audits show at least one finding with 95 % certainty when a share of them has one.
func needed(share float64) int {
	if share <= 0 {
		return 0
	}
	if share >= 1 {
		return leastAfter
	}
	return max(leastAfter, int(math.Ceil(math.Log(sureEnough)/math.Log1p(-share))))
}

func (m *Measured) judge(acted bool) {
	b, a := m.Before, m.After
	had := fmt.Sprintf("%d of %d audits had it before", b.With, b.Of)
	switch {
	case b.With == 0:
		m.Says = "Nothing of it was found before: there is nothing to lower."
		return
	case !acted:
		m.Says = fmt.Sprintf("%d of %d audits have it. Once it is done, %d audits after it will tell.", b.With, b.Of, m.Needs)
		return
	case a.Of < m.Needs:
		m.Outcome = TooEarly
		m.Says = fmt.Sprintf("%s, %d of %d since: %d more audits and it can be told.", had, a.With, a.Of, m.Needs-a.Of)
		return
	}
	m.Chance = stats.FewerByChance(b.With, b.Of, a.With, a.Of)
	m.Outcome = NotShown
	told := fmt.Sprintf("%s, %d of %d since", had, a.With, a.Of)
	switch {
	case m.Chance <= sureEnough:
		m.Outcome = Fell
		m.Says = fmt.Sprintf("%s: it fell, more than chance.%s", told, m.cost())
	case stats.FewerByChance(a.With, a.Of, b.With, b.Of) <= sureEnough:
		m.Outcome = Rose
		m.Says = told + ": it rose, more than chance. Take it back, or find another cause."
	default:
		m.Says = told + ": no more than chance. Another cause may be behind it."
	}
}

// cost says what it costs in minutes, where the times are known.
func (m Measured) cost() string {
	more := m.After.Minutes - m.Before.Minutes
	if m.Before.Minutes == 0 || m.After.Minutes == 0 {
		return ""
	}
	if math.Abs(more) < 0.5 {
		return " Washes take as long as before."
	}
	word := "longer"
	if more < 0 {
		word = "less"
	}
	return fmt.Sprintf(" Washes take %.1f min %s on average, whatever else changed.", math.Abs(more), word)
}
