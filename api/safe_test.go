package api_test

import (
	"bytes"
	"encoding/json"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/store"
)

// Sixty wrong passwords at once, over two servers, are as many tries as one after the other: five, and no more are
// looked at.
func TestManyWrongPasswordsAtOnceAreFewTries(t *testing.T) {
	url := demotest.URL(t)
	var servers []*place
	for range 2 {
		db, err := store.Open(ctx, url)
		require.NoError(t, err)
		t.Cleanup(db.Close)
		servers = append(servers, serve(t, db))
	}
	var tried, slowed atomic.Int32
	var all sync.WaitGroup
	for i := range 60 {
		all.Go(func() {
			switch servers[i%2].nobody().
				do("POST", "/api/session", map[string]string{"name": "osk", "password": "wrong"}).
				status {
			case http.StatusUnauthorized:
				tried.Add(1)
			case http.StatusTooManyRequests:
				slowed.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 5, tried.Load())
	assert.EqualValues(t, 55, slowed.Load())
	servers[0].as("ines") // others are not slowed
}

// A stranger elsewhere who tries somebody's name over and over does not lock them out where they have signed in before.
func TestAStrangerLocksNobodyOut(t *testing.T) {
	proxies, err := api.ParseProxies("127.0.0.1, ::1")
	require.NoError(t, err)
	s := serve(t, demotest.Open(t), func(c *api.Config) { c.Proxies = proxies })
	own := s.nobody().client
	from := func(client *http.Client, address, password string) int {
		req := newRequest(t, "POST", s.url+"/api/session", `{"name":"osk","password":"`+password+`"}`)
		req.Header.Set("X-Forwarded-For", address)
		got, err := client.Do(req)
		require.NoError(t, err)
		_ = got.Body.Close()
		return got.StatusCode
	}
	require.Equal(t, 200, from(own, "192.0.2.7", demo.Password))
	slowed := 0
	for i := range 40 {
		if from(http.DefaultClient, "198.51.100."+string(rune('0'+i%8)), "wrong") == http.StatusTooManyRequests {
			slowed++
		}
	}
	assert.Positive(t, slowed, "the strangers are slowed")
	assert.Equal(
		t,
		http.StatusTooManyRequests,
		from(http.DefaultClient, "203.0.113.9", demo.Password),
		"from anywhere else the name has no tries left",
	)
	assert.Equal(t, 200, from(own, "192.0.2.7", demo.Password), "where the person is known it has")
}

// Passwords are looked at a few at a time: many at once do not take the memory of many.
func TestHashingIsBounded(t *testing.T) {
	s := serve(t, demotest.Open(t)) // by itself: memory is everybody's
	s.signsIn("osk")
	var before, most runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	stop, watching := make(chan struct{}), sync.WaitGroup{}
	watching.Go(func() {
		for {
			var now runtime.MemStats
			runtime.ReadMemStats(&now)
			if now.HeapInuse > most.HeapInuse {
				most = now
			}
			select {
			case <-stop:
				return
			case <-time.After(3 * time.Millisecond):
			}
		}
	})
	var all sync.WaitGroup
	for i := range 40 {
		all.Go(func() {
			s.nobody().
				do("POST", "/api/session", map[string]string{"name": demo.Hands[i%len(demo.Hands)].SignIn, "password": demo.Password})
		})
	}
	all.Wait()
	close(stop)
	watching.Wait()
	// Forty at once would hold 40 x 19 MiB; four at once, with what the collector has not taken yet, hold far less.
	assert.Less(t, most.HeapInuse-min(before.HeapInuse, most.HeapInuse), uint64(400<<20))
}

// Whose word counts on where a request came from, and on whether its line is encrypted.
func TestOnlyTrustedProxiesAreBelieved(t *testing.T) {
	trusting, err := api.ParseProxies("127.0.0.0/8,::1")
	require.NoError(t, err)
	_, err = api.ParseProxies("somewhere")
	require.Error(t, err)
	for name, c := range map[string]struct {
		proxies api.Proxies
		proto   string
		secure  bool
	}{
		"a trusted proxy that says so": {trusting, "https", true},
		"a trusted proxy over http":    {trusting, "http", false},
		"anybody who says so":          {nil, "https", false},
	} {
		s := serve(t, demotest.Open(t), func(config *api.Config) { config.Proxies = c.proxies })
		req := newRequest(t, "POST", s.url+"/api/session", `{"name":"osk","password":"saltwater"}`)
		req.Header.Set("X-Forwarded-Proto", c.proto)
		got, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		_ = got.Body.Close()
		require.Equal(t, 200, got.StatusCode)
		assert.Equal(t, c.secure, strings.Contains(got.Header.Get("Set-Cookie"), "Secure"), name)
		assert.Equal(t, c.secure, got.Header.Get("Strict-Transport-Security") != "", name)
	}
}

func TestPagesMayHaveOnlyWhatTheShopGives(t *testing.T) {
	policy := open(t).nobody().get("/").is(200).header.Get("Content-Security-Policy")
	for _, says := range []string{"default-src 'self'", "base-uri 'none'", "form-action 'self'", "object-src 'none'",
		"frame-ancestors 'none'"} {
		assert.Contains(t, policy, says)
	}
}

// What stands in the database signs nobody in, and a backup brings back no sign-in that was ended.
func TestSessionsAreHashedAndNotRestored(t *testing.T) {
	s := open(t)
	c := s.nobody()
	r := c.do("POST", "/api/session", map[string]string{"name": "osk", "password": demo.Password}).is(200)
	token, _, _ := strings.Cut(strings.TrimPrefix(r.header.Get("Set-Cookie"), "uskel_session="), ";")
	require.NotEmpty(t, token)
	var stored, data string
	require.NoError(t, s.store.Pool.QueryRow(ctx, "SELECT token, data::text FROM sessions").Scan(&stored, &data))
	assert.NotContains(t, stored, token)
	assert.NotContains(t, token, stored)
	stolen := newRequest(t, "GET", s.url+"/api/yard", "")
	stolen.AddCookie(&http.Cookie{Name: "uskel_session", Value: stored})
	got, err := http.DefaultClient.Do(stolen)
	require.NoError(t, err)
	_ = got.Body.Close()
	assert.Equal(t, 401, got.StatusCode)

	// As pg_restore --clean does: the table is made anew, with the rows of the backup.
	c.get("/api/yard").is(200)
	for _, sql := range []string{"CREATE TABLE backup AS TABLE sessions", "DROP TABLE sessions",
		"CREATE TABLE sessions (token text PRIMARY KEY, data bytea NOT NULL, expiry " +
			"timestamptz NOT NULL)", "INSERT INTO sessions SELECT token, data, expiry FROM backup"} {
		_, err := s.store.Pool.Exec(ctx, sql)
		require.NoError(t, err)
	}
	c.get("/api/yard").is(401)
}

// Signing out ends what follows by the sign-in, on every server, and nobody else's.
func TestSigningOutEndsTheStream(t *testing.T) {
	url := demotest.URL(t)
	var servers []*place
	for range 2 {
		db, err := store.Open(ctx, url)
		require.NoError(t, err)
		t.Cleanup(db.Close)
		servers = append(servers, serve(t, db))
	}
	here := servers[0].as("osk")
	there := &caller{servers[1], &http.Client{Jar: here.client.Jar}} // the same sign-in at the other server
	other := servers[1].as("ines")
	one, two := there.listen(t, ""), other.listen(t, "")
	one.until("all", "")
	two.until("all", "")
	here.do("DELETE", "/api/session", nil).is(204)
	one.ended()
	lead := servers[0].as("maren")
	b := lead.booking("PLT 7")
	lead.say(b.ID, "cancel", "").is(200)
	two.until("booking", b.ID)
}

func TestAPublishedPasswordOpensNoRealShop(t *testing.T) {
	s := serve(t, demotest.Open(t), func(c *api.Config) { c.Refused = []string{demo.Password} })
	assert.Contains(t, s.nobody().do("POST", "/api/session",
		map[string]string{"name": "maren", "password": demo.Password}).problem(403).says(), "published")
}

// Codes lead to the address that is set, whatever a request says of itself.
func TestCodesLeadToTheShop(t *testing.T) {
	s := serve(t, demotest.Open(t), func(c *api.Config) { c.Public = "https://wash.example/" })
	lead := s.as("maren")
	code := func(host string) []byte {
		req := newRequest(t, "GET", s.url+"/api/procedures/maintenance/code", "")
		req.Host = host
		got, err := lead.client.Do(req)
		require.NoError(t, err)
		defer got.Body.Close()
		var b bytes.Buffer
		_, err = b.ReadFrom(got.Body)
		require.NoError(t, err)
		return b.Bytes()
	}
	assert.Equal(t, code("wash.example"), code("elsewhere.example"))
	assert.NotEmpty(t, code("wash.example"))
}

// Every request is logged with its id and whoever asked, as JSON when that is wanted, and counted.
func TestRequestsAreLoggedAndCounted(t *testing.T) {
	var log syncBuffer
	db := demotest.Open(t)
	meters := api.NewMeters(db)
	s := serve(t, db, func(c *api.Config) { c.Log, c.Meters = slog.New(slog.NewJSONHandler(&log, nil)), meters })
	washer := s.as("osk")
	r := washer.get("/api/yard").is(200)
	id := r.header.Get("X-Request-Id")
	require.NotEmpty(t, id)
	b := washer.booking("VLT 30")
	washer.send(b.WashID, tap("note", "", morning, 1)).is(200)
	var line struct{ ID, Person, Method, Path string }
	found := false
	for _, text := range strings.Split(strings.TrimSpace(log.String()), "\n") {
		require.NoError(t, json.Unmarshal([]byte(text), &line), text)
		if line.ID == id {
			found = true
			assert.Equal(
				t,
				[]string{"GET", "/api/yard", washer.id("osk")},
				[]string{line.Method, line.Path, line.Person},
			)
		}
	}
	assert.True(t, found)
	page := httptest.NewRecorder()
	meters.Handler().ServeHTTP(page, httptest.NewRequest("GET", "/metrics", nil))
	for _, says := range []string{`uskel_request_seconds_count{method="GET",route="/yard",status="200"}`,
		"uskel_taps_total 1", "uskel_streams 0", "uskel_pool_most 12", "uskel_pool_in_use "} {
		assert.Contains(t, page.Body.String(), says)
	}
}

type syncBuffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (s *syncBuffer) Write(p []byte) (int, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.b.Write(p)
}

func (s *syncBuffer) String() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.b.String()
}
