package contact

import (
	"fmt"
	"math"
	"slices"

	"uskel/core/measure"
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
	Harm    float64  `json:"harm" doc:"Drag over each zone's scale, summed; the index is 100 (1 - exp(-harm))"`
	PerFace float64  `json:"perFace" doc:"m2 that a face does above the lower band before the mitt is turned"`
	Lower   float64  `json:"lower" doc:"m2 that a face does in the lower band; 0 where nothing there is washed"`
	Peak    float64  `json:"peak" doc:"mg: the most grit that a face of the plan's own carries at its surface"`
	Finest  bool     `json:"finest,omitempty" doc:"Even the finest cadence is over the aim: the car wants more pre-wash"`
}

// Cadence is how much of the car a face does before the mitt is turned, and after both faces rinsed, m2.
type Cadence struct{ Upper, Lower float64 }

// Bounds of a cadence (model, from how people are seen to work: light cars two panels a face, heavy ones a third of a
// bonnet a face). Below the finest nobody works: the car then wants more pre-wash, not more rinsing.
var (
	finest   = Cadence{0.4, 0.3}
	coarsest = Cadence{SudsArea / 2, 1.0}
)

// DefaultAim is the scratch risk that a plan stays under where it can, when the shop set no other (model).
const DefaultAim = 20

// HighestRisk is the scratch risk above which a contact wash is refused (model).
const HighestRisk = 80

// LeadsYes is the scratch risk above which the lead says yes before a wash begins (model).
const LeadsYes = 60

// order is the order in which bands are washed: from clean to dirty, so that the lower band is one run and wheels,
// underside and tips come after it. The front bumper is last of the lower band because it soaks longest.
func order(patches []Patch) []Patch {
	rank := func(p Patch) int {
		switch {
		case p.Band == vehicle.Upper:
			return 0
		case p.Band == vehicle.Middle || p.Band == vehicle.InShut:
			return 1
		case p.Zone == vehicle.Front:
			return 3
		case p.Band == vehicle.Lower:
			return 2
		}
		return 4
	}
	sorted := slices.Clone(patches)
	slices.SortStableFunc(sorted, func(a, b Patch) int { return rank(a) - rank(b) })
	return sorted
}

// stretch is a run of patches that is washed without a rinse that its order forces.
type stretch struct {
	patches []Patch
	area    float64 // m2
	lower   bool
}

// stretches cuts ordered patches where a rinse is forced: before the lower band, and after a lower area that is left
// for a cleaner one.
func stretches(patches []Patch) []stretch {
	var all []stretch
	for i, p := range patches {
		lower := p.Band == vehicle.Lower
		if i == 0 || lower != all[len(all)-1].lower || lower && p.Grade < patches[i-1].Grade {
			all = append(all, stretch{lower: lower})
		}
		s := &all[len(all)-1]
		s.patches, s.area = append(s.patches, p), s.area+p.Area
	}
	return slices.DeleteFunc(all, func(s stretch) bool { return s.area <= 0 })
}

// mittfuls is how many mittfuls a stretch takes when a face does so much of it.
func (s stretch) mittfuls(face float64) int { return max(1, int(math.Ceil(s.area/(2*face)-1e-9))) }

// steps are the areas of a face, from bound to bound, at which the number of mittfuls of some stretches changes.
func steps(all []stretch, lower bool, from, to float64) []float64 {
	var areas []float64
	for _, s := range all {
		for n := 1; s.lower == lower && s.area/(2*float64(n)) >= from; n++ {
			if face := s.area / (2 * float64(n)); face < to {
				areas = append(areas, face)
			}
		}
	}
	return append(areas, from, to)
}

// rinses is how often the mitt is rinsed at a cadence; with a second mitt for the lower band once less.
func rinses(all []stretch, c Cadence, second bool) int {
	n := -1
	for _, s := range all {
		face := c.Upper
		if s.lower {
			face = c.Lower
		}
		n += s.mittfuls(face)
	}
	if second && len(all) > 1 && !all[0].lower {
		n--
	}
	return max(0, n)
}

// Make plans a contact wash: of all cadences the one with the fewest rinses whose scratch risk stays at or below the
// aim, then the one that drags least. Within a stretch every face does the same area, so that no clean face is left
// unused. Where even the finest cadence is over the aim, that is the plan, and it says so (Finest). What cannot be on
// a car is an error.
func Make(cloth Cloth, lacquer Lacquer, patches []Patch, second bool, aim float64) (Plan, error) {
	return MakeIn(usualWater, cloth, lacquer, patches, second, aim)
}

// MakeIn is the same with a rinse bucket of another temperature: in cold water grit hangs longer above the guard.
func MakeIn(water measure.Celsius, cloth Cloth, lacquer Lacquer, patches []Patch, second bool, aim float64) (Plan, error) {
	for _, p := range patches {
		if p.Area < 0 || p.Grit < 0 || math.IsNaN(p.Area+p.Grit) {
			return Plan{}, fmt.Errorf("patch %s: area %g m2 and grit %g mg/m2 must be zero or more", p.Zone, p.Area, p.Grit)
		}
	}
	sorted := order(patches)
	all := stretches(sorted)
	start := Start(cloth, lacquer, sorted)
	start.Bucket.Water = water
	best, found := Cadence{}, false
	fewest, least := math.MaxInt, math.Inf(1)
	for _, upper := range steps(all, false, finest.Upper, coarsest.Upper) {
		for _, lower := range steps(all, true, finest.Lower, min(coarsest.Lower, upper)) {
			c := Cadence{upper, lower}
			n := rinses(all, c, second)
			if n > fewest {
				continue
			}
			tried := builder{state: start.fresh(), second: second}
			tried.wash(all, c)
			if harm := tried.state.Harm; tried.state.Index() <= aim && (n < fewest || harm < least) {
				best, fewest, least, found = c, n, harm, true
			}
		}
	}
	if !found {
		best = finest
	}
	made := builder{state: start.fresh(), second: second, tells: true}
	made.wash(all, best)
	plan, s := made.plan, made.state
	plan.Rinses, plan.Index, plan.Left, plan.Drag, plan.Harm, plan.Finest = s.Rinses, s.Index(), s.Left, s.Drag, s.Harm, !found
	for _, st := range all {
		face := st.area / float64(2*st.mittfuls(best.Upper))
		if st.lower {
			plan.Lower = max(plan.Lower, st.area/float64(2*st.mittfuls(best.Lower)))
		} else {
			plan.PerFace = face
		}
	}
	if plan.PerFace == 0 {
		plan.PerFace = plan.Lower
	}
	return plan, nil
}

type builder struct {
	state  State
	plan   Plan
	second bool // a second mitt for the lower band
	tells  bool // keeps moves and reasons; a cadence that is only tried needs neither
}

func (b *builder) play(m Move, why func() string) {
	answer, err := b.state.move(m, false)
	if err != nil {
		panic("contact: the plan made an illegal move: " + err.Error())
	}
	b.state = answer.State
	b.plan.Peak = max(b.plan.Peak, b.state.Face().Exposed)
	if b.tells {
		b.plan.Moves, b.plan.Reasons = append(b.plan.Moves, m), append(b.plan.Reasons, why())
	}
}

func (b *builder) rinse(why string) {
	b.play(Move{Kind: RubGuard}, func() string { return why })
	b.play(Move{Kind: Reload}, func() string { return "A wrung mitt has no slip: load it with suds." })
}

// wash plays the stretches at a cadence.
func (b *builder) wash(all []stretch, c Cadence) {
	for i, s := range all {
		switch {
		case i == 0:
		case s.lower && !all[i-1].lower && b.second:
			b.play(Move{Kind: LowerMitt}, func() string { return "A second mitt for the lower band." })
		case s.lower && !all[i-1].lower:
			b.rinse("Rinse before the lower band.")
		case !s.lower:
			b.rinse("Rinse before the wheels and what is under the car.")
		default:
			b.rinse("Rinse when a lower area is left for a cleaner one.")
		}
		face := c.Upper
		if s.lower {
			face = c.Lower
		}
		b.stretch(s, s.mittfuls(face))
	}
}

// stretch washes a stretch in so many mittfuls, both faces of each doing the same area.
func (b *builder) stretch(s stretch, mittfuls int) {
	face := s.area / float64(2*mittfuls)
	at, room, faces := 0, face, 1
	for at < len(s.patches) {
		p := s.patches[at]
		left := p.Area * b.state.Remaining(p.Zone)
		if left <= face*1e-6 {
			if b.state.Remaining(p.Zone) > 0 {
				b.zone(p, 1)
			}
			at++
			continue
		}
		if room <= face*1e-6 {
			b.turn(faces)
			faces, room = faces+1, face
		}
		if left <= room*(1+1e-6) { // all of it, but for rounding
			b.zone(p, 1)
			room -= left
			at++
			continue
		}
		b.zone(p, room/left)
		room = 0
	}
}

// turn takes the other face, or rinses when both are done.
func (b *builder) turn(faces int) {
	if faces%2 == 1 {
		b.play(Move{Kind: Flip}, func() string {
			return fmt.Sprintf("This face carries %.0f mg: turn to the clean one.", b.state.Face().Exposed)
		})
		return
	}
	b.rinse("Both faces are done: rinse.")
}

func (b *builder) zone(p Patch, share float64) {
	area := p.Area * b.state.Remaining(p.Zone) * share
	b.play(Move{Kind: WashZone, Zone: p.Zone, Share: share}, func() string {
		return fmt.Sprintf("%.1f m² of grade %d, straight lines, weight of the mitt.", area, p.Grade)
	})
}
