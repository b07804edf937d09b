package audit

import (
	"math/rand"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/prove"
	"uskel/core/vehicle"
)

func finding(zone vehicle.Zone, kind Kind, severity Severity) Finding {
	return Finding{Zone: zone, Kind: kind, Severity: severity}
}

func foundAt(fs ...Finding) Answer { return Answer{Verdict: Found, Findings: fs} }

func known() Calibration {
	return Calibration{ID: "one", Title: "The taxi in May", List: Starter(), Truth: map[string]Answer{
		"lower": foundAt(finding(vehicle.LowerLeft, DirtLeft, Major)),
		"upper": foundAt(finding(vehicle.Bonnet, FineCircles, Major), finding(vehicle.Roof, Spots, Minor)),
	}}
}

// What is found is of the same kind on the same part, at whichever look; what is not there is a false alarm; what the light does not
// let be judged is missed by nobody.
func TestScoringAgainstWhatIsThere(t *testing.T) {
	c := known()
	require.NoError(t, c.Check())
	walk := CalibrationWalk{Of: "one", Light: Lamp, Answers: map[string]Answer{
		"lower": foundAt(finding(vehicle.LowerLeft, DirtLeft, Minor), finding(vehicle.LowerRight, DirtLeft, Minor)),
		"upper": {Verdict: Pass}, "water": foundAt(finding(vehicle.Roof, Spots, Minor)), "glass": {Verdict: Pass},
	}}
	s := c.Score(walk)
	assert.Equal(t, []int{3, 2, 1, 1, 2}, []int{s.Known, s.Found, s.Alike, s.False, s.Clean})
	require.Len(t, s.Missed, 1)
	assert.Equal(t, FineCircles, s.Missed[0].Finding.Kind)
	assert.Equal(t, vehicle.LowerRight, s.Alarms[0].Finding.Zone)

	walk.Light = Dusk
	s = c.Score(walk)
	assert.Equal(t, []int{2, 2}, []int{s.Known, s.Found}, "circles cannot be judged at dusk; spots were seen all the same")
	assert.Empty(t, s.Missed)

	none := c
	none.Truth = map[string]Answer{"lower": {Verdict: Pass}}
	assert.ErrorContains(t, none.Check(), "at least one finding")
	none.Truth = map[string]Answer{"cellar": foundAt(finding(vehicle.Roof, Spots, Minor))}
	assert.ErrorContains(t, none.Check(), `no look "cellar"`)
	none.Title = " "
	assert.ErrorContains(t, none.Check(), "title")
}

// manyWalks are walks of twelve cars by four people who find a share of what there is and see something now and then.
func manyWalks(dice *rand.Rand, finds [4]float64) ([]Calibration, []CalibrationWalk) {
	var set []Calibration
	var walks []CalibrationWalk
	for n := range 12 {
		c := known()
		c.ID = strings.Repeat("x", n+1)
		set = append(set, c)
		for p, share := range finds {
			by := Who{ID: string(rune('a' + p)), Name: string(rune('A' + p))}
			w := CalibrationWalk{Of: c.ID, By: by, Light: Lamp, Answers: map[string]Answer{}}
			for _, i := range c.List.Items {
				answer := Answer{Verdict: Pass}
				for _, f := range c.Truth[i.ID].Findings {
					if dice.Float64() < share {
						answer = foundAt(append(answer.Findings, f)...)
					}
				}
				w.Answers[i.ID] = answer
			}
			walks = append(walks, w)
		}
	}
	return set, walks
}

// Who misses half is told; where all see alike it is said of hardly anybody; what is counted by person and by kind is the same.
func TestCalibrationTellsWhoMisses(t *testing.T) {
	dice := rand.New(rand.NewSource(11))
	told, still, sets := 0, 0, prove.Seeds(t, 200)
	for range sets {
		v := Calibrate(manyWalks(dice, [4]float64{0.9, 0.9, 0.9, 0.5}))
		require.Len(t, v.People, 4)
		if strings.Contains(strings.Join(v.Says, " "), "D found ") {
			told++
		}
		if len(Calibrate(manyWalks(dice, [4]float64{0.8, 0.8, 0.8, 0.8})).Says) > 0 {
			still++
		}
		byPerson, byKind := 0, 0
		for _, p := range v.People {
			byPerson += p.Found
			assert.LessOrEqual(t, p.Low, p.Share)
			assert.GreaterOrEqual(t, p.High, p.Share)
		}
		for _, k := range v.Kinds {
			byKind += k.Found
		}
		assert.Equal(t, byPerson, byKind)
		assert.Equal(t, 4, v.ByCar[0].Walks)
		assert.Positive(t, v.Among.Kappa)
	}
	assert.Greater(t, 10*told, 9*sets)
	assert.LessOrEqual(t, 10*still, sets, "false discoveries are held to 5 %")
	assert.Empty(t, Calibrate(nil, nil).Says)
}
