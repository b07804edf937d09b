package api_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/demo/demotest"
	"uskel/store"
)

// reads are all addresses that can be read, with what they need to be asked, of a shop with the demo in it.
func reads(t testing.TB, c *caller) map[string]string {
	var described struct {
		Paths map[string]map[string]struct{}
	}
	description, err := api.Description()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(description, &described))
	procedures := into[[]struct{ ID string }](c.get("/api/procedures").is(200))
	ids := map[string]string{"bookings": c.booking("CAB 14").ID, "washes": c.booking("VLT 30").WashID,
		"vehicles": c.booking("TID 101").VehicleID, "audits": c.booking("TID 101").AuditID, "procedures": procedures[0].ID}
	asked := map[string]string{"/times/by": "?by=grade", "/times/export": "?table=steps",
		"/day/export": "?format=csv", "/procedures/{id}/difference": "?from=1&to=1"}
	all := map[string]string{}
	for path, operations := range described.Paths {
		kind := strings.Split(path, "/")[1]
		if _, read := operations["get"]; !read || streamed["GET "+path] ||
			strings.Contains(path, "{id}") && ids[kind] == "" {
			continue
		}
		all[path] = "/api" + strings.NewReplacer("{id}", ids[kind], "{version}", "1").Replace(path) + asked[path]
	}
	require.Greater(t, len(all), 30)
	return all
}

// statements counts what each read sends to the database when it is asked for the second time, by a server that has
// just started.
func statements(t testing.TB, s *store.Store) map[string]int {
	c := serve(t, s).as("maren")
	counts := map[string]int{}
	all := reads(t, c)
	for _, path := range slices.Sorted(maps.Keys(all)) {
		assert.Less(t, c.get(all[path]).status, 500, path)
		var n atomic.Int64
		stop := s.Watch(func(string) { n.Add(1) })
		c.get(all[path])
		stop()
		counts[path] = int(n.Load())
	}
	return counts
}

// However long a shop has been washing, no read asks the database more often.
func TestNoReadAsksMoreOftenAsAShopGrows(t *testing.T) {
	s := demotest.Open(t)
	require.NoError(t, s.MarkKind(ctx, true))
	before := statements(t, s)
	washes := func() (n int) {
		require.NoError(t, s.Pool.QueryRow(ctx, "SELECT count(*) FROM washes").Scan(&n))
		return n
	}
	few := washes()
	require.NoError(t, s.Grow(ctx, 6*few, func(int) {}))
	require.Greater(t, washes(), 5*few)
	for path, n := range statements(t, s) {
		assert.LessOrEqual(t, n, before[path], path)
		assert.LessOrEqual(t, n, 24, "%s sends many", path)
	}
}
