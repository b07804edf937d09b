package api

import (
	"context"
	"maps"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/vehicle"
)

// FindingsAsked is which findings are looked at.
type FindingsAsked struct {
	Weeks     int             `query:"weeks" minimum:"1" maximum:"52" default:"8" doc:"back from now"`
	Kind      audit.Kind      `query:"kind"`
	Zone      vehicle.Zone    `query:"zone"`
	Skill     procedure.Skill `query:"skill"`
	Washer    string          `query:"washer" maxLength:"36" doc:"an id; for whoever leads, others see their own"`
	Procedure string          `query:"procedure" maxLength:"80" doc:"as a tally has it: id@version"`
	Place     string          `query:"place" maxLength:"60"`
}

// FindingsView is what audits found, counted, with the newest of them.
type FindingsView struct {
	audit.Counted
	Newest []FoundLine        `json:"newest"`
	Marks  audit.RiskAndMarks `json:"marks" doc:"whether planned scratch risk says anything of marks, of all washes"`
	Own    bool               `json:"own" doc:"only of what the person signed in washed"`
	Way    []audit.WayRow     `json:"way" doc:"what looks on the way came to, whatever else is asked for"`
}

// FoundLine is a finding with where it is to be read.
type FoundLine struct {
	AuditID string       `json:"auditId"`
	Label   string       `json:"label"`
	Plate   string       `json:"plate"`
	Washer  string       `json:"washer"`
	At      time.Time    `json:"at"`
	Finding audit.Traced `json:"finding"`
}

func (s *server) registerFindings(api huma.API) {
	operation(s, api, get("/findings", "findings", "What audits found, counted"), shop.See, s.findings)
	operation(s, api, get("/audit-split", "auditSplit", "How a week's audits find most"), shop.Remedy, s.auditSplit)
	operation(s, api, get("/audit-weeks", "auditWeeks", "What audits found week by week, with the limits of chance"), shop.See, s.auditWeeks)
	operation(s, api, file(get("/audit-weeks/export", "exportAuditWeeks", "The same as a table"), "text/csv"), shop.See, s.exportAuditWeeks)
	operation(s, api, file(get("/findings/export", "exportFindings", "What audits found, as a table"), "text/csv"), shop.See, s.exportFindings)
}

const (
	mostAudits   = 20_000 // that are counted; at 50,000 washes a year some two thirds of a year where a third is audited
	newestFound  = 60
	hoursInAWeek = 7 * 24
)

// found are the audits that somebody may count: all of them for whoever leads or audits, else those of their own washes.
func (s *server) found(ctx context.Context, in *FindingsAsked) ([]audit.Audited, bool, error) {
	own := !who(ctx).Role.Leads() && who(ctx).Role != shop.Auditor
	washer := ""
	if own {
		washer = who(ctx).ID
	}
	all, err := s.foundSince(ctx, in.Weeks, washer)
	return all, own, err
}

// foundSince are the first audits of some weeks that are not hidden from whoever asks; of one washer when one is named.
func (s *server) foundSince(ctx context.Context, weeks int, washer string) ([]audit.Audited, error) {
	all, err := s.allFound(ctx, weeks, washer)
	if err != nil {
		return nil, err
	}
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	if !veil.Empty() {
		all = slices.DeleteFunc(all, func(a audit.Audited) bool { return veil.Audits[a.ID] })
	}
	return all, err
}

// allFound are the first audits of some weeks, at the shop's own hours; of one washer when one is named.
func (s *server) allFound(ctx context.Context, weeks int, washer string) ([]audit.Audited, error) {
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	zone, err := time.LoadLocation(settings.TimeZone)
	if err != nil {
		return nil, err
	}
	now := s.Now()
	all, err := s.Store.FoundIn(ctx, now.Add(-time.Duration(weeks)*hoursInAWeek*time.Hour), now, washer, mostAudits)
	for i := range all {
		all[i].At = all[i].At.In(zone)
	}
	return all, err
}

// which is what somebody may ask for: nobody is looked up but by the lead; one's own is all there is to see.
func (in *FindingsAsked) which(ctx context.Context) audit.Which {
	w := audit.Which{Kind: in.Kind, Zone: in.Zone, Skill: in.Skill, Procedure: in.Procedure, Place: in.Place}
	if who(ctx).Role.Leads() {
		w.Washer = in.Washer
	}
	return w
}

func (s *server) findings(ctx context.Context, in *FindingsAsked) (*Out[FindingsView], error) {
	all, own, err := s.found(ctx, in)
	if err != nil {
		return nil, err
	}
	which := in.which(ctx)
	way, err := s.onTheWay(ctx, in.Weeks, own, all)
	if err != nil {
		return nil, err
	}
	v := FindingsView{Counted: audit.Count(all, which, who(ctx).Role.Leads()), Marks: audit.Marks(all), Newest: []FoundLine{}, Own: own,
		Way: way}
	var read []string
	for _, a := range audit.Matching(all, which) {
		for _, f := range a.Findings {
			if len(v.Newest) < newestFound {
				v.Newest = append(v.Newest, FoundLine{a.ID, a.Label, a.Plate, a.Washer, a.At, f})
				read = append(read, a.ID)
			}
		}
	}
	return &Out[FindingsView]{v}, s.noteRead(ctx, who(ctx), read...)
}

// onTheWay counts the looks on the way of some weeks, and tells each audit which checks were made.
func (s *server) onTheWay(ctx context.Context, weeks int, own bool, all []audit.Audited) ([]audit.WayRow, error) {
	washer := ""
	if own {
		washer = who(ctx).ID
	}
	looks, err := s.Store.LookedAt(ctx, s.Now().Add(-time.Duration(weeks)*hoursInAWeek*time.Hour), washer)
	if err != nil {
		return nil, err
	}
	lists, err := s.newestLists(ctx)
	audit.Checked(all, looks, lists)
	return audit.OnTheWay(slices.Collect(maps.Values(looks)), lists), err
}

// rateWeeks is over how many weeks somebody's rate of bad washes is estimated (model).
const rateWeeks = 12

// auditSplit shares a week's audits out by what audits of the last weeks found of everybody and every
// procedure, and what was washed in the last two.
func (s *server) auditSplit(ctx context.Context, in *struct {
	Audits int `query:"audits" minimum:"0" maximum:"500" default:"10" doc:"that people have time for in a week"`
}) (*Out[audit.Split], error) {
	all, err := s.foundSince(ctx, rateWeeks, "")
	if err != nil {
		return nil, err
	}
	washes, err := s.finishedOfLate(ctx)
	if err != nil {
		return nil, err
	}
	type cell struct{ who, by string }
	cells, order := map[cell]*audit.Cell{}, []cell{}
	for _, w := range washes {
		key := cell{w.WasherID, w.Procedure}
		if cells[key] == nil {
			cells[key] = &audit.Cell{ID: w.WasherID, Name: w.WasherName, Procedure: w.Procedure, Title: w.Title}
			order = append(order, key)
		}
		cells[key].Washes++
	}
	list := make([]audit.Cell, len(order))
	for i, key := range order {
		list[i] = *cells[key]
		list[i].Washes = (list[i].Washes + 1) / 2 // a week's, of two
	}
	return out(audit.Divide(list, all, in.Audits))
}

// byWeek counts the weeks that are asked for, up to this one.
func (s *server) byWeek(ctx context.Context, in *FindingsAsked) (audit.Weeks, error) {
	asked := *in
	asked.Weeks++ // the first week began before so many weeks ago
	all, _, err := s.found(ctx, &asked)
	return audit.ByWeek(all, in.which(ctx), in.Weeks, s.local(ctx, s.Now())), err
}

func (s *server) auditWeeks(ctx context.Context, in *FindingsAsked) (*Out[audit.Weeks], error) {
	weeks, err := s.byWeek(ctx, in)
	return &Out[audit.Weeks]{weeks}, err
}

func (s *server) exportAuditWeeks(ctx context.Context, in *FindingsAsked) (*Document, error) {
	weeks, err := s.byWeek(ctx, in)
	return documentOf("audit-weeks", "csv", []byte(weeks.CSV())), err
}

func (s *server) exportFindings(ctx context.Context, in *FindingsAsked) (*Document, error) {
	all, _, err := s.found(ctx, in)
	if err != nil {
		return nil, err
	}
	if !who(ctx).Role.Leads() {
		all = slices.Clone(all)
		for i := range all {
			if all[i].WasherID != who(ctx).ID {
				all[i].Washer = ""
			}
		}
	}
	matching := audit.Matching(all, in.which(ctx))
	if err := s.noteRead(ctx, who(ctx), lately(matching, s.Now().Add(-secondWithin))...); err != nil {
		return nil, err
	}
	text := audit.FoundCSV(matching)
	return documentOf("findings", "csv", []byte(text)), nil
}

// lately are the audits since a time: those that may still be walked again.
func lately(all []audit.Audited, since time.Time) []string {
	var ids []string
	for _, a := range all {
		if a.At.After(since) && len(ids) < newestFound {
			ids = append(ids, a.ID)
		}
	}
	return ids
}
