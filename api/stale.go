package api

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// mostChanges is how many differences a 409 lists.
const mostChanges = 12

// theirs is what somebody else saved meanwhile.
type theirs struct {
	doc any
	by  string    // empty when it is not recorded
	at  time.Time // on the shop's clock
}

// stale is a 409 that says who saved first and what differs from what was sent, field by field. Nothing of either is
// lost: theirs is saved, and the sender still holds its own.
func stale(field string, mine any, saved theirs) error {
	said := "Somebody else saved this meanwhile."
	if saved.by != "" {
		said = fmt.Sprintf("%s saved this at %s.", saved.by, saved.at.Format("15:04"))
	}
	var details []error
	for _, c := range changes(mine, saved.doc) {
		if len(details) == mostChanges {
			break
		}
		details = append(
			details,
			&huma.ErrorDetail{
				Location: "body." + field + c.path,
				Message: strings.TrimPrefix(fmt.Sprintf("%s: theirs is %s, yours is %s", fieldInWords(c.path),
					valueInWords(c.theirs), valueInWords(c.mine)), ": "),
				Value: c.mine,
			},
		)
	}
	return huma.NewError(http.StatusConflict, said+" Look at theirs, then save yours again.", details...)
}

type change struct{ path, mine, theirs string }

// changes lists the leaves in which two documents differ, by their JSON.
func changes(mine, saved any) []change {
	a, b := leaves(mine), leaves(saved)
	paths := []string{}
	for path := range a {
		paths = append(paths, path)
	}
	for path := range b {
		if _, both := a[path]; !both {
			paths = append(paths, path)
		}
	}
	slices.Sort(paths)
	var found []change
	or := func(text string, there bool) string {
		if !there {
			return "absent"
		}
		return text
	}
	for _, path := range paths {
		x, inA := a[path]
		y, inB := b[path]
		if x != y || inA != inB {
			found = append(found, change{path, or(x, inA), or(y, inB)})
		}
	}
	return found
}

// leaves flattens a document's JSON to path and value.
func leaves(doc any) map[string]string {
	text, _ := json.Marshal(doc)
	var parsed any
	_ = json.Unmarshal(text, &parsed)
	flat := map[string]string{}
	var walk func(path string, v any)
	walk = func(path string, v any) {
		switch v := v.(type) {
		case map[string]any:
			for k, inner := range v {
				walk(path+"."+k, inner)
			}
		case []any:
			for i, inner := range v {
				walk(fmt.Sprintf("%s[%d]", path, i), inner)
			}
		default:
			leaf, _ := json.Marshal(v)
			flat[path] = string(leaf)
		}
	}
	walk("", parsed)
	return flat
}

// local is a moment on the shop's clock, to be said to people.
func (s *server) local(ctx context.Context, at time.Time) time.Time {
	today, err := s.today(ctx)
	if err != nil {
		return at.UTC()
	}
	return at.In(today.Location())
}

// name says who a person is; empty when unknown.
func (s *server) name(ctx context.Context, id string) string {
	p, err := s.Store.Person(ctx, id)
	if err != nil {
		return ""
	}
	return p.Name
}
