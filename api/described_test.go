package api_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
)

// The description says how one signs in for each operation, names the kinds of every file, and holds only words that JSON Schema has.
func TestTheDescriptionSaysWhatAClientMustKnow(t *testing.T) {
	text, err := api.Description()
	require.NoError(t, err)
	assert.NotContains(t, string(text), "patternDescription")
	var d struct {
		Components struct {
			SecuritySchemes map[string]struct{ Type, In, Name, Scheme string }
		}
		Paths map[string]map[string]struct {
			OperationID string
			Security    []map[string][]string
			Responses   map[string]struct{ Content map[string]any }
		}
	}
	require.NoError(t, json.Unmarshal(text, &d))
	require.Equal(t, "cookie", d.Components.SecuritySchemes["session"].In)
	require.Equal(t, "bearer", d.Components.SecuritySchemes["sensor"].Scheme)
	files := 0
	for path, operations := range d.Paths {
		for method, op := range operations {
			route := strings.ToUpper(method) + " " + path
			roles := mayCall[route]
			switch {
			case roles == "":
				assert.Empty(t, op.Security, route)
			case roles == "a sensor":
				assert.Contains(t, op.Security[0], "sensor", route)
			default:
				require.NotEmpty(t, op.Security, route)
				assert.Contains(t, op.Security[0], "session", route)
			}
			if strings.HasSuffix(path, "/export") || path == "/export" || path == "/photos/{id}" && method == "get" {
				files++
				for kind := range op.Responses["200"].Content {
					if kind == "application/json" {
						assert.Greater(t, len(op.Responses["200"].Content), 1, "%s: a file that may also be another kind", route)
					}
				}
				assert.NotEmpty(t, op.Responses["200"].Content, route)
			}
		}
	}
	assert.Greater(t, files, 6)
}
