package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// figure is the number said large over a label.
func (b *tab) figure(label string) string {
	b.t.Helper()
	text, err := b.see("div:has(> div.text-sm)", label).Text()
	require.NoError(b.t, err)
	value, _, _ := strings.Cut(text, "\n")
	return value
}

// there waits for an element, whatever it says.
func (b *tab) there(selector string) {
	b.t.Helper()
	if _, err := b.Page.Timeout(patience).Element(selector); err != nil {
		b.keep("failure")
		require.NoError(b.t, err, "%s on %s", selector, b.path())
	}
}

// slots are the blocks of a person's lane.
func (b *tab) slots(person string) []string {
	b.t.Helper()
	got, err := b.Eval(
		`name => [...document.querySelectorAll("[data-lane='" + name + "'] [data-slot]")].map(e => e.dataset.slot)`,
		person,
	)
	require.NoError(b.t, err)
	var ids []string
	require.NoError(b.t, got.Value.Unmarshal(&ids))
	return ids
}

// pull draws an element by some pixels, in steps, as a hand does.
func (b *tab) pull(selector string, dx, dy float64) {
	b.t.Helper()
	e, err := b.Page.Timeout(patience).Element(selector)
	require.NoError(b.t, err, selector)
	e = e.CancelTimeout()
	b.amid(e)
	shape, err := e.Shape()
	require.NoError(b.t, err)
	box := shape.Box()
	from := proto.NewPoint(box.X+box.Width/2, box.Y+box.Height/2)
	require.NoError(b.t, b.Mouse.MoveTo(from))
	require.NoError(b.t, b.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(b.t, b.Mouse.MoveLinear(proto.NewPoint(from.X+dx, from.Y+dy), 8))
	require.NoError(b.t, b.Mouse.Up(proto.InputMouseButtonLeft, 1))
}

// A lead plans a wash for a crew: the promise, why a block stands where it stands, other ways, moving work by drag
// and by key, keeping it.
func TestAWashIsPlannedForACrew(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.row("Island taxi, estate", "Plan")
	lead.see("legend", "Who washes")
	alone := lead.figure("safe promise")
	assert.Regexp(t, `^\d\d:\d\d$`, alone)
	assert.Contains(t, lead.figure("risk of drying"), "%")

	lead.click("button[data-slot]", "Two-bucket wash")
	lead.see("[role=status]", "Two-bucket wash.*It waits for “.*A minute longer here")
	lead.see("h2", "^Two-bucket wash$") // and the step is opened below

	// A second pair of hands, and the same side by side.
	lead.click("fieldset button", "^Osk Pellow$")
	lead.there("[data-lane='Osk Pellow'] [data-slot]")
	assert.Less(t, lead.figure("safe promise"), alone)
	lead.click("summary", "What if")
	lead.see("th", "With one more pressure washer")
	lead.see("th", "As it stands")
	lead.within("tr", "Without", "button", "Do it this way")
	lead.see("button", "Undo what was moved")

	// The last piece of Osk's work is drawn over to Ines; what it means is there at once.
	lead.settle()
	mine := lead.slots("Osk Pellow")
	require.NotEmpty(t, mine)
	moved := mine[len(mine)-1]
	up := lead.above("Osk Pellow", "Ines Varga")
	lead.pull("[data-slot='"+moved+"']", 0, up)
	lead.there("[data-lane='Ines Varga'] [data-slot='" + moved + "']")
	// And by key to a later time.
	before := lead.figure("planned")
	require.NoError(t, lead.focus("[data-slot='"+moved+"']").Focus())
	require.NoError(t, lead.Keyboard.Press(input.AltLeft))
	for range 3 {
		require.NoError(t, lead.Keyboard.Type(input.ArrowRight))
		lead.settle()
	}
	require.NoError(t, lead.Keyboard.Release(input.AltLeft))
	assert.NotEmpty(t, before)

	lead.click("button", "Save this crew and order")
	lead.see("button[disabled]", "Save this crew and order")
	require.NoError(t, lead.Reload())
	lead.there("[data-lane='Ines Varga'] [data-slot='" + moved + "']")

	// A trainee alone may not: in words, with who is missing.
	lead.click("fieldset button", "^Cal Strand, trainee$")
	lead.click("fieldset button", "^Ines Varga$")
	lead.click("fieldset button", "^Osk Pellow$")
	lead.see("[role=alert]", "needs somebody signed off for wheels")
	lead.quiet()
}

// above is how far up or down one lane lies from another, px.
func (b *tab) above(from, to string) float64 {
	b.t.Helper()
	got, err := b.Eval(
		`(a, b) => document.querySelector("[data-lane='" + b + "']").getBoundingClientRect().y -
			document.querySelector("[data-lane='" + a + "']").getBoundingClientRect().y`,
		from,
		to,
	)
	require.NoError(b.t, err)
	return got.Value.Num()
}

// The day: a booking dropped on another bay says what breaks; a slot is found and given; the day leaves as calendar
// and table; the customer is told.
func TestTheDayIsLaidOutOnABoard(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.click("a", "The day laid out")
	lead.see("h1", "^Day$")
	lead.see("[data-bay='covered-bay'] [data-visit]", "VLT 30")

	// Dropped into the covered bay in the middle of another wash.
	down, err := lead.Eval(
		`() => document.querySelector("[data-bay='covered-bay']").getBoundingClientRect().y -
			document.querySelector("[data-visit='PLT 7']").closest("[data-bay]").getBoundingClientRect().y`,
	)
	require.NoError(t, err)
	lead.pull("[data-visit='PLT 7']", -40, down.Value.Num())
	lead.see("[role=status]", "Tried from .* in Covered bay")
	lead.see("[data-bay='covered-bay'] [data-visit='PLT 7']", "PLT 7")
	lead.click("button", "Leave it as it was")
	lead.see("[data-bay='open-bay'] [data-visit='PLT 7']", "PLT 7")

	lead.click("button", "Find a slot")
	lead.see("ol li", "Risk of drying: ")
	lead.within("ol li", "to", "button", "Try it")
	lead.see("[role=status]", "Tried from")
	lead.click("button", "Give it this slot")
	lead.gone("[role=status]", "Tried from")
	lead.see("p", "Its slot was given by hand")

	// By hand, with the keyboard: a quarter of an hour later.
	require.NoError(t, lead.focus("[data-visit='PLT 7']").Focus())
	require.NoError(t, lead.Keyboard.Press(input.AltLeft))
	require.NoError(t, lead.Keyboard.Type(input.ArrowRight))
	require.NoError(t, lead.Keyboard.Release(input.AltLeft))
	lead.see("[role=status]", "Tried from")
	lead.click("button", "Leave it as it was")

	lead.click("button", "Look for a better day")
	lead.see("button", "Stop, keep the best")
	lead.there("progress")
	lead.click("button", "Stop, keep the best")
	lead.see("button", "Look for a better day")

	lead.click("[data-visit='TID 101']", "TID 101")
	lead.click("button", "Tell the customer")
	lead.see("textarea", "is washed and waiting for you")
	lead.click("button", "Tell them this")
	lead.see("li", "TID 101 .*is washed and waiting for you")
	for _, format := range []string{"ics", "csv"} {
		got, err := lead.Eval(`f => fetch("/api/day/export?format=" + f).then(r => r.text())`, format)
		require.NoError(t, err)
		assert.Contains(t, got.Value.Str(), "PLT 7")
	}
	lead.see("th", "Harbour pilot's pickup")
	lead.quiet()

	washer := s.as("osk", desk)
	washer.visit("/day")
	washer.click("[data-visit='PLT 7']", "PLT 7")
	washer.see("h2", "Harbour pilot's pickup")
	assert.False(t, washer.has("button", "Find a slot"), "only the lead gives slots")
}

// In the bay the rest of the wash is laid out anew after each tap.
func TestTheRestOfTheWashFollowsTheTaps(t *testing.T) {
	s := open(t)
	washer := s.as("osk", phone)
	washer.visit("/bay")
	washer.click("a", "Coated electric saloon")
	washer.see("[role=status]", `Likely ready \d\d:\d\d; safe promise`)
	washer.click("summary", "The rest of the wash")
	washer.see("[aria-label^='The wash as a strip']", "Osk Pellow.*Fill the buckets") // on a phone it runs downward
	washer.click("button", "^Done$|^Start$|^Begin")
	washer.see("[role=status]", `Likely ready \d\d:\d\d`)
	washer.quiet()
}

// What is saved in one place is seen in another within a second, without asking: the yard follows a tap in the bay.
func TestTheYardFollowsTheBay(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren", desk), s.as("osk", phone)
	lead.see("td", "Fill the buckets")
	washer.visit("/bay")
	washer.click("a", "Coated electric saloon")
	washer.see("[role=timer]", ":")
	before := lead.doing()
	washer.see("h1", "Fill the buckets")
	washer.click("button", "^Done$")
	washer.see("h1", "Two-bucket wash")
	require.Eventually(t, func() bool { return lead.doing() != before }, patience, 50*time.Millisecond)
	lead.quiet()
}

// doing is what the yard says is in hand in the bay.
func (b *tab) doing() string {
	b.t.Helper()
	got, err := b.Eval(
		`() => [...document.querySelectorAll("tr")].find(r => r.innerText.includes("VLT 30"))?.innerText ?? ""`,
	)
	require.NoError(b.t, err)
	return got.Value.Str()
}
