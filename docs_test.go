package uskel_test

import (
	"os"
	"os/exec"
	"path"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// tracked are the files of the tree.
func tracked(t *testing.T) []string {
	t.Helper()
	listed, err := exec.Command("git", "ls-files", "--cached", "--others", "--exclude-standard").Output()
	require.NoError(t, err, "the tests run in a clone")
	return strings.Fields(string(listed))
}

var (
	pointer = regexp.MustCompile(`docs/trade\.md,\s+(?://\s+)?sections? ((?:\d+|,? and |, | to )+)`)
	number  = regexp.MustCompile(`\d+`)
	heading = regexp.MustCompile(`(?m)^## (\d+)\. `)
)

// A comment that points to the trade's knowledge points to a section that is there.
func TestTheTradeIsPointedTo(t *testing.T) {
	trade, err := os.ReadFile("docs/trade.md")
	require.NoError(t, err)
	sections := []string{}
	for _, h := range heading.FindAllStringSubmatch(string(trade), -1) {
		sections = append(sections, h[1])
	}
	require.Len(t, sections, 21)
	found := 0
	for _, name := range tracked(t) {
		if !slices.Contains([]string{".go", ".ts", ".tsx", ".md"}, path.Ext(name)) {
			continue
		}
		text, err := os.ReadFile(name)
		if os.IsNotExist(err) {
			continue // taken away and not yet committed
		}
		require.NoError(t, err)
		assert.NotContains(t, strings.ToLower(string(text)), "handbook"+", section", name)
		for _, p := range pointer.FindAllStringSubmatch(string(text), -1) {
			found++
			for _, n := range number.FindAllString(p[1], -1) {
				assert.Contains(t, sections, n, "%s: %s", name, p[0])
			}
		}
	}
	assert.Greater(t, found, 80)
}

var (
	quoted = regexp.MustCompile("`([^`]+)`")
	named  = regexp.MustCompile(`^[\w./-]+(\.(go|ts|tsx|md|sql|json)|/[\w-]+)$`)
)

// The map of the house names files and folders that are there.
func TestTheHouseNamesWhatIsThere(t *testing.T) {
	text, err := os.ReadFile("docs/house.md")
	require.NoError(t, err)
	names := tracked(t)
	bases := map[string]bool{}
	for _, n := range names {
		bases[path.Base(n)] = true
	}
	looked := 0
	for _, q := range quoted.FindAllStringSubmatch(string(text), -1) {
		name := q[1]
		if !named.MatchString(name) {
			continue // an identifier, a word
		}
		looked++
		if !strings.Contains(name, "/") {
			assert.True(t, bases[name], name)
			continue
		}
		_, err := os.Stat(name)
		assert.NoError(t, err, name)
	}
	assert.Greater(t, looked, 100)
}
