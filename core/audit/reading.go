package audit

import (
	"fmt"
	"strings"
	"uskel/core/wrong"
)

// Reading is a number that a look asks for: what is read, in what unit, and what a pass lies within.
type Reading struct {
	What  string   `json:"what" minLength:"2" maxLength:"60" doc:"what is read: water left before the finishing towel"`
	Unit  string   `json:"unit,omitempty" maxLength:"16"`
	Least *float64 `json:"least,omitempty" doc:"a pass is no less"`
	Most  *float64 `json:"most,omitempty" doc:"a pass is no more"`
}

// Words are a reading as it is read on a list: "water left, %, up to 5".
func (r Reading) Words() string {
	words := []string{r.What}
	if r.Unit != "" {
		words = append(words, r.Unit)
	}
	switch {
	case r.Least != nil && r.Most != nil:
		words = append(words, fmt.Sprintf("%g to %g", *r.Least, *r.Most))
	case r.Least != nil:
		words = append(words, fmt.Sprintf("from %g", *r.Least))
	case r.Most != nil:
		words = append(words, fmt.Sprintf("up to %g", *r.Most))
	}
	return strings.Join(words, ", ")
}

func (r Reading) check() error {
	switch {
	case strings.TrimSpace(r.What) == "":
		return wrong.At("reading.what", "say what is read")
	case r.Least != nil && r.Most != nil && *r.Least > *r.Most:
		return wrong.At("reading.most", "%g is less than the least, %g", *r.Most, *r.Least)
	}
	return nil
}

// Proves refuses an answer that lacks the reading which the item asks for, and a pass whose reading is none.
func (i Item) Proves(a Answer) error {
	if i.Reading == nil || a.Verdict == NotApplicable {
		return nil
	}
	r, unit := *i.Reading, strings.TrimSpace(" "+i.Reading.Unit)
	if unit != "" {
		unit = " " + unit
	}
	switch {
	case a.Reading == nil:
		return wrong.At("reading", "say what was read: %s", r.Words())
	case a.Verdict == Found:
		return nil
	case r.Most != nil && *a.Reading > *r.Most:
		return wrong.At("reading", "%g%s is more than %g: say what was found, or read it again", *a.Reading, unit, *r.Most)
	case r.Least != nil && *a.Reading < *r.Least:
		return wrong.At("reading", "%g%s is less than %g: say what was found, or read it again", *a.Reading, unit, *r.Least)
	}
	return nil
}
