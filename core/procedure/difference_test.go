package procedure

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/measure"
)

func says(edits []Edit) []string {
	all := make([]string, len(edits))
	for i, e := range edits {
		all[i] = e.Kind + ": " + e.Says
	}
	return all
}

func TestDifferencesInWords(t *testing.T) {
	for name, tc := range map[string]struct {
		change func(*Procedure)
		want   []string
	}{
		"nothing":    {func(*Procedure) {}, []string{}},
		"only style": {func(p *Procedure) { p.step("seal").When = Not(Be(c.PaintFinish, "satin")) }, []string{}},
		"a number": {func(p *Procedure) { p.step("foam").Time.Body = 3 }, []string{"changed: “Foam”: " +
			"the time for the body was 1.75 min and is 3 min."}},
		"a dwell": {func(p *Procedure) { d := p.step("foam").Dwell; d.Min, d.Max = 3*minute, 8*minute },
			[]string{"changed: “Foam”: the dwell was “5 min to 10 min” and is “3 min to 8 min”."}},
		"narrower": {func(p *Procedure) { p.step("shuts").When = Min(c.GradeOverall, 2) },
			[]string{"changed: “Wipe the shuts”: it applies when the overall grade is at least 2; before, always, " +
				"which takes in less."}},
		"a new step": {func(p *Procedure) { p.add("contact", brushBadges()) }, []string{"added: “Brush badges " +
			"and edges” is new in Contact wash."}},
		"a step gone": {func(p *Procedure) { p.drop("shuts") }, []string{"removed: “Wipe the shuts” is gone " +
			"from Shuts."}},
		"a step in turn": {func(p *Procedure) { s := p.Stages[3].Steps; s[0], s[1] = s[1], s[0] },
			[]string{"moved: “Fill wash and rinse bucket” now comes after “Two-bucket wash”."}},
		"a stage": {func(p *Procedure) { s := *p.step("fill"); p.drop("fill"); p.add("prewash", s) },
			[]string{"moved: “Fill wash and rinse bucket” moved from Contact wash to Pre-wash."}},
		"a pin": {func(p *Procedure) { p.Pins = Pins{c.FoamFrom: c.FromTop} }, []string{"changed: Foam " +
			"from the bottom or the top? Pinned to top."}},
		"an entry": {func(p *Procedure) { p.Entry = append(p.Entry, Entry{Max(c.GradeOverall, 3), "x"}) },
			[]string{"added: It may be used only where the overall grade is at most 3."}},
		"a caution": {func(p *Procedure) { p.step("mitt").Cautions = nil }, []string{"changed: “Two-bucket " +
			"wash”: caution: “" + cautionSlip + "” is gone."}},
	} {
		old, changed := plainWash(), plainWash()
		tc.change(&changed)
		assert.Equal(t, tc.want, says(Difference(old, changed)), name)
	}
}

func TestAProcedureDoesNotDifferFromItself(t *testing.T) {
	for _, p := range Starters() {
		assert.Empty(t, Difference(p, p), p.Title)
	}
}

// everyField visits every plain value that lies in a procedure, with its way there.
func everyField(v reflect.Value, way string, visit func(reflect.Value, string)) {
	switch v.Kind() {
	case reflect.Struct:
		if v.Type() == reflect.TypeFor[Rule]() || v.Type() == reflect.TypeFor[measure.Ratio]() ||
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
	case Rule:
		return reflect.ValueOf(All(Min(c.GradeOverall, 4), Be(c.PaintFinish, "satin"), Not(is)))
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
		text, err := Encode(p)
		require.NoError(t, err)
		again, err := Decode(text)
		require.NoError(t, err)
		everyField(reflect.ValueOf(&again).Elem(), "", func(v reflect.Value, way string) {
			if silent[way] || seen[way] > 10 { // the others are alike
				return
			}
			seen[way]++
			was := reflect.New(v.Type()).Elem()
			was.Set(v)
			v.Set(another(t, v))
			assert.NotEmpty(t, Difference(p, again), "%s: %s", p.Family, way)
			v.Set(was)
		})
		assert.Empty(t, Difference(p, again), "and taken back")
	}
	for _, way := range []string{".Title", ".Suits", ".Entry.Rule", ".Entry.Refusal", ".Stages.Title",
		".Stages.Steps.When", ".Stages.Steps.Dose.Ratio", ".Stages.Steps.Dose.ByWater", ".Stages.Steps.Dwell.Max",
		".Stages.Steps.Time.Soiled", ".Stages.Steps.Says.Text", ".Stages.Steps.Rewets"} {
		assert.Positive(t, seen[way], "%s was changed", way)
	}
}
