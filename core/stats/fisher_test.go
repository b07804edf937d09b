package stats

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The lady tasting tea, four cups of each: all right is one way of 70, three of four right or better 17 of 70 (Fisher, 1935).
// Fifty random tables are held to R's fisher.test (testdata/fisher.R).
func TestFisher(t *testing.T) {
	assert.InDelta(t, 1.0/70, FewerByChance(4, 4, 0, 4), 1e-12)
	assert.InDelta(t, 17.0/70, FewerByChance(3, 4, 1, 4), 1e-12)
	assert.Equal(t, 1.0, FewerByChance(0, 0, 0, 9))
	text, err := os.ReadFile("testdata/fisher.csv")
	require.NoError(t, err)
	rows := strings.Split(strings.TrimSpace(string(text)), "\n")
	require.Len(t, rows, 50)
	for _, row := range rows {
		var a, of, b, after int
		var p float64
		_, err := fmt.Sscanf(strings.ReplaceAll(row, ",", " "), "%d %d %d %d %g", &a, &of, &b, &after, &p)
		require.NoError(t, err, row)
		assert.InDelta(t, p, FewerByChance(a, of, b, after), 1e-9, row)
	}
}
