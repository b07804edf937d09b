package starters

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/procedure"
)

func settledAs(t *testing.T, facts c.Facts, question c.Fact, wash, own, shop procedure.Pins) procedure.Settled {
	t.Helper()
	all := procedure.Settle(facts, wash, own, shop)
	i := slices.IndexFunc(all, func(s procedure.Settled) bool { return s.Fact == question })
	require.GreaterOrEqual(t, i, 0, "every question is answered")
	assert.Equal(t, all[i].Value, facts[question].Text, "steps can ask for the answer")
	return all[i]
}

// The nearer the work, the more a pin counts: the wash, then the procedure, then the shop, then the condition.
func TestWhoSettlesAQuestion(t *testing.T) {
	yes, no := procedure.Pins{c.DishSoap: c.Yes}, procedure.Pins{c.DishSoap: c.No}
	for _, row := range []struct {
		wash, own, shop procedure.Pins
		value, by       string
	}{
		{yes, no, no, c.Yes, "this wash"},
		{nil, yes, no, c.Yes, "this procedure"},
		{nil, nil, yes, c.Yes, "the shop"},
		{nil, nil, nil, c.No, "the condition"},
	} {
		s := settledAs(t, c.Facts{}, c.DishSoap, row.wash, row.own, row.shop)
		assert.Equal(t, []string{row.value, row.by}, []string{s.Value, s.By})
		assert.NotEmpty(t, s.Why)
	}
}

// No pin brings a blower to a place that has none, or where neighbours forbid it.
func TestNoPinBringsABlower(t *testing.T) {
	for _, info := range c.Questions() {
		if info.Fact != c.DryWith {
			continue
		}
		for _, school := range info.Schools {
			way := school.Value
			pins := procedure.Pins{c.DryWith: way}
			s := settledAs(t, c.Facts{c.BlowerHere: {Text: "no"}}, c.DryWith, pins, pins, pins)
			assert.Equal(t, c.TowelOnly, s.Value, way)
		}
	}
}

// Every question has a default whatever the condition, one of its choices, said in words.
func TestEveryQuestionHasADefault(t *testing.T) {
	settled := procedure.Settle(c.Facts{}, nil, nil, nil)
	for i, q := range c.Questions() {
		assert.Equal(t, q.Fact, settled[i].Fact)
		assert.True(
			t,
			slices.ContainsFunc(q.Schools, func(s c.School) bool { return s.Value == settled[i].Value }),
			q.Fact,
		)
		assert.NotEmpty(t, procedure.Defaults(q.Fact), q.Fact)
	}
}

// What the trial calls publishable is published: a step that ends what is not there is named before.
func TestUnusableIsSaidBeforePublishing(t *testing.T) {
	p := Maintenance()
	assert.Empty(t, p.Unusable())
	p = p.Edited(func(_ string, steps []procedure.Step) []procedure.Step {
		for i := range steps {
			if steps[i].ID == "final" {
				steps[i].Ends = []string{"nothing-there"}
			}
		}
		return steps
	})
	found := p.Unusable()
	assert.Len(t, found, 1)
	assert.Contains(t, found[0].Says, `ends "nothing-there"`)
	assert.False(t, procedure.Publishable(append(found, procedure.SenseCheck(p, nil)...)))
}
