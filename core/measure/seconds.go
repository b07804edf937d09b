package measure

import (
	"fmt"
	"math"
	"time"
)

// Seconds is a span of working time in whole seconds: dwell, drying windows, clocks.
type Seconds int

// Spans.
const (
	Second Seconds = 1
	Minute Seconds = 60
	Hour   Seconds = 60 * Minute
	Day    Seconds = 24 * Hour
)

// SecondsOf rounds a duration.
func SecondsOf(d time.Duration) Seconds { return Seconds(d.Round(time.Second) / time.Second) }

// Minutes gives the span in minutes.
func (s Seconds) Minutes() float64 { return float64(s) / 60 }

// Round is the span to whole minutes, from a minute on: nobody plans a day by the second.
func (s Seconds) Round() Seconds {
	if s < Minute {
		return s
	}
	return (s + Minute/2) / Minute * Minute
}

// Duration gives the span as a duration.
func (s Seconds) Duration() time.Duration { return time.Duration(s) * time.Second }

// String says the span as people do: "40 s", "5 min 30 s", "90 min", from two hours on "2 h 5 min".
func (s Seconds) String() string {
	m, rest := s/60, s%60
	whole := int(math.Round(s.Minutes()))
	switch {
	case m == 0:
		return fmt.Sprintf("%d s", rest)
	case whole >= 120 && whole%60 == 0:
		return fmt.Sprintf("%d h", whole/60)
	case whole >= 120:
		return fmt.Sprintf("%d h %d min", whole/60, whole%60)
	case rest == 0 || m >= 15:
		return fmt.Sprintf("%d min", whole)
	}
	return fmt.Sprintf("%d min %d s", m, rest)
}
