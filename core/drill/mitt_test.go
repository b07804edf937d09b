package drill

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/prove"
	"uskel/core/vehicle"
)

var dirty = []contact.Patch{
	{Zone: vehicle.Bonnet, Band: vehicle.Upper, Grade: 2, Grit: 270},
	{Zone: vehicle.UpperLeft, Band: vehicle.Middle, Grade: 2, Grit: 270},
	{Zone: vehicle.LowerLeft, Band: vehicle.Lower, Grade: 3, Grit: 500},
}

func made(t *testing.T, level int, seed int64) Mitt {
	t.Helper()
	m, err := Make("yesterday's pickup", level, seed, contact.LacquerOf(vehicle.Vehicle{Shade: vehicle.Mid}, false, contact.NoShield), dirty,
		false, 6*measure.Minute, condition.Along, condition.Rub, 0)
	require.NoError(t, err)
	return m
}

// As taught it passes at every level, whatever happens, and the remarks are few.
func TestAsTaughtPasses(t *testing.T) {
	for level := 1; level <= 3; level++ {
		for seed := range int64(12) {
			m := made(t, level, seed)
			r, err := m.Task().Judge(taught(t, m))
			require.NoError(t, err)
			assert.True(t, r.Passed, "level %d, seed %d: %v", level, seed, r.Why)
			assert.LessOrEqual(t, len(r.Remarks), 1, "%+v", r.Remarks)
			assert.InDelta(t, *r.Figures[0].Plan, r.Figures[0].Yours, allowance)
		}
	}
}

func begin(t *testing.T, task Task) State {
	t.Helper()
	s, err := task.Start()
	require.NoError(t, err)
	return s
}

func taught(t *testing.T, m Mitt) []Action {
	t.Helper()
	all, err := m.Task().AsTaught()
	require.NoError(t, err)
	return all
}

// Each slip is told once, at its move, and costs what it costs.
func TestEachSlipIsToldAtItsMove(t *testing.T) {
	m := made(t, 1, 1)
	good := taught(t, m)
	circle := Action{Do: Stroke}
	for i := range 60 {
		a := float64(i) * 0.12
		circle.Path = append(circle.Path, contact.PathPoint{T: float64(i) / 40, X: 0.5 + 0.15*math.Cos(a), Y: 0.3 + 0.15*math.Sin(a)})
	}
	up := Action{Do: Stroke, Path: []contact.PathPoint{{T: 0, X: 0.2, Y: 0.6}, {T: 1, X: 0.2, Y: 0.1}}}
	pressed := good[1]
	pressed.Pressing = true
	for _, row := range []struct {
		name  string
		cause Cause
		at    int
		with  []Action
	}{
		{"circles", Circles, 2, insert(good, 2, circle)},
		{"pressing", Pressing, 1, insert(good, 1, pressed)},
		{"across the school", Against, 2, insert(good, 2, up)},
		{"up over the line", Upward, len(good) - 1, insert(good, len(good)-1, up)},
		{"no suds", NoSuds, 0, good[1:]},
	} {
		r, err := m.Task().Judge(row.with)
		require.NoError(t, err, row.name)
		at := -1
		for i, x := range r.Remarks {
			if x.Cause == row.cause {
				require.Equal(t, -1, at, "%s: told twice", row.name)
				at = i
			}
		}
		if assert.GreaterOrEqual(t, at, 0, "%s: %+v", row.name, r.Remarks) {
			assert.Equal(t, row.at, r.Remarks[at].Moves[0], row.name)
		}
	}
	// Suds that dry are told once, and rubbing over them costs.
	wait := []Action{good[0], good[1]}
	for range 200 {
		wait = append(wait, Action{Do: Look})
	}
	r, err := m.Task().Judge(append(wait, good[2:]...))
	require.NoError(t, err)
	assert.False(t, r.Passed)
	assert.Equal(t, DryPanel, r.Remarks[0].Cause)
	again := append(append(wait, Action{Do: Rewet}), good[2:]...)
	better, err := m.Task().Judge(again)
	require.NoError(t, err)
	assert.Less(t, better.Figures[0].Yours, r.Figures[0].Yours)
}

func insert(all []Action, at int, a Action) []Action {
	return append(append(append([]Action{}, all[:at]...), a), all[at:]...)
}

// A trainee is never marked down for the way the shop teaches.
func TestTheSchoolDecides(t *testing.T) {
	m := made(t, 1, 1)
	up := Action{Do: Stroke, Path: []contact.PathPoint{{T: 0, X: 0.3, Y: 0.05}, {T: 1, X: 0.3, Y: 0.6}}}
	against := func(strokes string) bool {
		m.Strokes = strokes
		s, err := m.Task().Replay([]Action{{Do: Load}, up})
		require.NoError(t, err)
		for _, c := range s.Said[1].Causes {
			if c.Cause == Against {
				return true
			}
		}
		return false
	}
	assert.True(t, against(condition.Along))
	assert.False(t, against(condition.UpAndDown))
	assert.False(t, against(condition.Crosshatch))
}

// What cannot be done changes nothing; the same actions give the same state; a state survives JSON (16 random plays of 40 actions).
func TestPlayIsSound(t *testing.T) {
	rng := rand.New(rand.NewSource(2))
	kinds := Do("").Values()
	for range prove.Seeds(t, 16) {
		m := made(t, 1+rng.Intn(3), rng.Int63())
		s, played := begin(t, m.Task()), []Action{}
		for range 40 {
			a := Action{Do: Do(kinds[rng.Intn(len(kinds))]), Pressing: rng.Intn(9) == 0}
			if rng.Intn(2) == 0 {
				a = Rows(m.Panels[s.Panel])[rng.Intn(3)]
			}
			before, _ := json.Marshal(s)
			next, err := m.Task().Play(s, a)
			after, _ := json.Marshal(s)
			require.JSONEq(t, string(before), string(after), "%s changes what was", a.Do)
			if err == nil {
				s, played = next, append(played, a)
				assert.NotEmpty(t, s.Said[len(s.Said)-1].Text)
			}
		}
		again, err := m.Task().Replay(played)
		require.NoError(t, err)
		assert.Equal(t, s, again)
		text, err := json.Marshal(s)
		require.NoError(t, err)
		var back State
		require.NoError(t, json.Unmarshal(text, &back))
		assert.Equal(t, s.Hand.Harm, back.Hand.Harm)
	}
	m := made(t, 1, 1)
	_, err := m.Task().Judge(nil)
	assert.ErrorContains(t, err, "not done")
	_, err = m.Task().Play(begin(t, m.Task()), Action{Do: "polish"})
	assert.ErrorContains(t, err, "polish")
	_, err = m.Task().Play(begin(t, m.Task()), Action{Do: Stroke})
	assert.ErrorContains(t, err, "draw a line")
}

// A session of 300 strokes is replayed in far less than a second.
func BenchmarkReplay(b *testing.B) {
	m, _ := Make("car", 3, 1, contact.Lacquer{Limit: 55, Scale: 2500}, dirty, false, measure.Minute, condition.Along, condition.Rub, 0)
	actions := []Action{{Do: Load}}
	for len(actions) < 300 {
		actions = append(actions, Rows(m.Panels[0])...)
	}
	for b.Loop() {
		if _, err := m.Task().Replay(actions); err != nil {
			b.Fatal(err)
		}
	}
}

// Bugs stay where the plush side goes over them; the mesh takes them, and nothing else; on dark gloss they are soaked.
func TestBugsAndTheMeshSide(t *testing.T) {
	m := made(t, 2, 0)
	along := func(y, from, to float64, mesh bool) Action {
		return Action{Do: Stroke, Mesh: mesh, Path: []contact.PathPoint{{T: 0, X: from, Y: y}, {T: 1, X: to, Y: y}}}
	}
	over := func(mesh bool) Action { return along(bugs.Y+bugs.H/2, bugs.X+0.1, bugs.X+bugs.W-0.1, mesh) }
	causes := func(s State) []Cause {
		var all []Cause
		for _, c := range s.Said[len(s.Said)-1].Causes {
			all = append(all, c.Cause)
		}
		return all
	}
	play := func(m Mitt, all ...Action) State {
		s, err := m.Task().Replay(append([]Action{{Do: Load}}, all...))
		require.NoError(t, err)
		return s
	}
	area := begin(t, m.Task()).Sheets[0].Bugs()
	assert.InDelta(t, bugs.W*bugs.H, area, 0.002)

	s := play(m, over(false))
	assert.InDelta(t, area, s.Sheets[0].Bugs(), 1e-9)
	assert.Contains(t, s.Said[1].Text, "Bugs still stick")
	s = play(m, over(true))
	assert.Zero(t, s.Sheets[0].Bugs())
	assert.Contains(t, s.Said[1].Text, "The bugs are off.")
	assert.NotContains(t, causes(s), MeshWide)
	assert.Contains(t, causes(play(m, along(0.1, 0.1, 1.1, true))), MeshWide)
	assert.Greater(t, play(m, over(true)).Hand.Harm, play(m, over(false)).Hand.Harm)

	m.Dark = true
	assert.Contains(t, causes(play(m, over(true))), MeshDark)
	s = play(m, over(false), Action{Do: Rewet}, over(false))
	assert.Zero(t, s.Sheets[0].Bugs())
	assert.Empty(t, causes(s))
	r, err := m.Task().Judge(taught(t, m))
	require.NoError(t, err)
	assert.True(t, r.Passed, r.Why)

	var plain []Action
	for _, a := range taught(t, m) {
		if a.Do != Rewet && !a.Mesh {
			plain = append(plain, a)
		}
	}
	r, err = m.Task().Judge(plain)
	require.NoError(t, err)
	assert.False(t, r.Passed)
	assert.Contains(t, r.Why[0], "Bugs still stick to the bonnet")
}

// What a stroke says of the panel is what was washed of it.
func TestAStrokeSaysHowMuchIsWashed(t *testing.T) {
	m, said := made(t, 2, 3), regexp.MustCompile(`^(\d+) % of the .* is washed`)
	s, told := begin(t, m.Task()), 0
	for _, a := range taught(t, m) {
		next, err := m.Task().Play(s, a)
		require.NoError(t, err)
		if is := said.FindStringSubmatch(next.Said[len(next.Said)-1].Text); is != nil {
			told++
			once, _ := next.Sheets[s.Panel].Covered()
			assert.Equal(t, fmt.Sprintf("%.0f", 100*once), is[1])
		}
		s = next
	}
	assert.Greater(t, told, 3)
}
