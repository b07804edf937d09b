package e2e

import "testing"

func TestLook(t *testing.T) {
	s := open(t)
	b := s.as("pia", phone)
	b.startByHand()
	b.touchStroke(0.3)
	b.see("p[role=status]", `front door is washed`)
	b.settle()
	b.picture("/tmp/keep/hand-phone.png")
	d := s.as("cal", desk)
	d.startByHand()
	d.washRows(d.mouseStroke)
	d.settle()
	d.picture("/tmp/keep/hand.png")
	d.click("button", "^Rinse panel$")
	d.click("button", "Set it beside the plan")
	d.see("h2", "^Passed|^Not yet")
	d.settle()
	d.picture("/tmp/keep/hand-done.png")
}
