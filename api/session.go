package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"uskel/core/measure"
	"uskel/core/shop"
	"uskel/store"
)

// HashParams are OWASP's smaller argon2id recommendation (19 MiB, two passes), so that a few sign-ins at once stay
// within a small server's memory.
var HashParams = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// What a session holds: who it is, which sign-in it is and how it was made, when the password was typed last, and when something
// was asked last on a shared tablet.
const (
	sessionPerson  = "person"
	sessionSignIn  = "signIn"
	sessionHow     = "how"
	sessionConfirm = "typed"
	sessionAsked   = "asked"
)

// codec writes sessions as JSON, so that the database can tell which sign-in each is of.
type codec struct{}

// keptSession is a session as it is stored.
type keptSession struct {
	Deadline time.Time         `json:"deadline"`
	Values   map[string]string `json:"values"`
}

// Encode writes a session. Its values are texts.
func (codec) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	k := keptSession{deadline, map[string]string{}}
	for name, value := range values {
		text, ok := value.(string)
		if !ok {
			return nil, fmt.Errorf("session value %s is no text", name)
		}
		k.Values[name] = text
	}
	return json.Marshal(k)
}

// Decode reads a session.
func (codec) Decode(data []byte) (time.Time, map[string]any, error) {
	var k keptSession
	if err := json.Unmarshal(data, &k); err != nil {
		return time.Time{}, nil, err
	}
	values := map[string]any{}
	for name, value := range k.Values {
		values[name] = value
	}
	return k.Deadline, values, nil
}

type personKey struct{}

// who is the person signed in.
func who(ctx context.Context) store.Person { p, _ := ctx.Value(personKey{}).(store.Person); return p }

// guard lets only those through who have the right, and says in the log who asked for what.
func (s *server) guard(api huma.API, route string, right shop.Right) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		a := accessOf(ctx.Context())
		if a != nil {
			a.route = route
		}
		if right == nobody {
			next(ctx)
			return
		}
		id := s.sessions.GetString(ctx.Context(), sessionPerson)
		if id == "" {
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized, "Sign in first.")
			return
		}
		p, err := s.Store.Person(ctx.Context(), id)
		if errors.Is(err, store.ErrNotFound) || err == nil && !p.Active {
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized, "Sign in first.")
			return
		}
		if err != nil {
			refuse(ctx, s.problem(ctx.Context(), route, err))
			return
		}
		if a != nil {
			a.person = p.ID
		}
		if !s.awake(ctx.Context()) {
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized, "This tablet locked itself: sign in again.")
			return
		}
		if !p.Role.May(right) {
			_ = huma.WriteErr(api, ctx, http.StatusForbidden, "This is not for "+article(p.Role)+" to do.")
			return
		}
		if grant := right.Grant(); grant.Password && !s.confirmed(ctx.Context(), grant) {
			_ = huma.WriteErr(
				api,
				ctx,
				http.StatusForbidden,
				"Type your password: it is asked for again for this.",
				&huma.ErrorDetail{Location: passwordField, Message: "your password is asked for"},
			)
			return
		}
		if err := s.veiled(ctx.Context(), p, ctx.Method(), route, ctx.Param("id")); err != nil {
			refuse(ctx, s.problem(ctx.Context(), route, err))
			return
		}
		s.seen(ctx.Context())
		next(huma.WithValue(ctx, personKey{}, p))
	}
}

// lockSlack is how much longer than the tablet's own lock the server waits: a tablet that is still touched asks in between.
const lockSlack = time.Minute

// askedEvery is how often it is noted that a tablet asks.
const askedEvery = 20 * time.Second

// awake reports whether a shared tablet has asked lately. One that was locked, or lost its network, and has not asked for as long
// as it stays open untouched, is signed out, whatever its screen has kept.
func (s *server) awake(ctx context.Context) bool {
	if s.sessions.GetString(ctx, sessionHow) != string(shop.ByDigits) {
		return true
	}
	now := s.Now()
	asked, err := time.Parse(time.RFC3339, s.sessions.GetString(ctx, sessionAsked))
	if err == nil && now.Sub(asked) < askedEvery && !now.Before(asked) {
		return true
	}
	if err == nil {
		settings, _, failed := s.Store.Settings(ctx)
		if failed == nil && now.Sub(asked) > time.Duration(settings.Lock())*time.Minute+lockSlack {
			_ = s.sessions.Destroy(ctx)
			return false
		}
	}
	s.sessions.Put(ctx, sessionAsked, now.Format(time.RFC3339))
	return true
}

// refuse answers before an operation is asked.
func refuse(ctx huma.Context, err error) {
	var problem huma.StatusError
	if !errors.As(err, &problem) {
		problem = errInternal
	}
	writeProblem(humagin.Unwrap(ctx).Writer, problem)
}

// passwordField is where a refusal points that the password would lift.
const passwordField = "session.password"

// How long a password that was typed holds: on a shared tablet, and elsewhere for what is asked again after a while.
const (
	confirmedFor   = 10 * time.Minute
	confirmedAlone = time.Hour
)

// confirmed reports whether whoever asks has typed their password lately enough for what is granted. Four digits are never enough
// where a password is asked for.
func (s *server) confirmed(ctx context.Context, g shop.Grant) bool {
	shared := s.sessions.GetString(ctx, sessionHow) == string(shop.ByDigits)
	if !shared && !g.Again {
		return true
	}
	at, err := time.Parse(time.RFC3339, s.sessions.GetString(ctx, sessionConfirm))
	holds := confirmedAlone
	if shared {
		holds = confirmedFor
	}
	return err == nil && s.Now().Before(at.Add(holds))
}

// article puts a or an before a role.
func article(r shop.Role) string {
	if strings.ContainsRune("aeiou", rune(r[0])) {
		return "an " + string(r)
	}
	return "a " + string(r)
}

// seenEvery is how often it is noted that a sign-in is used.
const seenEvery = 5 * time.Minute

// seen notes now and then that a sign-in is used. What fails of it is no reason to refuse anything.
func (s *server) seen(ctx context.Context) {
	id, now := s.sessions.GetString(ctx, sessionSignIn), s.Now()
	was, known := s.seenAt.Load(id)
	if id == "" || known && now.Sub(was.(time.Time)) < seenEvery {
		return
	}
	s.seenAt.Store(id, now)
	if err := s.Store.Seen(ctx, id, now); err != nil {
		s.Log.Warn("a sign-in was not noted as used", "error", err)
	}
}

// begin signs somebody in.
func (s *server) begin(ctx context.Context, p store.Person, how shop.How, device *string, agent string) error {
	now := s.Now()
	in := store.SignIn{ID: store.NewID(), PersonID: p.ID, DeviceID: device, How: how, Agent: cut(agent, 300),
		Address: cameFrom(ctx).address, At: now, SeenAt: now}
	if err := s.Store.AddSignIn(ctx, in); err != nil {
		return err
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	s.seenAt.Store(in.ID, now)
	s.sessions.Put(ctx, sessionPerson, p.ID)
	s.sessions.Put(ctx, sessionSignIn, in.ID)
	s.sessions.Put(ctx, sessionHow, string(how))
	s.sessions.Remove(ctx, sessionConfirm)
	if how != shop.ByDigits {
		s.typed(ctx)
	}
	return nil
}

// typed notes that somebody has just typed their password.
func (s *server) typed(ctx context.Context) {
	s.sessions.Put(ctx, sessionConfirm, s.Now().Format(time.RFC3339))
}

// cut shortens a text to so many letters.
func cut(text string, most int) string {
	runes := []rune(strings.ToValidUTF8(text, ""))
	return string(runes[:min(most, len(runes))])
}

// Guessing is slowed: tries are counted before a password is looked at, for all servers together. A name has five from everywhere
// together, and then one every half a minute; a device where its owner has signed in before has an allowance of its own, so that a
// stranger does not lock them out, wherever the stranger is; and an address has some for all names. Whoever is known goes by their
// id: however a name is spelled, it is one name.
func limits(whose, address, device string) []store.Limit {
	if device != "" {
		return []store.Limit{{Key: "name " + whose + " on " + device, Burst: 5, Every: 10 * time.Second}}
	}
	return []store.Limit{{Key: "address " + address, Burst: 60, Every: time.Second},
		{Key: "name " + whose, Burst: 5, Every: 30 * time.Second}} // in one order, so that tries at once never wait in a circle
}

// FromDevice is a request that may come from a device that somebody signed in on before.
type FromDevice struct {
	Device string `cookie:"uskel_device"`
	Secure string `cookie:"__Host-uskel_device"`
}

// knownFor is how long a device is known after a sign-in.
const knownFor = 90 * 24 * time.Hour

// hostOnly is how a cookie's name begins that only this host may set, over an encrypted line (RFC 6265bis, 4.1.3.2, from memory).
const hostOnly = "__Host-"

// cookie is a cookie of the shop's: over an encrypted line one that no other host can set.
func cookie(ctx context.Context, name, value string, kept time.Duration) http.Cookie {
	c := http.Cookie{Name: name, Value: value, Path: "/", MaxAge: int(kept.Seconds()), HttpOnly: true, SameSite: http.SameSiteStrictMode}
	if cameFrom(ctx).secure {
		c.Name, c.Secure = hostOnly+name, true
	}
	return c
}

// attempt is a try at signing in as somebody who may not be known.
type attempt struct {
	person store.Person // the zero value for nobody
	signIn string       // as it is kept; empty for what can be nobody's
	device string       // the hash of its token, where the person is known
	limits []store.Limit
}

// trying finds who a typed name is, and counts the try before anything is looked at.
func (s *server) trying(ctx context.Context, typed string, from FromDevice) (attempt, error) {
	var a attempt
	var err error
	if a.signIn, err = shop.ParseSignIn(typed); err == nil {
		a.person, err = s.Store.PersonBySignIn(ctx, a.signIn)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return a, err
		}
	}
	whose := cmp.Or(a.person.ID, a.signIn)
	if token := cmp.Or(from.Secure, from.Device); token != "" && a.person.ID != "" {
		known, err := s.Store.KnownOn(ctx, a.person.ID, tokenHash(token))
		if err != nil {
			return a, err
		}
		if known {
			a.device = tokenHash(token)
		}
	}
	a.limits = limits(whose, cameFrom(ctx).address, a.device)
	if may, err := s.Store.TakeTry(ctx, a.limits...); err != nil {
		return a, err
	} else if !may {
		s.Log.Warn("sign-in slowed", "person", a.person.ID, "from", cameFrom(ctx).address)
		return a, tooMany()
	}
	return a, nil
}

// wrong says that an attempt failed, in the log by the person's id: what was typed may be a password in the wrong field.
func (s *server) wrong(ctx context.Context, a attempt, says string) error {
	s.Log.Warn("sign-in failed", "person", cmp.Or(a.person.ID, "nobody"), "from", cameFrom(ctx).address)
	return huma.NewError(http.StatusUnauthorized, says)
}

// signedIn is the answer to a sign-in: the device is known from then on.
type signedIn struct {
	SetCookie []http.Cookie `header:"Set-Cookie"`
	Body      Me
}

// right signs somebody in whose attempt was right.
func (s *server) right(ctx context.Context, a attempt, how shop.How, agent string) (*signedIn, error) {
	answer := &signedIn{}
	device := a.device
	if device == "" {
		token := rand.Text() + rand.Text()
		device, answer.SetCookie = tokenHash(token), []http.Cookie{cookie(ctx, "uskel_device", token, knownFor)}
	}
	if err := s.Store.SignedIn(ctx, a.person.ID, device, a.limits...); err != nil {
		return nil, err
	}
	if err := s.begin(ctx, a.person, how, nil, agent); err != nil {
		return nil, err
	}
	me, err := s.me(ctx, a.person)
	if err == nil {
		answer.Body = me.Body
	}
	return answer, err
}

// hashesAtOnce is how many passwords are looked at at once: each takes 19 MiB.
const hashesAtOnce = 4

// matches looks a password at, when there is room.
func (s *server) matches(ctx context.Context, password, hash string) (bool, error) {
	ok := false
	err := s.hashed(ctx, func() (err error) { ok, err = argon2id.ComparePasswordAndHash(password, hash); return err })
	return ok, err
}

// hashed does something that hashes, when there is room.
func (s *server) hashed(ctx context.Context, work func() error) error {
	select {
	case s.hashing <- struct{}{}:
		defer func() { <-s.hashing }()
	case <-ctx.Done():
		return ctx.Err()
	}
	return work()
}

// tooMany slows guessing down.
func tooMany() error {
	return huma.ErrorWithHeaders(
		huma.NewError(http.StatusTooManyRequests, "Too many wrong passwords. Wait half a minute."),
		http.Header{"Retry-After": {"30"}},
	)
}

// Me is the person signed in.
type Me struct {
	ID       string          `json:"id"`
	Name     string          `json:"name"`
	Role     shop.Role       `json:"role"`
	ShopName string          `json:"shopName"`
	Units    string          `json:"units" enum:"metric,us"`
	Currency string          `json:"currency"`
	Ratio    measure.Reading `json:"ratio" doc:"how the shop writes mixing ratios"`
	TimeZone string          `json:"timeZone" doc:"Where the shop stands (IANA)"`
	Now      time.Time       `json:"now" doc:"the server's clock"`
	Rights   []shop.Right    `json:"rights" doc:"what they may do"`
	Demo     bool            `json:"demo,omitempty" doc:"the shop is invented, and so are its instruments"`
	Shared   bool            `json:"shared,omitempty" doc:"signed in by four digits on a tablet that people share"`
	Lock     int             `json:"lock,omitempty" doc:"min without a touch after which a shared tablet locks"`
}

// SignIn is a name and a password.
type SignIn struct {
	Name     string `json:"name" minLength:"1" maxLength:"60"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
	Second
}

// Second is the second thing that somebody signs in by, where they have switched one on.
type Second struct {
	Authenticator string `json:"authenticator,omitempty" maxLength:"40" doc:"the app's code, or a recovery code; asked for by a 401"`
}

// Health says that the server is alive.
type Health struct {
	Now time.Time `json:"now" doc:"the server's clock"`
}

// Readiness says that the server can do its work.
type Readiness struct {
	Now time.Time `json:"now" doc:"the server's clock"`
}

func (s *server) registerSession(api huma.API) {
	operation(
		s,
		api,
		get("/health", "health", "The server is alive"),
		nobody,
		func(context.Context, *struct{}) (*Out[Health], error) {
			return out(Health{s.Now()})
		},
	)
	operation(
		s,
		api,
		get("/ready", "ready", "The database answers and has the schema this server needs; 503 when not"),
		nobody,
		s.ready,
	)
	operation(s, api, post("/session", "signIn", "Sign in"), nobody, s.signIn)
	operation(
		s,
		api,
		get("/session", "me", "Who is signed in"),
		shop.See,
		func(ctx context.Context, _ *struct{}) (*Out[Me], error) {
			return s.me(ctx, who(ctx))
		},
	)
	operation(
		s,
		api,
		huma.Operation{Method: http.MethodDelete, Path: "/session", OperationID: "signOut", Summary: "Sign out"},
		shop.See,
		func(ctx context.Context, _ *struct{}) (*struct{}, error) { return nil, s.sessions.Destroy(ctx) },
	)
}

// readyLimit is how long the database may take to say that it is there.
const readyLimit = 2 * time.Second

func (s *server) ready(ctx context.Context, _ *struct{}) (*Out[Readiness], error) {
	ctx, cancel := context.WithTimeout(ctx, readyLimit)
	defer cancel()
	lacks, beyond, err := s.Store.Schema(ctx)
	if err != nil {
		return nil, huma.NewError(http.StatusServiceUnavailable, "The database does not answer.")
	}
	if beyond > 0 {
		return nil, huma.NewError(http.StatusServiceUnavailable, sentenceCase(store.ErrNewer.Error())+".")
	}
	if lacks > 0 {
		return nil, huma.NewError(
			http.StatusServiceUnavailable,
			fmt.Sprintf("The database lacks %d migrations: run uskel migrate.", lacks),
		)
	}
	if s.full.Load() { // until there is room again, which is tried now
		if err := s.Store.Room(ctx); err != nil {
			return nil, errFull
		}
		s.full.Store(false)
	}
	return out(Readiness{s.Now()})
}

// noHash is compared against when the name is unknown, so that the answer takes as long.
var noHash = sync.OnceValue(func() string { h, _ := argon2id.CreateHash("nobody", HashParams); return h })

func (s *server) signIn(ctx context.Context, in *struct {
	FromDevice
	Agent string `header:"User-Agent"`
	Body  SignIn
}) (*signedIn, error) {
	a, err := s.trying(ctx, in.Body.Name, in.FromDevice)
	if err != nil {
		return nil, err
	}
	ok, err := s.matches(ctx, in.Body.Password, cmp.Or(a.person.PasswordHash, noHash()))
	if err != nil {
		return nil, err
	}
	if !ok || !a.person.Active || a.person.PasswordHash == "" {
		return nil, s.wrong(ctx, a, "Name and password do not go together.")
	}
	if slices.Contains(s.Refused, in.Body.Password) {
		return nil, forbidden("This password is published with the demo, so it opens no real shop. Choose another.")
	}
	if err := s.second(ctx, a, in.Body.Authenticator); err != nil {
		return nil, err
	}
	return s.right(ctx, a, shop.ByPassword, in.Agent)
}

func (s *server) me(ctx context.Context, p store.Person) (*Out[Me], error) {
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	me := Me{ID: p.ID, Name: p.Name, Role: p.Role, ShopName: settings.ShopName, Units: string(settings.Units),
		Currency: settings.Currency, Ratio: settings.Reads(), TimeZone: settings.TimeZone, Now: s.Now(), Rights: p.Role.Rights(), Demo: s.Demo}
	if me.Shared = s.sessions.GetString(ctx, sessionHow) == string(shop.ByDigits); me.Shared {
		me.Lock = settings.Lock()
	}
	return out(me)
}
