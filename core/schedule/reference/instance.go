// Package reference makes wash-shaped scheduling problems and writes them for an independent solver, so that
// timelines can be held against proven optima (docs/scheduling.md says how the stored ones were made).
package reference

import (
	"fmt"
	"math/rand"

	"uskel/core/measure"
	"uskel/core/schedule"
)

// Instance makes a problem from a seed: 10 to 60 activities, 1 to 4 people and machines together, 1 to 4 vehicles,
// dwells. About one in eight asks for what cannot be.
func Instance(seed int64) schedule.Problem {
	most := 60
	if seed%2 == 0 { // small enough for the independent solver to prove
		most = 20
	}
	for again := int64(0); ; again++ {
		if p := wash(seed*1000 + again); len(p.Work) >= 10 && len(p.Work) <= most {
			return p
		}
	}
}

func wash(seed int64) schedule.Problem {
	g := maker{rng: rand.New(rand.NewSource(seed))}
	people := 1 + g.rng.Intn(3)
	for k := range people {
		who := schedule.Person{Name: string(rune('A' + k)), Skills: []string{"wash"}, Pace: 100}
		if k > 0 && g.rng.Intn(3) == 0 {
			who.Pace = 100 + 10*(1+g.rng.Intn(5))
		}
		if k == 0 || g.rng.Intn(3) > 0 {
			who.Skills = append(who.Skills, "mitt")
		}
		g.p.People = append(g.p.People, who)
	}
	if people < 4 {
		g.p.Machines = append(g.p.Machines, schedule.Machine{Name: "pressure washer", Count: 1})
	}
	vehicles := 1 + g.rng.Intn(4)
	if vehicles > 2 && g.rng.Intn(2) == 0 {
		vehicles = 1
	}
	for v := range vehicles {
		job := schedule.Job{ID: fmt.Sprint("v", v+1)}
		if v > 0 {
			job.Arrives = measure.Seconds(g.rng.Intn(30) * 60)
		}
		g.p.Jobs = append(g.p.Jobs, job)
		g.vehicle(job.ID, 60/vehicles)
	}
	if g.rng.Intn(8) == 0 {
		g.spoil()
	}
	return g.p
}

type maker struct {
	rng *rand.Rand
	p   schedule.Problem
	job string
}

func (g *maker) seconds(low, high int) measure.Seconds {
	return measure.Seconds((low + g.rng.Intn(high-low+1)) / 5 * 5)
}

// add puts an activity in and orders it after others.
func (g *maker) add(id string, low, high int, change func(*schedule.Work), after ...string) string {
	w := schedule.Work{ID: g.job + "." + id, Job: g.job, Seconds: g.seconds(low, high), Skill: "wash"}
	if change != nil {
		change(&w)
	}
	g.p.Work = append(g.p.Work, w)
	for _, a := range after {
		g.p.Lags = append(g.p.Lags, schedule.Lag{From: a, To: w.ID})
	}
	return w.ID
}

func (g *maker) dwell(from, to string, low, high measure.Seconds) {
	g.p.Lags = append(g.p.Lags, schedule.Lag{From: from, To: to, Min: low, Max: &high})
}

func washer(w *schedule.Work) { w.Uses = []string{"pressure washer"} }

// vehicle adds a wash of at most so many activities; stages come and go by chance.
func (g *maker) vehicle(job string, most int) {
	g.job = job
	chance := func(n int) bool { return g.rng.Intn(n) > 0 }
	setup := g.add("setup", 60, 240, nil)
	wheels := []string{setup}
	if most >= 20 && chance(3) {
		wheels = g.wheels(setup)
	}
	foam := g.add("foam", 90, 150, washer, setup)
	low := g.seconds(120, 420)
	buckets := g.add("buckets", 60, 150, nil, setup)
	rinse := g.add("rinse", 90, 240, washer, append([]string{foam}, wheels...)...)
	g.dwell(foam, rinse, low, low+g.seconds(120, 600))
	last := rinse
	mitts := []string{}
	for k := range 1 + g.rng.Intn(3) {
		after := []string{last}
		if k == 0 {
			after = append(after, buckets)
		}
		last = g.add(
			fmt.Sprint("mitt", k+1),
			150,
			420,
			func(w *schedule.Work) { w.Skill, w.Together = "mitt", job+" mitt" },
			after...)
		mitts = append(mitts, last)
	}
	final := g.add("final", 90, 200, washer, mitts...)
	if most >= 15 && chance(2) {
		iron := g.add("iron", 60, 120, nil, final)
		low := g.seconds(120, 300)
		off := g.add("iron off", 60, 150, washer, iron)
		g.dwell(iron, off, low, low+g.seconds(60, 200))
		final = off
	}
	dry := g.add("dry", 150, 360, nil, final)
	ends := []string{dry}
	for _, x := range []struct {
		id        string
		low, high int
	}{{"glass", 90, 240}, {"shuts", 120, 240}, {"tyres", 100, 180}, {"seal", 150, 360}} {
		if chance(3) {
			ends = append(ends, g.add(x.id, x.low, x.high, nil, dry))
		}
	}
	g.add("look", 60, 150, nil, ends...)
}

// wheels adds four wheels, each with its own dwell: the solver may soak all four and rinse them in turn, or do one at
// a time.
func (g *maker) wheels(after string) []string {
	low := g.seconds(30, 120)
	high := low + g.seconds(60, 240)
	soak, scrub, off := g.seconds(15, 30), g.seconds(60, 200), g.seconds(20, 45)
	agitate := g.rng.Intn(2) == 0
	var rinsed []string
	for _, at := range []schedule.Place{schedule.FrontLeft, schedule.FrontRight, schedule.RearRight, schedule.RearLeft} {
		on := g.add("soak "+string(at), 15, 30, func(w *schedule.Work) { w.Seconds, w.At = soak, at }, after)
		before := on
		if agitate {
			before = g.add("brush "+string(at), 60, 200, func(w *schedule.Work) { w.Seconds, w.At = scrub, at }, on)
		}
		rinse := g.add(
			"rinse "+string(at),
			20,
			45,
			func(w *schedule.Work) { w.Seconds, w.At, w.Uses = off, at, []string{"pressure washer"} },
			before,
		)
		limit := high
		if agitate {
			limit += scrub
		}
		g.dwell(on, rinse, low, limit)
		rinsed = append(rinsed, rinse)
	}
	return rinsed
}

// spoil asks for something that cannot be: product that must be off before the work that lies between can be done,
// two dwells that one pair of hands cannot both keep, a skill that nobody has, or an end that comes too soon.
func (g *maker) spoil() {
	switch g.rng.Intn(4) {
	case 0:
		on := g.add("tar", 30, 60, nil)
		between := g.add("tar work", 300, 400, nil, on)
		g.dwell(on, g.add("tar off", 30, 60, nil, between), 0, 200)
	case 1:
		g.p.People = g.p.People[:1]
		g.p.People[0].Skills = []string{"wash", "mitt"}
		for k := range 2 {
			on := g.add(fmt.Sprint("spot ", k), 60, 60, nil)
			g.dwell(on, g.add(fmt.Sprint("spot off ", k), 200, 200, nil, on), 100, 110)
			g.dwell(g.job+".foam", on, 0, 150)
		}
	case 2:
		g.add("polish", 60, 120, func(w *schedule.Work) { w.Skill = "polish" })
	case 3:
		g.p.Horizon = 0
		total := measure.Seconds(0)
		for _, w := range g.p.Work {
			total += w.Seconds
		}
		g.p.Horizon = total / measure.Seconds(len(g.p.People)) * 7 / 10
	}
}
