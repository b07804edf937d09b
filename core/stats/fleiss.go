package stats

import "math"

// Among is how far three or more people who looked at the same things agree.
type Among struct {
	Things int     `json:"things" doc:"looked at by two or more"`
	Kappa  float64 `json:"kappa" doc:"1 all agree, 0 no more than chance"`
	Error  float64 `json:"error" doc:"its standard error, by leaving each thing out in turn"`
	Known  bool    `json:"known" doc:"false where all always answered the same one thing"`
}

// Fleiss works it out from how many people put each thing into each class (Fleiss, Measuring nominal scale agreement among many
// raters, 1971). Where not everybody looked at everything each thing weighs the same; things that fewer than two looked at say
// nothing. The error is the jackknife's (Efron and Stein, 1981).
func Fleiss(counts [][]int) Among {
	type thing struct {
		same   float64
		shares []float64
	}
	var things []thing
	for _, row := range counts {
		n, squares := 0, 0
		for _, c := range row {
			n += c
			squares += c * c
		}
		if n < 2 {
			continue
		}
		t := thing{same: float64(squares-n) / float64(n*(n-1)), shares: make([]float64, len(row))}
		for j, c := range row {
			t.shares[j] = float64(c) / float64(n)
		}
		things = append(things, t)
	}
	a := Among{Things: len(things)}
	if len(things) == 0 {
		return a
	}
	same, shares := 0.0, make([]float64, len(things[0].shares))
	for _, t := range things {
		same += t.same
		for j, s := range t.shares {
			shares[j] += s
		}
	}
	kappa := func(same float64, shares []float64, n float64) (float64, bool) {
		chance := 0.0
		for _, s := range shares {
			chance += (s / n) * (s / n)
		}
		return (same/n - chance) / (1 - chance), chance < 1-1e-12
	}
	n := float64(len(things))
	if a.Kappa, a.Known = kappa(same, shares, n); !a.Known {
		a.Kappa = 0
		return a
	}
	spread, mean, left := 0.0, 0.0, make([]float64, 0, len(things))
	for _, t := range things {
		rest := make([]float64, len(shares))
		for j := range shares {
			rest[j] = shares[j] - t.shares[j]
		}
		if k, known := kappa(same-t.same, rest, n-1); n > 1 && known {
			left = append(left, k)
			mean += k
		}
	}
	mean /= math.Max(1, float64(len(left)))
	for _, k := range left {
		spread += (k - mean) * (k - mean)
	}
	a.Error = math.Sqrt((n - 1) / n * spread)
	return a
}
