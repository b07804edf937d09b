package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A booking is made by typing a plate, for any day, and said to fit before it is saved; then it is changed.
func TestBookingByDayAndTime(t *testing.T) {
	s := open(t)
	b := s.as("maren", desk)
	b.click("a", "Book a wash")
	b.see("h1", "Book a wash")
	b.fill("Vehicle", "TID")
	b.click("ul[aria-label='Vehicles found'] button", "TID 101")
	b.click("[role=group][aria-label=Day] button", "Tomorrow")
	b.setTime("Comes at", "09:00")
	b.setTime("Promised for", "09:10")
	b.see("[aria-label='Whether it fits']", "It does not fit.*after the promise")
	b.see("ul[aria-label='Where it would fit better'] button", "to")
	b.setTime("Promised for", "08:00")
	b.click("button", "^Book$")
	b.see("[role=alert]", "Must be after it comes")
	b.setTime("Promised for", "13:00")
	b.see("[aria-label='Whether it fits']", "It fits.*to spare")
	b.click("button", "^Book$")
	b.see("h1", "Yard")

	b.visit("/day")
	b.click("button[aria-label='The day after']", ".*")
	b.see("h1", "Day")
	b.see("button", "TID 101")

	b.visit("/")
	b.click("button[aria-label='What happened to MUD 4']", ".*")
	b.click("a", "Change the booking")
	b.see("h1", "Change the booking")
	b.setTime("Promised for", "23:30")
	b.click("button", "^Save$")
	b.see("h1", "Yard")
	b.see("tr:has(button[aria-label='What happened to MUD 4'])", "23:30")
	b.quiet()
}

// What is yours stands first: the step in hand, the next car with what to fetch, for a trainee the next skill; a
// vehicle's name leads to what is known of it.
func TestYoursStandsFirst(t *testing.T) {
	s := open(t)
	osk := s.as("osk", phone)
	osk.see("section[aria-label=Yours]", "In hand: .*Coated electric saloon")
	osk.see("section[aria-label=Yours] a", "Look it over")
	osk.click("section[aria-label=Yours] a", "To the bay")
	osk.see("[role=timer]", ":")
	ines := s.as("ines", phone)
	ines.click("summary", "What to fetch")
	ines.see("section[aria-label=Yours] li", "ml in the")
	pia := s.as("pia", phone)
	pia.see("section[aria-label=Yours]", "Next to learn")
	pia.click("th a", "District carers' hatchback")
	pia.see("h1", "District carers' hatchback")
	pia.see("li", "washed by Ines Varga")
	pia.quiet()
}

// setTime writes a time of day into a field, whatever way the browser's language writes it.
func (b *tab) setTime(label, at string) {
	b.t.Helper()
	_, err := b.labelled(label).Eval(`(at) => {
		Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(this, at);
		this.dispatchEvent(new Event("input", { bubbles: true }));
	}`, at)
	require.NoError(b.t, err)
}
