package stock

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/wash"
)

var tappedPlan = plan.Plan{Steps: []plan.FilledStep{
	{ID: "foam", ProductID: "foam", Taken: 60},
	{ID: "mitt@left", ProductID: "soap", Taken: 20, Cloth: "2 long-pile mitts", Colour: "tide: paint"},
	{ID: "mitt@right", ProductID: "soap", Taken: 20, Cloth: "2 long-pile mitts", Colour: "tide: paint"},
	{ID: "wheels", ProductID: "gel", Taken: 80, Cloth: "1 wheel mitt", Colour: "rust: wheels only"},
	{ID: "aid", ProductID: "aid", Taken: 44, If: &wash.OnAnswer{}},
	{ID: "dry", Cloth: "2 drying towels", Colour: "white: drying"},
}}

var ownSets = []shelf.ClothStock{
	{ID: "mitts", Since: time.Unix(1, 0), Kind: "long-pile mitt", Colour: "blue: paint"},
	{ID: "wheel mitts", Since: time.Unix(1, 0), Kind: "wheel mitt", Colour: "red: Wheels  only"},
	{ID: "towels", Since: time.Unix(1, 0), Kind: "drying towel", Colour: "white: drying"},
}

// A shop's cloths are known by what they are for, whatever their colours; what is for wheels is never taken for paint.
func TestClothsAreKnownByWhatTheyAreFor(t *testing.T) {
	u := UsesOf(tappedPlan, ownSets)
	assert.Equal(t, map[string]int{"mitts": 2, "wheel mitts": 1, "towels": 2}, u.Cloths)
	assert.Equal(t, "paint", procedure.ClothPurpose("Blue :  Paint"))
	assert.Equal(t, procedure.ClothPurpose("tide: paint"), procedure.ClothPurpose("any colour: PAINT"))
	assert.NotEqual(t, procedure.ClothPurpose("tide: paint"), procedure.ClothPurpose("tide: wheels only"))
	only := UsesOf(tappedPlan, ownSets[1:2])
	assert.Equal(t, map[string]int{"wheel mitts": 1}, only.Cloths, "no wheel mitt goes on paint for want of another")
}

// What is counted is what was tapped: a branch that was taken counts, a step that was left out does not; a cloth that serves two
// parts is laundered once, if either was done.
func TestStockFollowsTheTaps(t *testing.T) {
	u := UsesOf(tappedPlan, ownSets)
	assert.Equal(t, map[string]float64{"foam": 60, "soap": 40, "gel": 80}, u.Products, "what is not expected is not planned")
	states := func(by map[string]wash.Status) wash.State {
		s := wash.State{}
		for _, step := range tappedPlan.Steps {
			status := wash.Waiting
			if said, known := by[step.ID]; known {
				status = said
			}
			s.Steps = append(s.Steps, wash.StepState{ID: step.ID, Status: status})
		}
		return s
	}
	all := u.Tapped(states(map[string]wash.Status{"foam": wash.Ended, "mitt@left": wash.Ended, "mitt@right": wash.Ended, "wheels": wash.Ended,
		"aid": wash.Ended, "dry": wash.Ended}))
	assert.Equal(t, 44.0, all.Products["aid"], "somebody answered yes")
	assert.Equal(t, u.Cloths, all.Cloths)
	some := u.Tapped(states(map[string]wash.Status{"foam": wash.Skipped, "mitt@left": wash.Ended, "mitt@right": wash.Skipped,
		"dry": wash.Running}))
	assert.Equal(t, map[string]float64{"soap": 20}, some.Products)
	assert.Equal(t, map[string]int{"mitts": 2, "towels": 2}, some.Cloths)
	assert.Equal(t, u, u.Tapped(states(nil)), "where nobody tapped a step the plan is all there is")
	old := Uses{Products: map[string]float64{"foam": 60}}
	assert.Equal(t, old, old.Tapped(states(map[string]wash.Status{"foam": wash.Skipped})), "a wash from before steps were kept")
}

// What was really put in counts, not what the plan asks: of a mix whose rest stays in the vessel the share that the step takes grows with
// it. More put in is never less used, and what was said of a step that was left out counts for nothing.
func TestWhatWasPouredCounts(t *testing.T) {
	p := plan.Plan{Steps: []plan.FilledStep{
		{ID: "wheels", Mix: &plan.Mix{ID: "gel", Millis: measure.Ml(100), Water: measure.Ml(900), Takes: measure.Ml(240)}, Taken: 24},
		{ID: "soap", ProductID: "soap", Taken: 20},
		{ID: "aid", ProductID: "aid"},
	}}
	u := UsesOf(p, nil)
	say := func(step string, ml float64, status wash.Status) map[string]float64 {
		state := wash.State{}
		for _, s := range p.Steps {
			did := wash.StepState{ID: s.ID, Status: wash.Ended}
			if s.ID == step {
				did.Status, did.Poured = status, &ml
			}
			state.Steps = append(state.Steps, did)
		}
		return u.Tapped(state).Products
	}
	assert.Equal(t, map[string]float64{"gel": 36, "soap": 20}, say("wheels", 150, wash.Ended), "half as much again of what it takes")
	assert.Equal(t, map[string]float64{"gel": 24, "soap": 31.5}, say("soap", 31.5, wash.Ended))
	assert.Equal(t, map[string]float64{"gel": 24, "soap": 20, "aid": 15}, say("aid", 15, wash.Ended), "where the plan knows no amount")
	assert.Equal(t, map[string]float64{"gel": 24}, say("soap", 31.5, wash.Skipped))
	assert.Equal(t, map[string]float64{"gel": 24, "soap": 20}, u.Products, "the plan stays what it was")
	last := 0.0
	for ml := 0.0; ml < 300; ml += 7 {
		now := say("wheels", ml, wash.Ended)["gel"]
		assert.GreaterOrEqual(t, now, last)
		last = now
	}
	prices := []shelf.Product{{ID: "gel", CostPerL: 1000}, {ID: "soap", CostPerL: 900}}
	assert.EqualValues(t, 42, Uses{Products: map[string]float64{"gel": 24, "soap": 20}}.Cost(prices, 25), "24 and 18")
	assert.EqualValues(t, 50, Uses{Cloths: map[string]int{"towels": 2}}.Cost(prices, 25))
}
