package wet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/crew"
	"uskel/core/plan/plantest"
	"uskel/core/plan/wet"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// spotsOf lays a plan out for one person and asks the wet clock about suds and water.
func spotsOf(t *testing.T, p procedure.Procedure, j plan.Job) []plan.Spot {
	t.Helper()
	made := plantest.Resolve(t, p, j)
	problem := plantest.Able(1)
	problem.Work, problem.Lags = crew.Work(made, "", 1)
	line, err := schedule.Solve(problem, schedule.Options{Seed: 1, Effort: 800})
	assert.NoError(t, err)
	return wet.Spots(made, problem.Work, line, j)
}

// Rinsed water and suds are films too: in the shade the towel comes in time, in sun and wind the water dries first, told in
// mg/m2 of the water really used; suds that dry leave streaks.
func TestWaterThatDriesIsToldAsSpots(t *testing.T) {
	mild := plantest.Job(1)
	mild.Solids = 300
	assert.Empty(t, spotsOf(t, starters.Maintenance(), mild))

	hot := plantest.UnderSun(mild)
	hot.Weather.Temp, hot.Weather.RH, hot.Weather.Wind = 33, 0.2, 5
	hot.LookOver.Protection.Water = condition.NotSeen
	water := func(spots []plan.Spot) *plan.Spot {
		for i := range spots {
			if !spots[i].Suds {
				return &spots[i]
			}
		}
		return nil
	}
	hard := water(spotsOf(t, starters.Maintenance(), hot))
	if assert.NotNil(t, hard) {
		assert.InDelta(t, 300*60/1000, hard.Left, 0.01, "300 mg/l in 60 g/m2 on upright panels, which the towel reaches last")
		assert.Contains(t, hard.Says, "they will show")
		assert.Positive(t, hard.By)
	}
	hot.LookOver.Protection.Water = condition.Beads
	beading := water(spotsOf(t, starters.Maintenance(), hot))
	if assert.NotNil(t, beading) {
		assert.InDelta(t, hard.Left/2, beading.Left, 0.5, "half of it stays where it beads")
	}
	suds := false
	hot.Vehicle.Shade, hot.Weather.Temp, hot.Weather.Wind, hot.Weather.Direct = vehicle.Dark, 42, 12, 1000
	for _, s := range spotsOf(t, starters.Maintenance(), hot) {
		suds = suds || s.Suds
	}
	assert.True(t, suds, "a panel takes longer than suds stay wet in that air")
}

// Nothing is dried in a procedure without a towel or a blower: the water on all of it is told.
func TestWaterThatNothingDries(t *testing.T) {
	bare := starters.Maintenance().Edited(func(stage string, steps []procedure.Step) []procedure.Step {
		if stage == "dry" {
			return nil
		}
		return steps
	})
	j := plantest.Job(1)
	j.Solids = 50
	spots := spotsOf(t, bare, j)
	if assert.Len(t, spots, 1) {
		assert.Zero(t, spots[0].By)
		assert.Contains(t, spots[0].Says, "Nothing dries the water on ")
		assert.Contains(t, spots[0].Says, "hardly seen")
	}
}
