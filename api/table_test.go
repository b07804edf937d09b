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

// Texts that a spreadsheet would run are kept from running (OWASP, CSV injection: = + - @ and the tab and return
// before them); numbers stay numbers.
func TestNothingInATableRuns(t *testing.T) {
	for text, want := range map[string]string{
		"":             "",
		"Baker's van":  "Baker's van",
		"=1+1":         "'=1+1",
		"+cmd":         "'+cmd",
		"@SUM(A1)":     "'@SUM(A1)",
		"-2+3":         "'-2+3",
		"\tx":          "'\tx",
		"a;=1+1":       "a;'=1+1",
		"a\t@x":        "a\t'@x",
		"a, -b|+c":     "a, '-b|'+c",
		"say \"=x\"":   "say \"'=x\"",
		"one\r\ntwo\r": "one\ntwo\n",
		"-1;-2":        "'-1;'-2",
		"-12.5":        "-12.5",
		"+3":           "+3",
		"4 - 2":        "4 - 2",
	} {
		assert.Equal(t, want, plain(text), "%q", text)
	}
}

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
