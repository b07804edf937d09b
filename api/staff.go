package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"math/big"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"

	"uskel/core/shop"
	"uskel/store"
)

// Staff is everybody of the shop with what a lead needs to know of their way in.
type Staff struct {
	People  []StaffMember `json:"people"`
	Devices []DeviceLine  `json:"devices"`
}

// StaffMember is one of them.
type StaffMember struct {
	ID      string       `json:"id"`
	Name    string       `json:"name"`
	SignIn  string       `json:"signIn" doc:"the name they sign in by"`
	Role    shop.Role    `json:"role"`
	Active  bool         `json:"active"`
	Version int          `json:"version"`
	Digits  bool         `json:"digits" doc:"has four digits for a shared tablet"`
	Waiting bool         `json:"waiting" doc:"has no password: waits for a one-time code to be used, or to be given one"`
	SeenAt  *time.Time   `json:"seenAt,omitempty" doc:"when they were here last"`
	SignIns []SignInLine `json:"signIns" doc:"those that last"`
}

// SignInLine is a sign-in that lasts.
type SignInLine struct {
	ID      string    `json:"id"`
	On      string    `json:"on" doc:"what it was made on"`
	Address string    `json:"address"`
	How     shop.How  `json:"how"`
	At      time.Time `json:"at"`
	SeenAt  time.Time `json:"seenAt"`
	Here    bool      `json:"here" doc:"this very one"`
}

// DeviceLine is a device that is signed in by itself.
type DeviceLine struct {
	ID     string          `json:"id"`
	Kind   shop.DeviceKind `json:"kind"`
	Name   string          `json:"name"`
	At     time.Time       `json:"at"`
	SeenAt *time.Time      `json:"seenAt,omitempty"`
}

// Hire is somebody new, or what somebody is to be.
type Hire struct {
	Name   string    `json:"name" minLength:"1" maxLength:"80"`
	SignIn string    `json:"signIn" minLength:"1" maxLength:"60"`
	Role   shop.Role `json:"role"`
}

// OneTime is a code that opens once.
type OneTime struct {
	Code  string    `json:"code"`
	Until time.Time `json:"until"`
}

// NewHand is somebody new with the code that they first sign in by.
type NewHand struct {
	OneTime
	ID string `json:"id"`
}

// CodeHolds is how long a one-time code opens.
const CodeHolds = 24 * time.Hour

func (s *server) registerStaff(api huma.API) {
	operation(
		s,
		api,
		get("/staff", "staff", "Everybody, with their sign-ins, and the shop's devices"),
		shop.KeepPeople,
		s.staff,
	)
	operation(
		s,
		api,
		post("/staff", "hire", "Add somebody, who signs in first by a one-time code"),
		shop.KeepPeople,
		s.hire,
	)
	operation(
		s,
		api,
		put(
			"/staff/{id}",
			"changePerson",
			"Change somebody's name, role or sign-in name, let them go or have them back",
		),
		shop.KeepPeople,
		s.changePerson,
	)
	operation(
		s,
		api,
		post("/staff/{id}/code", "giveCode", "Give somebody a one-time code in place of their password"),
		shop.KeepPeople,
		s.giveCode,
	)
	operation(
		s,
		api,
		post("/staff/{id}/forget", "forgetPerson", "Have the name of somebody who was let go forgotten"),
		shop.Forget,
		func(ctx context.Context, in *ID) (*struct{}, error) { return nil, s.Store.Forget(ctx, in.ID) },
	)
	operation(
		s,
		api,
		post("/vehicles/{id}/forget", "forgetVehicle", "Have a vehicle's plate and name forgotten"),
		shop.Forget,
		func(ctx context.Context, in *ID) (*struct{}, error) { return nil, s.Store.ForgetVehicle(ctx, in.ID) },
	)
	operation(s, api, get("/sign-ins", "signIns", "One's own sign-ins that last"), shop.See, s.ownSignIns)
	operation(s, api, huma.Operation{Method: http.MethodDelete, Path: "/sign-ins/{id}", OperationID: "endSignIn",
		Summary: "End a sign-in: one's own, or anybody's for who keeps people"}, shop.See, s.endSignIn)
	operation(s, api, put("/session/password", "setPassword", "Change one's own password"), shop.See, s.setPassword)
	operation(
		s,
		api,
		put("/session/digits", "setDigits", "Set one's own four digits for a shared tablet"),
		shop.See,
		s.setDigits,
	)
	operation(
		s,
		api,
		post("/session/confirm", "confirm", "Type one's password again on a shared tablet"),
		shop.See,
		s.confirm,
	)
	operation(
		s,
		api,
		post("/session/code", "signInByCode", "Sign in by a one-time code and set a password"),
		nobody,
		s.signInByCode,
	)
}

func (s *server) staff(ctx context.Context, _ *struct{}) (*Out[Staff], error) {
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	signIns, err := s.Store.SignIns(ctx, "")
	if err != nil {
		return nil, err
	}
	seen, err := s.Store.LastSeen(ctx)
	if err != nil {
		return nil, err
	}
	devices, err := s.Store.Devices(ctx)
	if err != nil {
		return nil, err
	}
	v := Staff{People: make([]StaffMember, len(people)), Devices: make([]DeviceLine, len(devices))}
	for i, d := range devices {
		v.Devices[i] = DeviceLine{d.ID, d.Kind, d.Name, d.At.UTC(), d.SeenAt}
	}
	for i, p := range people {
		m := StaffMember{ID: p.ID, Name: p.Name, SignIn: p.SignIn, Role: p.Role, Active: p.Active, Version: p.Version,
			Digits: p.PinHash != "", Waiting: p.Active && p.PasswordHash == "", SignIns: s.lines(ctx, signIns, p.ID)}
		if at, known := seen[p.ID]; known {
			m.SeenAt = &at
		}
		v.People[i] = m
	}
	slices.SortStableFunc(v.People, func(a, b StaffMember) int { return leavers(a) - leavers(b) })
	return out(v)
}

// lines are a person's sign-ins.
// leavers come after those who work here.
func leavers(m StaffMember) int {
	if m.Active {
		return 0
	}
	return 1
}

func (s *server) lines(ctx context.Context, signIns []store.SignIn, personID string) []SignInLine {
	lines, here := []SignInLine{}, s.sessions.GetString(ctx, sessionSignIn)
	for _, x := range signIns {
		if x.PersonID == personID {
			lines = append(
				lines,
				SignInLine{x.ID, browser(x.Agent), x.Address, x.How, x.At.UTC(), x.SeenAt.UTC(), x.ID == here},
			)
		}
	}
	return lines
}

// browser says in a few words what a browser calls itself in many.
func browser(agent string) string {
	first := func(names ...[2]string) string {
		for _, n := range names {
			if strings.Contains(agent, n[0]) {
				return n[1]
			}
		}
		return ""
	}
	kind := first(
		[2]string{"iPhone", "phone"},
		[2]string{"iPad", "tablet"},
		[2]string{"Android", "phone or tablet"},
		[2]string{"Windows", "Windows"},
		[2]string{"Mac OS", "Mac"},
		[2]string{"Linux", "Linux"},
	)
	name := first(
		[2]string{"Firefox", "Firefox"},
		[2]string{"Edg/", "Edge"},
		[2]string{"Chrome", "Chrome"},
		[2]string{"Safari", "Safari"},
	)
	return cmp.Or(strings.TrimPrefix(name+", "+kind, ", "), "some browser")
}

func (s *server) hire(ctx context.Context, in *In[Hire]) (*Out[NewHand], error) {
	p := store.Person{ID: store.NewID(), Name: strings.TrimSpace(in.Body.Name), Role: in.Body.Role, Active: true}
	var err error
	if p.SignIn, err = shop.ParseSignIn(in.Body.SignIn); err != nil {
		return nil, invalid("signIn", err)
	}
	if p.Name == "" {
		return nil, invalid("name", errors.New("write the name, as people say it"))
	}
	if err := s.Store.ChangePerson(ctx, who(ctx).ID, p); err != nil {
		return nil, onStaff(err)
	}
	code, err := s.code(ctx, p.ID)
	return &Out[NewHand]{NewHand{code, p.ID}}, err
}

// onStaff turns a refusal by the rules on staff into what the caller is told.
func onStaff(err error) error {
	for _, rule := range []error{shop.ErrLastLead, shop.ErrLastOwner, shop.ErrOneself} {
		if errors.Is(err, rule) {
			return conflict(sentenceCase(rule.Error()) + ".")
		}
	}
	if errors.Is(err, shop.ErrOwners) {
		return forbidden(sentenceCase(shop.ErrOwners.Error()) + ".")
	}
	if errors.Is(err, store.ErrTaken) {
		return invalid("signIn", errors.New("this sign-in name is taken: choose another"))
	}
	return err
}

func (s *server) changePerson(ctx context.Context, in *struct {
	ID
	Body struct {
		Hire
		Active  bool `json:"active"`
		Version int  `json:"version" minimum:"1"`
	}
}) (*struct{}, error) {
	signIn, err := shop.ParseSignIn(in.Body.SignIn)
	if err != nil {
		return nil, invalid("signIn", err)
	}
	err = s.Store.ChangePerson(ctx, who(ctx).ID, store.Person{ID: in.ID.ID, Name: strings.TrimSpace(in.Body.Name),
		SignIn: signIn, Role: in.Body.Role, Active: in.Body.Active, Version: in.Body.Version})
	if err == nil {
		s.Log.Info("person changed", "by", who(ctx).ID, "person", in.ID.ID, "role", in.Body.Role, "active", in.Body.Active)
	}
	return nil, onStaff(err)
}

func (s *server) giveCode(ctx context.Context, in *ID) (*Out[OneTime], error) {
	if in.ID == who(ctx).ID {
		return nil, conflict("You have a password: change it under Settings.")
	}
	code, err := s.code(ctx, in.ID)
	return &Out[OneTime]{code}, onStaff(err)
}

// code makes a one-time code for somebody.
func (s *server) code(ctx context.Context, personID string) (OneTime, error) {
	code := NewCode()
	hash, err := s.hash(ctx, code)
	if err != nil {
		return OneTime{}, err
	}
	until := s.Now().Add(CodeHolds)
	return OneTime{code, until}, s.Store.GiveCode(ctx, who(ctx).ID, personID, hash, until)
}

// NewCode makes a one-time code.
func NewCode() string {
	var random [shop.CodeBytes]byte
	_, _ = rand.Read(random[:]) // it never fails: crypto/rand
	return shop.Code(random)
}

// hash hashes a password, a code or digits, when there is room.
func (s *server) hash(ctx context.Context, secret string) (string, error) {
	var hash string
	err := s.hashed(ctx, func() (err error) { hash, err = argon2id.CreateHash(secret, HashParams); return err })
	return hash, err
}

func (s *server) ownSignIns(ctx context.Context, _ *struct{}) (*Out[[]SignInLine], error) {
	signIns, err := s.Store.SignIns(ctx, who(ctx).ID)
	if err != nil {
		return nil, err
	}
	return out(s.lines(ctx, signIns, who(ctx).ID))
}

func (s *server) endSignIn(ctx context.Context, in *ID) (*struct{}, error) {
	of := who(ctx).ID
	if who(ctx).Role.May(shop.KeepPeople) && s.confirmed(ctx, shop.KeepPeople.Grant()) {
		of = ""
	}
	return nil, s.Store.EndSignIn(ctx, in.ID, of)
}

// secret looks at the password of whoever is signed in, as slowly as at signing in.
func (s *server) secret(ctx context.Context, password, field string) error {
	p := who(ctx)
	tries := []store.Limit{{Key: "own " + p.ID, Burst: 5, Every: 10 * time.Second}}
	if may, err := s.Store.TakeTry(ctx, tries...); err != nil {
		return err
	} else if !may {
		return tooMany()
	}
	ok, err := s.matches(ctx, password, cmp.Or(p.PasswordHash, noHash()))
	if err != nil {
		return err
	}
	if !ok || p.PasswordHash == "" {
		return invalid(field, errors.New("this is not your password"))
	}
	return s.Store.GiveTryBack(ctx, tries...)
}

func (s *server) setPassword(ctx context.Context, in *In[struct {
	Was string `json:"was" maxLength:"200"`
	New string `json:"new" maxLength:"400"`
}]) (*struct{}, error) {
	p := who(ctx)
	if err := shop.CheckPassword(in.Body.New, p.SignIn, p.Name, s.Refused...); err != nil {
		return nil, invalid("new", err)
	}
	if err := s.secret(ctx, in.Body.Was, "was"); err != nil {
		return nil, err
	}
	hash, err := s.hash(ctx, in.Body.New)
	if err != nil {
		return nil, err
	}
	if err := s.Store.SetPassword(ctx, p.ID, p.PasswordHash, hash, s.sessions.GetString(ctx, sessionSignIn)); err != nil {
		return nil, err
	}
	return nil, s.sessions.RenewToken(ctx) // who held the old one is out, wherever they had it from
}

// Digits are four digits for a shared tablet, shown once.
type Digits struct {
	Digits string `json:"digits"`
}

// setDigits draws somebody's digits: those that people choose are years and birthdays.
func (s *server) setDigits(ctx context.Context, in *In[struct {
	Password string `json:"password" maxLength:"200"`
}]) (*Out[Digits], error) {
	if err := s.secret(ctx, in.Body.Password, "password"); err != nil {
		return nil, err
	}
	digits := shop.DrawDigits(func(n int) int { drawn, _ := rand.Int(rand.Reader, big.NewInt(int64(n))); return int(drawn.Int64()) })
	hash, err := s.hash(ctx, digits)
	if err != nil {
		return nil, err
	}
	return &Out[Digits]{Digits{digits}}, s.Store.SetDigits(ctx, who(ctx).ID, hash)
}

func (s *server) confirm(ctx context.Context, in *In[struct {
	Password string `json:"password" maxLength:"200"`
}]) (*struct{}, error) {
	if err := s.secret(ctx, in.Body.Password, "password"); err != nil {
		return nil, err
	}
	s.typed(ctx)
	return nil, nil
}

func (s *server) signInByCode(ctx context.Context, in *struct {
	FromDevice
	Agent string `header:"User-Agent"`
	Body  struct {
		Name     string `json:"name" minLength:"1" maxLength:"60"`
		Code     string `json:"code" minLength:"1" maxLength:"40"`
		Password string `json:"password" minLength:"1" maxLength:"400" doc:"the one they want from now on"`
		Second
	}
}) (*signedIn, error) {
	a, err := s.trying(ctx, in.Body.Name, in.FromDevice)
	if err != nil {
		return nil, err
	}
	if err := shop.CheckPassword(in.Body.Password, a.signIn, "", s.Refused...); err != nil {
		return nil, invalid("password", err)
	}
	p, code := a.person, ""
	if p.Active {
		if code, err = s.Store.CodeOf(ctx, p.ID, s.Now()); err != nil {
			return nil, err
		}
	}
	typed, _ := shop.ReadCode(in.Body.Code)
	ok, err := s.matches(ctx, typed, cmp.Or(code, noHash()))
	if err != nil {
		return nil, err
	}
	if !ok || code == "" {
		return nil, s.wrong(ctx, a, "Name and code do not go together, or the code was used or is over a day old: ask a lead for another.")
	}
	if err := shop.CheckPassword(in.Body.Password, a.signIn, p.Name, s.Refused...); err != nil {
		return nil, invalid("password", err)
	}
	hash, err := s.hash(ctx, in.Body.Password)
	if err != nil {
		return nil, err
	}
	if err := s.second(ctx, a, in.Body.Authenticator); err != nil {
		return nil, err
	}
	if err := s.Store.UseCode(ctx, p.ID, code, hash); err != nil {
		return nil, err
	}
	return s.right(ctx, a, shop.ByCode, in.Agent)
}
