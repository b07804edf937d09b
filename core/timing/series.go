package timing

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// gradeBand says a grade as a kind for comparing.
func gradeBand(grade int) string { return fmt.Sprintf("grade %d", grade) }

// airBand is one of the kinds of weather that times are compared by (model): products dry and fingers freeze
// differently.
func airBand(celsius float64) string {
	switch {
	case celsius < 8:
		return "under 8 °C"
	case celsius < 18:
		return "8 to 18 °C"
	}
	return "over 18 °C"
}

// Things are what a drift is explained by.
var Things = []string{"version", "person", "product", "weather", "grade"}

// Series gives a number of each wash, oldest first, with what may explain it; washes that do not have it are left out.
func Series(washes []Wash, of func(Wash) (float64, bool)) ([]Timed, []Point) {
	return series(washes, "", of)
}

// StageSeries gives a stage's times over its standard, %.
func StageSeries(washes []Wash, stage string) ([]Timed, []Point) {
	return series(washes, stage, func(w Wash) (float64, bool) {
		at := slices.IndexFunc(w.Times.Stages, func(s StageTime) bool { return s.Stage == stage && s.timed() })
		if at < 0 {
			return 0, false
		}
		return 100 * w.Times.Stages[at].Actual / w.Times.Stages[at].Planned, true
	})
}

func series(washes []Wash, stage string, of func(Wash) (float64, bool)) ([]Timed, []Point) {
	values, points := make([]Timed, 0, len(washes)), make([]Point, 0, len(washes))
	for i := range washes {
		w := &washes[i]
		value, has := of(*w)
		if !has {
			continue
		}
		values = append(
			values,
			Timed{w.Finished, round2(value), func(thing string) Kind { return w.thing(thing, stage) }},
		)
		points = append(points, Point{At: w.Finished, Value: round2(value), Ref: w.ID, Label: w.Label})
	}
	return values, points
}

// thing is of what kind a stage of a wash was, by one of the things that may explain it.
func (w *Wash) thing(thing, stage string) Kind {
	name := ""
	switch thing {
	case "person":
		return Kind{w.Person, w.Name}
	case "product":
		return productsOf(*w, stage)
	case "version":
		name = fmt.Sprintf("%s %d", w.Procedure, w.Version)
	case "weather":
		name = airBand(w.Air)
	case "grade":
		name = gradeBand(w.Grade)
	}
	return Kind{name, name}
}

// productsOf are the products that a stage of a wash used.
func productsOf(w Wash, stage string) Kind {
	names := map[string]string{}
	for _, s := range w.Times.Steps {
		if s.Stage == stage && s.Product != "" {
			names[cmp.Or(s.ProductID, s.Product)] = s.Product
		}
	}
	ids := sorted(names)
	called := make([]string, len(ids))
	for i, id := range ids {
		called[i] = names[id]
	}
	return Kind{strings.Join(ids, " and "), strings.Join(called, " and ")}
}

// Valued are the values of one kind, by its id.
func Valued(values []Timed, thing, kind string) []float64 {
	var of []float64
	for _, v := range values {
		if v.Of(thing).ID == kind {
			of = append(of, v.Value)
		}
	}
	return of
}
