package audit

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Cell is how much somebody washes by a procedure in a week.
type Cell struct {
	ID, Name         string
	Procedure, Title string
	Washes           int
}

// CellShare is how many of such washes are audited in a week.
type CellShare struct {
	ID        string  `json:"id"`
	Name      string  `json:"name"`
	Procedure string  `json:"procedure"`
	Title     string  `json:"title" doc:"of the procedure"`
	Washes    int     `json:"washes" doc:"in a week"`
	Audits    int     `json:"audits" doc:"of these"`
	Rate      float64 `json:"rate" doc:"estimated share with something that a customer would see"`
}

// Split is how the audits that people have time for find most.
type Split struct {
	Cells    []CellShare `json:"cells" doc:"the likeliest bad first"`
	Finds    float64     `json:"finds" doc:"bad washes that it finds in a week, on average"`
	ByChance float64     `json:"byChance" doc:"what as many audits by chance find"`
	Says     string      `json:"says"`
}

const (
	// leanOn is how many audits' worth the shop's own rate weighs in everybody's (model): a newcomer is taken to wash like the shop.
	leanOn = 10.0
	// leastEach is how many of everybody's washes are audited in a week, as far as there are: so that every rate stays known (model).
	leastEach = 2
)

// rates are shares of bad washes by who washed and by what, each leaning on the shop's own.
type rates struct {
	shop           float64
	hands, methods map[string]*counted
}

type counted struct{ audited, bad int }

func ratesOf(all []Audited) rates {
	r := rates{hands: map[string]*counted{}, methods: map[string]*counted{}}
	bad := 0
	for _, a := range all {
		for _, k := range []*counted{at(r.hands, a.WasherID), at(r.methods, a.Procedure)} {
			k.audited++
			if a.Seen() {
				k.bad++
			}
		}
		if a.Seen() {
			bad++
		}
	}
	if len(all) > 0 {
		r.shop = float64(bad) / float64(len(all))
	}
	return r
}

func at(by map[string]*counted, key string) *counted {
	if by[key] == nil {
		by[key] = &counted{}
	}
	return by[key]
}

func (r rates) leaning(k *counted) float64 {
	return (float64(k.bad) + leanOn*r.shop) / (float64(k.audited) + leanOn)
}

// of is the estimated rate of somebody's washes by a procedure: as much above the shop's as both are together.
func (r rates) of(c Cell) float64 {
	if r.shop == 0 {
		return 0
	}
	return min(1, r.leaning(at(r.hands, c.ID))*r.leaning(at(r.methods, c.Procedure))/r.shop)
}

// Divide shares a week's audits out among what is washed, by whom and by what, from what audits found: everybody's first two, then
// where most is found. Each audit finds a bad wash with the estimated rate; the most is found by going down the rates.
func Divide(cells []Cell, found []Audited, audits int) Split {
	r, washes := ratesOf(found), 0
	s := Split{Cells: make([]CellShare, len(cells))}
	for i, c := range cells {
		s.Cells[i] = CellShare{ID: c.ID, Name: c.Name, Procedure: c.Procedure, Title: c.Title, Washes: c.Washes, Rate: r.of(c)}
		washes += c.Washes
	}
	slices.SortFunc(s.Cells, func(a, b CellShare) int {
		return cmp.Or(cmp.Compare(b.Rate, a.Rate), cmp.Compare(a.ID, b.ID), cmp.Compare(a.Procedure, b.Procedure))
	})
	left, has := min(audits, washes), map[string]int{}
	give := func(c *CellShare, n int) {
		n = max(0, min(left, n, c.Washes-c.Audits))
		c.Audits, left, has[c.ID] = c.Audits+n, left-n, has[c.ID]+n
	}
	for each := 1; each <= leastEach; each++ {
		for i := range s.Cells {
			give(&s.Cells[i], each-has[s.Cells[i].ID])
		}
	}
	for i := range s.Cells {
		give(&s.Cells[i], s.Cells[i].Washes)
	}
	given, all := 0, 0.0
	for _, c := range s.Cells {
		s.Finds += float64(c.Audits) * c.Rate
		given, all = given+c.Audits, all+float64(c.Washes)*c.Rate
	}
	if washes > 0 {
		s.ByChance = all * float64(given) / float64(washes)
	}
	s.Says = s.says(given, len(found))
	return s
}

func (s Split) says(given, audited int) string {
	switch {
	case given == 0:
		return "Nothing is washed, or no audits are asked for."
	case audited == 0:
		return "Nothing was audited yet: everybody's washes count alike."
	case s.Finds-s.ByChance < 0.05:
		return fmt.Sprintf("%d audits find %.1f bad washes a week however they are shared out.", given, s.Finds)
	}
	return fmt.Sprintf("%d audits so shared out find %.1f bad washes a week; by chance they find %.1f. Everybody's rate stays known.",
		given, s.Finds, math.Max(0, s.ByChance))
}
