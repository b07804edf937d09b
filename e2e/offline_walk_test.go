package e2e

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/photo/phototest"
	"uskel/core/procedure"
)

// readyToBegin opens the audits and waits until this device could begin a walk round a wash by itself.
func (b *tab) readyToBegin(wash string) {
	b.t.Helper()
	b.visit("/audits")
	b.installed()
	b.within("li", "CAB 12", "span", ".")
	b.run(`async () => {
		const kept = () => new Promise((done) => {
			const open = indexedDB.open("uskel");
			open.onsuccess = () => {
				const asked = open.result.transaction("kept").objectStore("kept").get("audit start ` + wash + `");
				asked.onsuccess = () => { open.result.close(); done(asked.result !== undefined); };
			};
		});
		for (let i = 0; i < 300; i++) {
			if (await kept()) return;
			await new Promise((r) => setTimeout(r, 100));
		}
		throw new Error("the walk was not kept");
	}`)
}

func (s *shop) washOf(plate string) string {
	s.t.Helper()
	found, err := s.store.Bookings(context.Background(), morning.AddDate(0, 0, -1), morning.AddDate(0, 0, 1))
	require.NoError(s.t, err)
	for _, v := range found {
		if v.Booking.Vehicle.Plate == plate && v.Wash != nil {
			return v.Wash.ID
		}
	}
	require.Fail(s.t, "no wash of "+plate)
	return ""
}

// A walk is begun where there is no network: answers and a photo outlast the page, the walk is found again, and all of it arrives.
func TestAWalkBegunWithoutANetwork(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b := far.as("hesper", phone)
	b.readyToBegin(s.washOf("CAB 12"))
	wire.Cut()
	b.visit("/audits")
	b.within("li", "CAB 12", "button", "Walk round")
	b.see("h1", "^Audit:")
	path := b.path()
	b.see("p", "Begun on this device")
	b.click("button", "^Lamp")
	b.click("button", "^Pass$")
	b.see("h2", "^Roof, bonnet")
	b.click("button", "^Bonnet$")
	b.photographs("^Photo of bonnet", phototest.Taken(900, 600))
	b.click("button", "^Spots or streaks$")
	b.click("[role=group] button", "^Minor")
	b.see("h2", "^Sills")
	b.see("button", "^Lower doors and sill, left$") // the device has kept what zones are called
	b.keep("walk-begun-offline")
	b.visit("/audits")
	b.see("[role=status]", "Answers of 1 walk lie on this device")
	b.click("a", "^Go on with it$")
	b.see("h2", "^Sills")
	assert.Equal(t, path, b.path())
	b.visit("/audits")
	b.within("li", "CAB 12", "button", "Walk round") // it goes on, and does not begin again
	b.see("h2", "^Sills")
	assert.Equal(t, path, b.path())

	wire.Mend()
	b.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	b.goneNow("p", "Begun on this device")
	b.goneNow("p", "not sent yet")
	b.goneNow("span", "on this device")
	a, err := s.store.Audit(t.Context(), strings.TrimPrefix(path, "/audits/"))
	require.NoError(t, err)
	assert.Equal(t, audit.Lamp, a.Light)
	assert.Len(t, a.Answers(), 2)
	photos, err := s.store.Photos(t.Context(), a.ID)
	require.NoError(t, err)
	assert.Len(t, photos, 1)
	b.visit("/audits")
	b.within("li", "CAB 12", "button", "Go on")
	b.see("h2", "^Sills")
}

// Somebody else began the same walk meanwhile: there is one, with the answers of both, and where both answered it is said.
func TestAWalkThatSomebodyElseBeganFirst(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b := far.as("lis", phone)
	b.readyToBegin(s.washOf("CAB 12"))
	wire.Cut()
	b.within("li", "CAB 12", "button", "Walk round")
	b.see("p", "Begun on this device")
	b.click("button", "^Lamp")
	b.click("button", "^Pass$")
	b.see("h2", "^Roof, bonnet")
	b.click("button", "^Pass$")
	b.see("h2", "^Sills")

	other := s.as("hesper", desk)
	path := other.beginsAWalk("^Lamp")
	other.click("button", "^Does not apply$")
	other.click("button", "^Cannot be reached now$")
	other.see("h2", "^Roof, bonnet")
	other.goneNow("p", "not sent yet")

	wire.Mend()
	b.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	b.see("[role=alert]", "Drying towel.*set aside")
	assert.Equal(t, path, b.path())
	b.click("button", "^Let mine go$")
	b.goneNow("[role=alert]", "set aside")
	b.see("button", "Drying towel.*Not applicable")
	b.see("button", "Roof, bonnet.*Pass")
	a, err := s.store.Audit(t.Context(), strings.TrimPrefix(path, "/audits/"))
	require.NoError(t, err)
	assert.Len(t, a.Answers(), 2)
}

// fourteen is a list of fourteen looks for washes that no trainee washed.
func (s *shop) fourteen() {
	s.t.Helper()
	list := audit.Checklist{ID: "fourteen", Version: 1, Title: "Fourteen looks", When: procedure.Be(condition.TraineeWashes, "no")}
	for n := range 14 {
		list.Items = append(list.Items, audit.Item{ID: fmt.Sprintf("look-%d", n+1), Title: fmt.Sprintf("Look number %d", n+1), How: "Stand.",
			Done: "Clean.", Zones: procedure.PaintOnly, Kinds: []audit.Kind{audit.DirtLeft}})
	}
	require.NoError(s.t, s.store.PublishChecklist(context.Background(), list, morning))
}

// A clean walk of fourteen looks takes twenty taps at the most, from the page of the audits to the signature.
func TestACleanWalkTakesFewTaps(t *testing.T) {
	s := open(t)
	s.fourteen()
	b := s.as("hesper", phone)
	b.visit("/audits")
	b.within("li", "CAB 12", "span", ".")
	b.run(`() => { window.taps = 0; document.addEventListener("click", () => window.taps++, true); return Promise.resolve(); }`)
	b.within("li", "CAB 12", "button", "Walk round")
	b.click("button", "^Daylight")
	for n := range 14 {
		b.see("h2", fmt.Sprintf("^Look number %d$", n+1))
		b.click("button", "^Pass$")
	}
	b.see("p", "^The wash passes with 100")
	b.sign()
	b.see("section", "Signed at")
	taps := b.run(`() => Promise.resolve(window.taps)`).Value.Int()
	assert.LessOrEqual(t, taps, 20)
	assert.GreaterOrEqual(t, taps, 14, "what is counted is counted")
	b.quiet()
}
