package drill

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// RunResult sets somebody's run beside the one as taught.
type RunResult struct {
	Passed      bool        `json:"passed"`
	Why         []string    `json:"why" doc:"what is missing to pass"`
	Remarks     []RunRemark `json:"remarks" doc:"what was not as it should be, the dearest first, each cause once"`
	Figures     []RunFigure `json:"figures" doc:"what it came to, and what it comes to as taught"`
	PlanActions []Action    `json:"planActions,omitempty" doc:"the same drill as taught, to be played on the same picture"`
}

// RunFigure is one of the figures that a run comes to.
type RunFigure struct {
	Label string   `json:"label"`
	Yours float64  `json:"yours"`
	Plan  *float64 `json:"plan,omitempty"`
	Unit  string   `json:"unit" doc:"s, %, mg/m², ml; empty for a number"`
}

func figure(label string, yours, plan float64, unit string) RunFigure {
	return RunFigure{label, roundTenth(yours), new(roundTenth(plan)), unit}
}

func roundTenth(x float64) float64 { return math.Round(10*x) / 10 }

// RunRemark is a cause, told once.
type RunRemark struct {
	Cause Cause   `json:"cause"`
	Says  string  `json:"says"`
	Moves []int   `json:"moves" doc:"the actions at which it happened, from 0"`
	Cost  float64 `json:"cost" doc:"hundredths of scratch risk, about"`
}

// Covered from which a panel counts as washed, and how much worse than the plan's the index may be (model: an edge that was
// missed shows; elegance comes later).
const (
	enough    = 0.95
	allowance = 8.0
	slack     = 1.15 // over the plan's own fullest face, until it counts as too much
	perM2     = 30.0 // s of strokes a m2 (docs/models.md: 0.45 to 0.6 min)
	perRinse  = 24.0 // s
)

// own is the plan's own run over the same panels.
func (m Mitt) own() (contact.Plan, error) {
	if m.folds() {
		fresh, err := contact.Fresh(m.Cloth, m.Lacquer, m.start().Hand.Patches)
		return contact.Plan{Index: fresh.Index, Rinses: fresh.Cloths - 1, Peak: m.Lacquer.Limit}, err
	}
	lower := slices.ContainsFunc(m.Panels, func(p contact.Panel) bool { return p.Band == vehicle.Lower && p.Grade >= 3 })
	return contact.Make(m.Cloth, m.Lacquer, m.start().Hand.Patches, lower, cmp.Or(m.Aim, contact.DefaultAim))
}

// Judge sets a finished run beside the drill as taught.
func (t Task) Judge(actions []Action) (RunResult, error) {
	g, err := t.game()
	if err != nil {
		return RunResult{}, err
	}
	s, err := t.Replay(actions)
	if err != nil {
		return RunResult{}, err
	}
	if !s.Done {
		return RunResult{}, fmt.Errorf("this drill is not done yet")
	}
	own, err := g.asTaught()
	if err != nil {
		return RunResult{}, err
	}
	taught, err := t.Replay(own)
	if err != nil {
		return RunResult{}, err
	}
	r, err := g.judge(s, taught)
	r.Remarks, r.PlanActions = remarks(s.Said), own
	if r.Why == nil {
		r.Why = []string{}
	}
	for _, x := range r.Remarks {
		if fails[x.Cause] {
			r.Why = append(r.Why, x.Says+".")
		}
	}
	r.Passed = len(r.Why) == 0
	return r, err
}

// judge holds a wash by hand to what the planner itself makes of these panels.
func (m Mitt) judge(s, taught State) (RunResult, error) {
	own, err := m.own()
	if err != nil {
		return RunResult{}, err
	}
	r := RunResult{}
	area, least := 0.0, 1.0
	for i, sheet := range s.Sheets {
		once, _ := sheet.Covered()
		if sheet.Bugs() > leftBugs {
			r.Why = append(r.Why, fmt.Sprintf("Bugs still stick to the %s: the mesh side takes them, or soaking.", m.Panels[i].Label))
		}
		area, least = area+sheet.Area(), math.Min(least, once)
		if once < enough {
			r.Why = append(r.Why, fmt.Sprintf("%.0f %% of the %s is washed: %.0f %% are asked for.", 100*once, m.Panels[i].Label, 100*enough))
		}
	}
	// Whoever swishes as the shop teaches it is held to that, not to a mitt that is rubbed.
	index, plan := s.Hand.Index(), math.Max(own.Index, taught.Hand.Index())
	if index > plan+allowance {
		r.Why = append(r.Why, tooHigh(index, plan))
	}
	r.Figures = []RunFigure{
		figure("Scratch risk", index, plan, ""),
		m.rinses(*s.Washing, own),
		figure("Time", float64(s.Clock), area*perM2+perRinse*float64(own.Rinses+1), "s"),
		{Label: "Washed, at the least", Yours: math.Round(100 * least), Unit: "%"},
	}
	return r, nil
}

// rinses is how often the mitt was rinsed, or how many towels were taken, where nothing is rinsed.
func (m Mitt) rinses(w Washing, own contact.Plan) RunFigure {
	if m.folds() {
		return figure("Towels", float64(w.Towels+1), float64(own.Rinses+1), "")
	}
	return figure("Rinses", float64(w.Hand.Rinses), float64(own.Rinses), "")
}

func tooHigh(index, own float64) string {
	return fmt.Sprintf("Scratch risk %.0f: as taught it is %.0f, and %.0f more are let pass.", index, own, allowance)
}

// remarks are the causes of a run, each once with the moves at which it happened, the dearest first.
func remarks(said []Said) []RunRemark {
	list := []RunRemark{}
	for move, s := range said {
		for _, told := range s.Causes {
			at := slices.IndexFunc(list, func(r RunRemark) bool { return r.Cause == told.Cause })
			if at < 0 {
				list = append(list, RunRemark{Cause: told.Cause, Says: words[told.Cause]})
				at = len(list) - 1
			}
			list[at].Moves = append(list[at].Moves, move)
			list[at].Cost = math.Round(1000*(list[at].Cost/100+told.Cost)) / 10
		}
	}
	slices.SortStableFunc(list, func(a, b RunRemark) int { return cmp.Compare(b.Cost, a.Cost) })
	return list
}

// Panels are what a drill of a level washes of a car: a door; the bonnet and a door; both and the sill with the tail of the
// side, where the sections get small (docs/trade.md, section 16). Sizes are of a mid-size car (model).
func Panels(level int, patches []contact.Patch, filmed bool) []contact.Panel {
	of := func(z vehicle.Zone) contact.Patch {
		at := slices.IndexFunc(patches, func(p contact.Patch) bool { return p.Zone == z })
		if at < 0 {
			return contact.Patch{Zone: z, Band: z.Band(), Grade: 1, Grit: 98}
		}
		return patches[at]
	}
	door := contact.Panel{Patch: of(vehicle.UpperLeft), Label: "front door", Width: 1.1, Height: 0.64, Line: 0.42,
		Obstacles: []contact.Obstacle{{Kind: contact.Handle, X: 0.78, Y: 0.16, W: 0.22, H: 0.06},
			{Kind: contact.Gap, X: 0, Y: 0, W: 0.02, H: 0.64}}}
	bonnet := contact.Panel{Patch: of(vehicle.Bonnet), Label: "bonnet", Width: 1.2, Height: 0.64,
		Obstacles: []contact.Obstacle{{Kind: contact.Badge, X: 0.06, Y: 0.28, W: 0.06, H: 0.08}}}
	if filmed {
		bonnet.Obstacles = append(bonnet.Obstacles, contact.Obstacle{Kind: contact.FilmEdge, X: 0.7, Y: 0, W: 0, H: 0.64})
	}
	sill := contact.Panel{Patch: of(vehicle.LowerLeft), Label: "lower side", Width: 1.2, Height: 0.4, Obstacles: []contact.Obstacle{}}
	switch level {
	case 1:
		return []contact.Panel{door}
	case 2:
		return []contact.Panel{bonnet, door}
	}
	return []contact.Panel{bonnet, door, sill}
}

// bugs are what sticks to the bonnet's front, m (model).
var bugs = contact.Obstacle{Kind: contact.Bugs, X: 0.16, Y: 0.42, W: 0.3, H: 0.1}

// Make makes a drill of a level on a car: what the pre-wash left on it, how easily it marks, and how long suds stay wet.
func Make(title string, level int, seed int64, lacquer contact.Lacquer, patches []contact.Patch, filmed bool, window measure.Seconds,
	strokes, rinse string, aim float64) (Mitt, error) {
	return MakeWith(contact.Mitt, title, level, seed, lacquer, patches, filmed, window, strokes, rinse, aim)
}

// MakeWith is the same with another cloth: a rinseless wash with folded towels or a split sponge. It refuses what is too dirty
// for it, as the planner does.
func MakeWith(cloth contact.Cloth, title string, level int, seed int64, lacquer contact.Lacquer, patches []contact.Patch, filmed bool,
	window measure.Seconds, strokes, rinse string, aim float64) (Mitt, error) {
	m := Mitt{Title: title, Level: min(max(level, 1), 3), Seed: seed, Cloth: cloth, Lacquer: lacquer, Strokes: strokes, Rinse: rinse,
		Aim: aim}
	m.Window = min(max(window, shortestWindow), longestWindow[m.Level-1])
	m.Panels = Panels(m.Level, patches, filmed)
	if !m.folds() && m.Level > 1 {
		m.Panels[0].Obstacles = append(m.Panels[0].Obstacles, bugs) // the bonnet's
	}
	for i := range m.Panels {
		least := leastGrit[m.Level-1]
		if m.folds() {
			least = leastGrit[0] // towels are for light dirt
		}
		m.Panels[i].Grit = math.Max(m.Panels[i].Grit, least)
	}
	own, err := m.own()
	if err != nil {
		return m, err
	}
	m.Lacquer.Limit = math.Max(m.Lacquer.Limit, slack*own.Peak)
	return m, m.Check()
}

// The shortest time that suds stay wet in a drill, and the longest by level: shorter nobody could wash a panel, longer nothing
// is learnt from it (model).
const shortestWindow = 90 * measure.Second

var longestWindow = [3]measure.Seconds{240, 180, 120}

// leastGrit is what lies on a panel at least, mg/m2 by level, however clean the car was: what foam and a jet leave of grade 1,
// of grade 2, and a good deal more (model).
var leastGrit = [3]float64{98, 270, 400}
