package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"

	c "uskel/core/condition"
)

func says(edits []Edit) []string {
	all := make([]string, len(edits))
	for i, e := range edits {
		all[i] = e.Kind + ": " + e.Says
	}
	return all
}

func TestDifferencesInWords(t *testing.T) {
	for name, tc := range map[string]struct {
		change func(*Procedure)
		want   []string
	}{
		"nothing":    {func(*Procedure) {}, []string{}},
		"only style": {func(p *Procedure) { p.step("seal").When = Not(Be(c.PaintFinish, "satin")) }, []string{}},
		"a number":   {func(p *Procedure) { p.step("mitt").Time.Body = 12 }, []string{"changed: “Two-bucket wash”: the time for the body was 10 min and is 12 min."}},
		"a dwell":    {func(p *Procedure) { p.step("foam").Dwell = works(3*minute, 8*minute, "") }, []string{"changed: “Foam”: the dwell was “5 min to 10 min” and is “3 min to 8 min”."}},
		"narrower": {func(p *Procedure) { p.step("shuts").When = Min(c.GradeOverall, 2) },
			[]string{"changed: “Wipe the shuts”: it applies when the overall grade is at least 2; before, always, which takes in less."}},
		"a new step":     {func(p *Procedure) { p.add("contact", brushBadges()) }, []string{"added: “Brush badges and edges” is new in Contact wash."}},
		"a step gone":    {func(p *Procedure) { p.drop("shuts") }, []string{"removed: “Wipe the shuts” is gone from Shuts."}},
		"a step in turn": {func(p *Procedure) { s := p.Stages[3].Steps; s[0], s[1] = s[1], s[0] }, []string{"moved: “Fill wash and rinse bucket” now comes after “Two-bucket wash”."}},
		"a stage":        {func(p *Procedure) { s := *p.step("fill"); p.drop("fill"); p.add("prewash", s) }, []string{"moved: “Fill wash and rinse bucket” moved from Contact wash to Pre-wash."}},
		"a pin":          {func(p *Procedure) { p.Pins = Pins{c.FoamFrom: c.FromTop} }, []string{"changed: Foam from the bottom or the top? Pinned to top."}},
		"an entry":       {func(p *Procedure) { p.Entry = append(p.Entry, Entry{Max(c.GradeOverall, 3), "x"}) }, []string{"added: It may be used only where the overall grade is at most 3."}},
		"a caution":      {func(p *Procedure) { p.step("mitt").Cautions = nil }, []string{"changed: “Two-bucket wash”: caution: “" + cautionSlip + "” is gone."}},
	} {
		old, changed := plainWash(), plainWash()
		tc.change(&changed)
		assert.Equal(t, tc.want, says(Difference(old, changed)), name)
	}
}

func TestAProcedureDoesNotDifferFromItself(t *testing.T) {
	for _, p := range Starters() {
		assert.Empty(t, Difference(p, p), p.Title)
	}
}
