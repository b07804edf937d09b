package procedure

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"uskel/core/wrong"
)

// Encode writes a procedure as one JSON document, always the same way: two procedures are equal when their documents
// are. The format is described by a JSON Schema (2020-12), docs/formats/procedure.schema.json.
func Encode(p Procedure) ([]byte, error) {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	if err := e.Encode(p); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

// FormatError says where a document is wrong.
type FormatError struct {
	Line  int
	Field string
	Says  string
}

func (e *FormatError) Error() string {
	if e.Field == "" {
		return fmt.Sprintf("line %d: %s", e.Line, e.Says)
	}
	return fmt.Sprintf("line %d, %s: %s", e.Line, e.Field, e.Says)
}

// Decode reads what Encode writes. A document that is not JSON, names a field that is not known, has a value of the
// wrong kind or describes an unusable procedure gives a *FormatError with line and field.
func Decode(data []byte) (Procedure, error) {
	var p Procedure
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return Procedure{}, located(data, d.InputOffset(), err)
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return Procedure{}, &FormatError{lineAt(data, d.InputOffset()), "", "there is something after the procedure"}
	}
	if err := p.Check(); err != nil {
		first := wrong.Fields(err)[0]
		return Procedure{}, &FormatError{1, "", first.Error()}
	}
	return p, nil
}

// located finds line and field of a decoding error.
func located(data []byte, offset int64, err error) error {
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		return &FormatError{lineAt(data, syntax.Offset), "", "this is not JSON: " + syntax.Error()}
	case errors.As(err, &kind):
		return &FormatError{
			lineAt(data, kind.Offset),
			kind.Field,
			fmt.Sprintf("a %s stands where a %s belongs", kind.Value, kind.Type),
		}
	case errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
		return &FormatError{lineAt(data, int64(len(data))), "", "the document ends too early"}
	}
	says := strings.TrimPrefix(err.Error(), "json: ")
	field := ""
	if rest, found := strings.CutPrefix(says, "unknown field "); found {
		field = strings.Trim(rest, `"`)
		says = "there is no such field"
		if i := bytes.Index(data, []byte(`"`+field+`"`)); i >= 0 {
			offset = int64(i)
		}
	}
	return &FormatError{lineAt(data, offset), field, says}
}

func lineAt(data []byte, offset int64) int {
	return 1 + bytes.Count(data[:min(max(offset, 0), int64(len(data)))], []byte("\n"))
}

// Markdown writes a procedure for reading on paper or in a wiki.
func Markdown(p Procedure) string {
	var b strings.Builder
	line := func(format string, args ...any) { fmt.Fprintf(&b, format+"\n", args...) }
	line("# %s", p.Title)
	line("")
	line("%s, version %d. %s", p.Family, p.Version, p.Fits)
	if len(p.Entry) > 0 {
		line("")
		line("Only where:")
		line("")
		for _, e := range p.Entry {
			line("- %s. Else: %s", e.Rule.Sentence(), e.Refusal)
		}
	}
	round := ""
	for _, stage := range p.Stages {
		line("")
		line("## %s", stage.Title)
		for i, s := range stage.Steps {
			line("")
			if r, there := p.Round(s.Round); there && r.ID != round {
				line("*%s*", r.Sentence())
				line("")
			}
			round = s.Round
			line("%d. **%s** %s", i+1, s.Title, s.Text)
			if !s.When.Always() {
				line("   - if %s", s.When.Sentence())
			}
			if s.If != nil {
				line("   - %s", p.sayBranch(s.If))
			}
			for _, fact := range s.facts() {
				line("   - %s", fact)
			}
		}
	}
	return b.String()
}

// facts are a step's particulars, a line each.
func (s Step) facts() []string {
	var facts []string
	add := func(name, value string) {
		if value != "" {
			facts = append(facts, name+": "+value)
		}
	}
	if s.Round != "" {
		add("round", map[Once]string{EachPart: "in each part", OnceBefore: "once before", OnceAfter: "once after"}[s.Once])
	}
	add("asks", sayAsk(s.Asks))
	add("leaves open", strings.Join(s.Opens, ", "))
	add("closes", strings.Join(s.Closes, ", "))
	add("mix", sayDose(s.Dose))
	add("takes", sayAmount(s.Uses))
	add("product", string(s.Class))
	add("works", sayDwell(s.Dwell))
	add("tool", s.Tool)
	add("cloth", s.Cloth)
	add("water", string(s.Water))
	add("why", s.Reason)
	add("done when", s.LookFor)
	for _, caution := range s.Cautions {
		add("caution", caution)
	}
	return facts
}
