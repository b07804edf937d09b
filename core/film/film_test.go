package film

import (
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/climate"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// always is a film that stays wet so long everywhere.
func always(s measure.Seconds) Window {
	return func(vehicle.Zone, climate.Film, measure.Seconds) measure.Seconds { return s }
}

func outside() []vehicle.Part {
	return slices.DeleteFunc(vehicle.Hatch.Parts(), func(p vehicle.Part) bool { return height(p) == 0 || p.Band == vehicle.InShut })
}

func foamAndRinse(on, off []Leg, d1, lag, d2 measure.Seconds, coat Coat) []Act {
	return []Act{
		{ID: "foam", Start: 0, End: d1, Route: on, On: &coat},
		{ID: "rinse", Start: d1 + lag, End: d1 + lag + d2, Route: off, Off: []string{"foam"}},
	}
}

// The definition of docs/models.md: with L from the end of the first to the start of the second and d1, d2 how long they
// last, the same route waits L + d1 where it begins and L + d2 where it ends; opposite routes wait L + d1 + d2 at the
// longest and L at the shortest.
func TestWaitsByRoute(t *testing.T) {
	const d1, lag, d2 = 120, 300, 180
	coat := Coat{Film: climate.FoamFilm, Product: true}
	parts := outside()
	waits := func(on, off []Leg) (longest, shortest measure.Seconds, by map[vehicle.Zone]Wait) {
		by, shortest = map[vehicle.Zone]Wait{}, 1<<30
		for _, w := range Check(foamAndRinse(on, off, d1, lag, d2, coat), always(7200)) {
			by[w.Zone], longest, shortest = w, max(longest, w.Longest), min(shortest, w.Shortest)
			assert.Equal(t, Kept, w.Outcome)
		}
		return longest, shortest, by
	}
	down := Down(parts)
	longest, shortest, by := waits(down, Down(parts))
	first, last := down[0].Zone, down[len(down)-1].Zone
	assert.EqualValues(t, lag+d1, by[first].Shortest, "where it begins: its first spot")
	assert.EqualValues(t, lag+d2, by[last].Longest, "where it ends: its last spot")
	assert.EqualValues(t, lag+d2, longest)
	assert.EqualValues(t, lag+d1, shortest)

	longest, shortest, by = waits(Up(parts), Down(parts))
	assert.EqualValues(t, lag+d1+d2, longest, "foam put on from the bottom and rinsed from the top waits longest there")
	assert.EqualValues(t, lag, shortest)
	assert.Equal(t, vehicle.Lower, last.Band())
	assert.Greater(t, by[last].Longest, by[first].Longest)
}

// Each zone has its own window: one side may dry while the other is kept.
func TestEachZoneHasItsOwnWindow(t *testing.T) {
	sunny := func(z vehicle.Zone, _ climate.Film, _ measure.Seconds) measure.Seconds {
		if z == vehicle.UpperLeft || z == vehicle.LowerLeft {
			return 300
		}
		return 1500
	}
	parts := outside()
	acts := foamAndRinse(Down(parts), Down(parts), 120, 300, 180, Coat{Film: climate.FoamFilm, Product: true, Most: 900})
	for _, w := range Check(acts, sunny) {
		left := w.Zone == vehicle.UpperLeft || w.Zone == vehicle.LowerLeft
		assert.Equal(t, left, w.Outcome == Dried, "%s", w.Zone)
		if left {
			assert.Equal(t, w.Longest-300, w.By, "by what it misses")
		}
	}
}

// The outcomes besides, each by its rule: the label, the least dwell, what is wetted again, what nothing takes off.
func TestOutcomes(t *testing.T) {
	parts := outside()
	coat := Coat{Film: climate.FoamFilm, Product: true, Least: 240, Most: 600}
	outcome := func(lag measure.Seconds, window measure.Seconds, more ...Act) map[Outcome]int {
		acts := append(foamAndRinse(Down(parts), Down(parts), 60, lag, 60, coat), more...)
		n := map[Outcome]int{}
		for _, w := range Check(acts, always(window)) {
			n[w.Outcome]++
		}
		return n
	}
	all := len(parts)
	assert.Equal(t, map[Outcome]int{Kept: all}, outcome(300, 700))
	assert.Equal(t, map[Outcome]int{TooSoon: all}, outcome(60, 700))
	assert.Equal(t, map[Outcome]int{OverLabel: all}, outcome(900, 7200))
	assert.Equal(t, map[Outcome]int{Dried: all}, outcome(500, 300))
	for _, w := range Check(foamAndRinse(Down(parts), Down(parts), 60, 900, 60, coat), always(7200)) {
		assert.InDelta(t, float64(960-w.By), float64(w.At), 61, "when its label ends, while the rinse comes round")
		assert.Less(t, w.At, measure.Seconds(60+900+60))
	}
	mist := Act{ID: "mist", Start: 300, End: 360, Route: Down(parts), Wets: []string{"foam"}}
	assert.Equal(t, map[Outcome]int{Kept: all}, outcome(500, 320, mist), "wetted again in time")
	assert.Equal(t, map[Outcome]int{OverLabel: all}, outcome(900, 1000, mist), "the label goes on")
	late := mist
	late.Start, late.End = 480, 540
	assert.Equal(t, map[Outcome]int{Dried: all}, outcome(500, 320, late), "it had dried by then")
	alone := []Act{{ID: "foam", End: 60, Route: Down(parts), On: &coat}}
	for _, w := range Check(alone, always(7200)) {
		assert.Equal(t, LeftOn, w.Outcome)
	}
}

// A coat that another is put over stays wet with that one: the thicker film dries later.
func TestWhatIsCoveredDriesWithItsCover(t *testing.T) {
	parts := outside()
	thick := func(_ vehicle.Zone, f climate.Film, _ measure.Seconds) measure.Seconds {
		if f == climate.FoamFilm {
			return 600
		}
		return 200
	}
	soak := Act{ID: "soak", End: 60, Route: Down(parts), On: &Coat{Film: climate.SprayFilm, Product: true}}
	foam := Act{ID: "foam", Start: 150, End: 210, Route: Down(parts), On: &Coat{Film: climate.FoamFilm, Product: true},
		Wets: []string{"soak"}}
	rinse := Act{ID: "rinse", Start: 600, End: 660, Route: Down(parts), Off: []string{"soak", "foam"}}
	for _, w := range Check([]Act{soak, foam, rinse}, thick) {
		assert.Equal(t, Kept, w.Outcome, "%s on the %s", w.On, w.Zone)
	}
	foam.Wets = nil
	for _, w := range Check([]Act{soak, foam, rinse}, thick) {
		assert.Equal(t, w.On == "soak", w.Outcome == Dried, "%s on the %s", w.On, w.Zone)
	}
}

// In sections no part of a film waits longer than whole, and a taking-off in two parts is met by the part that comes to
// the zone.
func TestSectionsWaitLess(t *testing.T) {
	parts := outside()
	half := len(parts) / 2
	coat := Coat{Film: climate.FoamFilm, Product: true}
	whole := Check(foamAndRinse(Down(parts), Down(parts), 240, 60, 240, coat), always(7200))
	var acts []Act
	for k, of := range [][]vehicle.Part{parts[:half], parts[half:]} {
		start := measure.Seconds(k) * 300
		id := []string{"a", "b"}[k]
		acts = append(acts,
			Act{ID: "on " + id, Start: start, End: start + 120, Route: Down(of), On: &coat},
			Act{ID: "off " + id, Start: start + 180, End: start + 300, Route: Down(of), Off: []string{"on a", "on b"}})
	}
	longest := func(waits []Wait) measure.Seconds {
		most := measure.Seconds(0)
		for _, w := range waits {
			most = max(most, w.Longest)
		}
		return most
	}
	parted := Check(acts, always(7200))
	require.Len(t, parted, len(parts))
	assert.Less(t, longest(parted), longest(whole))
	for _, w := range parted {
		assert.Equal(t, w.On[3:], w.Off[4:], "each part is taken off by its own")
	}
}

// On many random layouts: a longer window never makes anything worse, a later start of the taking-off never shortens a
// wait, and what is wetted again more often never dries sooner.
func TestTheClockIsMonotone(t *testing.T) {
	parts := outside()
	for seed := range int64(300) {
		rng := rand.New(rand.NewSource(seed))
		span := func(n int) measure.Seconds { return measure.Seconds(30 + rng.Intn(n)) }
		routes := [][]Leg{Down(parts), Up(parts)}
		d1, lag, d2, window := span(300), span(900), span(300), span(1200)
		acts := foamAndRinse(routes[rng.Intn(2)], routes[rng.Intn(2)], d1, lag, d2, Coat{Film: climate.FoamFilm, Product: true})
		was := Check(acts, always(window))
		wider := Check(acts, always(window+span(300)))
		later := slices.Clone(acts)
		more := span(300)
		later[1].Start, later[1].End = later[1].Start+more, later[1].End+more
		moved := Check(later, always(window))
		mist := Act{ID: "mist", Start: d1, End: d1 + lag, Route: routes[rng.Intn(2)], Wets: []string{"foam"}}
		wetted := Check(append(slices.Clone(acts), mist), always(window))
		for i, w := range was {
			assert.LessOrEqual(t, wider[i].By, w.By, "seed %d, %s: a longer window", seed, w.Zone)
			assert.Equal(t, w.Longest+more, moved[i].Longest, "seed %d, %s: begun later", seed, w.Zone)
			assert.LessOrEqual(t, wetted[i].Unwetted-wetted[i].Window, max(w.Unwetted-w.Window, 0), "seed %d, %s: wetted", seed, w.Zone)
		}
	}
}
