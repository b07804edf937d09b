package api

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/photo"
	"uskel/core/shop"
	"uskel/core/wash"
	"uskel/store"
)

// OpenSecond is a signed audit that may be walked again, blind.
type OpenSecond struct {
	BlindLook
	AuditID string    `json:"auditId"`
	Label   string    `json:"label"`
	Plate   string    `json:"plate"`
	Washer  string    `json:"washer"`
	At      time.Time `json:"at"`
}

func (s *server) registerSecond(api huma.API) {
	operation(s, api, get("/second-looks", "openSeconds", "Signed audits that may be walked again, blind"), shop.Audit, s.openSeconds)
	operation(s, api, get("/audits/{id}/second", "blind", "An audit as it is walked again: without what was found"), shop.Audit, s.blind)
	operation(s, api, post("/audits/{id}/second", "secondLook", "What somebody found who walked a signed audit again, blind"), shop.Audit,
		s.secondLook)
	operation(s, api, get("/agreement", "agreement", "How far auditors agree"), shop.See, s.agreement)
}

const (
	secondWithin = 24 * time.Hour // of the signature: what stands longer has dust on it
	mostSeconds  = 6              // that are offered
	agreedFor    = 26 * 7 * 24 * time.Hour
	mostAgreed   = 2000
)

func (s *server) openSeconds(ctx context.Context, _ *struct{}) (*Out[[]OpenSecond], error) {
	rows, err := s.Store.OpenSeconds(ctx, s.Now().Add(-secondWithin), mostSeconds)
	if err != nil {
		return nil, err
	}
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.AuditID
	}
	looks, err := s.blindLooks(ctx, audit.SecondWalk, ids)
	lines := []OpenSecond{}
	for i, r := range rows {
		if err == nil && looks[i].concerns(who(ctx)) {
			lines = append(lines, OpenSecond{looks[i], r.AuditID, r.Label, r.Plate, r.Washer, r.At.UTC()})
		}
	}
	return &Out[[]OpenSecond]{lines}, err
}

// blind is an audit without its answers, its result and who gave them.
func (s *server) blind(ctx context.Context, in *ID) (*Out[AuditView], error) {
	if err := s.Store.Accepted(ctx, audit.SecondWalk, in.ID, who(ctx).ID); err != nil {
		return nil, blindly(err)
	}
	found, err := s.auditView(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	v := blinded(found.Body, who(ctx))
	v.Photos = slices.DeleteFunc(v.Photos, func(p PhotoView) bool { return p.Subject == photo.OfAudit })
	w, err := s.Store.Wash(ctx, v.WashID)
	v.Result = audit.Judge(v.Checklist, map[string]audit.Answer{}, w.Plan, audit.Walked{Skips: v.Skips})
	return &Out[AuditView]{v}, err
}

// blinded is an audit without what was found, what came of it and who found it.
func blinded(v AuditView, walker store.Person) AuditView {
	v.Answers, v.Remarks, v.Rework, v.Signer, v.ClosedAt = map[string]ItemView{}, []Remark{}, []wash.PlannedStep{}, nil, nil
	v.Unproven = []string{}
	v.Disputes, v.Disputable, v.Settled = []DisputeView{}, []string{}, nil
	v.Auditor, v.Light = ref(walker), audit.LightUnsaid
	return v
}

func (s *server) secondLook(ctx context.Context, in *struct {
	ID
	Body struct {
		Look    string                  `json:"id" format:"uuid" doc:"made by the device, so that it can be sent twice"`
		Light   audit.Light             `json:"light"`
		Answers map[string]audit.Answer `json:"answers"`
	}
}) (*Out[audit.Agreed], error) {
	a, err := s.Store.Audit(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	list, err := s.Store.Checklist(ctx, a.ChecklistID, a.ChecklistVersion)
	if err != nil {
		return nil, err
	}
	for _, answer := range in.Body.Answers {
		if err := s.provenBefore(ctx, a, answer); err != nil {
			return nil, err
		}
	}
	if err := wholeWalk(list, in.Body.Answers, audit.Walked{Light: in.Body.Light, Skips: a.Skips}); err != nil {
		return nil, err
	}
	err = s.Store.AddSecond(ctx, store.SecondLook{ID: in.Body.Look, AuditID: a.ID, AuditorID: who(ctx).ID, Light: in.Body.Light,
		Answers: in.Body.Answers, At: s.Now()})
	if err != nil {
		return nil, blindly(err)
	}
	return s.agreement(ctx, nil)
}

// wholeWalk refuses a walk that is sent whole and leaves a look open, or answers what the list does not have.
func wholeWalk(list audit.Checklist, answers map[string]audit.Answer, how audit.Walked) error {
	for id, answer := range answers {
		if err := answer.Check(); err != nil {
			return invalid("answers."+id, err)
		}
		at := slices.IndexFunc(list.Items, func(i audit.Item) bool { return i.ID == id })
		if at < 0 {
			return invalid("answers", fmt.Errorf("answers: the list has no look %q", id))
		}
		if err := list.Items[at].Proves(answer); err != nil {
			return invalid("answers."+id, err)
		}
	}
	for _, i := range list.Items {
		if _, given := answers[i.ID]; !given && how.Asks(i) {
			return invalid("answers", fmt.Errorf("answers: %q is not answered yet", i.Title))
		}
	}
	return nil
}

// agreement is how far auditors agree; who is strict is for whoever leads.
func (s *server) agreement(ctx context.Context, _ *struct{}) (*Out[audit.Agreed], error) {
	twice, err := s.Store.Twice(ctx, s.Now().Add(-agreedFor), mostAgreed)
	return &Out[audit.Agreed]{audit.Agree(twice, who(ctx).Role.Leads())}, err
}
