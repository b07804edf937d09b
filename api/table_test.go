package api

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Texts that a spreadsheet would run are kept from running (OWASP, CSV injection: = + - @ and the tab and return before them); numbers stay numbers.
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
