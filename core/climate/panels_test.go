package climate

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
)

// What is said of a panel follows from the window that is shown first, that of suds; a longer window never asks for more haste.
func TestWhatIsSaidOfAPanel(t *testing.T) {
	order := []string{"One panel at a time, rinse at once.", "One or two panels, then rinse.", "About four panels may wait.",
		"Half a car may wait.", "Nothing dries: take your time."}
	rank := func(says string) int {
		for i, s := range order {
			if s == says {
				return i
			}
		}
		t.Errorf("%q is not said", says)
		return -1
	}
	for temp := 0.0; temp <= 35; temp += 5 {
		w := Reading{Temp: measure.Celsius(temp), RH: 0.6, Wind: 2, Sky: ClearSky}.Under(30, 180)
		rows := PanelsOf(w)
		for i := range rows {
			for k := range rows {
				if rows[i].Suds < rows[k].Suds {
					assert.LessOrEqual(t, rank(rows[i].Says), rank(rows[k].Says), "%s and %s", rows[i].Panel, rows[k].Panel)
				}
			}
		}
	}
}

// At night nothing faces the sun; a hot bonnet asks for the most haste.
func TestPanelsAtNightAndOffTheRoad(t *testing.T) {
	day := Reading{Temp: 20, RH: 0.5, Wind: 2, Sky: ClearSky}.Under(40, 180)
	night := Reading{Temp: 12, RH: 0.7, Wind: 1, Sky: ClearSky}.Under(-10, 0)
	assert.Equal(t, "Dark side, facing the sun", PanelsOf(day)[0].Panel)
	for _, row := range PanelsOf(night) {
		assert.NotContains(t, row.Panel, "facing the sun")
	}
	rows := PanelsOf(day)
	assert.Less(t, rows[4].Suds, rows[2].Suds, "hot, and in the same shade")
}
