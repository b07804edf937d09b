package e2e

import (
	"slices"
	"strings"
	"testing"

	"uskel/core/audit"
)

// Whoever washed disputes a finding on a phone; the lead reads it and settles it; what was signed stays, beside it stands what
// counts.
func TestADispute(t *testing.T) {
	s := open(t)
	a := s.as("hesper", phone)
	a.visit("/audits")
	a.see("option", "Spot check")
	a.choose("Walk by", "Spot check of two minutes")
	a.within("li", "CAB 12", "button", "Walk round")
	a.click("button", "^Lamp")
	a.see("h1", "^Audit:")
	path := a.path()
	spot := audit.Starters()[slices.IndexFunc(audit.Starters(), func(l audit.Checklist) bool { return strings.HasPrefix(l.Title, "Spot") })]
	for _, item := range spot.Items {
		a.see("h2", "^"+item.Title+"$")
		if !strings.HasPrefix(item.Title, "One sill") {
			a.click("button", "^Pass$")
			continue
		}
		a.click("button", "^Lower doors and sill, left$")
		a.click("button", "^Dirt left$")
		a.click("[role=group] button", "^Minor")
	}
	a.sign()
	a.see("h2", "^Signed at")

	w := s.as("jory", phone)
	w.visit(path)
	w.click("button", "^Dispute: One sill")
	w.fill("What speaks against the finding at One sill and the strip behind its wheel", "The ramp was wet: it splashed there afterwards.")
	w.click("button", "^Send it to the lead$")
	w.see("p", "Waits for a lead")
	w.quiet()

	l := s.as("maren", desk)
	l.visit("/audits")
	l.see("h2", "1 dispute to settle")
	l.click("a", "^Settle it$")
	l.fill("Why, to whoever washed", "The camera at the ramp shows it.")
	l.click("button", "^It does not count$")
	l.see("p", "With what was settled for whoever washed: 100")
	l.see("span", "Does not count")
	l.quiet()
}
