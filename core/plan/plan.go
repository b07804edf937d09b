// Package plan says what a filled procedure is: its steps with zones, millilitres, dwells, minutes and reasons, for one
// vehicle, place and hour, and what can be read off it. Who fills it is plan/fill; plan/crew gives its work to people,
// plan/wet holds it against the wet clock, plan/judge says whether it can be done and which one is best, plan/mend
// what else could be done.
package plan

import (
	"fmt"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// Plan is a procedure filled for a job.
type Plan struct {
	Procedure string                 `json:"procedure"`
	Family    string                 `json:"family"`
	Version   int                    `json:"version"`
	Title     string                 `json:"title"`
	Steps     []FilledStep           `json:"steps"`
	Out       []LeftOut              `json:"out"`
	Rinses    int                    `json:"rinses" doc:"of the mitt, of all contact steps together"`
	Towels    int                    `json:"towels" doc:"Plush towels of all towel washes together; 0 for a mitt wash"`
	Index     float64                `json:"index" doc:"Mar index, 0 to 100"`
	Left      float64                `json:"left" doc:"mg of grit left on the car"`
	Minutes   float64                `json:"minutes"`
	Cost      measure.Money          `json:"cost" doc:"Product cost, minor units"`
	Costs     Costs                  `json:"costs" doc:"what it costs besides the people's time"`
	Litres    float64                `json:"litres" doc:"l of water, run and mixed"`
	Branches  []Outcome              `json:"branches,omitempty" doc:"what is asked in the work, and how long the wash takes by the answer"`
	Drop      []Drop                 `json:"drop" doc:"What to leave out first when the time there is does not suffice"`
	Line      schedule.Solo          `json:"line"`
	Film      float64                `json:"film" doc:"mg/m2 of soil left on the worst painted zone; from some 150 a film shows"`
	Undone    []vehicle.Zone         `json:"undone" doc:"zones outside that nothing in this plan washes"`
	Settled   []procedure.Settled    `json:"settled" doc:"how each disagreement of the trade was settled"`
	Scope     string                 `json:"scope"`
	OutScope  []condition.OutOfScope `json:"outScope"`
	Ordered   condition.Service      `json:"ordered" doc:"the service, as it was when the plan was made"`
	Overall   contact.Grade          `json:"overall"`
	Warnings  []string               `json:"warnings"`
	Buckets   int                    `json:"buckets,omitempty" doc:"rinse buckets that the shop has; one when unsaid"`
	Suds      measure.Seconds        `json:"suds" doc:"how long suds stay wet where they dry first, s"`
	Air       climate.Air            `json:"air" doc:"outside, when the plan was made"`
}

// LeftOut is a step that does not apply and why.
type LeftOut struct {
	ID      string `json:"id"`
	Stage   string `json:"stage"`
	Title   string `json:"title"`
	Because string `json:"because"`
	ByLead  bool   `json:"byLead,omitempty" doc:"The lead left it out, and can bring it back"`
}

// ByTheLead is why a step is not in a plan that the lead arranged without it.
const ByTheLead = "Left out by the lead."

// Refusal is why a procedure must not be used on a job.
type Refusal struct{ Reasons []string }

func (r *Refusal) Error() string { return fmt.Sprintf("refused: %v", r.Reasons) }

// wetGroup and wetPanel are what a drying window depends on within one plan, which asks for few of them many times.
type ()

// TitleOf is what a step of the plan is called.
func (p Plan) TitleOf(step string) string {
	for _, s := range p.Steps {
		if s.ID == step {
			return s.Title
		}
	}
	return step
}

// PartCount is in how many parts the body is washed, of all rounds together; wheels are counted one by one anyway.
func (p Plan) PartCount() int {
	parts, last := 0, ""
	for _, s := range p.Likely() {
		if s.Part == nil || s.Part.Over == procedure.OverWheels {
			continue
		}
		if key := s.Part.Round + s.Part.Key; key != last {
			parts, last = parts+1, key
		}
	}
	return parts
}
