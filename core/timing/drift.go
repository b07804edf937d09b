package timing

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"sync"
	"time"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"uskel/core/stats"
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

// Welch compares the means of two groups whose spreads may differ (Welch's t test; NIST/SEMATECH e-Handbook, 7.3.1).
// Each group needs two values.
func Welch(before, after []float64) (Contrast, error) {
	if len(before) < 2 || len(after) < 2 {
		return Contrast{}, fmt.Errorf(
			"comparing needs at least two values on each side, and there are %d and %d",
			len(before),
			len(after),
		)
	}
	m1, v1 := stat.MeanVariance(before, nil)
	m2, v2 := stat.MeanVariance(after, nil)
	e1, e2 := v1/float64(len(before)), v2/float64(len(after))
	c := Contrast{
		Before:     m1,
		After:      m2,
		NBefore:    len(before),
		NAfter:     len(after),
		Difference: m2 - m1,
		Low:        m2 - m1,
		High:       m2 - m1,
		P:          1,
	}
	if e1+e2 == 0 {
		if m1 != m2 {
			c.P = 0
		}
		return c, nil
	}
	t := distuv.StudentsT{
		Mu:    0,
		Sigma: 1,
		Nu:    (e1 + e2) * (e1 + e2) / (e1*e1/float64(len(before)-1) + e2*e2/float64(len(after)-1)),
	}
	unsure := math.Sqrt(e1 + e2)
	half := t.Quantile(0.975) * unsure
	c.Low, c.High = c.Difference-half, c.Difference+half
	c.P = 2 * t.CDF(-abs(c.Difference/unsure))
	return c, nil
}

// Words says what the comparison shows.
func (c Contrast) Words() string {
	if c.P >= tested {
		return fmt.Sprintf(
			"%.0f before, %.0f after: no difference that chance could not make (%d and %d washes).",
			c.Before,
			c.After,
			c.NBefore,
			c.NAfter,
		)
	}
	way := "more"
	if c.Difference < 0 {
		way = "less"
	}
	return fmt.Sprintf(
		"%.0f before, %.0f after: %.0f %s, between %.0f and %.0f (%d and %d washes).",
		c.Before,
		c.After,
		abs(c.Difference),
		way,
		min(abs(c.Low), abs(c.High)),
		max(abs(c.Low), abs(c.High)),
		c.NBefore,
		c.NAfter,
	)
}

// Variance is the chance that groups differ as they do if their means were the same: one-way analysis of variance
// (NIST/SEMATECH e-Handbook, 7.4.3). It gives 1 when there is nothing to compare.
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

// Mixed is the chance that two mixes differ as they do if they were drawn alike: Pearson's chi-square test of a table
// of counts (NIST/SEMATECH e-Handbook, 7.4.5).
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
	P        float64   `json:"p" doc:"chance of such a bend if nothing had changed, by reordering (bend.go)"`
	Causes   []Cause   `json:"causes" doc:"what explains it, most first"`
	Words    string    `json:"words"`
}

// Kind is a kind of a thing: one person, one product, one version. Things go by their ids, and are told by the names
// they have now.
type Kind struct{ ID, Name string }

// Timed is a value with what may explain it: its kind of a thing, as of "person" or "product".
type Timed struct {
	At    time.Time
	Value float64
	Of    func(thing string) Kind
}

const (
	sideLeast  = 8    // values on each side of a change
	kindLeast  = 4    // values of one kind on each side, or it is taken to have come or gone with the change
	certain    = 0.01 // chance under which a change of a series looked at by itself is told
	pageRate   = 0.05 // of a page's series: where nothing changed in any of them, the chance that one is told of all the same
	tested     = 0.05 // chance under which a cause is told
	explaining = 0.2  // share under which a cause is not worth telling
)

// FindDrift looks for the moment from which one series runs otherwise, and for what changed then. Nil when there are
// too few values or nothing changed.
func FindDrift(values []Timed, things []string, seed int64) *Drift {
	b := findBend(values, seed)
	if b.p > certain {
		return nil
	}
	return b.drift(values, things)
}

// FindDrifts looks at all series of a page at once: of those that are told no more than pageRate are expected to be
// false, however many the page has (stats.Discoveries). There is one answer for each series, nil where nothing is
// told.
func FindDrifts(page [][]Timed, things []string, seed int64) []*Drift {
	bends, chances := make([]bend, len(page)), make([]float64, len(page))
	var looks sync.WaitGroup
	for i, values := range page {
		looks.Go(func() {
			bends[i] = findBend(values, seed+int64(i))
			chances[i] = bends[i].p
		})
	}
	looks.Wait()
	drifts := make([]*Drift, len(page))
	for i, told := range stats.Discoveries(chances, pageRate) {
		if told {
			drifts[i] = bends[i].drift(page[i], things)
		}
	}
	return drifts
}

// drift tells a bend with its causes.
func (b bend) drift(values []Timed, things []string) *Drift {
	numbers := numbersOf(values)
	compared, err := Welch(numbers[:b.at], numbers[b.at:])
	if err != nil {
		return nil
	}
	d := Drift{
		Since:    values[b.at].At,
		P:        b.p,
		Compared: compared.chosen(numbers[:b.at], numbers[b.at:], b.wide),
		Causes:   []Cause{},
	}
	for _, what := range things {
		if c, tells := cause(values, b.at, what, d.Compared.Difference); tells {
			d.Causes = append(d.Causes, c)
		}
	}
	slices.SortStableFunc(d.Causes, func(a, b Cause) int { return cmp.Compare(b.Share, a.Share) })
	d.Words = d.words()
	return &d
}

func numbersOf(values []Timed) []float64 {
	numbers := make([]float64, len(values))
	for i, v := range values {
		numbers[i] = v.Value
	}
	return numbers
}

// chosen widens the interval of a difference whose moment was chosen because it is large: an interval for all moments
// at once holds for the one that was chosen, too.
func (c Contrast) chosen(before, after []float64, wide float64) Contrast {
	_, v1 := stat.MeanVariance(before, nil)
	_, v2 := stat.MeanVariance(after, nil)
	half := wide * math.Sqrt(v1/float64(len(before))+v2/float64(len(after)))
	c.Low, c.High = min(c.Low, c.Difference-half), max(c.High, c.Difference+half)
	return c
}

// cause tests one thing: whether its mix changed with the drift, whether its kinds take different times, and how much
// of the drift is left when each kind is compared with itself.
func cause(values []Timed, at int, what string, drift float64) (Cause, bool) {
	before, after, names := map[string][]float64{}, map[string][]float64{}, map[string]string{}
	for i, v := range values {
		side := before
		if i >= at {
			side = after
		}
		kind := v.Of(what)
		side[kind.ID] = append(side[kind.ID], v.Value)
		names[kind.ID] = kind.Name // the name it has now
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
	c.Words = mixWords(what, counts(before), counts(after), names)
	return c, c.Matters <= tested && c.Share >= explaining
}

func byKind(values []Timed, what string) [][]float64 {
	by := map[string][]float64{}
	for _, v := range values {
		by[v.Of(what).ID] = append(by[v.Of(what).ID], v.Value)
	}
	groups := [][]float64{}
	for _, kind := range sorted(by) {
		groups = append(groups, by[kind])
	}
	return groups
}

func sorted[T any](by map[string]T) []string { return slices.Sorted(maps.Keys(by)) }

// mixWords names the kind whose share grew most.
func mixWords(what string, before, after map[string]int, names map[string]string) string {
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
	return fmt.Sprintf(
		"%s: %s in %d of %d since, %d of %d before",
		what,
		names[most],
		after[most],
		totalA,
		before[most],
		totalB,
	)
}

func (d Drift) words() string {
	text := fmt.Sprintf(
		"Since %s it is %.0f on average, before %.0f.",
		d.Since.Format("2 Jan"),
		d.Compared.After,
		d.Compared.Before,
	)
	if len(d.Causes) == 0 {
		return text + " Nothing that Uskel knows of changed with it: not the version, the people, the product, " +
			"the weather or the grades. Look at cloths, tools and water."
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
