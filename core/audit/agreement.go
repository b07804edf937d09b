package audit

import (
	"cmp"
	"fmt"
	"slices"

	"uskel/core/stats"
)

// Twice is a wash that two people walked by the same list, the second without seeing what the first found.
type Twice struct {
	List          Checklist
	First, Second map[string]Answer
	By, Again     Who
}

// Who is somebody who walked.
type Who struct{ ID, Name string }

// Agreed is how far auditors agree.
type Agreed struct {
	Washes  int             `json:"washes" doc:"walked twice"`
	Overall stats.Agreement `json:"overall"`
	Items   []ItemAgreed    `json:"items" doc:"the least agreed first"`
	People  []Strictness    `json:"people"`
	Says    []string        `json:"says"`
}

// ItemAgreed is how far they agree on one look of a list.
type ItemAgreed struct {
	List      string          `json:"list"`
	Item      string          `json:"item"`
	Title     string          `json:"title"`
	Agreement stats.Agreement `json:"agreement"`
	Says      string          `json:"says,omitempty" doc:"where it is answered differently more than the others are, beyond chance"`
}

// Strictness is whether somebody finds more than whoever walked the same washes.
type Strictness struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Pairs int    `json:"pairs" doc:"looks answered by both"`
	Alone int    `json:"alone" doc:"found by this one alone"`
	Other int    `json:"other" doc:"found by the other alone"`
	Says  string `json:"says,omitempty" doc:"strict or lenient, beyond chance"`
}

// classes are nothing found, minor, major, critical.
const classes = 4

// class is what an answer comes to by its worst finding; false where nothing was judged.
func (a Answer) class() (int, bool) {
	switch a.Verdict {
	case Pass:
		return 0, true
	case Found:
		worst := 0
		for _, f := range a.Findings {
			worst = max(worst, map[Severity]int{Minor: 1, Major: 2, Critical: 3}[f.Severity])
		}
		return worst, true
	}
	return 0, false
}

// Agree says how far auditors agree: over all looks, by look, and by person. A look is told as vague where its answers differ more
// than those of all other looks by Fisher's exact test; with the page's false discoveries held (stats.Discoveries);
// somebody as strict or lenient by an exact test of who found something alone (McNemar, 1947), one by one (stats.OneByOne). People
// are left out unless they are asked for.
func Agree(all []Twice, asked bool) Agreed {
	v := Agreed{Washes: len(all), Items: []ItemAgreed{}, People: []Strictness{}, Says: []string{}}
	overall := square()
	tables, differs := map[string][][]int{}, map[string]int{}
	pairs, different := 0, 0
	for _, x := range all {
		for _, item := range x.List.Items {
			a, one := x.First[item.ID].class()
			b, two := x.Second[item.ID].class()
			if !one || !two {
				continue
			}
			key := x.List.ID + "/" + item.ID
			if tables[key] == nil {
				tables[key] = square()
				v.Items = append(v.Items, ItemAgreed{List: x.List.ID, Item: item.ID, Title: item.Title})
			}
			tables[key][a][b]++
			overall[a][b]++
			pairs++
			if (a > 0) != (b > 0) {
				differs[key]++
				different++
			}
		}
	}
	v.Overall = stats.Agree(overall)
	v.items(tables, differs, pairs, different)
	if asked {
		v.people(all)
	}
	return v
}

// people counts who found something alone, and says who finds more, or less, than those who walked the same washes. Looks that are
// told as vague are left out: they are about words, not about anybody.
func (v *Agreed) people(all []Twice) {
	vague := map[string]bool{}
	for _, i := range v.Items {
		vague[i.List+"/"+i.Item] = i.Says != ""
	}
	people := alone(all, vague, nil)
	ids := make([]string, 0, len(people))
	for id := range people {
		ids = append(ids, id)
	}
	slices.SortFunc(ids, func(a, b string) int { return cmp.Or(cmp.Compare(people[a].Name, people[b].Name), cmp.Compare(a, b)) })
	stats.OneByOne(ids, falseTold, func(who string, without map[string]bool) stats.Differs {
		p := alone(all, vague, without)[who]
		if p == nil {
			return stats.SignsDiffer(0, 0)
		}
		return stats.SignsDiffer(p.Alone, p.Other)
	}, func(id string, without map[string]bool) {
		p := alone(all, vague, without)[id]
		people[id].Says = fmt.Sprintf("%s is stricter: found %d alone, the others %d.", p.Name, p.Alone, p.Other)
		if p.Alone < p.Other {
			people[id].Says = fmt.Sprintf("%s is more lenient: found %d alone, the others %d.", p.Name, p.Alone, p.Other)
		}
		v.Says = append(v.Says, people[id].Says)
	})
	for _, id := range ids {
		v.People = append(v.People, *people[id])
	}
}

// OfScores says how far a score depends on who walks, as far as that is known.
func (v Agreed) OfScores() string {
	o := v.Overall
	switch {
	case v.Washes == 0:
		return "How far a score depends on who walks is not known: no wash has been walked by two yet."
	case !o.Known || o.Need > o.Pairs:
		return fmt.Sprintf("How far a score depends on who walks is not known yet: %d looks by both, and some %d would be needed.", o.Pairs,
			max(o.Need, o.Pairs+1))
	}
	return fmt.Sprintf("Of what one of two who walk the same wash finds, both find %.0f %%: a score is no surer than that.", 100*o.Found)
}

// alone counts by person what they found alone and what the other did, without the vague looks and the walks of some.
func alone(all []Twice, vague, without map[string]bool) map[string]*Strictness {
	people := map[string]*Strictness{}
	person := func(w Who) *Strictness {
		if people[w.ID] == nil {
			people[w.ID] = &Strictness{ID: w.ID, Name: w.Name}
		}
		return people[w.ID]
	}
	for _, x := range all {
		if without[x.By.ID] || without[x.Again.ID] {
			continue
		}
		for _, item := range x.List.Items {
			a, one := x.First[item.ID].class()
			b, two := x.Second[item.ID].class()
			if one && two && !vague[x.List.ID+"/"+item.ID] {
				person(x.By).saw(a > 0, b > 0)
				person(x.Again).saw(b > 0, a > 0)
			}
		}
	}
	return people
}

func square() [][]int {
	t := make([][]int, classes)
	for i := range t {
		t[i] = make([]int, classes)
	}
	return t
}

func (s *Strictness) saw(mine, theirs bool) {
	s.Pairs++
	if mine && !theirs {
		s.Alone++
	}
	if theirs && !mine {
		s.Other++
	}
}

// items says which looks are answered differently more than the others.
func (v *Agreed) items(tables map[string][][]int, differs map[string]int, pairs, different int) {
	chances := make([]float64, len(v.Items))
	for i := range v.Items {
		x := &v.Items[i]
		key := x.List + "/" + x.Item
		x.Agreement = stats.Agree(tables[key])
		n := x.Agreement.Pairs
		chances[i] = stats.FewerByChance(differs[key], n, different-differs[key], pairs-n)
	}
	for i, told := range stats.Discoveries(chances, falseTold) {
		if x := &v.Items[i]; told {
			x.Says = fmt.Sprintf("%q is answered differently in %d of %d, the others in %d of %d: say more plainly when it is done.", x.Title,
				differs[x.List+"/"+x.Item], x.Agreement.Pairs, different-differs[x.List+"/"+x.Item], pairs-x.Agreement.Pairs)
			v.Says = append(v.Says, x.Says)
		}
	}
	slices.SortStableFunc(v.Items, func(a, b ItemAgreed) int { return cmp.Compare(a.Agreement.First, b.Agreement.First) })
}
