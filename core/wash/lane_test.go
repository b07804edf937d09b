package wash

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/measure"
)

func fourSteps() []PlannedStep {
	return []PlannedStep{{ID: "foam"}, {ID: "fill"}, {ID: "rinse"}, {ID: "mitt"}}
}

// shared is a plan of the four steps, ten minutes each in this order, by who does which.
func shared(who map[string]string, order ...string) []Planned {
	var plan []Planned
	for i, step := range order {
		plan = append(plan, Planned{Step: step, Start: measure.Seconds(600 * i), Who: who[step]})
	}
	return plan
}

func taps(by string, kinds ...string) []Event {
	var events []Event
	for i := 0; i+1 < len(kinds); i += 2 {
		events = append(events, Event{ID: fmt.Sprint(by, i), Kind: Kind(kinds[i]), Step: kinds[i+1], By: by, Seq: i,
			At: noon.Add(time.Duration(i) * time.Minute)})
	}
	return events
}

func TestLanes(t *testing.T) {
	alone := map[string]string{"foam": "osk", "fill": "osk", "rinse": "osk", "mitt": "osk"}
	two := map[string]string{"foam": "osk", "fill": "pia", "rinse": "osk", "mitt": "pia"}
	byItself := map[string]string{"fill": "pia", "rinse": "osk", "mitt": "pia"}
	written := []string{"foam", "fill", "rinse", "mitt"}
	for says, c := range map[string]struct {
		who    string
		events []Event
		plan   []Planned
		want   Lane
	}{
		"the order of the procedure without a plan": {"osk", nil, nil, Lane{"foam", []string{"fill", "rinse"}}},
		"what is in hand stays":                     {"osk", taps("osk", "start", "foam"), nil, Lane{"foam", []string{"fill", "rinse"}}},
		"each one's own where two wash": {"osk", taps("osk", "start", "foam"), shared(two, written...),
			Lane{"foam", []string{"rinse"}}},
		"and the other's own": {"pia", taps("osk", "start", "foam"), shared(two, written...), Lane{"fill", []string{"mitt"}}},
		"the plan's order, which uses a dwell": {"osk", nil, shared(alone, "fill", "foam", "rinse", "mitt"),
			Lane{"fill", []string{"foam", "rinse"}}},
		"what runs by itself is everybody's": {"pia", nil, shared(byItself, written...), Lane{"foam", []string{"fill", "mitt"}}},
		"on with what others have not begun": {"osk",
			append(taps("osk", "start", "foam", "done", "foam", "start", "rinse", "done", "rinse"), taps("pia", "start", "fill")...),
			shared(two, written...), Lane{"mitt", []string{}}},
		"not what somebody else has in hand": {"pia", taps("osk", "start", "foam"), nil, Lane{"fill", []string{"rinse", "mitt"}}},
		"somebody the plan does not know": {"ines", nil, shared(two, "mitt", "rinse", "fill", "foam"),
			Lane{"foam", []string{"fill", "rinse"}}},
		"nothing when all is done": {"osk", taps("osk", "done", "foam", "done", "fill", "done", "rinse", "done", "mitt"), nil,
			Lane{"", []string{}}},
	} {
		assert.Equal(t, c.want, LaneOf(c.who, fourSteps(), Fold(fourSteps(), c.events), c.plan), says)
	}
}

func TestWhatAnUndoTakesBack(t *testing.T) {
	log := append(taps("osk", "start", "foam", "done", "foam"), taps("pia", "start", "fill")...)
	assert.Equal(t, "osk2", LastOf("osk", fourSteps(), log, false), "the newest of one's own")
	assert.Equal(t, "pia0", LastOf("pia", fourSteps(), log, false))
	assert.Empty(t, LastOf("ines", fourSteps(), log, false))
	back := append(log, Event{ID: "u", Kind: Undo, Undoes: "osk2", By: "osk", At: noon.Add(time.Hour)})
	assert.Equal(t, "osk0", LastOf("osk", fourSteps(), back, false), "the one before, when one was taken back")
	rework := append(fourSteps(), PlannedStep{ID: "again", Rework: true})
	assert.Empty(t, LastOf("osk", rework, log, true), "nothing of a wash that is closed")
	assert.Equal(t, "osk2", LastOf("osk", rework, append(log, Event{ID: "osk2", Kind: Start, Step: "again", By: "osk",
		At: noon.Add(2 * time.Hour)}), true), "but what was tapped on its rework")
}

func TestWarningsBeforeProductDries(t *testing.T) {
	for dwell, before := range map[int][2]float64{
		600: {120, 60}, 240: {120, 60}, // two minutes and one
		100: {50, 25}, 20: {10, 5}, // half and three quarters of a short one
	} {
		d := Dwelling{Since: noon, Latest: noon.Add(time.Duration(dwell) * time.Second)}
		d.warn()
		assert.Equal(t, before[0], d.Latest.Sub(d.Soon).Seconds(), "%d s", dwell)
		assert.Equal(t, before[1], d.Latest.Sub(d.Urgent).Seconds(), "%d s", dwell)
	}
	for s := 1; s < 1000; s += 7 {
		d := Dwelling{Since: noon, Latest: noon.Add(time.Duration(s) * time.Second)}
		d.warn()
		assert.True(t, !d.Soon.Before(d.Since) && d.Urgent.After(d.Soon) && d.Latest.After(d.Urgent), "%d s", s)
	}
}
