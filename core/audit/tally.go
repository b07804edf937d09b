package audit

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"uskel/core/climate"
	"uskel/core/procedure"
	"uskel/core/stats"
	"uskel/core/table"
	"uskel/core/vehicle"
)

// Audited is the first audit of a wash with what it found: what the wash came to before anything was put right.
type Audited struct {
	ID, WashID, Label, Plate string
	At                       time.Time // where the shop stands
	WasherID, Washer         string
	Procedure, Title         string
	Version                  int
	Place                    string
	Cover                    climate.Cover
	Cloths                   []string // names of the sets that it took cloths from
	Products                 []string // names of what it took off the shelf
	Left                     []string // titles of the steps that were left out in the bay
	Checks                   []string // what checks on the way are called that were made
	// CameBack is said of a wash whose customer complained within a week: what was the matter was missed.
	CameBack bool
	Minutes  float64 // hands-on, rework aside
	Risk     float64 // mar index that was planned, 0 to 100
	Findings []Traced
}

// Which narrows what is counted: findings by kind, zone and skill, audits by who washed and by what.
type Which struct {
	Kind      Kind
	Zone      vehicle.Zone
	Skill     procedure.Skill
	Washer    string
	Procedure string // with its version, as Row.Key has it
	Place     string
}

func (w Which) finding(f Traced) bool {
	return f.Counts && (w.Kind == "" || f.Kind == w.Kind) && (w.Zone == "" || f.Zone == w.Zone) && (w.Skill == "" || f.Skill == w.Skill)
}

func (w Which) audit(a Audited) bool {
	return (w.Washer == "" || a.WasherID == w.Washer) && (w.Procedure == "" || a.procedure() == w.Procedure) &&
		(w.Place == "" || a.Place == w.Place)
}

// Seen reports whether something was found that a customer would see.
func (a Audited) Seen() bool {
	return slices.ContainsFunc(a.Findings, func(f Traced) bool { return f.Counts && f.Severity != Minor })
}

func (a Audited) procedure() string { return fmt.Sprintf("%s@%d", a.Procedure, a.Version) }

// By is what findings are counted by.
type By string

// The ways of counting.
const (
	ByKind      By = "kind"
	ByZone      By = "zone"
	BySkill     By = "skill"
	ByWasher    By = "washer"
	ByProcedure By = "procedure"
	ByWeekday   By = "weekday"
	ByPlace     By = "place"
	BySun       By = "sun"
	ByHour      By = "hour"
	ByCloths    By = "cloths"
	ByProduct   By = "product"
	ByLeft      By = "left out"
	ByCheck     By = "check"
)

// ways are the ways of counting in the order in which they are shown.
var ways = []By{ByKind, ByZone, BySkill, ByWasher, ByProcedure, ByLeft, ByCheck, ByProduct, ByCloths, ByPlace, BySun, ByHour, ByWeekday}

// Values lists the ways of counting.
func (By) Values() []string {
	names := make([]string, len(ways))
	for i, w := range ways {
		names[i] = string(w)
	}
	return names
}

// Tally counts findings by something, per opportunity: of so many audits so many had one.
type Tally struct {
	By   By    `json:"by"`
	Rows []Row `json:"rows" doc:"the most first"`
}

// Row is one line of a tally.
type Row struct {
	Key      string  `json:"key"`
	Label    string  `json:"label"`
	Findings int     `json:"findings"`
	With     int     `json:"with" doc:"audits that had one"`
	Of       int     `json:"of" doc:"audits that could have had one"`
	Share    float64 `json:"share"`
	Low      float64 `json:"low" doc:"the share at the least, with 90 % certainty for the range"`
	High     float64 `json:"high"`
	Rework   float64 `json:"rework" doc:"min to put them right"`
	// Says is set where it is more than among the other audits, beyond chance.
	Says string `json:"says,omitempty"`
}

// Counted is what audits found, counted.
type Counted struct {
	Audits   int     `json:"audits"`
	With     int     `json:"with" doc:"audits that had one"`
	Findings int     `json:"findings"`
	Rework   float64 `json:"rework" doc:"min"`
	PutRight float64 `json:"putRight" doc:"min that small misses took to put right on the spot"`
	Passed   int     `json:"passed" doc:"audits that found nothing critical or major that counts"`
	// Missed are those of them whose customer complained within a week: what was the matter was not seen.
	Missed  int      `json:"missed" doc:"passed, and its customer complained within a week"`
	Tallies []Tally  `json:"tallies"`
	Says    []string `json:"says" doc:"what is more than chance, one sentence each"`
	Few     bool     `json:"few" doc:"too few findings to say more than what they are"`
}

// fewFindings is how many there must be before shares are compared (model), falseTold the rate of false discoveries of a page.
const (
	fewFindings = 30
	falseTold   = 0.05
)

// Count counts what audits found. Of those who washed it counts only where it is asked to: that is for the lead and for nobody's
// wall. Each row's share among its own audits is held against all the others' by Fisher's exact test to one side, and those
// are told that stand when the page's false discoveries are held (stats.Discoveries).
func Count(all []Audited, which Which, washers bool) Counted {
	c := Counted{Tallies: []Tally{}, Says: []string{}}
	for _, a := range all {
		if !which.audit(a) {
			continue
		}
		c.Audits++
		had := false
		for _, f := range a.Findings {
			if which.finding(f) {
				had = true
				c.Findings++
				c.Rework += f.Rework
				c.PutRight += f.PutRight / 60
			}
		}
		c.missed(a)
		if had {
			c.With++
		}
	}
	c.Few = c.Findings < fewFindings
	for _, by := range ways {
		if by != ByWasher || washers {
			c.Tallies = append(c.Tallies, tally(all, which, by, c.Audits))
		}
	}
	if !c.Few {
		c.compare()
	}
	return c
}

// missed counts an audit that found nothing that a customer would see, and whether the customer saw something.
func (c *Counted) missed(a Audited) {
	if a.Seen() {
		return
	}
	c.Passed++
	if a.CameBack {
		c.Missed++
	}
}

// compare says which rows stand out among the audits.
func (c *Counted) compare() {
	var rows []*Row
	var chances []float64
	for t := range c.Tallies {
		tally := &c.Tallies[t]
		if tally.By == ByKind || tally.By == ByZone || tally.By == BySkill {
			continue // what was found is in all the same audits: there is nothing to hold it against
		}
		for r := range tally.Rows {
			row := &tally.Rows[r]
			if row.Of == 0 || row.Of == c.Audits {
				continue
			}
			rows = append(rows, row)
			chances = append(chances, stats.FewerByChance(row.With, row.Of, c.With-row.With, c.Audits-row.Of))
		}
	}
	for i, told := range stats.Discoveries(chances, falseTold) {
		if told {
			r := rows[i]
			r.Says = fmt.Sprintf("%s: %d of %d audits had one, %d of %d of the others: more than chance.", r.Label, r.With, r.Of,
				c.With-r.With, c.Audits-r.Of)
			c.Says = append(c.Says, r.Says)
		}
	}
}

func tally(all []Audited, which Which, by By, audits int) Tally {
	rows := map[string]*Row{}
	row := func(key, label string) *Row {
		if rows[key] == nil {
			rows[key] = &Row{Key: key, Label: label}
		}
		return rows[key]
	}
	for _, a := range all {
		if !which.audit(a) {
			continue
		}
		for _, k := range a.counted(by) {
			row(k.key, k.label).Of++
		}
		had := map[string]bool{}
		for _, f := range a.Findings {
			if !which.finding(f) {
				continue
			}
			for _, k := range of(a, f, by) {
				r := row(k.key, k.label)
				r.Findings++
				r.Rework += f.Rework
				if !had[k.key] {
					had[k.key] = true
					r.With++
				}
			}
		}
	}
	t := Tally{By: by, Rows: []Row{}}
	for _, r := range rows {
		if r.Findings == 0 {
			continue
		}
		if r.Of == 0 {
			r.Of = audits
		}
		r.Share = float64(r.With) / float64(r.Of)
		r.Low, r.High = clopperPearson(r.With, r.Of, rangeCertainty)
		t.Rows = append(t.Rows, *r)
	}
	slices.SortFunc(t.Rows, func(a, b Row) int {
		return cmp.Or(cmp.Compare(b.Findings, a.Findings), cmp.Compare(a.Label, b.Label))
	})
	return t
}

// counter is one thing that something is counted under.
type counter struct{ key, label string }

// hoursApart is how long the parts of a day are that hours are counted by.
const hoursApart = 3

// counted is what an audit is counted under; nothing where its findings decide.
func (a Audited) counted(by By) []counter {
	one := func(key, label string) []counter {
		if key == "" {
			return nil
		}
		return []counter{{key, label}}
	}
	switch by {
	case ByWasher:
		return one(a.WasherID, a.Washer)
	case ByProcedure:
		return one(a.procedure(), fmt.Sprintf("%s, version %d", a.Title, a.Version))
	case ByWeekday:
		return one(a.At.Weekday().String(), a.At.Weekday().String())
	case ByPlace:
		return one(a.Place, a.Place)
	case BySun:
		return one(string(a.Cover), string(a.Cover))
	case ByHour:
		from := a.At.Hour() / hoursApart * hoursApart
		return one(fmt.Sprint(from), fmt.Sprintf("%02d:00 to %02d:00", from, from+hoursApart))
	case ByCloths:
		return each(a.Cloths)
	case ByProduct:
		return each(a.Products)
	case ByLeft:
		return each(a.Left)
	case ByCheck:
		return each(a.Checks)
	}
	return nil
}

// each is an audit counted once under each of some names.
func each(names []string) []counter {
	counters := make([]counter, len(names))
	for i, name := range names {
		counters[i] = counter{name, name}
	}
	return counters
}

// of is what a finding of an audit is counted under.
func of(a Audited, f Traced, by By) []counter {
	switch by {
	case ByKind:
		return []counter{{string(f.Kind), string(f.Kind)}}
	case ByZone:
		return []counter{{string(f.Zone), f.Zone.Label()}}
	case BySkill:
		return []counter{{string(f.Skill), string(f.Skill)}}
	}
	return a.counted(by)
}

// Matching are the audits with those findings that are asked for and count; audits without one are left out.
func Matching(all []Audited, which Which) []Audited {
	matching := []Audited{}
	for _, a := range all {
		if !which.audit(a) {
			continue
		}
		a.Findings = slices.DeleteFunc(slices.Clone(a.Findings), func(f Traced) bool { return !which.finding(f) })
		if len(a.Findings) > 0 {
			matching = append(matching, a)
		}
	}
	return matching
}

// FoundCSV is findings as a table, a finding a row.
func FoundCSV(all []Audited) string {
	lines := [][]string{{"date", "plate", "vehicle", "washed by", "procedure", "version", "zone", "found", "how bad", "cause", "step", "skill",
		"rework, min", "note"}}
	for _, a := range all {
		for _, f := range a.Findings {
			lines = append(lines, []string{a.At.Format("2006-01-02 15:04"), a.Plate, a.Label, a.Washer, a.Title, fmt.Sprint(a.Version),
				f.Zone.Label(), string(f.Kind), string(f.Severity), f.Cause, f.StepName, string(f.Skill), fmt.Sprintf("%g", f.Rework), f.Note})
		}
	}
	return table.Text(lines)
}
