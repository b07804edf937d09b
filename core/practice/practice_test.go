package practice

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure/starters"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// car is a mid-size car of a grade in a covered bay on a mild day, as it was looked over.
func car(t *testing.T, g contact.Grade, water condition.WaterSeen) Car {
	t.Helper()
	grades := map[vehicle.Zone]contact.Grade{}
	for _, p := range vehicle.Hatch.Parts() {
		grades[p.Zone] = g
	}
	j := plan.Job{Vehicle: vehicle.Vehicle{Body: vehicle.Hatch, Shade: vehicle.Silver, Finish: vehicle.Ordinary,
		Wheels: vehicle.WheelSpec{Inches: 17, Spokes: vehicle.PlainSpokes}},
		LookOver: condition.LookOver{Grades: grades, Service: "basic", Protection: condition.Protection{Kind: condition.Sealant, Water: water},
			Place: condition.Place{Cover: climate.InShade, Supply: condition.PressureWasher, Runoff: true, Blower: true}},
		Weather: climate.Weather{Air: climate.Air{Temp: 16, RH: 0.7}, Wind: 1, Diffuse: 60}, Hardness: 90, Solids: 150}
	p := starters.Maintenance()
	made, err := fill.Resolve(p, j)
	require.NoError(t, err)
	return Car{Title: "car", Procedure: p, Job: j, Plan: made, Vessels: []shelf.Vessel{
		{Name: "bucket", Kind: shelf.Bucket, Holds: measure.Ml(12_000)}, {Name: "shampoo cap", Kind: shelf.Cap, Holds: measure.Ml(12)}}}
}

// Every practice of every level is made, passes as taught, and carries what the car, the shop's vessels and the weather say.
func TestEveryPracticeIsMadeFromTheCar(t *testing.T) {
	c := car(t, 2, condition.Beads)
	for _, what := range What("").Values() {
		for level := 1; level <= 3; level++ {
			task, err := Make(What(what), level, 7, c)
			require.NoError(t, err, "%s %d", what, level)
			require.NoError(t, task.Check())
			taught, err := task.AsTaught()
			require.NoError(t, err)
			r, err := task.Judge(taught)
			require.NoError(t, err)
			assert.True(t, r.Passed, "%s %d: %v", what, level, r.Why)
		}
	}
	buckets, err := Make(Buckets, 1, 7, c)
	require.NoError(t, err)
	assert.Equal(t, 12.0, buckets.Buckets.Litres)
	assert.Equal(t, "shampoo cap", buckets.Buckets.Tools[0].Name)
	drying, err := Make(Drying, 2, 7, c)
	require.NoError(t, err)
	assert.Equal(t, film.Beading, drying.Drying.Sheen)
	assert.Equal(t, 150.0, drying.Drying.Solids)
	assert.True(t, drying.Drying.Blower)
	flat, err := Make(Drying, 2, 7, car(t, 2, condition.Flat))
	require.NoError(t, err)
	assert.Greater(t, flat.Drying.Parts[0].Grams, drying.Drying.Parts[0].Grams, "flat water lies thicker")
	dwells, err := Make(Dwells, 2, 7, c)
	require.NoError(t, err)
	assert.Len(t, dwells.Dwells.Jobs, 3)
	wheels, err := Make(Wheels, 3, 7, c)
	require.NoError(t, err)
	assert.Equal(t, measure.Seconds(30), wheels.Dwells.Jobs[0].Max)
}
