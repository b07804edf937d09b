package drill

import (
	"fmt"
	"math"
	"math/rand"
	"slices"
	"strings"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Mitt is a wash by hand of a few panels.
type Mitt struct {
	Title   string          `json:"title"`
	Level   int             `json:"level" minimum:"1" maximum:"3"`
	Seed    int64           `json:"seed" maximum:"9007199254740991" doc:"of what may happen"`
	Cloth   contact.Cloth   `json:"cloth"`
	Lacquer contact.Lacquer `json:"lacquer"`
	Dark    bool            `json:"dark,omitempty" doc:"dark gloss, which no mesh may touch"`
	Panels  []contact.Panel `json:"panels" minItems:"1" maxItems:"4"`
	Strokes string          `json:"strokes" doc:"the shop's school: along the car, up and down on the sides, crosshatch"`
	Rinse   string          `json:"rinse" doc:"the shop's school: rub on the guard, or swish"`
	Window  measure.Seconds `json:"window" doc:"how long suds stay wet here and now, s"`
	Aim     float64         `json:"aim" doc:"scratch risk that the plan stays under"`
}

// lasts is how long each takes, s (model; a rinse with a reload is 24 s as the plan has it). A stroke takes what it takes.
var lasts = map[Do]measure.Seconds{FlipIt: 1, Rub: 12, SwishIt: 10, Load: 12, Look: 2, Feel: 4, Rewet: 8, RinseOff: 15, NextPanel: 3,
	Lower: 5, Spare: 8, SeatGuard: 10}

// Washing is how a wash by hand stands.
type Washing struct {
	Panel  int               `json:"panel" doc:"index of the one in hand"`
	Sheets []contact.Sheet   `json:"sheets"`
	Hand   contact.State     `json:"hand" doc:"mitt and buckets"`
	Wet    []measure.Seconds `json:"wet" doc:"by panel: since when its suds are drying; below 0 while there are none"`
	Dried  []bool            `json:"dried" doc:"by panel: its suds dried"`
	Mishap Mishap            `json:"mishap,omitempty"`
	// Of a towel that is folded and not rinsed: how many of its faces have been down before this one, and towels before this one.
	Folded int `json:"folded,omitempty"`
	Towels int `json:"towels,omitempty"`
}

func (w Washing) copied() *Washing {
	w.Sheets, w.Wet, w.Dried = slices.Clone(w.Sheets), slices.Clone(w.Wet), slices.Clone(w.Dried)
	return &w
}

// Check says what is wrong with a drill, naming the field.
func (m Mitt) Check() error {
	if len(m.Panels) == 0 || len(m.Panels) > 4 {
		return fmt.Errorf("panels: one to four")
	}
	for _, p := range m.Panels {
		if err := p.Check(); err != nil {
			return err
		}
	}
	return nil
}

// Task is the drill among the others.
func (m Mitt) Task() Task { return Task{Kind: ByHand, Mitt: &m} }

// start is a clean mitt in hand, not loaded yet; the panels wet from the rinse.
func (m Mitt) start() State {
	s := State{Washing: &Washing{Sheets: []contact.Sheet{}}}
	var patches []contact.Patch
	for _, p := range m.Panels {
		sheet := p.Sheet()
		s.Sheets = append(s.Sheets, sheet)
		s.Wet, s.Dried = append(s.Wet, -1), append(s.Dried, false)
		patch := p.Patch
		patch.Area = sheet.Area()
		patches = append(patches, patch)
	}
	s.Hand = contact.Start(m.Cloth, m.Lacquer, patches)
	s.Hand.Bare = !m.folds() // a towel comes wrung out of its mix, a mitt is loaded first
	return s
}

// fallenGrit is what a mitt picks up from the ground, mg on a face (model).
const fallenGrit = 60

func (m Mitt) play(s *State, a Action) (said Said, took measure.Seconds, err error) {
	switch a.Do {
	case Stroke:
		if said, err = m.stroke(s, a); err != nil {
			return said, 0, err
		}
		return said, m.timeOf(a.Path), nil
	case FlipIt, Rub, SwishIt, Load, Lower:
		if m.folds() {
			said.Text, err = m.fold(s, a.Do)
		} else {
			said, err = m.move(s, a.Do)
		}
	case Look, Feel:
		said.Text = m.pile(*s, a.Do)
	case Rewet, RinseOff, NextPanel:
		said, err = m.panel(s, a.Do)
	case Spare:
		said.Text = takeSpare(&s.Hand, &s.Mishap)
		if m.folds() {
			s.Folded, s.Towels, s.Hand.Bare = 0, s.Towels+1, false
			said.Text = "A fresh towel, folded in four, wrung to damp. The other goes to the laundry, never back into the clean bucket."
		}
	case SeatGuard:
		said.Text, err = seat(&s.Hand, &s.Mishap)
	default:
		err = unknown(a, Stroke, FlipIt, Rub, SwishIt, Load, Look, Feel, Rewet, RinseOff, NextPanel, Lower, Spare, SeatGuard)
	}
	return said, lasts[a.Do], err
}

// folds reports whether the cloth is a towel that is folded to its next face and not rinsed.
func (m Mitt) folds() bool { return !m.Cloth.Rinses() }

// fold turns a towel to its next clean face.
func (m Mitt) fold(s *State, do Do) (string, error) {
	switch {
	case do != FlipIt:
		return "", fmt.Errorf("a towel is not rinsed: fold it to the next face, or take a fresh one")
	case s.Folded+1 >= m.Cloth.Faces():
		return "", fmt.Errorf("all %d faces have been used: take a fresh towel", m.Cloth.Faces())
	}
	s.Folded++
	s.Hand.Mitts[s.Hand.Mitt], s.Hand.Since = contact.Held{}, 0
	return fmt.Sprintf("Face %d of %d is down, clean.", s.Folded+1, m.Cloth.Faces()), nil
}

// takeSpare puts a clean mitt in the hand.
func takeSpare(hand *contact.State, mishap *Mishap) string {
	hand.Mitts[hand.Mitt], hand.Since, hand.Bare = contact.Held{}, 0, true
	if *mishap == Fallen {
		*mishap = NoMishap
	}
	return "A clean spare mitt. The other goes to the laundry. Load this one."
}

// seat puts a guard that came up back.
func seat(hand *contact.State, mishap *Mishap) (string, error) {
	if hand.Bucket.Guard {
		return "", fmt.Errorf("the guard sits as it should")
	}
	hand.Bucket.Guard = true
	if *mishap == GuardUp {
		*mishap = NoMishap
	}
	return "Tilted in, pressed flat until it is snug: what has sunk stays below it.", nil
}

// pass lets the suds dry that have lain too long.
func (m Mitt) pass(s *State, said *Said) {
	for i, since := range s.Wet {
		if since >= 0 && !s.Dried[i] && s.Clock-since > m.Window {
			s.Dried[i] = true
			said.Text += fmt.Sprintf(" The suds on the %s have dried: streaks. Wet it before you touch it again.", m.Panels[i].Label)
			said.tell(DryPanel, 0.01)
		}
	}
}

// moves are what the mitt's own model knows of.
var moves = map[Do]contact.MoveKind{FlipIt: contact.Flip, Rub: contact.RubGuard, SwishIt: contact.SwishOnly, Load: contact.Reload,
	Lower: contact.LowerMitt}

// dirtyFace is the grit of a mitt, mg, above which it is rinsed before it goes into the wash bucket (core/contact).
const dirtyFace = 20

func (m Mitt) move(s *State, do Do) (Said, error) {
	said := Said{Do: do}
	carried := 0.0
	for _, f := range s.Hand.Mitts[s.Hand.Mitt].Faces {
		carried += f.Exposed + f.Sunk
	}
	answer, err := s.Hand.Make(contact.Move{Kind: moves[do]})
	if err != nil {
		return said, err
	}
	s.Hand, said.Text = answer.State, answer.Why
	switch {
	case do == Load && carried > dirtyFace && !wasRinsed(s.Said):
		said.tell(DirtyDip, 0.02)
	case (do == Rub || do == SwishIt) && s.Mishap == GuardUp:
		said.Text += " The guard floats: your hand stirs up what has sunk."
		said.tell(NoGuard, 0.02)
	case do == SwishIt && m.Rinse == condition.Swish:
		said.Text = fmt.Sprintf("Swished high and wrung outside, as this shop does it. %s", answer.Why)
	}
	return said, nil
}

// wasRinsed reports whether the mitt was rinsed since it last touched paint.
func wasRinsed(said []Said) bool {
	for _, s := range slices.Backward(said) {
		switch s.Do {
		case Rub, SwishIt, Spare, Lower:
			return true
		case Stroke:
			return false
		}
	}
	return true
}

// pile is what looking or feeling tells of the face in hand.
func (m Mitt) pile(s State, do Do) string {
	face := s.Hand.Face()
	share := face.Exposed / m.Lacquer.Limit
	if do == Feel {
		return fmt.Sprintf("With the bare hand: %s. Some %.0f mg at the tips, %.0f deep in the pile.", felt(share), face.Exposed, face.Sunk)
	}
	return pileLooks(share)
}

func pileLooks(share float64) string {
	switch {
	case share < 0.25:
		return "The pile is pale."
	case share < 0.7:
		return "Grey at the tips: a few more strokes, or turn it."
	}
	return "Dark at the tips: turn it now, or rinse."
}

func felt(share float64) string {
	switch {
	case share < 0.2:
		return "soft, no grain"
	case share < 0.7:
		return "a grain here and there"
	}
	return "gritty"
}

func (m Mitt) panel(s *State, do Do) (Said, error) {
	said := Said{Do: do}
	label := m.Panels[s.Panel].Label
	once, _ := s.Sheets[s.Panel].Covered()
	switch do {
	case Rewet:
		if s.Wet[s.Panel] < 0 {
			return said, fmt.Errorf("there are no suds on the %s yet", label)
		}
		s.Wet[s.Panel], s.Dried[s.Panel] = s.Clock+lasts[Rewet], false
		said.Text = fmt.Sprintf("The %s is wet again: its time begins anew.", label)
		if s.Sheets[s.Panel].Bugs() > 0 {
			s.Sheets[s.Panel].Soaked = true
			said.Text += " What sticks is soaked: the plush side takes it now."
		}
	case RinseOff:
		s.Wet[s.Panel] = -1
		done := map[bool]string{true: "dried", false: "rinsed"}[m.folds()]
		said.Text = fmt.Sprintf("The %s is %s, %.0f %% of it washed.", label, done, 100*once)
		if s.Panel == len(m.Panels)-1 && once > 0 {
			s.Done = true
			for i := range s.Wet {
				s.Wet[i] = -1
			}
		}
	case NextPanel:
		if s.Panel == len(m.Panels)-1 {
			return said, fmt.Errorf("this is the last panel: rinse it off")
		}
		s.Panel++
		said.Text = fmt.Sprintf("To the %s.", m.Panels[s.Panel].Label)
		if s.Mishap = mishapAt(m.Level, m.Seed, s.Panel, m.mayHappen()...); s.Mishap != NoMishap {
			said.Text += " " + capital(string(s.Mishap)) + "."
		}
		switch s.Mishap {
		case GuardUp:
			s.Hand.Bucket.Guard = false
		case Fallen:
			h := &s.Hand.Mitts[s.Hand.Mitt]
			h.Faces[h.Face].Exposed += fallenGrit
		}
	}
	return said, nil
}

// mayHappen are the mishaps of a cloth: where nothing is rinsed no guard comes up.
func (m Mitt) mayHappen() []Mishap {
	if m.folds() {
		return []Mishap{Fallen}
	}
	return []Mishap{GuardUp, Fallen}
}

// mishapAt is what happens at a moment of a drill: from the second level on, one time in two.
func mishapAt(level int, seed int64, moment int, of ...Mishap) Mishap {
	dice := rand.New(rand.NewSource(seed + int64(moment)))
	if level < 2 || dice.Intn(2) == 0 {
		return NoMishap
	}
	return of[dice.Intn(len(of))]
}

func capital(text string) string { return strings.ToUpper(text[:1]) + text[1:] }

// mostScrub is what may be come over a third time, at turns and edges, m2, before it is scrubbing: two passes are taught where
// it is dirty (docs/trade.md, section 16).
const mostScrub = 0.02

// meshShare is how much more than the bugs a stroke with the mesh may go over: the cloth is larger than they are. leftBugs is
// what may stay of them, m2, at an edge (model).
const (
	meshShare = 4
	leftBugs  = 0.002
)

// quickest is how fast a mitt is drawn, m/s: what is drawn with a mouse faster than that takes as long (model).
const quickest = 0.7

func (m Mitt) stroke(s *State, a Action) (Said, error) {
	said := Said{Do: Stroke}
	if len(a.Path) < 2 {
		return said, fmt.Errorf("path: draw a line over the panel")
	}
	for _, p := range a.Path {
		if math.IsNaN(p.X+p.Y+p.T) || math.Abs(p.X) > 10 || math.Abs(p.Y) > 10 {
			return said, fmt.Errorf("path: points lie on the panel, within a few metres")
		}
	}
	p := m.Panels[s.Panel]
	if a.Mesh && m.folds() {
		return said, fmt.Errorf("mesh: a towel has no mesh side")
	}
	how := contact.Stroke{Pressing: a.Pressing, Circles: contact.GoesRound(a.Path), Dry: s.Dried[s.Panel], Mesh: a.Mesh}
	slip, before := s.Hand.Slip(), s.Hand.Harm
	face := s.Hand.Face().Exposed
	hand, sheet, swept := s.Hand.Sweep(p, s.Sheets[s.Panel], a.Path, how)
	if swept.Area == 0 {
		return said, fmt.Errorf("path: that stroke does not touch the %s", p.Label)
	}
	s.Hand, s.Sheets[s.Panel] = hand, sheet
	if s.Wet[s.Panel] < 0 {
		s.Wet[s.Panel] = s.Clock
	}
	said.Causes = m.causes(*s, p, a, how, swept, slip, hand.Harm-before, face)
	said.Text = m.tell(*s, p, sheet, swept, said.Causes)
	return said, nil
}

// timeOf is how long a stroke takes.
func (m Mitt) timeOf(path []contact.PathPoint) measure.Seconds {
	length := 0.0
	for _, r := range contact.Runs(path) {
		length += r.Length
	}
	drawn := path[len(path)-1].T - path[0].T
	return measure.Seconds(math.Ceil(math.Max(math.Min(drawn, 60), length/quickest)))
}

// causes are what was not as it should be in a stroke, each with what it cost.
func (m Mitt) causes(s State, p contact.Panel, a Action, how contact.Stroke, swept contact.Swept, slip contact.Slip,
	harm, face float64) []Told {
	var told []Told
	add := func(is bool, cause Cause, cost float64) {
		if is {
			told = append(told, Told{cause, math.Max(cost, 0.0005)})
		}
	}
	runs := contact.Runs(a.Path)
	add(how.Circles, Circles, harm/2)
	add(how.Pressing, Pressing, harm*2/3)
	add(how.Dry, DryPanel, harm*3/4)
	add(slip != contact.GoodSlip, NoSuds, harm/3)
	add(swept.Peak > m.Lacquer.Limit && face <= swept.Peak, Loaded, harm/2)
	add(s.Mishap == Fallen, Dropped, harm/2)
	add(a.Mesh && m.Dark, MeshDark, harm/2)
	add(a.Mesh && !m.Dark && swept.Area > meshShare*swept.Bugs, MeshWide, harm/2)
	add(swept.Scrub > mostScrub, Scrubbed, harm*swept.Scrub/swept.Area)
	if how.Circles {
		return told // the rest says nothing more
	}
	bent, against, upward, edge := false, false, false, false
	for _, r := range runs {
		bent = bent || !r.Straight()
		against = against || r.Length > 0.3 && m.goesAgainst(p, r)
		upward = upward || p.Line > 0 && r.From.Y > p.Line+0.03 && r.To.Y < p.Line-0.03 && face > m.Lacquer.Limit/5
		edge = edge || crossesFilm(p, r)
	}
	add(bent, Bent, harm/10)
	add(against, Against, 0)
	add(upward, Upward, harm/4)
	add(edge, FilmEdge, harm/4)
	return told
}

// goesAgainst reports whether a run goes against the shop's school: along the car, or up and down on the sides. Flats are
// washed along in both; crosswise is both ways.
func (m Mitt) goesAgainst(p contact.Panel, r contact.Run) bool {
	side := p.Zone != vehicle.Bonnet && p.Zone != vehicle.Roof && p.Zone != vehicle.BootLid
	switch m.Strokes {
	case condition.Crosshatch:
		return false
	case condition.UpAndDown:
		if side {
			return r.Along() > 0.7
		}
	}
	return r.Along() < 0.3
}

// crossesFilm reports whether a run goes over a film's edge from the bare side, with the cloth's own edge first.
func crossesFilm(p contact.Panel, r contact.Run) bool {
	for _, o := range p.Obstacles {
		if o.Kind == contact.FilmEdge && r.From.X < o.X-0.02 && r.To.X > o.X+0.02 && r.Along() > 0.5 {
			return true
		}
	}
	return false
}

// tell is a stroke in one sentence or two.
func (m Mitt) tell(s State, p contact.Panel, sheet contact.Sheet, swept contact.Swept, causes []Told) string {
	once, _ := sheet.Covered()
	text := fmt.Sprintf("%.0f %% of the %s is washed; the face carries %.0f mg.", 100*once, p.Label, s.Hand.Face().Exposed)
	switch {
	case sheet.Bugs() > leftBugs:
		text += " Bugs still stick to it."
	case swept.Bugs > 0:
		text += " The bugs are off."
	}
	if len(causes) > 0 {
		return words[dearest(causes)] + ". " + text
	}
	return text
}
