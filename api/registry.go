package api

import (
	"encoding/json"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
)

// enumerated is a type of the core that knows all its values.
type enumerated interface{ Values() []string }

// registry is huma's schema registry with three rules added: a core type that lists its values becomes a
// named enumeration; exact values that write themselves as JSON are described as what they write; and
// names carry their package only where two packages share one.
type registry struct {
	schemas map[string]*huma.Schema
	types   map[string]reflect.Type
	names   map[reflect.Type]string
	aliases map[reflect.Type]reflect.Type
}

func init() { huma.DefaultArrayNullable = false } // a list is empty, never null

const refPrefix = "#/components/schemas/"

func newRegistry() *registry {
	return &registry{
		map[string]*huma.Schema{},
		map[string]reflect.Type{},
		map[reflect.Type]string{},
		map[reflect.Type]reflect.Type{},
	}
}

// Schema describes a type, by reference where it has a name.
func (r *registry) Schema(t reflect.Type, allowRef bool, hint string) *huma.Schema {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if alias, ok := r.aliases[t]; ok {
		return r.Schema(alias, allowRef, hint)
	}
	special := r.special(t)
	recursive := t == reflect.TypeFor[procedure.Rule]()
	named := t.Name() != "" && t.PkgPath() != "" &&
		(t.Kind() == reflect.Struct && t.PkgPath() != "time" || special != nil && special.Type == huma.TypeString)
	if !named || !allowRef || special != nil && special.Type != huma.TypeString && !recursive {
		if special != nil {
			return special
		}
		return bounded(huma.SchemaFromType(r, t), t)
	}
	name, known := r.names[t]
	if !known {
		name = r.name(t, hint)
		r.names[t], r.types[name] = name, t
		r.schemas[name] = &huma.Schema{} // holds the place while types refer to each other
		if special == nil {
			special = huma.SchemaFromType(r, t)
		}
		r.schemas[name] = special
	}
	return &huma.Schema{Ref: refPrefix + name}
}

// mostInt is the largest whole number that is taken where nothing less is said: there is room above it, in the database's integers,
// for what is counted on from it.
const mostInt = 1_000_000_000

// bounded gives every whole number a bound to either side, so that one past it is refused with its name.
func bounded(s *huma.Schema, t reflect.Type) *huma.Schema {
	switch t.Kind() {
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64, reflect.Uint, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		least, most := -float64(mostInt), float64(mostInt)
		if s.Maximum == nil {
			s.Maximum = &most
		}
		if s.Minimum == nil {
			s.Minimum = &least
		}
	}
	return s
}

// special describes the types that are not what they look like.
func (r *registry) special(t reflect.Type) *huma.Schema {
	zero := 0.0
	if t.Kind() == reflect.Struct || t.Kind() == reflect.String {
		switch reflect.New(t).Elem().Interface().(type) {
		case measure.Volume:
			return &huma.Schema{Type: huma.TypeNumber, Minimum: &zero, Description: "ml"}
		case measure.Ratio:
			type parts struct {
				Product int64 `json:"product" minimum:"1" maximum:"1000000000"`
				Water   int64 `json:"water" minimum:"1" maximum:"1000000000"`
			}
			return huma.SchemaFromType(r, reflect.TypeFor[parts]())
		case procedure.Rule:
			return r.rule()
		case enumerated:
			values := reflect.New(t).Elem().Interface().(enumerated).Values()
			s := &huma.Schema{Type: huma.TypeString}
			for _, v := range values {
				s.Enum = append(s.Enum, v)
			}
			s.PrecomputeMessages()
			return s
		}
	}
	return nil
}

// rule describes a condition, which holds conditions.
func (r *registry) rule() *huma.Schema {
	itself := &huma.Schema{Ref: refPrefix + "Rule"}
	list := &huma.Schema{Type: huma.TypeArray, Items: itself}
	s := &huma.Schema{
		Type:                 huma.TypeObject,
		AdditionalProperties: false,
		Description: "A condition over facts: all of some, any of some, not one, or a fact compared with " +
			"a value; {} always holds",
		Properties: map[string]*huma.Schema{
			"all":  list,
			"any":  list,
			"not":  itself,
			"fact": r.Schema(reflect.TypeFor[condition.Fact](), true, ""),
			"how":  r.Schema(reflect.TypeFor[procedure.How](), true, ""),
			"value": {
				Description: "a number, or a text",
				OneOf:       []*huma.Schema{{Type: huma.TypeNumber}, {Type: huma.TypeString}},
			},
		},
	}
	s.PrecomputeMessages()
	return s
}

// spelled are the names of types that share theirs with another and have moved since: who reads the description knows
// them by the name of the package in which they were first.
var spelled = map[string]string{
	"stock.Need":    "ShelfNeed",
	"ready.Counted": "TrainingCounted",
	"ready.Source":  "TrainingSource",
	"lesson.Step":   "LessonStep",
}

func (r *registry) name(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	pkg := t.PkgPath()[strings.LastIndex(t.PkgPath(), "/")+1:]
	if was, moved := spelled[t.String()]; moved {
		return was
	}
	if other, taken := r.types[name]; taken && other != t {
		name = strings.ToUpper(pkg[:1]) + pkg[1:] + name
	}
	return name
}

// SchemaFromRef finds a schema by reference.
func (r *registry) SchemaFromRef(ref string) *huma.Schema {
	return r.schemas[strings.TrimPrefix(ref, refPrefix)]
}

// TypeFromRef finds a type by reference.
func (r *registry) TypeFromRef(ref string) reflect.Type {
	return r.types[strings.TrimPrefix(ref, refPrefix)]
}

// Map gives all named schemas.
func (r *registry) Map() map[string]*huma.Schema { return r.schemas }

// RegisterTypeAlias makes one type be described as another.
func (r *registry) RegisterTypeAlias(t, alias reflect.Type) { r.aliases[t] = alias }

// MarshalJSON writes the schemas.
func (r *registry) MarshalJSON() ([]byte, error) { return json.Marshal(r.schemas) }
