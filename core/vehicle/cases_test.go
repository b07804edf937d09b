package vehicle

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// bodyCases is where the front end's drawing finds the bodies it must be able to unfold. Write it anew with UPDATE=1
// go test ./core/vehicle.
const bodyCases = "../../ui/src/car/bodies.cases.json"

// The drawing is tried on the bodies as they are.
func TestTheFrontEndDrawsTheseBodies(t *testing.T) {
	type body struct {
		Body    Body    `json:"body"`
		Profile Profile `json:"profile"`
		Zones   []Zone  `json:"zones"`
	}
	var lines []string
	for _, name := range Body("").Values() {
		b := body{Body: Body(name), Profile: Body(name).Profile()}
		for _, p := range b.Body.Parts() {
			b.Zones = append(b.Zones, p.Zone)
		}
		line, err := json.Marshal(b)
		require.NoError(t, err)
		lines = append(lines, string(line))
	}
	text := "[\n" + strings.Join(lines, ",\n") + "\n]\n"
	if os.Getenv("UPDATE") != "" {
		require.NoError(t, os.WriteFile(bodyCases, []byte(text), 0o644))
	}
	written, err := os.ReadFile(bodyCases)
	require.NoError(t, err)
	assert.Equal(
		t,
		text,
		string(written),
		"a body has changed: write the cases anew and see that the front end still draws it",
	)
}
