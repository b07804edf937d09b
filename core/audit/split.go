package audit

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Hand is how much somebody washes, and what audits found of it.
type Hand struct {
	ID, Name string
	Washes   int // in a week
	Audited  int
	Bad      int // of these, with something that a customer would see
}

// HandShare is how many of somebody's washes are audited in a week.
type HandShare struct {
	ID     string  `json:"id"`
	Name   string  `json:"name"`
	Washes int     `json:"washes" doc:"in a week"`
	Audits int     `json:"audits" doc:"of these"`
	Rate   float64 `json:"rate" doc:"estimated share with something that a customer would see"`
}

// Split is how the audits that people have time for find most.
type Split struct {
	Hands    []HandShare `json:"hands" doc:"those whose washes are audited most first"`
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

// Divide shares a week's audits out among those who wash: everybody's first two, then where most is found. Each audit of somebody
// finds a bad wash with their rate; the most is found by going down the rates.
func Divide(hands []Hand, audits int) Split {
	bad, audited, washes := 0, 0, 0
	for _, h := range hands {
		bad, audited, washes = bad+h.Bad, audited+h.Audited, washes+h.Washes
	}
	shop := 0.0
	if audited > 0 {
		shop = float64(bad) / float64(audited)
	}
	s := Split{Hands: make([]HandShare, len(hands))}
	for i, h := range hands {
		rate := (float64(h.Bad) + leanOn*shop) / (float64(h.Audited) + leanOn)
		s.Hands[i] = HandShare{ID: h.ID, Name: h.Name, Washes: h.Washes, Rate: rate}
	}
	slices.SortFunc(s.Hands, func(a, b HandShare) int {
		return cmp.Or(cmp.Compare(b.Rate, a.Rate), cmp.Compare(a.ID, b.ID))
	})
	left := min(audits, washes)
	give := func(i, most int) {
		n := max(0, min(left, most-s.Hands[i].Audits))
		s.Hands[i].Audits, left = s.Hands[i].Audits+n, left-n
	}
	for each := 1; each <= leastEach; each++ {
		for i, h := range s.Hands {
			give(i, min(each, h.Washes))
		}
	}
	for i, h := range s.Hands {
		give(i, h.Washes)
	}
	given, all := 0, 0.0
	for _, h := range s.Hands {
		s.Finds += float64(h.Audits) * h.Rate
		given, all = given+h.Audits, all+float64(h.Washes)*h.Rate
	}
	if washes > 0 {
		s.ByChance = all * float64(given) / float64(washes)
	}
	s.Says = s.says(given, audited)
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
