package audit

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/vehicle"
	"uskel/core/wash"
	"uskel/core/wrong"
)

// Finding is one thing found.
type Finding struct {
	Zone     vehicle.Zone     `json:"zone"`
	Kind     Kind             `json:"kind"`
	Severity Severity         `json:"severity"`
	Matter   condition.Matter `json:"matter,omitempty" doc:"For bonded matter: which"`
	Note     string           `json:"note,omitempty" maxLength:"1000"`
	// Amount is how many there are, or how much of what was looked at, %: what the item lets pass is counted in it.
	Amount float64 `json:"amount,omitempty" minimum:"0" maximum:"100" doc:"how many, or % of what was looked at; one when unsaid"`
	// Before is said of what was there before the wash, as a photo of the look-over shows: it does not count.
	Before bool `json:"before,omitempty" doc:"there before the wash, as a photo of the look-over shows"`
	// PutRight is how long it took to put right on the spot; it stays a finding, but nothing is left to do.
	PutRight float64 `json:"putRight,omitempty" minimum:"0" maximum:"1800" doc:"s that it took to put right on the spot"`
}

// Answer is the answer to one item.
type Answer struct {
	Verdict  Verdict   `json:"verdict"`
	Findings []Finding `json:"findings" maxItems:"30"`
	Note     string    `json:"note,omitempty" maxLength:"300" doc:"why it does not apply"`
	Reading  *float64  `json:"reading,omitempty" doc:"what was read, where the look asks for it"`
}

// Light is what an audit is walked in.
type Light string

// The lights. At dusk marks and smears cannot be judged (docs/trade.md, section 17).
const (
	LightUnsaid Light = ""
	Daylight    Light = "daylight"
	Lamp        Light = "lamp"
	Dusk        Light = "dusk"
)

// Values lists the lights.
func (Light) Values() []string { return []string{string(Daylight), string(Lamp), string(Dusk)} }

// Walked is how an audit is walked: its light, and what the wash does not ask for, each with why.
type Walked struct {
	Light Light             `json:"light"`
	Skips map[string]string `json:"skips"`
}

// Asks reports whether an item is to be answered.
func (w Walked) Asks(i Item) bool {
	_, skipped := w.Skips[i.ID]
	return !skipped && !w.TooDark(i)
}

// TooDark reports whether an item cannot be judged in this light.
func (w Walked) TooDark(i Item) bool { return i.Light && w.Light == Dusk }

// mostPutRight is how long something put right on the spot takes at the most, s: more is rework, and timed as such (model).
const mostPutRight = 1800.0

// Check says what is wrong with an answer.
func (a Answer) Check() error {
	if !slices.Contains(a.Verdict.Values(), string(a.Verdict)) {
		return wrong.At("verdict", "%q: use one of %q", a.Verdict, a.Verdict.Values())
	}
	if a.Verdict == NotApplicable && strings.TrimSpace(a.Note) == "" {
		return wrong.At("note", "say why it does not apply")
	}
	if a.Verdict == Found && len(a.Findings) == 0 {
		return wrong.At("findings", "a finding needs at least one zone and kind")
	}
	if a.Verdict != Found && len(a.Findings) > 0 {
		return wrong.At("findings", "%q has none; choose finding instead", a.Verdict)
	}
	for i, f := range a.Findings {
		switch {
		case !f.Zone.Known():
			return wrong.At(fmt.Sprintf("findings[%d].zone", i), "%q: no such zone", f.Zone)
		case kinds[f.Kind].skill == "":
			return wrong.At(fmt.Sprintf("findings[%d].kind", i), "%q: use one of %q", f.Kind, f.Kind.Values())
		case !slices.Contains(f.Severity.Values(), string(f.Severity)):
			return wrong.At(fmt.Sprintf("findings[%d].severity", i), "%q: use one of %q", f.Severity, f.Severity.Values())
		case !(f.Amount >= 0 && f.Amount <= 100):
			return wrong.At(fmt.Sprintf("findings[%d].amount", i), "0 to 100")
		case !(f.PutRight >= 0 && f.PutRight <= mostPutRight):
			return wrong.At(fmt.Sprintf("findings[%d].putRight", i), "0 to %.0f s; what takes longer is rework", mostPutRight)
		case f.PutRight > 0 && f.Severity == Critical:
			return wrong.At(fmt.Sprintf("findings[%d].putRight", i), "damage and danger are not put right on the spot")
		case f.Kind == BondedMatter && f.Matter == "":
			return wrong.At(fmt.Sprintf("findings[%d].matter", i), "say which bonded matter it is")
		case f.Matter != "" && !slices.Contains(f.Matter.Values(), string(f.Matter)):
			return wrong.At(fmt.Sprintf("findings[%d].matter", i), "%q: use one of %q", f.Matter, f.Matter.Values())
		}
	}
	return nil
}

// ErrWasher is why somebody may not audit a wash.
var ErrWasher = errors.New("whoever washed it does not audit it: ask someone else to walk round")

// MayAudit refuses a person who washed the vehicle (wash.Washers) with ErrWasher.
func MayAudit(auditor string, washers []string) error {
	if slices.Contains(washers, auditor) {
		return ErrWasher
	}
	return nil
}

// Traced is a finding with where it comes from.
type Traced struct {
	Finding
	Item     string          `json:"item"`
	Counts   bool            `json:"counts" doc:"False for what was declared out of scope, and for what the service ordered leaves"`
	Cause    string          `json:"cause"`
	Step     string          `json:"step,omitempty" doc:"Step of the plan it goes back to"`
	StepName string          `json:"stepName,omitempty"`
	Skill    procedure.Skill `json:"skill"`
	Rework   float64         `json:"rework" doc:"min to put it right; 0 when a wash cannot"`
}

// Result is what an audit comes to.
type Result struct {
	Score    int      `json:"score" doc:"0 to 100"`
	Passed   bool     `json:"passed"`
	Critical int      `json:"critical"`
	Major    int      `json:"major"`
	Minor    int      `json:"minor"`
	Open     []string `json:"open" doc:"Items without an answer"`
	Seen     float64  `json:"seen" doc:"share of what the list asks for that was looked at, by weight; 0 of audits from before it was kept"`
	TooDark  []string `json:"tooDark,omitempty" doc:"items that the light did not let be judged"`
	// Incomplete is an audit in which too little was looked at: it passes nothing.
	Incomplete bool     `json:"incomplete,omitempty"`
	Findings   []Traced `json:"findings"`
	Because    string   `json:"because"`
}

// Weights and bar (model): a shop may pass one major, or four minors, but not both.
const (
	majorWeight = 15
	minorWeight = 5
	passingBar  = 80
	// enoughSeen is the share of a list that must be looked at for a wash to pass.
	enoughSeen = 2.0 / 3
)

// Judge gives the result of the answers. Any critical finding fails; what was declared out of scope, what the service leaves and
// what the item lets pass do not count; what the wash does not ask for weighs nothing; where too little was looked at nothing
// passes.
func Judge(list Checklist, answers map[string]Answer, washed plan.Plan, how Walked) Result {
	r := Result{Open: []string{}, Findings: []Traced{}}
	asked, seen, off := 0, 0, 0
	for _, item := range list.Items {
		answer, given := answers[item.ID]
		if _, skipped := how.Skips[item.ID]; skipped && !given {
			continue
		}
		asked += item.weighs()
		switch {
		case given && answer.Verdict == Found, given && answer.Verdict == Pass && !how.TooDark(item):
			seen += item.weighs()
		case how.TooDark(item):
			r.TooDark = append(r.TooDark, item.ID)
		case !given:
			r.Open = append(r.Open, item.ID)
		}
		off += r.add(item, answer, washed)
	}
	r.Seen = 1
	if asked > 0 {
		r.Seen = float64(seen) / float64(asked)
	}
	r.Incomplete = r.Seen < enoughSeen
	r.Score = max(0, 100-off)
	if r.Critical > 0 {
		r.Score = 0
	}
	r.Passed = r.Critical == 0 && r.Score >= passingBar && len(r.Open) == 0 && !r.Incomplete
	r.Because = r.because(off)
	return r
}

// because is a result in words.
func (r Result) because(off int) string {
	switch {
	case r.Critical > 0:
		return fmt.Sprintf("%d critical: damage or danger fails the wash whatever else was found.", r.Critical)
	case r.Incomplete && len(r.Open) == 0:
		return fmt.Sprintf("%.0f %% of the list was looked at, by weight: %.0f %% are asked for before a wash passes.",
			100*r.Seen, 100*enoughSeen)
	case off == majorWeight*r.Major+minorWeight*r.Minor:
		return fmt.Sprintf("100 less %d for each major (%d) and %d for each minor (%d); %d or more passes.",
			majorWeight, r.Major, minorWeight, r.Minor, passingBar)
	}
	return fmt.Sprintf("100 less %d: %d for each major (%d) and %d for each minor (%d), times what its item weighs; %d or more passes.",
		off, majorWeight, r.Major, minorWeight, r.Minor, passingBar)
}

// add takes an item's findings into a result, and gives what they take off the score.
func (r *Result) add(item Item, answer Answer, washed plan.Plan) (off int) {
	amounts := map[Kind]float64{}
	for _, f := range answer.Findings {
		if !f.Before {
			amounts[f.Kind] += cmp.Or(f.Amount, 1)
		}
	}
	for _, f := range answer.Findings {
		t := trace(f, washed)
		t.Item = item.ID
		if l, is := item.let(f.Kind); is && t.Counts && f.Severity != Critical && within(l, f, amounts[f.Kind]) {
			t.Counts, t.Rework, t.Cause = false, 0, "let pass by the list: "+l.Words()
		}
		r.Findings = append(r.Findings, t)
		off += item.weighs() * r.count(t)
	}
	return off
}

// within reports whether all that was found of a kind is let pass. A share that nobody put a number to is not.
func within(l Let, f Finding, amount float64) bool {
	return amount <= l.Most && (l.Unit == InNumber || f.Amount > 0)
}

// count counts a finding, and gives what its severity takes off the score.
func (r *Result) count(t Traced) int {
	if !t.Counts {
		return 0
	}
	switch t.Severity {
	case Critical:
		r.Critical++
	case Major:
		r.Major++
		return majorWeight
	case Minor:
		r.Minor++
		return minorWeight
	}
	return 0
}

// trace finds the step of the plan and the skill that a finding goes back to.
func trace(f Finding, washed plan.Plan) Traced {
	facts := kinds[f.Kind]
	t := Traced{
		Finding: f,
		Counts:  !f.Before && !declared(f, washed.OutScope) && !accepted(f, washed.Ordered),
		Cause:   facts.cause,
		Skill:   facts.skill,
		Rework:  facts.rework,
	}
	best := 0
	for _, s := range washed.Steps {
		if likely := facts.likely(s, f.Zone); likely > best {
			best, t.Step, t.StepName = likely, s.ID, s.Title
		}
	}
	switch {
	case f.Before:
		t.Cause, t.Rework = "there before the wash: a photo of the look-over shows it", 0
	case declared(f, washed.OutScope):
		t.Cause, t.Rework = "declared out of scope at look-over", 0
	case !t.Counts:
		t.Cause, t.Rework = "left by what was ordered: "+washed.Ordered.Name, 0
	case f.PutRight > 0:
		t.Rework = 0
	}
	return t
}

// likely is how well a step fits a finding on a zone: it asks for the skill, it does what the finding comes from, and it
// was done there; 0 when it cannot be.
func (k kindFacts) likely(s plan.FilledStep, zone vehicle.Zone) int {
	if s.Skill != k.skill {
		return 0
	}
	likely := 1
	if s.Technique == k.technique {
		likely += 2
	}
	if slices.Contains(s.Zones, zone) {
		likely++
	}
	return likely
}

func declared(f Finding, out []condition.OutOfScope) bool {
	if f.Kind != BondedMatter {
		return false
	}
	return slices.ContainsFunc(
		out,
		func(o condition.OutOfScope) bool { return o.Matter == f.Matter && slices.Contains(o.Zones, f.Zone) },
	)
}

// accepted reports whether a service leaves what was found: touchless leaves a film, a ten-minute wash leaves drips, shuts
// and tyres, rinseless reaches only so deep into a barrel (docs/trade.md, section 17). What does harm is never accepted, and of
// a film and of dust no more than is found on a close look.
func accepted(f Finding, ordered condition.Service) bool {
	if f.Severity == Critical {
		return false
	}
	part := zonePart(f.Zone)
	dirt := f.Kind == DirtLeft || f.Kind == DirtyTowel
	outside := procedure.Outside.Has(part)
	return slices.ContainsFunc(ordered.Leaves, func(l condition.Leave) bool {
		switch l {
		case condition.LeavesFilm:
			return dirt && outside && f.Severity == Minor
		case condition.LeavesBugs:
			return f.Kind == BondedMatter && f.Matter == condition.Bugs
		case condition.LeavesDrips:
			return f.Kind == Drips
		case condition.LeavesShuts:
			return f.Kind == GreasyShuts || procedure.AllShuts.Has(part)
		case condition.LeavesTyres:
			return dirt && procedure.Tyres.Has(part)
		case condition.LeavesBarrels:
			return f.Kind == BrakeDust && f.Severity == Minor
		case condition.LeavesTips:
			return dirt && procedure.TipsOnly.Has(part)
		case condition.LeavesBody:
			return outside && (dirt || f.Kind == BondedMatter)
		}
		return false
	})
}

// zonePart is a zone as some body has it: what it is made of and how high it is are the same on all.
func zonePart(z vehicle.Zone) vehicle.Part {
	for _, name := range vehicle.Body("").Values() {
		if part, err := vehicle.Body(name).Part(z); err == nil {
			return part
		}
	}
	return vehicle.Part{}
}

// reworkStep is the id of the step that puts a finding right, by its place among those of its audit.
func reworkStep(round, finding int) string { return fmt.Sprintf("rework-%d-%d", round, finding+1) }

// Reworked is the findings of a first audit with what putting them right really took, by the taps: min by the id of the step. What
// nobody has done yet stays as it was foreseen, unless the vehicle is through: then it was not done.
func Reworked(findings []Traced, took map[string]float64, through bool) []Traced {
	all := slices.Clone(findings)
	for i, f := range all {
		if !f.Counts || f.Rework == 0 {
			continue
		}
		if minutes, done := took[reworkStep(1, i)]; done {
			all[i].Rework = minutes
		} else if through {
			all[i].Rework = 0
		}
	}
	return all
}

// Rework turns the findings that count and can be put right into timed steps on the same wash. Each round of audits
// has steps of its own.
func Rework(r Result, round int) []wash.PlannedStep {
	var steps []wash.PlannedStep
	for i, f := range r.Findings {
		if f.Counts && f.Rework > 0 {
			steps = append(steps, wash.PlannedStep{ID: reworkStep(round, i), Stage: "Rework",
				Title: fmt.Sprintf("%s: %s", f.Zone.Label(), f.Kind), Minutes: f.Rework, Rework: true})
		}
	}
	return steps
}
