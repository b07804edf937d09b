package api_test

import (
	"archive/zip"
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/shop"
)

// gzipped asks as a browser does, and unpacks what comes packed.
func (c *caller) gzipped(path string) (head http.Header, body []byte) {
	c.t.Helper()
	req := newRequest(c.t, "GET", c.url+path, "")
	req.Header.Set("Accept-Encoding", "gzip")
	got, err := c.client.Do(req)
	require.NoError(c.t, err)
	defer got.Body.Close()
	require.Equal(c.t, 200, got.StatusCode, path)
	from := io.Reader(got.Body)
	if got.Header.Get("Content-Encoding") == "gzip" {
		from, err = gzip.NewReader(got.Body)
		require.NoError(c.t, err)
	}
	body, err = io.ReadAll(from)
	require.NoError(c.t, err, path)
	return got.Header, body
}

// Whatever bytes an answer holds, it arrives as it was sent: a picture that begins like something compressed, in every piece, does not
// break the file that it is in.
func TestNoAnswerIsCorruptWhateverItsBytes(t *testing.T) {
	s := open(t)
	owner := s.hires("Odile Penn", "odile", shop.Owner)
	picture := bytes.Repeat([]byte{0x1f, 0x8b}, 200_000)
	var id string
	require.NoError(t, s.store.Pool.QueryRow(ctx, "UPDATE photo_pictures SET large = $1, small = $1 WHERE photo_id = (SELECT id FROM photos "+
		"ORDER BY id LIMIT 1) RETURNING photo_id", picture).Scan(&id))
	head, body := owner.gzipped("/api/export")
	assert.Empty(t, head.Get("Content-Encoding"), "a ZIP is not compressed twice")
	z, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	require.NoError(t, err)
	found := 0
	for _, f := range z.File {
		file, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(file)
		require.NoError(t, err, f.Name) // the checksum holds
		if f.Name == "photos/"+id+".jpg" {
			found++
			assert.True(t, bytes.Equal(picture, text))
		}
	}
	assert.Equal(t, 1, found)
	for _, small := range []string{"", "?small=true"} {
		head, body := owner.gzipped("/api/photos/" + id + small)
		assert.Empty(t, head.Get("Content-Encoding"))
		assert.True(t, bytes.Equal(picture, body))
	}
	head, body = owner.gzipped("/api/yard")
	assert.Equal(t, "gzip", head.Get("Content-Encoding"), "what shrinks is compressed")
	assert.True(t, json.Valid(body))
	_, table := owner.gzipped("/api/findings/export")
	assert.Equal(t, string(owner.get("/api/findings/export").is(200).body), string(table))
}

// integers walks a schema and names the whole numbers in it that have no bound, or one that the database's integers do not hold.
func (d described) integers(at string, s *schema, seen map[string]bool, told func(at string, s *schema)) {
	switch {
	case s == nil:
		return
	case s.Ref != "":
		name := s.Ref[strings.LastIndex(s.Ref, "/")+1:]
		if !seen[name] {
			seen[name] = true
			d.integers(name, d.Components.Schemas[name], seen, told)
		}
		return
	case fmt.Sprint(s.Type) == "integer":
		told(at, s)
	}
	d.integers(at+"[]", s.Items, seen, told)
	for _, name := range slices.Sorted(maps.Keys(s.Properties)) {
		d.integers(at+"."+name, s.Properties[name], seen, told)
	}
}

// Every whole number that is taken has a bound to either side, with room above it for what is counted on from it.
func TestEveryWholeNumberIsBounded(t *testing.T) {
	var d described
	text, err := api.Description()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &d))
	met, seen := 0, map[string]bool{}
	bounded := func(at string, s *schema) {
		met++
		if assert.NotNil(t, s.Maximum, at) && assert.NotNil(t, s.Minimum, at) {
			assert.LessOrEqual(t, *s.Maximum, 1e9, at)
			assert.GreaterOrEqual(t, *s.Minimum, -1e9, at)
		}
	}
	for path, operations := range d.Paths {
		for method, op := range operations {
			for _, p := range op.Parameters {
				d.integers(method+" "+path+" "+p.Name, p.Schema, seen, bounded)
			}
			for _, sent := range op.RequestBody.Content {
				d.integers(method+" "+path, sent.Schema, seen, bounded)
			}
		}
	}
	assert.Greater(t, met, 60)
}

// What lies just past, or just within, what the database holds breaks nothing, and neither does what is no number.
func TestNumbersAtTheEdge(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	settings := into[api.SettingsView](lead.get("/api/settings").is(200))
	b := lead.booking("CAB 14")
	look := into[api.LookOverView](lead.get("/api/bookings/" + b.ID + "/look-over").is(200))
	for _, version := range []int{2147483647, 2147483646, 1_000_000_001, 1_000_000_000} {
		for path, body := range map[string]any{
			"/api/settings":                        map[string]any{"version": version, "settings": settings.Settings},
			"/api/bookings/" + b.ID + "/look-over": map[string]any{"version": version, "lookOver": look.LookOver},
			"/api/rubrics/mitt":                    map[string]any{"version": version, "rubric": map[string]any{}},
		} {
			status := lead.do("PUT", path, body).status
			assert.True(t, status == 409 || status == 422, "%s %d: %d", path, version, status)
		}
	}
	rubric := into[[]api.RubricVersion](lead.get("/api/rubrics/mitt").is(200))[0].Rubric
	rubric.Criteria = rubric.Criteria[:len(rubric.Criteria)-1]
	lead.do("PUT", "/api/rubrics/mitt", map[string]any{"version": 1, "rubric": rubric}).problem(422)
	for _, x := range []string{"NaN", "nan", "Inf", "-Inf", "+inf", "Infinity"} {
		assert.Contains(t, lead.get("/api/bucket?water="+strings.ReplaceAll(x, "+", "%2B")).problem(422).says(), "expected", x)
	}
	lead.get("/api/bucket?water=12.5").is(200)
}
