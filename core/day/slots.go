package day

import (
	"cmp"
	"slices"
	"time"
)

// SlotWorth is what a slot for a booking is judged by.
type SlotWorth struct {
	Who   string    // whoever would wash it, by id
	Pain  int       // minutes after the promise, and by which others are done later, together
	Ready time.Time // when it would be ready
}

// slotsProposed is how many slots are proposed: more are not compared by anybody.
const slotsProposed = 3

// BestSlots are the slots that hurt promises least, then those ready first. Slots with different people come before a
// second one with the same: who chooses wants a choice.
func BestSlots[T comparable](found []T, worth func(T) SlotWorth) []T {
	sorted := slices.Clone(found)
	slices.SortStableFunc(sorted, func(a, b T) int {
		x, y := worth(a), worth(b)
		return cmp.Or(cmp.Compare(x.Pain, y.Pain), x.Ready.Compare(y.Ready))
	})
	best := []T{}
	for _, s := range sorted {
		taken := slices.ContainsFunc(best, func(b T) bool { return worth(b).Who == worth(s).Who })
		if !taken && len(best) < slotsProposed {
			best = append(best, s)
		}
	}
	for _, s := range sorted {
		if len(best) < slotsProposed && !slices.Contains(best, s) {
			best = append(best, s)
		}
	}
	return best
}
