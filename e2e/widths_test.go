package e2e

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// misfits finds what does not fit a page: what sticks out of it at a side, targets smaller than a wet-gloved thumb hits,
// and what lies under the bar at the page's end. Links in running text are words and no targets (WCAG 2.2, 2.5.8 leaves
// them out, too); what is hidden, or shut off, is none either.
const misfits = `(least) => {
	const said = [];
	const wide = document.documentElement.clientWidth;
	const name = (e) => e.tagName.toLowerCase() + " “" + (e.getAttribute("aria-label") || e.innerText || e.name || e.type || "").trim().slice(0, 40) + "”";
	const seen = (e) => e.checkVisibility({ visibilityProperty: true, opacityProperty: true }) && e.getBoundingClientRect().width > 1;
	const scrolls = (e) => { for (let p = e.parentElement; p; p = p.parentElement) if (/auto|scroll|hidden|clip/.test(getComputedStyle(p).overflowX)) return true; return false; };
	if (document.documentElement.scrollWidth > wide) {
		said.push("the page is " + document.documentElement.scrollWidth + " wide");
		for (const e of document.querySelectorAll("body *"))
			if (seen(e) && !scrolls(e) && e.getBoundingClientRect().right > wide + 1 && ![...e.children].some((c) => c.getBoundingClientRect().right > wide + 1))
				said.push("sticks out: " + name(e) + " to " + Math.round(e.getBoundingClientRect().right));
	}
	for (const e of document.querySelectorAll("[role=region].overflow-x-auto, [data-scrolls]"))
		if (wide < 500 && seen(e) && e.scrollWidth > e.clientWidth + 1 && !e.hasAttribute("data-sideways"))
			said.push("scrolls sideways: " + name(e) + " " + e.scrollWidth + " in " + e.clientWidth);
	const inText = (e) => e.tagName === "A" && getComputedStyle(e).display === "inline";
	const of = location.pathname.startsWith("/bay/") ? document.querySelector("main") : document;
	for (const e of of.querySelectorAll("a[href], button, select, textarea, summary, input:not([type=hidden]), [role=checkbox], [role=radio], [role=tab]")) {
		if (!seen(e) || e.disabled || inText(e) || e.classList.contains("sr-only") || e.closest("svg, [data-scale]")) continue;
		let box = e.getBoundingClientRect();
		const label = e.closest("label") ?? (e.id && document.querySelector("label[for='" + e.id + "']"));
		if (/^(checkbox|radio|file)$/.test(e.type) && label) box = label.getBoundingClientRect();
		if (box.height < least - 0.5 || box.width < least - 0.5) said.push("small: " + name(e) + " " + Math.round(box.width) + " by " + Math.round(box.height));
	}
	scrollTo(0, document.documentElement.scrollHeight);
	const bar = [...document.querySelectorAll("nav")].find((n) => /fixed|sticky/.test(getComputedStyle(n).position) && seen(n) && n.getBoundingClientRect().top > innerHeight / 2);
	if (bar) {
		const top = bar.getBoundingClientRect().top;
		for (const e of document.querySelectorAll("main a[href], main button, main input, main select"))
			if (seen(e) && !scrolls(e) && e.getBoundingClientRect().bottom > top + 1) said.push("under the bar: " + name(e));
	}
	return JSON.stringify([...new Set(said)]);
}`

// fits says what on a page does not fit its width.
func (b *tab) fits(least int) []string {
	b.t.Helper()
	b.settle()
	got, err := b.Eval(misfits, least)
	require.NoError(b.t, err)
	var said []string
	require.NoError(b.t, json.Unmarshal([]byte(got.Value.Str()), &said))
	return said
}

// pagesOf is what each role opens from its own bar and from there on.
func (s *shop) pagesOf(role string) []string {
	wash, plan, audit := s.bookingOf("VLT 30").Wash.ID, s.bookingOf("CAB 14").Booking.ID, s.bookingOf("TID 101").Audit.ID
	all := map[string][]string{
		"washer":  {"/", "/bay", "/bay/" + wash, "/look-over", "/look-over/" + plan, "/plan/" + plan, "/day", "/times", "/shelf", "/settings", "/training"},
		"trainee": {"/", "/bay", "/training", "/look-over", "/plan/" + plan, "/day", "/times/learning", "/settings"},
		"auditor": {"/", "/audits", "/audits/" + audit, "/training", "/day", "/settings"},
		"lead": {"/", "/day", "/look-over/" + plan, "/plan/" + plan, "/procedures", "/procedures/maintenance",
			"/procedures/maintenance/print", "/audits", "/audits/" + audit, "/training", "/times", "/times/standards", "/times/charts",
			"/times/kinds", "/times/learning", "/times/washes", "/shelf", "/settings", "/settings/people", "/settings/readings",
			"/settings/devices", "/settings/you", "/first"},
	}
	return all[role]
}

// Every page of every role fits a phone, a tablet and a desk.
func TestEveryPageFits(t *testing.T) {
	t.Parallel()
	s := open(t)
	for _, who := range []struct{ name, role string }{
		{"osk", "washer"}, {"pia", "trainee"}, {"hesper", "auditor"}, {"maren", "lead"},
	} {
		for _, v := range []view{phone, {820, 1180}, desk} {
			t.Run(fmt.Sprint(who.role, " ", v.width), func(t *testing.T) {
				t.Parallel()
				b := s.as(who.name, v)
				b.t = t
				for _, path := range s.pagesOf(who.role) {
					b.visit(path)
					b.see("h1", ".")
					least := 44
					if strings.HasPrefix(path, "/bay/") {
						least = 56
					}
					if said := b.fits(least); len(said) > 0 {
						t.Errorf("%s at %d:\n  %s", path, v.width, strings.Join(said, "\n  "))
					}
				}
			})
		}
	}
}
