package timing

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"math/rand"
	"slices"
	"time"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// Contrast is two groups of values side by side.
type Contrast struct {
	Before     float64 `json:"before" doc:"mean"`
	After      float64 `json:"after" doc:"mean"`
	NBefore    int     `json:"nBefore"`
	NAfter     int     `json:"nAfter"`
	Difference float64 `json:"difference" doc:"after less before"`
	Low        float64 `json:"low" doc:"95 % interval of the difference"`
	High       float64 `json:"high"`
	P          float64 `json:"p" doc:"chance of such a difference if nothing had changed, Welch's t test"`
}

// Welch compares the means of two groups whose spreads may differ (Welch's t test; NIST/SEMATECH e-Handbook, 7.3.1). Each group needs two values.
func Welch(before, after []float64) (Contrast, error) {
	if len(before) < 2 || len(after) < 2 {
		return Contrast{}, fmt.Errorf("comparing needs at least two values on each side, and there are %d and %d", len(before), len(after))
	}
	m1, v1 := stat.MeanVariance(before, nil)
	m2, v2 := stat.MeanVariance(after, nil)
	e1, e2 := v1/float64(len(before)), v2/float64(len(after))
	c := Contrast{Before: m1, After: m2, NBefore: len(before), NAfter: len(after), Difference: m2 - m1, Low: m2 - m1, High: m2 - m1, P: 1}
	if e1+e2 == 0 {
		if m1 != m2 {
			c.P = 0
		}
		return c, nil
	}
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: (e1 + e2) * (e1 + e2) / (e1*e1/float64(len(before)-1) + e2*e2/float64(len(after)-1))}
	unsure := math.Sqrt(e1 + e2)
	half := t.Quantile(0.975) * unsure
	c.Low, c.High = c.Difference-half, c.Difference+half
	c.P = 2 * t.CDF(-abs(c.Difference/unsure))
	return c, nil
}

// Words says what the comparison shows.
func (c Contrast) Words() string {
	if c.P >= tested {
		return fmt.Sprintf("%.0f before, %.0f after: no difference that chance could not make (%d and %d washes).", c.Before, c.After, c.NBefore, c.NAfter)
	}
	way := "more"
	if c.Difference < 0 {
		way = "less"
	}
	return fmt.Sprintf("%.0f before, %.0f after: %.0f %s, between %.0f and %.0f (%d and %d washes).", c.Before, c.After, abs(c.Difference), way, min(abs(c.Low), abs(c.High)), max(abs(c.Low), abs(c.High)), c.NBefore, c.NAfter)
}

// Variance is the chance that groups differ as they do if their means were the same: one-way analysis of variance (NIST/SEMATECH e-Handbook, 7.4.3). It gives 1 when there
// is nothing to compare.
func Variance(groups [][]float64) (f, p float64) {
	groups = slices.DeleteFunc(slices.Clone(groups), func(g []float64) bool { return len(g) == 0 })
	n, all := 0, []float64{}
	for _, g := range groups {
		n += len(g)
		all = append(all, g...)
	}
	k := len(groups)
	if k < 2 || n <= k {
		return 0, 1
	}
	grand, between, within := stat.Mean(all, nil), 0.0, 0.0
	for _, g := range groups {
		mean := stat.Mean(g, nil)
		between += float64(len(g)) * (mean - grand) * (mean - grand)
		for _, x := range g {
			within += (x - mean) * (x - mean)
		}
	}
	if within == 0 {
		return 0, 1
	}
	f = between / float64(k-1) / (within / float64(n-k))
	return f, 1 - distuv.F{D1: float64(k - 1), D2: float64(n - k)}.CDF(f)
}

// Mixed is the chance that two mixes differ as they do if they were drawn alike: Pearson's chi-square test of a table of counts (NIST/SEMATECH e-Handbook, 7.4.5).
func Mixed(before, after map[string]int) (chi2, p float64) {
	totalB, totalA, levels := 0, 0, map[string]bool{}
	for l, n := range before {
		totalB, levels[l] = totalB+n, true
	}
	for l, n := range after {
		totalA, levels[l] = totalA+n, true
	}
	if len(levels) < 2 || totalB == 0 || totalA == 0 {
		return 0, 1
	}
	for l := range levels {
		share := float64(before[l]+after[l]) / float64(totalB+totalA)
		for _, side := range []struct{ got, of int }{{before[l], totalB}, {after[l], totalA}} {
			want := share * float64(side.of)
			chi2 += (float64(side.got) - want) * (float64(side.got) - want) / want
		}
	}
	return chi2, 1 - distuv.ChiSquared{K: float64(len(levels) - 1)}.CDF(chi2)
}

// Cause is something that changed when the times did.
type Cause struct {
	What    string  `json:"what"`
	Changed float64 `json:"changed" doc:"chance of such a change of the mix by accident"`
	Matters float64 `json:"matters" doc:"chance of such differences between its kinds by accident"`
	Share   float64 `json:"share" doc:"of the drift that goes away when the mix is held still; 1 when nothing can tell the two apart"`
	Words   string  `json:"words"`
}

// Drift is a lasting change of a stage's or step's times.
type Drift struct {
	Since    time.Time `json:"since"`
	Compared Contrast  `json:"compared" doc:"in the chart's unit"`
	P        float64   `json:"p" doc:"chance of such a bend in times that did not change, by reordering them"`
	Causes   []Cause   `json:"causes" doc:"what explains it, most first"`
	Words    string    `json:"words"`
}

// Timed is a value with what may explain it: kinds by name of the thing, as "person" or "product".
type Timed struct {
	At    time.Time
	Value float64
	Of    map[string]string
}

const (
	sideLeast  = 8    // values on each side of a change
	kindLeast  = 4    // values of one kind on each side, or it is taken to have come or gone with the change
	reorders   = 999  // times that the values are put in another order
	certain    = 0.01 // chance under which a drift is told
	tested     = 0.05 // chance under which a cause is told
	explaining = 0.2  // share under which a cause is not worth telling
)

// FindDrift looks for the moment from which values run otherwise, and for what changed then. The moment is where the sum of differences from the mean is farthest out; its chance is found by
// putting the values in other orders, by a seed. Nil when there are too few values or nothing changed.
func FindDrift(values []Timed, things []string, seed int64) *Drift {
	if len(values) < 2*sideLeast {
		return nil
	}
	numbers := make([]float64, len(values))
	for i, v := range values {
		numbers[i] = v.Value
	}
	at, bend := bent(numbers)
	dice, more := rand.New(rand.NewSource(seed)), 0
	mixed := slices.Clone(numbers)
	for range reorders {
		dice.Shuffle(len(mixed), func(i, j int) { mixed[i], mixed[j] = mixed[j], mixed[i] })
		if _, other := bent(mixed); other >= bend {
			more++
		}
	}
	d := Drift{Since: values[at].At, P: float64(more+1) / float64(reorders+1), Causes: []Cause{}}
	if d.P > certain {
		return nil
	}
	var err error
	if d.Compared, err = Welch(numbers[:at], numbers[at:]); err != nil {
		return nil
	}
	for _, what := range things {
		if c, tells := cause(values, at, what, d.Compared.Difference); tells {
			d.Causes = append(d.Causes, c)
		}
	}
	slices.SortStableFunc(d.Causes, func(a, b Cause) int { return cmp.Compare(b.Share, a.Share) })
	d.Words = d.words()
	return &d
}

// bent finds where the running sum of differences from the mean is farthest from zero, with enough values on either side.
func bent(values []float64) (at int, bend float64) {
	mean, sum := stat.Mean(values, nil), 0.0
	for i, v := range values {
		if i >= sideLeast && i <= len(values)-sideLeast && abs(sum) > bend {
			at, bend = i, abs(sum)
		}
		sum += v - mean
	}
	if at == 0 {
		at = len(values) / 2
	}
	return at, bend
}

// cause tests one thing: whether its mix changed with the drift, whether its kinds take different times, and how much of the drift is left when each kind is compared with itself.
func cause(values []Timed, at int, what string, drift float64) (Cause, bool) {
	before, after := map[string][]float64{}, map[string][]float64{}
	for i, v := range values {
		side := before
		if i >= at {
			side = after
		}
		side[v.Of[what]] = append(side[v.Of[what]], v.Value)
	}
	counts := func(by map[string][]float64) map[string]int {
		n := map[string]int{}
		for kind, list := range by {
			n[kind] = len(list)
		}
		return n
	}
	c := Cause{What: what}
	_, c.Changed = Mixed(counts(before), counts(after))
	if c.Changed > tested {
		return c, false
	}
	// Kinds on both sides tell how much each changed by itself; the rest is the change of the mix.
	still, weight, gone := 0.0, 0, 0
	for kind, list := range after {
		if was := before[kind]; len(was) >= kindLeast && len(list) >= kindLeast {
			still += float64(len(list)) * (stat.Mean(list, nil) - stat.Mean(was, nil))
			weight += len(list)
		} else {
			gone += len(list)
		}
	}
	_, c.Matters = Variance(byKind(values, what))
	c.Share = 1
	if weight > gone {
		c.Share = min(max(1-still/float64(weight)/drift, 0), 1)
	}
	c.Words = mixWords(what, counts(before), counts(after))
	return c, c.Matters <= tested && c.Share >= explaining
}

func byKind(values []Timed, what string) [][]float64 {
	by := map[string][]float64{}
	for _, v := range values {
		by[v.Of[what]] = append(by[v.Of[what]], v.Value)
	}
	groups := [][]float64{}
	for _, kind := range sorted(by) {
		groups = append(groups, by[kind])
	}
	return groups
}

func sorted[T any](by map[string]T) []string { return slices.Sorted(maps.Keys(by)) }

// mixWords names the kind whose share grew most.
func mixWords(what string, before, after map[string]int) string {
	totalB, totalA := 0, 0
	for _, n := range before {
		totalB += n
	}
	for _, n := range after {
		totalA += n
	}
	most, rise := "", math.Inf(-1)
	for _, kind := range sorted(after) {
		if r := float64(after[kind])/float64(totalA) - float64(before[kind])/float64(totalB); r > rise {
			most, rise = kind, r
		}
	}
	return fmt.Sprintf("%s: %s in %d of %d since, %d of %d before", what, most, after[most], totalA, before[most], totalB)
}

func (d Drift) words() string {
	text := fmt.Sprintf("Since %s it is %.0f on average, before %.0f.", d.Since.Format("2 Jan"), d.Compared.After, d.Compared.Before)
	if len(d.Causes) == 0 {
		return text + " Nothing that Uskel knows of changed with it: not the version, the people, the product, the weather or the grades. Look at cloths, tools and water."
	}
	for i, c := range d.Causes {
		lead := " Explained by"
		if i > 0 {
			lead = " Also"
		}
		if c.Share >= 0.995 {
			text += fmt.Sprintf("%s %s: all of it, or nothing tells the two apart.", lead, c.Words)
		} else {
			text += fmt.Sprintf("%s %s: %.0f %% of it.", lead, c.Words, 100*c.Share)
		}
	}
	return text
}
