package schedule

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"uskel/core/measure"
)

// Validate checks a timeline against its problem from the problem alone, without the solver's own numbers: every
// activity once, in able hands, at its length, nobody and no machine at two things at once, every lag and dwell kept,
// hours and bays heeded.
func Validate(p Problem, t Timeline) error {
	v := validator{
		p:        p,
		at:       map[string]Slot{},
		work:     map[string]Work{},
		people:   map[string]Person{},
		machines: map[string]Machine{},
	}
	for _, w := range p.Work {
		v.work[w.ID] = w
	}
	for _, x := range p.People {
		v.people[x.Key()] = x
	}
	for _, x := range p.Machines {
		v.machines[x.Key()] = x
	}
	for _, s := range t.Slots {
		v.slot(s)
	}
	for _, w := range p.Work {
		if _, there := v.at[w.ID]; !there {
			v.add("%s is not on the timeline", w.ID)
		}
	}
	v.lags()
	v.hands()
	v.kit()
	v.groups()
	v.bays(t)
	return errors.Join(v.errs...)
}

type validator struct {
	p        Problem
	at       map[string]Slot
	work     map[string]Work
	people   map[string]Person
	machines map[string]Machine
	errs     []error
}

func (v *validator) add(format string, args ...any) {
	v.errs = append(v.errs, fmt.Errorf(format, args...))
}

// slot checks one activity by itself.
func (v *validator) slot(s Slot) {
	w, known := v.work[s.ID]
	if !known {
		v.add("%s is no activity of the problem", s.ID)
		return
	}
	if _, twice := v.at[s.ID]; twice {
		v.add("%s is there twice", s.ID)
	}
	v.at[s.ID] = s
	length := w.Seconds
	if !w.Unattended {
		who, known := v.people[s.Who]
		if !known {
			v.add("%s is in nobody's hands (%q)", s.ID, s.Who)
		}
		if pace := who.Pace; pace != 0 {
			length = (w.Seconds*measure.Seconds(pace) + 99) / 100
		}
		if w.Pinned == nil {
			v.able(w, who)
		}
		v.away(s, who.Name, who.Shut)
	} else if s.Who != "" {
		v.add("%s runs by itself and is in the hands of %s", s.ID, s.Who)
	}
	if w.Pinned != nil {
		if s.Start != w.Pinned.Start || s.End != w.Pinned.End {
			v.add(
				"%s has happened from %d to %d and stands at %d to %d",
				s.ID,
				w.Pinned.Start,
				w.Pinned.End,
				s.Start,
				s.End,
			)
		}
		return
	}
	if s.End-s.Start != length {
		v.add("%s lasts %d s and should %d", s.ID, s.End-s.Start, length)
	}
	if s.Start < w.NotBefore {
		v.add("%s starts at %d, before %d", s.ID, s.Start, w.NotBefore)
	}
	if v.p.Horizon > 0 && s.End > v.p.Horizon {
		v.add("%s ends at %d, after %d", s.ID, s.End, v.p.Horizon)
	}
	for _, j := range v.p.Jobs {
		if j.ID == w.Job && s.Start < j.Arrives {
			v.add("%s starts at %d, before its vehicle arrives at %d", s.ID, s.Start, j.Arrives)
		}
	}
}

func (v *validator) able(w Work, who Person) {
	if w.Skill != "" && !slices.Contains(who.Skills, w.Skill) {
		v.add("%s needs %s, and %s is not signed off for it", w.ID, w.Skill, who.Name)
	}
	if len(w.Only) > 0 && !slices.Contains(w.Only, who.Key()) {
		v.add("%s is for %v, not for %s", w.ID, w.Only, who.Name)
	}
}

func (v *validator) away(s Slot, what string, shut []Span) {
	if v.work[s.ID].Pinned != nil {
		return
	}
	for _, x := range shut {
		if s.Start < x.End && x.Start < s.End {
			v.add("%s from %d to %d: %s is not there from %d to %d", s.ID, s.Start, s.End, what, x.Start, x.End)
		}
	}
}

func (v *validator) lags() {
	for _, l := range v.p.Lags {
		from, to := v.at[l.From], v.at[l.To]
		if v.work[l.To].Pinned != nil {
			continue
		}
		gap := to.Start - from.End
		if gap < l.Min {
			v.add("%s starts %d s after %s has ended; at least %d", l.To, gap, l.From, l.Min)
		}
		if l.Max != nil && gap > *l.Max {
			v.add("%s starts %d s after %s has ended; at most %d: it has dried", l.To, gap, l.From, *l.Max)
		}
	}
}

// hands checks that nobody does two things at once and has time to go over from one to the next.
func (v *validator) hands() {
	for name := range v.people {
		mine := v.sorted(func(s Slot) bool { return s.Who == name && !v.work[s.ID].Unattended })
		for i := 1; i < len(mine); i++ {
			a, b := v.work[mine[i-1].ID], v.work[mine[i].ID]
			if b.Pinned == nil && mine[i].Start < mine[i-1].End+ChangeOver(a, b) {
				v.add(
					"%s: %s at %d before being done with %s at %d and over there",
					name,
					b.ID,
					mine[i].Start,
					a.ID,
					mine[i-1].End,
				)
			}
		}
	}
}

func (v *validator) sorted(mine func(Slot) bool) []Slot {
	var slots []Slot
	for _, s := range v.at {
		if mine(s) {
			slots = append(slots, s)
		}
	}
	slices.SortFunc(slots, func(a, b Slot) int {
		if a.Start != b.Start {
			return int(a.Start - b.Start)
		}
		return int(a.End - b.End)
	})
	return slots
}

// kit checks that no machine is used by more activities at once than there are of it.
func (v *validator) kit() {
	for name, machine := range v.machines {
		uses := v.sorted(func(s Slot) bool { return slices.Contains(v.work[s.ID].Uses, name) })
		for i, s := range uses {
			v.away(s, name, machine.Shut)
			if !slices.ContainsFunc(
				s.Machines,
				func(m string) bool { return m == name || strings.HasPrefix(m, name+"#") },
			) {
				v.add("%s has no %s", s.ID, name)
			}
			at := 0
			for _, other := range uses[:i+1] {
				if other.Start <= s.Start && s.Start < other.End {
					at++
				}
			}
			if at > machine.Count && v.work[s.ID].Pinned == nil {
				v.add("%s at %d: %d at once, and there are %d", name, s.Start, at, machine.Count)
			}
		}
	}
}

func (v *validator) groups() {
	who := map[string]string{}
	for _, w := range v.p.Work {
		if w.Together == "" || w.Unattended {
			continue
		}
		if first, known := who[w.Together]; known && first != v.at[w.ID].Who {
			v.add("%s needs the same person throughout: %s and %s", w.Together, first, v.at[w.ID].Who)
		}
		who[w.Together] = v.at[w.ID].Who
	}
}

// bays checks that every vehicle that needs a bay stands in one of its own from first to last.
func (v *validator) bays(t Timeline) {
	for _, j := range v.p.Jobs {
		mine := v.sorted(func(s Slot) bool { return v.work[s.ID].Job == j.ID })
		if len(j.Bays) == 0 || len(mine) == 0 {
			continue
		}
		at := slices.IndexFunc(t.Stays, func(s Stay) bool { return s.Job == j.ID })
		if at < 0 {
			v.add("%s stands in no bay", j.ID)
			continue
		}
		stay := t.Stays[at]
		kind := slices.IndexFunc(
			j.Bays,
			func(b string) bool { return stay.Bay == b || strings.HasPrefix(stay.Bay, b+"#") },
		)
		if kind < 0 {
			v.add("%s stands in %s, which it may not use", j.ID, stay.Bay)
			continue
		}
		for _, s := range mine {
			if s.Start < stay.Start || s.End > stay.End {
				v.add(
					"%s from %d to %d, and its vehicle is in the bay from %d to %d",
					s.ID,
					s.Start,
					s.End,
					stay.Start,
					stay.End,
				)
			}
			if s.End > s.Start {
				v.away(s, stay.Bay, v.machines[j.Bays[kind]].Shut)
			}
		}
		for _, other := range t.Stays {
			if other.Job != j.ID && other.Bay == stay.Bay && other.Start < stay.End && stay.Start < other.End {
				v.add("%s and %s are in %s at once", j.ID, other.Job, stay.Bay)
			}
		}
	}
}
