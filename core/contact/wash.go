package contact

import (
	"fmt"
	"maps"
	"math"

	"uskel/core/vehicle"
)

// Lacquer is how easily paint marks: the exposed grit a face may carry, mg, and the drag that fills
// the mar index, mg m2.
type Lacquer struct {
	Limit float64 `json:"limit" doc:"Exposed grit a face may carry, mg"`
	Scale float64 `json:"scale" doc:"Drag scale of the mar index, mg m2"`
}

// The lacquers (model). A face carries more where marks do not stay: film heals them by warmth.
var (
	ordinaryLacquer = Lacquer{55, 2500}
	tenderLacquer   = Lacquer{35, 1500}
	hardLacquer     = Lacquer{80, 4000}
	filmedLacquer   = Lacquer{120, 8000}
)

// Shield is what lies on a zone's paint and takes the marks instead of it.
type Shield int

// The shields, the one that forgives most last.
const (
	NoShield Shield = iota
	CoatedPaint
	FilmedPaint
)

// LacquerOf gives the values for paint of a vehicle (model): filmed, then coated, whatever is under it; dark, soft,
// satin or gloss black; hard; ordinary. Darkness counts because every mark shows.
func LacquerOf(v vehicle.Vehicle, glossBlack bool, shield Shield) Lacquer {
	switch {
	case shield == FilmedPaint:
		return filmedLacquer
	case shield == CoatedPaint:
		return hardLacquer
	case v.Finish == vehicle.Soft, v.Finish == vehicle.Satin, v.Shade == vehicle.Dark, glossBlack:
		return tenderLacquer
	case v.Finish == vehicle.Hard:
		return hardLacquer
	}
	return ordinaryLacquer
}

// Index is the mar index, 0 (nothing dragged) to 100, of drag over the paint's scale.
func Index(harm float64) float64 { return 100 * -math.Expm1(-harm) }

// Patch is a zone to be washed by hand: its area in m2 and what grit the pre-wash left on it, mg/m2.
type Patch struct {
	Zone  vehicle.Zone `json:"zone"`
	Band  vehicle.Band `json:"band"`
	Area  float64      `json:"area" doc:"m2"`
	Grade Grade        `json:"grade"`
	Grit  float64      `json:"grit" doc:"mg/m2 left by the pre-wash"`
	// Weight is what wrapped grit counts of its weight in the cloth.
	Weight float64 `json:"weight,omitempty" minimum:"0" maximum:"1" doc:"Share of its weight that the grit counts in the cloth, 1 when unsaid"`
	// Scale is that of the zone's own paint, where it differs from the rest of the car.
	Scale float64 `json:"scale,omitempty" minimum:"0" doc:"Drag scale of this zone's paint, mg m2; the car's when unsaid"`
}

// cuts is the grit that counts in the cloth, mg/m2.
func (p Patch) cuts() float64 {
	if p.Weight > 0 {
		return p.Grit * p.Weight
	}
	return p.Grit
}

// marks is how far a drag on the patch, mg m2, fills the mar index.
func (p Patch) marks(l Lacquer, drag float64) float64 {
	if p.Scale > 0 {
		return drag / p.Scale
	}
	return drag / l.Scale
}

// MoveKind is one thing a washer does with the mitt.
type MoveKind string

// The moves.
const (
	WashZone  MoveKind = "wash"
	Flip      MoveKind = "flip"
	RubGuard  MoveKind = "rub on the guard"
	SwishOnly MoveKind = "swish only"
	Reload    MoveKind = "reload"
	LowerMitt MoveKind = "change to the lower mitt"
)

// Values lists the moves.
func (MoveKind) Values() []string {
	return []string{
		string(WashZone),
		string(Flip),
		string(RubGuard),
		string(SwishOnly),
		string(Reload),
		string(LowerMitt),
	}
}

// Move is a move with what it needs: a wash names a zone and the share of the zone still unwashed that it covers.
type Move struct {
	Kind   MoveKind     `json:"kind"`
	Zone   vehicle.Zone `json:"zone,omitempty" doc:"For a wash: which zone"`
	Share  float64      `json:"share,omitempty" minimum:"0" maximum:"1" doc:"For a wash: share of the zone, above 0 up to 1"`
	Stroke Stroke       `json:"stroke,omitzero"`
	Inside bool         `json:"inside,omitempty" doc:"For a rinse: wrung inside the bucket, so that it goes back into the water"`
}

// Held is a mitt in use.
type Held struct {
	Faces [2]Face `json:"faces"`
	Face  int     `json:"face" minimum:"0" maximum:"1" doc:"Which face is down"`
}

// State is where a contact wash stands. Every move gives a new State; nothing is shared.
type State struct {
	Cloth   Cloth                    `json:"cloth"`
	Lacquer Lacquer                  `json:"lacquer"`
	Mitts   [2]Held                  `json:"mitts" doc:"Upper mitt, lower mitt"`
	Mitt    int                      `json:"mitt" doc:"0 upper mitt, 1 lower mitt"`
	Bucket  Bucket                   `json:"bucket" doc:"Rinse bucket"`
	Suds    float64                  `json:"suds" doc:"mg of grit in the wash bucket"`
	Since   float64                  `json:"since" doc:"m2 washed since the last reload"`
	Bare    bool                     `json:"bare" doc:"Rinsed but not reloaded"`
	Patches []Patch                  `json:"patches"`
	Done    map[vehicle.Zone]float64 `json:"done" doc:"Share of each zone washed, 0 to 1"`
	Drag    float64                  `json:"drag" doc:"mg m2"`
	Harm    float64                  `json:"harm" doc:"Drag over the scale of each zone's paint, summed"`
	Rinses  int                      `json:"rinses"`
	Left    float64                  `json:"left" doc:"mg of grit left on washed paint, re-soiling by run-down included"`
}

// SoilAfterTouch is what a touch leaves of a panel's soil.
func SoilAfterTouch(s Soil) Soil { return Soil{s.Loose * (1 - picksUp), s.Adherent * (1 - picksUp)} }

// Start is a wash with clean mitts, a seated guard and clean water.
func Start(cloth Cloth, lacquer Lacquer, patches []Patch) State {
	return State{
		Cloth:   cloth,
		Lacquer: lacquer,
		Bucket:  NewBucket(true, usualWater),
		Patches: patches,
		Done:    map[vehicle.Zone]float64{},
	}
}

// Face is the face that is down now.
func (s State) Face() Face { return s.Mitts[s.Mitt].Faces[s.Mitts[s.Mitt].Face] }

// Slip is how well the cloth lubricates now.
func (s State) Slip() Slip {
	if s.Bare && s.Since <= SudsArea {
		return PoorSlip
	}
	return slipAfter(s.Since)
}

// Index is the mar index so far.
func (s State) Index() float64 { return Index(s.Harm) }

// fresh is the state with shares of its own, so that what is tried on it leaves the first one as it is.
func (s State) fresh() State {
	s.Done = maps.Clone(s.Done)
	return s
}

// Remaining is the share of a zone still unwashed.
func (s State) Remaining(z vehicle.Zone) float64 { return max(0, 1-s.Done[z]) }

// Patch finds a zone that is to be washed.
func (s State) Patch(z vehicle.Zone) (Patch, error) {
	for _, p := range s.Patches {
		if p.Zone == z {
			return p, nil
		}
	}
	return Patch{}, fmt.Errorf("zone %q is not washed with the mitt here", z)
}

// Answer is what a move did.
type Answer struct {
	State State   `json:"state"`
	Drag  float64 `json:"drag" doc:"Grit dragged by this move, mg m2"`
	Over  bool    `json:"over" doc:"Exposed grit passed the paint's limit"`
	Why   string  `json:"why"`
}

// Make plays one move. Moves that cannot be made (a zone that is done, a share out of range) are errors and change
// nothing.
func (s State) Make(m Move) (Answer, error) {
	return s.fresh().move(m, true)
}

// move plays a move on a State whose shares it may change; a plan in the making needs no words for each.
func (s State) move(m Move, explain bool) (Answer, error) {
	switch m.Kind {
	case WashZone:
		return s.wash(m, explain)
	case Flip:
		h := &s.Mitts[s.Mitt]
		h.Face = 1 - h.Face
		a := Answer{State: s}
		if explain {
			a.Why = fmt.Sprintf("Face %d is down: %s.", h.Face+1, carries(s.Face()))
		}
		return a, nil
	case RubGuard, SwishOnly:
		return s.rinse(m, explain)
	case Reload:
		return s.reload(explain), nil
	case LowerMitt:
		if s.Mitt == 1 {
			return Answer{}, fmt.Errorf("the lower mitt is in hand already: it never goes back up")
		}
		s.Mitt, s.Since, s.Bare = 1, 0, false
		return Answer{
			State: s,
			Why:   "A clean second mitt for the lower band: the upper mitt never meets its grit.",
		}, nil
	}
	return Answer{}, fmt.Errorf("move %q: use one of %q", m.Kind, m.Kind.Values())
}

// glassHarm is the weight of drag on glass, which is several times harder than lacquer (model).
const glassHarm = 0.25

func (s State) wash(m Move, explain bool) (Answer, error) {
	p, err := s.Patch(m.Zone)
	if err != nil {
		return Answer{}, err
	}
	left := s.Remaining(m.Zone)
	if left <= 1e-9 {
		return Answer{}, fmt.Errorf("the %s is washed already: going over it again only drags grit", m.Zone.Label())
	}
	if !(m.Share > 0 && m.Share <= 1) {
		return Answer{}, fmt.Errorf("share %g of the %s: above 0 and at most 1", m.Share, m.Zone.Label())
	}
	area := p.Area * left * m.Share
	h := &s.Mitts[s.Mitt]
	slip := s.Slip()
	face, drag := s.Cloth.touch(h.Faces[h.Face], p.cuts(), area)
	drag *= m.Stroke.factor() * slip.factor()
	if m.Zone.Surface() == vehicle.Glass {
		drag *= glassHarm
	}
	h.Faces[h.Face] = face
	s.Since += area
	s.Drag += drag
	s.Harm += p.marks(s.Lacquer, drag)
	s.Left += (1 - picksUp) * p.Grit * area
	s.resoil(p, area)
	s.Done[m.Zone] = min(1, s.Done[m.Zone]+left*m.Share)
	a := Answer{State: s, Drag: drag, Over: face.Exposed > s.Lacquer.Limit*(1+1e-9)}
	if explain {
		a.Why = whyWash(a, p, area, m.Stroke, slip)
	}
	return a, nil
}

// runDown is the share of a patch's grit that its wash water carries onto washed zones below it (model).
const runDown = 0.03

// below reports which bands lie under a band and catch its water.
func below(upper, lower vehicle.Band) bool {
	return height(lower) < height(upper)
}

func height(b vehicle.Band) int {
	switch b {
	case vehicle.Lower:
		return 0
	case vehicle.Middle:
		return 1
	}
	return 2
}

// resoil adds the run-down of a patch washed after zones below it were already clean.
func (s *State) resoil(p Patch, area float64) {
	for _, q := range s.Patches {
		if below(p.Band, q.Band) && s.Done[q.Zone] > 0 {
			s.Left += runDown * p.Grit * area * s.Done[q.Zone]
		}
	}
}

func (s State) rinse(m Move, explain bool) (Answer, error) {
	if !s.Cloth.Rinses() {
		return Answer{}, fmt.Errorf("a %s is not rinsed: fold to the next face or take a fresh one", s.Cloth)
	}
	facts := cloths[s.Cloth]
	takes := facts.rub
	if m.Kind == SwishOnly {
		takes = facts.swish
	}
	h := &s.Mitts[s.Mitt]
	before := h.Faces[0].grit() + h.Faces[1].grit()
	for i := range h.Faces {
		h.Faces[i] = h.Faces[i].less(takes)
		if !m.Inside { // wrung outside, which halves what is left; inside the mitt drinks it again (model)
			h.Faces[i] = Face{h.Faces[i].Exposed / 2, h.Faces[i].Sunk / 2}
		}
	}
	after := h.Faces[0].grit() + h.Faces[1].grit()
	var back float64
	s.Bucket, back = s.Bucket.dip(before - after)
	for i := range h.Faces {
		h.Faces[i].Exposed += back / 2
	}
	s.Rinses++
	s.Bare = true
	if !explain {
		return Answer{State: s}, nil
	}
	why := fmt.Sprintf("%.0f mg went to the rinse bucket, %.1f mg came back with its water.", before-after, back)
	if m.Inside {
		why += " Wrung inside, the mitt drinks again what comes out of it."
	}
	if m.Kind == SwishOnly {
		why += " Swishing leaves half of what sits deep in the pile: rub it on the guard."
	}
	return Answer{State: s, Why: why + " Reload before the next touch."}, nil
}

// A dip in the wash bucket loosens some of the grit a mitt still carries, and that bucket has no
// settling time: what goes in comes back (model).
var loosened = release{0.3, 0.1}

// dirtyDip is the grit, mg, above which putting a mitt into the wash bucket is a mistake worth naming.
const dirtyDip = 20

func (s State) reload(explain bool) Answer {
	h := &s.Mitts[s.Mitt]
	went := 0.0
	for i, f := range h.Faces {
		h.Faces[i] = f.less(loosened)
		went += f.grit() - h.Faces[i].grit()
	}
	s.Suds += went
	back := s.Suds * clothWater / rinseWater
	s.Suds -= back
	for i := range h.Faces {
		h.Faces[i].Exposed += back / 2
	}
	s.Since, s.Bare = 0, false
	if !explain {
		return Answer{State: s}
	}
	why := "Full of suds again: the mitt glides."
	if went > dirtyDip {
		why += fmt.Sprintf(
			" But %.0f mg of grit went into the wash bucket: rinse the mitt first, or every reload brings it back.",
			went,
		)
	}
	return Answer{State: s, Why: why}
}

func carries(f Face) string {
	if f.grit() < 1 {
		return "clean"
	}
	return fmt.Sprintf("%.0f mg exposed, %.0f mg sunk", f.Exposed, f.Sunk)
}

func whyWash(a Answer, p Patch, area float64, stroke Stroke, slip Slip) string {
	face := a.State.Face()
	why := fmt.Sprintf("This face met %.1f m² of grade %d: %s.", area, p.Grade, carries(face))
	if a.Over {
		why += fmt.Sprintf(" That is over the paint's limit of %.0f mg: flip or rinse before.", a.State.Lacquer.Limit)
	}
	if stroke.Circles {
		why += " Circles double the harm: they show from every angle."
	}
	if stroke.Pressing {
		why += " Pressing triples it: the weight of the mitt is enough."
	}
	if slip != GoodSlip {
		why += fmt.Sprintf(" The mitt's slip was %s: reload.", slip)
	}
	if p.Band == vehicle.Lower {
		why += " Rinse at once after a lower band."
	}
	return why
}
