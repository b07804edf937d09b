package reference

import (
	"fmt"
	"math/rand"
	"slices"

	"uskel/core/measure"
	"uskel/core/schedule"
)

// Planted makes a problem round a timeline that is known: a crew that is never idle, on vehicles that hold bays, with
// orders and dwells that bind as that timeline keeps them. It can be done as given, and hardly sooner: only the time
// in which the crew goes over from one vehicle to the next could be saved, as least says.
func Planted(seed int64) (p schedule.Problem, known schedule.Timeline, least measure.Seconds) {
	for again := int64(0); ; again++ {
		g := planter{rng: rand.New(rand.NewSource(seed*1000 + again))}
		if g.plant(); len(g.p.Work) >= 20 && len(g.p.Work) <= 60 {
			return g.p, g.timeline(), g.least()
		}
	}
}

// planter lays the known timeline.
type planter struct {
	rng    *rand.Rand
	p      schedule.Problem
	finish measure.Seconds
	slots  []planted
	stays  []schedule.Stay
}

// planted is an activity where the known timeline has it.
type planted struct {
	vehicle, person int
	start, end      measure.Seconds
	washer          bool
}

func (g *planter) plant() {
	vehicles, people := 2+g.rng.Intn(5), 2+g.rng.Intn(2)
	g.finish = measure.Seconds(700 * vehicles)
	for k := range people {
		g.busy(k, vehicles)
	}
	slices.SortFunc(g.slots, func(a, b planted) int { return int(a.start - b.start) })
	g.washers()
	g.crew(people)
	bays := g.vehicles(vehicles)
	g.p.Machines = []schedule.Machine{{Name: "pressure washer", Count: 1}, {Name: bay, Count: bays}}
	for v := range vehicles {
		g.orders(v)
	}
}

// busy fills a person's time. Whoever works is near the vehicle whose turn it is, so that two or three are in bays at
// once.
func (g *planter) busy(person, vehicles int) {
	near := func(at measure.Seconds) int {
		v := int(at)*vehicles/int(g.finish) + g.rng.Intn(2)
		return min(v, vehicles-1)
	}
	vehicle := near(0)
	for at := measure.Seconds(0); at < g.finish; {
		if next := near(at); next > vehicle || g.rng.Intn(3) == 0 && next != vehicle {
			if vehicle = next; at > 0 {
				at += schedule.ChangeOver(schedule.Work{Job: "a"}, schedule.Work{Job: "b"})
			}
		}
		end := min(at+measure.Seconds(60+10*g.rng.Intn(25)), g.finish)
		if g.finish-end < 120 {
			end = g.finish
		}
		if at < end {
			g.slots = append(g.slots, planted{vehicle: vehicle, person: person, start: at, end: end})
		}
		at = end
	}
}

// washers gives the one pressure washer to activities that do not overlap.
func (g *planter) washers() {
	free := measure.Seconds(0)
	for i := range g.slots {
		if s := &g.slots[i]; s.start >= free && g.rng.Intn(2) == 0 {
			s.washer, free = true, s.end
		}
	}
}

func (g *planter) crew(people int) {
	for k := range people {
		g.p.People = append(
			g.p.People,
			schedule.Person{Name: string(rune('A' + k)), Skills: []string{"wash", fmt.Sprint("own ", k)}, Pace: 100},
		)
	}
	for i, s := range g.slots {
		w := schedule.Work{
			ID:      fmt.Sprint("w", i),
			Job:     fmt.Sprint("v", s.vehicle),
			Seconds: s.end - s.start,
			Skill:   "wash",
		}
		if g.rng.Intn(3) == 0 {
			w.Skill = fmt.Sprint("own ", s.person)
		}
		if s.washer {
			w.Uses = []string{"pressure washer"}
		}
		g.p.Work = append(g.p.Work, w)
	}
}

// vehicles puts them in, each in the first bay that is empty, and gives how many bays that takes.
func (g *planter) vehicles(count int) int {
	var empty []measure.Seconds // by bay, when its vehicle has gone
	for v := range count {
		job, first, last := fmt.Sprint("v", v), g.finish, measure.Seconds(0)
		for _, s := range g.slots {
			if s.vehicle == v {
				first, last = min(first, s.start), max(last, s.end)
			}
		}
		if last == 0 {
			continue
		}
		g.p.Jobs = append(g.p.Jobs, schedule.Job{ID: job, Bays: []string{bay}})
		g.stays = append(g.stays, schedule.Stay{Job: job, Start: first, End: last})
	}
	slices.SortFunc(g.stays, func(a, b schedule.Stay) int { return int(a.Start - b.Start) })
	for i := range g.stays {
		s := &g.stays[i]
		at := slices.IndexFunc(empty, func(gone measure.Seconds) bool { return gone <= s.Start })
		if at < 0 {
			at, empty = len(empty), append(empty, 0)
		}
		empty[at], s.Bay = s.End, fmt.Sprintf("%s#%d", bay, at+1)
	}
	if len(empty) == 1 {
		for i := range g.stays {
			g.stays[i].Bay = bay
		}
	}
	return len(empty)
}

// timeline is the known one.
func (g *planter) timeline() schedule.Timeline {
	t := schedule.Timeline{Feasible: true, Finish: g.finish, Stays: g.stays}
	for i, s := range g.slots {
		w := g.p.Work[i]
		t.Slots = append(t.Slots, schedule.Slot{ID: w.ID, Job: w.Job, Start: s.start, End: s.end,
			Who: g.p.People[s.person].Key(), Machines: w.Uses})
	}
	return t
}

// least is a finish that nobody can beat: all the work, shared evenly.
func (g *planter) least() measure.Seconds {
	work, people := measure.Seconds(0), measure.Seconds(len(g.p.People))
	for _, w := range g.p.Work {
		work += w.Seconds
	}
	return (work + people - 1) / people
}

// orders ties a vehicle's activities as the known timeline has them: most follow one before, and where time lies
// between, some are dwells with little to spare.
func (g *planter) orders(vehicle int) {
	for i, s := range g.slots {
		if s.vehicle != vehicle {
			continue
		}
		var before []int
		for j, o := range g.slots[:i] {
			if o.vehicle == vehicle && o.end <= s.start {
				before = append(before, j)
			}
		}
		if len(before) == 0 || g.rng.Intn(5) == 0 {
			continue
		}
		from := before[len(before)-1-g.rng.Intn(min(2, len(before)))]
		lag := schedule.Lag{From: g.p.Work[from].ID, To: g.p.Work[i].ID}
		if gap := s.start - g.slots[from].end; gap >= 60 && g.rng.Intn(3) > 0 {
			latest := gap + measure.Seconds(10*g.rng.Intn(4))
			lag.Min, lag.Max = gap-measure.Seconds(10*g.rng.Intn(5)), &latest
		}
		g.p.Lags = append(g.p.Lags, lag)
	}
}
