package timing

import (
	"cmp"
	"slices"
)

// turns puts stages or steps that come from washes of different kinds into one order: by how far through their wash
// they come, in the mean.
type turns struct {
	names []string
	sum   map[string]float64
	n     map[string]float64
}

// met notes that something came as the i-th of so many.
func (t *turns) met(name string, i, of int) {
	if t.sum == nil {
		t.sum, t.n = map[string]float64{}, map[string]float64{}
	}
	if t.n[name] == 0 {
		t.names = append(t.names, name)
	}
	t.sum[name] += (float64(i) + 0.5) / float64(of)
	t.n[name]++
}

// order lists what was met.
func (t *turns) order() []string {
	slices.SortStableFunc(t.names, func(a, b string) int { return cmp.Compare(t.sum[a]/t.n[a], t.sum[b]/t.n[b]) })
	return t.names
}
