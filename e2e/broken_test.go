package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A page that breaks says so in the shop's words and promises nothing; the way to the others stays open, and it is whole again when it is
// loaded again and what broke it is gone.
func TestAPageThatBreaksLeavesTheOthersOpen(t *testing.T) {
	s := open(t)
	b := s.as("maren", phone)
	router := b.HijackRequests()
	require.NoError(t, router.Add("*/api/times?*", "", func(h *rod.Hijack) {
		h.Response.SetHeader("Content-Type", "application/json").SetBody(`{"count": 3}`)
	}))
	go router.Run()
	b.visit("/times")
	b.see("h1", "^This page broke$")
	b.accessible("broken")
	text := b.text()
	assert.NotContains(t, text, "developer")
	assert.NotContains(t, text, "kept")
	b.click("nav a", "^Yard$")
	b.see("h1", "Yard|Today")
	b.goneNow("h1", "This page broke")
	require.NoError(t, router.Stop())
	b.forgive("") // what the page said in the console when it broke
	b.visit("/times")
	b.see("h1", "^Times$")
	b.see("main", "washed by the promise")
}
