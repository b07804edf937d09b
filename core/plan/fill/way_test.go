package fill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
)

// Ways on the picture follow how the shop settles the questions (docs/trade.md, section 8), but after the contact wash
// water goes down and what touches paint never goes in circles.
func TestWaysFollowHowQuestionsAreSettled(t *testing.T) {
	var maintenance procedure.Procedure
	for _, p := range starters.Starters() {
		if p.ID == "maintenance" {
			maintenance = p
		}
	}
	ways := func(pins procedure.Pins) map[string]plan.Way {
		mild := plantest.Job(2)
		mild.Pins = pins
		made, err := fill.Resolve(maintenance, mild)
		require.NoError(t, err)
		byStep := map[string]plan.Way{}
		for _, s := range made.Steps {
			byStep[s.ID] = s.Way
		}
		return byStep
	}
	bottom := ways(
		procedure.Pins{
			condition.FoamFrom:        condition.FromBottom,
			condition.FoamOffFrom:     condition.FromBottom,
			condition.StrokeDirection: condition.Along,
		},
	)
	top := ways(
		procedure.Pins{
			condition.FoamFrom:        condition.FromTop,
			condition.FoamOffFrom:     condition.FromTop,
			condition.StrokeDirection: condition.UpAndDown,
		},
	)
	assert.Equal(t, plan.WayUp, bottom["foam"])
	assert.Equal(t, plan.WayDown, top["foam"])
	seen := map[plan.Way]bool{}
	for id, way := range bottom {
		seen[way] = true
		if way == plan.WaySides || way == plan.WayCrossH {
			assert.Fail(t, "straight along is asked for", id)
		}
	}
	assert.True(t, seen[plan.WayAlong] && seen[plan.WayDown] && seen[plan.WayUp])
	for _, s := range maintenance.Steps() {
		if s.Technique == procedure.ContactWash {
			assert.Equal(t, plan.WayAlong, bottom[s.ID])
			assert.Equal(t, plan.WaySides, top[s.ID])
		}
	}
}
