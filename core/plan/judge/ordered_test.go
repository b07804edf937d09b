package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/judge"
	"uskel/core/plan/plantest"
	"uskel/core/procedure/starters"
)

// A service is not replaced by a kinder or a quicker wash: what delivers it comes first, the others are told apart
// (docs/trade.md, section 20).
func TestWhatWasOrderedIsRecommended(t *testing.T) {
	for service, families := range map[string][]string{
		"touchless": {"F10"}, "ten-minutes": {"F11"}, "rinseless": {"F12", "F13", "F14", "F15"}, "wheels-only": {"F17"},
	} {
		j := plantest.Job(0)
		j.LookOver.Place.Blower, j.LookOver.Service = true, service
		choices := judge.Choose(starters.Starters(), j)
		require.Equal(t, plan.Recommended, choices[0].Verdict, "%s: %v", service, choices[0].Why)
		assert.Contains(t, families, choices[0].Family, service)
		others := false
		for _, c := range choices {
			if c.Plan == nil {
				continue
			}
			assert.False(t, others && c.Delivers, "%s: %s stands behind one that does not deliver it", service, c.Title)
			others = others || !c.Delivers
			assert.Equal(t, !c.Delivers, c.Why[len(c.Why)-1] == "Is not what was ordered: "+condition.StarterMenu().Of(service).Name+".",
				c.Title)
		}
	}
}

// Where nothing delivers it nothing is recommended, and it is said what is refused and what could be done.
func TestNothingDeliversIt(t *testing.T) {
	j := plantest.Job(4)
	j.LookOver.Service = "touchless"
	choices := judge.Choose(starters.Starters(), j)
	for _, c := range choices {
		assert.NotEqual(t, plan.Recommended, c.Verdict, c.Title)
	}
	says := judge.NothingDelivers(choices, j)
	assert.Contains(t, says, "Nothing that delivers Touchless upkeep can be done here: ")
	assert.Contains(t, says, "choose a wash on the plan, such as "+choices[0].Title)
}

// Half an hour drops what the service names, in its order, and nothing that keeps the paint safe.
func TestTheServiceSaysWhatGoesFirst(t *testing.T) {
	j := plantest.Job(2)
	j.Menu = condition.Menu{{ID: "x", Name: "X", Level: condition.Signature, Takes: []condition.Matter{condition.Bugs}, Tips: true,
		Tyres: condition.SatinTyres, Minutes: 20, Drops: []condition.Option{condition.ShutsOption, condition.TyresOption}}}
	j.LookOver.Service, j.LookOver.TyreShine = "x", true
	p := plantest.Resolve(t, starters.Maintenance(), j)
	require.NotEmpty(t, p.Drop)
	assert.Equal(t, "shuts", p.Drop[0].Step)
	for _, d := range p.Drop {
		assert.Contains(t, []string{"shuts", "tyres"}, d.Step, "only what the service names")
	}
}
