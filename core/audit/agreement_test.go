package audit

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// twice are washes walked by Hesper and again by Maren, who each see what is there with a chance; on a vague look they guess.
func twice(seed int64, washes int, sees map[string]float64, vague string) []Twice {
	r := rand.New(rand.NewSource(seed))
	list := Starter()
	var all []Twice
	for range washes {
		x := Twice{List: list, First: map[string]Answer{}, Second: map[string]Answer{}, By: Who{"h", "Hesper"}, Again: Who{"m", "Maren"}}
		for _, item := range list.Items {
			there := r.Float64() < 0.15
			see := func(who string) Answer {
				if item.ID == vague && r.Float64() < 0.5 || item.ID != vague && there && r.Float64() < sees[who] {
					return found(Finding{Zone: "roof", Kind: Spots, Severity: Minor})
				}
				return Answer{Verdict: Pass}
			}
			x.First[item.ID], x.Second[item.ID] = see("h"), see("m")
		}
		all = append(all, x)
	}
	return all
}

// Three washes by hand: eleven looks each; one is not applicable for one of them.
func TestAgreementByHand(t *testing.T) {
	all := twice(1, 3, nil, "")
	spot := found(Finding{Zone: "roof", Kind: Spots, Severity: Major})
	all[0].First["upper"] = spot
	all[0].Second["upper"] = spot
	all[1].First["wheels"] = spot
	all[2].Second["tips"] = Answer{Verdict: NotApplicable, Note: "none"}
	v := Agree(all, true)
	assert.Equal(t, 3, v.Washes)
	assert.Equal(t, 32, v.Overall.Pairs)
	assert.InDelta(t, 31.0/32, v.Overall.Same, 1e-9)
	assert.InDelta(t, 2.0/3, v.Overall.Found, 1e-9, "two of three tellings were told by both")
	assert.Equal(t, []Strictness{{ID: "h", Name: "Hesper", Pairs: 32, Alone: 1}, {ID: "m", Name: "Maren", Pairs: 32, Other: 1}}, v.People)
	assert.Equal(t, "wheels", v.Items[0].Item, "the least agreed first")
	assert.Empty(t, v.Says)
}

// A vague look and a lenient auditor are told; where all see alike, hardly any page says anything.
func TestAVagueLookAndALenientAuditor(t *testing.T) {
	v := Agree(twice(2, 60, map[string]float64{"h": 0.9, "m": 0.9}, "edges"), true)
	require.NotEmpty(t, v.Says)
	assert.Contains(t, v.Says[0], `"Film edges, trim, lacquer" is answered differently`)
	assert.Equal(t, "edges", v.Items[0].Item)

	v = Agree(twice(3, 80, map[string]float64{"h": 0.9, "m": 0.4}, ""), true)
	var says []string
	for _, p := range v.People {
		says = append(says, p.Says)
	}
	assert.Contains(t, says[0], "Hesper is stricter")
	assert.Contains(t, says[1], "Maren is more lenient")

	said := 0
	for seed := range int64(200) {
		if len(Agree(twice(seed, 40, map[string]float64{"h": 0.8, "m": 0.8}, ""), true).Says) > 0 {
			said++
		}
	}
	assert.LessOrEqual(t, said, 20, "of 200 pages on which nothing is the matter")
}

// Until enough was walked twice a score says that nobody knows how far it depends on who walks.
func TestScoresSayHowSureTheyAre(t *testing.T) {
	assert.Contains(t, Agree(nil, false).OfScores(), "no wash has been walked by two yet")
	few := Agree(twice(5, 3, map[string]float64{"h": 0.8, "m": 0.5}, ""), false)
	assert.Contains(t, few.OfScores(), "not known yet")
	many := Agree(twice(5, 200, map[string]float64{"h": 0.9, "m": 0.9}, ""), false)
	require.LessOrEqual(t, many.Overall.Need, many.Overall.Pairs)
	assert.Contains(t, many.OfScores(), "both find")
}
