package e2e

import (
	"fmt"
	"testing"

	"uskel/demo/demotest"
)

// strokes is how many are drawn; of 24, the second slowest stands for 95 in a hundred.
const strokes = 24

// BenchmarkStroke measures on a phone's screen how long after the finger lifts its stroke's answer is seen. The answer is the
// device's own core's, so that the network does not count. Budget: 60 ms at p95.
func BenchmarkStroke(b *testing.B) {
	var p95 float64
	for range b.N {
		s := openAt(b, demotest.URL(b))
		p := s.as("pia", phone)
		p.startByHand()
		p.run(`() => {
			window.took = [];
			let began = 0;
			addEventListener("pointerup", () => (began = performance.now()), true);
			new MutationObserver(() => {
				if (began > 0) window.took.push(performance.now() - began);
				began = 0;
			}).observe(document.querySelector("p[role=status]"), { childList: true, subtree: true, characterData: true });
			return Promise.resolve();
		}`)
		for k := range strokes {
			p.touchStroke(0.1 + 0.72*float64(k)/strokes)
			p.run(fmt.Sprintf(`() => new Promise((done) => {
				const until = performance.now() + 1000;
				const look = () => (window.took.length > %d || performance.now() > until ? done() : requestAnimationFrame(look));
				look();
			})`, k))
		}
		// A stroke that changes nothing in the answer's words is not seen, and not counted.
		if n := p.run(`() => Promise.resolve(window.took.length)`).Value.Int(); n < strokes*3/4 {
			b.Fatalf("only %d strokes were answered", n)
		}
		p95 += p.run(`() => Promise.resolve(window.took.sort((a, b) => a - b)[window.took.length - 2])`).Value.Num()
	}
	b.ReportMetric(p95/float64(b.N), "ms-p95-stroke")
}
