package e2e

import "testing"

// The lead takes a pattern of findings up in the table, opens the step with the change prepared, publishes it, and reads what the
// audits say; whoever washes reads it on a phone.
func TestTakingFindingsUp(t *testing.T) {
	s := open(t)
	b := s.as("maren", desk)
	b.visit("/audits/findings")
	b.see("h2", "^What$")
	b.click("button", "^Dirt left")
	b.click("a", "^Take it up$")
	b.see("h2", "^What may be behind it$")
	b.see("li", "usual in the trade; a guess here")
	b.choose("Who sees to it", "Osk Pellow")
	b.click("button", "^Take it up$")
	b.see("h1", "^Remedies$")
	b.see("section", "Dirt left.*Not done yet")
	b.click("button", "^Open a draft with the change$")
	b.see("h1", "^Writing:")
	b.visit("/audits/remedies")
	b.click("button", "^It is done$")
	b.see("section", "Too early to tell|No change shown|It fell")
	b.click("button", "^Close it with this$")
	b.see("h2", "^Closed$")
	b.click("button", "^Take it up again$")
	b.see("section", "Not done yet")
	b.quiet()
	w := s.as("osk", phone)
	w.visit("/audits/remedies")
	w.see("section", "Dirt left")
	w.click("button", "^It is done$")
	w.gone("button", "^It is done$")
	w.quiet()
}
