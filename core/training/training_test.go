package training

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/contact"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

var drill = MittDrill{Lacquer: contact.Lacquer{Limit: 55, Scale: 2500}, Patches: []contact.Patch{
	{Zone: vehicle.Roof, Band: vehicle.Upper, Area: 1.6, Grade: 1, Grit: 98},
	{Zone: vehicle.UpperLeft, Band: vehicle.Middle, Area: 1.5, Grade: 1, Grit: 98},
	{Zone: vehicle.LowerLeft, Band: vehicle.Lower, Area: 1.0, Grade: 2, Grit: 270},
}}

func wash(z vehicle.Zone) contact.Move {
	return contact.Move{Kind: contact.WashZone, Zone: z, Share: 1}
}

var rub, reload, flip = contact.Move{
	Kind: contact.RubGuard,
}, contact.Move{
	Kind: contact.Reload,
}, contact.Move{
	Kind: contact.Flip,
}

func TestAGoodTraineeIsAsCleanAsThePlan(t *testing.T) {
	half := wash(vehicle.LowerLeft)
	half.Share = 0.5
	c, err := drill.Compare(
		[]contact.Move{
			wash(vehicle.Roof),
			flip,
			wash(vehicle.UpperLeft),
			rub,
			reload,
			half,
			flip,
			wash(vehicle.LowerLeft),
		},
	)
	require.NoError(t, err)
	assert.True(t, c.Passed, "%+v", c)
	assert.Equal(t, []string{"As clean as the plan."}, c.Remarks)
	assert.Len(t, c.PlanMoves, len(c.PlanReasons))
}

func TestMistakesAreNamed(t *testing.T) {
	circled := wash(vehicle.Roof)
	circled.Stroke = contact.Stroke{Circles: true, Pressing: true}
	c, err := drill.Compare([]contact.Move{wash(vehicle.LowerLeft), reload, circled, wash(vehicle.UpperLeft)})
	require.NoError(t, err)
	assert.False(t, c.Passed)
	assert.Greater(t, c.Index, c.PlanIndex)
	joined := ""
	for _, r := range c.Remarks {
		joined += r
	}
	for _, says := range []string{"over the paint's limit", "circles", "pressure", "back up", "without a rinse"} {
		assert.Contains(t, joined, says)
	}
}

func TestUnfinishedOrImpossibleDrills(t *testing.T) {
	_, err := drill.Compare([]contact.Move{wash(vehicle.Roof)})
	assert.ErrorContains(t, err, "still unwashed")
	_, err = drill.Play([]contact.Move{wash(vehicle.Roof), wash(vehicle.Roof)})
	assert.ErrorContains(t, err, "move 2")
	s, err := drill.Play([]contact.Move{wash(vehicle.Roof), rub})
	require.NoError(t, err)
	assert.Len(t, s.Played, 2)
	assert.Equal(t, contact.PoorSlip, s.Slip)
}

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
