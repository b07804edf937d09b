package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// corner is where the panel in hand begins on the screen, and how large it is there.
func (b *tab) panelBox() *proto.DOMRect {
	b.t.Helper()
	shape, err := b.one("svg[role=application]").Shape()
	require.NoError(b.t, err)
	return shape.Box()
}

// mouseStroke draws a straight line over the panel with the mouse, at a share of its height, and sees it answered.
func (b *tab) mouseStroke(at float64) {
	b.t.Helper()
	box := b.panelBox()
	y := box.Y + at*box.Height
	m := b.Mouse
	require.NoError(b.t, m.MoveTo(proto.NewPoint(box.X+4, y)))
	require.NoError(b.t, m.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(b.t, m.MoveLinear(proto.NewPoint(box.X+box.Width-4, y), 24))
	require.NoError(b.t, m.Up(proto.InputMouseButtonLeft, 1))
}

// touchStroke draws the same with a finger.
func (b *tab) touchStroke(at float64) {
	b.t.Helper()
	box := b.panelBox()
	y := box.Y + at*box.Height
	touch := func(kind proto.InputDispatchTouchEventType, x float64, down bool) {
		e := proto.InputDispatchTouchEvent{Type: kind, TouchPoints: []*proto.InputTouchPoint{}}
		if down {
			e.TouchPoints = append(e.TouchPoints, &proto.InputTouchPoint{X: x, Y: y})
		}
		require.NoError(b.t, e.Call(b))
	}
	touch(proto.InputDispatchTouchEventTypeTouchStart, box.X+4, true)
	for k := 1; k <= 12; k++ {
		touch(proto.InputDispatchTouchEventTypeTouchMove, box.X+4+float64(k)/12*(box.Width-8), true)
	}
	touch(proto.InputDispatchTouchEventTypeTouchEnd, 0, false)
}

// startByHand starts a drill of the first level and loads the mitt.
func (b *tab) startByHand() {
	b.t.Helper()
	b.visit("/training")
	b.see("h2", "Practise by hand")
	b.click("button", "^Begin$")
	b.see("h1", "By hand")
	b.see("p[role=status]", "Load the mitt")
	b.click("button", "^Load$")
	b.see("p[role=status]", "Full of suds")
}

// wash draws rows over the panel until all of it is washed, turning the mitt in between.
func (b *tab) washRows(stroke func(at float64)) {
	b.t.Helper()
	for k, at := range []float64{0.12, 0.34, 0.56, 0.78, 0.9} {
		if k == 2 {
			b.click("button", "^Flip$")
			b.see("p[role=status]", "Face 2 is down")
		}
		stroke(at)
		b.see("p[role=status]", `front door is washed`)
	}
	b.see("p[role=status]", `(9\d|100) % of the front door is washed`)
}

// By mouse: loaded, straight, turned, rinsed, it passes beside the plan; a circle is told, and tried again from there.
func TestWashingByHandWithTheMouse(t *testing.T) {
	s := open(t)
	b := s.as("pia", desk)
	b.startByHand()
	b.washRows(b.mouseStroke)
	b.click("button", "^Rinse panel$")
	b.see("p[role=status]", "is rinsed")
	b.click("button", "Set it beside the plan")
	b.see("h2", "^Passed")
	b.see("div", "scratch risk, yours / as taught")

	// The same again, in circles.
	b.click("button", "The same drill again")
	b.see("p[role=status]", "Load the mitt")
	b.click("button", "^Load$")
	b.see("p[role=status]", "Full of suds")
	box := b.panelBox()
	require.NoError(t, b.Mouse.MoveTo(proto.NewPoint(box.X+200, box.Y+100)))
	require.NoError(t, b.Mouse.Down(proto.InputMouseButtonLeft, 1))
	for _, p := range [][2]float64{{240, 110}, {270, 140}, {260, 190}, {220, 210}, {170, 200}, {150, 150},
		{170, 110}, {210, 100}, {250, 115}, {270, 150}} {
		require.NoError(t, b.Mouse.MoveLinear(proto.NewPoint(box.X+p[0], box.Y+p[1]), 6))
	}
	require.NoError(t, b.Mouse.Up(proto.InputMouseButtonLeft, 1))
	b.see("p[role=status]", "In circles")
	b.washRows(b.mouseStroke)
	b.click("button", "^Rinse panel$")
	b.click("button", "Set it beside the plan")
	b.see("h2", "^Not yet")
	b.within("li", "In circles.*At move 2", "button", "Try again from there")
	b.see("p[role=status]", "Full of suds") // the circle is not in it
}

// With a finger on a phone: strokes count, the panel does not scroll away, undo takes one back, and a reload goes on.
func TestWashingByHandWithAFinger(t *testing.T) {
	s := open(t)
	b := s.as("cal", phone)
	b.startByHand()
	b.one("svg[role=application]").MustScrollIntoView()
	b.touchStroke(0.3)
	b.see("p[role=status]", `front door is washed`)
	before := b.one("p[role=status]").MustText()
	b.touchStroke(0.7)
	b.Page.MustWait(`(was) => document.querySelector("p[role=status]").innerText !== was`, before)
	b.click("button", "^Undo$")
	b.Page.MustWait(`(was) => document.querySelector("p[role=status]").innerText === was`, before)
	require.NoError(t, b.Reload())
	b.see("p[role=status]", `front door is washed`)
	assert.Equal(t, before, b.one("p[role=status]").MustText())
}

// By the keyboard alone a drill is passed: the mitt goes along a grid, a stroke is a line between two of its points.
func TestWashingByHandByKeyboard(t *testing.T) {
	s := open(t)
	b := s.as("pia", desk)
	b.startByHand()
	keys := func(k ...input.Key) { require.NoError(t, b.Keyboard.Type(k...)) }
	shift := func(k input.Key) {
		require.NoError(t, b.KeyActions().Press(input.ShiftLeft).Type(k).Do())
	}
	b.tabTo("svg[role=application]", "")
	row := 0
	b.washRows(func(float64) {
		b.focus("svg[role=application]")
		if row > 0 {
			keys(input.ArrowDown)
			if row < 4 {
				keys(input.ArrowDown)
			}
		}
		keys(input.Space)
		if row%2 == 0 {
			shift(input.ArrowRight)
		} else {
			shift(input.ArrowLeft)
		}
		keys(input.Space)
		row++
	})
	b.tabTo("button", "Rinse panel")
	keys(input.Enter)
	b.see("p[role=status]", "is rinsed")
	b.tabTo("button", "Set it beside the plan")
	keys(input.Enter)
	b.see("h2", "^Passed")
}
