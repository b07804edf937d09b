package api_test

import (
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/shop"
	"uskel/demo"
	"uskel/demo/demotest"
)

// guarded is a shop whose lead has switched an authenticator on: the lead, what the app shows at a moment, the recovery codes, and the
// true clock.
func guarded(t *testing.T) (s *place, shows func() string, codes []string, clock *time.Time) {
	t.Helper()
	now := morning
	s = serve(t, demotest.Open(t), func(c *api.Config) { c.Wall = func() time.Time { return now } })
	lead := s.as("maren")
	assert.Nil(t, told[api.AuthenticatorView](lead, "GET", "/session/authenticator", nil).On)
	offer := told[api.NewAuthenticator](lead, "POST", "/session/authenticator", nil)
	assert.Contains(t, offer.Link, "secret="+offer.Secret)
	assert.True(t, strings.HasPrefix(offer.Picture, "data:image/png;base64,"))
	shows = func() string {
		code, err := totp.GenerateCode(offer.Secret, now)
		require.NoError(t, err)
		return code
	}
	wrong := map[string]any{"code": other(shows())}
	assert.Contains(t, lead.do("POST", "/api/session/authenticator/on", wrong).problem(422).says(), "this is not the app's code of now")
	s.nobody().enters(nil).is(200) // not asked for until it is on
	codes = told[api.RecoveryCodes](lead, "POST", "/session/authenticator/on", map[string]any{"code": shows()}).Codes
	require.Len(t, codes, 10)
	lead.do("POST", "/api/session/authenticator", nil).problem(409)
	return s, shows, codes, &now
}

// enters tries to sign in as the lead, with more than name and password where that is said.
func (c *caller) enters(more map[string]any) reply {
	body := map[string]any{"name": "maren", "password": demo.Password}
	for k, v := range more {
		body[k] = v
	}
	return c.do("POST", "/api/session", body)
}

// With an authenticator on, a password alone opens nothing, by no way in; a code opens once, and so does a recovery code.
func TestAPasswordAloneOpensNothing(t *testing.T) {
	s, shows, codes, clock := guarded(t)
	thief := s.nobody()
	assert.Contains(t, thief.enters(nil).problem(401).says(), "body.authenticator")
	thief.get("/api/yard").problem(401)
	assert.NotContains(t, thief.enters(map[string]any{"password": "gravel lantern quay"}).problem(401).says(), "authenticator",
		"whether a password is right is not told by what is asked for next")
	thief.enters(map[string]any{"authenticator": shows()}).problem(401) // the step that switched it on is used
	thief.get("/api/yard").problem(401)

	*clock = clock.Add(30 * time.Second)
	lead := s.nobody()
	lead.enters(map[string]any{"authenticator": shows()[:3] + " " + shows()[3:]}).is(200)
	lead.get("/api/yard").is(200)
	s.nobody().enters(map[string]any{"authenticator": shows()}).problem(401) // seen over a shoulder

	*clock = clock.Add(time.Hour)
	typed := strings.ToUpper(strings.ReplaceAll(codes[3], "-", " "))
	s.nobody().enters(map[string]any{"authenticator": typed}).is(200)
	s.nobody().enters(map[string]any{"authenticator": codes[3]}).problem(401)
	assert.Equal(t, 9, told[api.AuthenticatorView](lead, "GET", "/session/authenticator", nil).Recovery)
}

// Somebody who was given a one-time code in place of their password still needs their authenticator.
func TestAOneTimeCodeOpensNothingAlone(t *testing.T) {
	s, shows, codes, clock := guarded(t)
	lead := s.nobody()
	lead.enters(map[string]any{"authenticator": codes[0]}).is(200)
	*clock = clock.Add(time.Minute)
	id := told[api.Me](lead, "GET", "/session", nil).ID
	code := told[api.OneTime](s.hires("Odile Penn", "odile", shop.Owner), "POST", "/staff/"+id+"/code", nil).Code
	byCode := map[string]any{"name": "maren", "code": code, "password": "gravel lantern quay"}
	assert.Contains(t, s.nobody().do("POST", "/api/session/code", byCode).problem(401).says(), "body.authenticator")
	s.nobody().enters(map[string]any{"password": "gravel lantern quay", "authenticator": codes[4]}).problem(401)
	byCode["authenticator"] = shows()
	s.nobody().do("POST", "/api/session/code", byCode).is(200)
}

// Codes are guessed no faster than passwords, and asking for the code costs nobody a try.
func TestCodesOfAnAuthenticatorAreNotGuessed(t *testing.T) {
	s, shows, codes, _ := guarded(t)
	thief := s.nobody()
	for range 20 {
		thief.enters(nil).problem(401)
	}
	slowed := 0
	for range 30 {
		if thief.enters(map[string]any{"authenticator": other(shows())}).status == 429 {
			slowed++
		}
	}
	assert.GreaterOrEqual(t, slowed, 24)
	thief.enters(map[string]any{"authenticator": codes[0]}).problem(429)
}

// Whoever has the machine switches a lost one off; it is in no export, and whoever is forgotten leaves none behind.
func TestALostAuthenticator(t *testing.T) {
	s, _, codes, _ := guarded(t)
	lead := s.nobody()
	lead.enters(map[string]any{"authenticator": codes[0]}).is(200)
	secret, err := s.store.Authenticator(ctx, told[api.Me](lead, "GET", "/session", nil).ID)
	require.NoError(t, err)
	assert.NotContains(t, string(s.hires("Odile Penn", "odile", shop.Owner).get("/api/export").is(200).body), secret.Secret)
	require.NoError(t, s.store.TurnOff(ctx, told[api.Me](lead, "GET", "/session", nil).ID))
	s.nobody().enters(nil).is(200)
	require.Error(t, s.store.TurnOff(ctx, told[api.Me](lead, "GET", "/session", nil).ID))
}
