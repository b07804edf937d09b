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

// plain keeps a spreadsheet from taking a text for a formula. A number below zero is a number.
func plain(text string) string {
	if text == "" || !strings.ContainsRune("=+-@\t\r", rune(text[0])) {
		return text
	}
	if _, err := strconv.ParseFloat(text, 64); err == nil {
		return text
	}
	return "'" + text
}

// Numbers and moments in a table.
func num(n int) string         { return strconv.Itoa(n) }
func dec(x float64) string     { return strconv.FormatFloat(math.Round(1000*x)/1000, 'f', -1, 64) }
func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }
