package day

import "time"

// Begins is when a wash is planned to begin: when the vehicle comes, in its slot or now, whichever is last.
func Begins(now, arrives time.Time, slot *time.Time) time.Time {
	at := now
	if arrives.After(at) {
		at = arrives
	}
	if slot != nil && slot.After(at) {
		at = *slot
	}
	return at
}
