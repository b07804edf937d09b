package condition

import (
	"slices"
	"time"
)

// CareKind is care that comes round again.
type CareKind string

// The kinds of care.
const (
	NextWash    CareKind = "wash"
	TopUp       CareKind = "top-up"
	ServiceWash CareKind = "service wash"
)

// Values lists the kinds of care.
func (CareKind) Values() []string {
	return []string{string(NextWash), string(TopUp), string(ServiceWash)}
}

// Due is care a vehicle needs again, and when.
type Due struct {
	Kind    CareKind  `json:"kind"`
	At      time.Time `json:"at"`
	Because string    `json:"because"`
}

// Past is what was done to a vehicle and when; a zero time is never, as far as is known.
type Past struct {
	Washed   time.Time
	Covered  time.Time // protection put on or topped up
	Serviced time.Time
	Salt     bool // salt on it at the last look-over
}

// How long care lasts, days (docs/trade.md, section 7, common practice, no source): where it gives a span, the middle.
const (
	washEvery     = 14
	washEverySalt = 7
	waxLasts      = 28
	sealantLasts  = 60
	topUpEvery    = 49
	serviceEvery  = 75
)

// CareDue says what a vehicle needs next, by what protects it and when that was last seen to; the first due first.
func CareDue(p Protection, past Past) []Due {
	if past.Washed.IsZero() {
		return []Due{}
	}
	every, why := washEvery, "Two weeks of dry road bring it to grade 2."
	if past.Salt {
		every, why = washEverySalt, "Salt goes on eating: a week."
	}
	due := []Due{{NextWash, after(past.Washed, every), why}}
	covered := past.Covered
	if covered.IsZero() {
		covered = past.Washed.AddDate(0, 0, -p.AgeDays)
	}
	switch p.Kind {
	case Wax:
		due = append(due, Due{TopUp, after(covered, waxLasts), "Wax lasts a few weeks."})
	case Sealant:
		due = append(due, Due{TopUp, after(covered, sealantLasts), "A spray sealant lasts one to three months."})
	case Coating:
		due = append(
			due,
			Due{TopUp, after(covered, topUpEvery), "Every six to eight weeks keeps a coating's warranty."},
		)
		serviced := past.Serviced
		if serviced.IsZero() {
			serviced = covered
		}
		due = append(
			due,
			Due{
				ServiceWash,
				after(serviced, serviceEvery),
				"A coating wants a service wash every two to three months.",
			},
		)
	}
	if p.Water == Flat && p.Kind != Bare && p.Kind != Unknown {
		for i := range due {
			if due[i].Kind == TopUp {
				due[i].At, due[i].Because = past.Washed, "Water lay flat at the last look-over: it no longer protects."
			}
		}
	}
	slices.SortStableFunc(due, func(a, b Due) int { return a.At.Compare(b.At) })
	return due
}

func after(t time.Time, days int) time.Time { return t.AddDate(0, 0, days) }

// Care is what is known of a vehicle when its newest wash has finished: what its next care follows from.
type Care struct {
	Protection Protection `json:"protection"`
	Past       Past       `json:"past"`
}

// Due says what the vehicle needs next, the first due first.
func (c Care) Due() []Due { return CareDue(c.Protection, c.Past) }
