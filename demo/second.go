package demo

import (
	"errors"
	"math/rand"
	"time"

	"uskel/core/audit"
	"uskel/core/visit"
	"uskel/store"
)

// Every fourth wash that passed is walked once more, without seeing what was found. Bram is more lenient than the others, and
// "film edges" is a look that they understand differently: it is answered by chance.
const (
	walkedAgain = 4     // one in so many
	overlooked  = 0.55  // share of what there is to be found that Bram lets pass
	missed      = 0.05  // and the others
	foundMore   = 0.004 // share of looks at which somebody finds what nobody else did
	misread     = 0.30  // share of the vague look's answers that come out the other way
	vagueLook   = "edges"
)

func (l *loader) second(t story, w store.Wash, at time.Time) error {
	v, err := l.store.Booking(l.ctx, w.BookingID)
	if err != nil || t.ago == 0 || v.Booking.Stage != visit.Ready {
		return err
	}
	head, err := l.store.WashHead(l.ctx, w.ID)
	if err != nil || head.AuditID == nil {
		return err
	}
	first, err := l.store.Audit(l.ctx, *head.AuditID)
	if err != nil {
		return err
	}
	again := l.otherAuditor(first.AuditorID, at)
	dice := rand.New(rand.NewSource(Seed + at.Unix()))
	if dice.Intn(walkedAgain) > 0 || first.Round > 1 {
		return nil
	}
	pass := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	answers := map[string]audit.Answer{}
	for _, item := range first.Items {
		answers[item.Item] = item.Answer
		had, other := item.Answer.Verdict == audit.Found, foundMore
		switch {
		case item.Item == vagueLook:
			other = misread
		case had && again == l.people["bram"]:
			other = overlooked
		case had:
			other = missed
		}
		if dice.Float64() >= other {
			continue
		}
		answers[item.Item] = pass
		if !had {
			answers[item.Item] = audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
				{Zone: "bonnet", Kind: kindOf(item.Item), Severity: audit.Minor, Amount: 3}}}
		}
	}
	if err := l.asked(audit.SecondWalk, first.ID, again, at); errors.Is(err, audit.ErrReworked) {
		return nil
	} else if err != nil {
		return err
	}
	return l.store.AddSecond(l.ctx, store.SecondLook{ID: idFrom(dice), AuditID: first.ID, AuditorID: again,
		Light: audit.Lamp, Answers: answers, At: at})
}

// auditor is who walks round a wash first: Hesper until the other two join, then by turns.
func (l *loader) auditor(t story, w store.Wash) string {
	if t.ago > auditorsJoin || t.ago == 0 {
		return l.people["hesper"]
	}
	return l.people[[]string{"hesper", "lis", "hesper"}[w.CreatedAt.Unix()/60%3]]
}

// otherAuditor is who walks round it once more: mostly Bram.
func (l *loader) otherAuditor(first string, at time.Time) string {
	if again := l.people["lis"]; again != first && at.Unix()/60%4 == 0 {
		return again
	}
	return l.people["bram"]
}

// auditorsJoin is how many days ago two more auditors joined.
const auditorsJoin = 60

// kindOf is what a look of the final walk finds most.
func kindOf(item string) audit.Kind {
	for _, i := range audit.Starter().Items {
		if i.ID == item {
			return i.Kinds[0]
		}
	}
	return audit.DirtLeft
}

// asked has somebody say that they look at something again, blind.
func (l *loader) asked(kind audit.Blind, subject, who string, at time.Time) error {
	return l.store.AskBlind(l.ctx, store.BlindOffer{Kind: kind, SubjectID: subject, PersonID: who, ByID: who, State: audit.IsAccepted, At: at,
		AnsweredAt: &at})
}
