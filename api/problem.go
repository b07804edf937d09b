package api

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/visit"
	"uskel/core/wrong"
	"uskel/store"
)

var (
	errAway = huma.NewError(
		http.StatusServiceUnavailable,
		"The database is away. Nothing was saved; it is tried again.",
	)
	errFull = huma.NewError(
		http.StatusServiceUnavailable,
		"The disk of the shop's database is full. Nothing was saved; it is tried again once somebody has made room.",
	)
	errInternal = huma.NewError(http.StatusInternalServerError, "Something went wrong on our side. Nothing was saved.")
)

// writeProblem sends problem details (RFC 9457) outside huma.
func writeProblem(w http.ResponseWriter, p huma.StatusError) {
	w.Header().Set("Content-Type", "application/problem+json")
	if p.GetStatus() == http.StatusServiceUnavailable {
		w.Header().Set("Retry-After", "2")
	}
	w.WriteHeader(p.GetStatus())
	_ = json.NewEncoder(w).Encode(p)
}

// invalid is a 422 that names the field, and what is wrong below it. That the database is away says nothing of the
// field: such an error stays what it is, and is tried again.
func invalid(field string, err error) error {
	if store.Away(err) {
		return err
	}
	details := []error{}
	for _, f := range wrong.Fields(wrong.In(field, err)) {
		details = append(details, &huma.ErrorDetail{Location: wrong.Below("body", f.Path), Message: f.Says})
	}
	return huma.NewError(http.StatusUnprocessableEntity, "Some of this cannot be; nothing was saved.", details...)
}

// Plainly says an error in lines for a terminal: the fields that a screen would mark, each with what would be right.
func Plainly(err error) error {
	var told *huma.ErrorModel
	if !errors.As(err, &told) {
		return err
	}
	lines := []string{told.Detail}
	for _, e := range told.Errors {
		lines = append(lines, "  "+strings.TrimPrefix(e.Location, "body.")+": "+e.Message)
	}
	return errors.New(strings.Join(lines, "\n"))
}

func forbidden(why string) error { return huma.NewError(http.StatusForbidden, why) }

func conflict(why string) error { return huma.NewError(http.StatusConflict, why) }

// problem turns any error into problem details. What the caller need not know is logged, not sent.
func (s *server) problem(ctx context.Context, operation string, err error) error {
	var already huma.StatusError
	var not *visit.NotNow
	switch {
	case errors.As(err, &already):
		return already
	case errors.Is(err, store.ErrNotFound):
		return huma.NewError(http.StatusNotFound, "There is no such "+refused(err)+".")
	case errors.As(err, &not):
		return conflict(sentenceCase(not.Because()) + ".")
	case errors.Is(err, audit.ErrWasher):
		return forbidden("Refused: " + err.Error() + ".")
	case errors.Is(err, store.ErrSigned):
		return conflict("The audit is signed: its answers cannot change.")
	case errors.Is(err, store.ErrStale):
		return huma.NewError(
			http.StatusConflict,
			"Somebody else saved this meanwhile. Look at theirs, then save yours again.",
		)
	case errors.Is(err, store.ErrTaken):
		return huma.NewError(http.StatusConflict, "Taken already: "+refused(err)+".")
	case store.Full(err):
		s.full.Store(true)
		s.Log.Error("the database's disk is full", "operation", operation, "error", err)
		return huma.ErrorWithHeaders(errFull, http.Header{"Retry-After": {"20"}})
	case store.Away(err):
		s.Log.Warn("database away", "operation", operation, "error", err)
		return huma.ErrorWithHeaders(errAway, http.Header{"Retry-After": {"2"}})
	case store.Unkeepable(err):
		return huma.NewError(http.StatusUnprocessableEntity, "A text holds a character that cannot be kept; nothing was saved. Type it again.")
	case errors.Is(err, context.Canceled):
		return huma.NewError(499, "The request was given up.")
	}
	s.Log.Error("internal", "operation", operation, "error", err)
	return errInternal
}

// refused is of what the store said no.
func refused(err error) string {
	var r *store.About
	if errors.As(err, &r) {
		return r.What
	}
	return "thing"
}

// sentenceCase begins a sentence.
func sentenceCase(words string) string {
	first, size := utf8.DecodeRuneInString(words)
	return string(unicode.ToUpper(first)) + words[size:]
}

func orElse(err error, text string) error {
	if err != nil {
		return err
	}
	return errors.New(text)
}
