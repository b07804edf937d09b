package store

import (
	"context"
	"encoding/csv"
	"math/rand"
	"slices"
	"strings"
	"testing"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// MigrateTo brings the schema to an older version, for tests that begin from what an older server left.
func (s *Store) MigrateTo(ctx context.Context, version int64) error {
	return s.migrations(func(provider *goose.Provider) error {
		_, err := provider.UpTo(ctx, version)
		return err
	})
}

// What an owner takes away is read back as it was, however it comes in pieces, but that no spreadsheet runs anything of it: a text that
// begins like a formula has an apostrophe before it, and a number stays a number.
func TestNothingThatIsTakenAwayRuns(t *testing.T) {
	cells := map[string]string{"=1+1": "'=1+1", "@sum": "'@sum", "-2+3": "'-2+3", "+cmd|x": "'+cmd|x", "-12.5": "-12.5", "+3": "+3", "-": "'-",
		"plain": "plain", "a=1": "a=1", `{"a":[-1,"=x"]}`: `{"a":[-1,"=x"]}`, "": "", "two\nlines": "two\nlines",
		"=two\nlines, \"q\"": "'=two\nlines, \"q\"", "\ttab": "'\ttab", "-4,5": "'-4,5", "-4\"": "'-4\""}
	rng := rand.New(rand.NewSource(3))
	var all []string
	for cell := range cells {
		all = append(all, cell)
	}
	slices.Sort(all)
	for range 300 {
		var rows [][]string
		for range 1 + rng.Intn(4) {
			rows = append(rows, []string{all[rng.Intn(len(all))], all[rng.Intn(len(all))], all[rng.Intn(len(all))]})
		}
		var from, to strings.Builder
		require.NoError(t, csv.NewWriter(&from).WriteAll(rows)) // with line feeds, as PostgreSQL writes
		out, left := &crlf{w: &to}, from.String()
		for len(left) > 0 {
			n := 1 + rng.Intn(len(left))
			_, err := out.Write([]byte(left[:n]))
			require.NoError(t, err)
			left = left[n:]
		}
		back, err := csv.NewReader(strings.NewReader(to.String())).ReadAll()
		require.NoError(t, err, to.String())
		require.Len(t, back, len(rows))
		for i := range rows {
			for k := range rows[i] {
				assert.Equal(t, cells[rows[i][k]], back[i][k], to.String())
			}
		}
	}
}
