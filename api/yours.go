package api

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/plan"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
)

// Yours is what somebody has to do now and next.
type Yours struct {
	Hand  *YoursHand `json:"hand,omitempty"  doc:"the wash in hand"`
	Next  *YoursNext `json:"next,omitempty"  doc:"the next car that is yours"`
	Skill string     `json:"skill,omitempty" doc:"of a trainee, the next skill to be learnt"`
}

// YoursHand is a wash that somebody works on.
type YoursHand struct {
	WashID string    `json:"washId"`
	Label  string    `json:"label"`
	Plate  string    `json:"plate"`
	Place  string    `json:"place"`
	Step   string    `json:"step,omitempty" doc:"title; absent between two steps"`
	Since  time.Time `json:"since,omitzero"`
	// Handed is what somebody else gave over last, while it is still to do.
	Handed *YoursHanded `json:"handed,omitempty"`
}

// YoursHanded is work that somebody else handed over.
type YoursHanded struct {
	By   string    `json:"by" doc:"name"`
	At   time.Time `json:"at"`
	Step string    `json:"step,omitempty" doc:"title; absent when only the rest was handed over"`
	Rest bool      `json:"rest" doc:"with all that was still to do"`
}

// YoursNext is a car that somebody washes next.
type YoursNext struct {
	BookingID string         `json:"bookingId"`
	Label     string         `json:"label"`
	Plate     string         `json:"plate"`
	Place     string         `json:"place"`
	At        time.Time      `json:"at"                  doc:"it is given this moment, or else arrives then"`
	Promised  time.Time      `json:"promised"`
	Stage     visit.Stage    `json:"stage"`
	WashID    string         `json:"washId,omitempty"    doc:"of rework"`
	Procedure string         `json:"procedure,omitempty" doc:"title; absent before it was looked over"`
	Minutes   float64        `json:"minutes,omitempty"`
	Fetch     []plan.Fetched `json:"fetch"               doc:"what to have at hand"`
}

func (s *server) registerYours(api huma.API) {
	operation(s, api, get("/yours", "yours", "What is in your hands, and your next car"), shop.See, s.yours)
}

func (s *server) yours(ctx context.Context, _ *struct{}) (*Out[Yours], error) {
	views, states, err := s.todays(ctx)
	if err != nil {
		return nil, err
	}
	me := who(ctx)
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	y := Yours{Hand: handOf(me.ID, views, states, people)}
	if next, there := nextOf(me.ID, views, y.Hand); there {
		if y.Next, err = s.nextCar(ctx, next); err != nil {
			return nil, err
		}
	}
	if me.Role == shop.Trainee {
		offs, err := s.signOffs(ctx)
		if err != nil {
			return nil, err
		}
		rubrics, err := s.Store.Rubrics(ctx)
		if err != nil {
			return nil, err
		}
		y.Skill = string(skills.Next(rubrics, skillsOf(me, offs)))
	}
	return out(y)
}

// handOf is the wash that somebody has in hand, or washes and is between two steps of.
func handOf(me string, views []store.BookingView, states map[string]wash.State, people []store.Person) *YoursHand {
	for _, v := range views {
		if v.Wash == nil || !v.Booking.Stage.Washing() {
			continue
		}
		h := YoursHand{WashID: v.Wash.ID, Label: v.Booking.Vehicle.Label, Plate: v.Booking.Vehicle.Plate,
			Place: v.Booking.Place.Name}
		state := states[v.Wash.ID]
		at := slices.IndexFunc(state.Hands, func(h wash.Hand) bool { return h.By == me })
		if !state.Washing(me, v.Wash.WasherID) {
			continue
		}
		if handed, there := state.HandedTo(me); there {
			h.Handed = &YoursHanded{At: handed.At.UTC(), Rest: handed.Rest, By: nameOf(handed.By, people)}
			for _, step := range v.Wash.Steps() {
				if step.ID == handed.Step {
					h.Handed.Step = step.Title
				}
			}
		}
		for i, step := range v.Wash.Steps() {
			if at >= 0 && step.ID == state.Hands[at].Step {
				h.Step, h.Since = step.Title, state.Steps[i].Since
			}
		}
		return &h
	}
	return nil
}

// nameOf is what somebody is called; nothing for one who is not there any more.
func nameOf(id string, people []store.Person) string {
	for _, p := range people {
		if p.ID == id {
			return p.Name
		}
	}
	return ""
}

// nextOf is the first car of today that is somebody's and not begun; rework comes before what is new.
func nextOf(me string, views []store.BookingView, hand *YoursHand) (store.BookingView, bool) {
	var mine []store.BookingView
	for _, v := range views {
		own := v.Booking.WasherID != nil && *v.Booking.WasherID == me
		again := v.Booking.Stage == visit.Rework && v.Wash != nil && v.Wash.WasherID == me
		if again && hand != nil && hand.WashID == v.Wash.ID {
			continue
		}
		if again || own && (v.Booking.Stage == visit.Booked || v.Booking.Stage == visit.LookedOver) {
			mine = append(mine, v)
		}
	}
	if len(mine) == 0 {
		return store.BookingView{}, false
	}
	return slices.MinFunc(mine, func(a, b store.BookingView) int {
		if again := a.Booking.Stage == visit.Rework; again != (b.Booking.Stage == visit.Rework) {
			return map[bool]int{true: -1, false: 1}[again]
		}
		return cmp.Or(begins(a).Compare(begins(b)), cmp.Compare(a.Booking.ID, b.Booking.ID))
	}), true
}

// begins is when a car may be begun: at the moment it was given, or else when it arrives.
func begins(v store.BookingView) time.Time {
	if v.Booking.StartsAt != nil {
		return v.Booking.StartsAt.UTC()
	}
	return v.Booking.ArrivesAt.UTC()
}

// nextCar says where, when and with what. A car that no procedure may be used on has no list yet; the plan's page says
// why.
func (s *server) nextCar(ctx context.Context, v store.BookingView) (*YoursNext, error) {
	b := v.Booking
	n := &YoursNext{
		BookingID: b.ID,
		Label:     b.Vehicle.Label,
		Plate:     b.Vehicle.Plate,
		Place:     b.Place.Name,
		At:        begins(v),
		Promised:  b.PromisedAt.UTC(),
		Stage:     b.Stage,
		Fetch:     []plan.Fetched{},
	}
	if v.Wash != nil {
		n.WashID = v.Wash.ID
		return n, nil
	}
	if v.LookOver == nil {
		return n, nil
	}
	look, err := looked(v)
	if err != nil {
		return nil, err
	}
	f, err := s.fillHour(ctx, b, look, arrangedOf(b))
	if err != nil {
		return nil, err
	}
	if made, err := f.made(); err == nil {
		n.Procedure, n.Minutes, n.Fetch = made.Title, made.Minutes, made.Fetch()
	}
	return n, nil
}
