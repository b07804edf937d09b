package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
)

// A day of three cars: what is short comes first and says what to fetch, one sprayer serves all, water is carried where
// there is none.
func TestEnoughForTheDay(t *testing.T) {
	one := plan.Plan{Litres: 8.4, Steps: []plan.FilledStep{
		{ID: "foam", Mix: &plan.Mix{Product: "Foam", ID: "foam", Vessel: "foam bottle", Millis: measure.Ml(100), Water: measure.Ml(900),
			Takes: measure.Ml(1000)}, Taken: 100},
		{ID: "wheels", Mix: &plan.Mix{Product: "Cleaner", ID: "cleaner", Vessel: "1 l sprayer", Millis: measure.Ml(100),
			Water: measure.Ml(900), Takes: measure.Ml(240)}, Taken: 24},
		{ID: "bugs", Drawn: &plan.Drawn{Product: "Cleaner", Vessel: "1 l sprayer", Takes: measure.Ml(110)}, ProductID: "cleaner", Taken: 11},
		{ID: "towel", Cloth: "2 drying towels", Colour: "white: drying"},
	}}
	cars := []Car{{one, condition.Place{}}, {one, condition.Place{}}, {one, condition.Place{Name: "Car park", Supply: condition.Carried}}}
	products := []shelf.Product{{ID: "foam", Name: "Foam", Class: procedure.FoamProduct}, {ID: "cleaner", Name: "Cleaner"}}
	sets := []shelf.ClothStock{{ID: "white", Kind: "drying towel", Colour: "white: drying", Count: 4}}
	needs := Enough(cars, products, map[string]float64{"foam": 250}, sets)
	require.Len(t, needs, 5)
	says := map[string]Need{}
	for _, n := range needs {
		says[string(n.Kind)+" "+n.What] = n
	}
	assert.True(t, needs[0].Short && needs[1].Short && !needs[2].Short, "what is short comes first")
	assert.Equal(t, "300 ml are needed and 250 are left: fetch 50 more.", says["product Foam"].Says)
	assert.Equal(t, "200 ml (fills 2 × 1 l sprayer); it was never counted.", says["product Cleaner"].Says, "two fillings of 100, not 105")
	assert.Equal(t, "6 clean ones are needed and there are 4: launder 2 meanwhile, or take others.",
		says["cloths drying towel, white: drying"].Says)
	assert.Equal(t, "Make 2 × 1 l sprayer: the washes take 1050 ml of it.", says["mix Cleaner"].Says)
	short := Enough(cars, products, map[string]float64{"cleaner": 120}, sets)[0]
	assert.Equal(t, "200 ml (fills 2 × 1 l sprayer) are needed and 120 are left: fetch 80 more.", short.Says,
		"who fetches what is said can make what is said")
	assert.Equal(t, "Carry 9 l there.", says["water Car park"].Says)
	assert.Empty(t, Enough(nil, products, nil, sets))
}
