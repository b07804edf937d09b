package audit

import (
	"cmp"
	"regexp"
	"slices"
	"strings"

	"uskel/core/wash"
)

// WayRow is what one look on the way has come to, over many washes.
type WayRow struct {
	Look  string  `json:"look" doc:"checklist/item, over all versions"`
	Check string  `json:"check"`
	Title string  `json:"title"`
	Made  int     `json:"made" doc:"washes in which it was made"`
	Found int     `json:"found" doc:"of them something was found"`
	Share float64 `json:"share"`
	Low   float64 `json:"low" doc:"the share at the least, with 90 % certainty for the range"`
	High  float64 `json:"high"`
	Left  int     `json:"left" doc:"found, and not said to be right before the step was begun"`
	Took  float64 `json:"took" doc:"s on average until what was found was right"`
}

var versioned = regexp.MustCompile(`@\d+/`)

// Checked tells each audit which checks were made on the way of its wash.
func Checked(all []Audited, looks map[string][]wash.Looked, lists []Checklist) {
	names := map[string]string{}
	for _, c := range lists {
		names[c.ID] = c.Title
	}
	for i := range all {
		for _, l := range looks[all[i].WashID] {
			id, _, _ := strings.Cut(l.Look, "@")
			if name := names[id]; name != "" && !slices.Contains(all[i].Checks, name) {
				all[i].Checks = append(all[i].Checks, name)
			}
		}
	}
}

// OnTheWay counts what looks on the way came to, the most found first; what they are called is read from the newest lists.
func OnTheWay(all [][]wash.Looked, lists []Checklist) []WayRow {
	names := map[string][2]string{}
	for _, c := range lists {
		for _, i := range c.Items {
			names[c.ID+"/"+i.ID] = [2]string{c.Title, i.Title}
		}
	}
	rows := map[string]*WayRow{}
	for _, looks := range all {
		for _, l := range looks {
			key := versioned.ReplaceAllString(l.Look, "/")
			if rows[key] == nil {
				rows[key] = &WayRow{Look: key, Check: names[key][0], Title: cmp.Or(names[key][1], key)}
			}
			rows[key].count(l)
		}
	}
	counted := []WayRow{}
	for _, r := range rows {
		if right := r.Found - r.Left; right > 0 {
			r.Took /= float64(right)
		}
		r.Share = float64(r.Found) / float64(r.Made)
		r.Low, r.High = clopperPearson(r.Found, r.Made, rangeCertainty)
		counted = append(counted, *r)
	}
	slices.SortFunc(counted, func(a, b WayRow) int {
		return cmp.Or(cmp.Compare(b.Share, a.Share), cmp.Compare(a.Look, b.Look))
	})
	return counted
}

func (r *WayRow) count(l wash.Looked) {
	r.Made++
	switch {
	case l.Found == "":
	case l.Right.IsZero():
		r.Found++
		r.Left++
	default:
		r.Found++
		r.Took += float64(l.Took)
	}
}
