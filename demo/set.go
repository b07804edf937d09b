package demo

import (
	"errors"
	"math/rand"
	"time"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/photo"
	"uskel/core/plan"
	"uskel/core/vehicle"
	"uskel/store"
)

// The calibration set: audits with something to be found, walked by others from drawn photos. Bram overlooks much.
const (
	inSet      = 8    // audits at the most, in half a year; a quarter of it in a fortnight
	leastFound = 2    // findings that such an audit has
	sees       = 0.88 // share of what there is that somebody finds
	bramSees   = 0.45
	sawMore    = 0.006 // share of looks at which something is seen that is not there
)

// calibrated puts the newest audits with something to be found into the set, and has others walk them.
func (l *loader) calibrated() error {
	most := inSet
	if l.days <= newVersion {
		most = inSet / 4
	}
	found, err := l.store.FoundIn(l.ctx, l.now.AddDate(0, 0, -min(l.days, auditorsJoin)), l.now.AddDate(0, 0, -1), "", 400)
	if err != nil {
		return err
	}
	dice := rand.New(rand.NewSource(Seed + inSet))
	for _, f := range found {
		if most == 0 || len(f.Findings) < leastFound {
			continue
		}
		most--
		if err := l.intoSet(f, dice); err != nil {
			return err
		}
	}
	return nil
}

func (l *loader) intoSet(f audit.Audited, dice *rand.Rand) error {
	a, err := l.store.Audit(l.ctx, f.ID)
	if err != nil {
		return err
	}
	truth := map[string]audit.Answer{}
	shot := map[vehicle.Zone]bool{}
	for _, item := range a.Items {
		truth[item.Item] = item.Answer
		for _, x := range item.Answer.Findings {
			if err := l.shoots(a, item.Item, x, shot, dice); err != nil {
				return err
			}
		}
	}
	at := f.At.Add(24 * time.Hour)
	c := store.Calibration{ID: idFrom(dice), AuditID: a.ID, Title: f.Label + ", " + f.At.Format("2 January"), Truth: truth,
		ByID: l.people["maren"], At: at}
	if err := l.store.AddCalibration(l.ctx, c); err != nil {
		return err
	}
	for _, name := range []string{"lis", "bram", "osk", "ines", "jory"} {
		share := sees
		if name == "bram" {
			share = bramSees
		}
		at = at.Add(3 * time.Hour)
		err := l.asked(audit.SetWalk, c.ID, l.people[name], at)
		if errors.Is(err, audit.ErrKnowsFirst) {
			continue
		}
		if err != nil {
			return err
		}
		err = l.store.AddCalibrationWalk(l.ctx, store.CalibrationWalk{ID: idFrom(dice), CalibrationID: c.ID, AuditorID: l.people[name],
			Light: audit.Lamp, Answers: eyes(truth, share, dice, a.Items), At: at})
		if err != nil {
			return err
		}
	}
	return nil
}

// eyes is what somebody answers who sees a share of what there is.
func eyes(truth map[string]audit.Answer, share float64, dice *rand.Rand, order []store.AuditItem) map[string]audit.Answer {
	given := map[string]audit.Answer{}
	for _, item := range order {
		answer := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		for _, f := range truth[item.Item].Findings {
			if dice.Float64() < share {
				answer.Verdict, answer.Findings = audit.Found, append(answer.Findings, f)
			}
		}
		if answer.Verdict == audit.Pass && dice.Float64() < sawMore {
			answer.Verdict, answer.Findings = audit.Found, []audit.Finding{
				{Zone: vehicle.Bonnet, Kind: kindOf(item.Item), Severity: audit.Minor}}
		}
		if truth[item.Item].Verdict == audit.NotApplicable {
			answer = truth[item.Item]
		}
		given[item.Item] = answer
	}
	return given
}

// shoots takes a photo of what was found, one of each zone.
func (l *loader) shoots(a store.Audit, item string, f audit.Finding, shot map[vehicle.Zone]bool, dice *rand.Rand) error {
	if shot[f.Zone] {
		return nil
	}
	shot[f.Zone] = true
	c := panel(dice.Int63())
	switch f.Kind {
	case audit.DirtLeft, audit.BrakeDust, audit.DirtyTowel, audit.GreasyShuts:
		c = c.dirt()
	case audit.FineCircles, audit.StraightMark:
		c = c.scratch()
	default:
		c = c.spots()
	}
	return l.takes(c, store.Photo{Subject: photo.OfAudit, SubjectID: a.ID, Item: item, Zone: f.Zone, ByID: a.AuditorID,
		At: a.ClosedAt.Add(-time.Minute), Note: "as it stood"})
}

// Every eighth vehicle is graded again before its wash. Jory grades cleaner than it is.
const (
	gradedEvery = 8
	misgrades   = 0.22 // share of zones that somebody grades one off
	kindly      = 0.40 // share of zones that Jory grades one cleaner
)

// gradedAgain has somebody else grade a vehicle of the past again before it is washed.
func (l *loader) gradedAgain(t story, booking string, look condition.LookOver, first plan.Choice) error {
	dice := rand.New(rand.NewSource(Seed + 11*t.arrives.Unix()))
	if t.ago == 0 || dice.Intn(gradedEvery) > 0 {
		return nil
	}
	by := []string{"ines", "osk", "jory"}[dice.Intn(3)]
	again := look
	again.Grades = map[vehicle.Zone]contact.Grade{}
	for _, p := range t.car.spec.Body.Parts() {
		g, graded := look.Grades[p.Zone]
		if !graded {
			continue
		}
		if dice.Float64() < misgrades {
			g += contact.Grade(2*dice.Intn(2) - 1)
		}
		if by == "jory" && dice.Float64() < kindly {
			g--
		}
		again.Grades[p.Zone] = min(max(g, 0), contact.Worst)
	}
	second, err := l.best(t, again)
	if err != nil {
		return nil // graded so no wash is for it: nobody sends that
	}
	overall := func(of condition.LookOver) int { return int(condition.Assess(t.car.spec, of, services()).Overall) }
	g := store.SecondGrade{ID: idFrom(dice), BookingID: booking, ByID: l.people[by], At: t.arrives.Add(5 * time.Minute),
		Doc: condition.Regraded{First: look.Grades, Second: again.Grades, FirstOverall: overall(look), SecondOverall: overall(again),
			FirstMinutes: first.Minutes, SecondMinutes: second.Minutes, FirstChoice: first.Procedure, SecondChoice: second.Procedure}}
	if err := l.asked(audit.SecondGrades, booking, l.people[by], g.At); err != nil {
		return err
	}
	return l.store.AddSecondGrade(l.ctx, g, 1)
}
