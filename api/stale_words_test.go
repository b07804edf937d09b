package api

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatSomebodyElseChangedIsSaidInWords(t *testing.T) {
	for path, says := range map[string]string{
		".grades.roof": "roof, grade", ".places[0].name": "place 1, name", ".tyreShine": "tyre shine",
		".protection.ageDays": "protection, age, days", "": "", ".bonded[2].zone": "bonded matter 3, zone",
	} {
		assert.Equal(t, says, fieldInWords(path))
	}
	for json, says := range map[string]string{"true": "yes", `"wax"`: "“wax”", "absent": "nothing", "4": "4", `""`: "nothing"} {
		assert.Equal(t, says, valueInWords(json))
	}
}
