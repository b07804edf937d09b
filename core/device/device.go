// Package device is what the core works out on a shop's phones and tablets, without a connection: each call by its name,
// with JSON in and out, so that the device and the server cannot come to think differently of the same taps.
package device

import (
	"encoding/json"
	"fmt"

	"uskel/core/drill"
	"uskel/core/wash"
)

// BayIn is a wash as the device knows it.
type BayIn struct {
	Steps  []wash.PlannedStep `json:"steps"`
	Events []wash.Event       `json:"events" doc:"the log, with the taps that are not sent yet"`
	Closed bool               `json:"closed" doc:"its audit has begun"`
	Me     string             `json:"me"     doc:"who holds the device, by id"`
	Whose  string             `json:"whose"  doc:"whose lane is shown, by id; of whoever has the newest step in hand when empty"`
	Washer string             `json:"washer" doc:"by id, whose lane it is when nothing is in hand"`
	Plan   []wash.Planned     `json:"plan"   doc:"the rest of the wash as laid out last; empty when the device has none"`
}

// BayOut is how the wash stands.
type BayOut struct {
	State  wash.State `json:"state"`
	Lane   wash.Lane  `json:"lane"`
	Undoes string     `json:"undoes,omitempty" doc:"the tap that Undo takes back"`
}

// Bay folds a wash on the device.
func Bay(in BayIn) BayOut {
	out := BayOut{State: wash.Fold(in.Steps, in.Events), Undoes: wash.LastOf(in.Me, in.Steps, in.Events, in.Closed)}
	whose := in.Whose
	if whose == "" {
		whose = in.Washer
		for _, s := range out.State.Steps {
			if s.ID == out.State.Current && s.By != "" {
				whose = s.By
			}
		}
	}
	out.Lane = wash.LaneOf(whose, in.Steps, out.State, in.Plan)
	return out
}

// DrillIn is a drill as the device has it: how it stands, and what is done next.
type DrillIn struct {
	Drill   drill.Task     `json:"drill"`
	State   *drill.State   `json:"state,omitempty" doc:"the beginning when absent"`
	Actions []drill.Action `json:"actions"`
}

// DrillOut is how it stands then. An action that cannot be done is refused, and what comes after it is not played.
type DrillOut struct {
	State   drill.State `json:"state"`
	Refused string      `json:"refused,omitempty"`
}

// Drill plays a drill on the device.
func Drill(in DrillIn) DrillOut {
	out := DrillOut{}
	if in.State != nil {
		out.State = *in.State
	} else {
		begun, err := in.Drill.Start()
		if err != nil {
			return DrillOut{Refused: err.Error()}
		}
		out.State = begun
	}
	for _, a := range in.Actions {
		next, err := in.Drill.Play(out.State, a)
		if err != nil {
			out.Refused = err.Error()
			break
		}
		out.State = next
	}
	return out
}

// calls are what a device may ask of the core.
var calls = map[string]func([]byte) ([]byte, error){"bay": call(Bay), "drill": call(Drill)}

func call[I, O any](work func(I) O) func([]byte) ([]byte, error) {
	return func(text []byte) ([]byte, error) {
		var in I
		if err := json.Unmarshal(text, &in); err != nil {
			return nil, err
		}
		return json.Marshal(work(in))
	}
}

// Call answers a call with JSON. An unknown name and JSON that is not of the call's shape are errors.
func Call(name string, in []byte) ([]byte, error) {
	work, known := calls[name]
	if !known {
		return nil, fmt.Errorf("call %q: the core has no such call", name)
	}
	out, err := work(in)
	if err != nil {
		return nil, fmt.Errorf("call %q: %w", name, err)
	}
	return out, nil
}
