package api

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/shop"
	"uskel/core/wash"
	"uskel/store"
)

// DisputeView is what whoever washed says against a finding, and how it was settled.
type DisputeView struct {
	ID        string     `json:"id"`
	Item      string     `json:"item"`
	Note      string     `json:"note"`
	By        PersonRef  `json:"by"`
	At        time.Time  `json:"at"`
	Upheld    *bool      `json:"upheld,omitempty" doc:"settled for whoever washed: it does not count; absent until it is settled"`
	Answer    string     `json:"answer,omitempty"`
	Settler   *PersonRef `json:"settler,omitempty"`
	SettledAt *time.Time `json:"settledAt,omitempty"`
}

// OpenDispute is a dispute that waits to be settled.
type OpenDispute struct {
	AuditID string    `json:"auditId"`
	Label   string    `json:"label"`
	Plate   string    `json:"plate"`
	Note    string    `json:"note"`
	By      string    `json:"by"`
	Own     bool      `json:"own" doc:"raised by the person signed in, who does not settle it"`
	At      time.Time `json:"at"`
}

func (s *server) registerDisputes(api huma.API) {
	operation(s, api, post("/audits/{id}/disputes", "dispute", "Dispute what a signed audit found at an item"), shop.Wash, s.dispute)
	operation(s, api, get("/disputes", "openDisputes", "Disputes that wait to be settled; one's own for whoever does not lead"), shop.See,
		s.openDisputes)
	operation(s, api, post("/disputes/{id}/settle", "settleDispute", "Settle a dispute"), shop.Correct, s.settleDispute)
}

const mostDisputes = 50

func (s *server) dispute(ctx context.Context, in *struct {
	ID
	Body struct {
		Dispute string `json:"id" format:"uuid" doc:"made by the device, so that it can be sent twice"`
		Item    string `json:"item" maxLength:"80"`
		Note    string `json:"note" minLength:"1" maxLength:"500" doc:"what speaks against the finding"`
	}
}) (*Out[AuditView], error) {
	if strings.TrimSpace(in.Body.Note) == "" {
		return nil, invalid("note", errors.New("note: say what speaks against the finding"))
	}
	now := s.Now()
	err := s.Store.AddDispute(ctx, store.Dispute{ID: in.Body.Dispute, AuditID: in.ID.ID, Item: in.Body.Item,
		Note: strings.TrimSpace(in.Body.Note), ByID: who(ctx).ID, At: now}, func(a store.Audit, washers []string) error {
		result := audit.Result{}
		if a.Result != nil {
			result = *a.Result
		}
		return audit.MayDispute(who(ctx).ID, washers, a.ClosedAt, now, result, in.Body.Item)
	})
	if err != nil {
		return nil, told(err)
	}
	return s.auditView(ctx, in.ID.ID)
}

// told is why a dispute is refused.
func told(err error) error {
	switch {
	case errors.Is(err, audit.ErrNotWasher), errors.Is(err, audit.ErrOwnDispute):
		return forbidden(sentenceCase(err.Error()) + ".")
	case errors.Is(err, audit.ErrNotSigned), errors.Is(err, audit.ErrLongAgo), errors.Is(err, audit.ErrNothing),
		errors.Is(err, store.ErrDisputed):
		return conflict(sentenceCase(err.Error()) + ".")
	case errors.Is(err, store.ErrStale):
		return conflict("Another lead has settled it already.")
	}
	return err
}

func (s *server) openDisputes(ctx context.Context, _ *struct{}) (*Out[[]OpenDispute], error) {
	of := who(ctx).ID
	if who(ctx).Role.Leads() {
		of = ""
	}
	rows, err := s.Store.OpenDisputes(ctx, of, mostDisputes)
	if err != nil {
		return nil, err
	}
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	lines, read := []OpenDispute{}, []string{}
	for _, d := range rows {
		if !veil.Audits[d.AuditID] {
			lines = append(lines, OpenDispute{d.AuditID, d.Label, d.Plate, d.Note, d.By, d.ByID == who(ctx).ID, d.At.UTC()})
			read = append(read, d.AuditID)
		}
	}
	return &Out[[]OpenDispute]{lines}, cmp.Or(err, s.noteRead(ctx, who(ctx), read...))
}

func (s *server) settleDispute(ctx context.Context, in *struct {
	ID
	Body struct {
		Upheld bool   `json:"upheld" doc:"for whoever washed: the finding does not count"`
		Answer string `json:"answer" minLength:"1" maxLength:"500" doc:"why"`
	}
}) (*Out[AuditView], error) {
	if strings.TrimSpace(in.Body.Answer) == "" {
		return nil, invalid("answer", errors.New("answer: say why it is settled so"))
	}
	now, settler := s.Now(), who(ctx).ID
	id, err := s.Store.SettleDispute(ctx, store.Dispute{ID: in.ID.ID, Upheld: &in.Body.Upheld, Answer: strings.TrimSpace(in.Body.Answer),
		SettlerID: &settler, SettledAt: &now})
	if err != nil {
		return nil, told(err)
	}
	return s.auditView(ctx, id)
}

// disputed tells an audit's disputes, which of its items the person signed in may dispute, and what it would be with what was
// settled for whoever washed.
func (s *server) disputed(ctx context.Context, view *AuditView, a store.Audit, w store.Wash, log []wash.Event) error {
	rows, err := s.Store.Disputes(ctx, a.ID)
	if err != nil {
		return err
	}
	view.Disputes, view.Disputable = []DisputeView{}, []string{}
	var upheld []string
	for _, d := range rows {
		v := DisputeView{ID: d.ID, Item: d.Item, Note: d.Note, By: ref(d.By), At: d.At.UTC(), Upheld: d.Upheld, Answer: d.Answer,
			SettledAt: d.SettledAt}
		if d.Settler != nil {
			settler := ref(*d.Settler)
			v.Settler = &settler
		}
		if d.Upheld != nil && *d.Upheld {
			upheld = append(upheld, d.Item)
		}
		view.Disputes = append(view.Disputes, v)
	}
	if len(upheld) > 0 {
		beside := audit.Settled(view.Checklist, a.Answers(), declared(w, log), a.Walked(), upheld)
		view.Settled = &beside
	}
	if !who(ctx).Role.May(shop.Wash) {
		return nil
	}
	for _, item := range view.Checklist.Items {
		known := slices.ContainsFunc(rows, func(d store.Dispute) bool { return d.Item == item.ID })
		if !known && audit.MayDispute(who(ctx).ID, wash.Washers(w.WasherID, w.Steps(), log), a.ClosedAt, s.Now(), view.Result, item.ID) == nil {
			view.Disputable = append(view.Disputable, item.ID)
		}
	}
	return nil
}
