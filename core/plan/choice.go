package plan

import "uskel/core/measure"

// Suitability is what the chooser says of a procedure.
type Suitability string

// The verdicts.
const (
	Recommended Suitability = "recommended"
	Possible    Suitability = "possible"
	Refused     Suitability = "refused"
)

// Values lists the verdicts.
func (Suitability) Values() []string {
	return []string{string(Recommended), string(Possible), string(Refused)}
}

// Choice is one procedure judged for a job.
type Choice struct {
	Procedure string        `json:"procedure"`
	Title     string        `json:"title"`
	Family    string        `json:"family"`
	Verdict   Suitability   `json:"verdict"`
	Suits     bool          `json:"suits" doc:"It is made for this condition"`
	Standard  bool          `json:"standard" doc:"It is the shop's standard"`
	Delivers  bool          `json:"delivers" doc:"It delivers the service ordered; one that does not is never recommended"`
	Why       []string      `json:"why"`
	Minutes   float64       `json:"minutes"`
	Index     float64       `json:"index" doc:"Scratch risk, 0 to 100"`
	Litres    float64       `json:"litres" doc:"l of water"`
	Cost      measure.Money `json:"cost" doc:"Product, minor units"`
	Film      float64       `json:"film" doc:"mg/m2 left on the worst painted zone"`
	Undone    int           `json:"undone" doc:"zones nothing washes"`
	Plan      *Plan         `json:"plan,omitempty" doc:"Absent when refused, and where only the figures are asked for"`
}
