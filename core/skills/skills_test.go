package skills

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
)

func TestRubricsDecideBySMustCriteria(t *testing.T) {
	r, err := RubricOf(Starters(), procedure.SkillFoam)
	require.NoError(t, err)
	ready, err := r.Ready(map[string]bool{"bottom": false, "clock": true})
	require.NoError(t, err)
	assert.True(t, ready, "a wish does not decide")
	ready, err = r.Ready(map[string]bool{"bottom": true, "clock": false})
	require.NoError(t, err)
	assert.False(t, ready)
	_, err = r.Ready(map[string]bool{"bottom": true})
	assert.ErrorContains(t, err, "criteria.clock")
	_, err = r.Ready(map[string]bool{"bottom": true, "clock": true, "hat": true})
	assert.ErrorContains(t, err, "criteria.hat")
	_, err = RubricOf(Starters(), "juggling")
	assert.Error(t, err)
	assert.Len(t, Starters(), len(procedure.Skill("").Values()), "every skill has a rubric")
}

func TestTheLatestSignOffDecides(t *testing.T) {
	day := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	offs := []SignOff{{Person: "bo", Skill: procedure.SkillMitt, Passed: true, At: day.AddDate(0, 0, 2)},
		{Person: "bo", Skill: procedure.SkillMitt, At: day}}
	assert.Equal(t, []procedure.Skill{procedure.SkillMitt}, Held("bo", false, offs))
	offs = append(offs, SignOff{Person: "bo", Skill: procedure.SkillMitt, At: day.AddDate(0, 0, 9)})
	assert.Empty(t, Held("bo", false, offs))
	assert.Len(
		t,
		Held("bo", true, offs),
		len(procedure.Skill("").Values()),
		"the lead signs others off, and holds them all",
	)
}

// By hand: signed off on 10 January, six months: it holds until 9 July, is spoken of from 10 June, and lapses on 10 July until
// it is done anew. What was never passed cannot lapse.
func TestSignOffsLapse(t *testing.T) {
	at := func(month time.Month, day int) time.Time { return time.Date(2026, month, day, 12, 0, 0, 0, time.UTC) }
	off := SignOff{Person: "bo", Skill: procedure.SkillMitt, Passed: true, At: at(1, 10)}
	held := func(now time.Time, months int, offs ...SignOff) bool {
		return len(Held("bo", false, InForce(offs, now, Lapse{Months: months}))) == 1
	}
	assert.True(t, held(at(7, 9), 6, off))
	assert.False(t, held(at(7, 10), 6, off))
	assert.True(t, held(at(7, 10), 0, off), "no rule")
	assert.True(t, held(at(7, 10), 6, off, SignOff{Person: "bo", Skill: procedure.SkillMitt, Passed: true, At: at(6, 20)}))
	assert.False(t, off.RefresherDue(at(6, 9), Lapse{Months: 6}))
	assert.True(t, off.RefresherDue(at(6, 12), Lapse{Months: 6}))
	assert.True(t, InForce([]SignOff{off}, at(8, 1), Lapse{Months: 6})[0].RefresherDue(at(8, 1), Lapse{Months: 6}))
	_, ever := SignOff{At: at(1, 1)}.LapsesAt(Lapse{Months: 6})
	assert.False(t, ever)
	assert.True(t, off.Passed, "what was signed stays as it was")
}
