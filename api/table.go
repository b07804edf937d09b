package api

import (
	"bytes"
	"encoding/csv"
	"math"
	"strconv"
	"strings"
	"time"
)

// tableFile writes lines as CSV (RFC 4180), the first of them the heads.
func tableFile(name string, lines [][]string) (*Document, error) {
	for _, line := range lines {
		for k := range line {
			line[k] = plain(line[k])
		}
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.UseCRLF = true
	err := w.WriteAll(lines)
	return &Document{"text/csv; charset=utf-8; header=present", `attachment; filename="` + name + `.csv"`, b.Bytes()}, err
}

// runs are what makes a spreadsheet take a cell for a formula, and parts what it may take for the end of a cell, whatever it was told to part
// cells by (OWASP, CSV injection).
const (
	runs  = "=+-@\t\r"
	parts = ",;|\t\r\n\""
)

// plain keeps a spreadsheet from taking a text, or what stands in it after something that may part cells, for a formula. A number below zero is
// a number. Text without a carriage return of its own keeps the line ends of RFC 4180 apart from it.
func plain(text string) string {
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

// Numbers and moments in a table.
func num(n int) string         { return strconv.Itoa(n) }
func dec(x float64) string     { return strconv.FormatFloat(math.Round(1000*x)/1000, 'f', -1, 64) }
func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }
