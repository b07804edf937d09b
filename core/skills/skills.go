// Package skills has the rubrics by which a skill is watched, and the sign-offs: who may do what alone (docs/trade.md,
// section 11).
package skills

import (
	"slices"
	"time"

	"uskel/core/procedure"
)

// SignOff is a trainer's judgement of one person on one skill.
type SignOff struct {
	Person   string          `json:"person"`
	Skill    procedure.Skill `json:"skill"`
	Passed   bool            `json:"passed"`
	At       time.Time       `json:"at"`
	Lapsed   bool            `json:"lapsed,omitempty"`
	Findings int             `json:"findings,omitempty" doc:"audit findings of late that go back to the skill, since it was signed off"`
}

// Lapse is the shop's rule of when a sign-off lapses: after so many months, or so many findings within a month. 0 is never.
type Lapse struct{ Months, Findings int }

// FindingDays is within how many days findings are counted that let a sign-off lapse.
const FindingDays = 30

// LapsesAt is when a sign-off lapses by its age; never without a rule.
func (s SignOff) LapsesAt(rule Lapse) (time.Time, bool) {
	if rule.Months <= 0 || !s.Passed {
		return time.Time{}, false
	}
	return s.At.AddDate(0, rule.Months, 0), true
}

// InForce are the sign-offs as they count at a moment: one that has lapsed holds no longer, until it is done anew.
func InForce(signOffs []SignOff, at time.Time, rule Lapse) []SignOff {
	now := slices.Clone(signOffs)
	for i, s := range now {
		lapses, ever := s.LapsesAt(rule)
		if ever && !at.Before(lapses) || s.Passed && rule.Findings > 0 && s.Findings >= rule.Findings {
			now[i].Passed, now[i].Lapsed = false, true
		}
	}
	return now
}

// soon is how long before it lapses a refresher is spoken of.
const soon = 30 * 24 * time.Hour

// RefresherDue reports whether a skill is to be watched again: its sign-off has lapsed, or will within a month.
func (s SignOff) RefresherDue(at time.Time, rule Lapse) bool {
	lapses, ever := s.LapsesAt(rule)
	return InForce([]SignOff{s}, at, rule)[0].Lapsed || s.Lapsed || ever && lapses.Sub(at) < soon
}

// FindingOf is a finding in an audit, going back to a skill of whoever washed.
type FindingOf struct {
	Person string
	Skill  procedure.Skill
	At     time.Time
}

// WithFindings counts, for every sign-off, the findings since it.
func WithFindings(signOffs []SignOff, findings []FindingOf) []SignOff {
	counted := slices.Clone(signOffs)
	for i, s := range counted {
		for _, f := range findings {
			if f.Person == s.Person && f.Skill == s.Skill && f.At.After(s.At) {
				counted[i].Findings++
			}
		}
	}
	return counted
}

// Held are the skills that a person holds, in the order of teaching: those whose latest sign-off was passed. The lead
// signs others off and holds them all.
func Held(person string, lead bool, signOffs []SignOff) []procedure.Skill {
	held := []procedure.Skill{}
	for _, name := range procedure.Skill("").Values() {
		if skill := procedure.Skill(name); lead || latest(person, skill, signOffs).Passed {
			held = append(held, skill)
		}
	}
	return held
}

// latest is a person's newest sign-off for a skill.
func latest(person string, skill procedure.Skill, signOffs []SignOff) SignOff {
	var newest SignOff
	for _, s := range signOffs {
		if s.Person == person && s.Skill == skill && !s.At.Before(newest.At) {
			newest = s
		}
	}
	return newest
}
