package api

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"io"
	"iter"
	"math"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"uskel/core/table"
)

// tableFile writes lines as CSV (RFC 4180), the first of them the heads.
func tableFile(name string, lines [][]string) (*Document, error) {
	for _, line := range lines {
		for k := range line {
			line[k] = table.Plain(line[k])
		}
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.UseCRLF = true
	err := w.WriteAll(lines)
	return &Document{tableType, `attachment; filename="` + name + `.csv"`, b.Bytes()}, err
}

// A streamed table is sent so many bytes at once, and after so many lines at most its reader is given more time.
const (
	atOnce      = 1 << 16
	linesAtOnce = 400
)

// streamTable writes lines as CSV as they come.
func streamTable(name string, lines iter.Seq[[]string]) *huma.StreamResponse {
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		line := openTable(hc, name)
		writeTable(hc.BodyWriter(), lines, func() bool {
			_ = line.SetWriteDeadline(time.Now().Add(usual.answer))
			return hc.Context().Err() == nil
		})
	}}
}

// openTable says that a table comes, and gives its line's control.
func openTable(hc huma.Context, name string) *http.ResponseController {
	hc.SetHeader("Content-Type", tableType)
	hc.SetHeader("Content-Disposition", `attachment; filename="`+name+`.csv"`)
	return http.NewResponseController(humagin.Unwrap(hc).Writer)
}

// writeTable writes lines as CSV; now and then it asks whether to go on.
func writeTable(to io.Writer, lines iter.Seq[[]string], goOn func() bool) {
	w := csv.NewWriter(bufio.NewWriterSize(to, atOnce))
	w.UseCRLF = true
	n := 0
	for cells := range lines {
		for k := range cells {
			cells[k] = table.Plain(cells[k])
		}
		if w.Write(cells) != nil {
			return
		}
		if n++; n%linesAtOnce == 0 && !goOn() {
			return
		}
	}
	w.Flush()
}

// pieces are a table as it is sent, in pieces: no more than it takes is held, and none is copied again.
type pieces [][]byte

// Write keeps a piece.
func (p *pieces) Write(text []byte) (int, error) {
	*p = append(*p, slices.Clone(text))
	return len(text), nil
}

// send sends a table that was written before.
func (p pieces) send(name string) *huma.StreamResponse {
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		line := openTable(hc, name)
		for _, piece := range p {
			_ = line.SetWriteDeadline(time.Now().Add(usual.answer))
			if _, err := hc.BodyWriter().Write(piece); err != nil || hc.Context().Err() != nil {
				return
			}
		}
	}}
}

// tableType is CSV with a line of heads (RFC 4180).
const tableType = "text/csv; charset=utf-8; header=present"

// Numbers and moments in a table.
func num(n int) string         { return strconv.Itoa(n) }
func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }

// dec writes a number to three decimals at most. A year of steps has a million of them, so those of everyday size are
// written from their thousandths, a whole number.
func dec(x float64) string {
	thousandths := math.Round(1000 * x)
	if math.IsNaN(thousandths) || math.Abs(thousandths) >= 1e15 {
		return strconv.FormatFloat(thousandths/1000, 'f', -1, 64)
	}
	n := int(thousandths)
	if n%1000 == 0 {
		return strconv.Itoa(n / 1000)
	}
	var digits [24]byte
	text := digits[:0]
	if n < 0 {
		text, n = append(text, '-'), -n
	}
	text = strconv.AppendInt(text, int64(n/1000), 10)
	text = append(text, '.', byte('0'+n/100%10), byte('0'+n/10%10), byte('0'+n%10))
	return string(bytes.TrimRight(text, "0"))
}
