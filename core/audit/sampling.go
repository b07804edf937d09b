package audit

import (
	"crypto/sha256"
	"encoding/binary"
	"fmt"
	"math"
	"time"

	"uskel/core/procedure"
)

// Sampling is which finished washes are audited: some always, of the rest a share by chance.
type Sampling struct {
	Share   int // % by chance
	Trainee int // so many first washes of a trainee
	Version int // so many first washes by a new version of a procedure, or with a new product
}

// What is audited where the shop says nothing: all of it, and what is new always.
const (
	DefaultShare   = 100
	DefaultTrainee = 10
	DefaultVersion = 5
)

// firstBySkill is how many washes of a trainee are looked at after each sign-off (model): what was shown once is to be done always.
const firstBySkill = 3

// Candidate is a finished wash that nobody has audited yet.
type Candidate struct {
	ID        string
	Trainee   bool // washed by a trainee
	OfWasher  int  // washes that its washer had finished before
	OfVersion int  // washes that had been finished by this version of its procedure
	// Finished is when the wash was, CameBack when the vehicle had come back last before it; zero when it never did.
	Finished, CameBack time.Time
	// Skill is what a trainee was signed off for last, and SinceSkill how many of their washes were finished between; of those who are
	// no trainees nothing.
	Skill      procedure.Skill
	SinceSkill int
	// Product is the newest that was used, ProductFrom when it was used first, and OfProduct how many washes had used it before.
	Product     string
	ProductFrom time.Time
	OfProduct   int
}

const (
	// cameBackFor is how long after a complaint a vehicle's washes are always looked at (model).
	cameBackFor = 90 * 24 * time.Hour
	// newFor is how long after its first use a product may still be new (model).
	newFor = 30 * 24 * time.Hour
)

// cameBack reports whether the vehicle came back of late.
func (c Candidate) cameBack() bool {
	return !c.CameBack.IsZero() && c.Finished.Sub(c.CameBack) < cameBackFor
}

// newProduct reports whether a product was used that may still be new.
func (c Candidate) newProduct() bool {
	return c.Product != "" && c.Finished.Sub(c.ProductFrom) < newFor
}

// Asked is whether a wash is to be audited, and why.
type Asked struct {
	Asked bool   `json:"asked"`
	Why   string `json:"why"`
}

// Asks decides whether a wash is to be audited. The draw depends on the wash's id alone, which is made by chance when it
// begins: nobody can foresee it, and it comes out the same however often it is asked.
func (s Sampling) Asks(c Candidate, level Level) Asked {
	share := level.share(s.Share)
	switch {
	case c.cameBack():
		return Asked{true, "the vehicle came back after an earlier wash"}
	case c.Trainee && c.OfWasher < s.Trainee:
		return Asked{true, fmt.Sprintf("a trainee's wash %d of the first %d", c.OfWasher+1, s.Trainee)}
	case c.Trainee && c.Skill != "" && c.SinceSkill < firstBySkill:
		return Asked{true, fmt.Sprintf("wash %d of the first %d since a trainee was signed off for %s", c.SinceSkill+1, firstBySkill, c.Skill)}
	case c.newProduct() && c.OfProduct < s.Version:
		return Asked{true, fmt.Sprintf("wash %d of the first %d with a new product, %s", c.OfProduct+1, s.Version, c.Product)}
	case c.OfVersion < s.Version:
		return Asked{true, fmt.Sprintf("wash %d of the first %d by a new version", c.OfVersion+1, s.Version)}
	case share >= 100:
		return Asked{true, "every wash is audited"}
	case drawn(c.ID) < float64(share)/100:
		return Asked{true, fmt.Sprintf("drawn by chance, %d of 100", share)}
	}
	return Asked{false, fmt.Sprintf("not drawn: %d of 100 are", share)}
}

// drawn is a number from 0 up to 1 that an id stands for.
func drawn(id string) float64 {
	sum := sha256.Sum256([]byte("audit " + id))
	return float64(binary.BigEndian.Uint64(sum[:8])>>11) / (1 << 53)
}

// Level is how closely is looked, by how the last audits came out.
type Level string

// The levels.
const (
	Normal    Level = "normal"
	Tightened Level = "tightened"
	Eased     Level = "eased"
)

// share is the share by chance at a level, %: doubled, or halved.
func (l Level) share(normal int) int {
	switch l {
	case Tightened:
		return min(100, 2*normal)
	case Eased:
		return (normal + 1) / 2
	}
	return normal
}

// The switching rules of acceptance sampling (ISO 2859-1, from memory; its switching score is a run of passes here): tightened
// once two of five in a row failed, normal again after five passes in a row; eased after ten passes in a row, normal again
// with the first that fails.
const (
	window  = 5
	tooMany = 2
	steady  = 5
	easing  = 10
)

// LevelAfter is the level that audits lead to; passed are the first audits, the newest first.
func LevelAfter(passed []bool) Level {
	level, run, last := Normal, 0, []bool{}
	for i := len(passed) - 1; i >= 0; i-- {
		ok := passed[i]
		if last = append(last, ok); len(last) > window {
			last = last[1:]
		}
		if run++; !ok {
			run = 0
		}
		next := level
		switch {
		case level != Tightened && failed(last) >= tooMany:
			next = Tightened
		case level == Tightened && run >= steady, level == Eased && !ok:
			next = Normal
		case level == Normal && run >= easing:
			next = Eased
		}
		if next != level {
			level, run, last = next, 0, nil // counted anew from here
		}
	}
	return level
}

func failed(last []bool) int {
	n := 0
	for _, ok := range last {
		if !ok {
			n++
		}
	}
	return n
}

// SamplingView is the plan with what it proves.
type SamplingView struct {
	Share  int      `json:"share" doc:"% by chance, at the present level"`
	Level  Level    `json:"level"`
	Weekly float64  `json:"weekly" doc:"washes a week of late"`
	Audits float64  `json:"audits" doc:"of these by chance, about"`
	Finds  float64  `json:"finds" doc:"with which chance a week's draw holds a bad one, if one in ten is bad"`
	Says   []string `json:"says"`
}

// Explain says what a plan looks at and what it finds. Each wash is bad and drawn with the product of both chances, so that a
// week's draw misses all bad ones with (1 - bad x share) to the power of its washes.
func (s Sampling) Explain(level Level, weekly float64) SamplingView {
	share := level.share(s.Share)
	drawn := float64(min(share, 100)) / 100
	v := SamplingView{Share: share, Level: level, Weekly: weekly, Audits: weekly * drawn,
		Finds: 1 - math.Pow(1-badShare*drawn, weekly), Says: []string{}}
	if share < 100 {
		v.Says = append(v.Says, fmt.Sprintf("Of some %.0f washes a week %d of 100 are drawn: about %.0f audits, besides those that are always "+
			"looked at. If one wash in ten is bad, a week's draw holds one with %s.", weekly, share, v.Audits, surely(v.Finds)))
	}
	switch level {
	case Tightened:
		v.Says = append(v.Says, fmt.Sprintf("Looked at more closely: %d of %d in a row were not passed at once. Normal again after %d passes in "+
			"a row.", tooMany, window, steady))
	case Eased:
		v.Says = append(v.Says, fmt.Sprintf("Eased after %d passes in a row; normal again with the first that is not passed.", easing))
	}
	return v
}
