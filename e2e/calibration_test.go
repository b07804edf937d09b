package e2e

import (
	"fmt"
	"testing"

	"uskel/core/photo/phototest"
)

// A signed audit goes into the calibration set; somebody else walks it on a phone by its photos, without seeing what was found, and is
// told what was missed; the lead sees who finds what.
func TestAWalkOfTheCalibrationSet(t *testing.T) {
	s := open(t)
	s.fourteen()
	a := s.as("hesper", phone)
	a.beginsAWalk("^Lamp")
	a.see("h2", "^Look number 1$")
	a.click("button", "^Bonnet$")
	a.photographs("^Photo of bonnet", phototest.Taken(900, 600))
	a.click("button", "^Dirt left$")
	a.click("[role=group] button", "^Minor")
	for n := 2; n <= 14; n++ {
		a.see("h2", fmt.Sprintf("^Look number %d$", n))
		a.click("button", "^Pass$")
	}
	a.goneNow("span", "on this device")
	a.sign()
	a.see("section", "Signed at")
	path := a.path()

	lead := s.as("maren", desk)
	lead.visit(path)
	lead.click("summary", "^Put it into the calibration set")
	lead.fill("What it is called", "The taxi, spring light")
	lead.click("button", "^Put it in$")
	lead.see("b", "The taxi, spring light")
	lead.keep("calibration-lead")

	b := s.as("lis", phone)
	b.visit("/audits/calibration")
	b.within("li", "The taxi, spring light", "button", "^Walk it$")
	b.see("h1", "^Calibration: The taxi, spring light")
	b.click("button", "^Lamp")
	b.see("section", "^Photos")
	b.keep("calibration-walk")
	for n := 1; n <= 14; n++ {
		b.see("h2", fmt.Sprintf("^Look number %d$", n))
		b.click("button", "^Pass$")
	}
	b.click("button", "^Send my look$")
	b.see("li", "Missed: Dirt left on bonnet")
	b.keep("calibration-mine")
	lead.visit("/audits/calibration")
	lead.see("tr", "Lis Marsh.*of")
	lead.quiet()
	b.quiet()
}

// A vehicle that waits is graded again on a phone: what is graded outlasts the page, and what it comes to is told.
func TestACarIsGradedAgain(t *testing.T) {
	s := open(t)
	b := s.as("ines", phone)
	b.visit("/look-over")
	b.within("li", "CAB 14", "button", "^I look again$")
	b.see("h1", "^Grade again, blind")
	b.see("button", "parts of the paint to grade")
	b.click("button", "^Upper half 1")
	b.click("button", "^Lower half 1")
	b.visit(b.path())
	b.see("h1", "^Grade again, blind")
	b.gone("p", "grade 3 decides")
	b.click("button", "^Grade all the rest 1")
	b.click("button", "^Send my grades$")
	b.see("p", "The first says grade 3 decides, you say 1")
	b.see("h2", "parts graded apart")
	b.visit("/look-over")
	b.see("h1", "^Look-over$")
	b.gone("li", "CAB 14")
	lead := s.as("maren", desk)
	lead.visit("/audits/agreement")
	lead.see("tr", "Ines Varga")
	lead.see("section", "Do graders agree\\?.*another grade decides")
	lead.quiet()
	b.quiet()
}
