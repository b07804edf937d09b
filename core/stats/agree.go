package stats

import "math"

// Agreement is how far two people who looked at the same answered the same.
type Agreement struct {
	Pairs int     `json:"pairs"`
	Same  float64 `json:"same" doc:"share of pairs answered the same, 0 to 1"`
	// Kappa is what is left of it beyond chance: 1 all, 0 no more than chance; with the answers' distance (Cohen, Weighted Kappa,
	// 1968). It is not known where both always answered the same one thing.
	Kappa float64 `json:"kappa"`
	Error float64 `json:"error" doc:"its standard error"`
	Known bool    `json:"known"`
	// First is agreement beyond chance that holds where findings are rare: Gwet's AC1 of whether anything was found (Gwet, Computing
	// inter-rater reliability, 2008).
	First float64 `json:"first"`
	// Found is the share of findings that both had, of all that either had (specific agreement on the positive: Spitzer and Fleiss,
	// 1974); it says what percent agreement hides where nearly all passes.
	Found  float64 `json:"found"`
	Either int     `json:"either" doc:"pairs in which one or both found something"`
	Need   int     `json:"need" doc:"pairs that kappa would need to be known to 0.2 either way, with 95 % certainty, as things stand"`
}

// wanted is how closely kappa is to be known, either way, and certain the normal quantile of 95 %.
const (
	wanted  = 0.2
	certain = 1.959964
)

// Agree works it out from a table of pairs: row what the first answered, column the second, both in order from nothing found on.
// Answers further apart disagree more, in even steps; of two there is one step. The error is that of Fleiss, Cohen and
// Everitt (Large sample standard errors of kappa and weighted kappa, 1969).
func Agree(table [][]int) Agreement {
	k, n := len(table), 0
	for i := range table {
		for j := range table {
			n += table[i][j]
		}
	}
	a := Agreement{Pairs: n}
	if n == 0 || k < 2 {
		return a
	}
	share := func(i, j int) float64 { return float64(table[i][j]) / float64(n) }
	weight := func(i, j int) float64 { return 1 - math.Abs(float64(i-j))/float64(k-1) }
	rows, cols := make([]float64, k), make([]float64, k)
	for i := range k {
		a.Same += share(i, i)
		for j := range k {
			rows[i] += share(i, j)
			cols[j] += share(i, j)
		}
	}
	seen, chance := 0.0, 0.0
	byRow, byCol := make([]float64, k), make([]float64, k) // mean weight against the other's answers
	for i := range k {
		for j := range k {
			seen += weight(i, j) * share(i, j)
			chance += weight(i, j) * rows[i] * cols[j]
			byRow[i] += weight(i, j) * cols[j]
			byCol[j] += weight(i, j) * rows[i]
		}
	}
	a.found(rows[0], cols[0], share(0, 0))
	a.Either = n - table[0][0]
	if a.Known = chance < 1-1e-12; !a.Known {
		return a
	}
	a.Kappa = (seen - chance) / (1 - chance)
	spread := 0.0
	for i := range k {
		for j := range k {
			d := weight(i, j) - (byRow[i]+byCol[j])*(1-a.Kappa)
			spread += share(i, j) * d * d
		}
	}
	off := a.Kappa - chance*(1-a.Kappa)
	a.Error = math.Sqrt(math.Max(0, spread-off*off)/float64(n)) / (1 - chance)
	a.Need = int(math.Ceil(float64(n) * math.Pow(certain*a.Error/wanted, 2)))
	return a
}

// found are the figures that hold where findings are rare, from the shares of nothing found: by the first, the second, both.
func (a *Agreement) found(first, second, both float64) {
	same := 1 - (first + second - 2*both)
	mean := (first + second) / 2
	chance := 2 * mean * (1 - mean)
	a.First = (same - chance) / (1 - chance)
	if either := 2 - first - second; either > 0 {
		a.Found = 2 * (1 - first - second + both) / either
	}
}
