package api

import (
	"bytes"
	"encoding/csv"
	"iter"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
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
	return &Document{tableType, `attachment; filename="` + name + `.csv"`, b.Bytes()}, err
}

// linesAtOnce is how many lines of a streamed table are written before they are sent.
const linesAtOnce = 400

// streamTable writes lines as CSV as they come.
func streamTable(name string, lines iter.Seq[[]string]) *huma.StreamResponse {
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		hc.SetHeader("Content-Type", tableType)
		hc.SetHeader("Content-Disposition", `attachment; filename="`+name+`.csv"`)
		line := http.NewResponseController(humagin.Unwrap(hc).Writer)
		w := csv.NewWriter(hc.BodyWriter())
		w.UseCRLF = true
		n := 0
		for cells := range lines {
			for k := range cells {
				cells[k] = plain(cells[k])
			}
			if w.Write(cells) != nil || hc.Context().Err() != nil {
				return
			}
			if n++; n%linesAtOnce == 0 {
				w.Flush()
				_ = line.SetWriteDeadline(time.Now().Add(usual.answer))
			}
		}
		w.Flush()
	}}
}

// tableType is CSV with a line of heads (RFC 4180).
const tableType = "text/csv; charset=utf-8; header=present"

// runs are what makes a spreadsheet take a cell for a formula, and parts what it may take for the end of a cell,
// whatever it was told to part cells by (OWASP, CSV injection).
const (
	runs  = "=+-@\t\r"
	parts = ",;|\t\r\n\""
)

// plain keeps a spreadsheet from taking a text, or what stands in it after something that may part cells, for a
// formula. A number below zero is a number. Text without a carriage return of its own keeps the line ends of RFC 4180
// apart from it.
func plain(text string) string {
	if text == "" || !strings.ContainsRune(runs, rune(text[0])) && !strings.ContainsAny(text, parts) {
		return text // most of a table
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

// Numbers and moments in a table.
func num(n int) string         { return strconv.Itoa(n) }
func dec(x float64) string     { return strconv.FormatFloat(math.Round(1000*x)/1000, 'f', -1, 64) }
func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }
