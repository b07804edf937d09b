package api

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/shop"
	"uskel/core/visit"
	"uskel/store"
)

// VehicleView is what is known of a vehicle.
type VehicleView struct {
	VehicleCard
	Visits []VehicleVisit `json:"visits" doc:"the newest first, a page of them"`
	More   bool           `json:"more"   doc:"there are older ones: ask for those before the last"`
}

// VehicleVisit is one visit of a vehicle, in short.
type VehicleVisit struct {
	BookingID string          `json:"bookingId"`
	At        time.Time       `json:"at"                doc:"it came, or is to come"`
	Service   string          `json:"service"`
	Stage     visit.Stage     `json:"stage"`
	Overall   *int            `json:"overall,omitempty" doc:"grade at the look-over; absent before it was looked at whole"`
	Declared  []string        `json:"declared"          doc:"bonded matter that was declared and not taken off"`
	WashID    string          `json:"washId,omitempty"`
	Washer    *PersonRef      `json:"washer,omitempty"`
	AuditID   string          `json:"auditId,omitempty" doc:"the newest"`
	Score     *int            `json:"score,omitempty"`
	Passed    bool            `json:"passed,omitempty"`
	Findings  []audit.Finding `json:"findings"          doc:"of the newest audit that was signed"`
	Said      *SaidLine       `json:"said,omitempty"    doc:"what was said of it last: a complaint, why it was broken off"`
}

const visitsShown = 30

func (s *server) registerVehicles(api huma.API) {
	operation(
		s,
		api,
		get("/vehicles/{id}", "vehicle", "A vehicle with its visits, washes, audits and findings, a page at a time"),
		shop.See,
		s.vehicle,
	)
}

func (s *server) vehicle(ctx context.Context, in *struct {
	ID
	Before time.Time `query:"before" doc:"only visits before; for the next page"`
}) (*Out[VehicleView], error) {
	v, err := s.Store.Vehicle(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	before := in.Before
	if before.IsZero() {
		before = s.Now().AddDate(10, 0, 0)
	}
	views, err := s.Store.BookingsOf(ctx, v.ID, before, visitsShown+1)
	if err != nil {
		return nil, err
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return nil, err
	}
	out := VehicleView{VehicleCard: VehicleCard{v.ID, v.Plate, v.Label, v.Spec}, Visits: []VehicleVisit{}}
	if out.More = len(views) > visitsShown; out.More {
		views = views[:visitsShown]
	}
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	if err != nil {
		return nil, err
	}
	var read []string
	for _, view := range views {
		if view.Audit != nil && veil.Audits[view.Audit.ID] {
			view.Audit.Result = nil
		}
		if veil.Bookings[view.Booking.ID] {
			view.LookOver = nil
		}
		line := visitOf(view, menu)
		if len(line.Findings) > 0 {
			read = append(read, line.AuditID)
		}
		out.Visits = append(out.Visits, line)
	}
	return &Out[VehicleView]{out}, s.noteRead(ctx, who(ctx), read...)
}

func visitOf(v store.BookingView, menu condition.Menu) VehicleVisit {
	b := v.Booking
	line := VehicleVisit{BookingID: b.ID, At: b.ArrivesAt.UTC(), Service: menu.Of(b.Service).Name, Stage: b.Stage,
		Declared: []string{}, Findings: []audit.Finding{}}
	if v.LookOver != nil {
		a := condition.Assess(b.Vehicle.Spec, v.LookOver.Doc, menu)
		if a.Looked() {
			overall := int(a.Overall)
			line.Overall = &overall
		}
		for _, o := range a.OutScope {
			line.Declared = append(line.Declared, string(o.Matter))
		}
	}
	if v.Wash != nil {
		washer := ref(v.Wash.Washer)
		line.WashID, line.Washer = v.Wash.ID, &washer
	}
	if v.Audit != nil {
		line.AuditID = v.Audit.ID
		if r := v.Audit.Result; r != nil {
			line.Score, line.Passed = &r.Score, r.Passed
			for _, f := range r.Findings {
				line.Findings = append(line.Findings, f.Finding)
			}
		}
	}
	if v.Said != nil {
		line.Said = &SaidLine{v.Said.Move, v.Said.Why, v.Said.At.UTC()}
	}
	return line
}
