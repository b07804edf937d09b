// Package demotest gives tests a shop of the demo on a morning, with its people signed in.
package demotest

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/demo"
	"uskel/devices"
	"uskel/store"
	"uskel/store/storetest"
)

// Morning is when the shop stands: a clear spring day in the demo's weather.
var Morning = time.Date(2026, 4, 14, 10, 20, 0, 0, time.UTC)

// URL makes a database with the shop in it and gives its address.
func URL(t testing.TB) string { t.Helper(); return storetest.URL(t, "demo in the morning", fill) }

// Open makes and opens one.
func Open(t testing.TB) *store.Store {
	t.Helper()
	return storetest.OpenFilled(t, "demo in the morning", fill)
}

// fill makes the shop and signs everybody in. Databases are copied with the sessions in them, so that a test need not type passwords,
// which are made to be slow to look at.
func fill(s *store.Store) error {
	ctx := context.Background()
	if err := demo.Load(ctx, s, Morning, demo.Fortnight); err != nil {
		return err
	}
	server := httptest.NewServer(api.New(api.Config{Store: s, Station: devices.Station{Seed: demo.Seed}, Meter: devices.Meter{Seed: demo.Seed},
		Outbox: devices.Tray{}, Now: func() time.Time { return Morning }, Log: slog.New(slog.DiscardHandler), Dist: fstest.MapFS{}, Ends: ctx}))
	defer server.Close()
	for _, hand := range demo.Hands {
		if err := signIn(ctx, s, server.URL, hand.SignIn); err != nil {
			return fmt.Errorf("%s signs in: %w", hand.SignIn, err)
		}
	}
	return nil
}

// session is the name of the cookie.
const session = "uskel_session"

// token is that of somebody's session in every shop.
func token(name string) string { return "signed-in-as-" + name }

// signIn signs somebody in and keeps their session by a token that every test knows.
func signIn(ctx context.Context, s *store.Store, at, name string) error {
	answer, err := http.Post(at+"/api/session", "application/json",
		strings.NewReader(fmt.Sprintf(`{"name":%q,"password":%q}`, name, demo.Password)))
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	for _, c := range answer.Cookies() {
		if c.Name != session {
			continue
		}
		data, there, err := s.Sessions().FindCtx(ctx, c.Value)
		if err != nil || !there {
			return fmt.Errorf("there is no session: %w", err)
		}
		if err := s.Sessions().DeleteCtx(ctx, c.Value); err != nil {
			return err
		}
		return s.Sessions().CommitCtx(ctx, token(name), data, time.Now().Add(24*time.Hour))
	}
	return fmt.Errorf("the server answered %s", answer.Status)
}

// SignedIn reports whether a shop was opened with somebody signed in.
func SignedIn(s *store.Store, name string) bool {
	_, there, err := s.Sessions().Find(token(name))
	return err == nil && there
}

// Cookie is what somebody's browser sends who is signed in.
func Cookie(name string) *http.Cookie {
	return &http.Cookie{Name: session, Value: token(name), Path: "/"}
}

// Jar is that of a browser in which somebody is signed in to a shop at an address.
func Jar(t testing.TB, address, name string) http.CookieJar {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	at, err := url.Parse(address)
	require.NoError(t, err)
	jar.SetCookies(at, []*http.Cookie{Cookie(name)})
	return jar
}
