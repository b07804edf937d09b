package schedule

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"uskel/core/measure"
)

// Span is a stretch of time in seconds from the problem's zero; End is not part of it.
type Span struct {
	Start measure.Seconds `json:"start"`
	End   measure.Seconds `json:"end"`
}

// Person is a pair of hands.
type Person struct {
	ID     string   `json:"id,omitempty" doc:"what others name the person by; the name when absent"`
	Name   string   `json:"name"`
	Skills []string `json:"skills,omitempty" doc:"what the person is signed off for"`
	Pace   int      `json:"pace,omitempty" minimum:"0" maximum:"1000" doc:"% of the standard time this person takes; 100 when unsaid"`
	Shut   []Span   `json:"shut,omitempty" doc:"when the person is not there: before and after the shift, breaks"`
	// History is how the person's own washes varied; what the spreads say when there is none.
	History *History `json:"history,omitempty"`
}

// History is what a number of somebody's washes say of how long the next one takes, beside their pace.
type History struct {
	Sigma  float64 `json:"sigma" doc:"standard deviation of the logarithm of whole washes over plan"`
	Washes int     `json:"washes" minimum:"2" doc:"how many they were"`
}

// Machine is equipment, or a bay, of which there are some alike.
type Machine struct {
	ID    string `json:"id,omitempty" doc:"what others name it by; the name when absent"`
	Name  string `json:"name"`
	Count int    `json:"count" minimum:"1" maximum:"60"`
	Shut  []Span `json:"shut,omitempty" doc:"when it may not be used: quiet hours of a blower, rain over an open bay"`
}

// Key is what activities name the person by.
func (p Person) Key() string { return cmp.Or(p.ID, p.Name) }

// Key is what activities and vehicles name the machine by.
func (m Machine) Key() string { return cmp.Or(m.ID, m.Name) }

// unitKey is one of several machines alike, counted from 1.
func unitKey(machine string, unit int) string { return fmt.Sprintf("%s#%d", machine, unit) }

// Job is one vehicle.
type Job struct {
	ID       string          `json:"id"`
	Arrives  measure.Seconds `json:"arrives,omitempty" doc:"s"`
	Promised measure.Seconds `json:"promised,omitempty" doc:"s; 0 when nothing was promised"`
	Weight   int             `json:"weight,omitempty" doc:"how much a minute late hurts; 1 when unsaid"`
	Bays     []string        `json:"bays,omitempty" doc:"machines one of which the vehicle stands in from first to last; none when empty"`
}

// Work is an activity: one stretch of work that is not interrupted and done by one person, or by nobody when
// unattended.
type Work struct {
	ID         string          `json:"id"`
	Title      string          `json:"title,omitempty"`
	Step       string          `json:"step,omitempty" doc:"the plan's step it is part of"`
	Whole      string          `json:"whole,omitempty" doc:"the step's title; the activity's own when absent"`
	Job        string          `json:"job,omitempty"`
	Seconds    measure.Seconds `json:"seconds" doc:"at the standard pace"`
	Unattended bool            `json:"unattended,omitempty"`
	Skill      string          `json:"skill,omitempty"`
	Only       []string        `json:"only,omitempty" doc:"ids of people who may do it; anybody with the skill when empty"`
	Together   string          `json:"together,omitempty" doc:"activities with the same word here need the same person"`
	Uses       []string        `json:"uses,omitempty" doc:"one each of these machines, by id"`
	At         Place           `json:"at,omitempty" doc:"where on the vehicle"`
	Tool       string          `json:"tool,omitempty" doc:"what is in the hand; changing it takes a moment"`
	NotBefore  measure.Seconds `json:"notBefore,omitempty"`
	Pinned     *Pinned         `json:"pinned,omitempty" doc:"what has happened already and stays"`
}

// Pinned holds an activity to a start, and to a person by id.
type Pinned struct {
	Start measure.Seconds `json:"start"`
	End   measure.Seconds `json:"end"`
	Who   string          `json:"who,omitempty"`
}

// Lag orders two activities: To starts at least Min and, with a Max, at most Max after From has ended. With a Max it
// is a dwell: product put on by From and taken off by To.
type Lag struct {
	From string           `json:"from"`
	To   string           `json:"to"`
	Min  measure.Seconds  `json:"min,omitempty"`
	Max  *measure.Seconds `json:"max,omitempty"`
	// Limit is when it is really too late, where Max keeps a margin: a promise counts only what passes it.
	Limit *measure.Seconds `json:"limit,omitempty"`
	// Cover is set when To puts other product over that of From, which keeps it wet, rather than taking it off.
	Cover bool `json:"cover,omitempty"`
}

// Problem is work to be laid on a timeline. All times are whole seconds from a common zero.
type Problem struct {
	People   []Person        `json:"people"`
	Machines []Machine       `json:"machines"`
	Jobs     []Job           `json:"jobs,omitempty"`
	Work     []Work          `json:"work"`
	Lags     []Lag           `json:"lags,omitempty"`
	Horizon  measure.Seconds `json:"horizon,omitempty" doc:"everything must have ended by then; no limit when 0"`
}

// Place is where on the vehicle a person stands.
type Place string

// The places. Around is no place of its own: the work walks round by itself.
const (
	Around     Place = ""
	FrontEnd   Place = "front"
	RearEnd    Place = "rear"
	LeftSide   Place = "left"
	RightSide  Place = "right"
	FrontLeft  Place = "front left"
	FrontRight Place = "front right"
	RearLeft   Place = "rear left"
	RearRight  Place = "rear right"
)

// Values lists the places.
func (Place) Values() []string {
	return []string{
		"",
		string(FrontEnd),
		string(RearEnd),
		string(LeftSide),
		string(RightSide),
		string(FrontLeft),
		string(FrontRight),
		string(RearLeft),
		string(RearRight),
	}
}

// roundCar is the walk round a mid-size car, m (model: 4.5 m by 1.8 m and a step's distance from it).
const roundCar = 16

// metre is how far along the walk round the car a place lies, m from the middle of the front, clockwise seen from
// above; -1 for all round.
func (p Place) metre() int8 {
	switch p {
	case FrontEnd:
		return 0
	case FrontRight:
		return 2
	case RightSide:
		return 4
	case RearRight:
		return 6
	case RearEnd:
		return 8
	case RearLeft:
		return 10
	case LeftSide:
		return 12
	case FrontLeft:
		return 14
	}
	return -1
}

const (
	// walkPace is a walk with something in the hand on a wet floor, m/s (model).
	walkPace = 1
	// toolChange is laying down one thing and taking up another, s; nextCar is going over to another vehicle, s
	// (model).
	toolChange = 8
	nextCar    = 20
)

// ChangeOver is what a person needs between two activities: the walk round the vehicle, changing tools, or going over
// to the next vehicle.
func ChangeOver(a, b Work) measure.Seconds {
	return measure.Seconds(
		goOver(a.Job == b.Job, a.At.metre(), b.At.metre(), a.Tool != "" && b.Tool != "" && a.Tool != b.Tool),
	)
}

// goOver is the change-over from one place to another, s.
func goOver(sameCar bool, a, b int8, tools bool) int32 {
	if !sameCar {
		return nextCar
	}
	seconds := int32(0)
	switch {
	case a >= 0 && b >= 0:
		way := int32(a - b)
		if way < 0 {
			way = -way
		}
		seconds = min(way, roundCar-way) / walkPace
	case a >= 0 || b >= 0: // a round may end or begin anywhere: a quarter of the way in the mean
		seconds = roundCar / 4 / walkPace
	}
	if tools {
		seconds += toolChange
	}
	return seconds
}

// What bounds a problem: a day of 24 vehicles has some 450 activities and twice as many lags; nothing lies further
// off than a week and a half.
const (
	maxWork  = 1000
	maxLags  = 20_000
	furthest = measure.Seconds(1_000_000)
)

// Check names what makes a problem senseless: unknown names, doubled ids, lags in a circle, spans that end before
// they begin.
func (p Problem) Check() error {
	c := checker{
		people:   map[string]bool{},
		machines: map[string]bool{},
		jobs:     map[string]bool{},
		work:     map[string]bool{},
	}
	c.far("horizon", p.Horizon)
	c.hands(p)
	c.vehicles(p.Jobs)
	if len(p.Work) == 0 || len(p.Work) > maxWork {
		c.add("work: %d activities; from 1 to %d can be planned", len(p.Work), maxWork)
	}
	for _, w := range p.Work {
		c.activity(w)
	}
	if len(p.Lags) > maxLags {
		c.add("lags: %d; up to %d can be planned", len(p.Lags), maxLags)
	}
	for _, l := range p.Lags {
		c.lag(l)
	}
	if len(c.errs) == 0 && p.inOrder() == nil {
		c.add("lags: they run in a circle")
	}
	return errors.Join(c.errs...)
}

// checker gathers what is wrong with a problem, and the names that it has seen.
type checker struct {
	people, machines, jobs, work map[string]bool
	errs                         []error
}

func (c *checker) add(format string, args ...any) {
	c.errs = append(c.errs, fmt.Errorf(format, args...))
}

func (c *checker) once(seen map[string]bool, what, id string) {
	if id == "" || seen[id] {
		c.add("%s %q: every one needs a name of its own", what, id)
	}
	seen[id] = true
}

func (c *checker) spans(what string, spans []Span) {
	for _, s := range spans {
		if s.End <= s.Start || s.Start < 0 || s.End > furthest {
			c.add(
				"%s: shut from %d to %d: the end must be later than the start, both from 0 to %d",
				what,
				s.Start,
				s.End,
				furthest,
			)
		}
	}
}

func (c *checker) far(what string, times ...measure.Seconds) {
	for _, t := range times {
		if t < 0 || t > furthest {
			c.add("%s: %d s: from 0 to %d", what, t, furthest)
		}
	}
}

// hands checks people and machines: each is a bit of a 64-bit set.
func (c *checker) hands(p Problem) {
	for _, x := range p.People {
		c.once(c.people, "people", x.Key())
		c.spans("people "+x.Name, x.Shut)
		if x.Pace < 0 || x.Pace > 1000 {
			c.add("people %s: pace %d %%: above zero, up to 1000", x.Name, x.Pace)
		}
	}
	units := len(p.People)
	for _, m := range p.Machines {
		c.once(c.machines, "machines", m.Key())
		c.spans("machines "+m.Name, m.Shut)
		if m.Count < 1 {
			c.add("machines %s: count %d: one or more", m.Name, m.Count)
		}
		units += m.Count
	}
	if units > 64 {
		c.add("people and machines: %d in all; up to 64 can be planned together", units)
	}
}

func (c *checker) vehicles(jobs []Job) {
	for _, j := range jobs {
		c.once(c.jobs, "jobs", j.ID)
		c.far("jobs "+j.ID, j.Arrives, j.Promised)
		for _, b := range j.Bays {
			if !c.machines[b] {
				c.add("jobs %s: there is no bay %q", j.ID, b)
			}
		}
	}
}

func (c *checker) activity(w Work) {
	c.once(c.work, "work", w.ID)
	if w.Seconds < 0 || w.Seconds == 0 && !w.Unattended {
		c.add("work %s: %d s: at least one for somebody's hands, zero or more for what runs by itself", w.ID, w.Seconds)
	}
	c.far("work "+w.ID, w.Seconds, w.NotBefore)
	if w.Pinned != nil {
		c.far("work "+w.ID, w.Pinned.Start, w.Pinned.End, w.Pinned.End-w.Pinned.Start)
	}
	if w.Job != "" && !c.jobs[w.Job] {
		c.add("work %s: there is no job %q", w.ID, w.Job)
	}
	for _, m := range w.Uses {
		if !c.machines[m] {
			c.add("work %s: there is no machine %q", w.ID, m)
		}
	}
	for _, who := range w.Only {
		if !c.people[who] {
			c.add("work %s: there is nobody called %q", w.ID, who)
		}
	}
	if !slices.Contains(Place("").Values(), string(w.At)) {
		c.add("work %s: there is no place %q", w.ID, w.At)
	}
}

func (c *checker) lag(l Lag) {
	says := "lags from " + l.From + " to " + l.To
	c.far(says, max(0, l.Min))
	if l.Max != nil {
		c.far(says, *l.Max)
	}
	if l.Limit != nil && (l.Max == nil || *l.Limit < *l.Max || *l.Limit > furthest) {
		c.add("%s: limit %d s: it must not be below max", says, *l.Limit)
	}
	if !c.work[l.From] || !c.work[l.To] || l.From == l.To {
		c.add("lags: from %q to %q: name two activities", l.From, l.To)
	}
	if l.Min < 0 {
		c.add("%s: min %d s: zero or more", says, l.Min)
	}
}

// inOrder lists the activities so that none comes before what it waits for, otherwise as they were written; nil when
// lags run in a circle.
func (p Problem) inOrder() []int {
	index := make(map[string]int, len(p.Work))
	for i, w := range p.Work {
		index[w.ID] = i
	}
	waits, next := make([]int, len(p.Work)), make([][]int, len(p.Work))
	for _, l := range p.Lags {
		waits[index[l.To]]++
		next[index[l.From]] = append(next[index[l.From]], index[l.To])
	}
	order := make([]int, 0, len(p.Work))
	done := make([]bool, len(p.Work))
	for len(order) < len(p.Work) {
		at := 0
		for at < len(waits) && (done[at] || waits[at] > 0) {
			at++
		}
		if at == len(waits) {
			return nil
		}
		done[at] = true
		order = append(order, at)
		for _, to := range next[at] {
			waits[to]--
		}
	}
	return order
}

// Equip adds the machines that some work uses and nobody named: such a machine is there once.
func (p *Problem) Equip() {
	for _, w := range p.Work {
		for _, name := range w.Uses {
			if !slices.ContainsFunc(p.Machines, func(m Machine) bool { return m.Key() == name }) {
				p.Machines = append(slices.Clip(p.Machines), Machine{Name: name, Count: 1})
			}
		}
	}
}
