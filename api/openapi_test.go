package api_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
)

// description is the description as a library that is not ours reads it, after it has found it valid.
var description = sync.OnceValues(func() (*openapi3.T, error) {
	text, err := api.Description()
	if err != nil {
		return nil, err
	}
	doc, err := openapi3.NewLoader().LoadFromData(text)
	if err != nil {
		return nil, err
	}
	return doc, doc.Validate(ctx)
})

// lookedAt counts how many answers of an operation were held against the description.
var lookedAt sync.Map

// mostLookedAt is how many are: each operation's first ones in every run, whichever test asks.
const mostLookedAt = 6

// asDescribed holds an answer against what the description says of its operation. Every test that asks the shop anything comes by here.
func (r reply) asDescribed(method, path string) {
	r.t.Helper()
	kind := r.header.Get("Content-Type")
	if r.status/100 != 2 || !strings.HasPrefix(kind, "application/json") {
		return
	}
	doc, err := description()
	require.NoError(r.t, err)
	route, op := operationOf(doc, method, path)
	if op == nil {
		return
	}
	times, _ := lookedAt.LoadOrStore(method+" "+route, new(counter))
	if times.(*counter).more() > mostLookedAt {
		return
	}
	answer := op.Responses.Status(r.status)
	require.NotNil(r.t, answer, "%s answers %d, which is not described", r.asked, r.status)
	var body any
	require.NoError(r.t, json.Unmarshal(r.body, &body))
	content := answer.Value.Content.Get("application/json")
	require.NotNil(r.t, content, r.asked)
	assert.NoError(r.t, content.Schema.Value.VisitJSON(body), r.asked)
}

type counter struct {
	mu sync.Mutex
	n  int
}

func (c *counter) more() int {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.n++
	return c.n
}

// operationOf finds an operation by an address: words before what stands for an id.
func operationOf(doc *openapi3.T, method, address string) (string, *openapi3.Operation) {
	address, _, _ = strings.Cut(strings.TrimPrefix(address, "/api"), "?")
	parts := strings.Split(address, "/")
	best := ""
	for path := range doc.Paths.Map() {
		if fits(strings.Split(path, "/"), parts) && (best == "" || strings.Count(path, "{") < strings.Count(best, "{")) {
			best = path
		}
	}
	if best == "" {
		return "", nil
	}
	return best, doc.Paths.Value(best).GetOperation(method)
}

func fits(template, parts []string) bool {
	if len(template) != len(parts) {
		return false
	}
	for i, t := range template {
		if t != parts[i] && !strings.HasPrefix(t, "{") {
			return false
		}
	}
	return true
}

// The description is an OpenAPI document by somebody else's validator, and what the shop answers is what it describes: every GET with the
// ids of everything. What other operations answer is held against it in every test that asks for it.
func TestAnswersAreAsDescribed(t *testing.T) {
	doc, err := description()
	require.NoError(t, err)
	s := open(t)
	lead := s.as("maren")
	seen := map[string]bool{}
	for _, path := range slices.Sorted(maps.Keys(doc.Paths.Map())) {
		op := doc.Paths.Value(path).Get
		if op == nil || streamed["GET "+path] {
			continue
		}
		lookedAt.Delete("GET " + path)
		for _, id := range lead.ids() {
			got := lead.get("/api" + strings.NewReplacer("{id}", id, "{skill}", "mitt", "{version}", "1").Replace(path))
			seen[path] = seen[path] || got.status == 200
			if !strings.Contains(path, "{id}") {
				break
			}
		}
	}
	assert.Greater(t, len(seen), 60)
}
