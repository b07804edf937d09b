package fill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// The label wins: what it keeps the product off is said where the product would meet it, and a named product beats
// its class.
func TestTheLabelIsSaid(t *testing.T) {
	j := plantest.Job(2)
	j.LookOver.Watch = []vehicle.Watch{vehicle.HotPanels}
	j.Shelf = []shelf.Product{
		{ID: "plain", Name: "Plain foam", Class: procedure.FoamProduct},
		{
			ID:         "fussy",
			Name:       "Fussy foam",
			Class:      procedure.FoamProduct,
			Forbids:    []vehicle.Surface{vehicle.Glass},
			ForbidsHot: true,
		},
	}
	p := starters.Maintenance()
	assert.Equal(t, "Plain foam", plantest.Find(plantest.Resolve(t, p, j), "foam").Mix.Product, "the first of its class")
	for i := range p.Stages {
		for k := range p.Stages[i].Steps {
			if p.Stages[i].Steps[k].ID == "foam" {
				p.Stages[i].Steps[k].Product = "fussy"
			}
		}
	}
	foam := plantest.Find(plantest.Resolve(t, p, j), "foam")
	assert.Equal(t, "Fussy foam", foam.Mix.Product)
	assert.Contains(t, foam.Cautions, "The label of Fussy foam keeps it off glass: mask it, or leave it out.")
	assert.Contains(t, foam.Cautions, "The label of Fussy foam forbids hot panels: cool them first.")
}

// A step on chosen zones works on those alone, with their share of the time.
func TestStepsOnChosenZones(t *testing.T) {
	p := starters.Maintenance()
	for i := range p.Stages {
		for k := range p.Stages[i].Steps {
			if p.Stages[i].Steps[k].ID == "towel" {
				p.Stages[i].Steps[k].Zones, p.Stages[i].Steps[k].Only = procedure.ChosenZones, []vehicle.Zone{
					vehicle.Roof,
					vehicle.Bonnet,
				}
			}
		}
	}
	assert.NoError(t, p.Check())
	towel := plantest.Find(plantest.Resolve(t, p, plantest.Job(1)), "towel")
	assert.Equal(t, []vehicle.Zone{vehicle.Roof, vehicle.Bonnet}, towel.Zones)
	assert.InDelta(t, 3*0.85, towel.Area, 0.01)
	assert.InDelta(t, 4*0.85, towel.Minutes, 0.06, "the time given is for those zones on a mid-size car")
}

func TestLabelsThatCannotBe(t *testing.T) {
	assert.NoError(t, shelf.Product{}.Check())
	err := shelf.Product{
		DwellMin: 90,
		DwellMax: 60,
		CostPerL: -1,
		WorksOn:  []vehicle.Surface{vehicle.Glass},
		Forbids:  []vehicle.Surface{vehicle.Glass},
	}.Check()
	for _, field := range []string{"dwellMin", "costPerLitre", "forbids"} {
		assert.ErrorContains(t, err, field)
	}
}
