package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uskel/demo/demotest"
)

// BenchmarkBay measures on a phone's screen with the network off: how long the bay takes to open from what the device
// has kept, until the core on the device has answered for the first time, and from a tap to its visible change.
// Budgets: usable in 600 ms, a tap seen in 30 ms.
func BenchmarkBay(b *testing.B) {
	var opened, core, seen float64
	for range b.N {
		s := openAt(b, demotest.URL(b))
		wire, far := s.through(b)
		p, id := far.inTheBay("osk")
		p.installed()
		wire.Cut()
		_, err := p.EvalOnNewDocument(
			`new MutationObserver(() => { if (!window.opened && document.querySelector("[role=timer]"))
				window.opened = performance.now(); }).observe(document, { childList: true, subtree: true });`,
		)
		require.NoError(b, err)
		p.visit("/bay/" + id)
		p.see("button", "^Done$")
		opened += p.run(`() => window.opened`).Value.Num()
		core += p.run(`() => new Promise((done) => new PerformanceObserver((list, o) => {
			const [answered] = list.getEntriesByName("core answers");
			if (answered) o.disconnect(), done(answered.startTime);
		}).observe({ type: "mark", buffered: true }))`).Value.Num()
		p.run(
			`() => new Promise((done) => setTimeout(done, 1000))`,
		) // a washer taps once in minutes, not while it starts
		seen += p.run(`() => new Promise((done) => {
			const before = document.querySelector("h1").textContent;
			const start = performance.now();
			new MutationObserver(() => {
				if (document.querySelector("h1")?.textContent !== before ||
					document.querySelector("main")?.textContent.includes("not begun")) requestAnimationFrame(() => done(performance.now() - start));
			}).observe(document, { childList: true, subtree: true, characterData: true });
			[...document.querySelectorAll("button")].find((x) => x.textContent === "Done").click();
		})`).Value.Num()
	}
	b.ReportMetric(opened/float64(b.N), "ms-to-open")
	b.ReportMetric(core/float64(b.N), "ms-to-core")
	b.ReportMetric(seen/float64(b.N), "ms-tap-to-seen")
}
