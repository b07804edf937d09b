package contact

import "math"

// Strokes as they are drawn: a path over a panel, judged by its geometry alone (docs/models.md, strokes). Lengths are in
// metres, x along the car and y downwards from the panel's upper edge.

// PathPoint is where the middle of the cloth is at a time.
type PathPoint struct {
	T float64 `json:"t" doc:"s from the drill's beginning"`
	X float64 `json:"x" doc:"m along the car"`
	Y float64 `json:"y" doc:"m down from the panel's upper edge"`
}

func (p PathPoint) to(q PathPoint) (dx, dy float64) { return q.X - p.X, q.Y - p.Y }

func (p PathPoint) distance(q PathPoint) float64 { return math.Hypot(q.X-p.X, q.Y-p.Y) }

const (
	// shaky is how far a steady hand strays from the line that it draws, m: what is less is smoothed away (model).
	shaky = 0.02
	// reversal is the turn, radians, from which the hand goes back instead of round, at one place or within reversalPath.
	reversal     = 2 * math.Pi / 3
	reversalPath = 0.18
	// round is the turning of one sign that is a circle, within roundPath of way: three quarters, less what smoothing takes.
	round     = 1.4 * math.Pi
	roundPath = 2.0
	// straight is the chord over the length of a run from which it counts as straight.
	straight = 0.97
	// shortRun is the length of a run that says nothing about its line, m.
	shortRun = 0.08
)

// Run is a stretch of a path between two turns back.
type Run struct {
	From, To PathPoint
	Length   float64
}

// Straight reports whether the run is a straight line.
func (r Run) Straight() bool {
	return r.Length < shortRun || r.From.distance(r.To) >= straight*r.Length
}

// Along is the share of the run's way that goes along the car, 0 to 1.
func (r Run) Along() float64 {
	dx, dy := r.From.to(r.To)
	if dx == 0 && dy == 0 {
		return 0.5
	}
	return math.Abs(dx) / (math.Abs(dx) + math.Abs(dy))
}

// Runs are the stretches of a path between its turns back, each smoothed of what a hand shakes.
func Runs(path []PathPoint) []Run {
	line := smooth(path)
	var runs []Run
	start := 0
	for i := 1; i+1 < len(line); i++ {
		back := turnsBack(line, i)
		if back == 0 {
			continue
		}
		runs = append(runs, runOf(line[start:i+1]))
		i += back - 1 // the little way between two corners belongs to the turn
		start = i
	}
	if len(line) > start+1 {
		runs = append(runs, runOf(line[start:]))
	}
	return runs
}

// turnsBack is over how many corners the hand goes back at a corner: one sharp one, or a few close by that come to as much
// and no more than back; 0 where it does not.
func turnsBack(line []PathPoint, i int) int {
	turned, way := 0.0, 0.0
	for k := i; k+1 < len(line); k++ {
		by := turn(line[k-1], line[k], line[k+1])
		if turned*by < 0 {
			return 0
		}
		turned += by
		if math.Abs(turned) >= reversal {
			return k - i + 1
		}
		if way += line[k].distance(line[k+1]); way > reversalPath {
			return 0
		}
	}
	return 0
}

// turn is by how much the way turns at a corner, radians, positive to the right.
func turn(a, b, c PathPoint) float64 {
	x1, y1 := a.to(b)
	x2, y2 := b.to(c)
	return math.Atan2(x1*y2-y1*x2, x1*x2+y1*y2)
}

func runOf(line []PathPoint) Run {
	r := Run{From: line[0], To: line[len(line)-1]}
	for i := 1; i < len(line); i++ {
		r.Length += line[i-1].distance(line[i])
	}
	return r
}

// GoesRound reports whether a path has a circle or a loop of an eight: it turns to one side by three quarters of a circle
// within a short way, without going back on itself.
func GoesRound(path []PathPoint) bool {
	line := smooth(path)
	for i := 1; i+1 < len(line); i++ {
		turned, way := 0.0, 0.0
		side := turn(line[i-1], line[i], line[i+1])
		for k := i; k+1 < len(line) && way <= roundPath; k++ {
			by := turn(line[k-1], line[k], line[k+1])
			if by*side < 0 && math.Abs(by) > math.Pi/12 || math.Abs(by) >= reversal {
				break
			}
			turned += by
			way += line[k].distance(line[k+1])
			if math.Abs(turned) >= round {
				return true
			}
		}
	}
	return false
}

// smooth is the path without what a hand shakes: the fewest of its points such that no other lies further off than that
// (Ramer 1972, Douglas and Peucker 1973), after the mean of neighbours has taken out what is faster than a hand.
func smooth(path []PathPoint) []PathPoint {
	if len(path) < 3 {
		return path
	}
	return simplify(averaged(path), shaky)
}

// hand is how long the mean is taken over, s: nobody draws faster than that to and fro.
const hand = 0.14

// averaged is the mean of the points within a little while of each; towards both ends, which stay, the while gets shorter.
func averaged(path []PathPoint) []PathPoint {
	mean := make([]PathPoint, len(path))
	for i, p := range path {
		reach := min(hand/2, p.T-path[0].T, path[len(path)-1].T-p.T)
		low, high := i, i
		for low > 0 && path[low-1].T >= p.T-reach-1e-9 {
			low--
		}
		for high+1 < len(path) && path[high+1].T <= p.T+reach+1e-9 {
			high++
		}
		var x, y float64
		for _, q := range path[low : high+1] {
			x, y = x+q.X, y+q.Y
		}
		n := float64(high - low + 1)
		mean[i] = PathPoint{p.T, x / n, y / n}
	}
	return mean
}

func simplify(path []PathPoint, off float64) []PathPoint {
	if len(path) < 3 {
		return path
	}
	first, last := path[0], path[len(path)-1]
	worst, at := 0.0, 0
	for i := 1; i+1 < len(path); i++ {
		if d := beside(path[i], first, last); d > worst {
			worst, at = d, i
		}
	}
	if worst <= off {
		return []PathPoint{first, last}
	}
	left := simplify(path[:at+1], off)
	return append(left[:len(left)-1:len(left)-1], simplify(path[at:], off)...)
}

// beside is how far a point lies from the line between two others.
func beside(p, a, b PathPoint) float64 {
	dx, dy := a.to(b)
	length := math.Hypot(dx, dy)
	if length == 0 {
		return p.distance(a)
	}
	share := math.Max(0, math.Min(1, ((p.X-a.X)*dx+(p.Y-a.Y)*dy)/(length*length)))
	return p.distance(PathPoint{0, a.X + share*dx, a.Y + share*dy})
}
