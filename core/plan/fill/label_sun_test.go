package fill_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/plantest"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// A label that says never in the sun is no caution: what may be left out is left out, and what the wash needs refuses it,
// until there is shade.
func TestALabelKeepsOutOfTheSun(t *testing.T) {
	seal := shelf.Product{ID: "seal", Name: "Sealant", Class: procedure.SpraySeal, Sun: shelf.NeverInSun}
	foam := shelf.Product{ID: "foam", Name: "Foam", Class: procedure.FoamProduct, Sun: shelf.NeverInSun}
	signature := plantest.Job(1)
	signature.LookOver.Service, signature.Shelf = "signature", []shelf.Product{seal}

	assert.NotNil(t, plantest.Find(plantest.Resolve(t, starters.Maintenance(), signature), "seal"), "in shade")
	sunny := plantest.Resolve(t, starters.Maintenance(), plantest.UnderSun(signature))
	assert.Nil(t, plantest.Find(sunny, "seal"))
	assert.True(t, plantest.LeftOut(sunny, "seal", "never in the sun"))

	signature.Shelf = []shelf.Product{foam}
	_, err := fill.Resolve(starters.Maintenance(), plantest.UnderSun(signature))
	assert.ErrorContains(t, err, "the label of Foam says never in the sun")
	assert.ErrorContains(t, err, "another hour")
	assert.NotNil(t, plantest.Find(plantest.Resolve(t, starters.Maintenance(), signature), "foam"))
}

// Cool panels only: what cools them lets the product be used, else the wash is refused.
func TestALabelWantsCoolPanels(t *testing.T) {
	j := plantest.Job(1)
	j.LookOver.Watch = []vehicle.Watch{vehicle.HotPanels}
	j.Shelf = []shelf.Product{{ID: "foam", Name: "Foam", Class: procedure.FoamProduct, ForbidsHot: true}}
	foam := plantest.Find(plantest.Resolve(t, starters.Maintenance(), j), "foam")
	assert.Contains(t, foam.Cautions, "The label of Foam forbids hot panels: cool them first.")
	hot := starters.Maintenance()
	hot.Stages[0].Steps = hot.Stages[0].Steps[1:]
	_, err := fill.Resolve(hot, j)
	assert.ErrorContains(t, err, "nothing cools them here")
}

// Over 2,000 psi, 14 MPa, a jet is kept off paint (common practice, no source): the trade's 3,200 psi is refused.
func TestAJetTooHardForPaint(t *testing.T) {
	j := plantest.Job(1)
	for mpa, refused := range map[float64]bool{0: false, 7: false, 13.8: false, 22.1: true} {
		j.LookOver.Place.Jet = mpa
		_, err := fill.Resolve(starters.Maintenance(), j)
		assert.Equal(t, refused, err != nil, mpa)
		if refused {
			assert.ErrorContains(t, err, "3210 psi")
		}
	}
	j.LookOver.Place.Jet = 22.1
	_, err := fill.Resolve(starters.WheelsOnly(), j)
	assert.NoError(t, err, "wheels are no paint")
	j.LookOver.Place.Supply = condition.Hose
	_, err = fill.Resolve(starters.HoseTwoBucket(), j)
	assert.NoError(t, err, "a hose has no such jet")
}

// A film heals light marks: where the front is filmed and the rest bare, the risk of the whole is less, and never less than
// that of a car filmed all over.
func TestAFilmOnPartOfTheCar(t *testing.T) {
	risk := func(filmed []vehicle.Zone, kind condition.ProtectionKind) float64 {
		j := plantest.Job(3)
		j.LookOver.Filmed, j.LookOver.Protection.Kind = filmed, kind
		return plantest.Resolve(t, starters.Maintenance(), j).Index
	}
	bare := risk(nil, condition.Bare)
	front := risk([]vehicle.Zone{vehicle.Front, vehicle.Bonnet, vehicle.LowerLeft, vehicle.LowerRight}, condition.Bare)
	assert.Less(t, front, bare)
	assert.Greater(t, front, risk(nil, condition.FilmWrap))
	assert.ErrorContains(t, condition.LookOver{Filmed: []vehicle.Zone{vehicle.WheelFL}}.Check(), "a film lies on painted zones")
}

// A heated bay in winter: nothing freezes, and the warmed air is dry, so that suds dry sooner than outside.
func TestAHeatedPlaceHasItsOwnAir(t *testing.T) {
	j := plantest.Job(1)
	j.Weather.Temp, j.Weather.RH = -5, 0.9
	j.LookOver.Place.Cover = climate.Indoors
	cold := plantest.Resolve(t, starters.Maintenance(), j)
	assert.Contains(t, cold.Warnings[len(cold.Warnings)-2]+cold.Warnings[len(cold.Warnings)-1], "freezes")
	warm := 18.0
	j.LookOver.Place.Heated = &warm
	heated := plantest.Resolve(t, starters.Maintenance(), j)
	for _, w := range heated.Warnings {
		assert.NotContains(t, w, "freezes")
	}
	assert.Less(t, heated.Suds, cold.Suds)
	here := j.LookOver.Place.Air(j.Weather)
	assert.InDelta(t, j.Weather.VapourPressure(), here.VapourPressure(), 1e-9, "warming leaves the vapour what it was")
	require.NoError(t, here.Check())
}

// A place's own water and flow count before the shop's; a deionised last rinse leaves next to nothing (common practice).
func TestAPlaceHasItsOwnWater(t *testing.T) {
	j := plantest.Job(1)
	j.LookOver.Place.Cover, j.Solids = climate.OpenSky, 400
	spots := func(p plan.Plan) bool {
		return slices.ContainsFunc(p.Warnings, func(w string) bool { return strings.Contains(w, "spots will show") })
	}
	hard := plantest.Resolve(t, starters.Maintenance(), j)
	assert.True(t, spots(hard))
	j.LookOver.Place.Solids, j.LookOver.Place.Flow = 20, 9
	soft := plantest.Resolve(t, starters.Maintenance(), j)
	assert.False(t, spots(soft))
	assert.Greater(t, soft.Litres, hard.Litres, "9 l/min instead of 4.5")
	j.LookOver.Place.Solids, j.LookOver.Place.Deion = 0, true
	p := starters.Maintenance()
	for i, stage := range p.Stages {
		for k, s := range stage.Steps {
			if s.ID == "final" {
				p.Stages[i].Steps[k].Water = procedure.Deionised
			}
		}
	}
	assert.False(t, spots(plantest.Resolve(t, p, j)))
	j.LookOver.Place.Deion = false
	assert.True(t, spots(plantest.Resolve(t, p, j)), "there is no deioniser here")
}
