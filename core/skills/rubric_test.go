package skills

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
)

// What Uskel begins with holds, and says what a trainer watches in every step that asks for its skill.
func TestStartersHold(t *testing.T) {
	for i, r := range Starters() {
		require.NoError(t, r.Check(), r.Skill)
		assert.Equal(t, i+1, r.Order)
		assert.NotEmpty(t, r.Minute)
		assert.NotEmpty(t, r.Rules)
		assert.Empty(t, r.Differs(r))
	}
	mitt, err := RubricOf(Starters(), procedure.SkillWheels)
	require.NoError(t, err)
	ids := func(t procedure.Technique) (seen []string) {
		for _, c := range mitt.SeenIn(procedure.SkillWheels, t) {
			seen = append(seen, c.ID)
		}
		return seen
	}
	assert.Equal(t, []string{"own", "cool", "dry"}, ids(procedure.Apply))
	assert.Equal(t, []string{"own", "order", "dry"}, ids(procedure.Agitate))
	assert.Empty(t, mitt.SeenIn(procedure.SkillMitt, procedure.Apply))
}

func TestARubricIsChecked(t *testing.T) {
	good := Starters()[0]
	for _, row := range []struct {
		field  string
		change func(*Rubric)
	}{
		{"skill", func(r *Rubric) { r.Skill = "juggling" }},
		{"criteria[0].id", func(r *Rubric) { r.Criteria = []Criterion{{ID: "Hat on", Text: "x", Must: true}} }},
		{"criteria[1].id", func(r *Rubric) { r.Criteria = append(r.Criteria[:1:1], r.Criteria[0]) }},
		{"criteria[0].text", func(r *Rubric) { r.Criteria = []Criterion{{ID: "a", Text: " ", Must: true}} }},
		{"criteria", func(r *Rubric) { r.Criteria = []Criterion{{ID: "a", Text: "x"}} }},
		{"rules[0].rule", func(r *Rubric) { r.Rules = []TaughtRule{{Ask: "Why?"}} }},
		{"needs.level", func(r *Rubric) { r.Needs.Level = 0 }},
	} {
		r := good
		row.change(&r)
		assert.ErrorContains(t, r.Check(), row.field+":")
	}
}

// The newest that the shop has written counts, in the shop's order of teaching; the first not held is next.
func TestTheRubricsInUse(t *testing.T) {
	written := Starters()[5]
	written.Version, written.Order = 2, 0
	older := written
	older.Version = 1
	older.Why = "old"
	current := Current([]Rubric{written, older})
	assert.Equal(t, procedure.SkillMitt, current[0].Skill)
	assert.Equal(t, 2, current[0].Version)
	assert.Len(t, current, len(procedure.Skill("").Values()))
	assert.Equal(t, procedure.SkillScope, Next(current, []procedure.Skill{procedure.SkillMitt}))
}

// Help on one thing that must be does not make a wash done alone; what was not seen in it says nothing.
func TestProgressToASignOff(t *testing.T) {
	r, err := RubricOf(Starters(), procedure.SkillBuckets)
	require.NoError(t, err)
	r.Needs = Needs{Watched: 2, Drills: 1, Level: 2, Audits: 3}
	for _, row := range []struct {
		name string
		had  Had
		have []int
		all  bool
	}{
		{"nothing", Had{}, []int{0, 0, 0, 0}, false},
		{"with help", Had{Washes: []Marks{{"guard": Alone, "dose": WithHelp}}}, []int{0, 1, 0, 0}, false},
		{"not seen", Had{Washes: []Marks{{"guard": Alone, "dose": NotSeen}}}, []int{1, 1, 0, 0}, false},
		{"easy drills", Had{Passed: map[int]int{1: 9}}, []int{0, 0, 0, 0}, false},
		{"all", Had{Washes: []Marks{{"guard": Alone, "dose": Alone}, {"guard": Alone, "told": Alone}}, Passed: map[int]int{3: 1}, Audits: 3},
			[]int{2, 3, 1, 3}, true},
	} {
		needs := r.Progress(row.had)
		for i, n := range needs {
			assert.Equal(t, row.have[i], n.Have, "%s: %s", row.name, n.Says)
		}
		assert.Equal(t, row.all, Proposed(needs), row.name)
	}
}

// Findings since a sign-off let it lapse by the shop's rule; older ones and others' do not.
func TestFindingsLetASignOffLapse(t *testing.T) {
	day := func(d int) time.Time { return time.Date(2026, 4, d, 9, 0, 0, 0, time.UTC) }
	off := SignOff{Person: "pia", Skill: "mitt", Passed: true, At: day(10)}
	found := []FindingOf{{"pia", "mitt", day(5)}, {"pia", "mitt", day(12)}, {"pia", "drying", day(12)}, {"cal", "mitt", day(12)},
		{"pia", "mitt", day(14)}}
	counted := WithFindings([]SignOff{off}, found)
	require.Equal(t, 2, counted[0].Findings)
	assert.False(t, InForce(counted, day(15), Lapse{Findings: 3})[0].Lapsed)
	assert.True(t, InForce(counted, day(15), Lapse{Findings: 2})[0].Lapsed)
	assert.True(t, counted[0].RefresherDue(day(15), Lapse{Findings: 2}))
	assert.False(t, InForce(counted, day(15), Lapse{})[0].Lapsed)
}
