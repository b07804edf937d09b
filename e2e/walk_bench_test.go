package e2e

import (
	"testing"

	"uskel/demo/demotest"
)

// BenchmarkWalk measures on a phone's screen with the network off: from a tap that passes a look until the next look is seen, the first
// of a walk that begins on this device, and the mean of the others. Budget: the first in 100 ms.
func BenchmarkWalk(b *testing.B) {
	var first, mean float64
	const looks = 14
	for range b.N {
		s := openAt(b, demotest.URL(b))
		s.fourteen()
		wire, far := s.through(b)
		p := far.as("hesper", phone)
		p.readyToBegin(s.washOf("CAB 12"))
		wire.Cut()
		p.within("li", "CAB 12", "button", "Walk round")
		p.see("p", "Begun on this device")
		p.click("button", "^Lamp")
		p.run(`() => new Promise((done) => setTimeout(done, 1000))`) // somebody walks to the car first
		for n := range looks {
			took := p.run(`() => new Promise((done) => {
				const look = () => [...document.querySelectorAll("h2")].map((h) => h.textContent).find((x) => /^(Look number|All looked)/.test(x));
				const before = look(), start = performance.now();
				new MutationObserver((_, o) => {
					if (look() !== before) o.disconnect(), requestAnimationFrame(() => done(performance.now() - start));
				}).observe(document, { childList: true, subtree: true, characterData: true });
				[...document.querySelectorAll("button")].find((x) => x.textContent.trim() === "Pass").click();
			})`).Value.Num()
			if n == 0 {
				first += took
			} else {
				mean += took / (looks - 1)
			}
		}
	}
	b.ReportMetric(first/float64(b.N), "ms-first-tap")
	b.ReportMetric(mean/float64(b.N), "ms-tap-to-seen")
}
