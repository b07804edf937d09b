package condition

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/climate"
	"uskel/core/contact"
	"uskel/core/vehicle"
)

// Each thing seen at the look-over is a fact that a condition can ask for.
func TestWhatIsSeenBecomesAFact(t *testing.T) {
	for name, row := range map[string]struct {
		see  func(*vehicle.Vehicle, *LookOver, *Surroundings)
		fact Fact
		want Value
	}{
		"bugs": {func(_ *vehicle.Vehicle, l *LookOver, _ *Surroundings) {
			l.Bonded = []Bonded{{Bugs,
				vehicle.Front}}
		}, HasBugs, Value{Text: "yes"}},
		"bird lime": {func(_ *vehicle.Vehicle, l *LookOver,
			_ *Surroundings) {
			l.Bonded = []Bonded{{BirdLime, vehicle.Roof}}
		}, HasBirdLime, Value{Text: "yes"}},
		"tar, not iron": {func(_ *vehicle.Vehicle, l *LookOver, _ *Surroundings) {
			l.Bonded = []Bonded{{Tar,
				vehicle.Rear}}
		}, HasIron, Value{Text: "no"}},
		"salt": {func(_ *vehicle.Vehicle, l *LookOver, _ *Surroundings) { l.Salt = true }, HasSalt, Value{Text: "yes"}},
		"dark paint": {func(v *vehicle.Vehicle, _ *LookOver, _ *Surroundings) { v.Shade = vehicle.Dark },
			DarkPaint, Value{Text: "yes"}},
		"bare wheels": {func(v *vehicle.Vehicle, _ *LookOver, _ *Surroundings) { v.Wheels.Bare = true }, BareWheels, Value{Text: "yes"}},
		"a soft top": {func(v *vehicle.Vehicle, _ *LookOver, _ *Surroundings) { v.Body = vehicle.SoftTop },
			HasSoftTop, Value{Text: "yes"}},
		"film edges": {func(_ *vehicle.Vehicle, l *LookOver,
			_ *Surroundings) {
			l.Watch = []vehicle.Watch{vehicle.FilmEdges}
		}, HasFilm, Value{Text: "yes"}},
		"hot panels": {func(_ *vehicle.Vehicle, l *LookOver,
			_ *Surroundings) {
			l.Watch = []vehicle.Watch{vehicle.HotPanels}
		}, HotPanels, Value{Text: "yes"}},
		"no crew said":    {func(*vehicle.Vehicle, *LookOver, *Surroundings) {}, Crew, Value{Number: 1}},
		"a crew of three": {func(_ *vehicle.Vehicle, l *LookOver, _ *Surroundings) { l.Crew = 3 }, Crew, Value{Number: 3}},
		"no hurry":        {func(*vehicle.Vehicle, *LookOver, *Surroundings) {}, MinutesThere, Value{Number: math.Inf(1)}},
		"half an hour":    {func(_ *vehicle.Vehicle, l *LookOver, _ *Surroundings) { l.Budget = 30 }, MinutesThere, Value{Number: 30}},
		"foam for ten minutes": {func(_ *vehicle.Vehicle, _ *LookOver,
			s *Surroundings) {
			s.FoamWindow = 10 * time.Minute
		}, FoamWindow, Value{Number: 10}},
		"foam that outlasts the wheels": {func(_ *vehicle.Vehicle, _ *LookOver, s *Surroundings) {
			s.FoamWorks, s.WheelWork = 14*time.Minute, 12*time.Minute
		},
			FoamOutlasts, Value{Text: "yes"}},
		"wheels that outlast the foam": {func(_ *vehicle.Vehicle, _ *LookOver, s *Surroundings) {
			s.FoamWorks, s.WheelWork = 5*time.Minute, 12*time.Minute
		},
			FoamOutlasts, Value{Text: "no"}},
	} {
		v, l, s := hatch, graded(nil), Surroundings{}
		row.see(&v, &l, &s)
		assert.Equal(t, row.want, FactsOf(v, l, nil, s)[row.fact], name)
	}
}

// The worst zone of each band speaks for the band.
func TestTheWorstZoneSpeaksForItsBand(t *testing.T) {
	facts := FactsOf(
		hatch,
		graded(
			map[vehicle.Zone]contact.Grade{
				vehicle.Roof:       0,
				vehicle.Bonnet:     1,
				vehicle.UpperLeft:  2,
				vehicle.LowerLeft:  1,
				vehicle.LowerRight: 3,
				vehicle.WheelRR:    4,
			},
		),
		nil,
		Surroundings{},
	)
	for fact, grade := range map[Fact]float64{GradeUpper: 1, GradeMiddle: 2, GradeLower: 3, GradeWheels: 4, GradeOverall: 3} {
		assert.InDelta(t, grade, facts[fact].Number, 0, fact)
	}
}

// A pin answers a question of the trade with one of its schools' answers, or it is refused by name.
func TestPinsAreAnswersToQuestions(t *testing.T) {
	for _, q := range Questions() {
		for _, school := range q.Schools {
			assert.NoError(t, CheckPins(map[Fact]string{q.Fact: school.Value}), q.Fact)
		}
		assert.ErrorContains(t, CheckPins(map[Fact]string{q.Fact: "by moonlight"}), string("pins."+q.Fact))
	}
	assert.ErrorContains(t, CheckPins(map[Fact]string{GradeOverall: "3"}), "no question")
	assert.ErrorContains(t, CheckPins(map[Fact]string{"moon": "full"}), "pins.moon")
	assert.NoError(t, CheckPins(nil))
}

// The facts of the hour, the place and the vehicle's past. The sun shines from 120 W/m2 of beam on (World Meteorological
// Organization's threshold of sunshine).
func TestFactsOfHourPlaceAndPast(t *testing.T) {
	now := time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC)
	l := graded(nil)
	l.Place = Place{Cover: climate.OpenSky, Supply: PressureWasher, Heading: 0}
	s := Surroundings{Now: now, Past: Past{Washed: now.AddDate(0, 0, -9).Add(-time.Hour)}, Trainee: true}
	s.Here.Direct, s.Here.SunAltitude, s.Here.SunAzimuth, s.Here.Temp = 500, 30, 95, -1
	s.Here.RH, s.Here.Wind = 0.55, 3
	v := hatch
	v.Electric, v.Glass = true, true
	facts := FactsOf(v, l, nil, s)
	for fact, want := range map[Fact]string{SunOnIt: "yes", SunnySide: "right", FrostHere: "yes", IsElectric: "yes", RoofKind: "glass",
		TraineeWashes: "yes", BodyKind: "hatch", PartFilmed: "no"} {
		assert.Equal(t, want, facts[fact].Text, fact)
	}
	assert.Equal(t, 9.0, facts[DaysWashed].Number)
	assert.True(t, math.IsInf(facts[DaysServiced].Number, 1), "never, as far as is known")
	assert.Equal(t, 12.0, facts[JetPressure].Number)
	assert.InDelta(t, 55, facts[HumidityHere].Number, 1e-9, "%")
	assert.Equal(t, 3.0, facts[WindHere].Number, "m/s")
	for beam, shines := range map[float64]string{119: "no", 120: "yes"} {
		s.Here.Direct = beam
		assert.Equal(t, shines, FactsOf(v, l, nil, s)[SunOnIt].Text, "%g W/m2", beam)
	}
	s.Here.Temp = 0.1
	assert.Equal(t, "no", FactsOf(v, l, nil, s)[FrostHere].Text)
	s.Here.Direct = 100
	assert.Equal(t, "none", FactsOf(v, l, nil, s)[SunnySide].Text)
	l.Place.Supply = Hose
	assert.Zero(t, FactsOf(v, l, nil, s)[JetPressure].Number)
}
