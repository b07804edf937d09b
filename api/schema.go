package api

import (
	"encoding/json"
	"reflect"
	"strings"

	"uskel/core/procedure"
)

// ProcedureSchema is the JSON Schema (2020-12) of a procedure document, derived from the Go types like the API itself.
func ProcedureSchema() map[string]any {
	r := newRegistry()
	root := r.Schema(reflect.TypeFor[procedure.Procedure](), true, "")
	text, err := json.Marshal(map[string]any{"$ref": root.Ref, "$defs": r.schemas})
	if err != nil {
		panic(err) // the types are our own
	}
	var schema map[string]any
	if err := json.Unmarshal([]byte(strings.ReplaceAll(string(text), refPrefix, "#/$defs/")), &schema); err != nil {
		panic(err)
	}
	schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	schema["$id"] = "urn:uskel:procedure:1"
	schema["title"] = "A washing procedure"
	return schema
}
