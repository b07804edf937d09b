package audit

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"uskel/core/stats"
	"uskel/core/wrong"
)

// Calibration is a walk whose findings a lead has confirmed: every auditor walks it without seeing them.
type Calibration struct {
	ID    string
	Title string
	List  Checklist
	Truth map[string]Answer // what there is to be found, by item
}

// Check names what is wrong with a walk of the calibration set.
func (c Calibration) Check() error {
	if strings.TrimSpace(c.Title) == "" {
		return wrong.At("title", "say what it is called")
	}
	for id, a := range c.Truth {
		if !slices.ContainsFunc(c.List.Items, func(i Item) bool { return i.ID == id }) {
			return wrong.At("truth", "the list has no look %q", id)
		}
		if err := a.Check(); err != nil {
			return wrong.In(fmt.Sprintf("truth.%s", id), err)
		}
	}
	if len(c.known()) == 0 {
		return wrong.At("truth", "confirm at least one finding; where there is nothing to find nothing is shown of anybody")
	}
	return nil
}

// KnownFinding is one thing that there is to be found.
type KnownFinding struct {
	Item    string  `json:"item"`
	Title   string  `json:"title"`
	Finding Finding `json:"finding"`
}

// known are the findings there are, in the order of the list.
func (c Calibration) known() []KnownFinding {
	var all []KnownFinding
	for _, i := range c.List.Items {
		for _, f := range c.Truth[i.ID].Findings {
			all = append(all, KnownFinding{i.ID, i.Title, f})
		}
	}
	return all
}

// CalibrationWalk is how somebody walked it.
type CalibrationWalk struct {
	Of      string // the calibration's id
	By      Who
	Light   Light
	Answers map[string]Answer
}

// Scored is what somebody found of what there is.
type Scored struct {
	Known  int            `json:"known" doc:"findings there are"`
	Found  int            `json:"found" doc:"of them found: the same kind on the same part, at whichever look"`
	Alike  int            `json:"alike" doc:"of those found, taken to be as bad as the lead says"`
	False  int            `json:"false" doc:"said to be found where there is nothing"`
	Clean  int            `json:"clean" doc:"looks at which there is nothing to be found, and that were answered"`
	Missed []KnownFinding `json:"missed"`
	Alarms []KnownFinding `json:"alarms" doc:"said to be found where there is nothing"`
	hits   []KnownFinding
}

// Score says what a walk found. What the light does not let be judged counts as missed by nobody.
func (c Calibration) Score(w CalibrationWalk) Scored {
	s := Scored{Missed: []KnownFinding{}, Alarms: []KnownFinding{}}
	said := Calibration{List: c.List, Truth: w.Answers}.known()
	taken := make([]bool, len(said))
	how := Walked{Light: w.Light}
	items := map[string]Item{}
	for _, i := range c.List.Items {
		items[i.ID] = i
		_, answered := w.Answers[i.ID]
		if answered && len(c.Truth[i.ID].Findings) == 0 {
			s.Clean++
		}
	}
	for _, k := range c.known() {
		at := -1
		for j, f := range said {
			if !taken[j] && f.Finding.Kind == k.Finding.Kind && f.Finding.Zone == k.Finding.Zone {
				at = j
				break
			}
		}
		if at < 0 && how.TooDark(items[k.Item]) {
			continue
		}
		s.Known++
		if at < 0 {
			s.Missed = append(s.Missed, k)
			continue
		}
		taken[at] = true
		s.Found++
		s.hits = append(s.hits, k)
		if said[at].Finding.Severity == k.Finding.Severity {
			s.Alike++
		}
	}
	for j, f := range said {
		if !taken[j] {
			s.False++
			s.Alarms = append(s.Alarms, f)
		}
	}
	return s
}

// Calibrated is what a calibration set shows.
type Calibrated struct {
	Cars   int           `json:"cars"`
	Walks  int           `json:"walks"`
	Among  stats.Among   `json:"among" doc:"how far all who walked agree on whether anything is to be found"`
	People []EyeOf       `json:"people" doc:"by name: it is no ranking"`
	Kinds  []KindFound   `json:"kinds" doc:"the most missed first"`
	Says   []string      `json:"says"`
	ByCar  []CarWalkedBy `json:"byCar"`
}

// EyeOf is what somebody finds of what there is.
type EyeOf struct {
	ID    string  `json:"id"`
	Name  string  `json:"name"`
	Walks int     `json:"walks"`
	Known int     `json:"known"`
	Found int     `json:"found"`
	Share float64 `json:"share"`
	Low   float64 `json:"low" doc:"the share at the least, with 90 % certainty for the range"`
	High  float64 `json:"high"`
	False int     `json:"false" doc:"said to be found where there is nothing"`
	Clean int     `json:"clean" doc:"looks with nothing to be found"`
	Alike int     `json:"alike" doc:"of those found, taken to be as bad as the lead says"`
}

// KindFound is how a kind of finding is found by all together.
type KindFound struct {
	Kind  Kind    `json:"kind"`
	Known int     `json:"known"`
	Found int     `json:"found"`
	Share float64 `json:"share"`
}

// CarWalkedBy is who has walked a car of the set.
type CarWalkedBy struct {
	ID    string `json:"id"`
	Walks int    `json:"walks"`
}

// Calibrate says what a set shows: what each found and how surely, what is missed most, and how far all agree. Somebody is told to
// find less, or to see more that is not there, than all the others by Fisher's exact test, with the page's false discoveries held.
func Calibrate(set []Calibration, walks []CalibrationWalk) Calibrated {
	v := Calibrated{Cars: len(set), Walks: len(walks), People: []EyeOf{}, Kinds: []KindFound{}, Says: []string{}, ByCar: []CarWalkedBy{}}
	people, kinds := map[string]*EyeOf{}, map[Kind]*KindFound{}
	for _, c := range set {
		by := CarWalkedBy{ID: c.ID}
		for _, w := range walks {
			if w.Of != c.ID {
				continue
			}
			by.Walks++
			s := c.Score(w)
			if people[w.By.ID] == nil {
				people[w.By.ID] = &EyeOf{ID: w.By.ID, Name: w.By.Name}
			}
			people[w.By.ID].add(s)
			s.addKinds(kinds)
		}
		v.ByCar = append(v.ByCar, by)
	}
	for _, p := range people {
		if p.Known > 0 {
			p.Share = float64(p.Found) / float64(p.Known)
			p.Low, p.High = clopperPearson(p.Found, p.Known, rangeCertainty)
		}
		v.People = append(v.People, *p)
	}
	slices.SortFunc(v.People, func(a, b EyeOf) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.ID, b.ID)) })
	for _, k := range kinds {
		k.Share = float64(k.Found) / float64(k.Known)
		v.Kinds = append(v.Kinds, *k)
	}
	slices.SortFunc(v.Kinds, func(a, b KindFound) int { return cmp.Or(cmp.Compare(a.Share, b.Share), cmp.Compare(a.Kind, b.Kind)) })
	v.Among = stats.Fleiss(answersOf(set, walks))
	v.tell()
	return v
}

func (p *EyeOf) add(s Scored) {
	p.Walks++
	p.Known += s.Known
	p.Found += s.Found
	p.False += s.False
	p.Clean += s.Clean
	p.Alike += s.Alike
}

func (s Scored) addKinds(kinds map[Kind]*KindFound) {
	of := func(f KnownFinding) *KindFound {
		if kinds[f.Finding.Kind] == nil {
			kinds[f.Finding.Kind] = &KindFound{Kind: f.Finding.Kind}
		}
		return kinds[f.Finding.Kind]
	}
	for _, f := range s.Missed {
		of(f).Known++
	}
	for _, f := range s.hits {
		of(f).Known++
		of(f).Found++
	}
}

// answersOf are, for every look of the set, how many found nothing there and how many something.
func answersOf(set []Calibration, walks []CalibrationWalk) [][]int {
	var counts [][]int
	for _, c := range set {
		for _, i := range c.List.Items {
			row := []int{0, 0}
			for _, w := range walks {
				if class, judged := w.Answers[i.ID].class(); w.Of == c.ID && judged {
					row[min(class, 1)]++
				}
			}
			counts = append(counts, row)
		}
	}
	return counts
}

// tell says who finds less, or sees more that is not there, than the others together.
func (v *Calibrated) tell() {
	all := EyeOf{}
	for _, p := range v.People {
		all.Known += p.Known
		all.Found += p.Found
		all.False += p.False
		all.Clean += p.Clean
	}
	var chances []float64
	for _, p := range v.People {
		missed, others := p.Known-p.Found, all.Known-all.Found-(p.Known-p.Found)
		chances = append(chances, stats.FewerByChance(missed, p.Known, others, all.Known-p.Known))
	}
	for _, p := range v.People {
		alarms, rest := min(p.False, p.Clean), min(all.False-p.False, all.Clean-p.Clean)
		chances = append(chances, stats.FewerByChance(alarms, p.Clean, rest, all.Clean-p.Clean))
	}
	for i, told := range stats.Discoveries(chances, falseTold) {
		if !told {
			continue
		}
		p := v.People[i%len(v.People)]
		if i < len(v.People) {
			v.Says = append(v.Says, fmt.Sprintf("%s found %d of %d, the others %d of %d: more is missed than by chance.", p.Name,
				p.Found, p.Known, all.Found-p.Found, all.Known-p.Known))
		} else {
			v.Says = append(v.Says, fmt.Sprintf("%s saw something %d times in %d looks where there is nothing, the others %d in %d.", p.Name,
				p.False, p.Clean, all.False-p.False, all.Clean-p.Clean))
		}
	}
}

// Findings is how many things there are to be found.
func (c Calibration) Findings() int { return len(c.known()) }
