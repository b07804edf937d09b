package starters

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
	"uskel/core/procedure"
)

func TestWhatCannotBeCounted(t *testing.T) {
	mix := func(counted procedure.Counted) procedure.Procedure {
		p := HoseTwoBucket()
		return p.Edited(func(_ string, steps []procedure.Step) []procedure.Step {
			for i := range steps {
				if steps[i].ID == "fill" {
					dose := *steps[i].Dose
					dose.Counted = &counted
					steps[i].Dose = &dose
				}
			}
			return steps
		})
	}
	assert.NoError(t, mix(procedure.Counted{Count: 2, Unit: procedure.ByCap, Each: measure.Ml(20)}).Check())
	assert.ErrorContains(t, mix(procedure.Counted{Count: 2, Unit: procedure.ByCap, Each: measure.Volume{}}).Check(),
		"step fill dose.counted: each: how many ml a cap holds")
	assert.ErrorContains(t, mix(procedure.Counted{Count: 0, Unit: procedure.ByMl, Each: measure.Volume{}}).Check(),
		"dose.counted: count: how many, above zero")
	assert.ErrorContains(t, mix(procedure.Counted{Count: 1, Unit: "spoon", Each: measure.Volume{}}).Check(), `unit "spoon"`)
}
