package plan

import (
	"slices"

	"uskel/core/condition"
	"uskel/core/measure"
)

// Arranged is how a booking's wash is laid out: what the lead chose, left out and moved by hand. Plan and timeline
// follow from it.
type Arranged struct {
	Procedure string   `json:"procedure,omitempty" maxLength:"80" doc:"the recommended one when absent"`
	People    []string `json:"people,omitempty" maxItems:"12" doc:"ids of who washes; the booked washer when empty"`
	Without   []string `json:"without,omitempty" maxItems:"40" doc:"ids of steps left out"`
	Moved     []Moved  `json:"moved,omitempty" maxItems:"60"`
	Beside    *Beside  `json:"beside,omitempty" doc:"who stands beside the trainee who washes"`
	AsNow     bool     `json:"asNow,omitempty" doc:"for this moment's weather, instead of that of the hour it is to begin"`
}

// Moved is an activity moved by hand.
type Moved struct {
	Work      string          `json:"work" minLength:"1" maxLength:"120"`
	Person    string          `json:"person,omitempty" format:"uuid" doc:"who is to do it"`
	NotBefore measure.Seconds `json:"notBefore,omitempty" minimum:"0" maximum:"86400" doc:"s from the start of the wash"`
}

// LeavesOut reports whether the lead left a step of a procedure out. Other procedures are filled as they are written.
func (a Arranged) LeavesOut(procedure, step string) bool {
	return a.Procedure == procedure && slices.Contains(a.Without, step)
}

// Frozen is what a wash was begun from, besides the plan itself: whatever changes later, this stays.
type Frozen struct {
	Arranged Arranged                  `json:"arranged"`
	Pins     map[condition.Fact]string `json:"pins,omitempty" doc:"the shop's answers where practitioners disagree"`
	LookOver int                       `json:"lookOver" doc:"version of the look-over"`
	Booking  int                       `json:"booking" doc:"version of the booking"`
}
