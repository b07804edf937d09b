package condition

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"uskel/core/contact"
	"uskel/core/stats"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// Grades of a car by zone.
type ZoneGrades map[vehicle.Zone]contact.Grade

// Regraded is a car that two people graded, the second without seeing the first, with what follows from each.
type Regraded struct {
	First         ZoneGrades `json:"first"`
	Second        ZoneGrades `json:"second"`
	FirstOverall  int        `json:"firstOverall" doc:"grade that decides"`
	SecondOverall int        `json:"secondOverall"`
	FirstMinutes  float64    `json:"firstMinutes" doc:"min of the wash that is recommended"`
	SecondMinutes float64    `json:"secondMinutes"`
	FirstChoice   string     `json:"firstChoice" doc:"id of the procedure that is recommended; empty where none is"`
	SecondChoice  string     `json:"secondChoice"`
}

// Grader is somebody who graded.
type Grader struct{ ID, Name string }

// Pair is a regraded car with who graded it.
type Pair struct {
	Regraded
	By, Again Grader
}

// ToGrade are the zones of a body that must be graded: any of them may be the worst, which decides.
func ToGrade(b vehicle.Body) []vehicle.Zone { return touched(b) }

// CheckGrades names what is missing in grades of a car: every painted zone that is touched has one, as any may be the worst.
func CheckGrades(b vehicle.Body, grades ZoneGrades) error {
	var errs []error
	for z, g := range grades {
		if !z.Known() {
			errs = append(errs, wrong.At(fmt.Sprintf("grades.%s", z), "no such zone"))
		}
		if g < 0 || g > contact.Worst {
			errs = append(errs, wrong.At(fmt.Sprintf("grades.%s", z), "grade %d must be 0 to 4", g))
		}
	}
	for _, z := range touched(b) {
		if _, graded := grades[z]; !graded {
			errs = append(errs, wrong.At(fmt.Sprintf("grades.%s", z), "%s is not graded yet", z.Label()))
		}
	}
	slices.SortFunc(errs, func(a, b error) int { return cmp.Compare(a.Error(), b.Error()) })
	return errors.Join(errs...)
}

// Grading is how far people grade alike, and what it costs where they do not.
type Grading struct {
	Cars    int             `json:"cars"`
	Overall stats.Agreement `json:"overall" doc:"of zones that both graded; its error is by leaving each car out in turn"`
	Bands   []BandGraded    `json:"bands" doc:"from the roof down"`
	Decides int             `json:"decides" doc:"cars whose deciding grade differs"`
	Choice  int             `json:"choice" doc:"cars for which another procedure is recommended"`
	Minutes float64         `json:"minutes" doc:"mean difference of the recommended wash, min, of cars whose deciding grade differs"`
	Each    float64         `json:"each" doc:"of it for each grade's difference, min"`
	People  []GraderSeen    `json:"people"`
	Says    []string        `json:"says"`
}

// BandGraded is how far people grade a band of the car alike.
type BandGraded struct {
	Band      vehicle.Band    `json:"band"`
	Agreement stats.Agreement `json:"agreement"`
}

// GraderSeen is whether somebody grades higher than whoever graded the same cars.
type GraderSeen struct {
	ID     string  `json:"id"`
	Name   string  `json:"name"`
	Cars   int     `json:"cars"`
	Higher int     `json:"higher" doc:"cars graded dirtier than by the other, on the mean of their zones"`
	Lower  int     `json:"lower"`
	Mean   float64 `json:"mean" doc:"mean difference, grades"`
	Says   string  `json:"says,omitempty" doc:"beyond chance"`
}

// falseTold is the rate of false discoveries of what is said of people.
const falseTold = 0.05

// gradedBands are the bands that are told apart.
var gradedBands = []vehicle.Band{vehicle.Upper, vehicle.Middle, vehicle.Lower, vehicle.Wheels}

type table [contact.Worst + 1][contact.Worst + 1]int

func (t *table) rows() [][]int {
	rows := make([][]int, len(t))
	for i := range t {
		rows[i] = t[i][:]
	}
	return rows
}

// Grade says how far people grade alike: weighted kappa of the grades in even steps (stats.Agree) over all and by band, what a
// difference costs, and who grades dirtier or cleaner than whoever graded the same cars, by an exact test of the cars' signs, one
// by one (stats.OneByOne). People are left out unless they are asked for.
func Grade(pairs []Pair, asked bool) Grading {
	v := Grading{Cars: len(pairs), Bands: []BandGraded{}, People: []GraderSeen{}, Says: []string{}}
	cars, all, bands := make([]table, len(pairs)), table{}, map[vehicle.Band]*table{}
	for i, p := range pairs {
		for z, a := range p.First {
			b, both := p.Second[z]
			if !both {
				continue
			}
			cars[i][a][b]++
			all[a][b]++
			band := z.Band()
			if bands[band] == nil {
				bands[band] = &table{}
			}
			bands[band][a][b]++
		}
	}
	v.Overall = stats.Agree(all.rows())
	v.Overall.Error = leavingOut(all, cars, v.Overall.Error)
	for _, b := range gradedBands {
		if bands[b] != nil {
			v.Bands = append(v.Bands, BandGraded{b, stats.Agree(bands[b].rows())})
		}
	}
	v.cost(pairs)
	if asked {
		v.people(pairs)
	}
	return v
}

// leavingOut is the error of kappa by leaving each car out in turn (jackknife): zones of one car are graded alike, and say less than as
// many zones of as many cars.
func leavingOut(all table, cars []table, otherwise float64) float64 {
	var left []float64
	mean := 0.0
	for _, c := range cars {
		rest := all
		for i := range rest {
			for j := range rest[i] {
				rest[i][j] -= c[i][j]
			}
		}
		if a := stats.Agree(rest.rows()); a.Known {
			left = append(left, a.Kappa)
			mean += a.Kappa
		}
	}
	n := float64(len(left))
	if n < 2 {
		return otherwise
	}
	spread := 0.0
	for _, k := range left {
		spread += (k - mean/n) * (k - mean/n)
	}
	return math.Sqrt((n - 1) / n * spread)
}

// cost works out what differences of the deciding grade come to.
func (v *Grading) cost(pairs []Pair) {
	steps := 0
	for _, p := range pairs {
		apart := p.FirstOverall - p.SecondOverall
		if p.FirstChoice != p.SecondChoice {
			v.Choice++
		}
		if apart == 0 {
			continue
		}
		v.Decides++
		steps += max(apart, -apart)
		v.Minutes += math.Abs(p.FirstMinutes - p.SecondMinutes)
	}
	if v.Decides == 0 {
		return
	}
	v.Each, v.Minutes = v.Minutes/float64(steps), v.Minutes/float64(v.Decides)
	v.Says = append(v.Says, fmt.Sprintf("The grade that decides differed on %d of %d cars: %.0f min of wash on average, %.0f for each grade.",
		v.Decides, v.Cars, v.Minutes, v.Each))
	if v.Choice > 0 {
		v.Says = append(v.Says, fmt.Sprintf("Another wash was recommended for %d of %d.", v.Choice, v.Cars))
	}
}

// people says who grades dirtier or cleaner.
func (v *Grading) people(pairs []Pair) {
	people := graders(pairs, nil)
	ids := make([]string, 0, len(people))
	for id := range people {
		ids = append(ids, id)
	}
	slices.SortFunc(ids, func(a, b string) int { return cmp.Or(cmp.Compare(people[a].Name, people[b].Name), cmp.Compare(a, b)) })
	stats.OneByOne(ids, falseTold, func(who string, without map[string]bool) stats.Differs {
		p := graders(pairs, without)[who]
		if p == nil {
			return stats.SignsDiffer(0, 0)
		}
		return stats.SignsDiffer(p.Higher, p.Lower)
	}, func(id string, without map[string]bool) {
		p := graders(pairs, without)[id]
		people[id].Says = fmt.Sprintf("%s grades dirtier than whoever graded the same cars: %d of %d.", p.Name, p.Higher, p.Cars)
		if p.Lower > p.Higher {
			people[id].Says = fmt.Sprintf("%s grades cleaner than whoever graded the same cars: %d of %d.", p.Name, p.Lower, p.Cars)
		}
		v.Says = append(v.Says, people[id].Says)
	})
	for _, id := range ids {
		v.People = append(v.People, *people[id])
	}
}

// graders counts by person the cars that they graded dirtier and cleaner than the other, without the cars of some.
func graders(pairs []Pair, without map[string]bool) map[string]*GraderSeen {
	seen := map[string]*GraderSeen{}
	add := func(g Grader, apart float64) {
		if seen[g.ID] == nil {
			seen[g.ID] = &GraderSeen{ID: g.ID, Name: g.Name}
		}
		s := seen[g.ID]
		s.Mean = (s.Mean*float64(s.Cars) + apart) / float64(s.Cars+1)
		s.Cars++
		switch {
		case apart > 0:
			s.Higher++
		case apart < 0:
			s.Lower++
		}
	}
	for _, p := range pairs {
		apart, zones := 0.0, 0.0
		for z, a := range p.First {
			if b, both := p.Second[z]; both {
				apart += float64(a - b)
				zones++
			}
		}
		if zones > 0 && !without[p.By.ID] && !without[p.Again.ID] {
			add(p.By, apart/zones)
			add(p.Again, -apart/zones)
		}
	}
	return seen
}

// Apart are the zones that two people graded differently, the furthest apart first.
func Apart(first, second ZoneGrades) []vehicle.Zone {
	far := func(z vehicle.Zone) int { return max(int(first[z]-second[z]), int(second[z]-first[z])) }
	zones := []vehicle.Zone{}
	for z := range first {
		if _, both := second[z]; both && far(z) > 0 {
			zones = append(zones, z)
		}
	}
	slices.SortFunc(zones, func(a, b vehicle.Zone) int { return cmp.Or(cmp.Compare(far(b), far(a)), cmp.Compare(a, b)) })
	return zones
}
