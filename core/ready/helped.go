package ready

import (
	"fmt"

	"uskel/core/procedure"
	"uskel/core/stats"
)

// Practised is what audits found of a skill before and after its washers' first passed drill of it.
type Practised struct {
	Skill       procedure.Skill `json:"skill"`
	People      int             `json:"people"`
	Before      int             `json:"before" doc:"audits before it"`
	FoundBefore int             `json:"foundBefore" doc:"of these, with a finding of the skill"`
	After       int             `json:"after"`
	FoundAfter  int             `json:"foundAfter"`
}

// Helped says whether findings fell after a drill.
type Helped struct {
	Practised
	Chance float64 `json:"chance" doc:"of so few afterwards, had nothing changed"`
	Told   bool    `json:"told" doc:"more than chance would do, of all skills together"`
	Says   string  `json:"says"`
}

// HelpedDays is how far before and after the first drill audits are looked at.
const HelpedDays = 120

// What it takes before anything is said: audits on each side, and findings before (model). One in twenty of what is told may be
// chance (stats.Discoveries).
const (
	leastAudits   = 10
	leastFindings = 3
	falseTold     = 0.05
)

// DidHelp holds each skill's audits after the first drill against those before, by Fisher's exact test, all skills together. It
// shows that findings fell with the drill, not that they fell by it: whoever practises also washes more.
func DidHelp(all []Practised) []Helped {
	helped := []Helped{}
	chances := []float64{}
	for _, p := range all {
		h := Helped{Practised: p, Chance: 1}
		if p.Before >= leastAudits && p.After >= leastAudits && p.FoundBefore >= leastFindings {
			h.Chance = stats.FewerByChance(p.FoundBefore, p.Before, p.FoundAfter, p.After)
		}
		helped, chances = append(helped, h), append(chances, h.Chance)
	}
	for i, told := range stats.Discoveries(chances, falseTold) {
		helped[i].Told = told
		helped[i].Says = helped[i].words()
	}
	return helped
}

func (h Helped) words() string {
	counts := fmt.Sprintf("%d of %d audits before the first drill, %d of %d after it, found something of it", h.FoundBefore, h.Before,
		h.FoundAfter, h.After)
	switch {
	case h.Before < leastAudits || h.After < leastAudits:
		return fmt.Sprintf("Too few audits to say: %d before the first drill, %d after it.", h.Before, h.After)
	case h.Told:
		return counts + ": fewer than chance would do. Whoever practises also washes more."
	case h.FoundBefore < leastFindings:
		return counts + ": there was hardly anything to find."
	}
	return counts + ": no more than chance would do."
}
