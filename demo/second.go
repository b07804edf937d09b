package demo

import (
	"math/rand"
	"time"

	"uskel/core/audit"
	"uskel/core/visit"
	"uskel/store"
)

// The lead walks every fourth wash that passed once more, without seeing what was found. Maren is the more lenient of the two, and
// "film edges" is a look that the two understand differently: it is answered by chance.
const (
	walkedAgain = 4     // one in so many
	overlooked  = 0.5   // share of what there is to be found that Maren lets pass
	foundMore   = 0.004 // share of looks at which she finds what nobody else did
	misread     = 0.30  // share of the vague look's answers that come out the other way
	vagueLook   = "edges"
)

func (l *loader) second(t story, w store.Wash, at time.Time) error {
	v, err := l.store.Booking(l.ctx, w.BookingID)
	if err != nil || t.ago == 0 || v.Booking.Stage != visit.Ready || w.WasherID == l.people["maren"] {
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
		case had:
			other = overlooked
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
	return l.store.AddSecond(l.ctx, store.SecondLook{ID: idFrom(dice), AuditID: first.ID, AuditorID: l.people["maren"],
		Light: audit.Lamp, Answers: answers, At: at})
}

// kindOf is what a look of the final walk finds most.
func kindOf(item string) audit.Kind {
	for _, i := range audit.Starter().Items {
		if i.ID == item {
			return i.Kinds[0]
		}
	}
	return audit.DirtLeft
}
