package e2e

import (
	"testing"
)

// The mixing bench in the lead's hands: a ratio in three readings, what lands on the paint, another strength; then a
// count and a label.
func TestMixingBenchAndShelf(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/shelf")
	lead.see("p", "^91 ml product")
	lead.see("p", "already full of water: pour 91 ml out.*add 100 ml")
	lead.choose("Product", "Spume foam")
	lead.fill("As printed: second number", "1")
	lead.see("p", "times as strong as its label says. Is it meant")
	lead.fill("As printed: second number", "10")
	lead.see("p", "Read as “one part in” it would be 100 ml: 1.10 times as strong")
	lead.click("button", "^One part in$")
	lead.see("p", "^100 ml product")
	lead.fill("As printed: second number", "0")
	lead.see("[role=alert]", "above zero")
	lead.forgive("422") // the refusal just seen
	lead.click("button", "^On the paint")
	lead.see("summary", "1 \\+ 99\\s*lands on the paint")
	lead.click("button", "^Other strength")
	lead.see("p", "^125 ml product in")
	lead.click("button", "^The water")
	lead.see("p", "of minerals left if a mid-size car dries by itself")
	lead.see("p", "washes left in the cartridge")

	lead.within("tr", "Spume foam", "button", "Count")
	lead.fill("Left, ml", "4200")
	lead.click("button", "^Save$")
	lead.see("tr", "Spume foam.*4.2 l")
	lead.within("tr", "Spume foam", "button", "Label")
	lead.fill("Works at most, s (0: not said)", "240")
	lead.click("button", "Save the label")
	lead.see("tr", "Spume foam.*works at most 4 min")
	lead.see("section", "Change the water after|The rinse bucket")
	lead.quiet()

	// The label's limit is in the next plan.
	lead.visit("/")
	lead.row("Island taxi, estate", "Plan")
	lead.click("button", "Possible.*Shop maintenance wash")
	lead.see("button[aria-pressed=true]", "Shop maintenance wash") // its plan has come
	lead.click("button", "^Foam")
	lead.see("h2", "^Foam$")
	lead.click("summary", "Where these numbers come from")
	lead.see("dd", "to 4 min by procedure and label")
	lead.quiet()
}
