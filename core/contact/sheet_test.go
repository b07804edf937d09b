package contact

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/vehicle"
)

var plainDoor = Panel{Patch: Patch{Zone: vehicle.UpperLeft, Band: vehicle.Middle, Grit: 270}, Label: "door", Width: 1.1, Height: 0.48}

// raster is a path that covers a panel in rows, each so far below the one before.
func raster(p Panel, apart float64) []PathPoint {
	var path []PathPoint
	t := 0.0
	for y, right := 0.08, true; y < p.Height+0.04; y, right = y+apart, !right {
		from, to := 0.0, p.Width
		if !right {
			from, to = to, from
		}
		path = append(path, PathPoint{t, from, y}, PathPoint{t + 2, to, y})
		t += 2.2
	}
	return path
}

// By hand: a straight stroke of 0.6 m with a cloth of 0.22 by 0.16 m covers 0.82 by 0.16 m.
func TestAStrokeCoversWhatItShould(t *testing.T) {
	start := Start(Mitt, ordinaryLacquer, nil)
	_, sheet, swept := start.Sweep(plainDoor, plainDoor.Sheet(), []PathPoint{{0, 0.2, 0.25}, {1, 0.8, 0.25}}, Stroke{})
	assert.InEpsilon(t, 0.82*0.16, swept.Area, 0.02)
	assert.Equal(t, swept.Area, swept.New)
	once, twice := sheet.Covered()
	assert.InDelta(t, 0.82*0.16/0.528, once, 0.01)
	assert.Zero(t, twice)
	// To and fro over the same line: all but the ends, where the cloth stays down, is come over twice.
	_, sheet, _ = start.Sweep(plainDoor, plainDoor.Sheet(), []PathPoint{{0, 0.2, 0.25}, {1, 0.8, 0.25}, {2, 0.2, 0.25}}, Stroke{})
	_, twice = sheet.Covered()
	assert.InDelta(t, 0.60*0.16/0.528, twice, 0.01)
}

// The sum over the cells is the formula for a whole zone: a panel covered once gives its face and its drag.
func TestCellsSumUpToTheZone(t *testing.T) {
	start := Start(Mitt, ordinaryLacquer, nil)
	after, sheet, swept := start.Sweep(plainDoor, plainDoor.Sheet(), raster(plainDoor, 0.16), Stroke{})
	once, twice := sheet.Covered()
	assert.InDelta(t, 1, once, 0.01)
	assert.Less(t, twice, 0.02)
	face, drag := Mitt.touch(Face{}, plainDoor.Grit, 1.1*0.48)
	assert.InEpsilon(t, face.Exposed, after.Face().Exposed, 0.02)
	assert.InEpsilon(t, face.Sunk, after.Face().Sunk, 0.02)
	assert.InEpsilon(t, drag, swept.Drag, 0.03)
	assert.InEpsilon(t, 0.05*plainDoor.Grit*0.528, sheet.Left(), 0.05)
}

// How it is drawn changes what it covers by less than 2 % of the panel: more or fewer points, faster or slower, from the
// other end, from the other corner.
func TestDrawingChangesLittle(t *testing.T) {
	rng := rand.New(rand.NewSource(7))
	start := Start(Mitt, ordinaryLacquer, nil)
	covered := func(path []PathPoint) float64 {
		_, sheet, _ := start.Sweep(plainDoor, plainDoor.Sheet(), path, Stroke{})
		once, _ := sheet.Covered()
		return once
	}
	for range 200 {
		ax, ay, bx, by := rng.Float64()*1.1, rng.Float64()*0.48, rng.Float64()*1.1, rng.Float64()*0.48
		bend := 0.3 * rng.NormFloat64()
		at := func(share float64) (float64, float64) {
			b := bend * share * (1 - share)
			return ax + share*(bx-ax) - b*(by-ay), ay + share*(by-ay) + b*(bx-ax)
		}
		draw := func(n int, seconds float64, turn bool) []PathPoint {
			path := make([]PathPoint, n)
			for i := range path {
				share := float64(i) / float64(n-1)
				if turn {
					share = 1 - share
				}
				x, y := at(share)
				path[i] = PathPoint{seconds * float64(i) / float64(n-1), x, y}
			}
			return path
		}
		first := covered(draw(40, 1, false))
		assert.InDelta(t, first, covered(draw(160, 1, false)), 0.02, "more points")
		assert.InDelta(t, first, covered(draw(40, 6, false)), 0.02, "slower")
		assert.InDelta(t, first, covered(draw(40, 1, true)), 0.02, "from the other end")
		turned := draw(40, 1, false)
		for i := range turned { // the whole panel turned by half
			turned[i].X, turned[i].Y = plainDoor.Width-turned[i].X, plainDoor.Height-turned[i].Y
		}
		assert.InDelta(t, first, covered(turned), 0.02, "turned")
	}
}

func TestWhatIsInTheWay(t *testing.T) {
	door := plainDoor
	door.Obstacles = []Obstacle{{Handle, 0.8, 0.1, 0.2, 0.06}}
	door.Line = 0.3
	sheet := door.Sheet()
	assert.InDelta(t, 0.528-0.2*0.06, sheet.Area(), 0.003)
	assert.Greater(t, sheet.Grit[len(sheet.Grit)-1], sheet.Grit[0], "dirtier below the line")
	_, after, _ := Start(Mitt, ordinaryLacquer, nil).Sweep(door, sheet, raster(door, 0.16), Stroke{})
	once, _ := after.Covered()
	assert.Greater(t, once, 0.99, "a handle is no gap in the wash")
	assert.NoError(t, door.Check())
	door.Width = math.NaN()
	assert.Error(t, door.Check())
}
