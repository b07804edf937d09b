package timing

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// By hand: three clean cars dried in 6, 8 and 10 min on 8 planned, one dirty in 12; one took an hour and is set
// apart; pauses are kept apart.
func TestTimesByKind(t *testing.T) {
	minutes := []float64{6, 8, 10, 12, 60}
	washes := invented(5, func(i int) (StepTime, Wash) {
		w := Wash{Grade: 1, Name: "Osk", Person: "o", Title: "Maintenance", Version: 1, Body: "van", Place: "Bay"}
		if i == 3 {
			w.Grade = 3
		}
		return StepTime{Written: 8, Actual: minutes[i], Paused: 1, By: "o"}, w
	})
	for _, steps := range []bool{false, true} {
		b := Break(washes, ByGrade, steps)
		assert.Equal(t, []string{"grade 1", "grade 3"}, b.Kinds)
		assert.Len(t, b.Lines, 1)
		clean, dirty := b.Lines[0].Cells[0], b.Lines[0].Cells[1]
		assert.Equal(t, []int{3, 1, 1, 0}, []int{clean.N, clean.Apart, dirty.N, dirty.Apart}, "steps %v", steps)
		assert.InDelta(t, 7, clean.Median, 1.01)
		assert.InDelta(t, 1, clean.Ratio, 1e-9)
		assert.InDelta(t, 1.5, dirty.Ratio, 1e-9)
	}
	assert.InDelta(t, 4, Break(washes, ByGrade, true).Lines[0].Cells[0].Paused, 1e-9)
	for by, kind := range map[Grouping]string{BySize: "van", ByPerson: "Osk", ByMethod: "Maintenance 1", ByPlace: "Bay"} {
		assert.Equal(t, []string{kind}, Break(washes, by, false).Kinds)
	}
	assert.Empty(t, Break(nil, ByGrade, false).Lines)
	washes[0].Times.Steps[0].Shared = true
	assert.Equal(t, 2, Break(washes, ByGrade, true).Lines[0].Cells[0].N, "two people's work is nobody's time")
}

// A kind that a line never met stands as an empty cell, so that lines stay under their heads.
func TestEveryLineHasEveryKind(t *testing.T) {
	washes := []Wash{
		{Grade: 0, Times: WashTimes{Stages: []StageTime{{Stage: "Dry", Planned: 5, Actual: 5, Done: true}}}},
		{Grade: 2, Times: WashTimes{Stages: []StageTime{{Stage: "Foam", Planned: 3, Actual: 3, Done: true}}}},
	}
	for _, line := range Break(washes, ByGrade, false).Lines {
		assert.Len(t, line.Cells, 2)
	}
}
