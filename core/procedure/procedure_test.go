package procedure

import (
	"encoding/json"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
)

func number(n float64) condition.Value { return condition.Value{Number: n} }
func text(t string) condition.Value    { return condition.Value{Text: t} }

func TestRulesAndTheirReasons(t *testing.T) {
	facts := condition.Facts{
		condition.GradeLower:   number(3),
		condition.HasBugs:      text("no"),
		condition.WaterOnPaint: text("flat"),
		condition.PaintFinish:  text("satin"),
	}
	for _, c := range []struct {
		rule     Rule
		holds    bool
		why      string
		sentence string
	}{
		{Rule{}, true, "", ""},
		{Min(condition.GradeLower, 3), true, "the lower band's worst grade is 3 (asked: " +
			"at least 3)", "the lower band's worst grade is at least 3"},
		{Max(condition.GradeLower, 2), false, "the lower band's worst grade is 3 " +
			"(asked: at most 2)", "the lower band's worst grade is at most 2"},
		{Be(condition.HasBugs, "yes"), false, "no bugs are on it", "bugs are on it"},
		{Not(Be(condition.HasBugs, "yes")), true, "no bugs are on it", "not (bugs are on it)"},
		{All(Be(condition.WaterOnPaint, condition.Flat), glossy), false, "the finish is satin", "water on the " +
			"paint is flat and the finish is not satin"},
		{Any(Min(condition.GradeLower, 2), Be(condition.HasBugs, "yes")), true, "the lower band's worst grade is " +
			"3 (asked: at least 2)", "the lower band's worst grade is at least 2 or bugs are on it"},
	} {
		assert.Equal(t, c.holds, c.rule.Holds(facts), c.sentence)
		assert.Equal(t, c.why, c.rule.Why(facts))
		assert.Equal(t, c.sentence, c.rule.Sentence())
	}
	assert.False(t, Min(condition.GradeUpper, 0).Holds(facts), "an unknown fact never satisfies a comparison")
}

func TestRulesThatMakeNoSenseAreRefused(t *testing.T) {
	for _, c := range []struct {
		fact  condition.Fact
		how   How
		value condition.Value
	}{
		{"moon", Is, text("full")}, {condition.GradeLower, AtLeast, text("three")}, {condition.HasBugs, AtLeast, text("yes")},
		{condition.HasBugs, Is, text("maybe")}, {condition.PaintFinish, Is, text("velvet")}, {condition.GradeLower, "near", number(3)},
	} {
		_, err := NewTest(c.fact, c.how, c.value)
		assert.Error(t, err, "%+v", c)
	}
}

func randomRule(rng *rand.Rand, depth int) Rule {
	if depth == 0 || rng.Intn(3) == 0 {
		return []Rule{Min(condition.GradeLower, float64(rng.Intn(5))), Max(condition.GradeUpper, float64(rng.Intn(5))),
			Be(condition.HasBugs, "yes"), glossy}[rng.Intn(4)]
	}
	a, b := randomRule(rng, depth-1), randomRule(rng, depth-1)
	return []Rule{All(a, b), Any(a, b), Not(a)}[rng.Intn(3)]
}

func randomFacts(rng *rand.Rand) condition.Facts {
	return condition.Facts{
		condition.GradeLower: number(float64(rng.Intn(5))),
		condition.GradeUpper: number(float64(rng.Intn(5))),
		condition.HasBugs: text(
			[]string{"yes", "no"}[rng.Intn(2)],
		),
		condition.PaintFinish: text([]string{"satin", "hard"}[rng.Intn(2)]),
	}
}

// The algebra of conditions: De Morgan, double negation, and JSON there and back.
func TestRuleAlgebra(t *testing.T) {
	rng := rand.New(rand.NewSource(6))
	for range 500 {
		a, b, f := randomRule(rng, 3), randomRule(rng, 3), randomFacts(rng)
		assert.Equal(t, Not(All(a, b)).Holds(f), Any(Not(a), Not(b)).Holds(f))
		assert.Equal(t, Not(Any(a, b)).Holds(f), All(Not(a), Not(b)).Holds(f))
		assert.Equal(t, a.Holds(f), Not(Not(a)).Holds(f))
		assert.NotEmpty(t, a.Why(f), "every outcome has a reason: %s", a.Sentence())
		data, err := json.Marshal(a)
		require.NoError(t, err)
		var back Rule
		require.NoError(t, json.Unmarshal(data, &back))
		assert.Equal(t, a.Sentence(), back.Sentence())
	}
}

func FuzzRuleJSON(f *testing.F) {
	for _, seed := range []string{`{}`, `{"all":[{"fact":"bugs","how":"is","value":"yes"}]}`, `{"not":{"any":[]}}`,
		`{"fact":"bugs"}`, `{"x":1}`} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, data string) {
		var r Rule
		if json.Unmarshal([]byte(data), &r) == nil {
			r.Holds(condition.Facts{})
			r.Sentence()
		}
	})
}

func TestBadRuleJSON(t *testing.T) {
	var r Rule
	for _, bad := range []string{`{"fact":"bugs","how":"is"}`, `{"all":[],"any":[]}`, `{"colour":"red"}`,
		`{"fact":"bugs","how":"is","value":true}`, `3`} {
		assert.Error(t, json.Unmarshal([]byte(bad), &r), bad)
	}
}

// What two comparisons ask of one fact is said once.
func TestWhySaysAFactOnce(t *testing.T) {
	facts := condition.Facts{condition.GradeOverall: {Number: 3}}
	for want, rule := range map[string]Rule{
		"the overall grade is 3, as asked":                      All(Min(condition.GradeOverall, 3), Max(condition.GradeOverall, 3)),
		"the overall grade is 3 (asked: at least 2, at most 4)": All(Min(condition.GradeOverall, 2), Max(condition.GradeOverall, 4)),
		"the overall grade is 3 (asked: at most 2)":             All(Min(condition.GradeOverall, 1), Max(condition.GradeOverall, 2)),
	} {
		assert.Equal(t, want, rule.Why(facts))
	}
}
