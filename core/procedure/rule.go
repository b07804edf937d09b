package procedure

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"uskel/core/condition"
)

// How is the way a fact is compared.
type How string

// The comparisons.
const (
	Is      How = "is"
	IsNot   How = "is not"
	AtLeast How = "at least"
	AtMost  How = "at most"
)

// Values lists the comparisons.
func (How) Values() []string {
	return []string{string(Is), string(IsNot), string(AtLeast), string(AtMost)}
}

// Rule is a condition over facts: all of some rules, any of some rules, not a rule, or one comparison.
// The zero Rule holds always. A Rule is built by the functions below or read from JSON, both of which
// check it against the facts that exist.
type Rule struct {
	all, any []Rule
	not      *Rule
	test     *test
}

type test struct {
	fact  condition.Fact
	how   How
	value condition.Value
}

// All holds when every rule holds.
func All(rules ...Rule) Rule { return Rule{all: rules} }

// Any holds when at least one rule holds.
func Any(rules ...Rule) Rule { return Rule{any: rules} }

// Not holds when the rule does not.
func Not(r Rule) Rule { return Rule{not: &r} }

// NewTest compares a fact with a number or a text, and refuses comparisons that make no sense for the fact.
func NewTest(fact condition.Fact, how How, value condition.Value) (Rule, error) {
	info, err := fact.Info()
	if err != nil {
		return Rule{}, err
	}
	switch {
	case info.Kind == condition.Number && value.Text != "":
		return Rule{}, fmt.Errorf("fact %q: compare with a number, not %q", fact, value.Text)
	case info.Kind != condition.Number && how != Is && how != IsNot:
		return Rule{}, fmt.Errorf("fact %q: only \"is\" and \"is not\" make sense, not %q", fact, how)
	case info.Kind == condition.YesNo && value.Text != "yes" && value.Text != "no":
		return Rule{}, fmt.Errorf("fact %q: compare with yes or no, not %q", fact, value.Text)
	case info.Kind == condition.Choice && !slices.Contains(info.Choices, value.Text):
		return Rule{}, fmt.Errorf("fact %q: use one of %q, not %q", fact, info.Choices, value.Text)
	case !slices.Contains([]How{Is, IsNot, AtLeast, AtMost}, how):
		return Rule{}, fmt.Errorf("comparison %q: use is, is not, at least or at most", how)
	}
	return Rule{test: &test{fact, how, value}}, nil
}

func must(r Rule, err error) Rule {
	if err != nil {
		panic(err)
	}
	return r
}

// Min, Max, Be and BeNot build comparisons for procedures written in Go; a wrong one panics at start.
func Min(f condition.Fact, n float64) Rule {
	return must(NewTest(f, AtLeast, condition.Value{Number: n}))
}

// Max is the rule that a number is at most n.
func Max(f condition.Fact, n float64) Rule {
	return must(NewTest(f, AtMost, condition.Value{Number: n}))
}

// Exactly is the rule that a number is n.
func Exactly(f condition.Fact, n float64) Rule {
	return must(NewTest(f, Is, condition.Value{Number: n}))
}

// Be is the rule that a fact has a value.
func Be[T ~string](f condition.Fact, v T) Rule {
	return must(NewTest(f, Is, condition.Value{Text: string(v)}))
}

// BeNot is the rule that a fact has another value.
func BeNot[T ~string](f condition.Fact, v T) Rule {
	return must(NewTest(f, IsNot, condition.Value{Text: string(v)}))
}

// Always reports whether the rule asks nothing.
func (r Rule) Always() bool {
	return r.test == nil && r.not == nil && len(r.all) == 0 && len(r.any) == 0
}

// Holds evaluates the rule. A fact that is not known makes its comparison false.
func (r Rule) Holds(facts condition.Facts) bool {
	switch {
	case r.test != nil:
		return r.test.holds(facts)
	case r.not != nil:
		return !r.not.Holds(facts)
	case len(r.any) > 0:
		return slices.ContainsFunc(r.any, func(one Rule) bool { return one.Holds(facts) })
	}
	return !slices.ContainsFunc(r.all, func(one Rule) bool { return !one.Holds(facts) })
}

func (t test) holds(facts condition.Facts) bool {
	v, known := facts[t.fact]
	if !known {
		return false
	}
	switch t.how {
	case Is:
		return v == t.value
	case IsNot:
		return v != t.value
	case AtLeast:
		return v.Number >= t.value.Number
	}
	return v.Number <= t.value.Number
}

// Why explains the outcome on these facts in one sentence: what was found, with the comparisons that decided it. What
// several comparisons ask of one fact is said together.
func (r Rule) Why(facts condition.Facts) string {
	var order []condition.Fact
	asked := map[condition.Fact][]test{}
	for _, t := range r.deciders(facts, r.Holds(facts)) {
		if asked[t.fact] == nil {
			order = append(order, t.fact)
		}
		if !slices.Contains(asked[t.fact], t) {
			asked[t.fact] = append(asked[t.fact], t)
		}
	}
	said := make([]string, len(order))
	for i, fact := range order {
		said[i] = found(fact, asked[fact], facts)
	}
	return strings.Join(said, "; ")
}

// deciders lists the comparisons that made the rule come out as it did.
func (r Rule) deciders(facts condition.Facts, outcome bool) []test {
	switch {
	case r.test != nil:
		return []test{*r.test}
	case r.not != nil:
		return r.not.deciders(facts, !outcome)
	}
	var found []test
	for _, one := range slices.Concat(r.all, r.any) {
		if one.Holds(facts) == outcome {
			found = append(found, one.deciders(facts, outcome)...)
		}
	}
	if len(r.any) > 0 && outcome && len(found) > 1 {
		return found[:1]
	}
	return found
}

// found says what a fact is, and what was asked of it where that is a number.
func found(fact condition.Fact, asked []test, facts condition.Facts) string {
	info, _ := fact.Info()
	v := facts[fact]
	if info.Kind == condition.YesNo {
		if v.Text == "yes" {
			return info.Label
		}
		return info.Absent
	}
	unit := ""
	if info.Unit != "" {
		unit = " " + info.Unit
	}
	var bounds []string
	for _, t := range asked {
		if t.how == AtLeast || t.how == AtMost {
			bounds = append(bounds, fmt.Sprintf("%s %s%s", t.how, t.value, unit))
		}
	}
	switch {
	case len(bounds) == 0:
		return fmt.Sprintf("%s is %s", info.Label, v)
	case len(bounds) == 2 && len(asked) == 2 && asked[0].value == asked[1].value:
		return fmt.Sprintf("%s is %s%s, as asked", info.Label, v, unit)
	}
	return fmt.Sprintf("%s is %s%s (asked: %s)", info.Label, v, unit, strings.Join(bounds, ", "))
}

// Sentence reads the rule back in words; empty for a rule that asks nothing.
func (r Rule) Sentence() string {
	switch {
	case r.Always():
		return ""
	case r.test != nil:
		return r.test.sentence()
	case r.not != nil:
		return "not (" + r.not.Sentence() + ")"
	}
	word, parts := " and ", r.all
	if len(r.any) > 0 {
		word, parts = " or ", r.any
	}
	said := make([]string, len(parts))
	for i, one := range parts {
		said[i] = one.Sentence()
		if one.test == nil && len(parts) > 1 && one.not == nil {
			said[i] = "(" + said[i] + ")"
		}
	}
	return strings.Join(said, word)
}

func (t test) sentence() string {
	info, err := t.fact.Info()
	if err != nil {
		return string(t.fact)
	}
	if info.Kind == condition.YesNo {
		if (t.value.Text == "yes") == (t.how == Is) {
			return info.Label
		}
		return info.Absent
	}
	unit := ""
	if info.Unit != "" {
		unit = " " + info.Unit
	}
	if t.how == Is || t.how == IsNot {
		return fmt.Sprintf("%s %s %s%s", info.Label, t.how, t.value, unit)
	}
	return fmt.Sprintf("%s is %s %s%s", info.Label, t.how, t.value, unit)
}

type ruleJSON struct {
	All   []Rule         `json:"all,omitempty"`
	Any   []Rule         `json:"any,omitempty"`
	Not   *Rule          `json:"not,omitempty"`
	Fact  condition.Fact `json:"fact,omitempty"`
	How   How            `json:"how,omitempty"`
	Value any            `json:"value,omitempty"`
}

// MarshalJSON writes {"all":[...]}, {"any":[...]}, {"not":{...}}, {"fact":...,"how":...,"value":...} or {}.
func (r Rule) MarshalJSON() ([]byte, error) {
	j := ruleJSON{All: r.all, Any: r.any, Not: r.not}
	if r.test != nil {
		j.Fact, j.How, j.Value = r.test.fact, r.test.how, r.test.value.Text
		if r.test.value.Text == "" {
			j.Value = r.test.value.Number
		}
	}
	return json.Marshal(j)
}

// UnmarshalJSON reads what MarshalJSON writes and refuses everything else.
func (r *Rule) UnmarshalJSON(b []byte) error {
	var j ruleJSON
	dec := json.NewDecoder(strings.NewReader(string(b)))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&j); err != nil {
		return fmt.Errorf("condition: %w", err)
	}
	forms := 0
	for _, used := range []bool{j.All != nil, j.Any != nil, j.Not != nil, j.Fact != ""} {
		if used {
			forms++
		}
	}
	if forms > 1 {
		return errors.New("condition: use one of all, any, not or fact, not several")
	}
	if j.Fact == "" {
		*r = Rule{all: j.All, any: j.Any, not: j.Not}
		return nil
	}
	value := condition.Value{}
	switch v := j.Value.(type) {
	case string:
		value.Text = v
	case float64:
		value.Number = v
	default:
		return fmt.Errorf("condition on %q: give a value, a number or a text", j.Fact)
	}
	parsed, err := NewTest(j.Fact, j.How, value)
	if err == nil {
		*r = parsed
	}
	return err
}
