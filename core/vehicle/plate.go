package vehicle

import (
	"errors"
	"strings"
	"unicode"
)

// PlateKey is what a plate is known by, however it is typed: its letters, in capitals, and its digits.
func PlateKey(plate string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToUpper(r)
		}
		return -1
	}, plate)
}

// ParsePlate reads a plate: without blanks around it, and with a letter or a digit in it.
func ParsePlate(text string) (string, error) {
	plate := strings.Join(strings.Fields(text), " ")
	if PlateKey(plate) == "" {
		return "", errors.New("write the plate: letters and digits")
	}
	return plate, nil
}
