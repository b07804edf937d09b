package e2e

import "testing"

// The lead walks a signed audit again without seeing what the first found; what is tapped outlasts the page; then it is said how
// far the two agree.
func TestAnAuditWalkedAgainBlind(t *testing.T) {
	t.Parallel()
	s := open(t)
	first := s.as("hesper", phone)
	first.visit("/audits")
	first.see("option", "Spot check")
	first.choose("Walk by", "Spot check of two minutes")
	first.within("li", "CAB 12", "button", "Walk round")
	first.click("button", "^Lamp")
	for _, look := range []string{"One sill", "Mirrors", "Behind one spoke", "Bonnet", "Driver's door"} {
		first.see("h2", "^"+look)
		first.click("button", "^Pass$")
	}
	first.sign()
	first.see("section", "Signed at")
	first.quiet()

	b := s.as("maren", phone)
	b.visit("/audits")
	b.within("li", "CAB 12", "button", "^I look again$")
	b.see("h1", "^Again, blind: ")
	b.click("button", "^Daylight")
	b.see("h2", "^One sill")
	b.click("button", "^Pass$")
	b.see("h2", "^Mirrors")
	b.click("button", "^Mirror, left$")
	b.click("button", "^Drips$")
	b.click("button", "^Minor")
	b.see("h2", "^Behind one spoke")
	b.visit(b.path())
	for _, look := range []string{"Behind one spoke", "Bonnet", "Driver's door"} {
		b.see("h2", "^"+look)
		b.click("button", "^Pass$")
	}
	b.click("button", "^Send my look$")
	b.see("h1", "^Do auditors agree")
	b.see("tr", "Mirrors and grille.*0 %")
	b.quiet()
}
