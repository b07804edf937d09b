package e2e

import (
	"testing"
)

// The lead puts a service on the list, says what delivers it and what it costs, and a booking of it is planned by that:
// what it does not take off is told, the rest is listed apart.
func TestServicesAreTheShopsOwnList(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/settings")
	lead.see("b", "Maintenance basic")
	lead.click("summary", "Maintenance basic")
	lead.fill("Name of the service", "Ferry shine")
	lead.fill("Price, ¤", "51")
	lead.see("summary", "Ferry shine.*¤51")
	lead.click("button", "^Save$")
	lead.see("li", "Settings saved")
	lead.visit("/")
	lead.click("a", "Book a wash")
	lead.see("option", "Ferry shine, ¤51.00")
	lead.see("option", "Touchless upkeep, 40 min")

	b := s.as("maren", phone)
	b.visit("/look-over/" + s.bookingOf("CAB 14").Booking.ID)
	b.see("h1", "Look-over: Island taxi")
	b.click("summary", "Place, time, service")
	b.choose("Service", "Touchless upkeep")
	b.click("button", "Save and plan")
	b.see("h1", "Plan: Island taxi")
	b.see("p", "Nothing that delivers Touchless upkeep can be done here: Touchless is refused")
	b.see("summary", "refused here")
	b.quiet()
	lead.quiet()
}

// Somebody is absent this morning: one tap lays the day out again, says what moves, and one more brings them back.
func TestSomebodyIsAbsentThisMorning(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/day")
	lead.see("h2", "Who is there")
	lead.click("button[aria-label='Osk Pellow is absent today']", ".*")
	lead.see("[role=status]", "No promise moves|What that moves:")
	lead.see("li", "Osk Pellow.*Not there")
	lead.click("button[aria-label='Osk Pellow is back']", ".*")
	lead.see("button[aria-label='Osk Pellow is absent today']", ".*")
	lead.gone("li", "Osk Pellow.*Not there")
	lead.quiet()
}

// What today's washes need stands on the shelf's page, and a trainee is planned beside somebody signed off.
func TestEnoughForTodayAndATrainerBeside(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/shelf")
	lead.see("h2", "Enough for today\\?")
	lead.see("h3", "Make before opening")
	lead.see("li", "Carry [0-9]+ l there")

	lead.visit("/plan/" + s.bookingOf("CAB 14").Booking.ID)
	lead.see("h1", "Plan:")
	lead.click("button[aria-pressed]", "Pia Lunt, trainee")
	lead.click("button[aria-pressed=true]", "Ines Varga$")
	lead.choose("Who stands beside Pia Lunt", "Ines Varga beside them")
	lead.see("label", "Watches the whole wash")
	lead.see("*", "Ines Varga, beside")
	lead.quiet()
}
