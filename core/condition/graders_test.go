package condition

import (
	"fmt"
	"math/rand"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/contact"
	"uskel/core/vehicle"
)

// twiceGraded makes up cars that two people grade: each zone is what it is, and each errs by a grade now and then, the second dirtier by
// a share besides.
func twiceGraded(dice *rand.Rand, cars int, errs, dirtier float64) []Pair {
	pairs := make([]Pair, cars)
	for i := range pairs {
		base := dice.Intn(3)
		p := Pair{Regraded: Regraded{First: ZoneGrades{}, Second: ZoneGrades{}}, By: Grader{"a", "Ada"}, Again: Grader{"b", "Ben"}}
		for _, z := range touched(vehicle.Hatch) {
			is := base + dice.Intn(2)
			see := func(more float64) contact.Grade {
				g := is
				if dice.Float64() < errs {
					g += dice.Intn(3) - 1
				}
				if dice.Float64() < more {
					g++
				}
				return contact.Grade(min(max(g, 0), int(contact.Worst)))
			}
			p.First[z], p.Second[z] = see(0), see(dirtier)
		}
		for _, z := range touched(vehicle.Hatch) {
			p.FirstOverall, p.SecondOverall = max(p.FirstOverall, int(p.First[z])), max(p.SecondOverall, int(p.Second[z]))
		}
		p.FirstMinutes, p.SecondMinutes = 60+10*float64(p.FirstOverall), 60+10*float64(p.SecondOverall)
		p.FirstChoice, p.SecondChoice = fmt.Sprint(p.FirstOverall > 2), fmt.Sprint(p.SecondOverall > 2)
		pairs[i] = p
	}
	return pairs
}

// The less people err the better they agree; ten minutes a grade are found again; who grades dirtier is told, and nobody where none does.
func TestHowFarGradersAgree(t *testing.T) {
	dice := rand.New(rand.NewSource(31))
	sharp, dull := Grade(twiceGraded(dice, 60, 0.1, 0), true), Grade(twiceGraded(dice, 60, 0.8, 0), true)
	assert.Greater(t, sharp.Overall.Kappa, dull.Overall.Kappa+0.2)
	assert.Equal(t, 60*len(touched(vehicle.Hatch)), sharp.Overall.Pairs)
	require.NotEmpty(t, sharp.Bands)
	assert.Positive(t, dull.Decides)
	assert.InDelta(t, 10, dull.Each, 1e-9)
	assert.GreaterOrEqual(t, dull.Minutes, dull.Each)
	assert.Contains(t, dull.Says[0], fmt.Sprintf("differed on %d of 60 cars", dull.Decides))

	told, still := 0, 0
	for range 100 {
		v := Grade(twiceGraded(dice, 30, 0.3, 0.3), true)
		if strings.Contains(strings.Join(v.Says, " "), "Ben grades dirtier") {
			told++
		}
		for _, p := range Grade(twiceGraded(dice, 30, 0.3, 0), true).People {
			if p.Says != "" {
				still++
				break
			}
		}
	}
	assert.Greater(t, told, 90)
	assert.LessOrEqual(t, still, 10)
	assert.Empty(t, Grade(twiceGraded(dice, 30, 0.3, 0.3), false).People, "who grades dirtier is told to those who ask")
	assert.Zero(t, Grade(nil, true).Cars)
}

// Zones of a car are graded alike: leaving cars out says that less is known than as many zones seem to say.
func TestCarsAreWhatIsCounted(t *testing.T) {
	dice := rand.New(rand.NewSource(3))
	var kappas []float64
	errors := 0.0
	const runs = 300
	for range runs {
		pairs := twiceGraded(dice, 25, 0.5, 0)
		for i := range pairs { // on every second car, by chance, the second sees a grade more everywhere
			if dice.Intn(2) == 0 {
				for z := range pairs[i].Second {
					pairs[i].Second[z] = min(pairs[i].Second[z]+1, contact.Worst)
				}
			}
		}
		v := Grade(pairs, false)
		kappas = append(kappas, v.Overall.Kappa)
		errors += v.Overall.Error / runs
	}
	mean, spread := 0.0, 0.0
	for _, k := range kappas {
		mean += k / runs
	}
	for _, k := range kappas {
		spread += (k - mean) * (k - mean) / runs
	}
	assert.InEpsilon(t, spread, errors*errors, 0.4)
}

// What is missing in grades is named; what two graded apart comes with the furthest first.
func TestGradesAreWhole(t *testing.T) {
	grades := ZoneGrades{}
	for _, z := range touched(vehicle.Hatch) {
		grades[z] = 1
	}
	require.NoError(t, CheckGrades(vehicle.Hatch, grades))
	other := ZoneGrades{}
	for z, g := range grades {
		other[z] = g
	}
	other[vehicle.Roof], other[vehicle.Bonnet] = 4, 2
	assert.Equal(t, []vehicle.Zone{vehicle.Roof, vehicle.Bonnet}, Apart(grades, other))
	delete(other, vehicle.Roof)
	assert.ErrorContains(t, CheckGrades(vehicle.Hatch, other), "grades.roof: roof is not graded yet")
	other[vehicle.Roof] = 7
	assert.ErrorContains(t, CheckGrades(vehicle.Hatch, other), "must be 0 to 4")
	other["cellar"] = 1
	assert.ErrorContains(t, CheckGrades(vehicle.Hatch, other), "grades.cellar: no such zone")
}
