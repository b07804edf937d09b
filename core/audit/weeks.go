package audit

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"uskel/core/stats"
	"uskel/core/table"
)

// Week is what audits found in a week.
type Week struct {
	From     time.Time `json:"from" doc:"its Monday, where the shop stands"`
	Audits   int       `json:"audits"`
	With     int       `json:"with" doc:"audits that had one"`
	Findings int       `json:"findings"`
	Rework   float64   `json:"rework" doc:"min"`
	PutRight float64   `json:"putRight" doc:"min that was put right on the spot"`
	Passed   int       `json:"passed" doc:"audits that found nothing that a customer would see"`
	Missed   int       `json:"missed" doc:"of these, the customer complained within a week"`
	Share    float64   `json:"share" doc:"of its audits that had one"`
	Bottom   float64   `json:"bottom" doc:"limits of chance for so many audits: a share outside them is told"`
	Top      float64   `json:"top"`
	Out      bool      `json:"out" doc:"outside the limits"`
	Each     float64   `json:"each" doc:"findings per audit"`
	Fewest   float64   `json:"fewest" doc:"limits of chance for findings per audit of so many audits"`
	Most     float64   `json:"most"`
	Beyond   bool      `json:"beyond" doc:"findings per audit outside the limits"`
}

// Mark is a moment that may have changed something.
type Mark struct {
	At    time.Time `json:"at"`
	Label string    `json:"label"`
}

// Weeks is a run of weeks, the oldest first: a p-chart of the share of audits with a finding, and a u-chart of findings per audit.
type Weeks struct {
	Weeks  []Week   `json:"weeks"`
	Middle float64  `json:"middle" doc:"share over all the weeks"`
	Mean   float64  `json:"mean" doc:"findings per audit over all the weeks"`
	Spread float64  `json:"spread" doc:"how much more findings vary from audit to audit than chance alone; 1 at the least"`
	Marks  []Mark   `json:"marks" doc:"new versions of procedures, from the first audit of each"`
	Says   []string `json:"says"`
}

// outside is the chance beyond each limit of a p-chart: that beyond three sigma of a normal one (Shewhart, 1931), taken exactly from the
// binomial, as weeks have few audits.
const outside = 0.00135

// ByWeek counts the findings that are asked for by the weeks up to now, which is where the shop stands.
func ByWeek(all []Audited, which Which, weeks int, now time.Time) Weeks {
	w := Weeks{Weeks: make([]Week, weeks), Marks: []Mark{}, Says: []string{}}
	for i := range w.Weeks {
		w.Weeks[i].From = monday0(now).AddDate(0, 0, -7*(weeks-1-i))
	}
	for _, a := range all {
		i := w.at(a.At.In(now.Location()))
		if i < 0 || !which.audit(a) {
			continue
		}
		w.Weeks[i].add(a, which)
	}
	audits, with := 0, 0
	for _, k := range w.Weeks {
		audits, with = audits+k.Audits, with+k.With
	}
	if audits > 0 {
		w.Middle = float64(with) / float64(audits)
	}
	w.spread(all, which, audits, now.Location())
	for i := range w.Weeks {
		w.Weeks[i].limit(w.Middle)
		w.Weeks[i].limitEach(w.Mean, w.Spread)
		if k := w.Weeks[i]; k.Beyond && !k.Out {
			w.Says = append(w.Says, fmt.Sprintf("The week of %s: %.1f findings an audit, %.1f over all: beyond what chance explains.",
				k.From.Format("2 Jan"), k.Each, w.Mean))
		}
		if k := w.Weeks[i]; k.Out {
			word := "more"
			if k.Share < w.Middle {
				word = "fewer"
			}
			w.Says = append(w.Says, fmt.Sprintf("The week of %s: %d of %d audits had one, %s than chance explains.",
				k.From.Format("2 Jan"), k.With, k.Audits, word))
		}
	}
	w.marks(all, which)
	return w
}

// monday0 is the beginning of a moment's week.
func monday0(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d-(int(t.Weekday())+6)%7, 0, 0, 0, 0, t.Location())
}

// at is the week of a moment; -1 outside of all.
func (w Weeks) at(t time.Time) int {
	for i := len(w.Weeks) - 1; i >= 0; i-- {
		if !t.Before(w.Weeks[i].From) {
			return i
		}
	}
	return -1
}

func (k *Week) add(a Audited, which Which) {
	var c Counted
	c.missed(a)
	k.Audits++
	k.Passed, k.Missed = k.Passed+c.Passed, k.Missed+c.Missed
	had := false
	for _, f := range a.Findings {
		if which.finding(f) {
			had = true
			k.Findings++
			k.Rework += f.Rework
			k.PutRight += f.PutRight / 60
		}
	}
	if had {
		k.With++
	}
}

// limit works out the limits of chance around a share.
func (k *Week) limit(middle float64) {
	k.Top = 1
	if k.Audits == 0 {
		return
	}
	n := k.Audits
	k.Share = float64(k.With) / float64(n)
	bottom, top := stats.BinomialLimits(n, middle, outside)
	k.Top, k.Bottom = float64(top)/float64(n), float64(bottom)/float64(n)
	k.Out = k.With > top || k.With < bottom
}

// spread works out the mean of findings per audit, and how much more they vary than by chance alone: dirt is left in several places
// by the same haste, so that limits by Poisson alone would be too narrow (Laney, Improved control charts for attributes, 2002).
func (w *Weeks) spread(all []Audited, which Which, audits int, zone *time.Location) {
	findings := 0
	for _, k := range w.Weeks {
		findings += k.Findings
	}
	w.Spread = 1
	if audits < 2 || findings == 0 {
		return
	}
	w.Mean = float64(findings) / float64(audits)
	squares := 0.0
	for _, a := range all {
		if w.at(a.At.In(zone)) < 0 || !which.audit(a) {
			continue
		}
		n := 0.0
		for _, f := range a.Findings {
			if which.finding(f) {
				n++
			}
		}
		squares += (n - w.Mean) * (n - w.Mean)
	}
	w.Spread = max(1, squares/float64(audits-1)/w.Mean)
}

// limitEach works out the limits of chance around findings per audit: those of Poisson for as many audits as count alone, as findings
// come in bunches.
func (k *Week) limitEach(mean, spread float64) {
	if k.Audits == 0 {
		return
	}
	n := float64(k.Audits)
	k.Each = float64(k.Findings) / n
	bottom, top := stats.PoissonLimits(mean*n/spread, outside)
	k.Fewest, k.Most = spread*float64(bottom)/n, spread*float64(top)/n
	k.Beyond = k.Each > k.Most || k.Each < k.Fewest
}

// marks are the first audits of versions that came within the weeks.
func (w *Weeks) marks(all []Audited, which Which) {
	first := map[string]Mark{}
	for _, a := range all {
		if a.Version < 2 || !which.audit(a) {
			continue
		}
		if m, known := first[a.procedure()]; !known || a.At.Before(m.At) {
			first[a.procedure()] = Mark{a.At, fmt.Sprintf("%s, version %d", a.Title, a.Version)}
		}
	}
	for _, key := range slices.Sorted(maps.Keys(first)) {
		if w.at(first[key].At) >= 0 {
			w.Marks = append(w.Marks, first[key])
		}
	}
}

// CSV is the weeks as a table.
func (w Weeks) CSV() string {
	lines := [][]string{{"week of", "audits", "with a finding", "findings", "share, %", "limits, %", "findings per audit", "their limits",
		"rework, min", "put right, min", "passed", "complained within a week"}}
	for _, k := range w.Weeks {
		lines = append(lines, []string{k.From.Format(time.DateOnly), fmt.Sprint(k.Audits), fmt.Sprint(k.With), fmt.Sprint(k.Findings),
			fmt.Sprintf("%.1f", 100*k.Share), fmt.Sprintf("%.1f to %.1f", 100*k.Bottom, 100*k.Top), fmt.Sprintf("%.2f", k.Each),
			fmt.Sprintf("%.2f to %.2f", k.Fewest, k.Most), fmt.Sprintf("%g", k.Rework),
			fmt.Sprintf("%.1f", k.PutRight), fmt.Sprint(k.Passed), fmt.Sprint(k.Missed)})
	}
	return table.Text(lines)
}
