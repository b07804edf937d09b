package timing

import "slices"

// Reader is who reads times. This is the shop's one rule on whose times are read by whom: the lead reads everybody's
// by name; everybody else reads their own, and what is summed over the shop without a name.
type Reader struct {
	ID   string
	Lead bool
}

// Sees reports whether the reader may read a person's times by name.
func (r Reader) Sees(person string) bool { return r.Lead || person != "" && person == r.ID }

// Key is the same for readers who see the same.
func (r Reader) Key() string {
	if r.Lead {
		return "all"
	}
	return r.ID
}

// Washes are the washes whose times the reader may read one by one: those of people the reader sees.
func (r Reader) Washes(all []Wash) []Wash {
	if r.Lead {
		return all
	}
	return slices.DeleteFunc(slices.Clone(all), func(w Wash) bool { return !r.Sees(w.Person) })
}

// Things are what a drift may be explained by to the reader: people are named to the lead only.
func (r Reader) Things() []string {
	if r.Lead {
		return Things
	}
	return slices.DeleteFunc(slices.Clone(Things), func(thing string) bool { return thing == "person" })
}

// Points are a chart's points as the reader may see them: which wash and which vehicle a point is leads to whoever
// washed it.
func (r Reader) Points(points []Point) []Point {
	if r.Lead {
		return points
	}
	shown := slices.Clone(points)
	for i := range shown {
		shown[i].Ref, shown[i].Label = "", ""
	}
	return shown
}
