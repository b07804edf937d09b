package stats

import (
	"encoding/csv"
	"math"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Sixty tables by the R package vcd (testdata/agree.R): kappa of two answers, weighted kappa of four, and their errors.
func TestKappaAgainstR(t *testing.T) {
	f, err := os.Open("testdata/agree.csv")
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 60)
	for i, row := range rows {
		var cells []int
		for _, x := range strings.Fields(row[0]) {
			n, err := strconv.Atoi(x)
			require.NoError(t, err)
			cells = append(cells, n)
		}
		k := int(math.Sqrt(float64(len(cells))))
		table := make([][]int, k)
		for r := range k {
			table[r] = cells[r*k : (r+1)*k]
		}
		want, err := strconv.ParseFloat(row[1], 64)
		require.NoError(t, err)
		spread, err := strconv.ParseFloat(row[2], 64)
		require.NoError(t, err)
		a := Agree(table)
		assert.True(t, a.Known)
		assert.InDelta(t, want, a.Kappa, 1e-9, "row %d", i)
		assert.InDelta(t, spread, a.Error, 1e-9, "row %d", i)
	}
}

// Worked by hand: of 100 pairs 88 both pass, 2 both found, 5 each found alone. Same 0.90; kappa 0.90 - 0.8698 over 1 - 0.8698 =
// 0.2320; AC1: mean of nothing found 0.93, chance 0.1302, so (0.90 - 0.1302) / 0.8698 = 0.8850; of 14 findings told by either 4
// were told by both: 0.2857.
func TestWhereFindingsAreRare(t *testing.T) {
	a := Agree([][]int{{88, 5}, {5, 2}})
	assert.Equal(t, 100, a.Pairs)
	assert.InDelta(t, 0.90, a.Same, 1e-9)
	assert.InDelta(t, 0.2320, a.Kappa, 1e-4)
	assert.InDelta(t, 0.8850, a.First, 1e-4)
	assert.InDelta(t, 0.2857, a.Found, 1e-4)
	assert.Equal(t, 12, a.Either)
	assert.Greater(t, a.Need, 100, "too few to say")

	all := Agree([][]int{{30, 0}, {0, 10}})
	assert.InDelta(t, 1, all.Kappa, 1e-9)
	assert.InDelta(t, 1, all.Found, 1e-9)
	none := Agree([][]int{{30, 0}, {0, 0}})
	assert.False(t, none.Known, "one answer only: chance explains it")
	assert.InDelta(t, 1, none.First, 1e-9)
	assert.Zero(t, Agree([][]int{{0, 0}, {0, 0}}).Pairs)
}
