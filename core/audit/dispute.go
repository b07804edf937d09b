package audit

import (
	"errors"
	"slices"
	"time"

	"uskel/core/plan"
)

// DisputeWithin is how long after the signature a finding may be disputed: while the car and the day are remembered (model).
const DisputeWithin = 14 * 24 * time.Hour

// Why somebody may not dispute, or settle.
var (
	ErrNotWasher  = errors.New("who washed it disputes what was found, nobody else")
	ErrNotSigned  = errors.New("the audit is not signed yet: talk to whoever walks it")
	ErrLongAgo    = errors.New("it was signed more than two weeks ago: talk to the lead")
	ErrNothing    = errors.New("nothing that counts was found there")
	ErrOwnDispute = errors.New("whoever disputes it does not settle it: ask another lead")
)

// MayDispute says why somebody may not dispute what a signed audit found at an item; washers are wash.Washers, signed is when.
func MayDispute(who string, washers []string, signed *time.Time, now time.Time, r Result, item string) error {
	switch {
	case !slices.Contains(washers, who):
		return ErrNotWasher
	case signed == nil:
		return ErrNotSigned
	case now.Sub(*signed) > DisputeWithin:
		return ErrLongAgo
	case !slices.ContainsFunc(r.Findings, func(f Traced) bool { return f.Item == item && f.Counts }):
		return ErrNothing
	}
	return nil
}

// Settled is a signed result as it would be without what was found at the items that were settled for whoever washed: it stands
// beside what was signed, and nothing is put right or moved anew by it.
func Settled(list Checklist, answers map[string]Answer, washed plan.Plan, how Walked, upheld []string) Result {
	without := map[string]Answer{}
	for item, a := range answers {
		if slices.Contains(upheld, item) {
			a = Answer{Verdict: Pass}
		}
		without[item] = a
	}
	return Judge(list, without, washed, how)
}

// Unsettle takes what was found at the items that were settled for whoever washed out of what counts.
func Unsettle(findings []Traced, upheld []string) []Traced {
	all := slices.Clone(findings)
	for i, f := range all {
		if slices.Contains(upheld, f.Item) {
			all[i].Counts, all[i].Rework, all[i].Cause = false, 0, "disputed, and settled for whoever washed"
		}
	}
	return all
}
