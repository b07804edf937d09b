package cases

import (
	"math/rand"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
	"uskel/core/recall"
)

var noon = time.Date(2026, 3, 2, 12, 0, 0, 0, time.UTC)

func answered(t *testing.T, r Recall, at time.Time, ratings ...recall.Rating) Recall {
	t.Helper()
	for _, rating := range ratings {
		var err error
		r, err = r.After(at, rating)
		require.NoError(t, err)
	}
	return r
}

// What is due comes first, the longest overdue before the rest; then what was never asked, in the order of teaching.
func TestWhatIsDealt(t *testing.T) {
	all := Kinds()
	long := answered(t, Recall{Kind: "ounces", Skill: procedure.SkillBuckets}, noon.AddDate(0, 0, -30), recall.Right)
	just := answered(t, Recall{Kind: "dropped", Skill: procedure.SkillMitt}, noon.Add(-time.Hour), recall.Wrong)
	fresh := answered(t, Recall{Kind: "rinse-before-foam", Skill: procedure.SkillLance}, noon.AddDate(0, 0, -1), recall.Swift)
	picks := Deal(all, []Recall{long, just, fresh}, noon, 4, nil, 1)
	require.Len(t, picks, 4)
	assert.Equal(t, "ounces", picks[0].Kind)
	assert.Equal(t, "dropped", picks[1].Kind, "wrong an hour ago: it comes again")
	assert.Equal(t, "which-method", picks[2].Kind, "new ones in the order of teaching: what is in scope comes first")
	for _, p := range Deal(all, []Recall{long}, noon, 4, []string{"ounces"}, 1) {
		assert.NotEqual(t, "ounces", p.Kind, "open already")
	}
	assert.Empty(t, Deal(nil, nil, noon, 3, nil, 1))
	// However much is due, one in three is new: after some sessions every kind has been asked.
	var known []Recall
	asked := map[string]bool{}
	for session := range 2 * len(all) {
		at := noon.AddDate(0, 0, 3*session)
		for _, p := range Deal(all, known, at, 3, nil, int64(session)) {
			asked[p.Kind] = true
			i := slices.IndexFunc(known, func(r Recall) bool { return r.Kind == p.Kind })
			if i < 0 {
				skill := all[slices.IndexFunc(all, func(k Kind) bool { return k.ID == p.Kind })].Skill
				known = append(known, Recall{Kind: p.Kind, Skill: skill})
				i = len(known) - 1
			}
			known[i] = answered(t, known[i], at, recall.Right)
		}
	}
	assert.Len(t, asked, len(all))
}

// Whatever is known: as many as are asked for, none twice, no two of one skill after each other while others are left.
func TestDealsAreMixed(t *testing.T) {
	all := Kinds()
	rng := rand.New(rand.NewSource(8))
	for seed := range int64(300) {
		var known []Recall
		for _, k := range all {
			if rng.Intn(2) == 0 {
				known = append(known, answered(t, Recall{Kind: k.ID, Skill: k.Skill}, noon.AddDate(0, 0, -rng.Intn(40)), recall.Rating(1+rng.Intn(4))))
			}
		}
		picks := Deal(all, known, noon, 6, nil, seed)
		require.Len(t, picks, 6)
		skill, seen := map[string]procedure.Skill{}, map[string]bool{}
		for _, k := range all {
			skill[k.ID] = k.Skill
		}
		for i, p := range picks {
			assert.False(t, seen[p.Kind])
			seen[p.Kind] = true
			if i > 0 {
				assert.NotEqual(t, skill[picks[i-1].Kind], skill[p.Kind], "seed %d", seed)
			}
		}
	}
}

func TestCasesGetHarder(t *testing.T) {
	r := Recall{Kind: "caps"}
	assert.Equal(t, 1, r.Level())
	at := noon
	for range 4 {
		r = answered(t, r, at, recall.Right)
		assert.Greater(t, r.Chance(at), r.Chance(at.AddDate(0, 0, 20)))
		at = r.Due
	}
	assert.Equal(t, Hardest, r.Level())
	assert.Equal(t, 4, r.Right)
	r = answered(t, r, at, recall.Wrong)
	assert.Equal(t, at.Add(again), r.Due, "the same day, in another dress")
	assert.Less(t, r.Level(), Hardest)
}

func TestAnOwnCase(t *testing.T) {
	own := Own{ID: "1", Title: "The slip road gate", Skill: procedure.SkillLook, Scene: "The gate is shut\n\nRain",
		Ask: "Where does the car wait?", Choices: []string{"Under the roof", "In the slip"}, Because: "It drips on the ramp."}
	require.NoError(t, own.Check())
	kinds := append(Kinds(), own.Kind())
	c, err := MakeFrom(kinds, "own-1", 3, 1, World{})
	require.NoError(t, err)
	assert.Equal(t, []string{"The gate is shut", "Rain"}, c.Scene)
	assert.Equal(t, "Under the roof", c.Choices[c.Answer.Choice])
	assert.Equal(t, "The shop", c.Answer.Source)
	own.Choices, own.Because = []string{"a", " a", "b"}, " "
	assert.ErrorContains(t, own.Check(), "choices[1]: the same answer twice")
	assert.ErrorContains(t, own.Check(), "because: write it")
	own.Choices = own.Choices[:1]
	assert.ErrorContains(t, own.Check(), "choices: two to four answers")
}
