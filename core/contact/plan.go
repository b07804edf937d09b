package contact

import (
	"fmt"
	"math"
	"slices"

	"uskel/core/vehicle"
)

// Plan is a contact wash worked out move by move.
type Plan struct {
	Moves   []Move   `json:"moves"`
	Reasons []string `json:"reasons" doc:"One for each move"`
	Rinses  int      `json:"rinses"`
	Index   float64  `json:"index" doc:"Mar index, 0 to 100"`
	Left    float64  `json:"left" doc:"mg of grit left on the car"`
	Drag    float64  `json:"drag" doc:"mg m2"`
	PerFace float64  `json:"perFace" doc:"m2 a clean face may do on the dirtiest upper zone"`
}

// mostRinses is where a plan stops being one: past it the car needs a pre-wash, not more rinsing.
const mostRinses = 100

// order is the order in which bands are washed; the front bumper is last of the lower band because it soaks longest.
func order(patches []Patch) []Patch {
	rank := func(p Patch) int {
		switch {
		case p.Zone == vehicle.Front:
			return 9
		case p.Band == vehicle.Upper:
			return 0
		case p.Band == vehicle.Middle:
			return 1
		}
		return 2
	}
	sorted := slices.Clone(patches)
	slices.SortStableFunc(sorted, func(a, b Patch) int { return rank(a) - rank(b) })
	return sorted
}

// Make plans flips and rinses: exposed grit never passes the limit; flip to a cleaner face, else rinse and reload;
// rinse at once after each lower zone. It takes each face as far as the limit lets it go, which gives the fewest
// rinses: stopping a face early can only bring the next rinse forward. It is an error when no plan of reasonable
// length exists; the error says what to do.
func Make(cloth Cloth, lacquer Lacquer, patches []Patch, twoMitts bool) (Plan, error) {
	for _, p := range patches {
		if p.Area < 0 || p.Grit < 0 || math.IsNaN(p.Area+p.Grit) {
			return Plan{}, fmt.Errorf(
				"patch %s: area %g m2 and grit %g mg/m2 must be zero or more",
				p.Zone,
				p.Area,
				p.Grit,
			)
		}
	}
	if err := beyond(cloth, lacquer, patches); err != nil {
		return Plan{}, err
	}
	b := builder{state: Start(cloth, lacquer, order(patches))}
	for _, p := range b.state.Patches {
		if twoMitts && p.Band == vehicle.Lower && b.state.Mitt == 0 {
			b.play(Move{Kind: LowerMitt}, "A second mitt for the lower band.")
			b.used = [2]bool{}
		}
		if err := b.cover(p); err != nil {
			return Plan{}, err
		}
		if p.Band == vehicle.Lower && !b.state.Finished() {
			b.rinse("Rinse at once after a lower band.")
		}
	}
	b.plan.Rinses, b.plan.Index, b.plan.Left, b.plan.Drag = b.state.Rinses, b.state.Index(), b.state.Left, b.state.Drag
	b.plan.PerFace = perFace(cloth, lacquer, patches)
	return b.plan, nil
}

// beyond refuses soil that clean faces alone would need too many rinses for: a rinsed face is never cleaner than a
// clean one, so no plan needs fewer.
func beyond(cloth Cloth, lacquer Lacquer, patches []Patch) error {
	faces, worst := 0.0, Patch{}
	for _, p := range patches {
		if p.Area == 0 {
			continue
		}
		reach := cloth.reach(Face{}, p.Grit, p.Area, lacquer.Limit)
		if reach <= 0 {
			return tooMuch(p, lacquer)
		}
		faces += p.Area / reach
		if p.Grit > worst.Grit {
			worst = p
		}
	}
	if faces/2 > mostRinses+1 {
		return tooMuch(worst, lacquer)
	}
	return nil
}

func tooMuch(p Patch, lacquer Lacquer) error {
	return fmt.Errorf(
		"%.0f mg/m2 of grit on the %s is more than %d rinses keep under the paint's limit of %.0f mg: pre-wash first",
		p.Grit,
		p.Zone.Label(),
		mostRinses,
		lacquer.Limit,
	)
}

func perFace(cloth Cloth, lacquer Lacquer, patches []Patch) float64 {
	dirtiest := 0.0
	for _, p := range patches {
		if p.Band == vehicle.Upper {
			dirtiest = max(dirtiest, p.Grit)
		}
	}
	return cloth.reach(Face{}, dirtiest, 20, lacquer.Limit)
}

type builder struct {
	state State
	plan  Plan
	used  [2]bool // faces of the mitt in hand that have touched the car since the last rinse
}

func (b *builder) play(m Move, why string) {
	answer, err := b.state.move(m, false)
	if err != nil {
		panic("contact: the plan made an illegal move: " + err.Error())
	}
	b.state = answer.State
	b.plan.Moves = append(b.plan.Moves, m)
	b.plan.Reasons = append(b.plan.Reasons, why)
}

func (b *builder) rinse(why string) {
	b.play(Move{Kind: RubGuard}, why)
	b.play(Move{Kind: Reload}, "A wrung mitt has no slip: load it with suds.")
	b.used = [2]bool{}
}

// leastStretch is the smallest share of a zone worth putting a used face down for.
const leastStretch = 0.1

// hopeless is the share of a zone below which even a clean face gets nowhere.
const hopeless = 1e-3

// cover washes the whole of one patch.
func (b *builder) cover(p Patch) error {
	for b.state.Remaining(p.Zone) > 1e-9 {
		face := b.state.Mitts[b.state.Mitt].Face
		if b.state.Since > 0 && b.state.Since >= SudsArea-0.1 {
			b.rinse("The suds are used up: rinse before going back to the wash bucket.")
		}
		share := min(b.room(p, face), (SudsArea-b.state.Since)/max(p.Area, 1e-9))
		if share >= b.state.Remaining(p.Zone)*(1-1e-9) { // all of it, but for rounding
			b.wash(p, 1)
			return nil
		}
		if share >= leastStretch || !b.used[face] && share > hopeless {
			b.wash(p, share/b.state.Remaining(p.Zone))
		}
		switch {
		case b.state.Since >= SudsArea-0.1: // rinsed at the top of the loop
		case !b.used[1-face] && b.room(p, 1-face) > hopeless:
			b.play(
				Move{Kind: Flip},
				fmt.Sprintf("This face carries %.0f mg: turn to the clean one.", b.state.Face().Exposed),
			)
		case !b.used[face] || b.state.Rinses >= mostRinses:
			return tooMuch(p, b.state.Lacquer)
		default:
			b.rinse(fmt.Sprintf("Both faces are full: %.0f mg is the paint's limit.", b.state.Lacquer.Limit))
		}
	}
	return nil
}

// room is the share of the patch that a face may still wash.
func (b *builder) room(p Patch, face int) float64 {
	if p.Area == 0 {
		return 1
	}
	f := b.state.Mitts[b.state.Mitt].Faces[face]
	return b.state.Cloth.reach(f, p.Grit, p.Area*b.state.Remaining(p.Zone), b.state.Lacquer.Limit) / p.Area
}

func (b *builder) wash(p Patch, share float64) {
	area := p.Area * b.state.Remaining(p.Zone) * share
	b.used[b.state.Mitts[b.state.Mitt].Face] = true
	b.play(
		Move{Kind: WashZone, Zone: p.Zone, Share: share},
		fmt.Sprintf("%.1f m² of grade %d, straight lines, weight of the mitt.", area, p.Grade),
	)
}

// FreshPlan is a wash in which every face is used once and nothing is rinsed: folded towels, or many mitts.
type FreshPlan struct {
	Cloths, Faces              int
	PerFace, Index, Left, Drag float64
}

// mostCloths is where such a wash stops being one.
const mostCloths = 40

// Fresh counts the cloths for a wash without a rinse bucket: a fresh face whenever the one in use reaches the paint's
// limit, and one for each zone, so that nothing travels from zone to zone.
func Fresh(cloth Cloth, l Lacquer, patches []Patch) (FreshPlan, error) {
	var t FreshPlan
	for _, p := range patches {
		reach := cloth.reach(Face{}, p.Grit, p.Area, l.Limit)
		if reach <= 0 {
			return FreshPlan{}, fmt.Errorf(
				"%.0f mg/m2 of grit on the %s is too much for a %s: rinse and foam first",
				p.Grit,
				p.Zone.Label(),
				cloth,
			)
		}
		n := int(math.Ceil(p.Area/reach - 1e-9))
		_, drag := cloth.touch(Face{}, p.Grit, p.Area/float64(n))
		if p.Zone.Surface() == vehicle.Glass {
			drag *= glassHarm
		}
		t.Faces += n
		t.Drag += drag * float64(n)
		t.Left += (1 - picksUp) * p.Grit * p.Area
	}
	t.Cloths = int(math.Ceil(float64(t.Faces) / float64(cloth.Faces())))
	if t.Cloths > mostCloths {
		return FreshPlan{}, fmt.Errorf(
			"it would take %d of %s (%d faces): rinse and foam first",
			t.Cloths,
			cloth,
			t.Faces,
		)
	}
	t.Index, t.PerFace = l.Index(t.Drag), perFace(cloth, l, patches)
	return t, nil
}
