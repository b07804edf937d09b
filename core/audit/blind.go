package audit

import (
	"errors"
	"slices"
)

// Blind is what is looked at a second time by one named person who has not seen the first.
type Blind string

// The kinds.
const (
	SecondWalk   Blind = "second walk"   // of a signed audit, whose vehicle still stands there
	SetWalk      Blind = "set walk"      // of the calibration set
	SecondGrades Blind = "second grades" // of a vehicle that waits for its wash
)

// Values lists the kinds.
func (Blind) Values() []string {
	return []string{string(SecondWalk), string(SetWalk), string(SecondGrades)}
}

// OfferState is where the offer of a blind look stands.
type OfferState string

// The states. As long as one is offered or accepted, whoever it was offered to reads the first nowhere.
const (
	IsOffered  OfferState = "offered"
	IsAccepted OfferState = "accepted"
	IsDeclined OfferState = "declined"
	IsDone     OfferState = "done"
)

// Why somebody does not look at something blind.
var (
	ErrKnowsFirst = errors.New("whoever had a hand in it, or has read what the first found, does not look again blind: ask somebody else")
	ErrNotAsked   = errors.New("it was not offered to you, or you declined: say first that you look at it again")
	ErrOffered    = errors.New("somebody else was asked already: one person looks again")
	ErrReworked   = errors.New("something of it was put right since: it is no longer as it was found")
)

// MayLookBlind refuses whoever knows what the first look found.
func MayLookBlind(who string, know []string) error {
	if slices.Contains(know, who) {
		return ErrKnowsFirst
	}
	return nil
}

// AsFound reports whether a vehicle still is as an audit found it: it is the first look, and nothing was put right on the spot.
func AsFound(round int, r Result) bool {
	return round == 1 && !slices.ContainsFunc(r.Findings, func(f Traced) bool { return f.PutRight > 0 })
}
