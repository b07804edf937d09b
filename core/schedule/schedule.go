// Package schedule lays work on a timeline: a wash in one pair of hands in the procedure's order (OnePerson), or the
// work of a crew on one vehicle or a day of them with machines, bays, dwells and hours (Solve), with a promise of
// when it is done (Promise) and a validator of its own (Validate).
package schedule

import "fmt"

// Activity is a step with its length in minutes and, if product stays on, its dwell.
type Activity struct {
	ID      string
	Title   string
	Minutes float64
	Machine string
	Dwell   *Dwell
	Ends    []string // activities whose product this one takes off; unknown ids are steps left out
	Rewets  []string // activities whose product this one wets again; unknown ids are steps left out
	Over    []string // activities whose product must have worked before this one goes over it, and stays on
}

// Dwell is counted in minutes from the end of the application: Max is where it dries or its label ends, Label the
// label alone.
type Dwell struct{ Min, Max, Label float64 }

// Kind tells what a block of time is.
type Kind string

// The kinds of block.
const (
	HandsOn Kind = "hands on"
	Waiting Kind = "waiting"
)

// Values lists the kinds.
func (Kind) Values() []string { return []string{string(HandsOn), string(Waiting)} }

// Block is a stretch of the person's time, in minutes from the start.
type Block struct {
	Step  string  `json:"step"`
	Kind  Kind    `json:"kind"`
	Start float64 `json:"start"`
	End   float64 `json:"end"`
}

// Working is a product working on the car, in minutes from the start.
type Working struct {
	Step     string  `json:"step"`
	Start    float64 `json:"start" doc:"application finished"`
	Earliest float64 `json:"earliest" doc:"earliest rinse"`
	Latest   float64 `json:"latest" doc:"latest rinse: label or drying"`
	End      float64 `json:"end" doc:"rinse begins"`
	Fits     bool    `json:"fits" doc:"the rinse begins in time"`
	label    float64 // minutes from the start of the wash at which its label ends
}

// Solo is a timeline for one person.
type Solo struct {
	Minutes float64   `json:"minutes"`
	Blocks  []Block   `json:"blocks"`
	Working []Working `json:"working"`
	Waited  float64   `json:"waited" doc:"minutes in which product worked and nobody did"`
	Late    []string  `json:"late" doc:"dwells that one person in this order cannot keep, in words"`
}

// OnePerson runs the activities in order. An activity that takes product off waits for the dwell's
// minimum; arriving after the maximum is reported, never hidden.
func OnePerson(activities []Activity) Solo {
	line := Solo{Blocks: []Block{}, Working: []Working{}, Late: []string{}}
	open := map[string]int{}
	now := 0.0
	for _, a := range activities {
		start := now
		for _, ids := range [][]string{a.Ends, a.Over} {
			for _, id := range ids {
				if i, on := open[id]; on {
					start = max(start, line.Working[i].Earliest)
				}
			}
		}
		if start > now {
			line.Blocks = append(line.Blocks, Block{a.ID, Waiting, now, start})
			line.Waited += start - now
		}
		for _, id := range a.Ends {
			if i, on := open[id]; on {
				line.finish(i, start, titleOf(activities, id))
				delete(open, id)
			}
		}
		now = start + a.Minutes
		line.Blocks = append(line.Blocks, Block{a.ID, HandsOn, start, now})
		if a.Dwell != nil {
			for _, id := range a.Rewets {
				if i, on := open[id]; on {
					line.Working[i].rewet(start, now+a.Dwell.Max)
				}
			}
			open[a.ID] = len(line.Working)
			line.Working = append(
				line.Working,
				Working{a.ID, now, now + a.Dwell.Min, now + a.Dwell.Max, now + a.Dwell.Max, true, now + a.Dwell.Label},
			)
		}
	}
	line.Minutes = now
	return line
}

// titleOf names an activity for a sentence.
func titleOf(activities []Activity, id string) string {
	for _, a := range activities {
		if a.ID == id && a.Title != "" {
			return a.Title
		}
	}
	return id
}

// rewet lets product that is still wet at a time dry no earlier than what was put over it; its label still ends it.
func (w *Working) rewet(at, dries float64) {
	if at <= w.Latest+1e-9 {
		w.Latest = max(w.Latest, min(w.label, dries))
		w.End = w.Latest
	}
}

func (l *Solo) finish(i int, at float64, title string) {
	w := &l.Working[i]
	w.End = at
	w.Fits = at <= w.Latest+1e-9
	if !w.Fits {
		l.Late = append(
			l.Late,
			fmt.Sprintf(
				"%s: it must come off by minute %.1f, and one person in this order reaches it at %.1f.",
				title,
				w.Latest,
				at,
			),
		)
	}
}
