package api

import (
	"encoding/json"
	"reflect"
	"strings"

	"uskel/core/audit"
	"uskel/core/procedure"
)

// ProcedureSchema is the JSON Schema (2020-12) of a procedure document, derived from the Go types like the API itself.
func ProcedureSchema() map[string]any {
	return schemaOf(reflect.TypeFor[procedure.Procedure](), "procedure", "A washing procedure")
}

// ChecklistSchema is the JSON Schema (2020-12) of a checklist document.
func ChecklistSchema() map[string]any {
	return schemaOf(reflect.TypeFor[audit.Checklist](), "checklist", "A checklist for audits")
}

func schemaOf(t reflect.Type, name, title string) map[string]any {
	r := newRegistry()
	root := r.Schema(t, true, "")
	text, err := json.Marshal(map[string]any{"$ref": root.Ref, "$defs": r.schemas})
	if err != nil {
		panic(err) // the types are our own
	}
	var schema map[string]any
	if err := json.Unmarshal([]byte(strings.ReplaceAll(string(text), refPrefix, "#/$defs/")), &schema); err != nil {
		panic(err)
	}
	schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	schema["$id"] = "urn:uskel:" + name + ":1"
	schema["title"] = title
	return schema
}
