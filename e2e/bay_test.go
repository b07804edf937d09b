package e2e

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
	"uskel/store/storetest"
)

// through puts a wire between the browser and the shop, to be cut.
func (s *shop) through(t testing.TB) (*storetest.Wire, *shop) {
	wire, url := storetest.NewWire(t, s.url)
	return wire, &shop{t, url, s.store, s.clock}
}

// installed waits until the device has kept the application.
func (b *tab) installed() {
	b.t.Helper()
	// A page that was being fetched while the worker took over is not in its hands: it is from its next load on.
	if !b.run(
		`() => navigator.serviceWorker.ready.then(() => Boolean(navigator.serviceWorker.controller))`,
	).Value.Bool() {
		b.visit(b.path())
	}
	b.run(`async () => {
		for (let i = 0; i < 250 && !navigator.serviceWorker.controller; i++) await new Promise((r) => setTimeout(r, 100));
		if (!navigator.serviceWorker.controller) throw new Error("no service worker");
	}`)
}

// inTheBay opens the wash that runs on a phone, and gives its id.
func (s *shop) inTheBay(name string) (*tab, string) {
	s.t.Helper()
	b := s.as(name, phone)
	return b, b.toTheBay()
}

func (b *tab) toTheBay() string {
	b.t.Helper()
	b.visit("/bay")
	b.click("a", "Coated electric saloon")
	b.see("button", "^Done$")
	return strings.TrimPrefix(b.path(), "/bay/")
}

// log reads a wash's events.
func (s *shop) log(id string) []wash.Event {
	s.t.Helper()
	events, err := s.store.Events(context.Background(), id)
	require.NoError(s.t, err)
	return events
}

// washOn taps through steps, until a number of them is done or none is left.
func (b *tab) washOn(steps int) {
	b.t.Helper()
	for range steps {
		if strings.Contains(b.text(), "Every step is done.") {
			return
		}
		title := b.heading()
		if b.has("button", "^(Start|Begin early)$") && !b.has("button", "^Done$") {
			b.click("button", "^(Start|Begin early)$")
			b.see("button", "^Done$")
		}
		b.click("button", "^Done$")
		b.gone("h1", title)
	}
}

// washToTheMitt taps through steps until the mitt is in hand.
func (b *tab) washToTheMitt() {
	b.t.Helper()
	for !b.has("section", "Mittful") {
		b.washOn(1)
		if b.has("button", "^(Start|Begin early)$") && !b.has("button", "^Done$") {
			b.click("button", "^(Start|Begin early)$")
			b.see("button", "^Done$")
		}
	}
}

// A whole wash on a phone, with the network cut twice: once the page is even closed and opened again without it.
// Every tap reaches the shop once, in its order and at its moment, and another device sees the same wash.
func TestAWholeWashWithTheNetworkCutTwice(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b, id := far.inTheBay("osk")
	b.installed()
	before := len(s.log(id))

	wire.Cut()
	b.washOn(2)
	b.see("span", "unsent tap")
	title := b.heading()
	opened := time.Now()
	b.visit("/bay/" + id) // closed, and opened from what the device has kept
	b.see("h1", title)
	t.Logf("opened without a network in %s", time.Since(opened))
	b.see("span", "unsent tap")
	b.washOn(1)
	title = b.heading()
	assert.Len(t, s.log(id), before, "nothing has arrived")
	b.keep("bay-offline")

	wire.Mend()
	b.goneNow("span", "unsent tap")
	middle := len(s.log(id))
	assert.Greater(t, middle, before+2)
	other := s.as("osk", desk)
	other.visit("/bay/" + id)
	other.see("h1", title)

	wire.Cut()
	b.washOn(40)
	b.click("button", "Finish the wash")
	b.see("h1", "Washed\\.")
	b.click("button", "^Undo$")
	b.see("button", "Finish the wash")
	b.click("button", "Finish the wash")
	b.see("h1", "Washed\\.")
	assert.Len(t, s.log(id), middle)
	wire.Mend()
	b.goneNow("span", "unsent tap")

	log := s.log(id)
	w, err := s.store.Wash(context.Background(), id)
	require.NoError(t, err)
	require.NotNil(t, w.FinishedAt)
	seen, last := map[string]bool{}, time.Time{}
	for _, e := range log {
		assert.False(t, seen[e.ID], "twice")
		assert.False(t, e.At.Before(last), "in order")
		seen[e.ID], last = true, e.At
	}
	state := wash.Fold(w.Steps(), log)
	for i, step := range state.Steps {
		assert.Contains(t, []wash.Status{wash.Ended, wash.Skipped}, step.Status, w.Steps()[i].Title)
	}
	other.visit("/bay/" + id)
	other.see("h1", "Washed\\.")
	other.see("table", "Contact wash")
}

// A page that is reloaded in the very moment of a tap has handed it to the device's disk before it goes.
func TestATapOutlivesAReloadInItsMoment(t *testing.T) {
	s := open(t)
	b, _ := s.inTheBay("osk")
	for i := range 6 {
		say, then := "^Pause$", "^Go on$"
		if i%2 == 1 {
			say, then = "^Go on$", "^Done$"
		}
		b.see("button", say)
		_, err := b.Eval(`(say) => {
			window.before = true;
			const button = [...document.querySelectorAll("button")].find((b) => new RegExp(say).test(b.innerText.trim()));
			setTimeout(() => { button.click(); location.reload(); });
		}`, say)
		require.NoError(t, err)
		require.Eventually(t, func() bool {
			anew, err := b.Eval(`() => !window.before`)
			return err == nil && anew.Value.Bool()
		}, patience, 20*time.Millisecond)
		b.see("button", then)
	}
}

// A device whose own clock is five hours wrong, and is set while the bay is open: taps count at the shop's time.
func TestAWrongClockDoesNotMatter(t *testing.T) {
	s := open(t)
	b := s.tab(phone)
	_, err := b.EvalOnNewDocument(
		`window.wrong = 5 * 3600_000; const right = Date.now.bind(Date); Date.now = () => right() + window.wrong;`,
	)
	require.NoError(t, err)
	b.signIn("osk")
	id := b.toTheBay()
	before := s.log(id)
	b.click("button", "^Done$")
	require.Eventually(t, func() bool { return len(s.log(id)) > len(before) }, 10*time.Second, 50*time.Millisecond)
	assert.WithinDuration(t, s.clock.now(), s.log(id)[len(before)].At, 3*time.Second)

	before = s.log(id)
	b.run(`() => { window.wrong = -2 * 3600_000; }`)
	b.click("button", "^Pause$")
	require.Eventually(t, func() bool { return len(s.log(id)) > len(before) }, 10*time.Second, 50*time.Millisecond)
	assert.WithinDuration(t, s.clock.now(), s.log(id)[len(before)].At, 3*time.Second)
}

// Two people on one car: each has a lane of their own and sees the other's, a step is handed over, help is asked for
// and seen in the yard, and Undo takes back one's own tap.
func TestTwoPeopleOnOneCar(t *testing.T) {
	s := open(t)
	osk, id := s.inTheBay("osk")

	pia := s.as("pia", phone)
	pia.visit("/bay/" + id)
	pia.see("p", "View only: Osk Pellow records this wash")
	lead := s.as("maren", desk)
	lead.see("section", "In the bays now.*Coated electric saloon")

	osk.click("button", "^Other$")
	osk.click("button", "Hand over")
	osk.click("button", "^This step: ")
	osk.click("button", "Pia Lunt")
	handed := osk.see("ul", "Pia Lunt: ").MustText()
	pia.see("li", "Osk Pellow handed you ")
	pia.see("button", "^Done$")
	assert.Contains(t, handed, pia.heading(), "what she has in hand")
	lead.see("section", "Pia Lunt: ")

	osk.click("button", "^(Start|Begin early)$")
	osk.see("button", "^Done$")
	pia.see("ul", "Osk Pellow: ")
	pia.click("button", "^Other$")
	pia.click("button", "Need help")
	lead.see("[role=alert]", "Pia Lunt needs help")
	osk.see("[role=status]", "Pia Lunt asks for help")
	osk.keep("bay-two")
	osk.click("button", "I am here")
	lead.goneNow("[role=alert]", "needs help")

	osk.click("button", "^Undo$") // his own last tap: that he came
	osk.see("[role=status]", "Pia Lunt asks for help")
	osk.click("button", "I am here")
	pia.see("button", "^Done$")

	// The rest goes to who holds the skills: the lead is told wherever she is, and has it first in her yard.
	osk.click("button", "^Other$")
	osk.click("button", "Hand over")
	osk.click("button", "^The rest of the wash$")
	osk.click("button", "Maren Tolley")
	lead.see("li", "Osk Pellow handed you .*the rest of the wash")
	lead.see("section[aria-label=Yours]", "handed you .*the rest of the wash")
	pia.quiet()
	osk.quiet()
	lead.quiet()
}

// Bonded matter, a dropped mitt, product that ran dry: a tap each, told by what the shop's scope says; the pedal does
// the next thing.
func TestWhatElseHappensInABay(t *testing.T) {
	s := open(t)
	b, id := s.inTheBay("osk")
	b.click("button", "^Other$")
	b.click("button", "Bonded matter")
	b.click("button", "^Tar$")
	b.see("section", "Tar: out of scope")
	b.click("button", "Ask the lead")
	lead := s.as("maren", desk)
	lead.see("section", "1 find to decide on")
	lead.click("section a", "Coated electric saloon")
	lead.see("li", "Tar on .*: the lead is asked")
	lead.click("button", "^Leave it$")
	b.see("li", "Tar on .*: leave it, it is noted")

	b.click("button", "^Other$")
	b.click("button", "This device")
	require.NoError(t, b.labelled("Foot pedal: press it here").Focus())
	require.NoError(t, b.Keyboard.Press('8'))
	require.NoError(t, b.Keyboard.Release('8'))
	b.click("button", "^Back$")
	title := b.heading()
	require.NoError(t, b.Keyboard.Press('8'))
	require.NoError(t, b.Keyboard.Release('8'))
	b.gone("h1", title)

	b.washToTheMitt()
	b.see("section", "Mittful 1 of")
	b.keep("bay-mitt")
	b.click("button", "Mitt rinsed")
	b.see("section", "Mittful 2 of")
	require.NoError(t, b.Keyboard.Press('8')) // the pedal rinses while a rinse is due
	require.NoError(t, b.Keyboard.Release('8'))
	b.see("section", "Mittful 3 of")
	b.click("button", "^Other$")
	b.click("button", "Mitt dropped")
	b.see("section", "1 mitt dropped")
	b.click("button", "^Undo$")
	b.goneNow("section", "1 mitt dropped")

	kinds := map[wash.Kind]int{}
	require.Eventually(t, func() bool {
		kinds = map[wash.Kind]int{}
		for _, e := range s.log(id) {
			kinds[e.Kind]++
		}
		return kinds[wash.Undo] == 1
	}, 10*time.Second, 50*time.Millisecond)
	assert.Equal(t, 2, kinds[wash.Bonded], "found, and decided")
	assert.Equal(t, 2, kinds[wash.Rinsed])
	b.quiet()
}

// What only the work shows: where a hand is that forgot to tap, what a question is answered by, and what was left open.
func TestWhatIsSeenInTheWork(t *testing.T) {
	s := open(t)
	b, id := s.inTheBay("osk")
	b.gone("[role=status]", "Nothing tapped for a while")
	s.clock.forward(12 * time.Minute)
	b.visit("/bay/" + id)
	b.see("[role=status]", "still at Fill the buckets")
	b.keep("bay-silent")
	b.click("button", "Where are you now\\?")
	b.see("section", "since about now")
	b.keep("bay-where")
	b.click("button", "\\(5 min\\)")
	b.goneNow("[role=status]", "Nothing tapped for a while")
	newest := func() wash.Event {
		log := s.log(id)
		return log[len(log)-1]
	}
	require.Eventually(t, func() bool { return newest().Kind == wash.Moved }, patience, 20*time.Millisecond)
	assert.InDelta(t, 5*60, s.clock.now().Sub(newest().At).Seconds(), 30, "since then, not since the tap")

	for !b.has("h1", "Drag-dry") {
		b.washOn(1)
	}
	b.see("p", "Open: wipers up")
	b.see("[role=group]", "Does it drag\\?")
	b.keep("bay-question")
	b.gone("ol", "A little product on the panel")
	b.click("button", "^Yes$")
	b.see("ol", "A little product on the panel")
	b.gone("[role=group]", "Does it drag\\?")

	for !b.has("h1", "Out into daylight") {
		b.washOn(1)
	}
	b.click("button", "^Other$")
	b.click("button", "Cannot do this")
	b.click("button", "No time: lead agreed")
	for !b.has("section", "Still open: wipers up") {
		b.washOn(1)
	}
	b.keep("bay-open")
	b.fill("Why it stays open", "The glazier comes next")
	b.click("button", "Finish it so")
	b.see("h1", "^Washed")
	require.Eventually(t, func() bool {
		end := newest()
		return end.Kind == wash.Finish && end.Text == "The glazier comes next"
	}, patience, 20*time.Millisecond)
	b.quiet()
}
