package audit

import (
	"fmt"
	"math"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/procedure"
)

var noon = time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)

func TestWhatIsAlwaysAudited(t *testing.T) {
	s := Sampling{Share: 0, Trainee: 10, Version: 5}
	old := Candidate{ID: "x", Finished: noon, OfWasher: 500, OfVersion: 200}
	for why, change := range map[string]func(*Candidate){
		"came back":                   func(c *Candidate) { c.CameBack = noon.AddDate(0, 0, -89) },
		"trainee's wash 10 of the fi": func(c *Candidate) { c.Trainee, c.OfWasher = true, 9 },
		"wash 1 of the first 5 by a":  func(c *Candidate) { c.OfVersion = 0 },
	} {
		c := old
		change(&c)
		got := s.Asks(c, Normal)
		assert.True(t, got.Asked, why)
		assert.Contains(t, got.Why, why)
	}
	for _, c := range []Candidate{old,
		{ID: "x", Finished: noon, CameBack: noon.AddDate(0, 0, -91), OfWasher: 500, OfVersion: 200}, {ID: "x", Trainee: true,
			OfWasher: 10, OfVersion: 5}, {ID: "x", OfWasher: 2, OfVersion: 9}} {
		assert.False(t, s.Asks(c, Normal).Asked)
	}
	assert.True(t, Sampling{Share: 100}.Asks(old, Normal).Asked)
}

// Of 20,000 washes as many are drawn as is said, the draw of a wash never changes, and it tells nothing of the next.
func TestTheDraw(t *testing.T) {
	const n = 20_000
	s := Sampling{Share: 30}
	hits, both, before := 0, 0, false
	for i := range n {
		c := Candidate{ID: fmt.Sprintf("01a21b47-21ae-7bf9-%012x", i), OfVersion: 9, OfWasher: 9}
		now := s.Asks(c, Normal).Asked
		assert.Equal(t, now, s.Asks(c, Normal).Asked)
		if now {
			hits++
		}
		if now && before {
			both++
		}
		before = now
	}
	assert.InDelta(t, 0.30, float64(hits)/n, 4*math.Sqrt(0.3*0.7/n))
	assert.InDelta(t, 0.09, float64(both)/n, 4*math.Sqrt(0.09*0.91/n))
}

// Results are written oldest first, f for one that failed. The rules: ISO 2859-1, from memory.
func TestSwitching(t *testing.T) {
	for results, want := range map[string]Level{
		"": Normal, "p": Normal, "fp": Normal, "fppppf": Normal, "fpppf": Tightened, "ff": Tightened,
		"ffpppp": Tightened, "ffppppp": Normal, "ffppppppppppppp": Normal, "ffpppppppppppppppp": Eased,
		"ppppppppp": Normal, "pppppppppp": Eased, "ppppppppppf": Normal, "ppppppppppff": Normal, "ppppppppppfff": Tightened,
		"ffppppf": Tightened,
	} {
		var passed []bool
		for i := len(results) - 1; i >= 0; i-- {
			passed = append(passed, results[i] == 'p')
		}
		assert.Equal(t, want, LevelAfter(passed), results)
	}
	assert.Equal(t, []int{30, 60, 15}, []int{Normal.share(30), Tightened.share(30), Eased.share(30)})
	assert.Equal(t, 100, Tightened.share(70))
}

// What is promised of a week's draw is what 10,000 simulated weeks give.
func TestWhatTheDrawFinds(t *testing.T) {
	const weeks, washes = 10_000, 44
	for _, share := range []int{10, 30, 60} {
		v := Sampling{Share: share}.Explain(Normal, washes)
		r := rand.New(rand.NewSource(int64(share)))
		found, audits := 0, 0
		for range weeks {
			hit := false
			for range washes {
				if r.Float64() >= float64(share)/100 {
					continue
				}
				audits++
				hit = hit || r.Float64() < badShare
			}
			if hit {
				found++
			}
		}
		assert.InDelta(t, v.Finds, float64(found)/weeks, 0.02)
		assert.InDelta(t, v.Audits, float64(audits)/weeks, 0.3)
		assert.Contains(t, strings.Join(v.Says, " "), fmt.Sprintf("%d of 100 are drawn", share))
	}
	assert.Empty(t, Sampling{Share: 100}.Explain(Normal, washes).Says)
	assert.Contains(t, Sampling{Share: 20}.Explain(Tightened, washes).Says[1], "Looked at more closely")
	assert.Contains(t, Sampling{Share: 20}.Explain(Eased, washes).Says[1], "Eased")
}

// A trainee's first washes after each sign-off are looked at, and the first with a new product, whoever washes.
func TestWhatIsNewIsLookedAt(t *testing.T) {
	s := Sampling{Share: 0, Trainee: 10, Version: 5}
	c := Candidate{ID: "x", OfWasher: 40, OfVersion: 40, Trainee: true, Skill: procedure.SkillMitt, SinceSkill: 2}
	got := s.Asks(c, Normal)
	assert.True(t, got.Asked)
	assert.Equal(t, "wash 3 of the first 3 since a trainee was signed off for mitt", got.Why)
	c.SinceSkill = 3
	assert.False(t, s.Asks(c, Normal).Asked)
	c.Trainee, c.SinceSkill = false, 0
	assert.False(t, s.Asks(c, Normal).Asked, "of washers it is known")
	c.Product, c.OfProduct, c.Finished, c.ProductFrom = "Spume foam", 4, noon, noon.AddDate(0, 0, -29)
	assert.Equal(t, "wash 5 of the first 5 with a new product, Spume foam", s.Asks(c, Normal).Why)
	c.ProductFrom = noon.AddDate(0, 0, -31)
	assert.False(t, s.Asks(c, Normal).Asked, "it has been in use for a month")
	c.OfProduct, c.ProductFrom = 5, noon.AddDate(0, 0, -29)
	assert.False(t, s.Asks(c, Normal).Asked)
}
