package condition

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/contact"
	"uskel/core/vehicle"
)

var hatch = vehicle.Vehicle{
	Body:   vehicle.Hatch,
	Shade:  vehicle.White,
	Finish: vehicle.Ordinary,
	Wheels: vehicle.WheelSpec{Inches: 16, Spokes: vehicle.PlainSpokes},
}

func graded(g map[vehicle.Zone]contact.Grade) LookOver { return LookOver{Grades: g} }

// "A clean roof does not make muddy sills safe to wipe": common practice, no source.
func TestTheWorstTouchedPaintedZoneDecides(t *testing.T) {
	for _, c := range []struct {
		name    string
		grades  map[vehicle.Zone]contact.Grade
		overall contact.Grade
		driver  vehicle.Zone
	}{
		{"muddy sill under " +
			"a clean roof", map[vehicle.Zone]contact.Grade{vehicle.Roof: 0, vehicle.LowerLeft: 4}, 4, vehicle.LowerLeft},
		{"wheels are not paint", map[vehicle.Zone]contact.Grade{vehicle.Roof: 1, vehicle.WheelFL: 4, vehicle.ArchRR: 4}, 1, vehicle.Roof},
		{"shuts have their own towel", map[vehicle.Zone]contact.Grade{vehicle.Bonnet: 1, vehicle.Shuts: 3}, 1, vehicle.Bonnet},
		{"glass is not paint", map[vehicle.Zone]contact.Grade{vehicle.Bonnet: 2, vehicle.Windscreen: 3}, 2, vehicle.Bonnet},
		{"nothing graded", nil, 0, ""},
	} {
		a := Assess(hatch, graded(c.grades), nil)
		assert.Equal(t, c.overall, a.Overall, c.name)
		assert.Equal(t, c.driver, a.Driver, c.name)
	}
	soft := hatch
	soft.Body = vehicle.SoftTop
	a := Assess(soft, graded(map[vehicle.Zone]contact.Grade{vehicle.Roof: 4, vehicle.Bonnet: 1}), nil)
	assert.EqualValues(t, 1, a.Overall, "a soft top's fabric is not touched paint")
}

// A dirtier zone never lowers the overall grade.
func TestOverallGradeOnlyRises(t *testing.T) {
	for _, name := range vehicle.Zone("").Values() {
		previous := contact.Grade(0)
		for g := contact.Grade(0); g <= contact.Worst; g++ {
			l := graded(map[vehicle.Zone]contact.Grade{vehicle.Bonnet: 1, vehicle.Zone(name): g})
			got := Assess(hatch, l, nil).Overall
			assert.GreaterOrEqual(t, got, previous, name)
			previous = got
		}
	}
}

// Scope: bugs and fresh bird lime yes; tar, sap, iron, etched spots no. Common practice, no source.
func TestScopeOfAMaintenanceWash(t *testing.T) {
	l := graded(nil)
	l.Bonded = []Bonded{{Bugs, vehicle.Front}, {Tar, vehicle.LowerLeft}, {Tar, vehicle.LowerLeft}, {Iron, vehicle.Rear}}
	a := Assess(hatch, l, nil)
	assert.Equal(t, []string{"bugs on front bumper and grille"}, a.InScope)
	assert.Equal(
		t,
		"This wash will not remove: tar on lower doors and sill, left; iron specks on rear bumper. Note it and "+
			"offer Show preparation.",
		a.Scope,
	)
	assert.Equal(t, []vehicle.Zone{vehicle.LowerLeft}, a.OutScope[0].Zones, "the same spot counts once")
	assert.Equal(t, "This wash takes off everything seen.", Assess(hatch, graded(nil), nil).Scope)
}

func TestWhatTheConditionAsksFor(t *testing.T) {
	l := graded(map[vehicle.Zone]contact.Grade{vehicle.LowerLeft: 4})
	l.Salt = true
	l.Protection = Protection{Coating, 100, Flat}
	l.Watch = []vehicle.Watch{vehicle.FreshCoating}
	a := Assess(hatch, l, nil)
	assert.Contains(
		t,
		a.Advice,
		"Rinse before foam, foam, rinse again. No rinseless. Without running water, blast it at a pressure bay first.",
	)
	assert.Contains(t, a.Advice, "The coating lies flat: decontaminate before topping up. No clay on a coating.")
	require.Len(t, a.Barred, 1)
	assert.Contains(t, a.Barred[0], "cures")
}

func TestFactsAreComplete(t *testing.T) {
	l := graded(map[vehicle.Zone]contact.Grade{vehicle.LowerLeft: 3, vehicle.WheelFR: 2})
	l.Bonded = []Bonded{{Bugs, vehicle.Front}}
	l.Budget = 40
	facts := FactsOf(hatch, l, nil, Surroundings{FoamWindow: 12 * time.Minute, Hardness: 240})
	for _, info := range AllFacts() {
		if info.Question {
			continue // settled in core/procedure
		}
		v, known := facts[info.Fact]
		require.True(t, known, "%s is never filled", info.Fact)
		if info.Kind != Number {
			assert.Empty(t, v.Number, info.Fact)
		}
	}
	assert.Len(t, facts, len(AllFacts())-len(Questions()))
	assert.Equal(t, "3", facts[GradeLower].String())
	assert.Equal(t, "2", facts[GradeWheels].String())
	assert.Equal(t, "yes", facts[HasBugs].String())
	assert.Equal(t, "12", facts[FoamWindow].String())
	_, err := Fact("moon phase").Info()
	assert.Error(t, err)
}

func TestPlacesHaveNamesOfTheirOwn(t *testing.T) {
	assert.NoError(t, CheckPlaces([]Place{{Name: "a"}, {Name: "b"}}))
	err := CheckPlaces([]Place{{Name: "a"}, {Name: "a"}, {}})
	assert.ErrorContains(t, err, `places[1].name: "a"`)
	assert.ErrorContains(t, err, `places[2].name: ""`)
}

func TestCheckNamesEveryBadField(t *testing.T) {
	l := graded(map[vehicle.Zone]contact.Grade{"sunroof": 1, vehicle.Roof: 5})
	l.Bonded = []Bonded{{"gum", "sunroof"}}
	l.Watch = []vehicle.Watch{"ghost"}
	l.Budget = -1
	err := l.Check()
	for _, says := range []string{"grades.sunroof", "grades.roof: grade 5 " +
		"must be 0 to 4", "bonded[0].zone", "bonded[0].matter", "watch[0]", "budget"} {
		assert.ErrorContains(t, err, says)
	}
	assert.NoError(t, graded(nil).Check())
}
