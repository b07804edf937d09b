package wash

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
)

func looking() []PlannedStep {
	looks := []Look{{ID: "pre@1/clear", Title: "Clear", Finds: []string{"foam", "dirt"}},
		{ID: "pre@1/gaps", Title: "Gaps", Finds: []string{"foam"}}}
	return []PlannedStep{{ID: "rinse", Title: "Rinse", Minutes: 3}, {ID: "towel", Title: "Towel", Minutes: 5, Looks: looks}}
}

func answered(id, look, found string, minutes float64) Event {
	e := tapped(id, Checked, "towel", minutes)
	e.Look, e.Found = look, found
	return e
}

// A look is due until it is right; what was found first stays, with how long it took; a step that is begun asks no more.
func TestLooksOnTheWay(t *testing.T) {
	steps := looking()
	towel := func(log ...Event) StepState { return status(Fold(steps, log), "towel") }
	assert.Equal(t, []string{"pre@1/clear", "pre@1/gaps"}, towel().Due)
	assert.Empty(t, status(Fold(steps, nil), "rinse").Due)

	right, found := answered("1", "pre@1/clear", "", 1), answered("2", "pre@1/gaps", "foam", 2)
	s := towel(right, found)
	assert.Equal(t, []string{"pre@1/gaps"}, s.Due, "found, and not right yet")
	s = towel(right, found, answered("3", "pre@1/gaps", "", 2.5))
	assert.Empty(t, s.Due)
	require.Len(t, s.Looks, 2)
	assert.Equal(t, Looked{Look: "pre@1/gaps", At: found.At, By: "osk", Found: "foam", Right: found.At.Add(30 * time.Second), Took: 30},
		s.Looks[1])
	assert.Zero(t, s.Looks[0].Took, "right at once")
	assert.Equal(t, s.Looks, LookedAt([]Event{right, found, answered("3", "pre@1/gaps", "", 2.5)}))

	s = towel(found, answered("3", "pre@1/gaps", "", 3), answered("4", "pre@1/gaps", "foam", 4), answered("5", "pre@1/gaps", "", 5))
	assert.Equal(t, measure.Seconds(180), s.Looks[0].Took, "it was not right yet after all")
	undo := tapped("9", Undo, "", 6)
	undo.Undoes = "1"
	assert.Contains(t, towel(right, undo).Due, "pre@1/clear", "a look that was taken back is due again")
	assert.Empty(t, towel(tapped("1", Start, "towel", 1)).Due, "what is begun goes on")
	assert.Empty(t, towel(tapped("1", Finish, "", 1)).Due)
	assert.NotContains(t, Washers("ines", nil, []Event{right}), "osk", "looking is not washing")
}

// A look of another step, or a finding that it does not know, is refused by name.
func TestLooksThatAreRefused(t *testing.T) {
	for want, e := range map[string]Event{
		"found: \"rust\"":       answered("1", "pre@1/gaps", "rust", 1),
		"look: \"pre@1/other\"": answered("1", "pre@1/other", "", 1),
		"look: \"\"":            answered("1", "", "", 1),
		"this wash has no such": {ID: "1", Kind: Checked, Step: "mitt", At: noon},
	} {
		assert.ErrorContains(t, e.Check(looking()), want)
	}
	assert.NoError(t, answered("1", "pre@1/gaps", "foam", 1).Check(looking()))
}
