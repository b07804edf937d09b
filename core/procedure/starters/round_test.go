package starters

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/procedure"
)

// rounded is a small wash in rounds: wheels one by one, then the body side by side.
func rounded() procedure.Procedure {
	return procedure.Procedure{ID: "rounded", Version: 1, Title: "Side by side", Rounds: []procedure.Round{byWheels(),
		bySides()}, Stages: []procedure.Stage{
		wheelStage(wheelsOne().InRound("wheel-by-wheel")),
		firstRinse(fillBuckets().InRound("sides").With(func(s *procedure.Step) { s.Once = procedure.OnceBefore }), hosed("rinse",
			"Rinse", "Down.").InRound("sides")),
		contactWash(mitt().InRound("sides")),
		finalRinse(finalHose().InRound("sides")),
		dry(towels().InRound("sides"), blow()),
	}}
}

func TestRoundsAreChecked(t *testing.T) {
	require.NoError(t, rounded().Check())
	for says, breakIt := range map[string]func(*procedure.Procedure){
		"round id \"\"":    func(p *procedure.Procedure) { p.Rounds[0].ID = "" },
		"used twice":       func(p *procedure.Procedure) { p.Rounds[1].ID = p.Rounds[0].ID },
		"say what is gone": func(p *procedure.Procedure) { p.Rounds[0].Title = "" },
		"over \"doors\"":   func(p *procedure.Procedure) { p.Rounds[0].Over = "doors" },
		"order \"any\"":    func(p *procedure.Procedure) { p.Rounds[0].Order = "any" },
		"name its parts":   func(p *procedure.Procedure) { p.Rounds[0].Order = procedure.AsGiven },
		"use each of": func(p *procedure.Procedure) {
			p.Rounds[0].Order, p.Rounds[0].Given = procedure.AsGiven, []string{"fl", "fl"}
		},
		"there is no round":   func(p *procedure.Procedure) { step(p, "mitt").Round = "ghost" },
		"must stand together": func(p *procedure.Procedure) { step(p, "mitt").Round = "" },
		"it is in none":       func(p *procedure.Procedure) { step(p, "blow").Once = procedure.OnceAfter },
		"stands first in it":  func(p *procedure.Procedure) { step(p, "mitt").Once = procedure.OnceBefore },
		"once \"never\"":      func(p *procedure.Procedure) { step(p, "mitt").Once = "never" },
	} {
		p := rounded()
		breakIt(&p)
		assert.ErrorContains(t, p.Check(), says)
	}
}

// A document in rounds goes out and comes back, and says its rounds on paper; one without them reads as it did.
func TestRoundsAreWritten(t *testing.T) {
	p := rounded()
	text, err := procedure.Encode(p)
	require.NoError(t, err)
	again, err := procedure.Decode(text)
	require.NoError(t, err)
	assert.Equal(t, p, again)
	assert.Contains(t, procedure.Markdown(p), "*Side by side: one side after the other, sunny side first; for the whole car at once unless "+
		"the time suds stay wet is at most 10 min.*")
	assert.Contains(t, procedure.Markdown(p), "round: once before")
	plain, err := procedure.Encode(Touchless())
	require.NoError(t, err)
	assert.NotContains(t, string(plain), `"round`)
}

func TestRoundsAreCompared(t *testing.T) {
	says := func(change func(*procedure.Procedure)) []string {
		p := rounded()
		change(&p)
		var all []string
		for _, e := range procedure.Difference(rounded(), p) {
			all = append(all, e.Says)
		}
		return all
	}
	assert.Empty(t, says(func(*procedure.Procedure) {}))
	assert.Contains(t, says(func(p *procedure.Procedure) { p.Rounds[1].Order = procedure.DirtiestLast })[0],
		"its order was “sunny side first” and is “dirtiest last”")
	assert.Contains(t, says(func(p *procedure.Procedure) { p.Rounds[1].When = procedure.Max(c.SudsWindow, 5) })[0], "takes in less")
	assert.Contains(t, says(func(p *procedure.Procedure) { p.Rounds = append(p.Rounds, bySections()) })[0],
		"A round is new: Section by section")
	assert.Contains(t, says(func(p *procedure.Procedure) { p.Rounds = p.Rounds[:1] })[0], "The round “Side by side” is gone")
}
