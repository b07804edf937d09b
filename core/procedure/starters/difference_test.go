package starters

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
)

func says(edits []procedure.Edit) []string {
	all := make([]string, len(edits))
	for i, e := range edits {
		all[i] = e.Kind + ": " + e.Says
	}
	return all
}

func TestDifferencesInWords(t *testing.T) {
	for name, tc := range map[string]struct {
		change func(*procedure.Procedure)
		want   []string
	}{
		"nothing": {func(*procedure.Procedure) {}, []string{}},
		"only style": {func(p *procedure.Procedure) {
			step(p, "seal").When = procedure.Not(procedure.Be(c.PaintFinish, "satin"))
		}, []string{}},
		"a number": {func(p *procedure.Procedure) { step(p, "foam").Time.Body = 3 }, []string{"changed: “Foam”: " +
			"the time for the body was 1.75 min and is 3 min."}},
		"a dwell": {func(p *procedure.Procedure) { d := step(p, "foam").Dwell; d.Min, d.Max = 3*minute, 8*minute },
			[]string{"changed: “Foam”: the dwell was “5 min to 10 min” and is “3 min to 8 min”."}},
		"narrower": {func(p *procedure.Procedure) { step(p, "shuts").When = procedure.Min(c.GradeOverall, 2) },
			[]string{"changed: “Wipe the shuts”: it applies when the overall grade is at least 2; before, always, " +
				"which takes in less."}},
		"a new step": {func(p *procedure.Procedure) { add(p, "contact", brushBadges()) }, []string{"added: “Brush badges " +
			"and edges” is new in Contact wash."}},
		"a step gone": {func(p *procedure.Procedure) { drop(p, "shuts") }, []string{"removed: “Wipe the shuts” is gone " +
			"from Shuts."}},
		"a step in turn": {func(p *procedure.Procedure) { s := p.Stages[3].Steps; s[0], s[1] = s[1], s[0] },
			[]string{"moved: “Fill wash and rinse bucket” now comes after “Two-bucket wash”."}},
		"a stage": {func(p *procedure.Procedure) { s := *step(p, "fill"); drop(p, "fill"); add(p, "prewash", s) },
			[]string{"moved: “Fill wash and rinse bucket” moved from Contact wash to Pre-wash."}},
		"a pin": {func(p *procedure.Procedure) { p.Pins = procedure.Pins{c.FoamFrom: c.FromTop} }, []string{"changed: Foam " +
			"from the bottom or the top? Pinned to top."}},
		"an entry": {func(p *procedure.Procedure) {
			p.Entry = append(p.Entry, procedure.Entry{Rule: procedure.Max(c.GradeOverall, 3), Refusal: "x"})
		},
			[]string{"added: It may be used only where the overall grade is at most 3."}},
		"a caution": {func(p *procedure.Procedure) { step(p, "mitt").Cautions = nil }, []string{"changed: “Two-bucket " +
			"wash”: caution: “" + cautionSlip + "” is gone."}},
	} {
		old, changed := plainWash(), plainWash()
		tc.change(&changed)
		assert.Equal(t, tc.want, says(procedure.Difference(old, changed)), name)
	}
}

func TestAProcedureDoesNotDifferFromItself(t *testing.T) {
	for _, p := range Starters() {
		assert.Empty(t, procedure.Difference(p, p), p.Title)
	}
}

// everyField visits every plain value that lies in a procedure, with its way there.
func everyField(v reflect.Value, way string, visit func(reflect.Value, string)) {
	switch v.Kind() {
	case reflect.Struct:
		if v.Type() == reflect.TypeFor[procedure.Rule]() || v.Type() == reflect.TypeFor[measure.Ratio]() ||
			v.Type() == reflect.TypeFor[measure.Volume]() {
			visit(v, way)
			return
		}
		for i := range v.NumField() {
			everyField(v.Field(i), way+"."+v.Type().Field(i).Name, visit)
		}
	case reflect.Pointer:
		if !v.IsNil() {
			everyField(v.Elem(), way, visit)
		}
	case reflect.Slice:
		if v.Type().Elem().Kind() == reflect.String {
			visit(v, way)
			return
		}
		for i := range v.Len() {
			everyField(v.Index(i), way, visit)
		}
	case reflect.Map:
	default:
		visit(v, way)
	}
}

// another is a value that is not the one there is.
func another(t *testing.T, v reflect.Value) reflect.Value {
	t.Helper()
	switch is := v.Interface().(type) {
	case procedure.Rule:
		return reflect.ValueOf(procedure.All(procedure.Min(c.GradeOverall, 4), procedure.Be(c.PaintFinish, "satin"), procedure.Not(is)))
	case measure.Ratio:
		r, err := measure.NewRatio(3, 77, measure.PartsPlusParts)
		require.NoError(t, err)
		return reflect.ValueOf(r)
	case measure.Reading:
		return reflect.ValueOf(
			map[bool]measure.Reading{true: measure.PartsPlusParts, false: measure.OnePartIn}[is == measure.OnePartIn],
		)
	case measure.Volume:
		return reflect.ValueOf(is.Add(is))
	}
	changed := reflect.New(v.Type()).Elem()
	switch v.Kind() {
	case reflect.String:
		changed.SetString(v.String() + "x")
	case reflect.Bool:
		changed.SetBool(!v.Bool())
	case reflect.Int, reflect.Int32, reflect.Int64:
		changed.SetInt(v.Int() + 60)
	case reflect.Float64:
		changed.SetFloat(v.Float() + 1.5)
	case reflect.Slice:
		changed = reflect.Append(v, reflect.New(v.Type().Elem()).Elem())
		changed.Index(v.Len()).SetString("glass-left")
	default:
		require.Failf(t, "no other value", "%s", v.Type())
	}
	return changed
}

// Whatever is changed in a procedure, in whatever field, is told: a lead who publishes, or a washer who opens a new
// version, is not left to look for it.
func TestEveryChangeIsTold(t *testing.T) {
	// What names a procedure, a stage or a step is what versions are compared by; the family is where a starter came
	// from.
	silent := map[string]bool{
		".ID":              true,
		".Version":         true,
		".Family":          true,
		".Stages.ID":       true,
		".Stages.Steps.ID": true,
	}
	seen := map[string]int{}
	for _, p := range Starters() {
		text, err := procedure.Encode(p)
		require.NoError(t, err)
		again, err := procedure.Decode(text)
		require.NoError(t, err)
		everyField(reflect.ValueOf(&again).Elem(), "", func(v reflect.Value, way string) {
			if silent[way] || seen[way] > 10 { // the others are alike
				return
			}
			seen[way]++
			was := reflect.New(v.Type()).Elem()
			was.Set(v)
			v.Set(another(t, v))
			assert.NotEmpty(t, procedure.Difference(p, again), "%s: %s", p.Family, way)
			v.Set(was)
		})
		assert.Empty(t, procedure.Difference(p, again), "and taken back")
	}
	for _, way := range []string{".Title", ".Suits", ".Entry.Rule", ".Entry.Refusal", ".Stages.Title",
		".Stages.Steps.When", ".Stages.Steps.Dose.Ratio", ".Stages.Steps.Dose.ByWater", ".Stages.Steps.Dwell.Max",
		".Stages.Steps.Time.Soiled", ".Stages.Steps.Says.Text", ".Stages.Steps.Rewets"} {
		assert.Positive(t, seen[way], "%s was changed", way)
	}
}
