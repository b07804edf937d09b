package api_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/rand"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/prove"
	"uskel/store"
)

// described is what the API says of itself, as far as bodies are made from it.
type described struct {
	Paths map[string]map[string]struct {
		OperationID string
		Parameters  []struct {
			Name, In string
			Required bool
			Schema   *schema
		}
		RequestBody struct {
			Content map[string]struct{ Schema *schema }
		}
	}
	Components struct{ Schemas map[string]*schema }
}

type schema struct {
	Ref                  string `json:"$ref"`
	Type                 any
	Format               string
	Enum                 []any
	Items                *schema
	Properties           map[string]*schema
	AdditionalProperties any
	Required             []string
	Minimum, Maximum     *float64
}

// vandal makes requests that are nearly right: every value may be odd.
type vandal struct {
	dice  *rand.Rand
	api   described
	ids   []string
	words []string
	oddly float64 // how often a value is odd
}

var oddities = []any{
	nil,
	true,
	"",
	" ",
	"x",
	"nul \x00 in it",
	"\u202e turned \U0001F9FD",
	strings.Repeat("long ", 2000),
	-1,
	0,
	1,
	1e300,
	-1e300,
	1e-12,
	9007199254740993,
	2147483647,
	1_000_000_000,
	"NaN",
	"-Inf",
	[]any{},
	[]any{nil},
	map[string]any{},
	map[string]any{"a": map[string]any{}},
	"00000000-0000-0000-0000-000000000000",
	"0001-01-01T00:00:00Z",
	"9999-12-31T23:59:59Z",
	"2026-02-30T00:00:00Z",
	"'; DROP TABLE people; --",
}

// of makes a value of a schema, no deeper than some.
func (v vandal) of(s *schema, deep int) any {
	if v.dice.Float64() < v.oddly {
		return oddities[v.dice.Intn(len(oddities))]
	}
	if s == nil {
		return v.words[v.dice.Intn(len(v.words))]
	}
	if s.Ref != "" {
		return v.of(v.api.Components.Schemas[s.Ref[strings.LastIndex(s.Ref, "/")+1:]], deep-1)
	}
	if len(s.Enum) > 0 {
		return s.Enum[v.dice.Intn(len(s.Enum))]
	}
	switch fmt.Sprint(s.Type) {
	case "object":
		return v.object(s, deep)
	case "array":
		list := []any{}
		for range v.dice.Intn(4) {
			if deep > 0 {
				list = append(list, v.of(s.Items, deep-1))
			}
		}
		return list
	case "boolean":
		return v.dice.Intn(2) == 0
	case "integer":
		return v.dice.Intn(40)
	case "number":
		low, high := -5.0, 500.0
		if s.Minimum != nil {
			low = *s.Minimum
		}
		if s.Maximum != nil {
			high = *s.Maximum
		}
		return low + (high-low)*v.dice.Float64()
	}
	switch s.Format {
	case "uuid":
		return v.ids[v.dice.Intn(len(v.ids))]
	case "date-time":
		return morning.Add(time.Duration(v.dice.Intn(20)-10) * time.Hour).Format(time.RFC3339)
	}
	return v.words[v.dice.Intn(len(v.words))]
}

func (v vandal) object(s *schema, deep int) any {
	made := map[string]any{}
	for _, name := range slices.Sorted(maps.Keys(s.Properties)) {
		if slices.Contains(s.Required, name) && v.dice.Float64() > v.oddly || deep > 0 && v.dice.Intn(2) == 0 {
			made[name] = v.of(s.Properties[name], deep-1)
		}
	}
	if more, free := s.AdditionalProperties.(map[string]any); free && deep > 0 {
		var of schema
		text, _ := json.Marshal(more) // came from JSON
		_ = json.Unmarshal(text, &of)
		for range v.dice.Intn(3) {
			made[v.words[v.dice.Intn(len(v.words))]] = v.of(&of, deep-1)
		}
	}
	return made
}

// print is a fingerprint of everything that is kept, sessions aside.
func (s *place) print() string {
	s.t.Helper()
	var tables []string
	rows, err := s.store.Pool.Query(
		ctx,
		"SELECT tablename FROM pg_tables WHERE schemaname='public' AND tablename NOT LIKE 'sessions%' ORDER BY 1",
	)
	require.NoError(s.t, err)
	for rows.Next() {
		var name string
		require.NoError(s.t, rows.Scan(&name))
		tables = append(
			tables,
			fmt.Sprintf("(SELECT concat(count(*), ' ', sum(hashtextextended(t::text, 0))) FROM %q t)", name),
		)
	}
	require.NoError(s.t, rows.Err())
	var print string
	require.NoError(
		s.t,
		s.store.Pool.QueryRow(ctx, "SELECT concat_ws('|', "+strings.Join(tables, ", ")+")").Scan(&print),
	)
	return print
}

// ids are those of things of every kind.
func (c *caller) ids() []string {
	yard := into[api.Yard](c.get("/api/yard").is(200))
	ids := []string{store.NewID()}
	for _, b := range yard.Bookings {
		ids = append(ids, b.ID)
		if b.WashID != "" {
			ids = append(ids, b.WashID)
		}
	}
	for _, path := range []string{"/api/people", "/api/vehicles", "/api/procedures"} {
		for _, x := range into[[]struct{ ID string }](c.get(path).is(200)) {
			ids = append(ids, x.ID)
		}
	}
	return ids
}

// eachOperation is how often each is asked: over 6,000 requests in all in the long run.
const eachOperation = 38

// Whatever is sent to whatever route: it is done, or refused with the reason; it never breaks the server, and what is
// refused changes nothing.
func TestNothingSentBreaksTheServer(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	v := vandal{dice: rand.New(rand.NewSource(77)), ids: lead.ids(), oddly: 0.08,
		words: []string{"foam", "rinse", "F6", "mitt", "roof", "Osk", "open-bay", "shuts", "1", "tar", "ml"}}
	text, err := api.Description()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &v.api))
	refused, done, looked, times := 0, 0, 0, prove.Seeds(t, eachOperation)
	for _, path := range slices.Sorted(maps.Keys(v.api.Paths)) {
		for _, method := range slices.Sorted(maps.Keys(v.api.Paths[path])) {
			route := strings.ToUpper(method) + " " + path
			if streamed[route] || path == "/session" {
				continue
			}
			for range times {
				address, query := path, url.Values{}
				for _, p := range v.api.Paths[path][method].Parameters {
					switch value := fmt.Sprint(v.of(p.Schema, 2)); {
					case p.In == "path":
						if p.Name == "id" && v.dice.Intn(6) > 0 {
							value = v.ids[v.dice.Intn(len(v.ids))]
						}
						address = strings.ReplaceAll(address, "{"+p.Name+"}", url.PathEscape(value))
					case p.In == "query" && v.dice.Intn(3) > 0:
						query.Set(p.Name, value)
					}
				}
				if len(query) > 0 {
					address += "?" + query.Encode()
				}
				var body any
				if sent := v.api.Paths[path][method].RequestBody.Content["application/json"]; sent.Schema != nil {
					body = v.of(sent.Schema, 8)
				}
				// A look at everything takes its time. Where a password or the set-up code is asked for, a wrong one is counted:
				// that is a change.
				counts := strings.HasPrefix(path, "/session/") || path == "/setup"
				look, before := method != "get" && !counts && v.dice.Intn(30) == 0, ""
				if look {
					before = s.print()
				}
				r := lead.do(strings.ToUpper(method), "/api"+address, body)
				assert.Less(t, r.status, 500, "%s %.2000v: %s", r.asked, body, r.body)
				if r.status < 400 {
					done++
					continue
				}
				refused++
				assert.NotEmpty(t, r.problem(r.status).says())
				if look {
					looked++
					assert.Equal(
						t,
						before,
						s.print(),
						"%s was refused with %d and changed something",
						r.asked,
						r.status,
					)
				}
			}
		}
	}
	t.Logf("%d done, %d refused, of which %d looked at", done, refused, looked)
	assert.Greater(t, eachOperation*(done+refused), 6000*times)
	assert.Greater(t, eachOperation*done, 700*times)
	assert.Greater(t, eachOperation*refused, 700*times)
	assert.Greater(t, eachOperation*looked, 20*times)
}

// A NUL in a text, which JSON may hold and the database may not, is refused wherever it is kept: in a column or in a document.
func TestATextThatCannotBeKept(t *testing.T) {
	lead := open(t).as("maren")
	nul := "a \x00 in it"
	for path, body := range map[string]any{
		"/api/staff":     map[string]any{"name": nul, "role": "washer", "signIn": "nul"},
		"/api/own-cases": map[string]any{"name": nul, "kind": nul, "text": nul},
	} {
		lead.do("POST", path, body).problem(422)
	}
	b := lead.booking("PLT 7")
	look := into[api.LookOverView](lead.get("/api/bookings/" + b.ID + "/look-over").is(200))
	look.LookOver.Notes = nul
	body := map[string]any{"version": look.Version, "lookOver": look.LookOver}
	assert.Contains(t, lead.do("PUT", "/api/bookings/"+b.ID+"/look-over", body).problem(422).says(), "cannot be kept")
}
