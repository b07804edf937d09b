package wash

import (
	"math"
	"time"
)

// Pulse is how a running wash stands, small enough to be told to every screen at every tap.
type Pulse struct {
	Taps     int         `json:"taps" doc:"events that count in its log"`
	Last     string      `json:"last,omitempty" doc:"its newest event"`
	Started  time.Time   `json:"started,omitzero"`
	Finished time.Time   `json:"finished,omitzero"`
	Hands    []PulseHand `json:"hands" doc:"what is in hand"`
	Wet      []PulseWet  `json:"wet" doc:"what works on it"`
	Help     *Call       `json:"help,omitempty" doc:"somebody is asked for"`
	Open     []string    `json:"open" doc:"what was left open and is not closed yet"`
	Asks     int         `json:"asks" doc:"bonded matter found that waits for the lead's word"`
	Left     float64     `json:"left" doc:"min of standard time left"`
	Share    float64     `json:"share" doc:"of the standard time done, 0 to 1"`
}

// PulseHand is what one person does.
type PulseHand struct {
	By     string    `json:"by"`
	Title  string    `json:"title"`
	Since  time.Time `json:"since,omitzero"`
	Paused bool      `json:"paused,omitempty"`
	AskAt  time.Time `json:"askAt,omitzero" doc:"from when on nothing is known of where this hand is"`
}

// PulseWet is a product that works on the car.
type PulseWet struct {
	Title    string    `json:"title"`
	Since    time.Time `json:"since"`
	Earliest time.Time `json:"earliest"`
	Latest   time.Time `json:"latest"`
	Dried    bool      `json:"dried,omitempty"`
}

// Pulse gives the pulse at a moment of a wash with these steps.
func (state State) Pulse(steps []PlannedStep, now time.Time) Pulse {
	p := Pulse{
		Taps:     state.Taps,
		Last:     state.LastTap,
		Started:  state.Started,
		Finished: state.Finished,
		Hands:    []PulseHand{},
		Open:     []string{},
		Wet:      []PulseWet{},
		Help:     state.Help,
	}
	titles, all := map[string]string{}, 0.0
	for i, s := range steps {
		titles[s.ID] = s.Title
		if state.Steps[i].Unasked {
			continue
		}
		all += s.Minutes
		switch did := state.Steps[i]; did.Status {
		case Waiting:
			p.Left += s.Minutes
		case Running:
			p.Left += max(0, s.Minutes-did.HandsOn.Minutes()-now.Sub(did.Since).Minutes())
		case Paused:
			p.Left += max(0, s.Minutes-did.HandsOn.Minutes())
		}
		for _, h := range state.Hands {
			if h.Step == s.ID {
				p.Hands = append(
					p.Hands,
					PulseHand{
						By:     h.By,
						Title:  s.Title,
						Since:  state.Steps[i].Since,
						Paused: state.Steps[i].Status == Paused,
						AskAt:  state.Steps[i].AskAt,
					},
				)
			}
		}
	}
	for _, d := range state.Dwelling {
		if d.Verdict == Working && state.Finished.IsZero() {
			p.Wet = append(p.Wet, PulseWet{titles[d.Step], d.Since, d.Earliest, d.Latest, d.Dried})
		}
	}
	for _, m := range state.Open {
		p.Open = append(p.Open, m.Name)
	}
	for _, f := range state.Found {
		if f.Remedy == AskLead {
			p.Asks++
		}
	}
	if all > 0 {
		p.Share = math.Round(100*(1-p.Left/all)) / 100
	}
	p.Left = math.Round(10*p.Left) / 10
	return p
}
