package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/procedure"
)

// Ways on the picture follow how the shop settles the questions (docs/trade.md, section 8), but after the contact wash
// water goes down and what touches paint never goes in circles.
func TestWaysFollowHowQuestionsAreSettled(t *testing.T) {
	var maintenance procedure.Procedure
	for _, p := range procedure.Starters() {
		if p.ID == "maintenance" {
			maintenance = p
		}
	}
	ways := func(pins procedure.Pins) map[string]Way {
		mild := job(2)
		mild.Pins = pins
		made, err := Resolve(maintenance, mild)
		require.NoError(t, err)
		byStep := map[string]Way{}
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
	assert.Equal(t, WayUp, bottom["foam"])
	assert.Equal(t, WayDown, top["foam"])
	seen := map[Way]bool{}
	for id, way := range bottom {
		seen[way] = true
		if way == WaySides || way == WayCrossH {
			assert.Fail(t, "straight along is asked for", id)
		}
	}
	assert.True(t, seen[WayAlong] && seen[WayDown] && seen[WayUp])
	for _, s := range maintenance.Steps() {
		if s.Technique == procedure.ContactWash {
			assert.Equal(t, WayAlong, bottom[s.ID])
			assert.Equal(t, WaySides, top[s.ID])
		}
	}
}
