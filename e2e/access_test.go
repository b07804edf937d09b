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

// accessible holds the view to every rule in light, and in dark to those that colours decide: nothing else of a page
// hangs on the scheme.
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
	b.violates("light "+view, `["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]`)
	b.scheme("dark")
	b.violates("dark "+view, `{ type: "rule", values: ["color-contrast", "link-in-text-block"] }`)
	b.scheme("light")
}

// scheme shows the page in light or dark; what fades over is there at once.
func (b *tab) scheme(name string) {
	b.t.Helper()
	require.NoError(b.t, proto.EmulationSetEmulatedMedia{
		Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: name}},
	}.Call(b))
	got, err := b.Eval(`(name) => {
		for (const a of document.getAnimations()) if (a instanceof CSSTransition) a.finish();
		return matchMedia("(prefers-color-scheme: " + name + ")").matches;
	}`, name)
	require.NoError(b.t, err)
	require.True(b.t, got.Value.Bool(), name)
}

// violates runs some of the rules over the page as it is.
func (b *tab) violates(view, rules string) {
	b.t.Helper()
	got, err := b.Eval(`async () => JSON.stringify((await axe.run(document, { runOnly: ` + rules + ` })).violations)`)
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

// checks holds what is seen now to the rules, once all of it is there.
func (b *tab) checks(view string) {
	b.t.Helper()
	b.settle()
	b.accessible(view)
}

// The main views have no violation of WCAG 2.2 AA that axe-core can see, in light and in dark.
func TestPagesAreAccessible(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
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
		lead.checks(path)
	}
	lead.quiet()
}

func TestWhatIsDoneOnPagesIsAccessible(t *testing.T) {
	s := open(t)
	lead := s.as("maren", desk)
	lead.checks("yard")
	lead.row("Island taxi, estate", "Plan")
	lead.see("h1", "Plan:")
	lead.see("legend", "Who washes")
	lead.click("summary", "What if")
	lead.see("th", "As it stands")
	lead.checks("plan")
	lead.click("a", "Look again")
	lead.see("h1", "Look-over:")
	lead.checks("look-over")
	lead.goes("/audits")
	lead.click("a", "District carers' hatchback")
	lead.see("h1", "Audit:")
	lead.checks("audit")
	lead.goes("/audits")
	lead.click("button", "Walk round")
	lead.see("h2", "In which light")
	lead.checks("walk")
	lead.click("button", "^Front bumper")
	lead.click("button", "^Mirror, left$")
	lead.click("button", "^Drips$")
	lead.see("label", "How many")
	lead.checks("finding")
	lead.goes("/training")
	lead.within("li", "Practice car", "a", "Practice car")
	lead.see("h2", "^Passed|^Not yet")
	lead.checks("by hand")
	lead.goes("/training")
	lead.click("a", "^Watch$")
	lead.see("h1", "^Watch ")
	lead.checks("watch")
	lead.goes("/training/lessons/wheels")
	lead.see("h3", "Think first")
	lead.checks("lesson")
	lead.goes("/training/lessons/wheels/write")
	lead.see("h2", "The lesson")
	lead.checks("rubric")
	lead.goes("/procedures/care-wash")
	lead.click("button", "Write a new version")
	lead.see("h1", "Writing")
	lead.checks("writing")
	lead.click("nav[aria-label=Steps] button", "^Foam")
	lead.see("h2", "^Foam")
	lead.checks("writing a step")
	lead.goes("/")
	lead.see("h1", "Yard")
	require.NoError(t, lead.Keyboard.Type('?'))
	lead.see("h2", "Keys")
	lead.checks("keys")
	lead.quiet()
}

func TestTheBayIsAccessible(t *testing.T) {
	s := open(t)
	washer := s.as("osk", phone)
	washer.visit("/bay")
	washer.click("a", "Coated electric saloon")
	washer.see("[role=timer]", ":")
	washer.settle()
	washer.accessible("bay")
	washer.click("button", "^Other$")
	washer.see("button", "Need help")
	washer.accessible("bay, what else")
	for _, e := range washer.all("main button, main a, main summary") {
		box, err := e.Shape()
		require.NoError(t, err)
		label, _ := e.Text()
		assert.GreaterOrEqual(t, box.Box().Height, 56.0, "a wet glove must hit %q", label)
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
