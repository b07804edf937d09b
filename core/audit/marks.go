package audit

import (
	"fmt"
	"slices"

	"uskel/core/stats"
)

// RiskBand is how often audits found marks after washes of some planned scratch risk.
type RiskBand struct {
	From  float64 `json:"from" doc:"planned mar index, 0 to 100"`
	To    float64 `json:"to"`
	With  int     `json:"with" doc:"audits that found fine circles or straight fine lines"`
	Of    int     `json:"of"`
	Share float64 `json:"share"`
	Low   float64 `json:"low" doc:"at the least, with 90 % certainty for the range"`
	High  float64 `json:"high"`
}

// RiskAndMarks is whether planned scratch risk says anything of marks.
type RiskAndMarks struct {
	Bands  []RiskBand `json:"bands" doc:"those that washes fell into"`
	Chance float64    `json:"chance" doc:"how likely marks would rise so with the risk by chance"`
	Says   string     `json:"says"`
}

// riskBands are the edges between bands of planned risk (model).
var riskBands = []float64{0, 5, 10, 20, 40, 100}

// fewMarks is how many audits with marks there must be before anything is said of a trend (model).
const fewMarks = 10

// Marks holds marks that were found against the risk that was planned: what was there before, and what does not count, is left out.
func Marks(all []Audited) RiskAndMarks {
	bands := make([]RiskBand, len(riskBands)-1)
	for i := range bands {
		bands[i].From, bands[i].To = riskBands[i], riskBands[i+1]
	}
	marked := 0
	for _, a := range all {
		i := slices.IndexFunc(bands, func(b RiskBand) bool { return a.Risk < b.To })
		if i < 0 {
			i = len(bands) - 1
		}
		bands[i].Of++
		if slices.ContainsFunc(a.Findings, func(f Traced) bool { return f.Counts && (f.Kind == FineCircles || f.Kind == StraightMark) }) {
			bands[i].With++
			marked++
		}
	}
	bands = slices.DeleteFunc(bands, func(b RiskBand) bool { return b.Of == 0 })
	var with, of []int
	var scores []float64
	for i := range bands {
		b := &bands[i]
		b.Share = float64(b.With) / float64(b.Of)
		b.Low, b.High = clopperPearson(b.With, b.Of, rangeCertainty)
		with, of, scores = append(with, b.With), append(of, b.Of), append(scores, (b.From+b.To)/2)
	}
	m := RiskAndMarks{Bands: bands, Chance: stats.TrendUp(with, of, scores)}
	m.Says = m.says(marked)
	return m
}

func (m RiskAndMarks) says(marked int) string {
	switch {
	case marked == 0:
		return "No marks were found: the risk cannot be held against any."
	case len(m.Bands) < 2:
		return "All washes were planned with about the same risk: nothing can be told from them."
	case marked < fewMarks:
		return fmt.Sprintf("%d audits found marks: from %d on it is told whether they rise with the planned risk.", marked, fewMarks)
	case m.Chance <= sureEnough:
		return "Marks rise with the planned risk, more than chance: it says something here. Move the aim by what a band of it costs you."
	}
	return "Marks do not rise with the planned risk beyond chance: here it has not shown what it is worth."
}
