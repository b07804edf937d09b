package store

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/jackc/pgx/v5"
)

// exported are the tables that an owner takes away, each with what is asked of it: secrets stay, and so does what only
// the server needs.
var exported = []struct{ table, columns string }{
	{
		"people",
		"id, name, sign_in, role, active",
	},
	{"settings", "*"},
	{"vehicles", "*"},
	{"bookings", "*"},
	{"visit_moves", "*"},
	{
		"look_overs",
		"*",
	},
	{"procedures", "*"},
	{"drafts", "*"},
	{"checklists", "*"},
	{"products", "*"},
	{"stock", "*"},
	{"use_days", "*"},
	{"cloths", "*"},
	{"washes", "*"},
	{"wash_events", "*"},
	{"corrections", "*"},
	{"audits", "*"},
	{"audit_items", "*"},
	{
		"audit_remarks",
		"*",
	},
	{"sign_offs", "*"},
	{"drills", "*"},
	{"standards", "*"},
	{"notices", "*"},
	{"readings", "*"},
	{"absences", "*"},
	{"cases", "*"},
	{"recalls", "*"},
	{"own_cases", "*"},
	{"drill_runs", "*"},
	{"rubrics", "*"},
	{"second_looks", "*"},
	{"calibrations", "*"},
	{"calibration_walks", "*"},
	{"second_grades", "*"},
	{"blind_offers", "*"},
	{"looks_read", "*"},
	{"disputes", "*"},
	{"remedies", "*"},
	{"photos", "*"}, // their pictures go beside the tables
	{"watched", "*"},
	{"changes_seen", "*"},
}

// Export writes all of the shop's records, a table after the other as they stand at one moment, each as CSV with a
// line of heads (RFC 4180) into what into gives for it. Documents inside are JSON.
func (s *Store) Export(ctx context.Context, into func(name string) (io.Writer, error)) error {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return translate(err, "export")
	}
	defer conn.Release()
	tx, err := conn.BeginTx(ctx, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly})
	if err != nil {
		return translate(err, "export")
	}
	defer func() { _ = tx.Rollback(context.WithoutCancel(ctx)) }()
	if _, err := tx.Exec(ctx, "SET LOCAL statement_timeout = 0"); err != nil { // a large shop takes the time it takes
		return translate(err, "export")
	}
	for _, e := range exported {
		w, err := into(e.table + ".csv")
		if err != nil {
			return err
		}
		sql := fmt.Sprintf(
			"COPY (SELECT %s FROM %s ORDER BY 1) TO STDOUT WITH (FORMAT csv, HEADER)",
			e.columns,
			e.table,
		)
		if _, err := conn.Conn().PgConn().CopyTo(ctx, &crlf{w: w}, sql); err != nil {
			return translate(err, e.table)
		}
	}
	return nil
}

// crlf ends lines as RFC 4180 does; PostgreSQL ends them with a line feed. A line feed inside quotes stays. A text that a spreadsheet
// would run is kept from it by an apostrophe before it (OWASP, CSV injection: = + - @, tab and return); a number stays one.
type crlf struct {
	w      io.Writer
	quoted bool
	inside bool   // of a cell
	held   []byte // a cell that begins like a number, until it is known whether it is one
}

// runs are what begins a text that a spreadsheet runs.
const runs = "=@\t\r"

// Write writes text with its line ends changed. Pieces may end anywhere.
func (c *crlf) Write(text []byte) (int, error) {
	var b bytes.Buffer
	for _, r := range text {
		ends := !c.quoted && (r == ',' || r == '\n')
		if ends && c.held != nil {
			c.release(&b)
		}
		if r == '"' {
			c.quoted = !c.quoted
		}
		switch {
		case ends:
			c.inside = false
			if r == '\n' {
				b.WriteByte('\r')
			}
			b.WriteByte(r)
			continue
		case c.held != nil:
			c.held = append(c.held, r)
			continue
		case !c.inside && r == '"':
			b.WriteByte(r)
			continue
		case !c.inside && (r == '-' || r == '+'):
			c.held = []byte{r}
			c.inside = true
			continue
		case !c.inside && strings.IndexByte(runs, r) >= 0:
			b.WriteByte('\'')
		}
		c.inside = true
		b.WriteByte(r)
	}
	_, err := c.w.Write(b.Bytes())
	return len(text), err
}

// release writes a cell that was held: as it is when it is a number.
func (c *crlf) release(b *bytes.Buffer) {
	if _, err := strconv.ParseFloat(strings.TrimSuffix(string(c.held), `"`), 64); err != nil {
		b.WriteByte('\'')
	}
	b.Write(c.held)
	c.held = nil
}
