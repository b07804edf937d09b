package api

import (
	"encoding/csv"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A table is read back as it was, with the line ends of RFC 4180.
func TestTablesAreReadBack(t *testing.T) {
	lines := [][]string{{"who", "what"}, {"Osk, Pellow", "said \"done\"\nand left"}, {"Pia", ""}}
	d, err := tableFile("taps", lines)
	require.NoError(t, err)
	assert.Equal(t, `attachment; filename="taps.csv"`, d.ContentDisposition)
	assert.Contains(t, string(d.Body), "\r\n")
	back, err := csv.NewReader(strings.NewReader(string(d.Body))).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, lines, back)
}

// Numbers have three decimals at most and nothing after the last that counts; the reference is the standard library's
// shortest form of the rounded number.
func TestNumbersInATable(t *testing.T) {
	for x, want := range map[float64]string{0: "0", -0.0001: "0", 0.5: "0.5", -0.5: "-0.5", 12.3456: "12.346", -7: "-7",
		0.001: "0.001", 1000.01: "1000.01", 3e15: "3000000000000000"} {
		assert.Equal(t, want, dec(x), "%g", x)
	}
	random := rand.New(rand.NewPCG(1, 2))
	for range 10_000 {
		x := (random.Float64() - 0.5) * math.Pow(10, float64(random.IntN(12)))
		want := strconv.FormatFloat(math.Round(1000*x)/1000, 'f', -1, 64)
		if want == "-0" {
			want = "0"
		}
		require.Equal(t, want, dec(x), "%g", x)
	}
}
