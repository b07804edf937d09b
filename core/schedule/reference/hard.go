package reference

import (
	"fmt"
	"math/rand"

	"uskel/core/measure"
	"uskel/core/schedule"
)

// Hard makes a problem that is harder than those of Instance: two to six vehicles that wait for one or two bays, each
// in its bay from first to last, a crew of two or three, and dwells that leave little between the earliest rinse and
// the latest. Every one can be laid out.
func Hard(seed int64) schedule.Problem {
	least, most := 20, 60
	if seed%3 != 0 { // small enough for the independent solver to prove
		least, most = 12, 20
	}
	for again := int64(0); ; again++ {
		p := crowded(seed*1000 + again)
		if len(p.Work) < least || len(p.Work) > most {
			continue
		}
		if t, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 30_000}); err == nil && t.Feasible {
			return p
		}
	}
}

func crowded(seed int64) schedule.Problem {
	g := maker{rng: rand.New(rand.NewSource(seed))}
	for k := range 2 + g.rng.Intn(2) {
		who := schedule.Person{Name: string(rune('A' + k)), Skills: []string{"wash"}, Pace: 100 + 10*g.rng.Intn(4)}
		if k == 0 || g.rng.Intn(2) == 0 {
			who.Skills = append(who.Skills, "mitt")
		}
		g.p.People = append(g.p.People, who)
	}
	g.p.Machines = append(g.p.Machines, schedule.Machine{Name: "pressure washer", Count: 1},
		schedule.Machine{Name: bay, Count: 1 + g.rng.Intn(2)})
	for v := range 2 + g.rng.Intn(5) {
		job := schedule.Job{ID: fmt.Sprint("v", v+1), Bays: []string{bay}}
		if v > 0 {
			job.Arrives = measure.Seconds(g.rng.Intn(10) * 60)
		}
		g.p.Jobs = append(g.p.Jobs, job)
		g.tight(job.ID)
	}
	return g.p
}

// bay is what the vehicles of the hard problems wait for.
const bay = "bay"

// tight adds a short wash whose dwells bind: six to eleven activities.
func (g *maker) tight(job string) {
	g.job = job
	chance := func(n int) bool { return g.rng.Intn(n) > 0 }
	setup := g.add("setup", 30, 120, nil)
	foam := g.add("foam", 60, 120, washer, setup)
	low := g.seconds(120, 300)
	buckets := g.add("buckets", 60, 150, nil, setup)
	rinse := g.add("rinse", 90, 180, washer, foam)
	g.dwell(foam, rinse, low, low+g.seconds(20, 90))
	mitt := g.add("mitt", 240, 480, func(w *schedule.Work) { w.Skill = "mitt" }, rinse, buckets)
	off := g.add("off", 60, 120, washer, mitt)
	g.dwell(mitt, off, 0, g.seconds(20, 60)) // suds are rinsed before they dry
	last := off
	if chance(2) {
		iron := g.add("iron", 60, 90, nil, off)
		low := g.seconds(120, 240)
		gone := g.add("iron off", 60, 120, washer, iron)
		g.dwell(iron, gone, low, low+g.seconds(20, 60))
		last = gone
	}
	if chance(2) {
		return
	}
	dry := g.add("dry", 120, 240, nil, last)
	g.dwell(last, dry, 0, g.seconds(60, 180)) // rinse water is drawn off before it spots
	if chance(3) {
		g.add("shuts", 60, 150, nil, dry)
	}
}
