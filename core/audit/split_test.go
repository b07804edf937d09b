package audit

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Worked by hand: the shop's rate is 12 of 60; the lean of 10 audits gives ann (1+2)/40, bo (10+2)/30, cy (1+2)/20.
func TestAuditsAreSharedOut(t *testing.T) {
	hands := []Hand{{"ann", "Ann", 10, 30, 1}, {"bo", "Bo", 8, 20, 10}, {"cy", "Cy", 1, 10, 1}}
	s := Divide(hands, 11)
	assert.Equal(t, []string{"bo", "cy", "ann"}, []string{s.Hands[0].ID, s.Hands[1].ID, s.Hands[2].ID})
	assert.Equal(t, [3]int{8, 1, 2}, [3]int{s.Hands[0].Audits, s.Hands[1].Audits, s.Hands[2].Audits})
	assert.InDelta(t, 8*12/30.0+1*3/20.0+2*3/40.0, s.Finds, 1e-9)
	assert.InDelta(t, 11.0/19*(8*12/30.0+3/20.0+10*3/40.0), s.ByChance, 1e-9)
	assert.Contains(t, s.Says, "11 audits so shared out find 3.5 bad washes a week; by chance they find 2.4")
	assert.Contains(t, Divide(nil, 5).Says, "Nothing is washed")
	assert.Contains(t, Divide([]Hand{{ID: "di", Washes: 3}}, 2).Says, "Nothing was audited yet")
}

// On any shop: no more audits than washes or than there is time for, everybody's first two before anybody's third, and no other
// sharing out that keeps to that finds more.
func TestNoOtherSharingOutFindsMore(t *testing.T) {
	for seed := range int64(300) {
		dice := rand.New(rand.NewSource(seed))
		hands := make([]Hand, 3)
		for i := range hands {
			hands[i] = Hand{ID: string(rune('a' + i)), Washes: dice.Intn(8), Audited: 5 + dice.Intn(40)}
			hands[i].Bad = dice.Intn(hands[i].Audited)
		}
		audits := 6 + dice.Intn(12)
		s := Divide(hands, audits)
		given := 0
		for _, h := range s.Hands {
			given += h.Audits
			assert.LessOrEqual(t, h.Audits, h.Washes)
			assert.GreaterOrEqual(t, h.Audits, min(leastEach, h.Washes))
		}
		assert.LessOrEqual(t, given, audits)
		best := 0.0
		h := s.Hands
		for x := min(leastEach, h[0].Washes); x <= h[0].Washes; x++ {
			for y := min(leastEach, h[1].Washes); y <= h[1].Washes; y++ {
				for z := min(leastEach, h[2].Washes); z <= h[2].Washes && x+y+z <= audits; z++ {
					best = max(best, float64(x)*h[0].Rate+float64(y)*h[1].Rate+float64(z)*h[2].Rate)
				}
			}
		}
		assert.InDelta(t, best, s.Finds, 1e-9, "seed %d", seed)
	}
}
