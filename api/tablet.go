package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"uskel/core/shop"
	"uskel/store"
)

// tabletCookie is what a shared tablet is known by.
const tabletCookie = "uskel_tablet"

// tabletKept is how long a tablet stays signed in: until it is ended, or a browser forgets.
const tabletKept = 390 * 24 * time.Hour

// signedInFor is how long somebody is signed in by four digits at most: a shift.
const signedInFor = 10 * time.Hour

// TabletView is whether this is a shared tablet, and who may sign in on it by four digits.
type TabletView struct {
	Shared bool         `json:"shared"`
	Name   string       `json:"name,omitempty"`
	Shop   string       `json:"shop,omitempty"`
	People []TabletFace `json:"people"`
}

// TabletFace is somebody who signs in on a tablet.
type TabletFace struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Initials string `json:"initials"`
	Digits   bool   `json:"digits" doc:"has four digits"`
}

// Token is what a device is known by; it is shown once.
type Token struct {
	ID    string `json:"id"`
	Token string `json:"token,omitempty" doc:"of a sensor, for its Authorization header: Bearer and this"`
}

func (s *server) registerTablet(api huma.API) {
	operation(
		s,
		api,
		get("/tablet", "tablet", "Whether this is a shared tablet, and who may sign in on it"),
		nobody,
		s.tablet,
	)
	operation(
		s,
		api,
		post("/session/digits", "signInByDigits", "Sign in on a shared tablet by four digits"),
		nobody,
		s.signInByDigits,
	)
	operation(
		s,
		api,
		post("/devices", "addDevice", "Make this browser a shared tablet, or let a sensor post readings"),
		shop.KeepPeople,
		s.addDevice,
	)
	operation(s, api, post("/devices/{id}/clear", "clearDigits", "Let a tablet take digits again after a night's wrong ones"), shop.KeepPeople,
		func(ctx context.Context, in *ID) (*struct{}, error) { return nil, s.Store.ClearDigits(ctx, in.ID) })
	operation(s, api, huma.Operation{
		Method:      http.MethodDelete,
		Path:        "/devices/{id}",
		OperationID: "endDevice",
		Summary:     "End a device, with whoever is signed in on it",
	}, shop.KeepPeople, func(ctx context.Context, in *ID) (*struct{}, error) {
		return nil, s.Store.EndDevice(ctx, in.ID, s.Now())
	})
}

// newToken draws a secret of a device.
func newToken() string { return rand.Text() + rand.Text() }

// tokenHash is what is kept of a token: it is random and long, so a plain hash does.
func tokenHash(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

func (s *server) addDevice(ctx context.Context, in *In[struct {
	Kind shop.DeviceKind `json:"kind"`
	Name string          `json:"name" minLength:"1" maxLength:"60"`
}]) (*struct {
	SetCookie []http.Cookie `header:"Set-Cookie"`
	Body      Token
}, error) {
	token := newToken()
	d := store.Device{
		ID:        store.NewID(),
		Kind:      in.Body.Kind,
		Name:      strings.TrimSpace(in.Body.Name),
		TokenHash: tokenHash(token),
		ByID:      who(ctx).ID,
		At:        s.Now(),
	}
	if err := s.Store.AddDevice(ctx, d); err != nil {
		return nil, err
	}
	answer := &struct {
		SetCookie []http.Cookie `header:"Set-Cookie"`
		Body      Token
	}{Body: Token{ID: d.ID}}
	if d.Kind != shop.Tablet {
		answer.Body.Token = token
		return answer, nil
	}
	answer.SetCookie = []http.Cookie{cookie(ctx, tabletCookie, token, tabletKept)}
	return answer, nil
}

// OnTablet is a request that may come from a shared tablet.
type OnTablet struct {
	Tablet string `cookie:"uskel_tablet"`
	Secure string `cookie:"__Host-uskel_tablet"`
}

func (t OnTablet) token() string { return cmp.Or(t.Secure, t.Tablet) }

func (s *server) tablet(ctx context.Context, in *OnTablet) (*Out[TabletView], error) {
	none := TabletView{People: []TabletFace{}}
	if in.token() == "" {
		return out(none)
	}
	d, err := s.Store.DeviceBy(ctx, shop.Tablet, tokenHash(in.token()))
	if errors.Is(err, store.ErrNotFound) {
		return out(none)
	}
	if err != nil {
		return nil, err
	}
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	v := TabletView{Shared: true, Name: d.Name, Shop: settings.ShopName, People: []TabletFace{}}
	for _, p := range people {
		if p.Active {
			v.People = append(v.People, TabletFace{p.ID, p.Name, shop.Initials(p.Name), p.PinHash != ""})
		}
	}
	return out(v)
}

// digitLimits slow guessing of four digits down, for all servers together; how many a night takes is kept by store.TakeDigits.
func digitLimits(personID, deviceID string) []store.Limit {
	return []store.Limit{{Key: "tablet " + deviceID, Burst: 20, Every: 15 * time.Second},
		{Key: "digits " + personID, Burst: 5, Every: time.Minute}}
}

func (s *server) signInByDigits(ctx context.Context, in *struct {
	OnTablet
	Agent string `header:"User-Agent"`
	Body  struct {
		PersonID string `json:"personId" format:"uuid"`
		Digits   string `json:"digits" maxLength:"8"`
	}
}) (*Out[Me], error) {
	wrong := huma.NewError(
		http.StatusUnauthorized,
		"These are not the digits. After five wrong ones, wait a minute or use the password.",
	)
	if in.token() == "" {
		return nil, huma.NewError(http.StatusUnauthorized, "Four digits open only a tablet that a lead has set up.")
	}
	d, err := s.Store.DeviceBy(ctx, shop.Tablet, tokenHash(in.token()))
	if errors.Is(err, store.ErrNotFound) {
		return nil, huma.NewError(
			http.StatusUnauthorized,
			"This tablet is no longer one of the shop's: a lead sets it up again.",
		)
	}
	if err != nil {
		return nil, err
	}
	p, err := s.Store.Person(ctx, in.Body.PersonID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	whose := cmp.Or(p.ID, uuid.Nil.String()) // the row's own id, however it was written: what is nobody's counts together
	tries := digitLimits(whose, d.ID)
	if may, err := s.Store.TakeTry(ctx, tries...); err != nil {
		return nil, err
	} else if !may {
		return nil, huma.ErrorWithHeaders(huma.NewError(http.StatusTooManyRequests,
			"Too many wrong digits. Wait a minute, or use the password."), http.Header{"Retry-After": {"60"}})
	}
	try, may, err := s.Store.TakeDigits(ctx, d.ID, whose)
	if err != nil {
		return nil, err
	}
	if !may {
		s.Log.Warn("digits refused for the night", "person", whose, "tablet", d.ID)
		return nil, huma.NewError(http.StatusTooManyRequests, "Too many wrong digits in a night. Use the password, or ask a lead to clear them "+
			"under Settings, Devices.")
	}
	ok, err := s.matches(ctx, in.Body.Digits, cmp.Or(p.PinHash, noHash()))
	if err != nil {
		return nil, err
	}
	if !ok || p.PinHash == "" || !p.Active {
		s.Log.Warn("digits wrong", "person", whose, "tablet", d.ID)
		return nil, wrong
	}
	if err := cmp.Or(s.Store.RightDigits(ctx, try), s.Store.GiveTryBack(ctx, tries...)); err != nil {
		return nil, err
	}
	if err := s.begin(ctx, p, shop.ByDigits, &d.ID, in.Agent); err != nil {
		return nil, err
	}
	s.sessions.SetDeadline(ctx, time.Now().Add(signedInFor))
	if err := s.Store.DeviceSeen(ctx, d.ID, s.Now()); err != nil {
		return nil, err
	}
	return s.me(ctx, p)
}
