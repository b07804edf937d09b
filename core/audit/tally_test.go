package audit

import (
	"encoding/csv"
	"fmt"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
	"uskel/core/prove"
	"uskel/core/vehicle"
)

var monday = time.Date(2026, 4, 6, 10, 0, 0, 0, time.UTC)

func auditOf(washer string, day int, found ...Finding) Audited {
	a := Audited{ID: fmt.Sprint(washer, day), WasherID: washer, Washer: strings.ToUpper(washer), At: monday.AddDate(0, 0, day),
		Procedure: "maintenance", Title: "Maintenance", Version: 1}
	for _, f := range found {
		a.Findings = append(a.Findings, trace(f, washed))
	}
	return a
}

var (
	sill = Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Major}
	drip = Finding{Zone: vehicle.MirrorLeft, Kind: Drips, Severity: Minor}
)

// Worked by hand: three audits, of which two had dirt; one had it twice.
func TestFindingsAreCountedPerOpportunity(t *testing.T) {
	all := []Audited{auditOf("ann", 0, sill, sill, drip), auditOf("ann", 1), auditOf("bo", 2, sill)}
	all[2].Findings = append(all[2].Findings, Traced{Finding: drip}) // let pass: it does not count
	c := Count(all, Which{}, true)
	assert.Equal(t, []int{3, 2, 4}, []int{c.Audits, c.With, c.Findings})
	assert.InDelta(t, 3*2+1, c.Rework, 1e-9)
	assert.True(t, c.Few)
	assert.Empty(t, c.Says)
	rows := func(by By) map[string]Row {
		found := map[string]Row{}
		for _, t := range c.Tallies {
			for _, r := range t.Rows {
				if t.By == by {
					found[r.Key] = r
				}
			}
		}
		return found
	}
	dirt := rows(ByKind)[string(DirtLeft)]
	assert.Equal(t, []int{3, 2, 3}, []int{dirt.Findings, dirt.With, dirt.Of})
	assert.InDelta(t, 2.0/3, dirt.Share, 1e-9)
	assert.Equal(t, []int{1, 2}, []int{rows(ByWasher)["ann"].With, rows(ByWasher)["ann"].Of})
	assert.Equal(t, 1, rows(ByWasher)["bo"].Of)
	assert.Equal(t, "Maintenance, version 1", rows(ByProcedure)["maintenance@1"].Label)
	assert.Equal(t, 2, rows(ByWeekday)["Monday"].With+rows(ByWeekday)["Wednesday"].With)
	assert.Equal(t, 2, rows(BySkill)[string(procedure.SkillMitt)].With)

	c = Count(all, Which{Zone: vehicle.LowerLeft, Washer: "ann"}, false)
	assert.Equal(t, []int{2, 1, 2}, []int{c.Audits, c.With, c.Findings})
	for _, x := range c.Tallies {
		assert.NotEqual(t, ByWasher, x.By)
	}
	assert.Equal(t, 2, Count(all, Which{Procedure: "maintenance@1", Washer: "ann"}, false).Audits)
	assert.Zero(t, Count(all, Which{Procedure: "maintenance@2"}, false).Audits)
}

// Somebody whose washes have it in 12 of 40, against 4 of 120 of the others, is told; where all are alike, hardly any page says
// anything: of 400 still ones at most 1 in 20, and somewhat for chance.
func TestWhatStandsOutIsMoreThanChance(t *testing.T) {
	var all []Audited
	for i := range 160 {
		var found []Finding
		if i%4 == 0 && i < 48 || i%4 == 1 && i < 17 {
			found = []Finding{sill, sill, drip}
		}
		all = append(all, auditOf([]string{"ann", "bo", "cy", "di"}[i%4], i, found...))
	}
	c := Count(all, Which{}, true)
	require.Len(t, c.Says, 1)
	assert.Equal(t, "ANN: 12 of 40 audits had one, 4 of 120 of the others: more than chance.", c.Says[0])
	assert.Empty(t, Count(all, Which{}, false).Says)

	said, pages := 0, prove.Seeds(t, 400)
	for seed := range int64(pages) {
		r := rand.New(rand.NewSource(seed))
		var still []Audited
		for i := range 200 {
			var found []Finding
			if r.Float64() < 0.3 {
				found = []Finding{sill}
			}
			still = append(still, auditOf([]string{"ann", "bo", "cy", "di"}[r.Intn(4)], i, found...))
		}
		if len(Count(still, Which{}, true).Says) > 0 {
			said++
		}
	}
	assert.LessOrEqual(t, 100*said, 8*pages, "pages on which nothing is the matter")
}

func TestFoundAsATable(t *testing.T) {
	all := []Audited{auditOf("ann", 0, sill, drip), auditOf("bo", 2, sill)}
	rows, err := csv.NewReader(strings.NewReader(FoundCSV(Matching(all, Which{Kind: DirtLeft})))).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 3)
	assert.Equal(t, []string{"2026-04-06 10:00", "", "", "ANN", "Maintenance", "1", "lower doors and sill, left", "dirt left", "major"},
		rows[1][:9])
}

// Rework counts for what it took: not for what was foreseen once it is done, not at all where the car left without it, and nothing is
// taken for rework that never asked for any.
func TestReworkCountsForWhatItTook(t *testing.T) {
	found := func(counts bool, foreseen float64) Traced { return Traced{Counts: counts, Rework: foreseen} }
	signed := []Traced{found(true, 6), found(true, 4), found(false, 9), found(true, 0)}
	minutes := func(took map[string]float64, through bool) (all []float64) {
		for _, f := range Reworked(signed, took, through) {
			all = append(all, f.Rework)
		}
		return all
	}
	assert.Equal(t, []float64{6, 4, 9, 0}, minutes(nil, false), "still to be done: as foreseen")
	assert.Equal(t, []float64{0, 0, 9, 0}, minutes(nil, true), "the car left as it was")
	done := map[string]float64{"rework-1-2": 11.5, "rework-1-3": 3, "rework-1-4": 3, "rework-2-1": 8}
	assert.Equal(t, []float64{6, 11.5, 9, 0}, minutes(done, false), "a later round, and what asks for none, is not its")
	assert.Equal(t, []float64{0, 11.5, 9, 0}, minutes(done, true))
	assert.InDelta(t, 6, signed[0].Rework, 0, "what was signed stays as it was")
	steps := Rework(Result{Findings: signed}, 1)
	assert.Equal(t, []string{"rework-1-1", "rework-1-2"}, []string{steps[0].ID, steps[1].ID}, "known by the steps that are tapped")
}
