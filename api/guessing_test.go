package api_test

import (
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/shop"
	"uskel/demo"
	"uskel/demo/demotest"
)

// spellings are one name as somebody types it who wants it to be many.
func spellings(name string) []string {
	return []string{name, strings.ToUpper(name), " " + name, name + "\u00a0", "\t" + name, name + "\n", "\u2003" + name + " ",
		strings.ToUpper(name[:1]) + name[1:], "  " + strings.ToUpper(name) + "\u00a0\u00a0"}
}

// However a name is spelled it is one name: five wrong passwords, then slow; on all servers together, by password and by code.
func TestOneNameIsOneNameHoweverItIsSpelled(t *testing.T) {
	for _, way := range []string{"/api/session", "/api/session/code"} {
		s := open(t)
		second := serve(t, s.store)
		wrong := 0
		for i := range 50 {
			body := map[string]string{"name": spellings("osk")[i%9], "password": "gravel lantern quay"}
			if way == "/api/session/code" {
				body["code"] = "AAAA-BBBB"
			}
			c := []*place{s, second}[i%2].nobody()
			if c.do("POST", way, body).status == http.StatusUnauthorized {
				wrong++
			}
		}
		assert.Equal(t, 5, wrong, way)
	}
}

// A stranger who tries a name, from the same address even, does not lock out its owner where they have signed in before.
func TestAStrangerAtTheSameAddressLocksNobodyOut(t *testing.T) {
	s := open(t)
	lead := s.signsIn("maren")
	for range 40 {
		s.nobody().do("POST", "/api/session", map[string]string{"name": "maren", "password": "wrong and wrong"})
	}
	s.nobody().do("POST", "/api/session", map[string]string{"name": "maren", "password": demo.Password}).problem(429)
	lead.do("DELETE", "/api/session", nil).is(204)
	lead.do("POST", "/api/session", map[string]string{"name": "Maren ", "password": demo.Password}).is(200)
	wrong := 0
	for range 12 { // a stolen device guesses no more than others
		if lead.do("POST", "/api/session", map[string]string{"name": "maren", "password": "wrong and wrong"}).status == 401 {
			wrong++
		}
	}
	assert.Equal(t, 5, wrong)
}

// Digits are counted by the person's own row: written in capitals an id is no other person; a lead clears a night's count.
func TestDigitsAreCountedByThePerson(t *testing.T) {
	s := open(t)
	osk, lead := s.signsIn("osk"), s.signsIn("maren")
	right := osk.draws()
	tablet := s.tablet()
	wrong := 0
	for i := range 30 {
		id := osk.id("osk")
		if i%2 == 1 {
			id = strings.ToUpper(id)
		}
		if tablet.do("POST", "/api/session/digits", map[string]string{"personId": id, "digits": other(right)}).status == 401 {
			wrong++
		}
	}
	assert.Equal(t, 5, wrong)
	device := told[api.Staff](lead, "GET", "/staff", nil).Devices[0].ID
	_, err := s.store.Pool.Exec(ctx, "INSERT INTO digit_tries (device_id, person_id) SELECT $1, $2 FROM generate_series(1, 20)", device,
		osk.id("osk"))
	require.NoError(t, err)
	_, err = s.store.Pool.Exec(ctx, "DELETE FROM sign_in_limits")
	require.NoError(t, err)
	body := map[string]string{"personId": osk.id("osk"), "digits": right}
	assert.Contains(t, tablet.do("POST", "/api/session/digits", body).problem(429).says(), "in a night")
	osk.do("POST", "/api/devices/"+device+"/clear", nil).problem(403)
	lead.do("POST", "/api/devices/"+device+"/clear", nil).is(204)
	tablet.do("POST", "/api/session/digits", body).is(200)
}

// moving is a place whose clock the test moves.
func moving(t *testing.T) (*place, func(time.Duration)) {
	at := morning
	var lock sync.Mutex
	s := serve(t, demotest.Open(t), func(c *api.Config) {
		c.Now = func() time.Time { lock.Lock(); defer lock.Unlock(); return at }
	})
	return s, func(by time.Duration) { lock.Lock(); defer lock.Unlock(); at = at.Add(by) }
}

// A tablet that was locked while it had no network cannot tell the server: who has not asked for longer than it stays open is
// signed out by the server. One that is used stays open.
func TestATabletThatFallsSilentIsSignedOut(t *testing.T) {
	s, pass := moving(t)
	osk := s.as("osk")
	digits := osk.draws()
	tablet := s.tablet()
	body := map[string]string{"personId": osk.id("osk"), "digits": digits}
	lock := told[api.Me](tablet, "POST", "/session/digits", body).Lock
	for range 5 {
		pass(time.Duration(lock-1) * time.Minute)
		tablet.get("/api/yard").is(200)
	}
	pass(time.Duration(lock+2) * time.Minute)
	assert.Contains(t, tablet.get("/api/yard").problem(401).says(), "locked itself")
	tablet.get("/api/yard").problem(401)
	osk.get("/api/yard").is(200) // a device of one's own does not lock
}

// What cannot be taken back asks for the password again after an hour, on a device of one's own too; other things do not.
func TestThePasswordIsAskedForAgain(t *testing.T) {
	s, pass := moving(t)
	lead, owner := s.as("maren"), s.hires("Odile Penn", "odile", shop.Owner)
	lead.get("/api/staff").is(200)
	pass(61 * time.Minute)
	assert.Contains(t, lead.get("/api/staff").problem(403).says(), "session.password")
	owner.get("/api/export").problem(403)
	owner.do("POST", "/api/vehicles/"+lead.booking("PLT 7").VehicleID+"/forget", nil).problem(403)
	lead.get("/api/settings").is(200)
	lead.do("POST", "/api/session/confirm", map[string]string{"password": demo.Password}).is(204)
	lead.get("/api/staff").is(200)
}

// A changed password renews the session that changed it: whoever has a copy of its cookie is out.
func TestAChangedPasswordRenewsTheSession(t *testing.T) {
	s := open(t)
	osk := s.as("osk")
	copied := s.nobody()
	at := newRequest(t, "GET", s.url+"/api/yard", "").URL
	copied.client.Jar.SetCookies(at, osk.client.Jar.Cookies(at))
	copied.get("/api/yard").is(200)
	osk.do("PUT", "/api/session/password", map[string]string{"was": demo.Password, "new": "passwordpassword"}).problem(422)
	osk.do("PUT", "/api/session/password", map[string]string{"was": demo.Password, "new": "gravel lantern quay"}).is(204)
	osk.get("/api/yard").is(200)
	copied.get("/api/yard").problem(401)
}

// Failed sign-ins, refused digits and changes of people are in the log, by ids: what was typed is not.
func TestTheLogTellsOfGuessing(t *testing.T) {
	var log strings.Builder
	var lock sync.Mutex
	s := serve(t, demotest.Open(t), func(c *api.Config) {
		c.Log = slog.New(slog.NewTextHandler(&locked{w: &log, mu: &lock}, nil))
	})
	lead := s.as("maren")
	s.nobody().do("POST", "/api/session", map[string]string{"name": "osk", "password": "slipway sluice"}).problem(401)
	s.nobody().do("POST", "/api/session", map[string]string{"name": "slipway sluice", "password": "osk"}).problem(401)
	pia := told[api.Staff](lead, "GET", "/staff", nil).People
	for _, p := range pia {
		if p.SignIn == "pia" {
			lead.do("PUT", "/api/staff/"+p.ID, map[string]any{"name": p.Name, "signIn": p.SignIn, "role": "washer", "active": true,
				"version": p.Version}).is(204)
		}
	}
	osk, maren, renamed := lead.id("osk"), lead.id("maren"), lead.id("pia")
	lock.Lock()
	defer lock.Unlock()
	assert.Contains(t, log.String(), `msg="sign-in failed" person=`+osk)
	assert.Contains(t, log.String(), `msg="sign-in failed" person=nobody`)
	assert.Contains(t, log.String(), `msg="person changed" by=`+maren+" person="+renamed+" role=washer")
	assert.NotContains(t, log.String(), "slipway")
}

type locked struct {
	w  *strings.Builder
	mu *sync.Mutex
}

func (l *locked) Write(b []byte) (int, error) { l.mu.Lock(); defer l.mu.Unlock(); return l.w.Write(b) }

// Over an encrypted line cookies can be set by this host alone.
func TestCookiesOfAnEncryptedLine(t *testing.T) {
	s := serve(t, demotest.Open(t), func(c *api.Config) {
		var err error
		c.Proxies, err = api.ParseProxies("127.0.0.1/32")
		require.NoError(t, err)
	})
	r := s.nobody().sent("POST", "/api/session", map[string]string{"name": "osk", "password": demo.Password},
		map[string]string{"X-Forwarded-Proto": "https", "X-Forwarded-For": "192.0.2.7"}).is(200)
	for _, c := range r.header.Values("Set-Cookie") {
		assert.True(t, strings.HasPrefix(c, "__Host-uskel_"), c)
		assert.Contains(t, c, "Secure")
		assert.Contains(t, c, "Path=/;")
	}
	assert.Len(t, r.header.Values("Set-Cookie"), 2)
}
