package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
)

func TestLabourIsPaidFromFirstToLastWork(t *testing.T) {
	line := Timeline{Slots: []Slot{
		{Who: "osk", Start: 0, End: 600}, {Who: "osk", Start: 1200, End: 1800}, // the ten minutes between are paid
		{Who: "pia", Start: 600, End: 1200}, {Start: 0, End: 9000}, // runs by itself
	}}
	assert.Equal(t, measure.Money(1200), line.Labour(1800), "40 min at 18.00 an hour")
	assert.Equal(t, measure.Money(0), Timeline{}.Labour(1800))
}

func TestWarningsComeInTimeToAct(t *testing.T) {
	line := Timeline{Slots: []Slot{{ID: "foam 1", Step: "foam"}, {ID: "foam 2", Step: "foam"}, {ID: "tar", Step: "tar"}}}
	pr := Promise{P80: 4000, Helper: &Helper{"mitt", "Mitt", 480}, Dwells: []DwellRisk{{From: "foam 1", Title: "Foam", Chance: 0.5},
		{From: "foam 2", Title: "Foam", Chance: 0.4}, {From: "tar", Title: "Tar", Chance: 0.19}}}
	said := pr.Warnings(line, 3400)
	assert.Len(t, said, 2, "late, and the foam once; the tar is rarely late")
	assert.Contains(t, said[0], "10 min after the promise. A helper at “Mitt” would save 8 min")
	assert.Contains(t, said[1], "Foam: it dries in 50 of 100")
	pr.Helper = nil
	assert.Contains(t, pr.Warnings(line, 3400)[0], "leave something out")
	assert.Empty(t, Promise{P80: 100}.Warnings(line, 3400))
}
