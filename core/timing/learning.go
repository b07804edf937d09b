package timing

import (
	"fmt"
	"math"
	"time"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// Curve is how somebody's time falls with repetition: first x n^slope (T. P. Wright, Factors Affecting the Cost of
// Airplanes, 1936).
type Curve struct {
	First float64 `json:"first" doc:"expected at the first car"`
	Slope float64 `json:"slope" doc:"exponent"`
	Rate  float64 `json:"rate" doc:"what is left of the time each time the count doubles, 0.85 for 85 %"`
	N     int     `json:"n"`
	Sigma float64 `json:"sigma" doc:"standard deviation of the logarithm round the curve"`
	meanX float64
	sumXX float64
}

// learnFrom is how many cars a curve needs (model).
const learnFrom = 6

// Learn fits the curve to times in their order, the first of them at the car after so many before, by least squares
// on logarithms.
func Learn(times []float64, before int) (Curve, error) {
	if len(times) < learnFrom {
		return Curve{}, fmt.Errorf("a learning curve needs at least %d cars, and there are %d", learnFrom, len(times))
	}
	if before < 0 {
		return Curve{}, fmt.Errorf("before %d: zero or more cars", before)
	}
	x, y := make([]float64, len(times)), make([]float64, len(times))
	for i, t := range times {
		if !(t > 0) {
			return Curve{}, fmt.Errorf("time %d is %g: times are above zero", i+1, t)
		}
		x[i], y[i] = math.Log(float64(before+i+1)), math.Log(t)
	}
	a, b := stat.LinearRegression(x, y, nil, false)
	c := Curve{First: math.Exp(a), Slope: b, Rate: math.Pow(2, b), N: len(times), meanX: stat.Mean(x, nil)}
	left := 0.0
	for i := range x {
		left += (y[i] - a - b*x[i]) * (y[i] - a - b*x[i])
		c.sumXX += (x[i] - c.meanX) * (x[i] - c.meanX)
	}
	c.Sigma = math.Sqrt(left / float64(len(times)-2))
	return c, nil
}

// level is the curve of somebody so far along it that nothing can be seen to fall any more.
func level(times []float64) Curve {
	logs := make([]float64, len(times))
	for i, t := range times {
		logs[i] = math.Log(t)
	}
	mean, sigma := stat.MeanStdDev(logs, nil)
	return Curve{First: math.Exp(mean), Rate: 1, N: len(times), Sigma: sigma, sumXX: math.Inf(1)}
}

// At is the time expected at the n-th car, and the band in which four of five single times lie.
func (c Curve) At(n int) (expected, low, high float64) {
	x := math.Log(float64(max(n, 1)))
	expected = c.First * math.Pow(float64(max(n, 1)), c.Slope)
	if c.sumXX == 0 {
		return expected, expected, expected
	}
	wide := c.Sigma * math.Sqrt(1+1/float64(c.N)+(x-c.meanX)*(x-c.meanX)/c.sumXX)
	half := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(c.N - 2)}.Quantile(0.9) * wide
	return expected, expected * math.Exp(-half), expected * math.Exp(half)
}

// Rates gives the interval that holds the true rate in 95 of 100 cases: Student's t on the slope.
func (c Curve) Rates() (low, high float64) {
	if c.N < 3 || c.sumXX == 0 {
		return 0, math.Inf(1)
	}
	half := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(c.N - 2)}.Quantile(0.975) * c.Sigma / math.Sqrt(c.sumXX)
	return math.Pow(2, c.Slope-half), math.Pow(2, c.Slope+half)
}

// stillLearning is the rate from which on nobody would call it learning any more (model): half of what a slow learner
// shows.
const stillLearning = 0.975

// Repetition is one wash on the way of somebody learning.
type Repetition struct {
	N        int       `json:"n"`
	Wash     string    `json:"wash"`
	At       time.Time `json:"at"`
	Percent  float64   `json:"percent" doc:"hands-on time, % of the standard"`
	Expected float64   `json:"expected" doc:"by the curve"`
	Low      float64   `json:"low" doc:"four of five lie above"`
	High     float64   `json:"high" doc:"and below"`
	Findings int       `json:"findings"`
	Missed   int       `json:"missed" doc:"dwells early or overrun"`
	Score    *int      `json:"score,omitempty"`
	Hasty    bool      `json:"hasty" doc:"Faster than expected, and the audit found it: technique comes before speed"`
}

// Learning is somebody's way.
type Learning struct {
	Person  string       `json:"person"`
	Name    string       `json:"name"`
	Trainee bool         `json:"trainee"`
	Rate    float64      `json:"rate" doc:"0 to 1; 0 where these washes cannot tell: too few, or too far along the curve"`
	RateLow float64      `json:"rateLow" doc:"the true rate lies between in 95 of 100 cases; 0 with the rate"`
	RateTop float64      `json:"rateTop"`
	Before  int          `json:"before" doc:"washes before these"`
	Next    float64      `json:"next" doc:"% of the standard expected at the next wash"`
	NextLow float64      `json:"nextLow"`
	NextTop float64      `json:"nextTop"`
	Fast    float64      `json:"fast" doc:"findings per wash in the faster half, measured against the curve"`
	Slow    float64      `json:"slow" doc:"findings per wash in the slower half"`
	All     int          `json:"all" doc:"washes in these days"`
	Washes  []Repetition `json:"washes" doc:"all of them; of very many, evenly chosen ones and the newest"`
	Words   string       `json:"words"`
}

// hastyScore is the audit score under which a fast wash was a hasty one, as the starter checklist has it.
const hastyScore = 80

// LearningOf gives a person's way by their washes, oldest first, and how many they had washed before these.
func LearningOf(washes []Wash, before int) Learning {
	l := Learning{Before: before, Washes: []Repetition{}}
	var times []float64
	for _, w := range washes {
		l.Person, l.Name, l.Trainee = w.Person, w.Name, w.Trainee
		if w.Times.Planned <= 0 || w.Times.Minutes <= 0 {
			continue
		}
		percent := 100 * w.Times.Minutes / w.Times.Planned
		times = append(times, percent)
		l.Washes = append(
			l.Washes,
			Repetition{
				N:        before + len(times),
				Wash:     w.ID,
				At:       w.Finished,
				Percent:  round2(percent),
				Findings: w.Findings,
				Missed:   w.Times.Missed,
				Score:    w.Score,
			},
		)
	}
	l.All = len(times)
	curve, err := Learn(times, before)
	falls := before+len(times) >= 2*(before+1) // a rate is for a doubling: less says nothing of it
	if err == nil && !falls {
		curve = level(times)
	}
	if err != nil {
		l.Words = fmt.Sprintf("%d washes: a curve needs %d.", len(times), learnFrom)
		return l
	}
	var fast, slow []float64
	for i := range l.Washes {
		r := &l.Washes[i]
		expected, low, high := curve.At(r.N)
		r.Expected, r.Low, r.High = round2(expected), round2(low), round2(high)
		if r.Percent < expected {
			fast = append(fast, float64(r.Findings))
			r.Hasty = r.Score != nil && *r.Score < hastyScore || r.Missed > 0
		} else {
			slow = append(slow, float64(r.Findings))
		}
	}
	if falls {
		low, high := curve.Rates()
		l.Rate, l.RateLow, l.RateTop = round3(curve.Rate), round3(low), round3(high)
	}
	l.Next, l.NextLow, l.NextTop = curve.At(before + len(times) + 1)
	l.Next, l.NextLow, l.NextTop = round2(l.Next), round2(l.NextLow), round2(l.NextTop)
	l.Fast, l.Slow = round2(meanOf(fast)), round2(meanOf(slow))
	l.Words = l.words(fast, slow)
	return l
}

// Thinned is the way with no more repetitions than an eye can tell apart; what is said of it comes from all.
func (l Learning) Thinned(most int) Learning {
	n := len(l.Washes)
	if n <= most || most < 2 {
		return l
	}
	kept := make([]Repetition, most)
	for i := range most {
		kept[i] = l.Washes[i*(n-1)/(most-1)]
	}
	l.Washes = kept
	return l
}

func meanOf(x []float64) float64 {
	if len(x) == 0 {
		return 0
	}
	return stat.Mean(x, nil)
}

func (l Learning) words(fast, slow []float64) string {
	next := fmt.Sprintf(
		"the next is expected at %.0f %% of the standard, %.0f to %.0f in four of five.",
		l.Next,
		l.NextLow,
		l.NextTop,
	)
	between := fmt.Sprintf("the rate lies between %.0f and %.0f %%", 100*l.RateLow, 100*l.RateTop)
	text := ""
	switch {
	case l.Rate == 0:
		text = fmt.Sprintf("Far along the curve, with %d washes before these days; ", l.Before) + next
	case l.RateTop < 1:
		text = fmt.Sprintf("Each doubling of washes leaves %.0f %% of the time (%s); ", 100*l.Rate, between) + next
	case l.RateLow > stillLearning:
		text = fmt.Sprintf("Times do not fall with repetition (%s); ", between) + next
	default:
		text = fmt.Sprintf("These washes cannot tell yet whether times fall (%s); ", between) + next
	}
	c, err := Welch(slow, fast)
	switch {
	case err != nil:
	case c.P < tested && c.Difference > 0:
		text += fmt.Sprintf(
			" Fast and dirty: %.1f findings per wash when faster than expected, %.1f when slower. Technique comes "+
				"before speed.",
			l.Fast,
			l.Slow,
		)
	case c.P < tested:
		text += fmt.Sprintf(
			" Slow washes are the dirty ones: %.1f findings per wash when slower than expected, %.1f when faster.",
			l.Slow,
			l.Fast,
		)
	default:
		text += " Findings do not go with haste."
	}
	return text
}
