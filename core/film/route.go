package film

import (
	"slices"

	"uskel/core/vehicle"
)

// Down is a route over some zones of a vehicle from the top downward, each taking its part of the time by its area. Down
// and up are the routes of rinses, foam and cleaners (common practice, no source).
func Down(parts []vehicle.Part) []Leg {
	sorted := slices.Clone(parts)
	slices.SortStableFunc(sorted, func(a, b vehicle.Part) int { return height(b) - height(a) })
	total := 0.0
	for _, p := range sorted {
		total += p.Area
	}
	legs, so := make([]Leg, 0, len(sorted)), 0.0
	for _, p := range sorted {
		if total <= 0 {
			break
		}
		from := so / total
		so += p.Area
		legs = append(legs, Leg{Zone: p.Zone, From: from, To: so / total})
	}
	return legs
}

// Up is the same route from its end, from the bottom upward.
func Up(parts []vehicle.Part) []Leg {
	up := Down(parts)
	slices.Reverse(up)
	for i, leg := range up {
		up[i].From, up[i].To, up[i].Back = 1-leg.To, 1-leg.From, true
	}
	return up
}

// height orders the bands from the ground up.
func height(p vehicle.Part) int {
	switch p.Band {
	case vehicle.Upper:
		return 3
	case vehicle.Middle:
		return 2
	case vehicle.Lower:
		return 1
	}
	return 0
}
