package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/photo/phototest"
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
	lead.click("summary", "^0 photos$")
	lead.photographs("^Photo of the case", phototest.Taken(600, 400))
	lead.see("summary", "^1 photo$")
	lead.goneNow("span", "on this device")
	lead.within("li", "The ramp", "button", "Take out")
	lead.gone("li", "The ramp")
}

// Without a network what is in hand is still answered: each answer is kept, outlasts the page, and is told once it has arrived.
func TestCasesWithoutANetwork(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	pia := far.as("pia", phone)
	pia.visit("/training/cases")
	pia.installed()
	pia.see("span", "1 of 3")
	wire.Cut()
	give := func(left string) {
		if pia.has("button", "^Answer$") {
			pia.one("form input").MustInput("7")
			pia.click("button", "^Answer$")
		} else {
			pia.press("main section .grid > button")
		}
		pia.see("p[role=status]", left)
	}
	give("^1 answer kept")
	pia.visit("/training/cases")
	pia.see("p[role=status]", "^1 answer kept")
	pia.see("span", "1 of 2")
	give("^2 answers kept")
	wire.Mend()
	pia.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	pia.goneNow("p", "kept on this device")
	told := 0
	for _, e := range pia.all("main h2") {
		if text := e.MustText(); strings.HasSuffix(text, ": right") || strings.HasSuffix(text, ": not that one") {
			told++
		}
	}
	assert.Equal(t, 2, told)
	pia.see("span", "1 of 1") // the third is still in hand
}
