// Package cases makes judgement cases for people who learn, judges their answers and says when a kind is asked again
// (docs/trade.md, sections 18 and 19). Every answer is worked out by the same core that plans washes.
package cases

import (
	"errors"
	"fmt"
	"math"
	"math/rand"
	"slices"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/recall"
	"uskel/core/shelf"
)

// Case is one question with its answer: a choice among two to four, or a number.
type Case struct {
	Kind    string          `json:"kind"`
	Title   string          `json:"title"`
	Skill   procedure.Skill `json:"skill"`
	Level   int             `json:"level" minimum:"1" maximum:"3"`
	Scene   []string        `json:"scene" doc:"what is known, a line each"`
	Ask     string          `json:"ask"`
	Choices []string        `json:"choices,omitempty" doc:"absent where a number is asked"`
	Unit    string          `json:"unit,omitempty" doc:"of the number that is asked"`
	Answer  Answer          `json:"answer"`
	// facts and job are what it was made from, for checking.
	facts condition.Facts
	job   *plan.Job
	was   map[string]float64
}

// Answer is what is right and why.
type Answer struct {
	Choice  int     `json:"choice" doc:"index of the right choice"`
	Number  float64 `json:"number" doc:"the right number"`
	Within  float64 `json:"within" doc:"how far off still counts as right"`
	Because string  `json:"because"`
	Source  string  `json:"source"`
	Other   string  `json:"other,omitempty" doc:"what the other school of the trade says"`
}

// Given is what somebody answered.
type Given struct {
	Choice *int     `json:"choice,omitempty" minimum:"0" maximum:"3"`
	Number *float64 `json:"number,omitempty"`
	Unsure bool     `json:"unsure,omitempty" doc:"right, but not sure of it"`
	Millis int      `json:"millis,omitempty" minimum:"0" maximum:"3600000" doc:"ms from seeing it to answering"`
}

// Judge says whether an answer is right. An answer of the wrong form is an error.
func (c Case) Judge(g Given) (bool, error) {
	if len(c.Choices) > 0 {
		if g.Choice == nil || *g.Choice < 0 || *g.Choice >= len(c.Choices) {
			return false, fmt.Errorf("choice: pick one of the %d answers", len(c.Choices))
		}
		return *g.Choice == c.Answer.Choice, nil
	}
	if g.Number == nil || math.IsNaN(*g.Number) || math.IsInf(*g.Number, 0) {
		return false, errors.New("number: write a number")
	}
	return math.Abs(*g.Number-c.Answer.Number) <= c.Answer.Within+1e-9, nil
}

// swiftly is how fast an answer is that needed no second thought, ms (model).
const swiftly = 8_000

// Rated is how an answer counts for when its kind is asked again.
func (g Given) Rated(right bool) recall.Rating {
	switch {
	case !right:
		return recall.Wrong
	case g.Unsure:
		return recall.Slow
	case g.Millis > 0 && g.Millis < swiftly:
		return recall.Swift
	}
	return recall.Right
}

// World is what cases are made from besides chance: the shop's own cars as they were looked over, its shelf and its schools.
type World struct {
	Jobs  []plan.Job
	Shelf []shelf.Product
	Pins  procedure.Pins
	Menu  condition.Menu
}

// Kind is a kind of case: each is remembered for itself.
type Kind struct {
	ID    string          `json:"id"`
	Title string          `json:"title"`
	Skill procedure.Skill `json:"skill"`
	make  func(*dealer) bool
}

// Kinds are all kinds of case, in the order of teaching.
func Kinds() []Kind { return slices.Clone(kinds) }

// Hardest is the highest level of a case.
const Hardest = 3

// mostTries is how often chance is asked for a scene that has one right answer.
const mostTries = 400

// Make makes a case of a kind: the same seed, level and world give the same case. Scenes in which no answer is right, or
// two may be, are thrown away.
func Make(kind string, seed int64, level int, world World) (Case, error) {
	return MakeFrom(kinds, kind, seed, level, world)
}

func (k Kind) made(seed int64, level int, world World) (Case, error) {
	d := &dealer{rng: rand.New(rand.NewSource(seed)), level: min(max(level, 1), Hardest), world: world}
	for range mostTries {
		d.Case = Case{Kind: k.ID, Title: k.Title, Skill: k.Skill, Level: d.level, was: map[string]float64{}}
		if k.make(d) {
			return d.Case, nil
		}
	}
	return Case{}, fmt.Errorf("kind %s, seed %d: no scene with one right answer", k.ID, seed)
}

// dealer deals one case.
type dealer struct {
	Case
	rng   *rand.Rand
	level int
	world World
}

// say adds a line of what is known.
func (d *dealer) say(format string, args ...any) {
	d.Scene = append(d.Scene, fmt.Sprintf(format, args...))
}

// choose asks among answers of which the first is right, and shuffles them.
func (d *dealer) choose(ask string, right string, wrong ...string) {
	d.Ask, d.Choices = ask, append([]string{right}, wrong...)
	d.rng.Shuffle(len(d.Choices), func(i, j int) { d.Choices[i], d.Choices[j] = d.Choices[j], d.Choices[i] })
	d.Answer.Choice = slices.Index(d.Choices, right)
}

// inOrder asks among answers that keep their order; right is the index of the right one.
func (d *dealer) inOrder(ask string, right int, choices ...string) {
	d.Ask, d.Choices, d.Answer.Choice = ask, choices, right
}

// number asks for a number, right within a share of it or an amount, whichever is more.
func (d *dealer) number(ask, unit string, right, share, amount float64) {
	d.Ask, d.Unit, d.Answer.Number, d.Answer.Within = ask, unit, right, math.Max(share*math.Abs(right), amount)
}

// because says why, and from where that is known.
func (d *dealer) because(source, format string, args ...any) {
	d.Answer.Source, d.Answer.Because = source, fmt.Sprintf(format, args...)
}

// one is one of some things.
func one[T any](d *dealer, of ...T) T { return of[d.rng.Intn(len(of))] }

// among is a number of some, harder levels using more of them.
func among[T any](d *dealer, easy, medium, hard []T) T {
	all := slices.Clone(easy)
	if d.level >= 2 {
		all = append(all, medium...)
	}
	if d.level >= Hardest {
		all = append(all, hard...)
	}
	return all[d.rng.Intn(len(all))]
}

const trade = "Common practice, no source"
