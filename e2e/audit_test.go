package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/photo/phototest"
)

// beginsAWalk walks round CAB 12 in a light, on a page that also opens without a network, and gives its address.
func (b *tab) beginsAWalk(light string) (path string) {
	b.t.Helper()
	b.visit("/audits")
	b.installed()
	b.within("li", "CAB 12", "button", "Walk round")
	b.see("h1", "^Audit:")
	b.click("button", light)
	return b.path()
}

// An auditor walks on a phone without a connection: answers are kept, outlast the page, and arrive; one that somebody else
// answered meanwhile is set aside with the reason, and is put instead when asked.
func TestAWalkWithoutANetwork(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b := far.as("hesper", phone)
	path := b.beginsAWalk("^Lamp")
	b.see("h2", "^Drying towel")
	b.click("button", "^Pass$")
	b.see("h2", "^Roof, bonnet")
	b.see("button", "Drying towel.*Pass")
	b.goneNow("p", "not sent yet")

	wire.Cut()
	b.click("button", "^Pass$")
	b.see("h2", "^Sills")
	b.click("button", "^Rear bumper$")
	b.click("button", "^Dirt left$")
	b.click("button", "^Major")
	b.see("h2", "^Front bumper")
	b.see("p", "2 answers kept on this device")
	b.visit(path)
	b.see("h2", "^Front bumper")
	b.see("p", "2 answers kept on this device")

	lead := s.as("maren", desk) // meanwhile, on the same roof
	lead.visit(path)
	lead.see("h2", "^Roof, bonnet")
	lead.click("button", "^Roof$")
	lead.click("button", "^Spots or streaks$")
	lead.click("button", "^Minor")
	lead.see("h2", "^Sills")
	lead.goneNow("p", "not sent yet")

	wire.Mend()
	b.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	b.see("[role=alert]", "Roof, bonnet.*set aside")
	b.click("button", "^Put mine instead$")
	b.goneNow("[role=alert]", "set aside")
	b.goneNow("p", "not sent yet")
	b.see("button", "Sills.*1 finding")

	lead.visit(path)
	lead.see("button", "^Roof, bonnet.*Pass")
	lead.see("li", "Dirt left.*rear bumper")
	lead.quiet()
}

// At dusk marks stay open; what is not applicable needs a reason; a finding is taken out by hand, never by a pass; signing
// asks once.
func TestAWalkAtDusk(t *testing.T) {
	s := open(t)
	b := s.as("hesper", phone)
	b.visit("/audits")
	b.see("option", "Spot check")
	b.choose("Walk by", "Spot check of two minutes")
	b.within("li", "CAB 12", "button", "Walk round")
	b.click("button", "^Dusk")
	b.see("button", "Bonnet under a lamp.*Too dark")
	b.see("h2", "^One sill")
	b.click("button", "^Pass$")
	b.see("h2", "^Mirrors")
	b.click("button", "^Mirror, left$")
	b.click("button", "^Drips$")
	b.fill("How many", "2")
	b.click("button", "^Minor")
	b.see("h2", "^Behind one spoke")
	b.see("li", "Drips.*not counted.*Let pass by the list: drips: up to 2")
	b.click("button", "^Back to: Mirrors")
	b.see("h2", "^Mirrors")
	assert.False(t, b.has("button", "^Pass$"), "a pass does not erase a finding")
	b.click("button", "Take out")
	b.see("h2", "^Behind one spoke")
	b.see("button", "^Mirrors.*Pass")
	b.click("button", "^Does not apply$")
	b.click("button", "^Cannot be reached now$")
	b.see("h2", "^Driver's door shut")
	b.click("button", "^Pass$")
	b.see("p", "60 % of the list was looked at") // a spoke was left out, and the bonnet is too dark
	b.click("button", "^Back to: Driver")
	b.see("h2", "^Driver's door shut")
	b.click("button", "^Behind one spoke.*Not applicable")
	b.see("h2", "^Behind one spoke")
	b.click("button", "^Pass$")
	b.see("p", "^The wash passes with 100")
	b.sign()
	b.see("section", "Signed at")
	b.see("p", "Too dark to judge: Bonnet under a lamp")
	b.quiet()
}

// A lead writes a list: what is typed outlasts the page; an old hand's doubts are told; the version says what changed.
func TestAListIsWritten(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/audits/lists")
	lead.see("section", "Final walk.*For every wash")
	lead.visit("/audits/lists/final-walk")
	lead.see("h2", "This look")
	lead.click("button", "^4. Front bumper")
	lead.fill("Done when", "")
	lead.see("li", "does not say when it is done")
	lead.fill("Done when", "Nothing runs after five minutes")
	lead.goneNow("li", "does not say when it is done")
	lead.fill("Let pass of drips", "1")
	lead.visit("/audits/lists/final-walk")
	lead.click("button", "^4. Front bumper")
	assert.Equal(t, "Nothing runs after five minutes", lead.labelled("Done when").MustProperty("value").String())
	lead.click("button", "^Publish$")
	lead.see("li", "Version 2.*done when: Nothing runs after five minutes.*lets pass drips: up to 1")

	lead.visit("/audits/lists")
	lead.fill("Its title", "Wheels only")
	lead.click("button", "^Begin a blank list$")
	lead.see("h1", "^Wheels only$")
	lead.click("button", "^Add a look$")
	lead.fill("What is looked at", "All four wheels")
	lead.choose("Where", "Wheels")
	lead.click("button", "^Publish$")
	lead.see("li", "Version 1")
	lead.visit("/audits/lists")
	lead.see("section", "Wheels only.*1 look;")
	lead.quiet()
}

// "Who has most on the sills" is three taps away, and every finding leads to its audit.
func TestWhoHasMostOnTheSills(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/audits")
	lead.click("a", "^Findings$")
	lead.see("h1", "^Findings$")
	lead.click("button", "^Lower doors and sill, right")
	lead.see("button", "^Lower doors and sill, right$") // what is looked at, to be let go again
	lead.see("h2", "^Who washed$")
	lead.click("button", "^Pia Lunt")
	lead.see("button", "^Pia Lunt$")
	lead.click("main td ~ th a, main th a", ".")
	lead.see("h1", "^Audit:")
	lead.see("li", "lower doors and sill, right")

	lead.visit("/audits")
	lead.click("a", "^All audits$")
	lead.see("p", "^40 audits shown")
	lead.click("button", "^Older audits$")
	lead.see("p", "^(6|7|8)[0-9] audits shown")
	lead.quiet()
}

// The server is killed in the midst of a walk, and the page is closed besides: what was tapped and taken meanwhile is there when
// both are back, and nothing twice.
func TestAKilledServerLosesNothingOfAWalk(t *testing.T) {
	s, p := living(t)
	b := s.as("hesper", phone)
	path := b.beginsAWalk("^Daylight")
	b.click("button", "^Pass$")
	b.see("h2", "^Roof, bonnet")
	b.goneNow("p", "not sent yet")

	p.kill()
	b.click("button", "^Pass$")
	b.see("h2", "^Sills")
	b.click("button", "^Rear bumper$")
	b.photographs("^Photo of rear bumper", phototest.Taken(900, 600))
	b.see("span", "on this device")
	b.click("button", "^Dirt left$")
	b.click("[role=group] button", "^Major")
	b.see("h2", "^Front bumper")
	b.visit("/")
	b.visit(path)
	b.see("p", "2 answers kept on this device")

	p.start()
	b.goneNow("p", "not sent yet")
	b.goneNow("span", "on this device")
	id := path[strings.LastIndex(path, "/")+1:]
	a, err := s.store.Audit(t.Context(), id)
	require.NoError(t, err)
	given := a.Answers()
	assert.Len(t, given, 3)
	assert.Len(t, given["lower"].Findings, 1)
	photos, err := s.store.Photos(t.Context(), id)
	require.NoError(t, err)
	assert.Len(t, photos, 1)
}

// A look that wants a reading does not pass without one, nor beyond what is written; what is beyond is a finding with its reading.
func TestALookThatWantsAReading(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/audits/lists/spot-check")
	lead.click("button", "^2. Mirrors")
	lead.click("label", "^It wants a reading$")
	lead.fill("What is read", "Water left")
	lead.fill("Unit", "%")
	lead.fill("No more than", "5")
	lead.click("button", "^Publish$")
	lead.see("li", "Version 2.*reads Water left, %, up to 5")

	b := s.as("hesper", phone)
	b.visit("/audits")
	b.see("option", "Spot check")
	b.choose("Walk by", "Spot check of two minutes")
	b.within("li", "CAB 12", "button", "Walk round")
	b.click("button", "^Lamp")
	b.click("button", "^Pass$")
	b.see("h2", "^Mirrors")
	b.see("button[disabled]", "^Pass$")
	b.fill("Water left, %", "7.5")
	b.see("[role=status]", "Not within what passes")
	b.see("button[disabled]", "^Pass$")
	b.fill("Water left, %", "4")
	b.goneNow("[role=status]", "Not within what passes")
	b.keep("walk-reading")
	b.click("button", "^Pass$")
	b.see("h2", "^Behind one spoke")
	b.goneNow("p", "not sent yet")
	a, err := s.store.Audit(t.Context(), b.path()[len("/audits/"):])
	require.NoError(t, err)
	for id, answer := range a.Answers() {
		if answer.Reading != nil {
			assert.Equal(t, 4.0, *answer.Reading, id)
			return
		}
	}
	assert.Fail(t, "no answer has a reading")
}
