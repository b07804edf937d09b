package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// Half a car is graded in one tap, zones by drawing over them; what was a slip is undone, or tapped off again.
func TestALookOverTakesFewTaps(t *testing.T) {
	s := open(t)
	b := s.as("maren", desk)
	b.visit("/look-over/" + s.bookingOf("PLT 7").Booking.ID)
	b.see("p", "^Not yet looked at$")
	b.click("button", "^Grade all the rest 1$")
	b.see("p", "Light overall")
	b.see("span", "Recommended")
	b.click("[role=group][aria-label='Soil grade'] button", "Heavy")
	b.click("button", "^Lower half 3$")
	b.grade("lower-left", "3")
	b.grade("roof", "1")
	b.see("p", "Heavy overall")
	b.click("button", "^Undo$")
	b.grade("lower-left", "1")

	b.zone("bonnet")
	b.grade("bonnet", "3")
	b.zone("bonnet") // again: off
	b.see("button", "Grade all the rest 3")
	b.gone("span", "^Recommended$")

	from, to := b.middle("windscreen"), b.middle("roof")
	require.NoError(t, b.Mouse.MoveTo(from))
	require.NoError(t, b.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, b.Mouse.MoveLinear(to, 12))
	require.NoError(t, b.Mouse.Up(proto.InputMouseButtonLeft, 1))
	b.grade("windscreen", "3")
	b.grade("roof", "3")
	b.see("p", "Heavy overall")
	require.NoError(t, b.focus(`[data-zone="roof"]`).Type(input.Delete))
	b.gone(`[data-zone="roof"] title`, "grade")
	b.see("p", "Light overall") // what follows has been said: nothing moves under the next click

	b.click("label", "Film edges")
	b.see("p", "Is it filmed\\?")
	b.click("button", "Yes, film is on it")
	b.see("summary", "Protection · film")
}

// middle is where a zone's name stands on the page.
func (b *tab) middle(zone string) proto.Point {
	b.t.Helper()
	got := b.run(
		`() => { const e = document.querySelector('[data-zone="` + zone + `"] .edge').getBoundingClientRect();
		return [e.x + e.width / 2, e.y + e.height / 2]; }`,
	)
	at := got.Value.Arr()
	return proto.Point{X: at[0].Num(), Y: at[1].Num()}
}
