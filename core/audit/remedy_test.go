package audit

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/prove"
	"uskel/core/vehicle"
)

var sills = Pattern{Kind: DirtLeft, Zone: vehicle.LowerLeft}

// washes are audits a day apart, the newest last, of which a share has sill dirt: one before the remedy, another since.
func washes(seed int64, before, since int, was, is float64) (all []Audited, acted time.Time) {
	dice := rand.New(rand.NewSource(seed))
	for i := range before + since {
		share := was
		if i >= before {
			share = is
		}
		var found []Finding
		if dice.Float64() < share {
			found = []Finding{sill}
		}
		a := auditOf("ann", 0, found...)
		a.At = monday.Add(time.Duration(i) * 12 * time.Hour)
		all = append(all, a)
	}
	return all, monday.Add(time.Duration(before)*12*time.Hour - time.Minute)
}

func TestARemedyIsMeasured(t *testing.T) {
	all, acted := washes(1, 100, 0, 0.3, 0)
	m := sills.Measure(all, nil)
	assert.Equal(t, NotActed, m.Outcome)
	assert.Equal(t, 100, m.Before.Of)
	// With 30 % of audits, 9 audits hold one with 95 % certainty (0.7^9 = 0.04); 10 are the least.
	assert.Equal(t, 10, m.Needs)
	assert.Equal(t, TooEarly, sills.Measure(all, &acted).Outcome)

	all, acted = washes(2, 100, 60, 0.3, 0.05)
	m = sills.Measure(all, &acted)
	assert.Equal(t, Fell, m.Outcome, m.Says)
	assert.Less(t, m.After.High, m.Before.Share)
	all, acted = washes(3, 100, 60, 0.05, 0.4)
	assert.Equal(t, Rose, sills.Measure(all, &acted).Outcome)
	all, acted = washes(4, 100, 60, 0, 0.4)
	assert.Contains(t, sills.Measure(all, &acted).Says, "nothing to lower")
}

// The needed audits are those of the success run: 0.9^28 is 0.052, 0.9^29 is 0.047.
func TestHowManyAuditsARemedyNeeds(t *testing.T) {
	for share, n := range map[float64]int{0: 0, 0.01: 299, 0.05: 59, 0.1: 29, 0.5: 10, 1: 10} {
		assert.Equal(t, n, needed(share), "%v", share)
	}
}

// Where nothing changed a remedy is hardly ever said to have helped: at most 1 in 20 of 2,000. Where sill dirt went from 30 % to
// 5 % it is nearly always.
func TestARemedyIsNotPraisedForNothing(t *testing.T) {
	pages := prove.Seeds(t, 2000)
	told := func(is float64) (n int) {
		for seed := range int64(pages) {
			all, acted := washes(seed, 90, 50, 0.3, is)
			if sills.Measure(all, &acted).Outcome == Fell {
				n++
			}
		}
		return n
	}
	assert.LessOrEqual(t, 20*told(0.3), pages)
	assert.Greater(t, 10*told(0.05), 9*pages)
}

// Only audits that could have had it count, and none from longer ago than a quarter of a year.
func TestARemedyIsHeldAgainstItsOwn(t *testing.T) {
	old, elsewhere, mine := auditOf("ann", 0, sill), auditOf("ann", 0, sill), auditOf("ann", 0, sill)
	old.At = monday.Add(-MeasuredOver - time.Hour)
	elsewhere.Procedure, elsewhere.At = "other", monday.Add(-time.Hour)
	mine.At = monday.Add(-time.Hour)
	p := sills
	p.Procedure = mine.Procedure
	m := p.Measure([]Audited{old, elsewhere, mine}, &monday)
	assert.Equal(t, 1, m.Before.Of)
	assert.Zero(t, m.After.Of)
}

func TestWhatIsProposed(t *testing.T) {
	a := auditOf("ann", 0, sill, drip)
	for i := range a.Findings {
		if a.Findings[i].Kind == DirtLeft {
			a.Findings[i].Step, a.Findings[i].StepName = "mitt", "Wash by mitt"
		}
	}
	p := Propose([]Audited{a}, sills, true)
	assert.Equal(t, "Dirt left on lower doors and sill, left", p.Title)
	assert.Equal(t, ChangeStep, p.Act)
	assert.Equal(t, [2]string{a.Procedure, "mitt"}, [2]string{p.Procedure, p.Step})
	assert.Equal(t, kinds[DirtLeft].cause, p.Causes[0])
	assert.Equal(t, OtherAct, Propose(nil, Pattern{Kind: DirtLeft}, true).Act, "no step is known")
}

func TestAStepIsPrepared(t *testing.T) {
	s := procedure.Step{Technique: procedure.ContactWash, LookFor: "Water runs clear."}
	changed, changes := Prepare(s, sills)
	assert.True(t, changed.LowerMitt)
	assert.Contains(t, changed.LookFor, "Water runs clear. No dirt left on lower doors and sill, left")
	require.Len(t, changes, 2)
	again, changes := Prepare(changed, sills)
	assert.Equal(t, changed, again)
	assert.Empty(t, changes, "prepared twice it changes nothing more")
	dry, _ := Prepare(procedure.Step{Technique: procedure.Dry}, Pattern{Kind: Drips})
	assert.False(t, dry.LowerMitt)
	assert.Contains(t, dry.LookFor, "No drips anywhere")
}

// A published version is never written into.
func TestPreparingLeavesTheProcedureAlone(t *testing.T) {
	p := starters.Maintenance()
	changed, changes := PrepareIn(p, "mitt", sills)
	assert.NotEmpty(t, changes)
	assert.Equal(t, starters.Maintenance(), p)
	assert.NotEqual(t, p, changed)
}

func TestARemedyIsChecked(t *testing.T) {
	good := Remedy{Title: "Sills", Pattern: sills, Cause: "one mitt for all", Act: Practise, Owner: "o", Due: monday}
	require.NoError(t, good.Check())
	for says, change := range map[string]func(*Remedy){
		"title":   func(r *Remedy) { r.Title = " " },
		"cause":   func(r *Remedy) { r.Cause = "" },
		"act":     func(r *Remedy) { r.Act = "pray" },
		"step":    func(r *Remedy) { r.Act = ChangeStep },
		"pattern": func(r *Remedy) { r.Pattern = Pattern{} },
		"due":     func(r *Remedy) { r.Due = time.Time{} },
	} {
		r := good
		change(&r)
		assert.ErrorContains(t, r.Check(), says)
	}
}
