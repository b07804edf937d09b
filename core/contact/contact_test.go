package contact

import (
	"math"
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/measure"
	"uskel/core/vehicle"
)

var ordinary = Lacquer{55, 2500}

// prewash is what the handbook asks for by grade: foam and rinse, citrus from grade 3, a rinse before
// foam at grade 4.
func prewash(g Grade) []Act {
	acts := []Act{Foam, JetRinse}
	if g >= 3 {
		acts = append(acts, Citrus)
	}
	if g == 4 {
		acts = append(acts, JetRinse)
	}
	return acts
}

// midSize is a car of the handbook's areas, its lower bands one grade worse.
func midSize(g Grade, acts func(Grade) []Act) []Patch {
	var patches []Patch
	for _, p := range vehicle.Hatch.Parts() {
		touched := p.Zone.Painted() || p.Surface == vehicle.Glass
		if !touched || p.Band == vehicle.Wheels {
			continue
		}
		grade := g
		if p.Band == vehicle.Lower {
			grade = min(g+1, Worst)
		}
		patches = append(
			patches,
			Patch{p.Zone, p.Band, p.Area / 0.85, grade, SoilOf(grade).AfterAll(acts(grade)...).All()},
		)
	}
	return patches
}

// Trial values of docs/models.md (model).
func TestGritLeftByThePrewash(t *testing.T) {
	assert.InDelta(t, 98, SoilOf(1).AfterAll(Foam, JetRinse).All(), 1)
	assert.InDelta(t, 270, SoilOf(2).AfterAll(Foam, JetRinse).All(), 1)
	assert.InDelta(t, 244, SoilOf(3).AfterAll(Citrus, Foam, JetRinse).All(), 1)
	assert.InDelta(t, 4170, SoilOf(3).AfterAll(HoseRinse).All(), 1)
}

// A rinse takes 80 to 85 %, foam and rinse about 90 % and more, a hose about 70 %: common practice, no source.
func TestPrewashTakesWhatTheTradeSays(t *testing.T) {
	for g := Grade(1); g <= 3; g++ {
		all := SoilOf(g).All()
		taken := func(acts ...Act) float64 { return 1 - SoilOf(g).AfterAll(acts...).All()/all }
		assert.InDelta(t, 0.85, taken(JetRinse), 0.035, "jet at grade %d", g)
		assert.InDelta(t, 0.945, taken(Foam, JetRinse), 0.03, "foam and jet at grade %d", g)
		assert.InDelta(t, 0.70, taken(HoseRinse), 0.03, "hose at grade %d", g)
	}
}

// Two panels per rinse when light, half a bonnet a face when heavy; 7, 11 and 12 rinses; index 10 to
// 13: the calibration of docs/models.md. Common practice, no source.
func TestPlanMatchesTheTrade(t *testing.T) {
	for _, c := range []struct {
		grade   Grade
		perFace float64
		rinses  int
	}{{1, 1.6, 7}, {2, 0.59, 11}, {3, 0.65, 12}} {
		plan, err := Make(Mitt, ordinary, midSize(c.grade, prewash), false)
		require.NoError(t, err)
		assert.InDelta(t, c.perFace, plan.PerFace, 0.03, "m2 a face at grade %d", c.grade)
		assert.InDelta(t, c.rinses, plan.Rinses, 1.5, "rinses at grade %d", c.grade)
		assert.InDelta(t, 11.5, plan.Index, 2.5, "mar index at grade %d", c.grade)
	}
	assert.InDelta(t, 2*vehicle.PanelArea, Mitt.reach(Face{}, 98, 20, 55), 0.05, "two panels a face when light")
	assert.InDelta(t, 1.4/2, Mitt.reach(Face{}, 244, 20, 55), 0.06, "half a bonnet a face when heavy")
}

func TestHoseAloneAtGradeTwoIsSentToAPrewash(t *testing.T) {
	_, err := Make(Mitt, ordinary, midSize(2, func(Grade) []Act { return []Act{HoseRinse} }), false)
	assert.ErrorContains(t, err, "pre-wash first")
	_, err = Make(Mitt, ordinary, midSize(4, func(Grade) []Act { return nil }), false)
	assert.ErrorContains(t, err, "pre-wash first")
}

func TestNeverRinsingRuinsThePaint(t *testing.T) {
	neverRinsed := func(cloth Cloth, g Grade) float64 {
		s := Start(cloth, ordinary, order(midSize(g, prewash)))
		for _, p := range s.Patches {
			a, err := s.Make(Move{Kind: WashZone, Zone: p.Zone, Share: 1})
			require.NoError(t, err)
			s = a.State
		}
		return s.Index()
	}
	plan, err := Make(Mitt, ordinary, midSize(1, prewash), false)
	require.NoError(t, err)
	assert.Greater(t, neverRinsed(Mitt, 1), 80.0)
	assert.Greater(t, neverRinsed(Mitt, 2), 98.0)
	assert.GreaterOrEqual(t, neverRinsed(PlainSponge, 1), neverRinsed(Mitt, 1), "a plain sponge is worse")
	assert.Less(t, plan.Index, 15.0)
}

// replay checks a plan against the model: no face ever passes the limit, every zone is done.
func replay(t *testing.T, plan Plan, cloth Cloth, l Lacquer, patches []Patch) State {
	t.Helper()
	s := Start(cloth, l, patches)
	for _, m := range plan.Moves {
		a, err := s.Make(m)
		require.NoError(t, err)
		require.False(t, a.Over, "a plan never passes the paint's limit: %s", a.Why)
		s = a.State
	}
	require.True(t, s.Finished())
	return s
}

func randomCar(rng *rand.Rand) []Patch {
	base := Grade(rng.Intn(4))
	patches := midSize(base, prewash)
	for i := range patches {
		patches[i].Area *= 0.8 + 0.5*rng.Float64()
		patches[i].Grit *= 0.5 + rng.Float64()
	}
	return patches
}

func TestPlansKeepTheLimitOnAnyCar(t *testing.T) {
	rng := rand.New(rand.NewSource(2))
	for range 200 {
		patches := randomCar(rng)
		l := []Lacquer{ordinary, {35, 1500}, {80, 4000}}[rng.Intn(3)]
		cloth := []Cloth{Mitt, Pad, SplitSponge}[rng.Intn(3)]
		plan, err := Make(cloth, l, patches, rng.Intn(2) == 0)
		if err == nil {
			end := replay(t, plan, cloth, l, patches)
			assert.InDelta(t, plan.Index, end.Index(), 1e-9)
			assert.Equal(t, len(plan.Moves), len(plan.Reasons))
		}
	}
}

func TestBetterPrewashIsNeverWorse(t *testing.T) {
	rng := rand.New(rand.NewSource(3))
	for range 150 {
		dirty := randomCar(rng)
		clean := slices.Clone(dirty)
		for i := range clean {
			clean[i].Grit *= 0.6
		}
		moves, err := Make(Mitt, ordinary, dirty, false)
		require.NoError(t, err)
		better, err := Make(Mitt, ordinary, clean, false)
		require.NoError(t, err)
		assert.LessOrEqual(t, better.Rinses, moves.Rinses, "the plan needs no more rinses")
		same := replay(t, moves, Mitt, ordinary, clean)
		assert.LessOrEqual(t, same.Drag, moves.Drag, "the same moves drag no more grit")
		assert.LessOrEqual(t, same.Left, moves.Left)
	}
}

// A plan that leaves a last sliver of a zone must still end: what a face has room for and what is left may differ by
// rounding alone.
func TestNoCarIsRefusedForRounding(t *testing.T) {
	rng := rand.New(rand.NewSource(6))
	for range 3000 {
		_, err := Make(Mitt, ordinary, randomCar(rng), false)
		require.NoError(t, err)
	}
}

// A thousandth is allowed for: the rinse water brings a little back to a face that was still clean.
func TestAnExtraRinseIsNeverWorse(t *testing.T) {
	rng := rand.New(rand.NewSource(4))
	for range 1500 {
		patches := randomCar(rng)
		plan, err := Make(Mitt, ordinary, patches, false)
		require.NoError(t, err)
		at := 1 + rng.Intn(len(plan.Moves)-1)
		if plan.Moves[at-1].Kind != WashZone { // a mitt straight from the bucket has nothing to rinse out
			continue
		}
		with := slices.Insert(slices.Clone(plan.Moves), at, Move{Kind: RubGuard}, Move{Kind: Reload})
		extra := Start(Mitt, ordinary, patches)
		for _, m := range with {
			a, err := extra.Make(m)
			require.NoError(t, err)
			extra = a.State
		}
		assert.LessOrEqual(t, extra.Drag, plan.Drag*1.001)
	}
}

// burden takes the two results of a wash together: marks made and grit left. A gram left on the car
// weighs as the drag of a grade 1 panel (for this comparison only).
func burden(s State) float64 { return s.Drag + s.Left }

func TestLowerBandLastIsNeverWorse(t *testing.T) {
	rng := rand.New(rand.NewSource(5))
	play := func(patches []Patch, sequence []Patch) State {
		b := builder{state: Start(Mitt, ordinary, patches)}
		for _, p := range sequence {
			require.NoError(t, b.cover(p))
			b.rinse("between zones, so that only the order differs")
		}
		return b.state
	}
	for range 100 {
		patches := randomCar(rng)
		proper := order(patches)
		shuffled := slices.Clone(patches)
		rng.Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
		a, b := play(patches, proper), play(patches, shuffled)
		assert.LessOrEqual(t, burden(a), burden(b)*(1+1e-9))
		assert.LessOrEqual(t, a.Left, b.Left+1e-9)
	}
}

func TestTechnique(t *testing.T) {
	s := Start(Mitt, ordinary, midSize(2, prewash))
	drag := func(st Stroke) float64 {
		a, err := s.Make(Move{Kind: WashZone, Zone: vehicle.Bonnet, Share: 0.5, Stroke: st})
		require.NoError(t, err)
		return a.Drag
	}
	straight := drag(Stroke{})
	assert.InDelta(t, 2*straight, drag(Stroke{Circles: true}), 1e-9, "circles are never better than lines")
	assert.InDelta(t, 3*straight, drag(Stroke{Pressing: true}), 1e-9)

	washed, err := s.Make(Move{Kind: WashZone, Zone: vehicle.Bonnet, Share: 0.5})
	require.NoError(t, err)
	rubbed, err := washed.State.Make(Move{Kind: RubGuard})
	require.NoError(t, err)
	swished, err := washed.State.Make(Move{Kind: SwishOnly})
	require.NoError(t, err)
	assert.Less(t, rubbed.State.Face().grit(), swished.State.Face().grit(), "the guard takes more than a swish")
	assert.Equal(t, PoorSlip, rubbed.State.Slip(), "a wrung mitt needs suds")

	dipped, err := washed.State.Make(Move{Kind: Reload})
	require.NoError(t, err)
	assert.Greater(t, dipped.State.Suds, 15.0, "a dirty mitt dirties the wash bucket")

	noGuard := washed.State
	noGuard.Bucket = Bucket{Guard: false, Bottom: 5000, Water: usualWater}
	stirred, err := noGuard.Make(Move{Kind: RubGuard})
	require.NoError(t, err)
	assert.Greater(
		t,
		stirred.State.Face().Exposed,
		rubbed.State.Face().Exposed,
		"without a guard the bottom comes back",
	)
}

func TestMovesThatCannotBeMade(t *testing.T) {
	s := Start(Mitt, ordinary, midSize(1, prewash))
	for _, m := range []Move{
		{Kind: WashZone, Zone: "sunroof", Share: 1}, {Kind: WashZone, Zone: vehicle.Roof, Share: 0},
		{Kind: WashZone, Zone: vehicle.Roof, Share: 1.5}, {Kind: WashZone, Zone: vehicle.Roof, Share: math.NaN()}, {Kind: "polish"},
	} {
		_, err := s.Make(m)
		assert.Error(t, err, "%+v", m)
	}
	a, err := s.Make(Move{Kind: WashZone, Zone: vehicle.Roof, Share: 1})
	require.NoError(t, err)
	assert.Empty(t, s.Done, "the state before the move is untouched")
	_, err = a.State.Make(Move{Kind: WashZone, Zone: vehicle.Roof, Share: 1})
	assert.ErrorContains(t, err, "washed already")
	_, err = Start(PlushTowel, ordinary, nil).Make(Move{Kind: RubGuard})
	assert.ErrorContains(t, err, "not rinsed")
	_, err = Make(Mitt, ordinary, []Patch{{Zone: vehicle.Roof, Area: -1}}, false)
	assert.Error(t, err)
}

// Settling: Ferguson and Church (2004), figure 3 values for natural sand read by hand, from memory:
// 0.1 mm about 7 to 9 mm/s, 1 mm about 0.11 to 0.14 m/s. Small grains follow Stokes: R g D^2 / 18 nu.
func TestSettlingAgainstFergusonAndChurch(t *testing.T) {
	assert.InDelta(t, 0.008, SettlingVelocity(1e-4, 20), 0.0015)
	assert.InDelta(t, 0.125, SettlingVelocity(1e-3, 20), 0.015)
	stokes := 1.65 * 9.81 * 5e-6 * 5e-6 / 18e-6
	assert.InEpsilon(t, stokes, SettlingVelocity(5e-6, 20), 0.02)
	assert.Greater(t, stillUp(10, 20), stillUp(60, 20))
	assert.Greater(t, stillUp(600, 20), 0.0, "the fine tail stays up for many minutes")
	assert.InDelta(t, 1, stillUp(0, 20), 1e-12)
}

// Kinematic viscosity of water, 1e-6 m2/s, as tables of water's properties print it (from memory): 0 degC 1.787, 10
// degC 1.307, 20 degC 1.004, 40 degC 0.658. Fine grit in a bucket of 10 degC sinks at three quarters of its speed at
// 20 degC.
func TestColdWaterLetsGritHang(t *testing.T) {
	for water, want := range map[measure.Celsius]float64{0: 1.787, 10: 1.307, 20: 1.004, 40: 0.658} {
		assert.InEpsilon(t, want, 1e6*viscosity(water), 0.02, "%g degC", water)
	}
	assert.InDelta(t, 0.77, SettlingVelocity(1e-5, 10)/SettlingVelocity(1e-5, 20), 0.01)
	for water := measure.Celsius(5); water < 40; water += 5 {
		cold, warm := TellBucket(water), TellBucket(water+5)
		assert.Greater(t, cold.CleanAt, warm.CleanAt)
		assert.GreaterOrEqual(t, cold.Guarded[11], warm.Guarded[11], "more comes back at %g degC", water)
	}
}

func TestLacquerFollowsThePaint(t *testing.T) {
	v := vehicle.Vehicle{Shade: vehicle.Silver, Finish: vehicle.Ordinary}
	assert.Equal(t, ordinary, LacquerOf(v, false))
	assert.Equal(t, Lacquer{35, 1500}, LacquerOf(v, true))
	v.Finish = vehicle.Hard
	assert.Equal(t, Lacquer{80, 4000}, LacquerOf(v, false))
}
