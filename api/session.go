package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"

	"uskel/core/shop"
	"uskel/store"
)

// HashParams are OWASP's smaller argon2id recommendation (19 MiB, two passes), so that a few sign-ins at once stay within a
// small server's memory.
var HashParams = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

const sessionPerson = "person"

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
			_ = huma.WriteErr(api, ctx, http.StatusServiceUnavailable, errAway.Error())
			return
		}
		if a != nil {
			a.person = p.ID
		}
		if !p.Role.May(right) {
			_ = huma.WriteErr(api, ctx, http.StatusForbidden, "This is not for a "+string(p.Role)+" to do.")
			return
		}
		next(huma.WithValue(ctx, personKey{}, p))
	}
}

// Guessing is slowed: tries are counted before a password is looked at, for all servers together. A name from an
// address has a few; an address has some for all names; and a name has some from all the addresses where its owner
// has never signed in, so that a stranger elsewhere does not lock them out.
func limits(name, address string, known bool) []store.Limit {
	name = strings.ToLower(name)
	all := []store.Limit{{Key: "address " + address, Burst: 60, Every: time.Second},
		{Key: "name " + name + " from " + address, Burst: 5, Every: 10 * time.Second}}
	if !known {
		all = append(all, store.Limit{Key: "name " + name, Burst: 30, Every: 30 * time.Second})
	}
	return all // in one order, so that tries at once never wait for each other in a circle
}

// hashesAtOnce is how many passwords are looked at at once: each takes 19 MiB.
const hashesAtOnce = 4

// matches looks a password at, when there is room.
func (s *server) matches(ctx context.Context, password, hash string) (bool, error) {
	select {
	case s.hashing <- struct{}{}:
		defer func() { <-s.hashing }()
	case <-ctx.Done():
		return false, ctx.Err()
	}
	return argon2id.ComparePasswordAndHash(password, hash)
}

// Me is the person signed in.
type Me struct {
	ID       string    `json:"id"`
	Name     string    `json:"name"`
	Role     shop.Role `json:"role"`
	ShopName string    `json:"shopName"`
	Units    string    `json:"units" enum:"metric,us"`
	Currency string    `json:"currency"`
	TimeZone string    `json:"timeZone" doc:"Where the shop stands (IANA)"`
	Now      time.Time `json:"now" doc:"the server's clock"`
}

// SignIn is a name and a password.
type SignIn struct {
	Name     string `json:"name" minLength:"1" maxLength:"60"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
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
	operation(s, api, get("/health", "health", "The server is alive"), nobody, func(context.Context, *struct{}) (*Out[Health], error) {
		return out(Health{s.Now()})
	})
	operation(s, api, get("/ready", "ready", "The database answers and has the schema this server needs; 503 when not"), nobody, s.ready)
	operation(s, api, post("/session", "signIn", "Sign in"), nobody, s.signIn)
	operation(s, api, get("/session", "me", "Who is signed in"), shop.See, func(ctx context.Context, _ *struct{}) (*Out[Me], error) {
		return s.me(ctx, who(ctx))
	})
	operation(s, api, huma.Operation{Method: http.MethodDelete, Path: "/session", OperationID: "signOut", Summary: "Sign out"}, shop.See,
		func(ctx context.Context, _ *struct{}) (*struct{}, error) { return nil, s.sessions.Destroy(ctx) })
}

// readyLimit is how long the database may take to say that it is there.
const readyLimit = 2 * time.Second

func (s *server) ready(ctx context.Context, _ *struct{}) (*Out[Readiness], error) {
	ctx, cancel := context.WithTimeout(ctx, readyLimit)
	defer cancel()
	lacks, err := s.Store.Behind(ctx)
	if err != nil {
		return nil, huma.NewError(http.StatusServiceUnavailable, "The database does not answer.")
	}
	if lacks > 0 {
		return nil, huma.NewError(http.StatusServiceUnavailable, fmt.Sprintf("The database lacks %d migrations: run uskel migrate.", lacks))
	}
	return out(Readiness{s.Now()})
}

// noHash is compared against when the name is unknown, so that the answer takes as long.
var noHash = sync.OnceValue(func() string { h, _ := argon2id.CreateHash("nobody", HashParams); return h })

func (s *server) signIn(ctx context.Context, in *In[SignIn]) (*Out[Me], error) {
	address := cameFrom(ctx).address
	p, err := s.Store.PersonBySignIn(ctx, in.Body.Name)
	unknown := errors.Is(err, store.ErrNotFound)
	if err != nil && !unknown {
		return nil, err
	}
	known := false
	if !unknown {
		if known, err = s.Store.KnownAt(ctx, p.ID, address); err != nil {
			return nil, err
		}
	}
	tries := limits(in.Body.Name, address, known)
	if may, err := s.Store.TakeTry(ctx, tries...); err != nil {
		return nil, err
	} else if !may {
		return nil, huma.ErrorWithHeaders(huma.NewError(http.StatusTooManyRequests,
			"Too many wrong passwords. Wait ten seconds."), http.Header{"Retry-After": {"10"}})
	}
	hash := p.PasswordHash
	if unknown {
		hash = noHash()
	}
	ok, err := s.matches(ctx, in.Body.Password, hash)
	if err != nil {
		return nil, err
	}
	if !ok || unknown || !p.Active {
		return nil, huma.NewError(http.StatusUnauthorized, "Name and password do not go together.")
	}
	if slices.Contains(s.Refused, in.Body.Password) {
		return nil, forbidden("This password is published with the demo: it opens no real shop. Set another one.")
	}
	if err := s.Store.SignedIn(ctx, p.ID, address, tries...); err != nil {
		return nil, err
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
