package e2e

import (
	"bytes"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/photo"
	"uskel/core/photo/phototest"
)

// photographs hands a file to the button that takes photos.
func (b *tab) photographs(button string, file []byte) {
	b.t.Helper()
	path := filepath.Join(b.t.TempDir(), "taken.jpg")
	require.NoError(b.t, os.WriteFile(path, file, 0o600))
	input, err := b.see("label", button).Element("input[type=file]")
	require.NoError(b.t, err)
	require.NoError(b.t, input.SetFiles([]string{path}))
}

// A washer takes a photo of how a vehicle came: shrunk on the phone, without where it was taken, pinned to its part; what is no
// picture is told so; a photo is taken out, and put back.
func TestPhotosOfALookOver(t *testing.T) {
	s := open(t)
	b := s.as("osk", phone)
	booking := s.bookingOf("PLT 7").Booking.ID
	b.visit("/look-over/" + booking)
	b.see("label", "^Photo of the whole vehicle")
	b.zone("bonnet")
	b.photographs("^Photo of bonnet", []byte("a receipt"))
	b.see("[role=alert]", "cannot read that file as a picture")
	b.fill("What the next photo shows", "chip by the badge")
	b.photographs("^Photo of bonnet", phototest.Taken(2600, 1950))
	b.see("section[aria-label='Photos of how it came'] button", "\\d\\d:\\d\\d$")
	b.gone("[role=alert]", "cannot read")

	rows, err := s.store.Photos(t.Context(), booking)
	require.NoError(t, err)
	require.Len(t, rows, 1)
	assert.Equal(t, "chip by the badge", rows[0].Note)
	assert.EqualValues(t, "bonnet", rows[0].Zone)
	kept, err := s.store.Pictures().Get(t.Context(), rows[0].ID, false)
	require.NoError(t, err)
	assert.NotContains(t, string(kept), "GPS")
	shown, err := jpeg.DecodeConfig(bytes.NewReader(kept))
	require.NoError(t, err)
	assert.Equal(t, photo.LongSide, shown.Width)

	b.click("section[aria-label='Photos of how it came'] button", "\\d\\d:\\d\\d$")
	b.see("h2", "Bonnet: chip by the badge")
	b.click("button", "^Take it out$")
	b.see("li", "Photo taken out")
	b.gone("section[aria-label='Photos of how it came'] button", "\\d\\d:\\d\\d$")
	b.click("li button", "^Undo$")
	b.see("section[aria-label='Photos of how it came'] button", "\\d\\d:\\d\\d$")
	b.quiet()
}

// On a walk without a connection a photo waits on the phone, outlasts the page, and arrives; it stands beside how the part came,
// and what was there before does not count.
func TestPhotosOfAWalkWithoutANetwork(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b := far.as("hesper", phone)
	path := b.beginsAWalk("^Lamp")
	b.click("button", "^Pass$")
	b.see("h2", "^Roof, bonnet")
	b.goneNow("p", "not sent yet")
	wire.Cut()
	b.click("button", "^Bonnet$")
	b.see("section[aria-label^='As it came'] button", "\\d\\d:\\d\\d$")
	b.photographs("^Photo of bonnet", phototest.Taken(1200, 900))
	b.see("span", "on this device")
	b.visit(path)
	b.see("span", "on this device")
	b.click("button", "^Bonnet$")
	b.click("button", "^Something else$")
	b.click("button", "^Straight")
	b.see("[role=group] button", "^Major")
	b.click("label", "There before the wash")
	b.click("[role=group] button", "^Major")
	b.see("h2", "^Sills")
	b.click("button", "^Rear bumper$")
	b.click("button", "^Dirt left$")
	b.click("button", "^Put it right now$")
	b.see("[role=timer]", "[1-9] s|0:0[1-9]")
	b.click("[role=group] button", "^Minor")
	b.see("h2", "^Front bumper")

	wire.Mend()
	b.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	b.goneNow("span", "on this device")
	b.goneNow("p", "not sent yet")
	b.see("li", "not counted.*There before the wash")
	b.see("li", "Put right on the spot in")
	b.see("section[aria-label='At this audit'] button", "\\d\\d:\\d\\d$")
}
