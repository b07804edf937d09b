package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// downloads lets a tab save files, and gives a folder to find them in.
func (b *tab) downloads() func(name string) []byte {
	dir := b.t.TempDir()
	require.NoError(
		b.t,
		proto.BrowserSetDownloadBehavior{
			Behavior:         proto.BrowserSetDownloadBehaviorBehaviorAllow,
			DownloadPath:     dir,
			BrowserContextID: b.apart.BrowserContextID,
		}.Call(b.apart),
	)
	return func(name string) []byte {
		b.t.Helper()
		var data []byte
		require.Eventually(b.t, func() bool {
			var err error
			data, err = os.ReadFile(filepath.Join(dir, name))
			return err == nil && len(data) > 0
		}, patience, 50*time.Millisecond, "%s is saved", name)
		return data
	}
}

// unfolded opens what is folded away until a step's row is seen, in whichever list it stands.
func unfolded(b *tab, step string) {
	b.t.Helper()
	require.Eventually(b.t, func() bool {
		b.run(`() => document.querySelectorAll("details").forEach((d) => { d.open = true; })`)
		return b.has("tr", "^"+step)
	}, 30*time.Second, 200*time.Millisecond, "a row for %s", step)
}

// The lead sees where the minutes go, accepts a standard with a reason, and the next plan counts with it; taken back,
// the plan is as it was.
func TestTheLeadAcceptsAStandard(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.visit("/times")
	lead.see("h2", "What would save most")
	lead.see("li", "Overlap not used.*a week")
	lead.see("section", "of the mitt's rinses")

	const step = "Citrus on the lower half" // the one that has enough timings to say so in a fortnight
	planned := func() bool {                // whether the plan counts with a standard of the shop's own
		lead.visit("/")
		lead.row("Island taxi, estate", "Plan")
		lead.see("h1", "Plan:")
		lead.click("button[aria-pressed]", "^"+step)
		lead.see("h2", "^"+step)
		lead.click("summary", "Where these numbers come from")
		lead.see("dd", "Starting standard|The shop's standard")
		return strings.Contains(
			lead.run(`() => document.body.textContent`).Value.Str(),
			"The shop's standard, from its own timings",
		)
	}
	assert.False(t, planned())
	lead.visit("/times/standards")
	lead.see("h2", "another time than the standard in use|No standard needs changing")
	lead.within("tr", "^"+step, "button", "^Look at")
	lead.see("p", "observed × ")
	lead.fill("Why (kept with the standard)", "The sills are dirtier than the writer thought")
	lead.click("button", "^Use .*: plans follow")
	lead.see("li", "The sills are dirtier than the writer thought")
	lead.click("button", "^Undo")
	lead.see("li", "as written.*Taken back")
	lead.within("tr", "^"+step, "button", "^Look at")
	lead.fill("Why (kept with the standard)", "The sills are dirtier than the writer thought")
	lead.click("button", "^Use .*: plans follow")
	lead.see("ul li:nth-child(1)", "The sills are dirtier than the writer thought")
	assert.True(t, planned(), "the plan counts with it")

	lead.visit("/times/standards")
	unfolded(lead, step) // it is as the taps ask for now, and folded away with the others
	lead.within("tr", "^"+step, "button", "^Look at")
	lead.click("button", "Back to the written time")
	lead.see("ul li:nth-child(1)", step+": as written") // the newest of what was changed
	assert.False(t, planned())
	lead.quiet()

	washer := s.as("osk", desk)
	washer.visit("/times/standards")
	unfolded(washer, step)
	washer.within("tr", "^"+step, "button", "^Look at")
	washer.see("p", "observed × ")
	assert.False(t, washer.has("button", "plans follow"), "the lead decides")
	washer.visit("/times/learning")
	washer.see("h2", "Osk Pellow")
	assert.False(t, washer.has("h2", "Pia Lunt"), "one's own curve only")
}

// A chart says what it shows in words, goes out as drawing, picture and table, and its outliers lead to the wash.
func TestChartsGoOut(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	saved := lead.downloads()
	lead.visit("/times/charts")
	lead.choose("Chart of", "Dry")
	lead.see("h2", "Dry, % of standard")
	assert.Regexp(
		t,
		`Dry, individuals\. \d+ washes, mean`,
		lead.run(`() => document.querySelector("svg[role=img] title").textContent`).Value.Str(),
	)
	lead.click("button", "Drawing .SVG.")
	drawing := string(saved("dry-individuals.svg"))
	assert.Contains(t, drawing, "upper limit")
	assert.NotContains(t, drawing, "var(--", "it stands by itself")
	lead.click("button", "Picture .PNG.")
	assert.Equal(t, "\x89PNG", string(saved("dry-individuals.png")[:4]))
	lead.click("a", "Table .CSV.")
	table := string(saved("chart.csv"))
	assert.True(t, strings.HasPrefix(table, "finished,vehicle,"), table[:40])
	lead.quiet()

	lead.visit("/times/kinds")
	lead.click("button", "^Person$")
	lead.see("th", "Pia Lunt")
	lead.click("button", "^Steps$")
	lead.see("th", "Two-bucket wash")
	lead.quiet()
}
