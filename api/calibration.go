package api

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/shop"
	"uskel/store"
)

// CalibrationLine is a walk of the calibration set.
type CalibrationLine struct {
	ID       string        `json:"id"`
	Title    string        `json:"title"`
	Label    string        `json:"label" doc:"of the vehicle"`
	List     string        `json:"list"`
	Photos   int           `json:"photos"`
	Findings int           `json:"findings" doc:"that a lead confirmed; 0 as long as one may walk it"`
	By       string        `json:"by"`
	At       time.Time     `json:"at"`
	Walks    int           `json:"walks"`
	MayWalk  bool          `json:"mayWalk" doc:"the person signed in neither knows what there is nor has walked it"`
	Mine     *audit.Scored `json:"mine,omitempty" doc:"what the person signed in found of it"`
}

// CalibrationSet is the set with what it shows.
type CalibrationSet struct {
	Set []CalibrationLine `json:"set"`
	// Shows is about people, and for whoever leads.
	Shows *audit.Calibrated `json:"shows,omitempty" doc:"what it shows of all who walked; for whoever leads"`
}

func (s *server) registerCalibration(api huma.API) {
	operation(s, api, get("/calibration", "calibration", "Walks with known findings, and who finds what of them"), shop.Audit, s.calibration)
	operation(s, api, post("/audits/{id}/calibration", "addCalibration", "Put a signed audit into the calibration set"), shop.Remedy,
		s.addCalibration)
	operation(s, api, get("/calibration/{id}", "calibrationWalk", "A walk of the set as it is walked: without what there is"), shop.Audit,
		s.calibrationWalk)
	operation(s, api, post("/calibration/{id}/walks", "walkCalibration", "What somebody found in a walk of the set"), shop.Audit,
		s.walkCalibration)
	operation(s, api, remove("/calibration/{id}", "retireCalibration", "Take a walk out of the set"), shop.Remedy, s.retireCalibration)
}

const mostCalibrations = 60

// calibrated are the walks of the set as the core knows them, and what was walked.
func (s *server) calibrated(ctx context.Context) ([]store.Calibration, []audit.Calibration, []audit.CalibrationWalk, error) {
	rows, err := s.Store.Calibrations(ctx, mostCalibrations)
	if err != nil {
		return nil, nil, nil, err
	}
	set, ids, lists := make([]audit.Calibration, len(rows)), make([]string, len(rows)), map[string]audit.Checklist{}
	for i, r := range rows {
		ids[i] = r.ID
		key := fmt.Sprint(r.Audit.ChecklistID, " ", r.Audit.ChecklistVersion)
		if _, known := lists[key]; !known {
			if lists[key], err = s.Store.Checklist(ctx, r.Audit.ChecklistID, r.Audit.ChecklistVersion); err != nil {
				return nil, nil, nil, err
			}
		}
		set[i] = audit.Calibration{ID: r.ID, Title: r.Title, List: lists[key], Truth: r.Truth}
	}
	made, err := s.Store.CalibrationWalks(ctx, ids)
	walks := make([]audit.CalibrationWalk, len(made))
	for i, w := range made {
		walks[i] = audit.CalibrationWalk{Of: w.CalibrationID, By: audit.Who{ID: w.AuditorID, Name: w.Auditor.Name}, Light: w.Light,
			Answers: w.Answers}
	}
	return rows, set, walks, err
}

func (s *server) calibration(ctx context.Context, _ *struct{}) (*Out[CalibrationSet], error) {
	rows, set, walks, err := s.calibrated(ctx)
	if err != nil {
		return nil, err
	}
	audits := make([]string, len(rows))
	for i, r := range rows {
		audits[i] = r.AuditID
	}
	labels, err := s.Store.AuditLabels(ctx, audits)
	if err != nil {
		return nil, err
	}
	me := who(ctx)
	know, err := s.Store.Knowing(ctx, audit.SetWalk, calibrationIDs(rows)...)
	if err != nil {
		return nil, err
	}
	v := CalibrationSet{Set: make([]CalibrationLine, len(rows))}
	for i, r := range rows {
		line := CalibrationLine{ID: r.ID, Title: r.Title, Label: labels[r.AuditID].Label, Photos: labels[r.AuditID].Photos,
			List: set[i].List.Title, By: r.By.Name, At: r.At.UTC(), MayWalk: audit.MayLookBlind(me.ID, know[r.ID]) == nil}
		for _, w := range walks {
			if w.Of != r.ID {
				continue
			}
			line.Walks++
			if w.By.ID == me.ID {
				scored := set[i].Score(w)
				line.Mine, line.MayWalk = &scored, false
			}
		}
		if !line.MayWalk {
			line.Findings = set[i].Findings()
		}
		v.Set[i] = line
	}
	if me.Role.Leads() {
		shows := audit.Calibrate(set, walks)
		v.Shows = &shows
	}
	return out(v)
}

func (s *server) addCalibration(ctx context.Context, in *struct {
	ID
	Body struct {
		Calibration string                  `json:"id" format:"uuid" doc:"made by the device, so that it can be sent twice"`
		Title       string                  `json:"title" minLength:"1" maxLength:"80"`
		Truth       map[string]audit.Answer `json:"truth" doc:"by look, what there is to be found, as the lead confirms it"`
	}
}) (*Out[CalibrationSet], error) {
	a, err := s.Store.Audit(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if a.ClosedAt == nil {
		return nil, conflict("This audit is not signed yet: what it found is still open.")
	}
	list, err := s.Store.Checklist(ctx, a.ChecklistID, a.ChecklistVersion)
	if err != nil {
		return nil, err
	}
	title := strings.TrimSpace(in.Body.Title)
	if err := (audit.Calibration{Title: title, List: list, Truth: in.Body.Truth}).Check(); err != nil {
		return nil, invalid("truth", err)
	}
	err = s.Store.AddCalibration(ctx, store.Calibration{ID: in.Body.Calibration, AuditID: a.ID, Title: title, Truth: in.Body.Truth,
		ByID: who(ctx).ID, At: s.Now()})
	if err != nil {
		return nil, err
	}
	return s.calibration(ctx, nil)
}

// calibrationWalk is a walk of the set without what there is; its photos are what it is walked by.
func (s *server) calibrationWalk(ctx context.Context, in *ID) (*Out[AuditView], error) {
	c, err := s.Store.Calibration(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	if err := s.Store.Accepted(ctx, audit.SetWalk, c.ID, who(ctx).ID); err != nil {
		return nil, blindly(err)
	}
	found, err := s.auditView(ctx, c.AuditID)
	if err != nil {
		return nil, err
	}
	v := blinded(found.Body, who(ctx))
	for i := range v.Photos {
		v.Photos[i].Item, v.Photos[i].Note, v.Photos[i].By = "", "", ""
	}
	w, err := s.Store.Wash(ctx, v.WashID)
	v.Result = audit.Judge(v.Checklist, map[string]audit.Answer{}, w.Plan, audit.Walked{Skips: v.Skips})
	v.Label = c.Title
	return &Out[AuditView]{v}, err
}

func (s *server) walkCalibration(ctx context.Context, in *struct {
	ID
	Body struct {
		Walk    string                  `json:"id" format:"uuid" doc:"made by the device, so that it can be sent twice"`
		Light   audit.Light             `json:"light"`
		Answers map[string]audit.Answer `json:"answers"`
	}
}) (*Out[CalibrationSet], error) {
	c, err := s.Store.Calibration(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	list, err := s.Store.Checklist(ctx, c.Audit.ChecklistID, c.Audit.ChecklistVersion)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(in.Body.Light.Values(), string(in.Body.Light)) {
		return nil, invalid("light", fmt.Errorf("light %q: use one of %q", in.Body.Light, in.Body.Light.Values()))
	}
	if err := wholeWalk(list, in.Body.Answers, audit.Walked{Light: in.Body.Light, Skips: c.Audit.Skips}); err != nil {
		return nil, err
	}
	err = s.Store.AddCalibrationWalk(ctx, store.CalibrationWalk{ID: in.Body.Walk, CalibrationID: c.ID, AuditorID: who(ctx).ID,
		Light: in.Body.Light, Answers: in.Body.Answers, At: s.Now()})
	if err != nil {
		return nil, blindly(err)
	}
	return s.calibration(ctx, nil)
}

func calibrationIDs(rows []store.Calibration) []string {
	ids := make([]string, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	return ids
}

func (s *server) retireCalibration(ctx context.Context, in *ID) (*Out[CalibrationSet], error) {
	if err := s.Store.RetireCalibration(ctx, in.ID, s.Now()); err != nil {
		return nil, err
	}
	return s.calibration(ctx, nil)
}
