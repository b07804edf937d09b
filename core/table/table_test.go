package table_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/table"
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
		assert.Equal(t, want, table.Plain(text), "%q", text)
	}
}

func TestATableIsReadBack(t *testing.T) {
	text := table.Text([][]string{{"who", "what"}, {"Osk, Pellow", "said \"done\"\nand left"}, {"Pia", "=1+1"}})
	assert.Contains(t, text, "\r\n")
	back, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"who", "what"}, {"Osk, Pellow", "said \"done\"\nand left"}, {"Pia", "'=1+1"}}, back)
}
