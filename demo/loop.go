package demo

import (
	"math/rand"
	"slices"
	"time"

	"uskel/core/audit"
	"uskel/core/vehicle"
	"uskel/core/wash"
	"uskel/store"
)

// What the audits of half a year find besides, each put right on the spot: dirt on the sills until the maintenance wash was
// rewritten, and streaks since the batch of towels that does not take water up.
const (
	sillsBefore = 0.30 // share of washes by the old version with dirt on a sill
	sillsSince  = 0.03
	streaksBad  = 0.25 // share of washes dried by the bad towels with streaks
	streaksElse = 0.02
	onTheSpot   = 40 // s that it takes to put right
	// marksAtWorst is the share of washes with marks at a planned risk of 100.
	marksAtWorst = 1.0
)

// besides is what a look finds besides, from dice of its own, so that the rest of what is made up stays as it is.
func (l *loader) besides(t story, w store.Wash, item audit.Item, at time.Time, given audit.Answer) audit.Answer {
	if l.days <= newVersion || t.ago == 0 || given.Verdict != audit.Pass {
		return given
	}
	f := audit.Finding{Severity: audit.Minor, PutRight: onTheSpot}
	share := 0.0
	switch item.ID {
	case "lower":
		f.Kind, f.Zone, share = audit.DirtLeft, vehicle.LowerLeft, sillsSince
		if w.Plan.Procedure == mostUsed && t.ago > newVersion {
			share = sillsBefore
		}
	case "front":
		f.Kind, f.Zone = audit.DirtLeft, vehicle.Front
		if slices.ContainsFunc(w.Steps(), func(s wash.PlannedStep) bool { return s.ID == skipped }) && l.leavesOut(t, w.CreatedAt) {
			share = dirtSkipped
		}
	case "upper":
		f.Kind, f.Zone, share = audit.Spots, vehicle.Bonnet, streaksElse
		if t.ago <= badTowels {
			share = streaksBad
		}
	}
	dice := rand.New(rand.NewSource(Seed + at.Unix() + int64(len(item.ID))))
	if item.ID == "upper" && dice.Float64() < marksAtWorst*w.Plan.Index/100 {
		f.Kind, f.PutRight = audit.FineCircles, 0 // a wash does not take it out
		return audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{f}}
	}
	if dice.Float64() >= share {
		return given
	}
	return audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{f}}
}

// badBatch takes the old drying towels out of use and the bad ones into it.
func (l *loader) badBatch() error {
	at := l.now.AddDate(0, 0, -badTowels).Add(-12 * time.Hour)
	sets, err := l.store.Cloths(l.ctx)
	if err != nil {
		return err
	}
	for _, c := range sets {
		if c.Colour != dryingColour {
			continue
		}
		if err := l.store.RetireCloths(l.ctx, c.ID, at); err != nil {
			return err
		}
		c.ID, c.Since, c.RetiredAt = idFrom(rand.New(rand.NewSource(Seed+badTowels))), at, nil
		if err := l.store.AddCloths(l.ctx, c); err != nil {
			return err
		}
	}
	return nil
}

// takenUp are the remedies of the half year: the sills, and the towels that are still in use.
func (l *loader) takenUp() error {
	if l.days <= newVersion {
		return nil
	}
	dice := rand.New(rand.NewSource(Seed - newVersion))
	day := func(ago int) time.Time { return l.now.AddDate(0, 0, -ago) }
	lead, version := l.people["maren"], 2
	acted := day(newVersion)
	sills := audit.Remedy{Title: "Dirt left on the sills", Pattern: audit.Pattern{Kind: audit.DirtLeft, Procedure: mostUsed},
		Cause: "The lower mitt is not at hand when the sills are reached.", Act: audit.ChangeStep, Step: "setup", Owner: lead,
		Due: day(newVersion - 2), Note: "Lay things out in the order of their use."}
	towels := audit.Remedy{Title: "Spots or streaks since the new towels", Pattern: audit.Pattern{Kind: audit.Spots},
		Cause: "The new batch of drying towels does not take water up.", Act: audit.RetireCloth, Owner: l.people["osk"],
		Due: l.now.AddDate(0, 0, 5), Note: "Ask the supplier for the old weave."}
	for _, r := range []store.Remedy{
		{Doc: sills, OpenedAt: day(newVersion + 9), ByID: lead, ActedAt: &acted, ActedByID: &lead, Published: &version},
		{Doc: towels, OpenedAt: day(3), ByID: lead},
	} {
		r.ID = idFrom(dice)
		if err := l.store.AddRemedy(l.ctx, r); err != nil {
			return err
		}
	}
	return nil
}
