package demo

import "time"

// The hours in which somebody new sees the shop at work, and the moment of a morning that its day is told from.
const (
	opens   = 8
	closes  = 15
	morning = 10*time.Hour + 20*time.Minute
)

// Ahead is how far the shop's own clock goes ahead of the machine's: as far as before while it is a working hour there,
// and on to the next morning otherwise. It never goes back: what has happened in the shop stays past.
func Ahead(real time.Time, before time.Duration) time.Duration {
	at := real.UTC().Add(before)
	if hour := at.Hour(); hour >= opens && hour < closes {
		return before
	}
	next := at.Truncate(24 * time.Hour).Add(morning)
	if next.Before(at) {
		next = next.AddDate(0, 0, 1)
	}
	return (before + next.Sub(at)).Round(time.Second)
}
