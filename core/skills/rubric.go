package skills

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"uskel/core/procedure"
	"uskel/core/wrong"
)

// Rubric is a skill as the shop teaches it: its lesson, what a trainer watches for, and what a sign-off needs. It is a
// document with versions, as procedures are: what was watched by an older one keeps its words.
type Rubric struct {
	Skill    procedure.Skill `json:"skill"`
	Version  int             `json:"version" minimum:"0" doc:"0 is what Uskel begins with"`
	Order    int             `json:"order" minimum:"1" maximum:"99" doc:"place in the order of teaching"`
	Why      string          `json:"why" maxLength:"200" doc:"why it matters, in a sentence"`
	Minute   []string        `json:"minute" maxItems:"8" doc:"the job in a minute"`
	Rules    []TaughtRule    `json:"rules" maxItems:"8" doc:"in detail: asks before it tells"`
	Criteria []Criterion     `json:"criteria" minItems:"1" maxItems:"12"`
	Needs    Needs           `json:"needs"`
}

// TaughtRule is one thing taught: a question, the rule, and its reason.
type TaughtRule struct {
	Ask     string `json:"ask" maxLength:"160"`
	Rule    string `json:"rule" maxLength:"200"`
	Because string `json:"because" maxLength:"200"`
}

// Criterion is one thing watched. Must ones decide; the others are for the talk afterwards.
type Criterion struct {
	ID   string `json:"id" pattern:"^[a-z0-9-]{1,40}$"`
	Text string `json:"text" minLength:"3" maxLength:"160"`
	Must bool   `json:"must"`
	// Techniques are those of the skill's steps in which it is seen; all of them when empty.
	Techniques []procedure.Technique `json:"techniques,omitempty"`
}

// Needs is what a sign-off asks for before it is proposed. The trainer decides all the same.
type Needs struct {
	Watched int `json:"watched" minimum:"0" maximum:"20" doc:"washes in which all that must be was done alone"`
	Drills  int `json:"drills" minimum:"0" maximum:"20" doc:"drills of the skill passed"`
	Level   int `json:"level" minimum:"1" maximum:"3" doc:"at this level or above"`
	Audits  int `json:"audits" minimum:"0" maximum:"50" doc:"audits without a finding that goes back to it"`
}

var criterionID = regexp.MustCompile(`^[a-z0-9-]{1,40}$`)

// Check says what is wrong with a rubric, naming the field.
func (r Rubric) Check() error {
	seen, must := map[string]bool{}, false
	if !slices.Contains(r.Skill.Values(), string(r.Skill)) {
		return wrong.At("skill", "use one of %q", r.Skill.Values())
	}
	for i, c := range r.Criteria {
		switch {
		case !criterionID.MatchString(c.ID):
			return wrong.At(fmt.Sprintf("criteria[%d].id", i), "small letters, digits and dashes")
		case seen[c.ID]:
			return wrong.At(fmt.Sprintf("criteria[%d].id", i), "%q is used twice", c.ID)
		case strings.TrimSpace(c.Text) == "":
			return wrong.At(fmt.Sprintf("criteria[%d].text", i), "say what is watched for")
		}
		seen[c.ID], must = true, must || c.Must
	}
	if !must {
		return wrong.At("criteria", "at least one that must be seen, or nothing decides")
	}
	for i, x := range r.Rules {
		if strings.TrimSpace(x.Rule) == "" {
			return wrong.At(fmt.Sprintf("rules[%d].rule", i), "say what to do")
		}
	}
	if r.Needs.Level < 1 || r.Needs.Level > 3 {
		return wrong.At("needs.level", "1 to 3")
	}
	return nil
}

// Criterion finds a criterion by its id.
func (r Rubric) Criterion(id string) (Criterion, bool) {
	at := slices.IndexFunc(r.Criteria, func(c Criterion) bool { return c.ID == id })
	if at < 0 {
		return Criterion{}, false
	}
	return r.Criteria[at], true
}

// SeenIn are the criteria that a step shows: those of its skill, and of its technique where they name one.
func (r Rubric) SeenIn(skill procedure.Skill, t procedure.Technique) []Criterion {
	var seen []Criterion
	for _, c := range r.Criteria {
		if skill == r.Skill && (len(c.Techniques) == 0 || slices.Contains(c.Techniques, t)) {
			seen = append(seen, c)
		}
	}
	return seen
}

// Differs says in words what became of a rubric.
func (r Rubric) Differs(was Rubric) []string {
	var words []string
	say := func(format string, args ...any) { words = append(words, fmt.Sprintf(format, args...)) }
	for _, c := range r.Criteria {
		before, known := was.Criterion(c.ID)
		switch {
		case !known:
			say("Watched now: %s.", c.Text)
		case before.Text != c.Text:
			say("%q reads now %q.", before.Text, c.Text)
		}
		if known && before.Must != c.Must {
			say("%s: %s.", c.Text, map[bool]string{true: "must be seen now", false: "decides no longer"}[c.Must])
		}
		if known && !slices.Equal(before.Techniques, c.Techniques) {
			say("%s: seen in other steps.", c.Text)
		}
	}
	for _, c := range was.Criteria {
		if _, still := r.Criterion(c.ID); !still {
			say("No longer watched: %s.", c.Text)
		}
	}
	if r.Needs != was.Needs {
		say("A sign-off needs: %s.", strings.Join(r.Needs.words(), ", "))
	}
	if r.Order != was.Order {
		say("Taught as number %d, was %d.", r.Order, was.Order)
	}
	if r.Why != was.Why || !slices.Equal(r.Minute, was.Minute) || !slices.Equal(r.Rules, was.Rules) {
		say("The lesson reads differently.")
	}
	return words
}

func (n Needs) words() []string {
	words := []string{}
	add := func(count int, format string) {
		if count > 0 {
			words = append(words, fmt.Sprintf(format, count))
		}
	}
	add(n.Watched, "%d watched washes")
	if n.Drills > 0 {
		words = append(words, fmt.Sprintf("%d drills at level %d or above", n.Drills, n.Level))
	}
	add(n.Audits, "%d audits without a finding of it")
	if len(words) == 0 {
		return []string{"the trainer's word"}
	}
	return words
}

// Mark is what a trainer saw of a criterion in a wash.
type Mark int

// The marks.
const (
	NotSeen  Mark = 0
	WithHelp Mark = 1
	Alone    Mark = 2
)

// Marks are what was seen in one wash, by criterion.
type Marks map[string]Mark

// Done reports whether a wash shows a skill done alone: something that must be was seen, and nothing of it took help.
func (r Rubric) Done(m Marks) bool {
	any := false
	for _, c := range r.Criteria {
		mark, seen := m[c.ID]
		if !c.Must || !seen || mark == NotSeen {
			continue
		}
		if mark < Alone {
			return false
		}
		any = true
	}
	return any
}

// Had is what somebody has of what a sign-off needs.
type Had struct {
	Washes []Marks     // watched washes, of any time since the last sign-off
	Passed map[int]int // drills passed, by level
	Audits int         // audits without a finding that goes back to the skill
}

// Need is one thing that a sign-off needs, and how far it is.
type Need struct {
	Says string `json:"says"`
	Have int    `json:"have"`
	Want int    `json:"want"`
	Met  bool   `json:"met"`
}

// Progress is how far somebody is on the way to a sign-off. Everything that must be must also have been seen alone once.
func (r Rubric) Progress(had Had) []Need {
	needs := []Need{}
	add := func(says string, have, want int) {
		if want > 0 {
			needs = append(needs, Need{says, min(have, want), want, have >= want})
		}
	}
	alone, washes := map[string]bool{}, 0
	for _, m := range had.Washes {
		if r.Done(m) {
			washes++
		}
		for id, mark := range m {
			if mark == Alone {
				alone[id] = true
			}
		}
	}
	passed := 0
	for level, n := range had.Passed {
		if level >= r.Needs.Level {
			passed += n
		}
	}
	add("watched washes, all that must be done alone", washes, r.Needs.Watched)
	if r.Needs.Watched > 0 {
		must, seen := 0, 0
		for _, c := range r.Criteria {
			if c.Must {
				must++
				if alone[c.ID] {
					seen++
				}
			}
		}
		add("things that must be seen, seen alone", seen, must)
	}
	add(fmt.Sprintf("drills passed at level %d or above", r.Needs.Level), passed, r.Needs.Drills)
	add("audits without a finding of it", had.Audits, r.Needs.Audits)
	return needs
}

// Proposed reports whether all that a sign-off needs is there.
func Proposed(needs []Need) bool {
	return len(needs) > 0 && !slices.ContainsFunc(needs, func(n Need) bool { return !n.Met })
}

// Current are the rubrics in use, in the order of teaching: the newest of each skill that the shop has written, else what
// Uskel begins with.
func Current(written []Rubric) []Rubric {
	current := Starters()
	for i, r := range current {
		for _, w := range written {
			if w.Skill == r.Skill && w.Version >= current[i].Version {
				current[i] = w
			}
		}
	}
	slices.SortStableFunc(current, func(a, b Rubric) int { return cmp.Compare(a.Order, b.Order) })
	return current
}

// RubricOf finds a skill's rubric among those in use.
func RubricOf(current []Rubric, s procedure.Skill) (Rubric, error) {
	for _, r := range current {
		if r.Skill == s {
			return r, nil
		}
	}
	return Rubric{}, wrong.At("skill", "%q: use one of %q", s, s.Values())
}

// Ready judges an observed wash against a rubric: every criterion needs an answer, every must one a yes.
func (r Rubric) Ready(seen map[string]bool) (bool, error) {
	ready := true
	for _, c := range r.Criteria {
		ok, answered := seen[c.ID]
		if !answered {
			return false, wrong.At(fmt.Sprintf("criteria.%s", c.ID), "say yes or no: %s", c.Text)
		}
		ready = ready && (ok || !c.Must)
	}
	for id := range seen {
		if _, known := r.Criterion(id); !known {
			return false, wrong.At(fmt.Sprintf("criteria.%s", id), "the rubric for %s has no such criterion", r.Skill)
		}
	}
	return ready, nil
}

// Next is the first skill in the order of teaching that is not held yet; empty when all are.
func Next(current []Rubric, held []procedure.Skill) procedure.Skill {
	for _, r := range current {
		if !slices.Contains(held, r.Skill) {
			return r.Skill
		}
	}
	return ""
}
