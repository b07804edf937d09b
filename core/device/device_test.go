package device

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
)

var noon = time.Date(2026, 3, 9, 12, 0, 0, 0, time.UTC)

func twoSteps() BayIn {
	return BayIn{
		Me:     "osk",
		Washer: "pia",
		Steps: []wash.PlannedStep{{ID: "foam", Dwell: &wash.Dwell{From: 60, To: 300, Label: 300}},
			{ID: "rinse", Ends: []string{"foam"}}},
		Events: []wash.Event{
			{ID: "1", Kind: wash.Start, Step: "foam", At: noon, By: "osk"},
			{ID: "2", Kind: wash.Done, Step: "foam", At: noon.Add(time.Minute), By: "osk"}},
	}
}

func TestTheBayOnADevice(t *testing.T) {
	in := twoSteps()
	text, err := json.Marshal(in)
	require.NoError(t, err)
	answer, err := Call("bay", text)
	require.NoError(t, err)
	var out BayOut
	require.NoError(t, json.Unmarshal(answer, &out))
	assert.Equal(t, "2", out.Undoes)
	assert.Equal(t, wash.Lane{Step: "rinse", After: []string{}}, out.Lane)
	folded := wash.Fold(in.Steps, in.Events)
	folded.Stretches = nil // they are for the times, and stay on the server
	assert.Equal(t, folded, out.State)
	assert.Equal(t, noon.Add(4*time.Minute), out.State.Dwelling[0].Soon, "two minutes before it dries")
}

// Whoever watches sees what the newest in hand is, and the washer's lane before anything is.
func TestWhoseLaneAWatcherSees(t *testing.T) {
	in := twoSteps()
	in.Events = in.Events[:1]
	assert.Equal(t, "foam", Bay(in).Lane.Step, "in Osk's hands")
	in.Whose = "pia"
	assert.Equal(t, "rinse", Bay(in).Lane.Step, "Pia's own lane")
}

func TestCallsThatCannotBeAnswered(t *testing.T) {
	_, err := Call("tea", nil)
	assert.ErrorContains(t, err, `"tea": the core has no such call`)
	_, err = Call("bay", []byte(`{"steps": 3}`))
	assert.ErrorContains(t, err, `"bay"`)
}
