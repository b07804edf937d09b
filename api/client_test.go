package api_test

import (
	"bytes"
	"encoding/json"
	"maps"
	"math/rand"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/oapi-codegen/oapi-codegen/v2/pkg/codegen"
	_ "github.com/oapi-codegen/runtime" // what the generated client is built with
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/photo/phototest"
	"uskel/core/prove"
	"uskel/core/shop"
)

// called is what came of an operation that the generated client called.
type called struct {
	Name, Method string
	Status       int
	Trouble      string
}

// generated builds a program around a client that somebody else's generator makes of the description.
func generated(t *testing.T) string {
	doc, err := description()
	require.NoError(t, err)
	code, err := codegen.Generate(doc, codegen.Configuration{PackageName: "main",
		Generate: codegen.GenerateOptions{Client: true, Models: true}})
	require.NoError(t, err)
	dir := t.TempDir()
	client, over, program := filepath.Join(dir, "client.go"), filepath.Join(dir, "overlay.json"), filepath.Join(dir, "caller")
	require.NoError(t, os.WriteFile(client, []byte(code), 0o600))
	there, err := filepath.Abs("testdata/caller/client.gen.go")
	require.NoError(t, err)
	overlay, err := json.Marshal(map[string]any{"Replace": map[string]string{there: client}})
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(over, overlay, 0o600))
	text, err := exec.Command("go", "build", "-buildvcs=false", "-overlay", over, "-o", program, "./testdata/caller").CombinedOutput()
	require.NoError(t, err, "%s", text)
	return program
}

// Somebody else's program can talk to the shop: a client that a generator makes of the description compiles, has every operation, sends
// what the shop understands and reads what it answers. Only the streams, which no call ends, are left out.
func TestAGeneratedClientCallsEveryOperation(t *testing.T) {
	prove.Long(t)
	s := open(t)
	owner := s.hires("Odile Penn", "odile", shop.Owner)
	v := vandal{dice: rand.New(rand.NewSource(5)), ids: uuids(owner.ids()), words: []string{"foam", "roof", "1"}}
	text, err := api.Description()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &v.api))
	bodies, params, all, endless := map[string]any{}, map[string]any{}, []string{}, []string{}
	for _, path := range slices.Sorted(maps.Keys(v.api.Paths)) {
		for _, method := range slices.Sorted(maps.Keys(v.api.Paths[path])) {
			op := v.api.Paths[path][method]
			name := codegen.ToCamelCase(op.OperationID)
			if streamed[strings.ToUpper(method)+" "+path] {
				endless = append(endless, name)
				continue
			}
			all = append(all, name)
			if sent := op.RequestBody.Content["application/json"]; sent.Schema != nil {
				bodies[name] = v.of(sent.Schema, 8)
			}
			fields := map[string]any{}
			for _, p := range op.Parameters {
				if p.In == "query" && p.Required {
					fields[p.Name] = v.of(p.Schema, 2)
				}
			}
			params[name] = fields
		}
	}
	audits := into[struct{ Audits []api.SignedAudit }](owner.get("/api/signed-audits").is(200)).Audits
	lists := into[[]struct{ ID string }](owner.get("/api/checklists").is(200))
	order, err := json.Marshal(map[string]any{"Base": s.url, "Cookie": owner.cookies(), "Bodies": bodies, "Params": params,
		"IDs": append(owner.ids(), audits[0].ID, lists[0].ID), "Photo": phototest.Taken(90, 60), "Endless": endless,
		"Last": []string{"SignOut"}})
	require.NoError(t, err)
	run := exec.Command(generated(t))
	run.Stdin, run.Stderr = bytes.NewReader(order), os.Stderr
	answer, err := run.Output()
	require.NoError(t, err)
	var outcomes []called
	require.NoError(t, json.Unmarshal(answer, &outcomes))
	names, read, done := []string{}, 0, 0
	for _, o := range outcomes {
		names = append(names, o.Name)
		assert.Empty(t, o.Trouble, o.Name)
		assert.Less(t, o.Status, 500, o.Name)
		if o.Status < 300 {
			done++
		}
		if o.Status < 300 && o.Method == "GET" {
			read++
		}
	}
	slices.Sort(all)
	slices.Sort(names)
	assert.Equal(t, all, names)
	assert.Greater(t, read, 70, "so many reads found what they were asked for")
	assert.Greater(t, done, 90)
	t.Logf("%d operations, %d done, of which %d reads", len(all), done, read)
}

// uuids are those of some ids that are UUIDs: procedures are known by words.
func uuids(ids []string) []string {
	return slices.DeleteFunc(ids, func(id string) bool { return uuid.Validate(id) != nil })
}

// cookies are a caller's, as a header holds them.
func (c *caller) cookies() string {
	at, err := url.Parse(c.url)
	require.NoError(c.t, err)
	all := []string{}
	for _, cookie := range c.client.Jar.Cookies(at) {
		all = append(all, cookie.String())
	}
	return strings.Join(all, "; ")
}
