// Package ready says what was seen of somebody's skill comes to: what their next washes will be, whether a drill helped,
// what a lead has to do for them.
package ready

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"

	"uskel/core/procedure"
)

// Source is where something was seen of a skill.
type Source string

// The sources. A case is decided on a screen, a drill played on a model; watched is what a trainer saw in a real wash, an
// audit whether anything of the skill was found afterwards.
const (
	FromCase    Source = "cases"
	FromDrill   Source = "drills"
	FromWatched Source = "watched"
	FromAudit   Source = "audits"
)

// Values lists the sources.
func (Source) Values() []string {
	return []string{string(FromCase), string(FromDrill), string(FromWatched), string(FromAudit)}
}

// tells is how much one thing seen says of a real wash (model): what was watched counts whole, a drill and a case less, and
// an audit less than that, as much goes unnoticed and the finding's cause is a guess.
var tells = map[Source]float64{FromCase: 0.3, FromDrill: 0.6, FromWatched: 1, FromAudit: 0.5}

// UsualHalfLife is after how many days evidence counts half, where the shop does not say (model).
const UsualHalfLife = 60

// Counted is how often something of a skill was seen and how often it was well done; Faded are the same with what is older
// counting less, by half for each half-life.
type Counted struct {
	Source    Source  `json:"source"`
	Seen      int     `json:"seen"`
	Well      int     `json:"well"`
	FadedSeen float64 `json:"fadedSeen"`
	FadedWell float64 `json:"fadedWell"`
}

// Evidence is what was seen of somebody's skill and what follows from it.
type Evidence struct {
	Skill  procedure.Skill `json:"skill"`
	Of     []Counted       `json:"of"`
	Mean   float64         `json:"mean" doc:"share of the skill's work that is likely well done, 0 to 1"`
	Low    float64         `json:"low" doc:"nine in ten lie above"`
	High   float64         `json:"high" doc:"nine in ten lie below"`
	Chance float64         `json:"chance" doc:"that it is well done often enough to work alone"`
	Says   string          `json:"says"`
}

// alone is how often a skill must be well done for somebody to work alone: eight in ten, as must criteria are seen (model).
const alone = 0.8

// The chances from which somebody is called likely ready, or not ready yet (model).
const (
	likelyReady = 0.8
	notYet      = 0.2
)

// littleSeen is how much must have been seen before anything is said, in watched criteria (model).
const littleSeen = 3

// Weigh is the evidence on a skill: a Beta posterior from an even prior, each source with what it tells.
func Weigh(skill procedure.Skill, of []Counted) Evidence {
	e := Evidence{Skill: skill, Of: append([]Counted{}, of...)}
	well, badly := 0.0, 0.0
	for _, c := range of {
		well += tells[c.Source] * c.FadedWell
		badly += tells[c.Source] * (c.FadedSeen - c.FadedWell)
	}
	posterior := distuv.Beta{Alpha: 1 + well, Beta: 1 + math.Max(0, badly)}
	e.Mean, e.Low, e.High = posterior.Mean(), posterior.Quantile(0.1), posterior.Quantile(0.9)
	e.Chance = 1 - posterior.CDF(alone)
	e.Says = e.words(well + badly)
	return e
}

// words say it plainly.
func (e Evidence) words(seen float64) string {
	told := ""
	for _, source := range []Source{FromWatched, FromAudit, FromDrill, FromCase} {
		at := slices.IndexFunc(e.Of, func(c Counted) bool { return c.Source == source && c.Seen > 0 })
		if at < 0 {
			continue
		}
		if told != "" {
			told += ", "
		}
		told += fmt.Sprintf(sourceWords[source], e.Of[at].Well, e.Of[at].Seen)
	}
	switch {
	case told == "":
		return "Nothing seen yet."
	case seen < littleSeen:
		return "Too little seen to say: " + told + "."
	case e.Chance >= likelyReady:
		return "Likely ready: " + told + "."
	case e.Chance <= notYet:
		return "Not yet: " + told + "."
	}
	return "May be ready: " + told + "."
}

var sourceWords = map[Source]string{FromWatched: "%d of %d watched criteria", FromAudit: "%d of %d audits without a finding of it",
	FromDrill: "%d of %d drills passed", FromCase: "%d of %d cases right"}
