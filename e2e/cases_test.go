package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// answer gives some answer to the case in sight and sees what it was worth.
func (b *tab) answer() {
	b.t.Helper()
	b.see("h2", ".")
	if b.has("button", "^Answer$") {
		b.one("form input").MustInput("7")
		b.click("button", "^Answer$")
	} else {
		b.press("main section .grid > button")
	}
	b.see("p[role=status]", "Right|Not that one|Not quite")
}

// A trainee with five minutes: three cases on a phone, each answered and explained; the record counts them, and what is in
// hand stays in hand over a reload.
func TestThreeCasesOnAPhone(t *testing.T) {
	t.Parallel()
	s := open(t)
	pia := s.as("pia", phone)
	pia.visit("/training")
	pia.see("h2", "Cases: what would you do")
	pia.see("h2", "Next for you: foam")
	pia.see("p", "next wash is watched for")
	pia.click("a", "Three cases")
	pia.see("span", "1 of 3")
	pia.answer()
	require.NoError(t, pia.Reload())
	pia.see("span", "1 of 3") // two are left, and one more was dealt
	for i := range 3 {
		pia.answer()
		if i == 0 {
			pia.see("p", "It comes again")
		}
		pia.click("button", "^Next$")
	}
	pia.see("h2", "3 cases done")
	pia.click("button", "Three more")
	pia.see("span", "1 of 3")
}

// By the keyboard alone: an answer is reached by tab, and the next case by Enter.
func TestCasesByKeyboard(t *testing.T) {
	t.Parallel()
	s := open(t)
	cal := s.as("cal", desk)
	cal.visit("/training/cases")
	cal.see("span", "1 of 3")
	if cal.has("button", "^Answer$") {
		cal.tabTo("input", "")
		require.NoError(t, cal.InsertText("12"))
		require.NoError(t, cal.Keyboard.Type(input.Enter))
	} else {
		cal.tabTo("section .grid > button", "")
		require.NoError(t, cal.Keyboard.Type(input.Enter))
	}
	cal.see("p[role=status]", "Right|Not")
	require.NoError(t, cal.Keyboard.Type(input.Enter)) // the next one has the focus
	cal.see("span", "2 of 3")
}

// The lead writes a case of the shop's own, and sees how everybody stands.
func TestTheLeadWritesACase(t *testing.T) {
	t.Parallel()
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/training")
	lead.see("caption", "Cases by person")
	assert.True(t, lead.has("th", "Pia"))
	lead.click("button", "Write a case")
	lead.fill("Title of the case", "The ramp")
	lead.click("button", "Save the case")
	lead.see("p[role=alert]", "Write it")
	lead.fill("The question", "Which way does a car leave the ramp?")
	lead.fill("The right answer", "Down")
	lead.fill("Wrong answers, a line each", "Up")
	lead.fill("Why it is right", "It drips on the bench.")
	lead.click("button", "Save the case")
	lead.see("li", "The ramp")
	lead.within("li", "The ramp", "button", "Take out")
	lead.gone("li", "The ramp")
}
