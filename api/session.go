package api

import (
	"context"
	"errors"
	"net"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"

	"uskel/store"
)

// HashParams are OWASP's smaller argon2id recommendation (19 MiB, two passes), so that a few sign-ins at once stay within a
// small server's memory.
var HashParams = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

const sessionPerson = "person"

type personKey struct{}

// who is the person signed in.
func who(ctx context.Context) store.Person { p, _ := ctx.Value(personKey{}).(store.Person); return p }

// guard lets only the roles through.
func (s *server) guard(api huma.API, roles []store.Role) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		if roles == nil {
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
			_ = huma.WriteErr(api, ctx, http.StatusServiceUnavailable, errAway.Error())
			return
		}
		if !slices.Contains(roles, p.Role) {
			_ = huma.WriteErr(api, ctx, http.StatusForbidden, "This is not for a "+string(p.Role)+" to do.")
			return
		}
		next(huma.WithValue(ctx, personKey{}, p))
	}
}

// throttle slows guessing: each sign-in name from each address has a few failures, then one every ten seconds.
type throttle struct {
	mu       sync.Mutex
	limiters map[string]*rate.Limiter
}

const (
	failuresAtOnce = 5
	failureEvery   = 10 * time.Second
	throttleNames  = 10_000
)

func newThrottle() *throttle { return &throttle{limiters: map[string]*rate.Limiter{}} }

func (t *throttle) of(name string) *rate.Limiter {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.limiters) > throttleNames {
		clear(t.limiters)
	}
	l, ok := t.limiters[name]
	if !ok {
		l = rate.NewLimiter(rate.Every(failureEvery), failuresAtOnce)
		t.limiters[name] = l
	}
	return l
}

// Me is the person signed in.
type Me struct {
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	Role     store.Role `json:"role"`
	ShopName string     `json:"shopName"`
	Units    string     `json:"units" enum:"metric,us"`
	Currency string     `json:"currency"`
	TimeZone string     `json:"timeZone" doc:"Where the shop stands (IANA)"`
	Now      time.Time  `json:"now" doc:"the server's clock"`
}

// SignIn is a name and a password.
type SignIn struct {
	Name     string `json:"name" minLength:"1" maxLength:"60"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
}

// Health says how the server is.
type Health struct {
	Database bool      `json:"database"`
	Now      time.Time `json:"now" doc:"the server's clock"`
}

func (s *server) registerSession(api huma.API) {
	operation(s, api, get("/health", "health", "Whether the database answers"), signedOut, func(ctx context.Context, _ *struct{}) (*Out[Health], error) {
		ctx, cancel := context.WithTimeout(ctx, 2*time.Second)
		defer cancel()
		return out(Health{s.Store.Ping(ctx) == nil, s.Now()})
	})
	operation(s, api, post("/session", "signIn", "Sign in"), signedOut, s.signIn)
	operation(s, api, get("/session", "me", "Who is signed in"), anyone, func(ctx context.Context, _ *struct{}) (*Out[Me], error) {
		return s.me(ctx, who(ctx))
	})
	operation(s, api, huma.Operation{Method: http.MethodDelete, Path: "/session", OperationID: "signOut", Summary: "Sign out"}, anyone,
		func(ctx context.Context, _ *struct{}) (*struct{}, error) { return nil, s.sessions.Destroy(ctx) })
}

// nobody is compared against when the name is unknown, so that the answer takes as long.
var nobody = sync.OnceValue(func() string { h, _ := argon2id.CreateHash("nobody", HashParams); return h })

// from is a request's body and the address it came from.
type from[T any] struct {
	address string
	Body    T
}

// Resolve notes the address.
func (f *from[T]) Resolve(ctx huma.Context) []error {
	f.address, _, _ = net.SplitHostPort(ctx.RemoteAddr())
	return nil
}

func (s *server) signIn(ctx context.Context, in *from[SignIn]) (*Out[Me], error) {
	limiter := s.throttle.of(in.Body.Name + " from " + in.address)
	if limiter.Tokens() < 1 {
		return nil, huma.ErrorWithHeaders(huma.NewError(http.StatusTooManyRequests, "Too many wrong passwords for this name. Wait ten seconds."), http.Header{"Retry-After": {"10"}})
	}
	p, err := s.Store.PersonBySignIn(ctx, in.Body.Name)
	hash := p.PasswordHash
	if errors.Is(err, store.ErrNotFound) {
		hash = nobody()
	} else if err != nil {
		return nil, err
	}
	ok, err2 := argon2id.ComparePasswordAndHash(in.Body.Password, hash)
	if err2 != nil {
		return nil, err2
	}
	if !ok || err != nil || !p.Active {
		limiter.Allow()
		return nil, huma.NewError(http.StatusUnauthorized, "Name and password do not go together.")
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, sessionPerson, p.ID)
	return s.me(ctx, p)
}

func (s *server) me(ctx context.Context, p store.Person) (*Out[Me], error) {
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	return out(Me{p.ID, p.Name, p.Role, settings.ShopName, string(settings.Units), settings.Currency, settings.TimeZone, s.Now()})
}
