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

// One who differs is told, and not those who were held against them; where it cannot be said whose difference it is both are told;
// where nobody differs nobody is.
func TestOneByOne(t *testing.T) {
	of := func(apart map[string]map[string][2]int) func(string, map[string]bool) Differs {
		return func(p string, without map[string]bool) Differs {
			up, down := 0, 0
			for other, n := range apart[p] {
				if !without[other] {
					up, down = up+n[0], down+n[1]
				}
			}
			return SignsDiffer(up, down)
		}
	}
	odd := map[string]map[string][2]int{"a": {"b": {20, 0}, "c": {20, 0}}, "b": {"a": {0, 20}, "c": {9, 9}}, "c": {"a": {0, 20}, "b": {9, 9}}}
	assert.Equal(t, [][]string{{"a"}}, oneByOne([]string{"a", "b", "c"}, 0.05, of(odd)))
	two := map[string]map[string][2]int{"a": {"b": {20, 1}}, "b": {"a": {1, 20}, "c": {1, 1}}, "c": {"b": {1, 1}}}
	assert.Equal(t, [][]string{{"a", "b"}}, oneByOne([]string{"a", "b", "c"}, 0.05, of(two)), "of two nobody knows whose it is")
	still := map[string]map[string][2]int{"a": {"b": {9, 9}}, "b": {"a": {9, 9}}}
	assert.Empty(t, oneByOne([]string{"a", "b"}, 0.05, of(still)))
	assert.Empty(t, oneByOne(nil, 0.05, of(still)))
	assert.InDelta(t, 1, SignsDiffer(3, 2).Chance, 1e-9)
	assert.InDelta(t, 0.0625, SignsDiffer(3, 2).Least, 1e-9)
}

// oneByOne gathers who is told, together with whom.
func oneByOne(people []string, rate float64, of func(string, map[string]bool) Differs) [][]string {
	told, step := [][]string{}, -1
	OneByOne(people, rate, of, func(person string, without map[string]bool) {
		if len(without) != step {
			told, step = append(told, nil), len(without)
		}
		told[len(told)-1] = append(told[len(told)-1], person)
	})
	return told
}
