package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A trainer watches a wash on a phone: what is marked without a connection is kept, outlasts the page, and arrives once;
// the record shows it.
func TestAWatchedWashWithoutANetwork(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b := far.as("maren", phone)
	b.visit("/training")
	b.installed()
	b.click("a", "^Watch$")
	b.see("h1", "^Watch Osk Pellow")
	first := "div[role=group][aria-label^='Guard seated'] button"
	b.click(first, "^With help$")
	b.one(first + "[aria-pressed=true]")
	b.goneNow("p", "not sent yet")

	wire.Cut()
	b.click(first, "^Alone$")
	b.see("p", "1 mark kept on this device")
	b.visit(b.path())
	b.see("p", "1 mark kept on this device")
	b.see(first+"[aria-pressed=true]", "^Alone$")
	wire.Mend()
	b.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	b.goneNow("p", "kept on this device")

	lead := s.as("maren", desk)
	lead.visit("/training")
	lead.click("a", "^Watch$")
	lead.see(first+"[aria-pressed=true]", "^Alone$")
}

// A lead rewrites what is watched for: what is typed outlasts the page, is published as a version that says what changed,
// and is on the lesson's card, which prints on one sheet.
func TestALessonIsRewritten(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/training/lessons/mitt")
	lead.see("h3", "In a minute")
	lead.click("button", "Show the answer")
	lead.see("b", "At the body line")
	lead.click("a", "^Change it$")
	lead.see("h2", "What a sign-off needs")
	lead.fill("Watched for, 1", "Never presses on the mitt")
	lead.visit("/training/lessons/mitt/write")
	assert.Equal(t, "Never presses on the mitt", lead.labelled("Watched for, 1").MustProperty("value").String())
	lead.fill("Drills passed", "3")
	lead.click("button", "^Publish$")
	lead.see("footer", "version 1")
	lead.see("li", "Never presses on the mitt")
	lead.click("a", "^Change it$")
	lead.see("li", "Version 1.*reads now.*Never presses.*A sign-off needs: 2 watched washes, 3 drills")
	lead.visit("/training/lessons/buckets")
	lead.see("h3", "As it is done here")
	assert.Equal(t, 1, pages(lead.pdf([2]float64{8.27, 11.69}, "")), "one sheet of A4")
	lead.quiet()
}
