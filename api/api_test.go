package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/devices"
	"uskel/store"
)

var (
	ctx     = context.Background()
	morning = demotest.Morning
)

// place is a server with the demo in it.
type place struct {
	t     testing.TB
	url   string
	store *store.Store
}

func open(t testing.TB) *place {
	t.Helper()
	beside(t)
	return serve(t, demotest.Open(t))
}

// beside lets a test run beside others: each has a shop of its own, and mostly waits for its database.
func beside(t testing.TB) {
	if test, is := t.(*testing.T); is {
		if _, already := parallel.LoadOrStore(test, true); !already {
			test.Parallel()
		}
	}
}

var parallel sync.Map

func serve(t testing.TB, s *store.Store, change ...func(*api.Config)) *place {
	t.Helper()
	dist := fstest.MapFS{"index.html": {Data: []byte("<title>Uskel</title>")}, "assets/app.js": {Data: []byte("1")}}
	ends, end := context.WithCancel(context.Background())
	config := api.Config{
		Store:   s,
		Station: devices.Station{Seed: demo.Seed},
		Meter:   devices.Meter{Seed: demo.Seed},
		Outbox:  devices.Tray{},
		Now:     func() time.Time { return morning },
		Log:     slog.New(slog.DiscardHandler),
		Dist:    dist,
		Ends:    ends,
	}
	for _, c := range change {
		c(&config)
	}
	server := httptest.NewServer(api.New(config))
	t.Cleanup(server.Close)
	t.Cleanup(end) // streams end first
	return &place{t, server.URL, s}
}

// caller is somebody with a browser's cookies.
type caller struct {
	*place
	client *http.Client
}

func (s *place) nobody() *caller {
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	return &caller{s, &http.Client{Jar: jar}}
}

// as is one of the demo's people, signed in already.
func (s *place) as(name string) *caller {
	s.t.Helper()
	if demotest.SignedIn(s.store, name) {
		return &caller{s, &http.Client{Jar: demotest.Jar(s.t, s.url, name)}}
	}
	return s.signsIn(name)
}

// signsIn is somebody who types their password.
func (s *place) signsIn(name string) *caller {
	s.t.Helper()
	c := s.nobody()
	c.do("POST", "/api/session", map[string]string{"name": name, "password": demo.Password}).is(200)
	return c
}

// reply is an answer with its body.
type reply struct {
	t      testing.TB
	asked  string
	status int
	header http.Header
	body   []byte
}

func (c *caller) do(method, path string, body any) reply {
	c.t.Helper()
	return c.sent(method, path, body, nil)
}

// sent is the same with heads besides.
func (c *caller) sent(method, path string, body any, heads map[string]string) reply {
	c.t.Helper()
	var sent io.Reader
	if text, raw := body.(string); raw {
		sent = strings.NewReader(text)
	} else if body != nil {
		text, err := json.Marshal(body)
		require.NoError(c.t, err)
		sent = bytes.NewReader(text)
	}
	req, err := http.NewRequest(method, c.url+path, sent)
	require.NoError(c.t, err)
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	for name, value := range heads {
		req.Header.Set(name, value)
	}
	got, err := c.client.Do(req)
	require.NoError(c.t, err)
	defer got.Body.Close()
	text, err := io.ReadAll(got.Body)
	require.NoError(c.t, err)
	r := reply{c.t, method + " " + path, got.StatusCode, got.Header, text}
	r.asDescribed(method, path)
	return r
}

func (r reply) is(status int) reply {
	r.t.Helper()
	require.Equal(r.t, status, r.status, "%s: %.600s", r.asked, r.body)
	return r
}

// problem reads problem details (RFC 9457).
type problem struct {
	Title, Detail string
	Status        int
	Errors        []struct{ Location, Message string }
}

func (r reply) problem(status int) problem {
	r.t.Helper()
	r.is(status)
	require.Equal(r.t, "application/problem+json", r.header.Get("Content-Type"), r.asked)
	p := into[problem](r)
	require.Equal(r.t, status, p.Status)
	return p
}

// says is everything a problem tells, for searching.
func (p problem) says() string {
	said := p.Title + " " + p.Detail
	for _, e := range p.Errors {
		said += "; " + e.Location + ": " + e.Message
	}
	return said
}

func into[T any](r reply) T {
	r.t.Helper()
	var v T
	require.NoError(r.t, json.Unmarshal(r.body, &v), "%s: %.300s", r.asked, r.body)
	return v
}

func (c *caller) get(path string) reply { c.t.Helper(); return c.do("GET", path, nil) }

// booking finds one of today's bookings by plate.
func (c *caller) booking(plate string) api.BookingCard {
	c.t.Helper()
	for _, b := range into[api.Yard](c.get("/api/yard").is(200)).Bookings {
		if b.Plate == plate {
			return b
		}
	}
	require.FailNow(c.t, fmt.Sprintf("no booking for %s today", plate))
	return api.BookingCard{}
}

func (c *caller) id(name string) string {
	c.t.Helper()
	for _, p := range into[[]api.PersonRef](c.get("/api/people").is(200)) {
		if strings.HasPrefix(strings.ToLower(p.Name), name) {
			return p.ID
		}
	}
	require.FailNow(c.t, "nobody is called "+name)
	return ""
}
