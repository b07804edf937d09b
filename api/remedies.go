package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/store"
)

// RemedyView is a remedy with what the audits say of it.
type RemedyView struct {
	ID        string         `json:"id"`
	Version   int            `json:"version"`
	Remedy    audit.Remedy   `json:"remedy"`
	Where     string         `json:"where,omitempty" doc:"the step that is changed, and its procedure, in words"`
	Owner     PersonRef      `json:"owner"`
	Mine      bool           `json:"mine"`
	OpenedAt  time.Time      `json:"openedAt"`
	By        string         `json:"by"`
	ActedAt   *time.Time     `json:"actedAt,omitempty" doc:"when it took effect"`
	Published *int           `json:"published,omitempty" doc:"the version of the procedure that it took effect with"`
	ClosedAt  *time.Time     `json:"closedAt,omitempty"`
	Overdue   bool           `json:"overdue"`
	Measured  audit.Measured `json:"measured"`
}

// patternAsked is a pattern of findings as it is asked for.
type patternAsked struct {
	Weeks     int             `query:"weeks" minimum:"1" maximum:"52" default:"8"`
	Kind      audit.Kind      `query:"kind"`
	Zone      vehicle.Zone    `query:"zone"`
	Skill     procedure.Skill `query:"skill"`
	Washer    string          `query:"washer" maxLength:"36"`
	Procedure string          `query:"procedure" maxLength:"60" doc:"id"`
	Place     string          `query:"place" maxLength:"60"`
}

func (s *server) registerRemedies(api huma.API) {
	operation(s, api, get("/remedies", "remedies", "What is done about findings, and what the audits say of it"), shop.See, s.remedies)
	operation(s, api, get("/remedy-proposal", "proposeRemedy", "What may be done about some findings"), shop.Remedy, s.proposeRemedy)
	operation(s, api, post("/remedies", "addRemedy", "Take something up about some findings"), shop.Remedy, s.addRemedy)
	operation(s, api, put("/remedies/{id}", "saveRemedy", "Change a remedy"), shop.Remedy, s.saveRemedy)
	operation(s, api, post("/remedies/{id}/acted", "actRemedy", "Say that a remedy has been done"), shop.See, s.actRemedy)
	operation(s, api, post("/remedies/{id}/draft", "draftRemedy", "Open a draft of the step with the change prepared"), shop.Write,
		s.draftRemedy)
	operation(s, api, post("/remedies/{id}/close", "closeRemedy", "Close a remedy with what was measured, or take it up again"),
		shop.Remedy, s.closeRemedy)
}

const closedRemedies = 20 // that are shown

// remedyWeeks is how far back the audits reach that remedies are measured by: a year.
const remedyWeeks = 52

// remedies are for everybody to read, but for those about one person: they are between that person, the owner and the leads.
func (s *server) remedies(ctx context.Context, _ *struct{}) (*Out[[]RemedyView], error) {
	rows, err := s.Store.Remedies(ctx, closedRemedies)
	if err != nil {
		return nil, err
	}
	me := who(ctx)
	rows = slices.DeleteFunc(rows, func(r store.Remedy) bool {
		about := r.Doc.Pattern.Washer
		return about != "" && about != me.ID && r.OwnerID != me.ID && !me.Role.Leads()
	})
	var all []audit.Audited
	if slices.ContainsFunc(rows, func(r store.Remedy) bool { return r.ClosedAt == nil }) {
		if all, err = s.foundSince(ctx, remedyWeeks, ""); err != nil {
			return nil, err
		}
	}
	procedures, err := s.Store.Procedures(ctx)
	if err != nil {
		return nil, err
	}
	views := make([]RemedyView, len(rows))
	for i, r := range rows {
		views[i] = s.remedyView(ctx, r, all)
		views[i].Where = stepIn(procedures, r.Doc)
	}
	return out(views)
}

// stepIn names the step that a remedy changes; nothing where there is none.
func stepIn(procedures []procedure.Procedure, r audit.Remedy) string {
	if r.Act != audit.ChangeStep {
		return ""
	}
	for _, p := range procedures {
		for _, step := range p.Steps() {
			if p.ID == r.Pattern.Procedure && step.ID == r.Step {
				return step.Title + ", in " + p.Title
			}
		}
	}
	return r.Step
}

func (s *server) remedyView(ctx context.Context, r store.Remedy, all []audit.Audited) RemedyView {
	v := RemedyView{ID: r.ID, Version: r.Version, Remedy: r.Doc, Owner: ref(r.Owner), Mine: r.OwnerID == who(ctx).ID,
		OpenedAt: r.OpenedAt.UTC(), By: r.By.Name, ActedAt: r.ActedAt, Published: r.Published, ClosedAt: r.ClosedAt,
		Overdue: r.ClosedAt == nil && r.ActedAt == nil && s.Now().After(r.Doc.Due)}
	if r.Measured != nil {
		v.Measured = *r.Measured
		return v
	}
	v.Measured = r.Doc.Pattern.Measure(all, r.ActedAt)
	return v
}

func (s *server) proposeRemedy(ctx context.Context, in *patternAsked) (*Out[audit.Proposal], error) {
	all, err := s.foundSince(ctx, in.Weeks, "")
	p := audit.Pattern{Kind: in.Kind, Zone: in.Zone, Skill: in.Skill, Washer: in.Washer, Procedure: in.Procedure, Place: in.Place}
	return &Out[audit.Proposal]{audit.Propose(all, p, true)}, err
}

// checked refuses a remedy that does not hold, is nobody's, or names a step that there is not.
func (s *server) checked(ctx context.Context, r audit.Remedy) error {
	if err := r.Check(); err != nil {
		return invalid("remedy", err)
	}
	if p, err := s.Store.Person(ctx, r.Owner); err != nil || !p.Active {
		return invalid("remedy", errors.New("owner: choose somebody who works here"))
	}
	if r.Act != audit.ChangeStep {
		return nil
	}
	p, err := s.newest(ctx, r.Pattern.Procedure)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(p.Steps(), func(x procedure.Step) bool { return x.ID == r.Step }) {
		return invalid("remedy", fmt.Errorf("step: %s has no step %q", p.Title, r.Step))
	}
	return nil
}

func (s *server) addRemedy(ctx context.Context, in *struct {
	Body struct {
		Made   string       `json:"id" format:"uuid" doc:"made by the device, so that it can be sent twice"`
		Remedy audit.Remedy `json:"remedy"`
	}
}) (*Out[[]RemedyView], error) {
	if err := s.checked(ctx, in.Body.Remedy); err != nil {
		return nil, err
	}
	err := s.Store.AddRemedy(ctx, store.Remedy{ID: in.Body.Made, Doc: in.Body.Remedy, OpenedAt: s.Now(), ByID: who(ctx).ID})
	if err != nil {
		return nil, err
	}
	return s.remedies(ctx, nil)
}

func (s *server) saveRemedy(ctx context.Context, in *struct {
	ID
	Body struct {
		Version int          `json:"version" minimum:"1"`
		Remedy  audit.Remedy `json:"remedy"`
	}
}) (*Out[[]RemedyView], error) {
	if err := s.checked(ctx, in.Body.Remedy); err != nil {
		return nil, err
	}
	if err := s.Store.SaveRemedy(ctx, in.ID.ID, in.Body.Version, in.Body.Remedy); err != nil {
		return nil, err
	}
	return s.remedies(ctx, nil)
}

func (s *server) actRemedy(ctx context.Context, in *ID) (*Out[[]RemedyView], error) {
	err := s.Store.ActRemedy(ctx, in.ID, who(ctx).ID, who(ctx).Role.Leads(), s.Now())
	if errors.Is(err, store.ErrNotOwner) {
		return nil, forbidden(sentenceCase(err.Error()) + ".")
	}
	if err != nil {
		return nil, err
	}
	return s.remedies(ctx, nil)
}

// Prepared is a draft that a remedy's change was written into.
type Prepared struct {
	Procedure string   `json:"procedure"`
	Step      string   `json:"step"`
	Changes   []string `json:"changes" doc:"what was written into it; empty when it was there already"`
}

// newest is the newest version of a procedure.
func (s *server) newest(ctx context.Context, id string) (procedure.Procedure, error) {
	versions, err := s.Store.Versions(ctx, id)
	if err != nil {
		return procedure.Procedure{}, err
	}
	if len(versions) == 0 {
		return procedure.Procedure{}, store.NoSuch("procedure")
	}
	return versions[0].Doc, nil
}

// draftRemedy writes the change into the procedure's draft; one that is there is gone on with, never overwritten.
func (s *server) draftRemedy(ctx context.Context, in *ID) (*Out[Prepared], error) {
	r, err := s.Store.Remedy(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	if r.Doc.Act != audit.ChangeStep || r.ClosedAt != nil {
		return nil, conflict("This remedy changes no step, or is closed.")
	}
	id := r.Doc.Pattern.Procedure
	d, err := s.Store.Draft(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		var p procedure.Procedure
		p, err = s.newest(ctx, id)
		d = store.Draft{ID: id, BasedOn: p.Version, Doc: p}
	}
	if err != nil {
		return nil, err
	}
	prepared := Prepared{Procedure: id, Step: r.Doc.Step, Changes: []string{}}
	doc, changes := audit.PrepareIn(d.Doc, r.Doc.Step, r.Doc.Pattern)
	d.Doc, prepared.Changes = doc, append(prepared.Changes, changes...)
	if len(prepared.Changes) == 0 && d.Revision > 0 {
		return out(prepared)
	}
	d.ByID, d.At = who(ctx).ID, s.Now()
	_, err = s.Store.SaveDraft(ctx, d)
	return &Out[Prepared]{prepared}, err
}

func (s *server) closeRemedy(ctx context.Context, in *struct {
	ID
	Body struct {
		Version int  `json:"version" minimum:"1"`
		Again   bool `json:"again" doc:"take a closed one up again, to be done anew"`
	}
}) (*Out[[]RemedyView], error) {
	if in.Body.Again {
		if err := s.Store.ReopenRemedy(ctx, in.ID.ID, in.Body.Version); err != nil {
			return nil, err
		}
		return s.remedies(ctx, nil)
	}
	r, err := s.Store.Remedy(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	all, err := s.allFound(ctx, remedyWeeks, "") // what is kept hangs on nobody's blind look
	if err != nil {
		return nil, err
	}
	m := r.Doc.Pattern.Measure(all, r.ActedAt)
	if err := s.Store.CloseRemedy(ctx, r.ID, in.Body.Version, who(ctx).ID, s.Now(), m); err != nil {
		return nil, err
	}
	return s.remedies(ctx, nil)
}
