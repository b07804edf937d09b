package timing

import "time"

// Totals are what a stretch of days comes to together.
type Totals struct {
	Days    int       `json:"days"`
	Count   int       `json:"count" doc:"washes finished"`
	Planned float64   `json:"planned" doc:"min, by the standards"`
	Actual  float64   `json:"actual" doc:"min hands-on"`
	Stages  []Summary `json:"stages"`
	Shares  []Share   `json:"shares"`
	Savings []Saving  `json:"savings" doc:"where the minutes go, what would save most first"`
	Idle    float64   `json:"idle" doc:"min a wash in which product worked and nobody did"`
	Missed  int       `json:"missed" doc:"dwells early or overrun"`
	Kept    int       `json:"kept" doc:"dwells kept"`
	Rinses  int       `json:"rinses" doc:"rinses of the mitt, tapped"`
	InTime  int       `json:"inTime" doc:"washes finished by what was promised"`
	Asked   int       `json:"asked" doc:"rinses that the plans asked for, where any were tapped"`
}

// TotalsOf sums the washes of the days before now.
func TotalsOf(washes []Wash, days int, now time.Time) Totals {
	t := Totals{Days: days, Count: len(washes), Stages: Summarise(washes), Shares: Shares(washes),
		Savings: Where(washes, now.AddDate(0, 0, -days), now)}
	for _, w := range washes {
		t.Planned, t.Actual = t.Planned+w.Times.Planned, t.Actual+w.Times.Minutes
		t.Idle += w.Times.Idle / float64(len(washes))
		t.Missed, t.Kept = t.Missed+w.Times.Missed, t.Kept+w.Times.Kept
		if w.Late <= 0 {
			t.InTime++
		}
		rinses, asked := w.Rinses()
		t.Rinses, t.Asked = t.Rinses+rinses, t.Asked+asked
	}
	return t
}
