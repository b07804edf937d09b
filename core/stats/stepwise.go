package stats

import "maps"

// Differs is how far somebody differs from those they were held against: the chance of it, and the least that there could be however
// they had differed, by how much there is to go by.
type Differs struct{ Chance, Least float64 }

// OneByOne tells people apart who differ from those they were held against: whoever differs most first, and then the others by what
// is left without them, as one who differs makes all the others seem to differ the other way. Who differs alike is told together,
// and so is who differs and of whom too little is left then to say whose difference it is. Somebody is told where the chance is at
// most the rate shared among those left (Holm, A simple sequentially rejective multiple test procedure, 1979). Of gives it for one of
// them, without those that have been told.
// Each who is told goes to tell, with those who were told before.
func OneByOne(people []string, rate float64, of func(person string, without map[string]bool) Differs,
	tell func(person string, without map[string]bool)) {
	without := map[string]bool{}
	for len(without) < len(people) {
		share := rate / float64(len(people)-len(without))
		differ, first := map[string]float64{}, ""
		for _, p := range people {
			if without[p] {
				continue
			}
			if c := of(p, without).Chance; c <= share {
				differ[p] = c
				if first == "" || c < differ[first] {
					first = p
				}
			}
		}
		if first == "" {
			break
		}
		rest := maps.Clone(without)
		rest[first] = true
		together := []string{}
		for _, p := range people {
			c, differs := differ[p]
			if differs && (p == first || c == differ[first] || of(p, rest).Least > share) {
				together = append(together, p)
			}
		}
		for _, p := range together {
			tell(p, without)
		}
		for _, p := range together {
			without[p] = true
		}
	}
}

// SignsDiffer is how far signs are from falling to either side alike, by the exact test of signs to both sides.
func SignsDiffer(up, down int) Differs {
	n := up + down
	return Differs{min(1, 2*BinomialUpper(max(up, down), n, 0.5)), min(1, 2*BinomialUpper(n, n, 0.5))}
}
