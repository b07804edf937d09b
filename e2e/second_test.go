package e2e

import (
	"strings"
	"testing"
)

// The lead walks a signed audit again without seeing what the first found; what is tapped outlasts the page; then it is said how
// far the two agree.
func TestAnAuditWalkedAgainBlind(t *testing.T) {
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

// The lead asks one person for a blind look. Whoever is asked reads who asks, not what the first found, even by the address of its page;
// who says no is asked no more; who says yes looks.
func TestSomebodyIsAskedForABlindLook(t *testing.T) {
	s := open(t)
	lead, ines, osk := s.as("maren", desk), s.as("ines", phone), s.as("osk", phone)
	ask := func(name string) {
		lead.visit("/look-over")
		lead.see("li", "CAB 14")
		lead.choose("Who looks again at Island taxi, estate", name)
		lead.within("li", "CAB 14", "button", "^Ask$")
		lead.see("li", "CAB 14.*"+name+" was asked")
	}
	ask("Ines Varga")
	ines.visit("/look-over")
	ines.see("section", "^You are asked to grade again, blind.*CAB 14.*Maren Tolley asks you")
	ines.keep("blind-asked")
	ines.within("li", "CAB 14", "button", "^No$")
	ines.see("[role=status]", "You are not asked for this any more")
	ines.goneNow("li", "asks you")

	ask("Osk Pellow")
	osk.visit("/look-over")
	osk.within("li", "CAB 14", "button", "^Yes, I look$")
	osk.see("h1", "^Grade again, blind")
	booking := strings.TrimSuffix(osk.path(), "/again")
	osk.visit(strings.Replace(booking, "/look-over/", "/plan/", 1))
	osk.see("main", "You were asked to look at this again")
	osk.keep("blind-refused")
	osk.click("a", "^To the look-overs$")
	osk.see("section", "^You are asked to grade again, blind.*CAB 14.*Go on")
	osk.forgive("409")
	lead.quiet()
	ines.quiet()
	osk.quiet()
}
