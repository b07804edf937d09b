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

// An address that leads nowhere says so and has a way on; that of a drill on paper, which were done away with, leads to training.
func TestAddressesThatLeadNowhere(t *testing.T) {
	s := open(t)
	b := s.as("pia", phone)
	b.visit("/trainig")
	b.see("h1", "^No page here$")
	b.accessible("no page")
	b.click("main a", "^Yard$")
	b.see("h1", "Yard|Today")
	b.visit("/training/drills/01a21b47-21ae-7bf9-8000-000000000001")
	b.see("h1", "^Training$")
	b.see("h2", "Practise by hand")
	b.quiet()
}
