// Package audit judges a finished wash against a shared checklist: findings, where they came from, the
// score and the rework (handbook, section 10).
package audit

import (
	"uskel/core/procedure"
)

// Kind is what was found.
type Kind string

// The kinds of finding (handbook, section 10).
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
}

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

// Item is one thing to look at.
type Item struct {
	ID    string              `json:"id"`
	Title string              `json:"title"`
	How   string              `json:"how"`
	Zones procedure.ZoneGroup `json:"zones"`
	Kinds []Kind              `json:"kinds" doc:"Findings this look usually brings up, likeliest first"`
}

// Checklist is a shared, versioned list.
type Checklist struct {
	ID      string `json:"id"`
	Version int    `json:"version"`
	Title   string `json:"title"`
	Items   []Item `json:"items"`
}

// Starter is the checklist a new shop begins with, in one walk round the car. Common practice, no source.
func Starter() Checklist {
	return Checklist{
		"final-walk",
		1,
		"Final walk",
		[]Item{
			{
				"towel",
				"Drying towel and buckets",
				"Lay the drying towel open; look at rinse and wash bucket side by side. A dark wash bucket means " +
					"grit went back.",
				procedure.NoZones,
				[]Kind{DirtyTowel},
			},
			{
				"upper",
				"Roof, bonnet and boot lid",
				"Eye level along the panel; a lamp held across.",
				procedure.PaintOnly,
				[]Kind{Spots, FineCircles, StraightMark, DirtLeft},
			},
			{
				"lower",
				"Sills, behind the wheels, rear bumper",
				"A clean white cloth over the sill and the strip behind each wheel.",
				procedure.LowerHalf,
				[]Kind{DirtLeft, BondedMatter, Spots},
			},
			{
				"front",
				"Front bumper, grille and mirrors",
				"Finger inside the mirror; look again after five minutes.",
				procedure.FrontEnd,
				[]Kind{Drips, DirtLeft, BondedMatter},
			},
			{
				"wheels",
				"Wheels",
				"White cloth behind a spoke and inside the barrel.",
				procedure.Rims,
				[]Kind{BrakeDust, WheelStain},
			},
			{
				"tyres",
				"Tyres and arches",
				"Even, dry to the finger; no dots on the paint behind.",
				procedure.Tyres,
				[]Kind{TyreBlotch, DirtLeft},
			},
			{"glass", "Glass", "From inside against the light.", procedure.AllGlass, []Kind{SmearedGlass, Spots}},
			{
				"shuts",
				"Shuts",
				"Open every door, the boot and the filler.",
				procedure.AllShuts,
				[]Kind{GreasyShuts, Drips},
			},
			{
				"edges",
				"Film edges, trim, lacquer",
				"Finger along the edges named at look-over.",
				procedure.PaintOnly,
				[]Kind{LiftedEdge, InCabin},
			},
			{
				"water",
				"What water does",
				"A few drops on the bonnet: do they stand as beads?",
				procedure.UpperPaint,
				[]Kind{BondedMatter, Spots},
			},
		},
	}
}
