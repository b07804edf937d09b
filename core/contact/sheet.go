package contact

import (
	"fmt"
	"math"

	"uskel/core/vehicle"
)

// Cell is how finely a panel is followed, m (docs/models.md, strokes).
const Cell = 0.02

// The mitt's footprint, m: it does not turn with the stroke (docs/models.md).
const (
	clothWide = 0.22
	clothHigh = 0.16
)

// ObstacleKind is what is in the way on a panel.
type ObstacleKind string

// The obstacles. A mitt goes round a handle and a badge; along a film edge, not over it; a gap holds grit; bugs stick where
// the plush side of a mitt goes over them.
const (
	Handle   ObstacleKind = "handle"
	Badge    ObstacleKind = "badge"
	FilmEdge ObstacleKind = "film edge"
	Gap      ObstacleKind = "gap"
	Bugs     ObstacleKind = "bugs"
)

// Values lists the obstacles.
func (ObstacleKind) Values() []string {
	return []string{string(Handle), string(Badge), string(FilmEdge), string(Gap), string(Bugs)}
}

// Obstacle is a rectangle on a panel, m from its upper left corner. A film edge is an upright line at X; the film lies to
// the right of it.
type Obstacle struct {
	Kind ObstacleKind `json:"kind"`
	X    float64      `json:"x"`
	Y    float64      `json:"y"`
	W    float64      `json:"w"`
	H    float64      `json:"h"`
}

// Panel is a panel to be washed by hand, as a rectangle.
type Panel struct {
	Patch
	Label     string     `json:"label"`
	Width     float64    `json:"width" doc:"m along the car"`
	Height    float64    `json:"height" doc:"m"`
	Line      float64    `json:"line,omitempty" doc:"m down from the upper edge: the body line, below which it is dirtier"`
	Obstacles []Obstacle `json:"obstacles"`
}

// Check says what is wrong with a panel.
func (p Panel) Check() error {
	if !(p.Width > clothWide && p.Width <= 4 && p.Height > clothHigh && p.Height <= 2) {
		return fmt.Errorf("panel %s: %.2f by %.2f m: larger than a mitt, up to 4 by 2 m", p.Label, p.Width, p.Height)
	}
	return nil
}

// below is how much dirtier a panel is below its line (model).
const belowLine = 1.6

// Sheet is a panel while it is washed, cell by cell, row by row from its upper left corner.
type Sheet struct {
	Cols   int       `json:"cols"`
	Rows   int       `json:"rows"`
	Grit   []float64 `json:"grit" doc:"mg/m2 that still lie on a cell"`
	Passes []int     `json:"passes" doc:"how often the cloth came over it; -1 where nothing is washed"`
	Harm   []float64 `json:"harm" doc:"drag on a cell, mg m2"`
	Stuck  []bool    `json:"stuck,omitempty" doc:"bugs that still stick to a cell; none when empty"`
	Soaked bool      `json:"soaked,omitempty" doc:"what sticks has been wetted again, and comes off with the plush side too"`
}

// Sheet is the panel before the first touch.
func (p Panel) Sheet() Sheet {
	s := Sheet{Cols: int(math.Round(p.Width / Cell)), Rows: int(math.Round(p.Height / Cell))}
	n := s.Cols * s.Rows
	s.Grit, s.Passes, s.Harm = make([]float64, n), make([]int, n), make([]float64, n)
	for row := range s.Rows {
		for col := range s.Cols {
			x, y := middle(col), middle(row)
			grit := p.Grit
			if p.Line > 0 && y > p.Line {
				grit *= belowLine
			}
			s.Grit[row*s.Cols+col] = grit
			for _, o := range p.Obstacles {
				if x < o.X || x > o.X+o.W || y < o.Y || y > o.Y+o.H {
					continue
				}
				switch o.Kind {
				case Handle, Badge:
					s.Passes[row*s.Cols+col] = -1
				case Bugs:
					s.stick(row*s.Cols + col)
				}
			}
		}
	}
	return s
}

func (s *Sheet) stick(cell int) {
	if s.Stuck == nil {
		s.Stuck = make([]bool, len(s.Passes))
	}
	s.Stuck[cell] = true
}

// Bugs is how much of it bugs still stick to, m2.
func (s Sheet) Bugs() float64 {
	n := 0
	for _, stuck := range s.Stuck {
		if stuck {
			n++
		}
	}
	return float64(n) * Cell * Cell
}

func middle(i int) float64 { return (float64(i) + 0.5) * Cell }

// fresh is a copy with cells of its own.
func (s Sheet) fresh() Sheet {
	s.Grit, s.Passes, s.Harm = append([]float64{}, s.Grit...), append([]int{}, s.Passes...), append([]float64{}, s.Harm...)
	s.Stuck = append([]bool(nil), s.Stuck...)
	return s
}

// Covered is the share of what is to be washed that the cloth came over, once or more and twice or more.
func (s Sheet) Covered() (once, twice float64) {
	n, one, two := 0, 0, 0
	for _, passes := range s.Passes {
		if passes < 0 {
			continue
		}
		n++
		if passes >= 1 {
			one++
		}
		if passes >= 2 {
			two++
		}
	}
	return float64(one) / float64(max(1, n)), float64(two) / float64(max(1, n))
}

// Area is what is to be washed of it, m2.
func (s Sheet) Area() float64 {
	n := 0
	for _, passes := range s.Passes {
		if passes >= 0 {
			n++
		}
	}
	return float64(n) * Cell * Cell
}

// Left is the grit that still lies on it, mg.
func (s Sheet) Left() float64 {
	sum := 0.0
	for i, grit := range s.Grit {
		if s.Passes[i] >= 0 {
			sum += grit * Cell * Cell
		}
	}
	return sum
}

// over gives the cells that the cloth comes over along a path, each time it comes there anew, in their order.
func (s Sheet) over(path []PathPoint) []int {
	var cells []int
	last := make([]int, len(s.Passes)) // the step at which the cloth lay on the cell last, from 1
	step := 0
	lay := func(x, y float64) {
		step++
		for row := firstIn(y - clothHigh/2); row < min(s.Rows, firstIn(y+clothHigh/2)); row++ {
			for col := firstIn(x - clothWide/2); col < min(s.Cols, firstIn(x+clothWide/2)); col++ {
				i := row*s.Cols + col
				if s.Passes[i] >= 0 && (last[i] == 0 || step-last[i] > 1) {
					cells = append(cells, i)
				}
				last[i] = step
			}
		}
	}
	for i, p := range path {
		if i == 0 {
			lay(p.X, p.Y)
			continue
		}
		from := path[i-1]
		n := max(1, int(math.Ceil(from.distance(p)/(Cell/2))))
		for k := 1; k <= n; k++ {
			share := float64(k) / float64(n)
			lay(from.X+share*(p.X-from.X), from.Y+share*(p.Y-from.Y))
		}
	}
	return cells
}

// firstIn is the first cell whose middle lies beyond an edge; never before the panel's own.
func firstIn(edge float64) int { return max(0, int(math.Floor(edge/Cell+0.5+1e-9))) }

// Swept is what a stroke did.
type Swept struct {
	Area  float64 `json:"area" doc:"m2 the cloth came over"`
	New   float64 `json:"new" doc:"m2 of it for the first time"`
	Drag  float64 `json:"drag" doc:"mg m2"`
	Peak  float64 `json:"peak" doc:"mg exposed on the face at the end"`
	Scrub float64 `json:"scrub" doc:"m2 come over for the third time or more"`
	Bugs  float64 `json:"bugs,omitempty" doc:"m2 of stuck bugs taken off"`
}

// Sweep draws the cloth in hand along a path over a panel's sheet: each cell that it comes over gives its grit to the face,
// and the drag adds up along the way with what the face carries.
func (s State) Sweep(p Panel, sheet Sheet, path []PathPoint, stroke Stroke) (State, Sheet, Swept) {
	s, sheet = s.fresh(), sheet.fresh()
	h := &s.Mitts[s.Mitt]
	face, weight := h.Faces[h.Face], 1.0
	if p.Weight > 0 {
		weight = p.Weight
	}
	glass := 1.0
	if p.Zone.Surface() == vehicle.Glass {
		glass = glassHarm
	}
	const area = Cell * Cell
	var swept Swept
	for _, i := range sheet.over(path) {
		slip := s.Slip()
		var drag float64
		face, drag = s.Cloth.touch(face, sheet.Grit[i]*weight, area)
		drag *= stroke.factor() * slip.factor() * glass
		s.Since += area
		s.Drag += drag
		s.Harm += p.marks(s.Lacquer, drag)
		swept.Drag += drag
		sheet.Harm[i] += drag
		sheet.Grit[i] *= 1 - picksUp
		swept.Area += area
		if len(sheet.Stuck) > 0 && sheet.Stuck[i] && (stroke.Mesh || sheet.Soaked) {
			sheet.Stuck[i] = false
			swept.Bugs += area
		}
		if sheet.Passes[i]++; sheet.Passes[i] == 1 {
			swept.New += area
		} else if sheet.Passes[i] > 2 {
			swept.Scrub += area
		}
	}
	h.Faces[h.Face] = face
	swept.Peak = face.Exposed
	return s, sheet, swept
}
