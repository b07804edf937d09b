package shop

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	_ "time/tzdata"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure/starters"
	"uskel/core/schedule"
	"uskel/core/shelf"
	"uskel/core/wrong"
)

// Settings are the shop's choices.
type Settings struct {
	ShopName string                    `json:"shopName" minLength:"1" maxLength:"80"`
	Units    measure.System            `json:"units"`
	Ratio    measure.Reading           `json:"ratio,omitempty" doc:"how mixing ratios are written; parts plus parts when unsaid"`
	Currency string                    `json:"currency" minLength:"1" maxLength:"8" doc:"Shown before amounts"`
	TimeZone string                    `json:"timeZone" minLength:"1" maxLength:"60" doc:"IANA name" example:"Europe/Lisbon"`
	Pins     map[condition.Fact]string `json:"pins,omitempty" doc:"The shop's way where practitioners disagree: question to answer"`
	Vessels  []shelf.Vessel            `json:"vessels,omitempty" maxItems:"60" doc:"what mixes are made in"`
	Places   []condition.Place         `json:"places" minItems:"1" maxItems:"30" doc:"Where the shop washes"`
	Machines []Equipment               `json:"machines,omitempty" maxItems:"20" doc:"what is shared: one of each when unsaid"`
	Shifts   []Shift                   `json:"shifts,omitempty" maxItems:"60" doc:"who works when; all day when unsaid"`
	Launder  measure.Money             `json:"launder,omitempty" minimum:"0" doc:"what laundering a cloth costs, minor units"`
	Water    measure.Money             `json:"water,omitempty" minimum:"0" doc:"what a cubic metre of water and drain costs, minor units"`
	Labour   measure.Money             `json:"labour,omitempty" minimum:"0" doc:"what an hour of work costs, minor units"`
	Buckets  int                       `json:"rinseBuckets,omitempty" minimum:"0" maximum:"10" doc:"rinse buckets that there are; 1 if unsaid"`
	Fades    int                       `json:"evidenceHalfLife,omitempty" minimum:"0" maximum:"365" doc:"days until evidence halves"`
	Lapses   int                       `json:"signOffMonths,omitempty" minimum:"0" maximum:"60" doc:"until a sign-off lapses; 0 never"`
	LapseOn  int                       `json:"signOffFindings,omitempty" minimum:"0" maximum:"20" doc:"in 30 days, until one lapses; 0 never"`
	Drawn    *int                      `json:"auditShare,omitempty" minimum:"0" maximum:"100" doc:"washes drawn to be audited, %; 100"`
	Trainee  *int                      `json:"auditTrainee,omitempty" minimum:"0" maximum:"100" doc:"first washes of a trainee, always; 10"`
	// Version is how many first washes by a new version, or with a new product, are always audited.
	Version  *int           `json:"auditVersion,omitempty" minimum:"0" maximum:"100" doc:"first of what is new, always; 5"`
	Rest     *int           `json:"rest,omitempty" minimum:"0" maximum:"60" doc:"allowances, %; as the pauses were when unsaid"`
	Latitude *float64       `json:"latitude,omitempty" minimum:"-70" maximum:"70" doc:"degrees north; 45 when unsaid"`
	Services condition.Menu `json:"services,omitempty" maxItems:"40" doc:"what the shop sells; the usual services when unsaid"`
	Aim      float64        `json:"aim,omitempty" minimum:"0" maximum:"60" doc:"scratch risk that plans stay under; 20 when unsaid"`
	LockMin  int            `json:"lockMinutes,omitempty" minimum:"0" maximum:"120" doc:"until an untouched tablet locks; 10"`
	// Seed makes the simulated weather station and water meter repeatable.
	Seed int64 `json:"seed,omitempty"`
}

// Shift is when somebody works, in minutes of the day where the shop stands.
type Shift struct {
	PersonID  string `json:"personId" format:"uuid"`
	From      int    `json:"from" minimum:"0" maximum:"1440"`
	To        int    `json:"to" minimum:"0" maximum:"1440"`
	BreakFrom int    `json:"breakFrom,omitempty" minimum:"0" maximum:"1440"`
	BreakTo   int    `json:"breakTo,omitempty" minimum:"0" maximum:"1440"`
}

// Equipment is machines of one name.
type Equipment struct {
	ID    string `json:"id,omitempty" maxLength:"80" doc:"what procedures name it by; the name when absent"`
	Name  string `json:"name" minLength:"1" maxLength:"40"`
	Count int    `json:"count" minimum:"1" maximum:"20"`
}

// Key is what procedures name the machines by, whatever they are called.
func (e Equipment) Key() string { return cmp.Or(e.ID, e.Name) }

// Identified gives places and machines that are new an id of their own, which stays when they are called otherwise.
// What procedures call a machine by is its id, so a machine of that name is that machine.
func (s Settings) Identified(newID func() string) Settings {
	s.Places, s.Machines, s.Services = slices.Clone(s.Places), slices.Clone(s.Machines), slices.Clone(s.Services)
	for i := range s.Places {
		if s.Places[i].ID == "" {
			s.Places[i].ID = newID()
		}
	}
	for i := range s.Services {
		if s.Services[i].ID == "" {
			s.Services[i].ID = newID()
		}
	}
	for i := range s.Machines {
		if s.Machines[i].ID == "" {
			s.Machines[i].ID = strings.ToLower(strings.TrimSpace(s.Machines[i].Name))
		}
	}
	return s
}

// Check says everything that is wrong with the settings, each with its field: a time zone that there is none of,
// places and answers, shifts that end before they begin or of people who are not there, names used twice.
func (s Settings) Check(people []string) error {
	errs := []error{condition.CheckPlaces(s.Places), condition.CheckPins(s.Pins), s.Services.Check(starters.Families())}
	if _, err := time.LoadLocation(s.TimeZone); err != nil || s.TimeZone == "" || s.TimeZone == "Local" {
		errs = append(
			errs,
			wrong.At("timeZone", "%q is not in the time zone database: write it like Europe/Lisbon", s.TimeZone),
		)
	}
	for i, shift := range s.Shifts {
		errs = append(errs, shift.check(fmt.Sprintf("shifts[%d]", i), people))
	}
	names, keys := map[string]bool{}, map[string]bool{}
	for i, m := range s.Machines {
		if names[m.Name] {
			errs = append(errs, wrong.At(fmt.Sprintf("machines[%d].name", i), "%q is there twice", m.Name))
		}
		if keys[m.Key()] {
			errs = append(errs, wrong.At(fmt.Sprintf("machines[%d].id", i), "%q is there twice", m.Key()))
		}
		names[m.Name], keys[m.Key()] = true, true
	}
	return errors.Join(errs...)
}

// Menu is what the shop sells: its own list, or the usual one.
func (s Settings) Menu() condition.Menu { return s.Services.Listed() }

// Reads is how the shop writes mixing ratios: the one reading that nobody takes for another, unless it chose.
func (s Settings) Reads() measure.Reading { return cmp.Or(s.Ratio, measure.PartsPlusParts) }

// Clock is when a clock shows a minute of the day, in seconds after the midnight that the day began with, where the
// shop stands. On the days on which clocks are changed that is an hour off what the minute says.
func Clock(midnight time.Time, minute int) measure.Seconds {
	y, m, d := midnight.Date()
	return measure.SecondsOf(time.Date(y, m, d, 0, minute, 0, 0, midnight.Location()).Sub(midnight))
}

// Off are the spans of a day in which somebody with this shift is not there, in seconds after its midnight.
func (s Shift) Off(midnight time.Time) []schedule.Span {
	at := func(minute int) measure.Seconds { return Clock(midnight, minute) }
	off := []schedule.Span{}
	for _, span := range []schedule.Span{{Start: 0, End: at(s.From)}, {Start: at(s.BreakFrom), End: at(s.BreakTo)},
		{Start: at(s.To), End: at(24 * 60)}} {
		if span.End > span.Start {
			off = append(off, span)
		}
	}
	return off
}

func (s Shift) check(name string, people []string) error {
	var errs []error
	if !slices.Contains(people, s.PersonID) {
		errs = append(errs, wrong.At(name+".personId", "nobody has this id"))
	}
	if s.To <= s.From {
		errs = append(errs, wrong.At(name+".to", "must be after from"))
	}
	if s.BreakTo != 0 && (s.BreakFrom < s.From || s.BreakTo > s.To || s.BreakTo <= s.BreakFrom) {
		errs = append(errs, wrong.At(name+".breakFrom", "the break must lie inside the shift"))
	}
	return errors.Join(errs...)
}

// usualLock is after how many minutes without a touch a shared tablet locks: a step of a wash is mostly shorter.
const usualLock = 10

// Lock is after how many minutes a shared tablet locks.
func (s Settings) Lock() int { return cmp.Or(s.LockMin, usualLock) }
