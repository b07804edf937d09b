package api

import "fmt"

// Document is a file to be kept.
type Document struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

// formats are the kinds of document that are offered, each with the end of its file's name.
var formats = map[string]struct{ kind, end string }{
	"json":     {"application/json", "json"},
	"markdown": {"text/markdown; charset=utf-8", "md"},
	"csv":      {"text/csv; charset=utf-8", "csv"},
}

// documentOf is a document in one of these formats, to be kept under a name.
func documentOf(name, format string, text []byte) *Document {
	f := formats[format]
	return &Document{f.kind, fmt.Sprintf(`attachment; filename="%s.%s"`, name, f.end), text}
}
