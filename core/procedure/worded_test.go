package procedure

import (
	"fmt"
	"math/rand"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestChangedWordsAreMarked(t *testing.T) {
	assert.Equal(t, []WordSpan{{"kept", "Foam from the"}, {"gone", "bottom"}, {"new", "top"}, {"kept", "up."}},
		Worded("Foam from the bottom up.", "Foam from the top up."))
	assert.Equal(t, []WordSpan{{"gone", "Rinse."}, {"new", "Wait."}}, Worded("Rinse.", "Wait."))
	assert.Empty(t, Worded("", " "))
	assert.Equal(t, []WordSpan{{"kept", "same words"}}, Worded("same words", "same  words"), "spaces are no words")
}

// Whatever the texts: the kept and gone words are the old text, the kept and new ones the new.
func TestMarkedWordsAreBothTexts(t *testing.T) {
	rng := rand.New(rand.NewSource(7))
	text := func() string {
		words := make([]string, rng.Intn(30))
		for i := range words {
			words[i] = fmt.Sprint("w", rng.Intn(6))
		}
		return strings.Join(words, " ")
	}
	for range 500 {
		old, new := text(), text()
		var was, is []string
		for _, s := range Worded(old, new) {
			if s.Kind != "new" {
				was = append(was, s.Text)
			}
			if s.Kind != "gone" {
				is = append(is, s.Text)
			}
		}
		assert.Equal(t, old, strings.Join(was, " "))
		assert.Equal(t, new, strings.Join(is, " "))
	}
}
