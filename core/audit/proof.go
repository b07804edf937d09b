package audit

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat/distuv"
)

// Proof is what a number of audits says of all washes, if they were chosen by chance.
type Proof struct {
	Audited int      `json:"audited"`
	Bad     int      `json:"bad" doc:"of these, not passed at once"`
	Low     float64  `json:"low" doc:"share of washes that is bad at the least, 0 to 1, with nine tenths certainty for the range"`
	High    float64  `json:"high" doc:"and at the most"`
	Clean   int      `json:"clean" doc:"passed at once in a row, up to the newest"`
	Under   float64  `json:"under" doc:"what share is bad at the most by that run, with 95 % certainty"`
	Finds   float64  `json:"finds" doc:"with which chance so many audits find one, if one in ten is bad"`
	Says    []string `json:"says"`
}

// certain is how sure what is said of the shares is: 90 % for the range, 95 % for the run.
const (
	rangeCertainty = 0.90
	runCertainty   = 0.95
	badShare       = 0.10 // which a sample is asked to find
)

// Prove works out what audits prove: the range of the bad share by Clopper and Pearson (The Use of Confidence or Fiducial Limits,
// 1934), the run of passes by the success-run theorem, (1 - p)^n, and the chance to find one by the same. Passed are the
// first audits, the newest first.
func Prove(passed []bool) Proof {
	p := Proof{Audited: len(passed), High: 1, Under: 1, Says: []string{}}
	for _, ok := range passed {
		if !ok {
			p.Bad++
		}
	}
	for p.Clean < len(passed) && passed[p.Clean] {
		p.Clean++
	}
	if p.Audited == 0 {
		p.Says = append(p.Says, "Nothing was audited: nothing is known.")
		return p
	}
	p.Low, p.High = clopperPearson(p.Bad, p.Audited, rangeCertainty)
	p.Under = 1 - math.Pow(1-runCertainty, 1/float64(max(p.Clean, 1)))
	p.Finds = 1 - math.Pow(1-badShare, float64(p.Audited))
	p.Says = append(p.Says, fmt.Sprintf("%d of %d were not passed at once: between %.0f and %.0f %% of all washes, with 90 %% certainty.",
		p.Bad, p.Audited, 100*p.Low, 100*p.High))
	if p.Clean > 1 {
		p.Says = append(p.Says, fmt.Sprintf("%d in a row were passed at once: with 95 %% certainty under %.0f %% are bad.", p.Clean,
			math.Ceil(100*p.Under)))
	}
	p.Says = append(p.Says, fmt.Sprintf("If one wash in ten is bad, so many audits find one with %s.", surely(p.Finds)))
	return p
}

// surely is a chance in percent; what is nearly certain is not called certain.
func surely(chance float64) string {
	if chance > 0.99 {
		return "more than 99 %"
	}
	return fmt.Sprintf("%.0f %%", 100*chance)
}

// clopperPearson is the exact range of a share of which so many of n were seen, with a certainty.
func clopperPearson(seen, n int, certainty float64) (low, high float64) {
	tail, high := (1-certainty)/2, 1.0
	if seen > 0 {
		low = distuv.Beta{Alpha: float64(seen), Beta: float64(n - seen + 1)}.Quantile(tail)
	}
	if seen < n {
		high = distuv.Beta{Alpha: float64(seen + 1), Beta: float64(n - seen)}.Quantile(1 - tail)
	}
	return low, high
}
