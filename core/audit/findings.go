// Package audit judges a finished wash against a shared checklist: findings, where they came from, the
// score and the rework (docs/trade.md, sections 10 and 17).
package audit

import (
	"slices"

	"uskel/core/procedure"
)

// Kind is what was found.
type Kind string

// The kinds of finding (docs/trade.md, section 10).
const (
	DirtLeft     Kind = "dirt left"
	DirtyTowel   Kind = "brown towel edge"
	FineCircles  Kind = "fine circles"
	StraightMark Kind = "straight fine lines"
	Spots        Kind = "spots or streaks"
	Drips        Kind = "drips"
	BrakeDust    Kind = "brake dust"
	WheelStain   Kind = "streaked wheel stain"
	TyreBlotch   Kind = "tyre blotches or sling"
	LiftedEdge   Kind = "lifted film or chipped lacquer"
	SmearedGlass Kind = "smeared glass"
	GreasyShuts  Kind = "grease in shuts"
	InCabin      Kind = "product in the cabin"
	BondedMatter Kind = "bonded matter"
	GritLeft     Kind = "grit left after the pre-wash"
	FoamLeft     Kind = "foam left in gaps"
)

// kindFacts says what a finding probably comes from, which skill it goes back to, which technique among
// that skill's steps, and how long putting it right takes, min (common practice; minutes are our model).
type kindFacts struct {
	cause     string
	skill     procedure.Skill
	technique procedure.Technique
	rework    float64
}

var kinds = map[Kind]kindFacts{
	DirtLeft:    {"lower pass skipped, or the same dirty face used on", procedure.SkillMitt, procedure.ContactWash, 2},
	DirtyTowel:  {"rinse or contact pass too thin", procedure.SkillMitt, procedure.ContactWash, 3},
	FineCircles: {"circular motion or pressure on the mitt", procedure.SkillMitt, procedure.ContactWash, 0},
	StraightMark: {
		"grit in the cloth: rinsing, a dropped mitt, dirty rinse water",
		procedure.SkillMitt,
		procedure.ContactWash,
		0,
	},
	Spots:        {"water or product dried on: weather, sections, drying speed", procedure.SkillDry, procedure.Dry, 2},
	Drips:        {"no blower, or no second look", procedure.SkillDry, procedure.Dry, 1},
	BrakeDust:    {"wrong brush, or the wheel was rushed", procedure.SkillWheels, procedure.Agitate, 2},
	WheelStain:   {"cleaner dried, wrong order, or a hot wheel", procedure.SkillWheels, procedure.Agitate, 3},
	TyreBlotch:   {"wet or dirty tyre, or too much dressing", procedure.SkillWheels, procedure.Finish, 1},
	LiftedEdge:   {"lance too near or too steep", procedure.SkillLance, procedure.Rinse, 0},
	SmearedGlass: {"wrong cloth, or dressing carried over", procedure.SkillDry, procedure.Dry, 2},
	GreasyShuts:  {"shuts forgotten", procedure.SkillShuts, procedure.Finish, 3},
	InCabin:      {"open top or window", procedure.SkillFoam, procedure.Apply, 5},
	GritLeft:     {"pre-wash too thin or too short, or not rinsed from below", procedure.SkillLance, procedure.Rinse, 3},
	FoamLeft:     {"gaps not rinsed out", procedure.SkillLance, procedure.Rinse, 1},
	BondedMatter: {"not seen at look-over, or beyond a maintenance wash", procedure.SkillScope, procedure.Inspect, 0},
}

var kindOrder = []Kind{
	DirtLeft,
	DirtyTowel,
	FineCircles,
	StraightMark,
	Spots,
	Drips,
	BrakeDust,
	WheelStain,
	TyreBlotch,
	LiftedEdge,
	SmearedGlass,
	GreasyShuts,
	InCabin,
	BondedMatter,
	GritLeft,
	FoamLeft,
}

// Kinds are all kinds of finding.
func Kinds() []Kind { return slices.Clone(kindOrder) }

// Values lists the kinds.
func (Kind) Values() []string {
	names := make([]string, len(kindOrder))
	for i, k := range kindOrder {
		names[i] = string(k)
	}
	return names
}

// Severity is how bad a finding is.
type Severity string

// The severities.
const (
	Critical Severity = "critical" // damage, unsafe: fails the wash
	Major    Severity = "major"    // the customer sees it standing
	Minor    Severity = "minor"    // found on a close look
)

// Values lists the severities.
func (Severity) Values() []string { return []string{string(Critical), string(Major), string(Minor)} }

// Verdict is the answer to a checklist item.
type Verdict string

// The verdicts.
const (
	Pass          Verdict = "pass"
	Found         Verdict = "finding"
	NotApplicable Verdict = "not applicable"
)

// Values lists the verdicts.
func (Verdict) Values() []string { return []string{string(Pass), string(Found), string(NotApplicable)} }
