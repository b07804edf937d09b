package contact

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
)

// drawn is a line of a hand: a true path by share of its way, at a rate and a speed, shaken by a share of its size.
func drawn(rng *rand.Rand, length, size, hertz, speed float64, at func(way float64) (x, y float64)) []PathPoint {
	n := max(3, int(length/speed*hertz))
	path := make([]PathPoint, n)
	for i := range path {
		x, y := at(float64(i) / float64(n-1) * length)
		path[i] = PathPoint{float64(i) / hertz, x + size*0.05*rng.NormFloat64(), y + size*0.05*rng.NormFloat64()}
	}
	return path
}

// Circles of 0.1 to 0.3 m radius, shaken by 5 %, drawn at 30 to 120 points a second: 99 of 100 are found. Straight strokes
// shaken as much, to and fro, are called circles in less than 1 of 100.
func TestCirclesAreFound(t *testing.T) {
	rng := rand.New(rand.NewSource(12))
	found, called := 0, 0
	for range 1000 {
		radius, hertz, speed := 0.1+0.2*rng.Float64(), 30+90*rng.Float64(), 0.3+0.7*rng.Float64()
		way := 2 * math.Pi * radius * (1 + rng.Float64())
		side := float64(1 - 2*rng.Intn(2))
		if GoesRound(drawn(rng, way, radius, hertz, speed, func(w float64) (float64, float64) {
			return radius * math.Cos(w/radius), side * radius * math.Sin(w/radius)
		})) {
			found++
		}
		length, rows := 0.4+0.6*rng.Float64(), float64(1+rng.Intn(5))
		tilt := 2 * math.Pi * rng.Float64()
		if GoesRound(drawn(rng, length*rows, radius, hertz, speed, func(w float64) (float64, float64) {
			row, in := math.Modf(w / length)
			if math.Mod(row, 2) == 1 {
				in = 1 - in
			}
			x, y := in*length, 0.14*row
			return x*math.Cos(tilt) - y*math.Sin(tilt), x*math.Sin(tilt) + y*math.Cos(tilt)
		})) {
			called++
		}
	}
	t.Logf("%d of 1,000 circles found, %d of 1,000 straight strokes called circles", found, called)
	assert.GreaterOrEqual(t, found, 990)
	assert.Less(t, called, 10)
}

// By hand: a U of two runs of 0.6 m, a right angle, an eight.
func TestRunsByHand(t *testing.T) {
	u := []PathPoint{{0, 0, 0}, {1, 0.6, 0}, {1.2, 0.6, 0.1}, {2, 0, 0.1}}
	runs := Runs(dense(u))
	assert.Len(t, runs, 2)
	assert.False(t, GoesRound(dense(u)))
	for _, r := range runs {
		assert.True(t, r.Straight(), "%+v", r)
		assert.Greater(t, r.Along(), 0.8)
	}
	bent := Runs(dense([]PathPoint{{0, 0, 0}, {1, 0.5, 0}, {2, 0.5, 0.5}}))
	assert.Len(t, bent, 1, "a corner is no turn back")
	assert.False(t, bent[0].Straight())
	var eight []PathPoint
	for i := range 200 {
		a := 2 * math.Pi * float64(i) / 199
		eight = append(eight, PathPoint{a, 0.3 * math.Sin(a), 0.15 * math.Sin(2*a)})
	}
	assert.True(t, GoesRound(eight))
	assert.Empty(t, Runs([]PathPoint{{0, 1, 1}}))
	assert.InDelta(t, 0, Runs(dense([]PathPoint{{0, 0, 0}, {1, 0, 0.5}}))[0].Along(), 1e-9)
}

// dense puts a point every centimetre.
func dense(corners []PathPoint) []PathPoint {
	var path []PathPoint
	for i := 1; i < len(corners); i++ {
		a, b := corners[i-1], corners[i]
		n := int(a.distance(b)/0.01) + 1
		for k := range n {
			share := float64(k) / float64(n)
			path = append(path, PathPoint{a.T + share*(b.T-a.T), a.X + share*(b.X-a.X), a.Y + share*(b.Y-a.Y)})
		}
	}
	return append(path, corners[len(corners)-1])
}
