package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
)

// rounded is a small wash in rounds: wheels one by one, then the body side by side.
func rounded() Procedure {
	return Procedure{ID: "rounded", Version: 1, Title: "Side by side", Rounds: []Round{byWheels(), bySides()}, Stages: []Stage{
		wheelStage(wheelsOne().inRound("wheel-by-wheel")),
		firstRinse(fillBuckets().inRound("sides").with(func(s *Step) { s.Once = OnceBefore }), hosed("rinse", "Rinse", "Down.").inRound("sides")),
		contactWash(mitt().inRound("sides")),
		finalRinse(finalHose().inRound("sides")),
		dry(towels().inRound("sides"), blow()),
	}}
}

func TestRoundsAreChecked(t *testing.T) {
	require.NoError(t, rounded().Check())
	for says, breakIt := range map[string]func(*Procedure){
		"round id \"\"":       func(p *Procedure) { p.Rounds[0].ID = "" },
		"used twice":          func(p *Procedure) { p.Rounds[1].ID = p.Rounds[0].ID },
		"say what is gone":    func(p *Procedure) { p.Rounds[0].Title = "" },
		"over \"doors\"":      func(p *Procedure) { p.Rounds[0].Over = "doors" },
		"order \"any\"":       func(p *Procedure) { p.Rounds[0].Order = "any" },
		"name its parts":      func(p *Procedure) { p.Rounds[0].Order = AsGiven },
		"use each of":         func(p *Procedure) { p.Rounds[0].Order, p.Rounds[0].Given = AsGiven, []string{"fl", "fl"} },
		"there is no round":   func(p *Procedure) { p.step("mitt").Round = "ghost" },
		"must stand together": func(p *Procedure) { p.step("mitt").Round = "" },
		"it is in none":       func(p *Procedure) { p.step("blow").Once = OnceAfter },
		"stands first in it":  func(p *Procedure) { p.step("mitt").Once = OnceBefore },
		"once \"never\"":      func(p *Procedure) { p.step("mitt").Once = "never" },
	} {
		p := rounded()
		breakIt(&p)
		assert.ErrorContains(t, p.Check(), says)
	}
}

// A document in rounds goes out and comes back, and says its rounds on paper; one without them reads as it did.
func TestRoundsAreWritten(t *testing.T) {
	p := rounded()
	text, err := Encode(p)
	require.NoError(t, err)
	again, err := Decode(text)
	require.NoError(t, err)
	assert.Equal(t, p, again)
	assert.Contains(t, Markdown(p), "*Side by side: one side after the other, sunny side first; for the whole car at once unless "+
		"the time suds stay wet is at most 10 min.*")
	assert.Contains(t, Markdown(p), "round: once before")
	plain, err := Encode(Touchless())
	require.NoError(t, err)
	assert.NotContains(t, string(plain), `"round`)
}

func TestRoundsAreCompared(t *testing.T) {
	says := func(change func(*Procedure)) []string {
		p := rounded()
		change(&p)
		var all []string
		for _, e := range Difference(rounded(), p) {
			all = append(all, e.Says)
		}
		return all
	}
	assert.Empty(t, says(func(*Procedure) {}))
	assert.Contains(t, says(func(p *Procedure) { p.Rounds[1].Order = DirtiestLast })[0],
		"its order was “sunny side first” and is “dirtiest last”")
	assert.Contains(t, says(func(p *Procedure) { p.Rounds[1].When = Max(c.SudsWindow, 5) })[0], "takes in less")
	assert.Contains(t, says(func(p *Procedure) { p.Rounds = append(p.Rounds, bySections()) })[0], "A round is new: Section by section")
	assert.Contains(t, says(func(p *Procedure) { p.Rounds = p.Rounds[:1] })[0], "The round “Side by side” is gone")
}
