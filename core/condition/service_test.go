package condition

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/vehicle"
)

// Scope and what is left out follow from the service (docs/trade.md, section 20: what was ordered, no more and no less).
func TestScopeFollowsTheService(t *testing.T) {
	l := graded(nil)
	l.Bonded = []Bonded{{Bugs, vehicle.Front}, {Iron, vehicle.Rear}}
	for service, want := range map[string]struct {
		in, out int
		says    string
		offer   string
	}{
		"basic": {1, 1, "Maintenance basic will not remove: iron specks on rear bumper. Note it and offer Coating service with " +
			"decontamination.", "coating-service"},
		"coating-service": {2, 0, "Coating service with decontamination takes off everything seen.", ""},
		"touchless": {0, 2, "Touchless upkeep will not remove: bugs on front bumper and grille; iron specks on rear bumper. Note it " +
			"and offer Coating service with decontamination. It leaves a thin film, bug marks, shuts as they are, dust deep in the " +
			"barrels.", "coating-service"},
	} {
		l.Service = service
		a := Assess(hatch, l, nil)
		assert.Len(t, a.InScope, want.in, service)
		assert.Len(t, a.OutScope, want.out, service)
		assert.Equal(t, want.says, a.Scope)
		assert.Equal(t, want.offer, a.Offer, service)
	}
}

// Of those that take all of it off the cheapest is offered; when none does, that is said.
func TestTheCheapestThatTakesItOffIsOffered(t *testing.T) {
	l := graded(nil)
	l.Service, l.Bonded = "a", []Bonded{{Tar, vehicle.Rear}}
	menu := Menu{
		{ID: "a", Name: "A"},
		{ID: "b", Name: "B", Takes: []Matter{Tar}, Price: 900},
		{ID: "c", Name: "C", Takes: []Matter{Tar, Iron}, Price: 500},
	}
	assert.Equal(t, "c", Assess(hatch, l, menu).Offer)
	l.Bonded = append(l.Bonded, Bonded{Sap, vehicle.Roof})
	a := Assess(hatch, l, menu)
	assert.Empty(t, a.Offer)
	assert.Contains(t, a.Scope, "no service of the shop takes it off")
}

func TestWhatDeliversAService(t *testing.T) {
	s := Service{Families: []string{"F2"}, Procedures: []string{"our-own"}}
	assert.True(t, s.Delivers("express", "F2"))
	assert.True(t, s.Delivers("our-own", ""))
	assert.False(t, s.Delivers("maintenance", "F6"))
	assert.True(t, Service{}.Delivers("anything", ""), "nothing named: whatever is possible")
}

// The promise gives the time there is, and the service no more than it promises itself.
func TestMinutesThere(t *testing.T) {
	for _, c := range []struct{ promised, budget, there int }{{0, 0, 0}, {0, 90, 90}, {30, 0, 30}, {30, 90, 30}, {30, 20, 20}} {
		assert.Equal(t, c.there, Service{Minutes: c.promised}.There(c.budget), c)
	}
}

func TestTheMenuNamesWhatIsWrong(t *testing.T) {
	assert.NoError(t, StarterMenu().Check([]string{"F1", "F2", "F3", "F4", "F5", "F6", "F7", "F8", "F9", "F10", "F11", "F12", "F13", "F14",
		"F15", "F16", "F17", "F18"}))
	err := Menu{{ID: "a", Name: "Quick"}, {ID: "a", Name: "Quick", Families: []string{"F99"}}}.Check([]string{"F1"})
	require.Error(t, err)
	for _, says := range []string{"services[1].name", "services[1].id", `services[1].families: "F99"`} {
		assert.ErrorContains(t, err, says)
	}
	assert.ErrorContains(t, StarterMenu().Sells("polish"), "does not sell it")
}

// Services say what they are by default and what they leave in the trade's words.
func TestStartersAreSold(t *testing.T) {
	for _, s := range StarterMenu() {
		assert.NoError(t, StarterMenu().Sells(s.ID))
		assert.Contains(t, s.Level.Values(), string(s.Level), s.ID)
		assert.Contains(t, s.Tyres.Values(), string(s.Tyres), s.ID)
		for _, l := range s.Leaves {
			assert.Contains(t, Leaves(), l, s.ID)
		}
	}
}
