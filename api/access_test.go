package api

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// trickle gives a few bytes at a time.
type trickle struct {
	left  string
	piece int
	pause time.Duration
}

func (r *trickle) Read(p []byte) (int, error) {
	<-time.After(r.pause)
	n := copy(p, r.left[:min(r.piece, len(r.left))])
	r.left = r.left[n:]
	if r.left == "" {
		return n, io.EOF
	}
	return n, nil
}

// A slow line is heard as long as something comes, far beyond the time that one piece may take; one that has gone
// silent is let go.
func TestASlowLineIsHeardAndASilentOneLetGo(t *testing.T) {
	limits := patience{piece: 400 * time.Millisecond, whole: 20 * time.Second, answer: 5 * time.Second}
	heard := make(chan error, 2)
	server := httptest.NewServer(limits.hear(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		_, err := io.ReadAll(r.Body)
		heard <- err
		w.WriteHeader(http.StatusNoContent)
	})))
	defer server.Close()
	got, err := http.Post(server.URL, "text/plain", &trickle{strings.Repeat("x", 1200), 40, 40 * time.Millisecond})
	require.NoError(t, err)
	_ = got.Body.Close()
	assert.Equal(t, http.StatusNoContent, got.StatusCode)
	assert.NoError(t, <-heard)

	if got, err := http.Post(
		server.URL,
		"text/plain",
		&trickle{strings.Repeat("x", 1200), 40, 2 * time.Second},
	); err == nil {
		_ = got.Body.Close()
	}
	assert.ErrorContains(t, <-heard, "timeout")
}

func TestWhereARequestCameFrom(t *testing.T) {
	proxies, err := ParseProxies("10.0.0.0/8, 192.0.2.1")
	require.NoError(t, err)
	for name, c := range map[string]struct {
		peer, forwarded, proto string
		want                   origin
	}{
		"straight": {"198.51.100.4:99", "", "", origin{"198.51.100.4", false, false}},
		"somebody who " +
			"makes it up": {"198.51.100.4:99", "1.2.3.4", "https", origin{"198.51.100.4", false, false}},
		"through a proxy": {"10.1.1.1:99", "203.0.113.5", "https", origin{"203.0.113.5", true, true}},
		"through two":     {"10.1.1.1:99", "203.0.113.5, 192.0.2.1", "https", origin{"203.0.113.5", true, true}},
		"who puts an address " +
			"before theirs": {"10.1.1.1:99", "1.2.3.4, 203.0.113.5", "http", origin{"203.0.113.5", false, true}},
		"a proxy that says nothing": {"10.1.1.1:99", "", "", origin{"10.1.1.1", false, true}},
		"nonsense in it":            {"10.1.1.1:99", "203.0.113.5, x", "", origin{"10.1.1.1", false, true}},
	} {
		r := httptest.NewRequest("GET", "/", nil)
		r.RemoteAddr = c.peer
		if c.forwarded != "" {
			r.Header.Set("X-Forwarded-For", c.forwarded)
		}
		r.Header.Set("X-Forwarded-Proto", c.proto)
		assert.Equal(t, c.want, proxies.origin(r), name)
	}
}
