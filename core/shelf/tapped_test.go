package shelf

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/plan"
	"uskel/core/procedure"
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

var ownSets = []plan.ClothSet{
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
