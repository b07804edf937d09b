package ready

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/procedure"
	"uskel/core/skills"
)

func TestDidADrillHelp(t *testing.T) {
	for _, row := range []struct {
		p    Practised
		told bool
		says string
	}{
		{Practised{"mitt", 2, 30, 12, 40, 3}, true, "3 of 40 after it, found something of it: fewer than chance"},
		{Practised{"mitt", 2, 30, 5, 40, 5}, false, "no more than chance would do"},
		{Practised{"mitt", 2, 30, 2, 40, 0}, false, "hardly anything to find"},
		{Practised{"mitt", 2, 6, 5, 40, 0}, false, "Too few audits to say"},
	} {
		h := DidHelp([]Practised{row.p})[0]
		assert.Equal(t, row.told, h.Told, h.Says)
		assert.Contains(t, h.Says, row.says)
	}
	assert.Equal(t, 1.0, DidHelp([]Practised{{"mitt", 2, 6, 5, 40, 0}})[0].Chance, "what is not looked at is no sign of anything")
}

// Where drills change nothing, hardly any page says that one helped: of 2,000 pages of nine skills at most one in twenty.
func TestNothingIsToldOfStillData(t *testing.T) {
	rng := rand.New(rand.NewSource(4))
	told := 0
	for range 2000 {
		var all []Practised
		for _, skill := range procedure.Skill("").Values() {
			p, rate := Practised{Skill: procedure.Skill(skill), Before: 10 + rng.Intn(40), After: 10 + rng.Intn(40)}, 0.05+0.3*rng.Float64()
			for range p.Before {
				if rng.Float64() < rate {
					p.FoundBefore++
				}
			}
			for range p.After {
				if rng.Float64() < rate {
					p.FoundAfter++
				}
			}
			all = append(all, p)
		}
		any := false
		for _, h := range DidHelp(all) {
			any = any || h.Told
		}
		if any {
			told++
		}
	}
	assert.LessOrEqual(t, told, 100)
}

func TestWhatALeadHasToDo(t *testing.T) {
	open := []skills.Need{{Says: "watched washes", Have: 2, Want: 2, Met: true}, {Says: "drills passed", Have: 0, Want: 2, Met: false}}
	assert.Equal(t, []string{"Sign off wheels: all that it needs is there.",
		"Watch again, as the sign-off has lapsed or will within a month: scope.", "Next is foam: 0 of 2 drills passed."},
		ToDo([]StandsIn{{Skill: "scope", Held: true, Refresher: true}, {Skill: "wheels", Proposed: true}, {Skill: "foam", Needs: open},
			{Skill: "mitt", Needs: open}}))
	assert.Empty(t, ToDo([]StandsIn{{Skill: "scope", Held: true}}))
}
