package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// practise begins a drill of the first level.
func (b *tab) practise(what string) {
	b.t.Helper()
	b.visit("/training")
	b.see("h2", "Practise by hand")
	b.click("button[role=radio]", what)
	b.click("button", "^Begin$")
	b.see("p[role=status]", ".")
}

// does presses a button and sees what it did.
func (b *tab) does(button, says string) {
	b.t.Helper()
	b.click("button", button)
	b.see("p[role=status]", says)
}

// Buckets on a phone: a guard that is dropped in is told and put right; the dose is measured; at the end both moves and those
// as taught are seen on the same picture.
func TestBucketsOnAPhone(t *testing.T) {
	s := open(t)
	b := s.as("pia", phone)
	b.practise("^Buckets$")
	b.does("^Rinse$", "for the rinse")
	b.click("button[role=radio]", "^Water$")
	for range 8 {
		b.click("button[aria-label='More litres']", `^\+$`)
	}
	b.see("output", "^12 litres")
	b.does("Fill by hose", "12.0 l of cold water")
	b.click("button[role=radio]", "^Guard$")
	b.does("Dropped in", "floats")
	b.does("Tilted and pressed", "it sits")
	b.click("button", "^Bucket b")
	b.click("button[role=radio]", "^Label$")
	b.does("^Wash$", "for the wash")
	b.click("button[role=radio]", "^Water$")
	b.does("Fill by hose", "4.0 l")
	b.click("button[role=radio]", "^Guard$")
	b.does("Tilted and pressed", "it sits")
	b.click("button[role=radio]", "^Product$")
	b.click("button[aria-label='More of them']", `^\+$`)
	b.does("Pour it in", "ml of")
	b.click("button[role=radio]", "^Water$")
	for range 4 {
		b.click("button[aria-label='More litres']", `^\+$`)
	}
	b.does("Fill by jet", "raises suds")
	b.does("Begin washing", "buckets stand")
	for mittfuls := 0; ; mittfuls++ {
		require.Less(t, mittfuls, 8)
		b.does("^Wash on$", "Washed on")
		b.does("^Rub$", "went to the rinse bucket")
		if b.has("button", "^Side by side$") {
			break
		}
		b.does("^Load$", "Full of suds")
	}
	b.does("^Side by side$", "Rinse bucket: ")
	b.click("button", "Set it beside the plan")
	b.see("div", "grit in the wash bucket")
	b.click("summary", "Move by move")
	b.see("span", "Move 0 of")
	b.click("button", "Next move")
	b.see("p", "Label the bucket: ")
	b.click("button[role=radio]", "^As taught$")
	b.see("span", "Move 1 of")
	b.see("p", "Label the bucket: ")
}

// Drying with the mouse on the unfolded car: rubbing is told, the towel drinks, and the result has spots and what hides.
func TestDryingACar(t *testing.T) {
	s := open(t)
	b := s.as("pia", desk)
	b.practise("^Drying$")
	b.does("^Damp towel$", "Damped")
	b.click("button[role=radio]", "^Rub$")
	b.zone("roof")
	b.see("p[role=status]", "Rubbed, or in circles.*The roof: ")
	b.does("^Undo$", "Damped")
	b.click("button[role=radio]", "^Draw$")
	for _, zone := range []string{"roof", "bonnet", "windscreen", "upper-left", "mirror-left"} {
		b.zone(zone)
		b.one(fmt.Sprintf(`[data-zone=%q][aria-label$="dried"]`, zone))
	}
	for range 5 {
		b.does("Wait 1 min", "went by")
	}
	b.does("^Look again$", "Round again")
	b.does("^It is dry$", "Done")
	b.click("button", "Set it beside the plan")
	b.see("h2", "^(Passed|Not yet)")
	b.see("div", "spots, yours / as taught")
}

// Four wheels by keyboard alone, while time stands: each is felt, soaked, brushed in its time and rinsed.
func TestFourWheelsByKeyboard(t *testing.T) {
	s := open(t)
	b := s.as("pia", desk)
	b.practise("^Four wheels$")
	press := func(button, says string) {
		b.tabTo("button", button)
		require.NoError(t, b.Keyboard.Type(input.Enter))
		b.see("p[role=status]", says)
	}
	b.click("button[role=radio]", "^Stands")
	for _, wheel := range []string{"Front left", "Rear left", "Rear right", "Front right"} {
		press(wheel+" wheel: Feel it", "is cool")
		press(wheel+" wheel: Put it on", "needs")
		for range 2 {
			press("Wait 60 s", "Waited")
		}
		press(wheel+" wheel: Brush it", "is worked")
		press(wheel+" wheel: Rinse it off", "Off the")
	}
	b.tabTo("button", "Set it beside the plan")
	require.NoError(t, b.Keyboard.Type(input.Enter))
	b.see("h2", "^Not yet") // all dwells are kept, and four times too long was waited
	b.see("li", "of waiting: as taught it is")
	b.see("div", "4 / 4")
}
