package timing

import (
	"fmt"
	"math"
	"slices"
	"time"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"uskel/core/stats"
	"uskel/core/wrong"
)

// Form is how a standard time is made.
type Form string

// The forms: as the procedure says, a factor on what it says, or fitted to area and grade.
const (
	AsWritten Form = "written"
	Factored  Form = "factor"
	Fitted    Form = "fitted"
)

// Values lists the forms.
func (Form) Values() []string { return []string{string(AsWritten), string(Factored), string(Fitted)} }

// Standard is the shop's own time for a step, wherever a procedure has it: what plans and promises count with.
type Standard struct {
	Step     string  `json:"step" minLength:"1" maxLength:"80"`
	Form     Form    `json:"form"`
	Factor   float64 `json:"factor,omitempty" minimum:"0" maximum:"10" doc:"on the written minutes"`
	Fixed    float64 `json:"fixed,omitempty" minimum:"0" maximum:"120" doc:"min"`
	PerM2    float64 `json:"perM2,omitempty" minimum:"0" maximum:"60" doc:"min for each m2"`
	PerGrade float64 `json:"perGrade,omitempty" minimum:"0" maximum:"60" doc:"min for each grade of soil"`
}

// Written is the standard of a step that goes by its procedure.
func Written(step string) Standard { return Standard{Step: step, Form: AsWritten} }

// Bounds of a factor that may stand: past them the procedure is wrong, not its time (model).
const (
	leastFactor = 0.3
	mostFactor  = 3
)

// Check names what cannot be a standard.
func (s Standard) Check() error {
	switch {
	case s.Step == "":
		return wrong.At("step", "say whose time it is")
	case !slices.Contains(s.Form.Values(), string(s.Form)):
		return wrong.At("form", "%q: use one of %q", s.Form, s.Form.Values())
	case s.Form == Factored && !(s.Factor >= leastFactor && s.Factor <= mostFactor):
		return wrong.At("factor", "%g: from %g to %g; past that, write the procedure anew", s.Factor, leastFactor, float64(mostFactor))
	case s.Form == Fitted && !(s.Fixed >= 0 && s.PerM2 >= 0 && s.PerGrade >= 0 && s.Fixed+s.PerM2+s.PerGrade > 0):
		return fmt.Errorf("fixed, perM2, perGrade: zero or more, and not all zero")
	}
	return nil
}

// Minutes is the standard time of the step on one vehicle: written minutes, m2, overall grade.
func (s Standard) Minutes(written, area float64, grade int) float64 {
	switch s.Form {
	case Factored:
		return written * s.Factor
	case Fitted:
		return s.Fixed + s.PerM2*area + s.PerGrade*float64(grade)
	}
	return written
}

// Of is the standard of one of several parts that a step is done in: what does not grow with the area is shared out.
func (s Standard) Of(parts float64) Standard {
	s.Fixed, s.PerGrade = s.Fixed/parts, s.PerGrade/parts
	return s
}

// Words says the standard as a lead would.
func (s Standard) Words() string {
	switch s.Form {
	case Factored:
		return fmt.Sprintf("%.0f %% of the written time", 100*s.Factor)
	case Fitted:
		return fmt.Sprintf(
			"%.1f min to begin with, %.2f min for each m², %.1f min for each grade",
			s.Fixed,
			s.PerM2,
			s.PerGrade,
		)
	}
	return "as written"
}

// Standards are the shop's by step; a step without one goes by its procedure.
type Standards map[string]Standard

// Rebase gives washes as if today's standards had been planned with, so that a standard that was raised does not
// count a second time in paces and spreads.
func (s Standards) Rebase(washes []Wash) []Wash {
	rebased := slices.Clone(washes)
	for i := range rebased {
		t := &rebased[i].Times
		more := map[string]float64{}
		t.Steps = slices.Clone(t.Steps)
		for k := range t.Steps {
			step := &t.Steps[k]
			was := step.Planned
			step.Planned = step.Written
			if own, has := s[step.Step]; has && !step.Rework {
				step.Planned = own.Minutes(step.Written-step.Rinsing, step.Area, rebased[i].Grade) + step.Rinsing
			}
			more[step.Stage] += step.Planned - was
			t.Planned += step.Planned - was
		}
		t.Stages = slices.Clone(t.Stages)
		for k := range t.Stages {
			t.Stages[k].Planned = max(0, t.Stages[k].Planned+more[t.Stages[k].Stage])
		}
	}
	return rebased
}

// Observation is one timing of a step.
type Observation struct {
	Wash     *Wash
	Step     *StepTime
	Learning bool // by a trainee
	Outlier  bool
}

// Ratio is how long it took over the written time.
func (o Observation) Ratio() float64 { return o.actual() / o.written() }

// actual and written are the minutes that a standard is made of. In a contact step the rinses of the mitt that were
// planned are taken out of both: their number is the plan's, not the hand's speed.
func (o Observation) actual() float64  { return o.Step.Actual - o.Step.Rinsing }
func (o Observation) written() float64 { return o.Step.Written - o.Step.Rinsing }

// farOut is the modified z-score past which a timing is an outlier (Iglewicz and Hoaglin, by the NIST/SEMATECH
// e-Handbook of Statistical Methods, 1.3.5.17), and toNormal makes a median absolute deviation comparable with a
// standard deviation.
const (
	farOut   = 3.5
	toNormal = 0.6745
)

// OutlierRule says the rule in words.
const OutlierRule = "set apart when 0.6745 × the distance of its logarithm from the median's is over 3.5 times " +
	"the median distance, over more when there are few; or when it is four times the median or a quarter of it"

// farOutOf is how far out a timing must lie among so many: the typical distance of a few says little, and cutting by
// it would take the long ones, of which times have more than short ones, out of the mean (model; that intervals hold
// what they say is tested).
func farOutOf(n int) float64 { return farOut * (1 + 10/float64(n)) }

// interrupted is how many times the middle timing one must be, or what part of it, to be no timing of the step
// whatever the others are: somebody was called away, or tapped two steps at once (model).
const interrupted = 4

// outliers marks values far out. Times are skewed: their logarithms are looked at, so that a long one is no more
// suspicious than a short one.
func outliers(values []float64) []bool {
	far := make([]bool, len(values))
	if len(values) < 4 {
		return far
	}
	logs := make([]float64, len(values))
	for i, v := range values {
		logs[i] = math.Log(v)
	}
	middle := stats.Median(logs)
	distances := make([]float64, len(values))
	for i, v := range logs {
		distances[i] = math.Abs(v - middle)
	}
	typical := stats.Median(distances)
	for i := range values {
		far[i] = distances[i] >= math.Log(interrupted) ||
			typical > 0 && toNormal*distances[i]/typical > farOutOf(len(values))
	}
	return far
}

// Tells reports whether a timing says something of its step's standard: steps that more than one person did,
// reworked, untimed, unattended or closed together with others do not, and those that took no longer than their planned
// rinses alone.
func (s *StepTime) Tells() bool {
	return s.Actual > s.Rinsing && s.Written > s.Rinsing && !s.Shared && !s.Rework && !s.Loose
}

// SetApart are the timings that lie far out among all of their step.
func SetApart(washes []Wash) map[*StepTime]bool {
	apart := map[*StepTime]bool{}
	for _, list := range Observe(washes) {
		for _, o := range list {
			if o.Outlier {
				apart[o.Step] = true
			}
		}
	}
	return apart
}

// Observe lists the timings of each step that tell, oldest first, with outliers marked.
func Observe(washes []Wash) map[string][]Observation {
	byStep := map[string][]Observation{}
	for i := range washes {
		for k := range washes[i].Times.Steps {
			s := &washes[i].Times.Steps[k]
			if s.Tells() {
				byStep[s.Step] = append(
					byStep[s.Step],
					Observation{Wash: &washes[i], Step: s, Learning: slices.Contains(washes[i].Learners, s.By)},
				)
			}
		}
	}
	for _, list := range byStep {
		slices.SortStableFunc(list, func(a, b Observation) int { return a.Wash.Finished.Compare(b.Wash.Finished) })
		ratios := make([]float64, len(list))
		for i, o := range list {
			ratios[i] = o.Ratio()
		}
		for i, far := range outliers(ratios) {
			list[i].Outlier = far
		}
	}
	return byStep
}

// Rating bounds: a person rated past them is learning or hurrying, and the rating would carry it into the standard
// (common practice, no source).
const (
	leastRating = 60
	mostRating  = 130
	ratedFrom   = 20 // timings
)

// Ratings are how fast each person works, 100 for the shop's typical practised person: what a step typically takes
// practised people over what it takes this one, the middle one over their steps.
func Ratings(byStep map[string][]Observation) map[string]float64 {
	relative := map[string][]float64{}
	for _, list := range byStep {
		practised := []float64{}
		for _, o := range list {
			if o.counts() {
				practised = append(practised, o.Ratio())
			}
		}
		if len(practised) < paceFrom {
			continue
		}
		typical := stats.Median(practised)
		for _, o := range list {
			if !o.Outlier {
				relative[o.Step.By] = append(relative[o.Step.By], typical/o.Ratio())
			}
		}
	}
	ratings := map[string]float64{}
	for who, list := range relative {
		ratings[who] = 100
		if len(list) >= ratedFrom {
			ratings[who] = math.Round(min(max(100*stats.Median(list), leastRating), mostRating))
		}
	}
	return ratings
}

// Needed is how many observations give the mean within 5 % at 95 % confidence, by the method of the International
// Labour Office (Introduction to Work Study): n = (40 sqrt(n' Σx² − (Σx)²) / Σx)² from n' readings.
func Needed(readings []float64) float64 {
	n, sum, squares := float64(len(readings)), 0.0, 0.0
	for _, x := range readings {
		sum += x
		squares += x * x
	}
	if sum == 0 {
		return 0
	}
	root := 40 * math.Sqrt(max(0, n*squares-sum*sum)) / sum
	return root * root
}

// Interval is the 95 % confidence interval of a mean, by Student's t; the mean itself twice for a single value.
func Interval(values []float64) (low, high float64) {
	mean, sd := stat.MeanStdDev(values, nil)
	n := float64(len(values))
	if n < 2 {
		return mean, mean
	}
	half := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 1}.Quantile(0.975) * sd / math.Sqrt(n)
	return mean - half, mean + half
}

// LogInterval is a 95 % confidence interval of the mean of skewed times, taken as lognormal: Cox's method for
// logarithms with Student's t (Olsson, Confidence Intervals for the Mean of a Log-Normal Distribution, Journal of
// Statistics Education, 2005). Times must be above zero; a single one is given twice.
func LogInterval(times []float64) (low, high float64) {
	n := float64(len(times))
	if n < 2 {
		return meanOf(times), meanOf(times)
	}
	logs := make([]float64, len(times))
	for i, t := range times {
		logs[i] = math.Log(t)
	}
	mean, variance := stat.MeanVariance(logs, nil)
	wide := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 1}.Quantile(0.975)
	half := wide * math.Sqrt(variance/n+variance*variance/(2*(n-1)))
	middle := mean + variance/2
	return math.Exp(middle - half), math.Exp(middle + half)
}

// What is known of steps before they are timed (model): a shop's time for a step lies about this share around the
// written one, and a single timing this share around the shop's.
const (
	betweenShops  = 0.2
	betweenWashes = 0.25
)

// shrink draws a mean of n timings towards 1, what is written, the more the fewer there are: weight = between² /
// (between² + within²/n).
func shrink(mean float64, n int) (to, weight float64) {
	if n == 0 {
		return 1, 0
	}
	weight = betweenShops * betweenShops / (betweenShops*betweenShops + betweenWashes*betweenWashes/float64(n))
	return 1 + weight*(mean-1), weight
}

// worthwhile is the least difference for which a standard is worth changing, as a share: the precision that is asked
// of it.
const worthwhile = 0.05

// Allowances are what a shop's pauses add to its hands-on time, as a share: the allowances of a shop that has not set
// any.
func Allowances(washes []Wash) float64 {
	worked, paused := 0.0, 0.0
	for _, w := range washes {
		for _, s := range w.Times.Steps {
			worked, paused = worked+s.Actual, paused+s.Paused
		}
	}
	if worked == 0 {
		return 0
	}
	return paused / worked
}

// Far is a timing that was set apart.
type Far struct {
	Wash    string    `json:"wash" doc:"id"`
	Label   string    `json:"label"`
	At      time.Time `json:"at"`
	Minutes float64   `json:"minutes"`
	Written float64   `json:"written" doc:"min"`
}

// mostFar is how many of them are shown.
const mostFar = 5

// StandardProposal is a standard time that the taps ask for, beside the one in use.
type StandardProposal struct {
	Step      string     `json:"step"`
	Title     string     `json:"title"`
	Stage     string     `json:"stage"`
	N         int        `json:"n" doc:"timings counted"`
	Outliers  int        `json:"outliers" doc:"timings set apart"`
	Learning  int        `json:"learning" doc:"timings of trainees, not counted"`
	Far       []Far      `json:"far" doc:"the newest timings that were set apart"`
	Needed    int        `json:"needed" doc:"timings for ±5 % at 95 %"`
	Written   float64    `json:"written" doc:"min, mean over these washes"`
	InUse     float64    `json:"inUse" doc:"min by the standard in use, mean over these washes"`
	Observed  float64    `json:"observed" doc:"min, mean"`
	Rating    float64    `json:"rating" doc:"of those who did them, mean; 100 is the shop's typical practised person"`
	Normal    float64    `json:"normal" doc:"min, observed x rating / 100"`
	Standard  float64    `json:"standard" doc:"min, normal x (1 + allowances), drawn to the written time when there are few"`
	Low       float64    `json:"low" doc:"min, 95 % interval of normal x (1 + allowances)"`
	High      float64    `json:"high" doc:"min"`
	Weight    float64    `json:"weight" doc:"0 to 1, what the timings weigh beside the written time"`
	Parts     []PartPace `json:"parts,omitempty" doc:"Where it is done part by part: how each part stands to its written time"`
	Fit       *Fit       `json:"fit,omitempty" doc:"minutes by area and grade, where the data suffice"`
	Propose   Standard   `json:"propose"`
	Words     string     `json:"words"`
	Current   Standard   `json:"current"`
	Uses      string     `json:"uses" doc:"the standard in use, in words"`
	Different bool       `json:"different" doc:"The one in use lies outside the interval and at least 5 % off, and there are enough timings"`
}

// counts reports whether a timing counts for a standard: those of trainees and outliers do not.
func (o Observation) counts() bool { return !o.Outlier && !o.Learning }

// normal is the timing at the shop's typical speed, min. Somebody without a rating is taken to be typical.
func (o Observation) normal(ratings map[string]float64) (minutes, rating float64) {
	rating = ratings[o.Step.By]
	if rating == 0 {
		rating = 100
	}
	return o.actual() * rating / 100, rating
}

// PartPace is how long one part of the car takes beside its written time, over all washes in which it was timed.
type PartPace struct {
	Part  string  `json:"part"`
	N     int     `json:"n"`
	Ratio float64 `json:"ratio" doc:"minutes over the written ones, in all"`
}

// pacesOf tells the parts of a step apart: the rear wheels take longer.
func pacesOf(list []Observation) []PartPace {
	var paces []PartPace
	written := map[string]float64{}
	for _, o := range list {
		if !o.counts() {
			continue
		}
		for _, part := range o.Step.Parts {
			at := slices.IndexFunc(paces, func(p PartPace) bool { return p.Part == part.Part })
			if at < 0 {
				paces, at = append(paces, PartPace{Part: part.Part}), len(paces)
			}
			paces[at].N++
			paces[at].Ratio += part.Actual
			written[part.Part] += part.Written
		}
	}
	for i := range paces {
		if all := written[paces[i].Part]; all > 0 {
			paces[i].Ratio = round2(paces[i].Ratio / all)
		}
	}
	return paces
}

// Propose works the standard time of a step out: observed x rating x (1 + allowances). Allowances are a share, 0.11
// for 11 %.
func Propose(list []Observation, ratings map[string]float64, allowances float64, current Standard) StandardProposal {
	last := list[len(list)-1].Step
	p := StandardProposal{
		Step:    last.Step,
		Title:   last.Title,
		Stage:   last.Stage,
		Current: current,
		Uses:    current.Words(),
		Propose: current,
		Far:     []Far{},
	}
	p.Parts = pacesOf(list)
	normal := p.observe(list, ratings) // over written
	if p.N > 0 {
		p.conclude(normal, allowances)
		if p.Fit = fitStep(list, ratings, allowances); p.Fit != nil {
			p.Propose = Standard{
				Step:     p.Step,
				Form:     Fitted,
				Fixed:    round2(p.Fit.Fixed),
				PerM2:    round3(p.Fit.PerM2),
				PerGrade: round2(p.Fit.PerGrade),
			}
		}
	}
	p.Words = p.Propose.Words()
	for _, x := range []*float64{&p.Written, &p.InUse, &p.Observed, &p.Rating, &p.Normal, &p.Standard, &p.Low, &p.High, &p.Weight} {
		*x = round2(*x)
	}
	return p
}

// observe takes the means of the timings that count, and tells of those that do not. It gives each one's normal time
// over the written one.
func (p *StandardProposal) observe(list []Observation, ratings map[string]float64) []float64 {
	var over, written, inUse, observed, rated, normal []float64
	for _, o := range list {
		switch {
		case o.Outlier:
			p.Outliers++
			p.Far = append([]Far{{o.Wash.ID, o.Wash.Label, o.Wash.Finished, o.Step.Actual, o.Step.Written}}, p.Far...)
		case o.Learning:
			p.Learning++
		default:
			minutes, rating := o.normal(ratings)
			over = append(over, minutes/o.written())
			written, observed, normal = append(
				written,
				o.written(),
			), append(
				observed,
				o.actual(),
			), append(
				normal,
				minutes,
			)
			inUse, rated = append(
				inUse,
				p.Current.Minutes(o.written(), o.Step.Area, o.Wash.Grade),
			), append(
				rated,
				rating,
			)
		}
	}
	p.Far = p.Far[:min(mostFar, len(p.Far))]
	p.N, p.Written, p.InUse = len(over), meanOf(written), meanOf(inUse)
	p.Observed, p.Rating, p.Normal = meanOf(observed), meanOf(rated), meanOf(normal)
	return over
}

// conclude works the standard out of the normal times over the written ones.
func (p *StandardProposal) conclude(normal []float64, allowances float64) {
	low, high := LogInterval(normal)
	factor, weight := shrink(stat.Mean(normal, nil)*(1+allowances), p.N)
	p.Low, p.High = p.Written*low*(1+allowances), p.Written*high*(1+allowances)
	p.Standard, p.Weight = p.Written*factor, weight
	p.Needed = int(math.Ceil(Needed(normal)))
	p.Propose = Standard{Step: p.Step, Form: Factored, Factor: round2(min(max(factor, leastFactor), mostFactor))}
	p.Different = p.N >= 2 && p.N >= p.Needed && (p.InUse < p.Low || p.InUse > p.High) &&
		abs(p.Standard/p.InUse-1) >= worthwhile
}

// Costs is how far all these timings were from the standard in use, min.
func (p StandardProposal) Costs() float64 { return abs(p.Normal-p.InUse) * float64(p.N) }

func round3(x float64) float64 { return math.Round(x*1000) / 1000 }

// Fit is minutes as a straight line over area and grade.
type Fit struct {
	Fixed    float64 `json:"fixed" doc:"min"`
	PerM2    float64 `json:"perM2" doc:"min for each m2"`
	PerGrade float64 `json:"perGrade" doc:"min for each grade"`
	R2       float64 `json:"r2" doc:"share of the variation that the line explains"`
	Residual float64 `json:"residual" doc:"min, standard deviation round the line"`
	N        int     `json:"n"`
}

// What a fit asks for (model): enough timings, areas that differ, at least two grades, a line that explains something.
const (
	fitFrom   = 25
	fitAreas  = 1.25
	fitLeast  = 0.25
	fitColumn = 3
)

func fitStep(list []Observation, ratings map[string]float64, allowances float64) *Fit {
	var minutes, area, grade []float64
	for _, o := range list {
		if !o.counts() || o.Step.Area == 0 {
			continue
		}
		normal, _ := o.normal(ratings)
		minutes = append(minutes, normal*(1+allowances))
		area, grade = append(area, o.Step.Area), append(grade, float64(o.Wash.Grade))
	}
	if len(minutes) < fitFrom || slices.Max(area) < fitAreas*slices.Min(area) ||
		slices.Max(grade) == slices.Min(grade) {
		return nil
	}
	fit, err := FitLine(minutes, area, grade)
	if err != nil || fit.Fixed < 0 || fit.PerM2 < 0 || fit.PerGrade < 0 || fit.R2 < fitLeast {
		return nil // a line that says that more to wash takes less time is no standard
	}
	return &fit
}

// FitLine fits minutes = fixed + perM2 x area + perGrade x grade by least squares.
func FitLine(minutes, area, grade []float64) (Fit, error) {
	n := len(minutes)
	if n <= fitColumn || len(area) != n || len(grade) != n {
		return Fit{}, fmt.Errorf(
			"a line over area and grade needs at least %d timings, each with area and grade",
			fitColumn+1,
		)
	}
	x := mat.NewDense(n, fitColumn, nil)
	for i := range n {
		x.SetRow(i, []float64{1, area[i], grade[i]})
	}
	var qr mat.QR
	qr.Factorize(x)
	var b mat.VecDense
	if err := qr.SolveVecTo(&b, false, mat.NewVecDense(n, minutes)); err != nil {
		return Fit{}, fmt.Errorf("area and grade do not differ enough to tell them apart: %w", err)
	}
	mean, left, all := stat.Mean(minutes, nil), 0.0, 0.0
	for i := range n {
		off := minutes[i] - b.AtVec(0) - b.AtVec(1)*area[i] - b.AtVec(2)*grade[i]
		left += off * off
		all += (minutes[i] - mean) * (minutes[i] - mean)
	}
	fit := Fit{
		Fixed:    b.AtVec(0),
		PerM2:    b.AtVec(1),
		PerGrade: b.AtVec(2),
		N:        n,
		Residual: math.Sqrt(left / float64(n-fitColumn)),
	}
	if all > 0 {
		fit.R2 = 1 - left/all
	}
	return fit, nil
}
