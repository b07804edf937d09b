package procedure

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/vehicle"
)

var (
	salted = Be(c.HasSalt, "yes")
	glossy = BeNot(c.PaintFinish, vehicle.Satin)
)

// Hand-made cases with known answers.
func TestImplicationAndContradiction(t *testing.T) {
	grade := func(low, high float64) Rule { return All(Min(c.GradeLower, low), Max(c.GradeLower, high)) }
	assert.True(t, Implies(Min(c.GradeLower, 3), Min(c.GradeLower, 2)))
	assert.False(t, Implies(Min(c.GradeLower, 2), Min(c.GradeLower, 3)))
	assert.True(
		t,
		Exclude(Max(c.GradeLower, 2), Min(c.GradeLower, 3)),
		"grades are whole: nothing lies between 2 and 3",
	)
	assert.False(t, Exclude(Max(c.FoamWindow, 2), Min(c.FoamWindow, 2)), "two minutes is both")
	assert.False(t, Possible(All(Max(c.FoamWindow, 2), Not(Max(c.FoamWindow, 3)))))
	assert.True(t, Possible(All(Not(Max(c.FoamWindow, 2)), Not(Min(c.FoamWindow, 3)))), "minutes are not whole")
	assert.True(t, Equivalent(Not(Min(c.GradeLower, 3)), Max(c.GradeLower, 2)))
	assert.True(t, Implies(grade(2, 3), Any(Exactly(c.GradeLower, 2), Exactly(c.GradeLower, 3))))
	assert.True(t, Implies(Min(c.GradeLower, 4), Min(c.GradeOverall, 4)), "the worst painted zone decides")
	assert.True(t, Exclude(Be(c.DarkPaint, "yes"), Be(c.PaintShade, "white")), "no vehicle is both dark and white")
	assert.False(t, Possible(Not(Rule{})))
	assert.True(t, Possible(Rule{}))
	assert.False(t, Possible(Min(c.GradeLower, 5)), "there is no grade 5")
	w, ok := Witness(All(Min(c.GradeLower, 3), salted))
	require.True(t, ok)
	assert.Equal(t, "salt is on it, the lower band's worst grade is 3", Describe(w))
}

// everyCase gives all facts over the small domain that randomRule speaks of.
func everyCase(try func(c.Facts)) {
	for lower := range 5 {
		for upper := range 5 {
			for _, bugs := range []string{"yes", "no"} {
				for _, finish := range []string{"ordinary", "soft", "hard", "satin"} {
					try(
						c.Facts{
							c.GradeLower:  number(float64(lower)),
							c.GradeUpper:  number(float64(upper)),
							c.HasBugs:     text(bugs),
							c.PaintFinish: text(finish),
						},
					)
				}
			}
		}
	}
}

// The algebra agrees with trying every case, and the normal form says the same as the rule.
func TestAlgebraAgreesWithEveryCase(t *testing.T) {
	rng := rand.New(rand.NewSource(11))
	for range 300 {
		a, b := randomRule(rng, 3), randomRule(rng, 3)
		possible, implies, same := false, true, true
		n := a.Normal()
		everyCase(func(f c.Facts) {
			x, y := a.Holds(f), b.Holds(f)
			possible, implies = possible || x, implies && (!x || y)
			same = same && n.Holds(f) == x
		})
		require.Equal(t, possible, Possible(a), a.Sentence())
		require.Equal(t, implies, Implies(a, b), "%s => %s", a.Sentence(), b.Sentence())
		require.True(t, same, "%s, normal: %s", a.Sentence(), n.Sentence())
		require.Equal(t, n.Sentence(), n.Normal().Sentence(), "normal once is normal twice")
		if w, ok := Witness(a); ok {
			for _, info := range c.AllFacts() {
				if _, there := w[info.Fact]; !there && info.Kind == c.YesNo {
					w[info.Fact] = c.Value{Text: "no"}
				}
			}
			require.Equal(t, holds, a.known(w), "the example satisfies the rule")
		}
	}
}

func TestNormalFormDoesNotDependOnWriting(t *testing.T) {
	a, b, d := Min(c.GradeLower, 3), salted, glossy
	for _, pair := range [][2]Rule{
		{All(a, b), All(b, a)}, {All(a, All(b, d)), All(All(a, b), d)}, {Not(Any(a, b)), All(Not(b), Not(a))}, {Any(a, a), a},
		{Not(Not(a)), a}, {Not(Be(c.HasSalt, "no")), salted}, {BeNot(c.HasSalt, "yes"), Be(c.HasSalt, "no")}, {Not(Max(c.GradeLower, 2)), a},
	} {
		assert.Equal(t, pair[0].Normal().Sentence(), pair[1].Normal().Sentence())
	}
}

// The search never runs away on what a lead would write: a rule over a dozen facts is decided at once.
// What nobody would write ends all the same: forty alternatives over every fact there is.
func TestHopelessRulesEnd(t *testing.T) {
	var parts []Rule
	facts := c.AllFacts()
	for i := range 40 {
		var alternatives []Rule
		for k := range 3 {
			info := facts[(i*7+k*11)%len(facts)]
			switch info.Kind {
			case c.Number:
				alternatives = append(alternatives, Not(Exactly(info.Fact, float64(i%5))))
			case c.YesNo:
				alternatives = append(alternatives, Be(info.Fact, "yes"))
			case c.Choice:
				alternatives = append(alternatives, Be(info.Fact, info.Choices[i%len(info.Choices)]))
			}
		}
		parts = append(parts, Any(alternatives...))
	}
	done := make(chan bool)
	go func() { done <- Possible(All(All(parts...), Min(c.ProtectionAge, 10), Max(c.ProtectionAge, 9))) }()
	select {
	case <-done:
	case <-time.After(20 * time.Second):
		t.Fatal("the search does not end")
	}
}

func TestTheSearchIsBounded(t *testing.T) {
	var parts []Rule
	for _, info := range c.AllFacts()[:14] {
		switch info.Kind {
		case c.Number:
			parts = append(parts, Any(Min(info.Fact, 2), Max(info.Fact, 1)))
		case c.YesNo:
			parts = append(parts, Any(Be(info.Fact, "yes"), Be(info.Fact, "no")))
		case c.Choice:
			parts = append(parts, BeNot(info.Fact, info.Choices[0]))
		}
	}
	done := make(chan bool)
	go func() { done <- Possible(All(All(parts...), Min(c.GradeLower, 4), Max(c.GradeLower, 3))) }()
	select {
	case possible := <-done:
		assert.False(t, possible)
	case <-time.After(20 * time.Second):
		t.Fatal("the search does not end")
	}
}
