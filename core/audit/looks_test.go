package audit

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/wash"
)

// What Uskel offers for on the way holds, and lists for on the way are never walked round a finished car.
func TestChecksOnTheWayAreOffered(t *testing.T) {
	ids := map[string]bool{}
	for _, c := range Offered() {
		require.NoError(t, c.Check(), c.ID)
		if c.At != WhenFinished {
			assert.Empty(t, Sense(c), "%s", c.ID)
		}
		assert.False(t, ids[c.ID])
		ids[c.ID] = true
	}
	_, found := For(onTheWay(), "F3", nil)
	assert.False(t, found)
	c := onTheWay()[0]
	c.At = "at noon"
	assert.ErrorContains(t, c.Check(), `at: "at noon"`)
	moved := onTheWay()[0]
	moved.At = BeforeDrying
	assert.Contains(t, moved.Differs(onTheWay()[0])[0], "before drying")
}

// Each moment comes before the first step of its kind; where a plan has none nothing is looked at.
func TestBeforeWhichStep(t *testing.T) {
	step := func(id string, does procedure.Technique) plan.FilledStep {
		return plan.FilledStep{ID: id, Technique: does}
	}
	p := plan.Plan{Family: "F3", Steps: []plan.FilledStep{step("look-first", procedure.Inspect), step("foam", procedure.Apply),
		step("mitt", procedure.ContactWash), step("mitt-2", procedure.ContactWash), step("blow", procedure.Dry),
		step("towel", procedure.Dry), step("look", procedure.Inspect), step("away", procedure.Prepare)}}
	looks := Looks(Offered(), p, nil)
	assert.Len(t, looks, 3)
	require.Len(t, looks["mitt"], 2)
	assert.Equal(t, "before-mitt@1/gone", looks["mitt"][0].ID)
	assert.Equal(t, []string{string(GritLeft)}, looks["mitt"][0].Finds)
	assert.Len(t, looks["blow"], 2)
	assert.Len(t, looks["look"], 2)
	assert.Empty(t, Looks(Starters(), p, nil), "lists for finished cars ask nothing on the way")

	touchless := plan.Plan{Family: "F10", Steps: []plan.FilledStep{step("foam", procedure.Apply), step("rinse", procedure.Rinse)}}
	looks = Looks(Offered(), touchless, nil)
	assert.Len(t, looks, 1)
	assert.Contains(t, looks, "rinse", "before hand-over is before the last step where there is no last look")

	never := onTheWay()
	for i := range never {
		for k := range never[i].Items {
			never[i].Items[k].When = procedure.Be(condition.TraineeWashes, "yes")
		}
	}
	assert.Empty(t, Looks(never, p, nil), "what a wash does not ask for is not looked at")
}

// Looks are counted over all versions of a list, with what was found, what was left, and how long it took.
func TestCountingLooks(t *testing.T) {
	at := time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)
	clear := func(version string) wash.Looked {
		return wash.Looked{Look: "before-drying@" + version + "/clear", At: at, Right: at}
	}
	caught := clear("2")
	caught.Found, caught.Took = "foam left in gaps", 40
	left := wash.Looked{Look: "before-drying@2/clear", At: at, Found: "foam left in gaps"}
	rows := OnTheWay([][]wash.Looked{{clear("1")}, {caught}, {left}, {clear("1")}, {{Look: "gone@1/x", At: at, Right: at}}}, Offered())
	require.Len(t, rows, 2)
	r := rows[0]
	assert.Equal(t, []any{"Before drying", "The rinse runs clear", 4, 2, 1, 40.0, 0.5},
		[]any{r.Check, r.Title, r.Made, r.Found, r.Left, r.Took, r.Share})
	assert.Less(t, r.Low, 0.5)
	assert.Greater(t, r.High, 0.5)
	assert.Equal(t, "gone/x", rows[1].Title, "of a list that is no longer there its id")
}

// An answer to a look that wants a reading carries it, and what passes lies within what is written, whatever is read.
func TestReadingsProveAPass(t *testing.T) {
	dice := rand.New(rand.NewSource(4))
	for range 2000 {
		least, most, read := dice.NormFloat64(), dice.NormFloat64(), dice.NormFloat64()
		r := Reading{What: "water left", Unit: "%", Least: &least, Most: &most}
		if least > most {
			assert.ErrorContains(t, r.check(), "reading.most")
			continue
		}
		require.NoError(t, r.check())
		i := Item{Reading: &r}
		err := i.Proves(Answer{Verdict: Pass, Reading: &read})
		assert.Equal(t, read < least || read > most, err != nil)
		assert.NoError(t, i.Proves(Answer{Verdict: Found, Reading: &read}), "what is found may lie anywhere")
	}
	five, six := 5.0, 6.0
	i := Item{Reading: &Reading{What: "water left", Unit: "%", Most: &five}}
	assert.ErrorContains(t, i.Proves(Answer{Verdict: Pass}), "water left, %, up to 5")
	assert.ErrorContains(t, i.Proves(Answer{Verdict: Pass, Reading: &six}), "6 % is more than 5")
	assert.NoError(t, i.Proves(Answer{Verdict: NotApplicable}))
	assert.NoError(t, Item{}.Proves(Answer{Verdict: Pass}))
	assert.Contains(t, Checklist{ID: "x", Title: "x", Items: []Item{i}}.Markdown(), "Read: water left, %, up to 5")
	assert.ErrorContains(t, Item{ID: "x", Title: "x", Zones: procedure.PaintOnly, Reading: &Reading{}}.check(), "reading.what")
	assert.Contains(t, i.differs(Item{})[len(i.differs(Item{}))-1], "reads water left")
}
