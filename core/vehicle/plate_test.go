package vehicle

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAPlateIsOneHoweverItIsTyped(t *testing.T) {
	for _, plate := range []string{"IM-0", "im-0", "IM 0", "im0", " IM - 0 ", "I.M.0"} {
		assert.Equal(t, "IM0", PlateKey(plate), plate)
	}
	assert.NotEqual(t, PlateKey("IM 0"), PlateKey("IM O"), "a digit is no letter")
	assert.Equal(t, "ÅB12", PlateKey("åb 12"))
	plate, err := ParsePlate("  im   0 ")
	assert.NoError(t, err)
	assert.Equal(t, "im 0", plate)
	for _, none := range []string{"", " ", "---", "\u00a0"} {
		_, err := ParsePlate(none)
		assert.Error(t, err, none)
	}
}
