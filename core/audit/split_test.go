package audit

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
)

// seenBad are audits of somebody's washes by a procedure, so many of them with something that a customer would see.
func seenBad(who, procedure string, audited, bad int) []Audited {
	all := make([]Audited, audited)
	for i := range all {
		all[i] = Audited{WasherID: who, Procedure: procedure}
		if i < bad {
			all[i].Findings = []Traced{{Finding: Finding{Kind: DirtLeft, Severity: Major}, Counts: true}}
		}
	}
	return all
}

// Worked by hand: all by one procedure the shop's rate is 12 of 60; the lean of 10 audits gives ann (1+2)/40, bo (10+2)/30,
// cy (1+2)/20; the procedure's own rate is the shop's.
func TestAuditsAreSharedOut(t *testing.T) {
	found := append(append(seenBad("ann", "p", 30, 1), seenBad("bo", "p", 20, 10)...), seenBad("cy", "p", 10, 1)...)
	cells := []Cell{{"ann", "Ann", "p", "P", 10}, {"bo", "Bo", "p", "P", 8}, {"cy", "Cy", "p", "P", 1}}
	s := Divide(cells, found, 11)
	assert.Equal(t, []string{"bo", "cy", "ann"}, []string{s.Cells[0].ID, s.Cells[1].ID, s.Cells[2].ID})
	assert.Equal(t, [3]int{8, 1, 2}, [3]int{s.Cells[0].Audits, s.Cells[1].Audits, s.Cells[2].Audits})
	assert.InDelta(t, 8*12/30.0+1*3/20.0+2*3/40.0, s.Finds, 1e-9)
	assert.InDelta(t, 11.0/19*(8*12/30.0+3/20.0+10*3/40.0), s.ByChance, 1e-9)
	assert.Contains(t, s.Says, "11 audits so shared out find 3.5 bad washes a week; by chance they find 2.4")
	assert.Contains(t, Divide(nil, nil, 5).Says, "Nothing is washed")
	assert.Contains(t, Divide([]Cell{{ID: "di", Washes: 3}}, nil, 2).Says, "Nothing was audited yet")
}

// Of somebody's washes those by the worse procedure are audited first.
func TestTheWorseProcedureComesFirst(t *testing.T) {
	found := append(seenBad("ann", "good", 40, 2), seenBad("bo", "bad", 40, 20)...)
	cells := []Cell{{"cy", "Cy", "good", "", 5}, {"cy", "Cy", "bad", "", 5}}
	s := Divide(cells, found, 4)
	assert.Equal(t, "bad", s.Cells[0].Procedure)
	assert.Equal(t, [2]int{4, 0}, [2]int{s.Cells[0].Audits, s.Cells[1].Audits})
	assert.InDelta(t, (20+2.75)/50*1, s.Cells[0].Rate, 1e-9, "a newcomer washes like the shop: the procedure decides")
}

// On any shop: no more audits than washes or than there is time for, everybody's first two before anybody's third, and no other
// sharing out that keeps to that finds more.
func TestNoOtherSharingOutFindsMore(t *testing.T) {
	for seed := range int64(300) {
		dice := rand.New(rand.NewSource(seed))
		var cells []Cell
		var found []Audited
		for _, who := range []string{"a", "b"} {
			for _, by := range []string{"p", "q"} {
				cells = append(cells, Cell{ID: who, Procedure: by, Washes: dice.Intn(7)})
				audited := 5 + dice.Intn(40)
				found = append(found, seenBad(who, by, audited, dice.Intn(audited))...)
			}
		}
		audits := 4 + dice.Intn(12)
		s := Divide(cells, found, audits)
		c, given := s.Cells, 0
		for _, x := range c {
			given += x.Audits
			assert.LessOrEqual(t, x.Audits, x.Washes)
		}
		assert.LessOrEqual(t, given, audits)
		best := 0.0
		try := func(n [4]int) {
			sum, finds, each, washes := 0, 0.0, map[string]int{}, map[string]int{}
			for i, x := range c {
				sum, finds = sum+n[i], finds+float64(n[i])*x.Rate
				each[x.ID], washes[x.ID] = each[x.ID]+n[i], washes[x.ID]+x.Washes
			}
			for who, n := range each {
				if n < min(leastEach, washes[who]) {
					return
				}
			}
			if sum <= audits {
				best = max(best, finds)
			}
		}
		for i := 0; i <= c[0].Washes; i++ {
			for j := 0; j <= c[1].Washes; j++ {
				for k := 0; k <= c[2].Washes; k++ {
					for l := 0; l <= c[3].Washes; l++ {
						try([4]int{i, j, k, l})
					}
				}
			}
		}
		assert.InDelta(t, best, s.Finds, 1e-9, "seed %d", seed)
	}
}
