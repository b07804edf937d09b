package cases

import (
	"errors"
	"fmt"
	"strings"

	"uskel/core/procedure"
	"uskel/core/wrong"
)

// Own is a case that a lead has written.
type Own struct {
	ID      string          `json:"id"`
	Title   string          `json:"title" minLength:"1" maxLength:"80"`
	Skill   procedure.Skill `json:"skill"`
	Scene   string          `json:"scene" maxLength:"600" doc:"what is known, a line each"`
	Ask     string          `json:"ask" minLength:"1" maxLength:"300"`
	Choices []string        `json:"choices" minItems:"2" maxItems:"4" doc:"the right one first"`
	Because string          `json:"because" minLength:"1" maxLength:"600"`
}

// Check says what is wrong with it, naming the field.
func (o Own) Check() error {
	var errs []error
	blank := func(field, text string) {
		if strings.TrimSpace(text) == "" {
			errs = append(errs, wrong.At(field, "write it"))
		}
	}
	blank("title", o.Title)
	blank("ask", o.Ask)
	blank("because", o.Because)
	seen := map[string]bool{}
	for i, c := range o.Choices {
		blank(fmt.Sprintf("choices[%d]", i), c)
		if seen[strings.TrimSpace(c)] {
			errs = append(errs, wrong.At(fmt.Sprintf("choices[%d]", i), "the same answer twice"))
		}
		seen[strings.TrimSpace(c)] = true
	}
	if len(o.Choices) < 2 || len(o.Choices) > 4 {
		errs = append(errs, wrong.At("choices", "two to four answers"))
	}
	return errors.Join(errs...)
}

// Kind is the kind that an own case makes: always itself, its answers in another order.
func (o Own) Kind() Kind {
	return Kind{ID: "own-" + o.ID, Title: o.Title, Skill: o.Skill, make: func(d *dealer) bool {
		for line := range strings.Lines(o.Scene) {
			if line = strings.TrimSpace(line); line != "" {
				d.Scene = append(d.Scene, line)
			}
		}
		d.choose(o.Ask, o.Choices[0], o.Choices[1:]...)
		d.because("The shop", "%s", o.Because)
		return true
	}}
}

// OwnID is the id of the own case that a kind is made of; false of a kind that is worked out.
func OwnID(kind string) (string, bool) { return strings.CutPrefix(kind, "own-") }

// MakeFrom makes a case of one of some kinds.
func MakeFrom(all []Kind, id string, seed int64, level int, world World) (Case, error) {
	for _, k := range all {
		if k.ID == id {
			return k.made(seed, level, world)
		}
	}
	return Case{}, wrong.At("kind", "%q: there is no such case", id)
}
