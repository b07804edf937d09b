package api_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/shop"
)

// mayCall says who may call what: written down here on its own, so that a change in the server shows. L lead, W
// washer, T trainee, A auditor, O the owner alone; empty is anybody, signed in or not. The owner may whatever a lead
// may.
var mayCall = map[string]string{
	"GET /health":     "",
	"GET /ready":      "",
	"POST /session":   "",
	"GET /session":    "LWTA",
	"DELETE /session": "LWTA",

	"GET /setup":            "",
	"POST /setup":           "",
	"POST /session/code":    "",
	"GET /tablet":           "",
	"POST /session/digits":  "",
	"POST /session/confirm": "LWTA",
	"PUT /session/password": "LWTA",
	"PUT /session/digits":   "LWTA",

	"GET /session/authenticator":     "LWTA",
	"POST /session/authenticator":    "L",
	"POST /session/authenticator/on": "L",
	"DELETE /session/authenticator":  "L",

	"GET /sign-ins":         "LWTA",
	"DELETE /sign-ins/{id}": "LWTA",

	"GET /staff":                 "L",
	"POST /staff":                "L",
	"PUT /staff/{id}":            "L",
	"POST /staff/{id}/code":      "L",
	"POST /staff/{id}/forget":    "O",
	"POST /vehicles/{id}/forget": "O",
	"GET /export":                "O",
	"POST /devices":              "L",
	"DELETE /devices/{id}":       "L",
	"POST /devices/{id}/clear":   "L",
	"POST /devices/{id}/renew":   "L",
	"GET /calendar/{token}":      "",

	"GET /readings":             "LWTA",
	"POST /readings":            "LW",
	"POST /sensor/readings":     "a sensor",
	"POST /outbox/{id}/told":    "LW",
	"GET /bookings/{id}/notice": "LW",

	"GET /yard":                 "LWTA",
	"GET /people":               "LWTA",
	"GET /vehicles":             "LWTA",
	"GET /vehicles/{id}":        "LWTA",
	"GET /yours":                "LWTA",
	"POST /vehicles":            "LW",
	"POST /bookings":            "L",
	"PUT /bookings/{id}":        "L",
	"POST /day/fit":             "L",
	"PUT /bookings/{id}/washer": "L",
	"POST /bookings/{id}/moves": "LWT",

	"GET /words":                   "LWTA",
	"GET /bookings/{id}/look-over": "LWTA",
	"PUT /bookings/{id}/look-over": "LW",
	"POST /bookings/{id}/judge":    "LW",
	"GET /bookings/{id}/plan":      "LWTA",

	"POST /bookings/{id}/timeline": "LWTA",
	"POST /bookings/{id}/what-if":  "LWTA",
	"PUT /bookings/{id}/arranged":  "L",
	"GET /washes/{id}/timeline":    "LWTA",
	"GET /day":                     "LWTA",
	"POST /day/drop":               "L",
	"POST /day/slots":              "L",
	"GET /day/improve":             "L",
	"GET /day/export":              "LWTA",
	"PUT /day/absent":              "L",
	"PUT /bookings/{id}/slot":      "L",
	"POST /bookings/{id}/notice":   "LW",
	"GET /outbox":                  "LWTA",
	"GET /live":                    "LWTA",
	"GET /care":                    "LWTA",

	"POST /bookings/{id}/wash":      "LWT",
	"GET /washes/{id}":              "LWTA",
	"POST /washes/{id}/events":      "LWT",
	"POST /washes/{id}/corrections": "L",
	"GET /times":                    "LWTA",
	"GET /times/washes":             "LWTA",
	"GET /times/standards":          "LWTA",
	"POST /times/standards":         "L",
	"GET /times/chart":              "LWTA",
	"GET /times/learning":           "LWTA",
	"GET /times/by":                 "LWTA",
	"GET /times/export":             "LWTA",

	"GET /washes/{id}/audit-start":            "LWA",
	"GET /audit-proof":                        "LWTA",
	"GET /washed-too":                         "L",
	"GET /audits":                             "LWTA",
	"POST /washes/{id}/audit":                 "LWA",
	"GET /audits/{id}":                        "LWTA",
	"PUT /audits/{id}/items/{item}":           "LWA",
	"PUT /audits/{id}/light":                  "LWA",
	"POST /audits/{id}/close":                 "LWA",
	"PUT /own-cases/{id}/photos/{photo}":      "L",
	"GET /signed-audits":                      "LWTA",
	"GET /calibration":                        "LWA",
	"GET /calibration/{id}":                   "LWA",
	"POST /calibration/{id}/walks":            "LWA",
	"POST /audits/{id}/calibration":           "L",
	"DELETE /calibration/{id}":                "L",
	"GET /second-grades":                      "LW",
	"GET /bookings/{id}/second-grade":         "LW",
	"POST /bookings/{id}/second-grade":        "LW",
	"GET /grading":                            "LWTA",
	"GET /training":                           "LWTA",
	"POST /sign-offs":                         "L",
	"GET /lessons/{skill}":                    "LWTA",
	"GET /checklists":                         "LWTA",
	"GET /checklists/{id}":                    "LWTA",
	"GET /checklists/{id}/export":             "LWTA",
	"PUT /checklists/{id}":                    "L",
	"POST /checklists-tried":                  "LWTA",
	"POST /blind":                             "LWA",
	"POST /blind/answer":                      "LWA",
	"GET /second-looks":                       "LWA",
	"GET /audits/{id}/second":                 "LWA",
	"POST /audits/{id}/second":                "LWA",
	"GET /agreement":                          "LWTA",
	"GET /findings":                           "LWTA",
	"POST /audits/{id}/disputes":              "LWT",
	"GET /disputes":                           "LWTA",
	"GET /audit-split":                        "L",
	"GET /audit-weeks":                        "LWTA",
	"GET /audit-weeks/export":                 "LWTA",
	"GET /remedies":                           "LWTA",
	"GET /remedy-proposal":                    "L",
	"POST /remedies":                          "L",
	"PUT /remedies/{id}":                      "L",
	"POST /remedies/{id}/acted":               "LWTA",
	"POST /remedies/{id}/draft":               "L",
	"POST /remedies/{id}/close":               "L",
	"POST /disputes/{id}/settle":              "L",
	"GET /photos/{id}":                        "LWTA",
	"DELETE /photos/{id}":                     "LWTA",
	"PUT /bookings/{id}/photos/{photo}":       "LW",
	"PUT /audits/{id}/photos/{photo}":         "LWA",
	"GET /findings/export":                    "LWTA",
	"GET /rubrics/{skill}":                    "LWTA",
	"GET /rubrics/{skill}/export":             "LWTA",
	"PUT /rubrics/{skill}":                    "L",
	"GET /washes/{id}/watch":                  "L",
	"POST /washes/{id}/watch":                 "L",
	"GET /washes/{id}/changed":                "LWT",
	"POST /washes/{id}/changed":               "LWT",
	"GET /drill-runs":                         "LWT",
	"POST /drill-runs":                        "LWT",
	"GET /drill-runs/{id}":                    "LWT",
	"PUT /drill-runs/{id}/actions":            "LWT",
	"POST /drill-runs/{id}/finish":            "LWT",
	"POST /drill-runs/{id}/again":             "LWT",
	"POST /cases":                             "LWT",
	"GET /cases":                              "LWT",
	"POST /cases/{id}/answer":                 "LWT",
	"POST /own-cases":                         "L",
	"DELETE /own-cases/{id}":                  "L",
	"GET /shelf":                              "LWTA",
	"GET /shelf/today":                        "LWTA",
	"POST /mix-made":                          "LWTA",
	"POST /mix-on-panel":                      "LWTA",
	"POST /mix-restrength":                    "LWTA",
	"POST /mix-water":                         "LWTA",
	"GET /bucket":                             "LWTA",
	"GET /weather":                            "LWTA",
	"PUT /shelf/{id}":                         "L",
	"PUT /shelf/{id}/count":                   "LW",
	"POST /cloths":                            "L",
	"POST /cloths/{id}/retire":                "L",
	"POST /mix":                               "LWTA",
	"GET /procedures":                         "LWTA",
	"GET /procedures/{id}":                    "LWTA",
	"GET /procedures/{id}/versions/{version}": "LWTA",
	"GET /procedures/{id}/difference":         "LWTA",
	"GET /procedures/{id}/effect":             "L",
	"GET /procedures/{id}/code":               "LWTA",
	"GET /procedures/{id}/export":             "LWTA",
	"GET /procedure.schema.json":              "LWTA",
	"GET /questions":                          "LWTA",
	"POST /procedures":                        "L",
	"PUT /procedures/{id}/draft":              "L",
	"DELETE /procedures/{id}/draft":           "L",
	"POST /procedures/{id}/publish":           "L",
	"POST /procedures/{id}/retire":            "L",
	"POST /procedures-try":                    "L",
	"POST /procedures-import":                 "L",
	"GET /settings":                           "LWTA",
	"PUT /settings":                           "L",
}

// streamed are the routes that go on answering until one hangs up.
var streamed = map[string]bool{"GET /live": true, "GET /day/improve": true}

// joins asks for a stream and hangs up.
func (c *caller) joins(address string) int {
	c.t.Helper()
	resp, err := c.client.Get(c.url + address)
	require.NoError(c.t, err)
	require.NoError(c.t, resp.Body.Close())
	return resp.StatusCode
}

var signIns = map[string]string{"L": "maren", "W": "osk", "T": "pia", "A": "hesper"}

// Every route refuses everyone it should, whatever is sent to it.
func TestEveryRouteRefusesTheRolesItShould(t *testing.T) {
	var described struct {
		Paths map[string]map[string]struct{ OperationID string }
	}
	description, err := api.Description()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(description, &described))

	s := open(t)
	callers := map[string]*caller{}
	for role, name := range signIns {
		callers[role] = s.as(name)
	}
	callers["O"] = s.hires("Odile Penn", "odile", shop.Owner)
	seen := 0
	for path, operations := range described.Paths {
		for method := range operations {
			route := strings.ToUpper(method) + " " + path
			roles, listed := mayCall[route]
			if !assert.True(t, listed, "%s: say in this test who may call it", route) {
				continue
			}
			seen++
			address := "/api" + strings.NewReplacer("{id}", uuid.NewString(), "{item}", "shuts", "{version}", "1", "{photo}", uuid.NewString()).
				Replace(path)
			body := map[string]string(nil)
			if method != "get" && method != "delete" {
				body = map[string]string{}
			}
			call := func(c *caller) int {
				if streamed[route] {
					return c.joins(address)
				}
				if body == nil {
					return c.do(strings.ToUpper(method), address, nil).status
				}
				return c.do(strings.ToUpper(method), address, body).status
			}
			if roles == "a sensor" { // it signs in by a token of its own
				assert.Equal(t, 401, s.nobody().do("POST", address, []map[string]string{{"kind": "water"}}).status)
				continue
			}
			if roles == "" {
				assert.NotContains(t, []int{401, 403, 500, 503}, call(s.nobody()), route)
				continue
			}
			assert.Equal(t, 401, call(s.nobody()), "%s, signed out", route)
			if route == "DELETE /session" {
				continue
			}
			for role, c := range callers {
				status := call(c)
				if strings.Contains(roles, role) || role == "O" && strings.Contains(roles, "L") {
					assert.NotContains(t, []int{401, 403, 500}, status, "%s as %s", route, signIns[role])
				} else {
					assert.Equal(t, 403, status, "%s as %s", route, signIns[role])
				}
			}
		}
	}
	assert.Equal(t, len(mayCall), seen, "every route listed here exists")
}

func TestTheDescriptionIsServed(t *testing.T) {
	described := into[map[string]any](open(t).nobody().get("/api/openapi.json").is(200))
	assert.Equal(t, "3.1.0", described["openapi"])
}

func TestSignInIsThrottledByNameAndAddress(t *testing.T) {
	s := open(t)
	wrong := map[string]string{"name": "osk", "password": "sweetwater"}
	c := s.nobody()
	for range 5 {
		c.do("POST", "/api/session", wrong).problem(401)
	}
	assert.Contains(t, c.do("POST", "/api/session", wrong).problem(429).says(), "Wait half a minute")
	c.do("POST", "/api/session", map[string]string{"name": "osk", "password": "saltwater"}).is(429)
	s.as("ines") // others are not slowed
	unknown := s.nobody().do("POST", "/api/session", map[string]string{"name": "nemo", "password": "x"}).problem(401)
	known := s.nobody().do("POST", "/api/session", map[string]string{"name": "pia", "password": "x"}).problem(401)
	assert.Equal(t, unknown, known, "the answer does not tell whether the name exists")
}

func TestCookiesAndOrigins(t *testing.T) {
	s := open(t)
	r := s.nobody().do("POST", "/api/session", map[string]string{"name": "osk", "password": "saltwater"}).is(200)
	cookie := r.header.Get("Set-Cookie")
	assert.Contains(t, cookie, "HttpOnly")
	assert.Contains(t, cookie, "SameSite=Strict")

	lead := s.as("maren")
	req := newRequest(t, "PUT", s.url+"/api/settings", `{}`)
	req.Header.Set("Origin", "http://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	got, err := lead.client.Do(req)
	require.NoError(t, err)
	_ = got.Body.Close()
	assert.Equal(t, 403, got.StatusCode, "another site's page cannot act for the lead")

	lead.do("DELETE", "/api/session", nil).is(204)
	lead.get("/api/yard").is(401)
}
