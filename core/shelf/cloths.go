package shelf

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"uskel/core/procedure"
)

// ClothStock is a set of cloths that the shop has: what it is, how the shop marks it, how many there are, and since when.
type ClothStock struct {
	ID, Kind, Colour string
	Count            int
	Since            time.Time
}

// SetFor is the set that a step's cloths come from: for the same purpose, of the kind that it names where there are several, else the
// newest. What a cloth is for is the trade's; what colour it has is the shop's.
func SetFor(cloth, colour string, sets []ClothStock) (ClothStock, bool) {
	fit := slices.DeleteFunc(slices.Clone(sets), func(s ClothStock) bool {
		return procedure.ClothPurpose(s.Colour) != procedure.ClothPurpose(colour)
	})
	if colour == "" || len(fit) == 0 {
		return ClothStock{}, false
	}
	named := func(s ClothStock) int {
		if strings.Contains(strings.ToLower(cloth), strings.ToLower(s.Kind)) {
			return 1
		}
		return 0
	}
	return slices.MaxFunc(fit, func(a, b ClothStock) int {
		return cmp.Or(cmp.Compare(named(a), named(b)), a.Since.Compare(b.Since))
	}), true
}
