package timing

import (
	"cmp"
	"slices"
	"time"

	"uskel/core/procedure"
	"uskel/core/wash"
)

// StepTime is one step of one finished wash with what its time is compared by. Pauses stand apart from work.
type StepTime struct {
	Step      string              `json:"step"`
	Stage     string              `json:"stage"`
	Title     string              `json:"title"`
	Parts     []PartTime          `json:"parts,omitempty" doc:"in a round: the parts of the car that it was done for, together the step"`
	Technique procedure.Technique `json:"technique,omitempty"`
	Product   string              `json:"product,omitempty" doc:"its name then"`
	ProductID string              `json:"productId,omitempty"`
	By        string              `json:"by,omitempty" doc:"who did most of it"`
	Written   float64             `json:"written" doc:"min by the procedure as written"`
	Planned   float64             `json:"planned" doc:"min by the shop's standard at the time"`
	Actual    float64             `json:"actual" doc:"min hands-on"`
	Paused    float64             `json:"paused,omitempty" doc:"min"`
	Area      float64             `json:"area,omitempty" doc:"m2"`
	Rinses    int                 `json:"rinses,omitempty" doc:"of the mitt, tapped"`
	Asked     int                 `json:"asked,omitempty" doc:"rinses that the plan asked for"`
	Rinsing   float64             `json:"rinsing,omitempty" doc:"min that the planned rinses or fresh cloths take"`
	Shared    bool                `json:"shared,omitempty" doc:"More than one person worked on it: it says nothing of one person's time"`
	Loose     bool                `json:"loose,omitempty" doc:"Its time is not its own: closed together with others of its part, or estimated"`
	Rework    bool                `json:"rework,omitempty"`
}

// PartTime is what a step took for one part of the car.
type PartTime struct {
	Part    string  `json:"part"`
	Written float64 `json:"written" doc:"min"`
	Actual  float64 `json:"actual" doc:"min hands-on"`
}

// join adds what the step took for another part of the car. Where somebody else did most of it there, two worked on it.
func (t *StepTime) join(part StepTime) {
	t.Written, t.Planned, t.Actual = round2(t.Written+part.Written), round2(t.Planned+part.Planned), round2(t.Actual+part.Actual)
	t.Paused, t.Area, t.Rinsing = round2(t.Paused+part.Paused), round2(t.Area+part.Area), round2(t.Rinsing+part.Rinsing)
	t.Rinses, t.Asked = t.Rinses+part.Rinses, t.Asked+part.Asked
	t.Shared = t.Shared || part.Shared || part.By != t.By
	t.Loose = t.Loose || part.Loose
	t.Parts = append(t.Parts, part.Parts...)
}

// WashTimes is what stays to hand of a wash: its stage and step times and how its dwells went.
type WashTimes struct {
	Stages   []StageTime     `json:"stages"`
	Steps    []StepTime      `json:"steps"`
	Dwelling []wash.Dwelling `json:"dwelling"`
	Planned  float64         `json:"planned" doc:"min of the steps that were done, rework aside"`
	Minutes  float64         `json:"minutes" doc:"hands-on, rework aside"`
	Elapsed  float64         `json:"elapsed" doc:"min from the first tap to the end of the last step, rework aside"`
	Idle     float64         `json:"idle" doc:"min in which product worked and nobody did"`
	Waits    float64         `json:"waits" doc:"min in which nothing happened: no hands, no product, no pause"`
	Kept     int             `json:"kept" doc:"dwells kept"`
	Missed   int             `json:"missed" doc:"dwells early or overrun"`
}

// Of gathers the times of a wash.
func Of(steps []wash.PlannedStep, state wash.State) WashTimes {
	t := WashTimes{Stages: Stages(steps, state), Steps: stepTimes(steps, state), Dwelling: state.Dwelling}
	for i, s := range steps {
		if s.Rework {
			continue // it comes after the wash is closed, and is counted apart
		}
		if state.Steps[i].Status == wash.Ended {
			t.Planned += s.Minutes
		}
		t.Minutes += state.Steps[i].HandsOn.Minutes()
	}
	t.Planned, t.Minutes = round2(t.Planned), round2(t.Minutes)
	for _, d := range t.Dwelling {
		if d.Verdict == wash.Kept {
			t.Kept++
		} else {
			t.Missed++
		}
	}
	if whole := extent(steps, state); !whole.from.IsZero() && whole.to.After(whole.from) {
		t.Elapsed = round2(whole.to.Sub(whole.from).Minutes())
		t.Idle, t.Waits = idle(whole, state)
	}
	return t
}

// extent is from the first tap to the end of the last planned step: rework comes after an audit and is counted apart.
func extent(steps []wash.PlannedStep, state wash.State) span {
	whole := span{from: state.Started}
	for i, s := range steps {
		if end := state.Steps[i].Ended; !s.Rework && state.Steps[i].Status == wash.Ended && end.After(whole.to) {
			whole.to = end
		}
	}
	return whole
}

func stepTimes(steps []wash.PlannedStep, state wash.State) []StepTime {
	times := []StepTime{}
	by := map[string]map[string]time.Duration{}
	for _, s := range state.Stretches {
		if by[s.Step] == nil {
			by[s.Step] = map[string]time.Duration{}
		}
		by[s.Step][s.By] += s.To.Sub(s.From)
	}
	for i, s := range steps {
		did := state.Steps[i]
		if did.Status != wash.Ended {
			continue
		}
		t := StepTime{
			Step:      cmp.Or(s.Base, s.ID),
			Stage:     s.Stage,
			Title:     cmp.Or(s.Whole, s.Title),
			Technique: s.Technique,
			Product:   s.Product,
			ProductID: s.ProductID,
			By:        did.By,
			Written:   round2(s.Written),
			Planned:   round2(s.Minutes),
			Actual: round2(
				did.HandsOn.Minutes(),
			),
			Paused:  round2(did.Paused.Minutes()),
			Area:    round2(s.Area),
			Rinses:  did.Rinses,
			Asked:   s.Rinses,
			Rinsing: s.Rinsing,
			Loose:   did.Loose || did.Estimated,
			Rework:  s.Rework,
		}
		if t.Written == 0 {
			t.Written = t.Planned // a wash from before the two were told apart
		}
		most := time.Duration(-1)
		for who, length := range by[s.ID] {
			if length > most || length == most && who < t.By {
				t.By, most = who, length
			}
		}
		t.Shared = len(by[s.ID]) > 1
		if s.Part != "" {
			t.Parts = []PartTime{{s.Part, t.Written, t.Actual}}
			if at := slices.IndexFunc(times, func(x StepTime) bool { return x.Step == t.Step && len(x.Parts) > 0 }); at >= 0 {
				times[at].join(t)
				continue
			}
		}
		times = append(times, t)
	}
	return times
}

// span is a stretch of time.
type span struct{ from, to time.Time }

// idle gives the minutes between the first tap and the last in which product worked and nobody did, and those in
// which nothing happened at all. A pause is neither: it stands apart already.
func idle(whole span, state wash.State) (product, nothing float64) {
	var hands, wet []span
	for _, s := range state.Stretches {
		hands = append(hands, span{s.From, s.To})
	}
	for _, s := range state.Steps {
		if !s.Started.IsZero() && s.Paused > 0 {
			hands = append(hands, span{s.Started, s.Ended})
		}
	}
	for _, d := range state.Dwelling {
		end := d.Ended
		if end.IsZero() {
			end = whole.to
		}
		wet = append(wet, span{d.Since, end})
	}
	busy, either := covered(whole, hands), covered(whole, append(slices.Clone(hands), wet...))
	return round2((either - busy).Minutes()), round2((whole.to.Sub(whole.from) - either).Minutes())
}

// covered is how much of a span others cover together.
func covered(whole span, others []span) time.Duration {
	slices.SortFunc(others, func(a, b span) int { return a.from.Compare(b.from) })
	sum, until := time.Duration(0), whole.from
	for _, o := range others {
		from, to := o.from, o.to
		if from.Before(until) {
			from = until
		}
		if to.After(whole.to) {
			to = whole.to
		}
		if to.After(from) {
			sum += to.Sub(from)
			until = to
		}
	}
	return sum
}

// Wash is a finished wash as the statistics of many see it.
type Wash struct {
	ID        string
	Label     string
	Finished  time.Time
	Waited    float64 // min the vehicle stood before the first tap, after it came and its slot began
	Late      float64 // min by which it was finished after what was promised; below 0 before
	Person    string  // id
	Name      string
	Trainee   bool
	Learners  []string // ids of everybody who is still a trainee
	Procedure string
	Title     string
	Version   int
	Grade     int
	Body      string
	Place     string
	Air       float64 // degC, 0 when it was not kept
	Findings  int
	Score     *int
	Times     WashTimes
}

// Rinses are the rinses of the mitt that were tapped and those that the plan asked for, over steps where any were
// tapped: a washer who taps none says nothing.
func (w Wash) Rinses() (tapped, asked int) {
	for _, s := range w.Times.Steps {
		if s.Rinses > 0 {
			tapped, asked = tapped+s.Rinses, asked+s.Asked
		}
	}
	return tapped, asked
}

// Practised are the washes that nobody learning was given: standards and charts come from qualified people
// (International Labour Office, Introduction to Work Study, on whom to time), and trainees' times have a page of
// their own.
func Practised(washes []Wash) []Wash {
	return slices.DeleteFunc(slices.Clone(washes), func(w Wash) bool { return w.Trainee })
}
