package e2e

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// violation is what axe-core (WCAG 2.2 AA rules) found wrong.
type violation struct {
	ID, Help string
	Nodes    []struct {
		HTML           string
		FailureSummary string
	}
}

func (b *tab) accessible(view string) {
	b.t.Helper()
	b.see("h1", ".") // what the view loads is there
	source, err := os.ReadFile("../ui/node_modules/axe-core/axe.min.js")
	require.NoError(b.t, err)
	// Midway a bar at the edge covers part of what lies under it; at the end of a page nothing is covered.
	_, err = b.Eval(`() => { if (innerWidth < 768) scrollTo(0, document.body.scrollHeight) }`)
	require.NoError(b.t, err)
	_, err = b.Eval(
		`(source) => { if (!window.axe) { const f = new Function(source); f.call(window); } }`,
		string(source),
	)
	require.NoError(b.t, err)
	got, err := b.Eval(`async () => JSON.stringify((await axe.run(document, {
		runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"] })).violations)`)
	require.NoError(b.t, err)
	var found []violation
	require.NoError(b.t, json.Unmarshal([]byte(got.Value.Str()), &found))
	for _, v := range found {
		said := ""
		for _, n := range v.Nodes {
			said += "\n  " + n.HTML + "\n    " + strings.ReplaceAll(n.FailureSummary, "\n", "\n    ")
		}
		assert.Fail(b.t, v.ID+" on "+view+": "+v.Help+said)
	}
}

// The main views have no violation of WCAG 2.2 AA that axe-core can see, in light and in dark.
func TestViewsAreAccessible(t *testing.T) {
	for _, scheme := range []string{"light", "dark"} {
		t.Run(scheme, func(t *testing.T) {
			s := open(t)
			lead := s.as("maren", desk)
			require.NoError(
				t,
				proto.EmulationSetEmulatedMedia{
					Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: scheme}},
				}.Call(lead),
			)
			check := func(name string) {
				lead.settle()
				lead.accessible(scheme + " " + name)
			}
			check("yard")
			lead.row("Island taxi, estate", "Plan")
			lead.see("h1", "Plan:")
			lead.see("legend", "Who washes")
			lead.click("summary", "What if")
			lead.see("th", "As it stands")
			check("plan")
			lead.click("a", "Look again")
			lead.see("h1", "Look-over:")
			check("look-over")
			for path, shows := range map[string]string{"/procedures": "Procedures",
				"/procedures/maintenance": "Shop maintenance wash", "/procedures/maintenance/print": "Print",
				"/audits": "Waiting", "/audits/findings": "Findings", "/audits/remedies": "Remedies",
				"/audits/remedies/new?kind=dirt+left": "What may be", "/audits/agreement": "agree", "/audits/week": "The week",
				"/audits/lists":            "Checklists",
				"/audits/lists/final-walk": "This look", "/times": "What would save most", "/times/standards": "Changed before",
				"/times/charts": "Out of the ordinary", "/times/kinds": "by grade", "/times/learning": "Pia Lunt",
				"/times/washes": "Washes", "/shelf": "Mixing bench", "/training": "Practise by hand", "/training/cases": "Cases",
				"/settings": "Settings", "/bay": "Bay", "/look-over": "Look-over", "/day": "Day"} {
				lead.goes(path)
				lead.settle()
				lead.see("h1, h2", shows)
				check(path)
			}
			lead.visit("/audits")
			lead.click("a", "District carers' hatchback")
			lead.see("h1", "Audit:")
			check("audit")
			lead.visit("/audits")
			lead.click("button", "Walk round")
			lead.see("h2", "In which light")
			check("walk")
			lead.click("button", "^Front bumper")
			lead.click("button", "^Mirror, left$")
			lead.click("button", "^Drips$")
			lead.see("label", "How many")
			check("finding")
			lead.visit("/training")
			lead.within("li", "Practice car", "a", "Practice car")
			lead.see("h2", "^Passed|^Not yet")
			check("by hand")
			lead.visit("/training")
			lead.click("a", "^Watch$")
			lead.see("h1", "^Watch ")
			check("watch")
			lead.visit("/training/lessons/wheels")
			lead.see("h3", "Think first")
			check("lesson")
			lead.visit("/training/lessons/wheels/write")
			lead.see("h2", "The lesson")
			check("rubric")
			lead.visit("/procedures/care-wash")
			lead.click("button", "Write a new version")
			lead.see("h1", "Writing")
			check("writing")
			lead.click("nav[aria-label=Steps] button", "^Foam")
			lead.see("h2", "^Foam")
			check("writing a step")
			lead.visit("/")
			lead.see("h1", "Yard")
			require.NoError(t, lead.Keyboard.Type('?'))
			lead.see("h2", "Keys")
			check("keys")
			lead.quiet()

			washer := s.as("osk", phone)
			require.NoError(
				t,
				proto.EmulationSetEmulatedMedia{
					Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: scheme}},
				}.Call(washer),
			)
			washer.visit("/bay")
			washer.click("a", "Coated electric saloon")
			washer.see("[role=timer]", ":")
			washer.settle()
			washer.accessible(scheme + " bay")
			washer.click("button", "^Other$")
			washer.see("button", "Need help")
			washer.accessible(scheme + " bay, what else")
			for _, e := range washer.all("main button, main a, main summary") {
				box, err := e.Shape()
				require.NoError(t, err)
				label, _ := e.Text()
				assert.GreaterOrEqual(t, box.Box().Height, 56.0, "a wet glove must hit %q", label)
			}
		})
	}
}

func TestSignInPageIsAccessible(t *testing.T) {
	s := open(t)
	b := s.tab(phone)
	b.visit("/")
	b.see("button", "Sign in")
	b.accessible("sign-in")
}

// From signing in to a graded zone and a saved plan without touching a mouse.
func TestKeyboardAllTheWay(t *testing.T) {
	s := open(t)
	b := s.tab(desk)
	b.visit("/")
	b.see("button", "Sign in")
	keys := func(keys ...input.Key) {
		t.Helper()
		require.NoError(t, b.Keyboard.Type(keys...))
	}
	word := func(text string) {
		t.Helper()
		require.NoError(t, b.InsertText(text))
	}
	b.focus("input")
	word("maren")
	keys(input.Tab)
	word("saltwater")
	keys(input.Enter)
	b.see("h1", "Yard")
	b.tabTo("a", "Look over")
	keys(input.Enter)
	b.see("h1", "Look-over:")
	b.tabToZone("roof")
	keys(input.Digit3)
	b.grade("roof", "3")
	keys(input.ArrowRight)
	keys(input.Digit1)
	b.grade("rear-glass", "1")
	keys(input.ArrowLeft, input.ArrowLeft)
	keys('b')
	b.see("section", "take off|takes off|will not remove")
	b.tabTo("button", "Save and plan")
	keys(input.Enter)
	b.see("h1", "Plan:")
	b.tabTo("button, g", "Foam")
	keys(input.Enter)
	b.see("h2", "^Foam$")
	keys('g')
	keys('t')
	b.see("h1", "Training")
	b.quiet()
}

// tabTo presses Tab until what is focused matches.
func (b *tab) tabTo(selector, text string) { b.t.Helper(); b.tabUntil(selector, text, "") }

func (b *tab) tabToZone(zone string) { b.t.Helper(); b.tabUntil("g", "", zone) }

func (b *tab) tabUntil(selector, text, zone string) {
	b.t.Helper()
	_, err := b.Eval(`() => { document.activeElement?.blur(); }`)
	require.NoError(b.t, err)
	for range 150 {
		require.NoError(b.t, b.Keyboard.Type(input.Tab))
		got, err := b.Eval(`(selector, text, zone) => {
			const e = document.activeElement;
			if (!e.matches(selector)) return false;
			if (zone) return e.dataset.zone === zone;
			return (e.textContent + (e.getAttribute("aria-label") ?? "")).startsWith(text) || (e.getAttribute("aria-label") ?? "").startsWith(text);
		}`, selector, text, zone)
		require.NoError(b.t, err)
		if got.Value.Bool() {
			outline, err := b.Eval(`() => { const e = document.activeElement; const s = getComputedStyle(e);
				return s.outlineStyle !== "none" ||
					[...e.querySelectorAll(".edge, rect")].some((x) => parseFloat(getComputedStyle(x).strokeWidth) >= 5) }`)
			require.NoError(b.t, err)
			assert.True(b.t, outline.Value.Bool(), "the focus on %q is visible", text+zone)
			return
		}
	}
	b.keep("failure")
	require.Fail(b.t, "Tab never reaches it", "%s %q %s on %s", selector, text, zone, b.path())
}
