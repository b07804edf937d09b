// Package wrong says which field of what was told cannot be, and what would be right. Whoever shows it finds the field
// by its type; nobody reads it out of a sentence again.
package wrong

import (
	"errors"
	"fmt"
	"strings"
)

// Field is a field that cannot be as it was told.
type Field struct {
	Path string // where it stands in the document: places[2].name
	Says string // what would be right, with the value where that helps
}

func (f *Field) Error() string {
	if f.Path == "" {
		return f.Says
	}
	return f.Path + ": " + f.Says
}

// At is an error of the field at a path.
func At(path, says string, values ...any) error {
	return &Field{path, fmt.Sprintf(says, values...)}
}

// In puts everything that is wrong below a path: what was wrong at name is wrong at path.name.
func In(path string, err error) error {
	var all []error
	for _, f := range Fields(err) {
		all = append(all, &Field{Below(path, f.Path), f.Says})
	}
	return errors.Join(all...)
}

// Below is the path of a field of what stands at another.
func Below(path, field string) string {
	if path == "" || field == "" || strings.HasPrefix(field, "[") {
		return path + field
	}
	return path + "." + field
}

// Fields are all fields that an error names, in its order. An error that names none is one of no path.
func Fields(err error) []Field {
	var one *Field
	var many interface{ Unwrap() []error }
	switch {
	case err == nil:
		return nil
	case errors.As(err, &many):
		var all []Field
		for _, e := range many.Unwrap() {
			all = append(all, Fields(e)...)
		}
		return all
	case errors.As(err, &one):
		if says := err.Error(); says != one.Error() { // words were put before it: they are kept
			return []Field{{one.Path, says}}
		}
		return []Field{*one}
	}
	return []Field{{Says: err.Error()}}
}
