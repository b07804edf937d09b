package starters

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

func TestStartersAreSound(t *testing.T) {
	for _, p := range Starters() {
		assert.NoError(t, p.Check(), p.Title)
		data, err := json.Marshal(p)
		require.NoError(t, err)
		var back procedure.Procedure
		require.NoError(t, json.Unmarshal(data, &back))
		again, err := json.Marshal(back)
		require.NoError(t, err)
		assert.JSONEq(t, string(data), string(again), "JSON keeps the procedure")
		for _, s := range p.Steps() {
			assert.NotEmpty(t, s.Reason, "%s: every step has a reason", s.ID)
		}
	}
}

// The order of families F6 and F12: docs/trade.md, section 5. Common practice, no source.
func TestOrderOfTheFamilies(t *testing.T) {
	position := func(p procedure.Procedure) map[string]int {
		at := map[string]int{}
		for i, s := range p.Steps() {
			at[s.ID] = i
		}
		return at
	}
	inOrder := func(p procedure.Procedure, ids ...string) {
		at := position(p)
		for i := 1; i < len(ids); i++ {
			assert.Less(t, at[ids[i-1]], at[ids[i]], "%s: %s before %s", p.Family, ids[i-1], ids[i])
		}
	}
	inOrder(
		Maintenance(),
		"rinse",
		"wheels",
		"bugs",
		"foam",
		"mitt",
		"final",
		"aid",
		"blow",
		"towel",
		"seal",
		"shuts",
		"tyres",
		"look",
	)
	inOrder(RinselessTowels(), "mix", "wet", "towels", "wax", "dry", "wheels", "shuts")
}

func TestCheckFindsBrokenProcedures(t *testing.T) {
	for says, breakIt := range map[string]func(*procedure.Procedure){
		"version from 1":   func(p *procedure.Procedure) { p.Version = 0 },
		"used twice":       func(p *procedure.Procedure) { p.Stages[0].Steps[0].ID = "setup" },
		"no earlier step":  func(p *procedure.Procedure) { p.Stages[0].Steps[0].Ends = []string{"foam"} },
		"during \"setup\"": func(p *procedure.Procedure) { p.Stages[1].Steps[0].During = "setup" },
		"dwell from 2 " +
			"min to 1 min": func(p *procedure.Procedure) {
			p.Stages[2].Steps[0].Dwell = &procedure.Dwell{Min: 2 * measure.Minute, Max: measure.Minute}
		},
		"times must be zero or more": func(p *procedure.Procedure) { p.Stages[0].Steps[0].Time.Fixed = -1 },
		"name its zones":             func(p *procedure.Procedure) { p.Stages[2].Steps[0].Zones = procedure.ChosenZones },
		"no zone \"sunroof\"": func(p *procedure.Procedure) {
			p.Stages[2].Steps[0].Zones, p.Stages[2].Steps[0].Only = procedure.ChosenZones, []vehicle.Zone{"sunroof"}
		},
		"pins.moon phase":         func(p *procedure.Procedure) { p.Pins = procedure.Pins{"moon phase": "full"} },
		"id and title are needed": func(p *procedure.Procedure) { p.Stages[0].Steps[0].Title = "" },
	} {
		p := Maintenance()
		breakIt(&p)
		assert.ErrorContains(t, p.Check(), says)
	}
	_, err := Maintenance().Step("polish")
	assert.Error(t, err)
}
