package mend_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/plan/mend"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
)

// What a new version does is worked out on the cars that wait: minutes, what dries now and did not, who is refused.
func TestEffectOfANewVersion(t *testing.T) {
	before := starters.Maintenance()
	waiting := []mend.Waiting{{Plate: "CAB 14", Job: plantest.Job(1)}, {Plate: "SEA 3", Job: plantest.Job(3)}}
	effect := func(change func(*procedure.Procedure)) mend.Effect {
		after := starters.Maintenance()
		change(&after)
		e, err := mend.EffectOf(&before, after, waiting)
		require.NoError(t, err)
		require.Len(t, e.Cars, 2)
		return e
	}
	same := effect(func(*procedure.Procedure) {})
	assert.Equal(t, "On the cars in the yard (2): as many minutes as before.", same.Says)

	each := func(p *procedure.Procedure, change func(*procedure.Step)) {
		for i := range p.Stages {
			for j := range p.Stages[i].Steps {
				change(&p.Stages[i].Steps[j])
			}
		}
	}
	longer := effect(func(p *procedure.Procedure) {
		each(p, func(s *procedure.Step) {
			if s.ID == "mitt" {
				s.Time.Fixed += 3
			}
		})
	})
	assert.Equal(t, "On the cars in the yard (2): 3 min more each.", longer.Says)
	assert.InDelta(t, 3, *longer.Cars[0].After-*longer.Cars[0].Before, 1e-9)

	slow := effect(func(p *procedure.Procedure) { // what is done while the foam works takes two hours
		each(p, func(s *procedure.Step) {
			if s.During == "foam" {
				s.Time.Fixed = 120
			}
		})
	})
	assert.Contains(t, slow.Says, "dries on 2 more")
	assert.Equal(t, []string{"Foam"}, slow.Cars[0].Dries)

	narrower := effect(func(p *procedure.Procedure) {
		p.Entry = append(p.Entry, procedure.Entry{Rule: procedure.Max(condition.GradeOverall, 2), Refusal: "Too dirty."})
	})
	assert.Contains(t, narrower.Says, "no longer allowed on 1")
	assert.Contains(t, narrower.Cars[1].Refused, "Too dirty.")
	assert.Nil(t, narrower.Cars[1].After)

	first, err := mend.EffectOf(nil, before, waiting)
	require.NoError(t, err)
	assert.Equal(t, "On the cars in the yard (2): newly allowed on 2.", first.Says)
	none, err := mend.EffectOf(nil, before, nil)
	require.NoError(t, err)
	assert.Contains(t, none.Says, "nothing changes there today")
}
