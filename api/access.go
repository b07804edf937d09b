package api

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"regexp"
	"slices"
	"time"

	"uskel/store"
)

// access is what is logged of a request when it is done. The guard fills in who asks.
type access struct {
	id     string
	person string
	route  string
}

type accessKey struct{}

func accessOf(ctx context.Context) *access { a, _ := ctx.Value(accessKey{}).(*access); return a }

// requestID is what a trusted proxy may call a request.
var requestID = regexp.MustCompile(`^[A-Za-z0-9._-]{1,64}$`)

// logged gives each request an id, tells it to whoever asked, and logs and counts the request when it is done.
func (s *server) logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		a := &access{id: r.Header.Get("X-Request-Id"), route: "page"}
		if !cameFrom(r.Context()).proxied || !requestID.MatchString(a.id) {
			a.id = store.NewID()
		}
		w.Header().Set("X-Request-Id", a.id)
		began := time.Now()
		seen := &written{ResponseWriter: w, status: http.StatusOK}
		next.ServeHTTP(seen, r.WithContext(context.WithValue(r.Context(), accessKey{}, a)))
		took := time.Since(began)
		s.meters.request(r.Method, a.route, seen.status, took)
		level := slog.LevelInfo
		if slices.Contains(unsigned, r.URL.Path) && seen.status == http.StatusOK { // screens ask every few seconds
			level = slog.LevelDebug
		}
		s.Log.LogAttrs(r.Context(), level, "request", slog.String("id", a.id),
			slog.String("person", a.person), slog.String("method", r.Method),
			slog.String("path", r.URL.Path), slog.Int("status", seen.status),
			slog.Int64("bytes", seen.bytes), slog.Duration("took", took.Round(time.Microsecond)),
			slog.String("from", cameFrom(r.Context()).address))
	})
}

// written counts what is answered.
type written struct {
	http.ResponseWriter
	status int
	bytes  int64
}

func (w *written) WriteHeader(status int) {
	w.status = status
	w.ResponseWriter.WriteHeader(status)
}

func (w *written) Write(b []byte) (int, error) {
	n, err := w.ResponseWriter.Write(b)
	w.bytes += int64(n)
	return n, err
}

// Unwrap lets deadlines and flushing through.
func (w *written) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// Flush sends what was written.
func (w *written) Flush() { _ = http.NewResponseController(w.ResponseWriter).Flush() }

// patience is how long a line may take: for each piece of a request's body, for all of it, and for the answer.
type patience struct{ piece, whole, answer time.Duration }

// usual is the patience of a shop's server. A phone at the far end of a yard sends a few kilobytes a second, and is
// heard as long as something comes.
var usual = patience{15 * time.Second, 5 * time.Minute, 30 * time.Second}

// hear lets slow lines send: every piece that comes moves the deadline on, up to a bound.
func (p patience) hear(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		line := http.NewResponseController(w)
		_ = line.SetWriteDeadline(time.Now().Add(p.answer))
		if r.Body != nil && r.Body != http.NoBody {
			r.Body = &body{r.Body, line, p, time.Now().Add(p.whole)}
		}
		next.ServeHTTP(w, r)
	})
}

type body struct {
	io.ReadCloser
	line *http.ResponseController
	patience
	last time.Time
}

func (b *body) Read(p []byte) (int, error) {
	now := time.Now()
	until := now.Add(b.piece)
	if b.last.Before(until) {
		until = b.last
	}
	_ = b.line.SetReadDeadline(until)
	_ = b.line.SetWriteDeadline(now.Add(b.piece + b.answer))
	n, err := b.ReadCloser.Read(p)
	if err != nil { // all of it is here, or no more will come: the line is its own again
		_ = b.line.SetReadDeadline(time.Time{})
	}
	return n, err
}
