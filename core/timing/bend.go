package timing

import (
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat"

	"uskel/core/stats"
)

// A bend is where the running sum of differences from the mean lies farthest out: from there on a series runs
// otherwise, if it changed at all. How sure that is comes from putting the series in other orders, as it might have
// come if nothing had changed.
//
// Washes do not come in any order: one person has the yard for a week, then another, who is slower. Putting single
// washes in any order would take such shifts for changes. So two questions are asked apart. Did the work change: each
// person's washes, measured against that person's own mean, are put in other orders among themselves, whoever washed
// when. And did the whole change, people and all: whole shifts are put in other orders, as long as the people's own
// order is alike from one wash to the next. The smaller chance counts, doubled for having asked twice (Bonferroni).
type bend struct {
	at   int     // the first value of the new run
	p    float64 // chance of such a bend if nothing had changed; 1 when nothing can be said
	wide float64 // standard errors to either side of a difference that hold for all moments at once, 95 %
}

const (
	reorders    = 1999 // orders tried
	enough      = 40   // orders that bend as far after which it is plain that nothing will be told
	mostBent    = 400  // values looked at one by one; of more, means of some in a row
	blocksLeast = 8    // shifts that there must be to put them in other orders
)

// findBend finds the bend of a series.
func findBend(values []Timed, seed int64) bend {
	none := bend{p: 1}
	if len(values) < 2*sideLeast {
		return none
	}
	numbers, who := numbersOf(values), make([]string, len(values))
	for i, v := range values {
		who[i] = v.Of("person").ID
	}
	own := ownDifferences(numbers, who)
	people := len(membersOf(who))
	factor := 1
	if len(values) > mostBent {
		factor = (len(values) + mostBent - 1) / mostBent
		numbers, own = meansOf(numbers, factor), meansOf(own, factor)
		who = make([]string, len(own)) // a mean of some washes is nobody's
	}
	dice := rand.New(rand.NewPCG(uint64(seed), uint64(len(values))))
	members := membersOf(who)
	work := tryOrders(own, func(mixed []float64) { shuffleWithin(mixed, members, dice) })
	best := work
	if people > 1 {
		whole := none
		if length := shiftLength(numbers, own); len(numbers)/length >= blocksLeast {
			whole = tryOrders(numbers, func(mixed []float64) { shuffleBlocks(mixed, length, dice) })
		}
		if whole.p < work.p {
			best = whole
		}
		best.p = min(1, 2*best.p)
	}
	best.at = min(max(best.at*factor, sideLeast), len(values)-sideLeast)
	return best
}

// ownDifferences are the values less the mean of whoever made them.
func ownDifferences(numbers []float64, who []string) []float64 {
	sums, counts := map[string]float64{}, map[string]float64{}
	for i, v := range numbers {
		sums[who[i]] += v
		counts[who[i]]++
	}
	own := make([]float64, len(numbers))
	for i, v := range numbers {
		own[i] = v - sums[who[i]]/counts[who[i]]
	}
	return own
}

// membersOf are the places of each person's values, in the order in which people first come.
func membersOf(who []string) [][]int {
	index, members := map[string]int{}, [][]int{}
	for i, w := range who {
		k, known := index[w]
		if !known {
			k = len(members)
			index[w], members = k, append(members, nil)
		}
		members[k] = append(members[k], i)
	}
	return members
}

func meansOf(values []float64, factor int) []float64 {
	means := make([]float64, 0, len(values)/factor+1)
	for from := 0; from < len(values); from += factor {
		means = append(means, stat.Mean(values[from:min(from+factor, len(values))], nil))
	}
	return means
}

// tryOrders finds the bend of some values and how often other orders bend as far.
func tryOrders(values []float64, mix func([]float64)) bend {
	at, far := bent(values)
	mixed, more := slices.Clone(values), 0
	farthest := make([]float64, 0, reorders)
	mean, weights := stat.Mean(values, nil), weightsOf(values)
	for range reorders {
		mix(mixed)
		other, steepest := reach(mixed, mean, weights)
		if other >= far {
			more++
		}
		farthest = append(farthest, steepest)
		if more == enough { // Besag and Clifford, Sequential Monte Carlo p-values (1991)
			break
		}
	}
	p := float64(more+1) / float64(reorders+1)
	if more == enough {
		p = float64(more) / float64(len(farthest))
	}
	slices.Sort(farthest)
	return bend{at, p, stats.Quantile(0.95, farthest)}
}

// bent finds where the running sum of differences from the mean is farthest from zero, with enough values on either
// side.
func bent(values []float64) (at int, far float64) {
	mean, sum := stat.Mean(values, nil), 0.0
	for i, v := range values {
		if i >= sideLeast && i <= len(values)-sideLeast && abs(sum) > far {
			at, far = i, abs(sum)
		}
		sum += v - mean
	}
	if at == 0 {
		at = len(values) / 2
	}
	return at, far
}

// weightsOf are what turns a running sum at each place into standard errors of the difference between what comes
// before and after, if the values came in any order; 0 where too few come on one side.
func weightsOf(values []float64) []float64 {
	n := float64(len(values))
	sd := stat.StdDev(values, nil)
	weights := make([]float64, len(values))
	for i := range weights {
		if i >= sideLeast && i <= len(values)-sideLeast && sd > 0 {
			weights[i] = 1 / (sd * math.Sqrt(float64(i)*(n-float64(i))/n))
		}
	}
	return weights
}

// reach is how far the running sum of differences from the mean gets from zero, and how far in standard errors.
func reach(values []float64, mean float64, weights []float64) (far, steepest float64) {
	sum := 0.0
	for i, v := range values {
		if weights[i] > 0 {
			out := abs(sum)
			far, steepest = max(far, out), max(steepest, out*weights[i])
		}
		sum += v - mean
	}
	return far, steepest
}

// shuffleWithin puts each person's values in another order.
func shuffleWithin(values []float64, members [][]int, dice *rand.Rand) {
	for _, places := range members {
		for i := len(places) - 1; i > 0; i-- {
			k := dice.IntN(i + 1)
			values[places[i]], values[places[k]] = values[places[k]], values[places[i]]
		}
	}
}

// shuffleBlocks puts stretches of values in another order, beginning anywhere.
func shuffleBlocks(values []float64, length int, dice *rand.Rand) {
	n := len(values)
	turned := make([]float64, n)
	from := dice.IntN(n)
	copy(turned, values[from:])
	copy(turned[n-from:], values[:from])
	blocks := (n + length - 1) / length
	at := 0
	for _, b := range dice.Perm(blocks) {
		at += copy(values[at:], turned[b*length:min((b+1)*length, n)])
	}
}

// shiftLength is over how many washes the people's own order is alike: from the autocorrelation of what is each one's
// mean, once the bend is taken out of it, as a lasting change is no shift. One, where people come in any order.
func shiftLength(numbers, own []float64) int {
	effect := make([]float64, len(numbers))
	for i := range numbers {
		effect[i] = numbers[i] - own[i]
	}
	at, _ := bent(effect)
	for _, side := range [][]float64{effect[:at], effect[at:]} {
		mean := stat.Mean(side, nil)
		for i := range side {
			side[i] -= mean
		}
	}
	n, all := len(effect), 0.0
	for _, e := range effect {
		all += e * e
	}
	if all < 1e-12 {
		return 1
	}
	span := 1.0
	for lag := 1; lag < n/2; lag++ {
		sum := 0.0
		for i := lag; i < n; i++ {
			sum += effect[i] * effect[i-lag]
		}
		if r := sum / all; r > 2/math.Sqrt(float64(n)) {
			span += 2 * r
		} else {
			break
		}
	}
	if span < 1.5 {
		return 1
	}
	return int(math.Ceil(1.5 * span))
}
