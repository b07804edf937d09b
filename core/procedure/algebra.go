package procedure

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	c "uskel/core/condition"
)

// The algebra of conditions is exact, up to a limit no readable rule comes near: every fact has finitely many cases
// that a set of rules can tell apart (the choices there are, or the stretches between the numbers the rules name), so
// a search over them decides whether a rule can hold at all.

// Implies reports whether b holds whenever a does.
func Implies(a, b Rule) bool { return !Possible(All(a, Not(b))) }

// Exclude reports whether a and b never hold together.
func Exclude(a, b Rule) bool { return !Possible(All(a, b)) }

// Equivalent reports whether a and b hold in exactly the same conditions.
func Equivalent(a, b Rule) bool { return Implies(a, b) && Implies(b, a) }

// Possible reports whether some vehicle, place and day satisfy the rule.
func Possible(r Rule) bool { _, ok := Witness(r); return ok }

// Witness gives an example of facts that satisfy the rule, naming only facts the rule asks about.
func Witness(r Rule) (c.Facts, bool) {
	mentioned := map[c.Fact][]float64{}
	r.mention(mentioned)
	lawful := []Rule{r}
	for _, law := range laws {
		_, one := mentioned[law.one]
		if _, other := mentioned[law.other]; one && other {
			law.rule.mention(mentioned)
			lawful = append(lawful, law.rule)
		}
	}
	s := search{rule: All(lawful...), facts: c.Facts{}, left: searchLimit}
	for fact, numbers := range mentioned {
		s.order = append(s.order, fact)
		s.cases = append(s.cases, casesOf(fact, numbers))
	}
	s.sort()
	return s.facts, s.from(0)
}

// law is something that always holds between two facts.
type law struct {
	one, other c.Fact
	rule       Rule
}

// laws are what always holds between facts: the overall grade is that of the worst painted zone, and the same thing
// has two names in some places.
var laws = func() []law {
	then := func(a, b Rule) law { return law{a.test.fact, b.test.fact, Any(Not(a), b)} }
	var l []law
	for n := 1.0; n <= 4; n++ {
		l = append(
			l,
			then(Min(c.GradeLower, n), Min(c.GradeOverall, n)),
			then(Min(c.GradeMiddle, n), Min(c.GradeOverall, n)),
		)
	}
	return append(l,
		then(Be(c.DarkPaint, "yes"), Be(c.PaintShade, "dark")), then(Be(c.PaintShade, "dark"), Be(c.DarkPaint, "yes")),
		then(Be(c.RoofKind, "fabric"), Be(c.HasSoftTop, "yes")),
		then(Be(c.BlowerHere, "no"), Be(c.DryWith, c.TowelOnly)))
}()

// mention collects the facts a rule asks about and the numbers it compares them with.
func (r Rule) mention(into map[c.Fact][]float64) {
	if r.test != nil {
		into[r.test.fact] = append(into[r.test.fact], r.test.value.Number)
	}
	if r.not != nil {
		r.not.mention(into)
	}
	for _, one := range slices.Concat(r.all, r.any) {
		one.mention(into)
	}
}

// casesOf lists one value for each case of a fact that rules comparing it with some numbers can tell apart.
func casesOf(fact c.Fact, numbers []float64) []c.Value {
	info, err := fact.Info()
	if err != nil {
		return nil
	}
	var cases []c.Value
	switch info.Kind {
	case c.YesNo:
		return []c.Value{{Text: "yes"}, {Text: "no"}}
	case c.Choice:
		for _, choice := range info.Choices {
			cases = append(cases, c.Value{Text: choice})
		}
		return cases
	}
	most := info.Most
	if most == 0 {
		most = math.Inf(1)
	}
	candidates := []float64{info.Least}
	if !math.IsInf(most, 1) {
		candidates = append(candidates, most)
	}
	for _, n := range numbers {
		if info.Whole {
			candidates = append(candidates, math.Ceil(n)-1, math.Floor(n), math.Ceil(n), math.Floor(n)+1)
		} else {
			candidates = append(candidates, math.Nextafter(n, math.Inf(-1)), n, math.Nextafter(n, math.Inf(1)))
		}
	}
	slices.Sort(candidates)
	for _, n := range slices.Compact(candidates) {
		if n >= info.Least && n <= most {
			cases = append(cases, c.Value{Number: n})
		}
	}
	return cases
}

type search struct {
	rule  Rule
	order []c.Fact
	cases [][]c.Value
	facts c.Facts
	left  int // steps until the search gives up
}

// searchLimit is far beyond what a rule that a person can read needs. A rule that is not decided by then counts as
// possible, which at worst keeps the sense check silent.
const searchLimit = 20_000

// sort puts facts with few cases first and keeps the search the same every time.
func (s *search) sort() {
	at := make([]int, len(s.order))
	for i := range at {
		at[i] = i
	}
	slices.SortFunc(at, func(i, j int) int {
		return cmp.Or(cmp.Compare(len(s.cases[i]), len(s.cases[j])), cmp.Compare(s.order[i], s.order[j]))
	})
	order, cases := make([]c.Fact, len(at)), make([][]c.Value, len(at))
	for i, j := range at {
		order[i], cases[i] = s.order[j], s.cases[j]
	}
	s.order, s.cases = order, cases
}

// from tries the cases of one fact after the other, and gives up a branch as soon as the facts so far decide the rule.
func (s *search) from(i int) bool {
	if s.left--; s.left < 0 {
		return true
	}
	switch s.rule.known(s.facts) {
	case holdsNot:
		return false
	case holds:
		return true
	}
	for _, v := range s.cases[i] {
		s.facts[s.order[i]] = v
		if s.from(i + 1) {
			return true
		}
	}
	delete(s.facts, s.order[i])
	return false
}

type truth int

const (
	holdsNot truth = iota
	undecided
	holds
)

// known is a rule's truth when only some facts are known.
func (r Rule) known(facts c.Facts) truth {
	switch {
	case r.test != nil:
		if _, there := facts[r.test.fact]; !there {
			return undecided
		}
		if r.test.holds(facts) {
			return holds
		}
		return holdsNot
	case r.not != nil:
		return holds - r.not.known(facts)
	case len(r.any) > 0:
		best := holdsNot
		for _, one := range r.any {
			best = max(best, one.known(facts))
		}
		return best
	}
	worst := holds
	for _, one := range r.all {
		worst = min(worst, one.known(facts))
	}
	return worst
}

// Normal writes a rule in one way: "not" only before single comparisons that have no opposite, no nesting of the same
// kind, no repetition, in a fixed order. Rules that differ only in writing have the same normal form.
func (r Rule) Normal() Rule { return r.normal(false) }

func (r Rule) normal(negated bool) Rule {
	switch {
	case r.test != nil:
		return r.test.normal(negated)
	case r.not != nil:
		return r.not.normal(!negated)
	}
	parts, isAny := r.all, false
	if len(r.any) > 0 {
		parts, isAny = r.any, true
	}
	if negated {
		isAny = !isAny
	}
	var flat []Rule
	for _, one := range parts {
		n := one.normal(negated)
		if inner := n.all; isAny {
			inner = n.any
			flat = append(flat, orItself(inner, n)...)
		} else {
			flat = append(flat, orItself(inner, n)...)
		}
	}
	slices.SortFunc(flat, func(a, b Rule) int { return cmp.Compare(a.Sentence(), b.Sentence()) })
	flat = slices.CompactFunc(flat, func(a, b Rule) bool { return a.Sentence() == b.Sentence() })
	switch {
	case len(parts) == 0 && negated:
		return Not(Rule{})
	case len(flat) == 1:
		return flat[0]
	case isAny:
		return Any(flat...)
	}
	return All(flat...)
}

func orItself(inner []Rule, itself Rule) []Rule {
	if len(inner) == 0 {
		return []Rule{itself}
	}
	return inner
}

// normal turns a negated comparison into its opposite where there is one.
func (t test) normal(negated bool) Rule {
	info, _ := t.fact.Info()
	if info.Kind == c.YesNo { // "is not no" is "is yes"
		opposite := map[string]string{"yes": "no", "no": "yes"}
		if (t.how == IsNot) != negated {
			t.value.Text = opposite[t.value.Text]
		}
		t.how = Is
		return Rule{test: &t}
	}
	if !negated {
		return Rule{test: &t}
	}
	switch t.how {
	case Is:
		t.how = IsNot
	case IsNot:
		t.how = Is
	case AtLeast:
		if !info.Whole {
			return Not(Rule{test: &t})
		}
		t.how, t.value.Number = AtMost, math.Ceil(t.value.Number)-1
	case AtMost:
		if !info.Whole {
			return Not(Rule{test: &t})
		}
		t.how, t.value.Number = AtLeast, math.Floor(t.value.Number)+1
	}
	return Rule{test: &t}
}

// Describe puts a witness into words.
func Describe(facts c.Facts) string {
	said := make([]string, 0, len(facts))
	for fact, value := range facts {
		info, err := fact.Info()
		if err != nil {
			continue
		}
		if info.Kind == c.YesNo {
			word := info.Label
			if value.Text == "no" {
				word = info.Absent
			}
			said = append(said, word)
			continue
		}
		said = append(said, fmt.Sprintf("%s is %s", info.Label, value))
	}
	slices.Sort(said)
	return strings.Join(said, ", ")
}
