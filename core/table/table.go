// Package table writes tables that a spreadsheet reads and does not run.
package table

import (
	"encoding/csv"
	"strconv"
	"strings"
)

// runs are what makes a spreadsheet take a cell for a formula, and parts what it may take for the end of a cell,
// whatever it was told to part cells by (OWASP, CSV injection).
const (
	runs  = "=+-@\t\r"
	parts = ",;|\t\r\n\""
)

// Plain keeps a spreadsheet from taking a text, or what stands in it after something that may part cells, for a
// formula. A number below zero is a number. Text without a carriage return of its own keeps the line ends of RFC 4180
// apart from it.
func Plain(text string) string {
	if harmless(text) {
		return text
	}
	if _, err := strconv.ParseFloat(text, 64); err == nil {
		return text
	}
	text = strings.ReplaceAll(strings.ReplaceAll(text, "\r\n", "\n"), "\r", "\n")
	var safe strings.Builder
	begins := true // of a cell, or of what may be taken for one
	for _, r := range text {
		if begins && strings.ContainsRune(runs, r) {
			safe.WriteByte('\'')
		}
		begins = strings.ContainsRune(parts, r) || begins && r == ' '
		safe.WriteRune(r)
	}
	return safe.String()
}

// harmless reports whether nothing in a text could run: so it is with most of a table, and a year has 2.4 million
// cells.
func harmless(text string) bool {
	if text == "" {
		return true
	}
	for k := range len(text) {
		if isPart[text[k]] {
			return false
		}
	}
	return !isRun[text[0]]
}

// isRun and isPart mark the bytes of runs and of parts, all of them ASCII.
var isRun, isPart = marked(runs), marked(parts)

func marked(bytes string) (is [256]bool) {
	for k := range len(bytes) {
		is[bytes[k]] = true
	}
	return is
}

// Text writes lines as CSV (RFC 4180), the first of them the heads. No text in it is run.
func Text(lines [][]string) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	w.UseCRLF = true
	for _, line := range lines {
		safe := make([]string, len(line))
		for k, cell := range line {
			safe[k] = Plain(cell)
		}
		_ = w.Write(safe) // into memory: it cannot fail
	}
	w.Flush()
	return b.String()
}
