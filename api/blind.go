package api

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"uskel/core/audit"
	"uskel/core/photo"
	"uskel/core/shop"
	"uskel/store"
)

// BlindLook is where a blind look stands: one named person is asked for it, and says yes or no.
type BlindLook struct {
	Person   *PersonRef  `json:"person,omitempty" doc:"who was asked; nobody yet when absent"`
	By       string      `json:"by,omitempty" doc:"who asked them"`
	Accepted bool        `json:"accepted" doc:"they said that they do it"`
	May      bool        `json:"may" doc:"the person signed in may: nobody was asked yet, and they know nothing of the first"`
	Mine     bool        `json:"mine" doc:"the person signed in was asked"`
	People   []PersonRef `json:"people" doc:"who may be asked, for whoever leads"`
}

// concerns reports whether somebody has anything to do with it.
func (l BlindLook) concerns(me store.Person) bool {
	return l.May || l.Mine || me.Role.Leads() && (l.Person != nil || len(l.People) > 0)
}

// BlindAsked is of what a blind look is.
type BlindAsked struct {
	Kind audit.Blind `json:"kind"`
	Of   string      `json:"of" format:"uuid" doc:"an audit, a walk of the calibration set or a booking"`
}

func (s *server) registerBlind(api huma.API) {
	operation(s, api, post("/blind", "askBlind", "Ask one named person for a blind look, or take it oneself"), shop.Audit, s.askBlind)
	operation(s, api, post("/blind/answer", "answerBlind", "Accept or decline a blind look"), shop.Audit, s.answerBlind)
}

// blindRight is what it takes to make a blind look.
func blindRight(kind audit.Blind) shop.Right {
	if kind == audit.SecondGrades {
		return shop.LookOver
	}
	return shop.Audit
}

// blindLooks say where blind looks stand, and who may be asked for them.
func (s *server) blindLooks(ctx context.Context, kind audit.Blind, subjects []string) ([]BlindLook, error) {
	know, err := s.Store.Knowing(ctx, kind, subjects...)
	if err != nil {
		return nil, err
	}
	offers, err := s.Store.Offers(ctx, kind, subjects)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	me, looks := who(ctx), make([]BlindLook, len(subjects))
	for i, id := range subjects {
		l := BlindLook{People: []PersonRef{}}
		if o, asked := offers[id]; asked {
			person := ref(o.Person)
			l.Person, l.By, l.Accepted, l.Mine = &person, o.By.Name, o.State != audit.IsOffered, o.PersonID == me.ID
			looks[i] = l
			continue
		}
		for _, p := range people {
			if p.Active && p.Role.May(blindRight(kind)) && audit.MayLookBlind(p.ID, know[id]) == nil {
				l.May = l.May || p.ID == me.ID
				if me.Role.Leads() && p.ID != me.ID {
					l.People = append(l.People, ref(p))
				}
			}
		}
		looks[i] = l
	}
	return looks, nil
}

func (s *server) askBlind(ctx context.Context, in *In[struct {
	BlindAsked
	PersonID string `json:"personId" format:"uuid"`
}]) (*struct{}, error) {
	me := who(ctx)
	if in.Body.PersonID != me.ID && !me.Role.Leads() {
		return nil, forbidden("Only the lead asks somebody else.")
	}
	p, err := s.Store.Person(ctx, in.Body.PersonID)
	if errors.Is(err, store.ErrNotFound) || err == nil && (!p.Active || !p.Role.May(blindRight(in.Body.Kind))) {
		return nil, invalid("personId", errors.New("personId: choose somebody here who may do that"))
	}
	if err != nil {
		return nil, err
	}
	now := s.Now()
	o := store.BlindOffer{Kind: in.Body.Kind, SubjectID: in.Body.Of, PersonID: p.ID, ByID: me.ID, State: audit.IsOffered, At: now}
	if p.ID == me.ID {
		o.State, o.AnsweredAt = audit.IsAccepted, &now
	}
	return nil, blindly(s.Store.AskBlind(ctx, o))
}

func (s *server) answerBlind(ctx context.Context, in *In[struct {
	BlindAsked
	Accept bool `json:"accept"`
}]) (*struct{}, error) {
	return nil, blindly(s.Store.AnswerBlind(ctx, in.Body.Kind, in.Body.Of, who(ctx).ID, in.Body.Accept, s.Now()))
}

// blindly says why a blind look is refused.
func blindly(err error) error {
	for _, known := range []error{audit.ErrKnowsFirst, audit.ErrNotAsked, audit.ErrOffered, audit.ErrReworked, store.ErrWalkedTwice,
		store.ErrGradedTwice, store.ErrWalked} {
		if errors.Is(err, known) {
			return conflict(sentenceCase(known.Error()) + ".")
		}
	}
	return err
}

// firstLooks are the routes, by what they begin with, that show what a first look found: of an audit, or of a vehicle's grades.
var firstLooks = []string{"/audits/{id}", "/bookings/{id}", "/photos/{id}", "/washes/{id}/audit-start"}

// blindRoutes show nothing of it.
var blindRoutes = []string{"/audits/{id}/second", "/bookings/{id}/second-grade", "/bookings/{id}/moves", "/bookings/{id}/notice",
	"/bookings/{id}/photos/{photo}"}

// veiled refuses a route that would show somebody the first look at what they look at blind, and notes who reads one: whoever has
// is not asked. It stands before every operation.
func (s *server) veiled(ctx context.Context, me store.Person, method, route, id string) error {
	shows := slices.ContainsFunc(firstLooks, func(r string) bool { return strings.HasPrefix(route, r) }) || route == "/export"
	if !shows || slices.Contains(blindRoutes, route) || !me.Role.May(shop.Audit) || route != "/export" && uuid.Validate(id) != nil {
		return nil // what is no id is refused by the operation itself
	}
	veil, err := s.Store.Veil(ctx, me.ID)
	if err != nil {
		return err
	}
	if !veil.Empty() {
		hides, err := s.hides(ctx, veil, route, id)
		if err != nil {
			return err
		}
		if hides {
			return errVeiled
		}
	}
	if method != http.MethodGet || strings.HasPrefix(route, "/photos") || route == "/export" {
		return nil
	}
	return s.noteRead(ctx, me, id)
}

// errVeiled is why somebody does not see what a first look found.
// Its type (RFC 9457) lets a screen lead to where one answers.
var errVeiled huma.StatusError = &huma.ErrorModel{Type: "urn:problem:blind", Status: http.StatusConflict,
	Title: http.StatusText(http.StatusConflict), Detail: "You were asked to look at this again without knowing what the first found: " +
		"do that, or decline, before you look at it."}

// hides reports whether what a route shows is hidden from somebody.
func (s *server) hides(ctx context.Context, veil store.Veil, route, id string) (bool, error) {
	switch {
	case route == "/export":
		return true, nil
	case strings.HasPrefix(route, "/photos"):
		p, err := s.Store.Photo(ctx, id)
		if errors.Is(err, store.ErrNotFound) {
			return false, nil
		}
		return p.Subject == photo.OfAudit && veil.Photos[p.SubjectID], err
	case strings.HasPrefix(route, "/washes"):
		w, err := s.Store.WashHead(ctx, id)
		if errors.Is(err, store.ErrNotFound) {
			return false, nil
		}
		return w.AuditID != nil && veil.Audits[*w.AuditID], err
	}
	return veil.Audits[id] || veil.Bookings[id], nil
}

// mostRead is of how many readings it is remembered that they were noted.
const mostRead = 4000

// noteRead notes that somebody has read first looks.
func (s *server) noteRead(ctx context.Context, me store.Person, subjects ...string) error {
	fresh := slices.DeleteFunc(slices.Clone(subjects), func(id string) bool { _, noted := s.read.find(me.ID + id); return noted })
	if err := s.Store.Read(ctx, me.ID, s.Now().Truncate(time.Second), fresh...); err != nil {
		return err
	}
	for _, id := range fresh {
		s.read.keep(me.ID+id, true)
	}
	return nil
}

// unseen is a vehicle's card without what is hidden of it: a procedure that was chosen tells how dirty it was found.
func (c BookingCard) unseen(veil store.Veil) BookingCard {
	if veil.Bookings[c.ID] {
		c.Overall, c.Arranged = nil, nil
	}
	if veil.Audits[c.AuditID] {
		c.Score = nil
	}
	return c
}
