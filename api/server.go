// Package api serves the shop over HTTP: typed operations, sign-in and roles, and the built front end.
package api

import (
	"compress/gzip"
	"context"
	"encoding/json"
	"io/fs"
	"log/slog"
	"math"
	"mime"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"
	"golang.org/x/sync/singleflight"

	"uskel/core/climate"
	"uskel/core/plan"
	"uskel/core/plan/mend"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/devices"
	"uskel/store"
)

// Config is what a server needs.
type Config struct {
	Store   *store.Store
	Station devices.WeatherStation
	Meter   devices.WaterMeter
	Outbox  devices.Outbox
	Now     func() time.Time
	Wall    func() time.Time // the true time, by which authenticator apps count, whatever the shop's clock says; time.Now when nil
	Log     *slog.Logger
	Dist    fs.FS           // the built front end; nil serves the API alone
	Proxies Proxies         // whose word is taken on where requests come from
	Public  string          // address that people reach the shop by, for printed codes; http://localhost when empty
	Meters  *Meters         // nil counts nothing
	Warm    bool            // work out ahead what takes long the first time
	Demo    bool            // the shop is invented: instruments are simulated, and screens say so
	Told    func()          // called when somebody told a reading, so that it is read; nothing when nil
	Refused []string        // passwords that are published: nobody signs in with one
	Ends    context.Context // when it is done, streams end; never when nil
}

type server struct {
	Config
	sessions *scs.SessionManager
	heavies  *slot
	pictures *slot // photos are unpacked apart: who waits for a day does not wait for them
	streams  *open
	hashing  chan struct{} // a place in it for each password that is looked at
	meters   *Meters
	routes   []route
	choices  *kept[[]plan.Choice]
	ways     *kept[[]mend.WayOut]
	days     *kept[schedule.Timeline]
	begun    *kept[schedule.Timeline] // running washes as they were planned
	full     atomic.Bool              // the database's disk was full when something was last written
	refining atomic.Bool              // a day is being looked at for longer
	lastDay  atomic.Pointer[laidDay]  // the newest laid-out day, to begin the next from
	weather  *kept[[]climate.Hour]
	figures  *kept[any] // worked out of timed washes
	steps    *kept[pieces]
	lists    *kept[ChecklistView]
	logs     *logs
	read     *kept[bool] // who was noted to have read which first look
	figuring singleflight.Group
	seenAt   sync.Map // when each sign-in was last noted as used
	live     *live
}

// route is an operation and the right that it takes.
type route struct {
	operation huma.Operation
	right     shop.Right
}

// maxBody is the largest request body taken, bytes.
const maxBody = 1 << 20

// What is remembered of what was worked out: judged procedures by job, and days by what is to be done in them.
const (
	mostChoices = 200
	mostDays    = 20
	mostFigures = 100
	mostLists   = 60 // versions of checklists with what is thought of them
)

func newServer(c Config) *server {
	if c.Ends == nil {
		c.Ends = context.Background()
	}
	if c.Told == nil {
		c.Told = func() {}
	}
	if c.Wall == nil {
		c.Wall = time.Now
	}
	s := &server{
		Config:   c,
		live:     &live{watchers: map[chan string]string{}, listening: make(chan struct{})},
		heavies:  newSlot(heavyAtOnce),
		pictures: newSlot(heavyAtOnce),
		streams:  &open{by: map[string]int{}},
		hashing:  make(chan struct{}, hashesAtOnce),
		meters:   c.Meters,
		sessions: scs.New(),
		choices:  newKept[[]plan.Choice](mostChoices),
		ways:     newKept[[]mend.WayOut](mostChoices),
		days:     newKept[schedule.Timeline](mostDays),
		begun:    newKept[schedule.Timeline](mostDays),
		weather:  newKept[[]climate.Hour](mostDays),
		figures:  newKept[any](mostFigures),
		steps:    newKept[pieces](1),
		lists:    newKept[ChecklistView](mostLists),
		read:     newKept[bool](mostRead),
	}
	s.live.pulses = s.pulses
	s.logs = &logs{by: newKept[*readLog](mostLogs), read: func(ctx context.Context, since []store.Since) (map[string][]store.Came, error) {
		return s.Store.EventsSince(ctx, since)
	}}
	return s
}

// New builds the handler.
func New(c Config) http.Handler {
	s := newServer(c)
	s.sessions.Store = c.Store.Sessions()
	go s.sweep()
	if c.Warm {
		go s.warm()
	}
	s.sessions.Codec = codec{}
	s.sessions.Lifetime = 14 * 24 * time.Hour
	s.sessions.Cookie.Name = "uskel_session"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) {
		s.Log.Warn("session", "error", err)
		if store.Full(err) {
			s.full.Store(true)
			writeProblem(w, errFull)
			return
		}
		writeProblem(w, errAway)
	}
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.HandleMethodNotAllowed = true
	engine.Use(gin.CustomRecoveryWithWriter(nil, s.recovered))
	engine.Use(func(g *gin.Context) {
		g.Request.Body = http.MaxBytesReader(g.Writer, g.Request.Body, maxBody)
	})
	s.register(s.newAPI(engine))
	engine.NoRoute(s.page)
	engine.NoMethod(func(g *gin.Context) {
		writeProblem(
			g.Writer,
			huma.NewError(http.StatusMethodNotAllowed, "This address does not take "+g.Request.Method+"."),
		)
	})
	encrypted := *s.sessions // the same sessions, over a line that is encrypted
	encrypted.Cookie.Secure = true
	encrypted.Cookie.Name = hostOnly + encrypted.Cookie.Name
	plain, secure := s.sessions.LoadAndSave(engine), encrypted.LoadAndSave(engine)
	signedIn := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if cameFrom(r.Context()).secure {
			secure.ServeHTTP(w, r)
			return
		}
		plain.ServeHTTP(w, r)
	})
	guarded := http.NewCrossOriginProtection().Handler(signedIn)
	return c.Proxies.located(s.logged(usual.hear(securityHeaders(compressed(skipSession(guarded, engine))))))
}

// warmDays is how far back times are read before anybody asks: the furthest that anybody may.
const warmDays = 366

// warm works out when the server starts what takes long the first time, the day and the times, so that nobody waits
// for it: as for the lead, who sees most, and over the stretches that the screens begin with and end at.
func (s *server) warm() {
	ctx := context.WithValue(s.Ends, personKey{}, store.Person{Role: shop.Lead})
	looks := []func() error{
		func() error { _, err := s.timed(ctx, warmDays); return err }, // first, and once: all others read from it
		func() error { _, _, _, err := s.laidOut(ctx); return err },
	}
	for _, days := range []int{28, 182} {
		span := DaysBack{Days: days}
		looks = append(looks,
			func() error { _, err := s.times(ctx, &span); return err },
			func() error { _, err := s.standards(ctx, &span); return err },
			func() error { _, err := s.wholeChart(ctx, &Charted{DaysBack: span}); return err },
			func() error { _, err := s.wholeLearning(ctx, &span); return err })
	}
	for _, look := range looks {
		if err := look(); err != nil && s.Ends.Err() == nil {
			s.Log.Warn("not everything was worked out ahead", "error", err)
			return
		}
	}
}

// sweepEvery is how often what is over about sign-ins is let go of.
const sweepEvery = 10 * time.Minute

// sweep lets go of sign-ins that are over, until the server ends.
func (s *server) sweep() {
	tick := time.NewTicker(sweepEvery)
	defer tick.Stop()
	for {
		select {
		case <-s.Ends.Done():
			return
		case <-tick.C:
			if err := s.Store.Sweep(s.Ends); err != nil && s.Ends.Err() == nil {
				s.Log.Warn("sign-ins that are over were not let go of", "error", err)
			}
		}
	}
}

// unsigned are the operations that ask for no sign-in and must answer whether the database is there or not.
var unsigned = []string{"/api/health", "/api/ready"}

// skipSession keeps the database out of the way of the front end's files, so that they are served while it is away.
func skipSession(api, files http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") && !slices.Contains(unsigned, r.URL.Path) {
			api.ServeHTTP(w, r)
			return
		}
		files.ServeHTTP(w, r)
	})
}

// contentPolicy lets a page have what the shop's own server gives, and nothing else.
// The core on the device is WebAssembly, which browsers run when the policy names it.
const contentPolicy = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; " +
	"img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

// shrinks are the kinds of content that get smaller by compressing; ZIP, pictures and fonts are compressed already, and events are sent
// as they happen.
func shrinks(contentType string) bool {
	kind, _, _ := mime.ParseMediaType(contentType)
	return kind != "text/event-stream" && (strings.HasPrefix(kind, "text/") || slices.Contains([]string{"application/json",
		"application/problem+json", "application/schema+json", "application/javascript", "application/wasm", "application/manifest+json",
		"image/svg+xml"}, kind))
}

// compressed sends what shrinks in less bytes to whoever takes it so.
func compressed(next http.Handler) http.Handler {
	wrap, err := gzhttp.NewWrapper(gzhttp.CompressionLevel(gzip.BestSpeed), gzhttp.ContentTypeFilter(shrinks))
	if err != nil {
		panic(err) // the options are our own
	}
	return wrap(next)
}

func securityHeaders(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Content-Security-Policy", contentPolicy)
		if cameFrom(r.Context()).secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

func (s *server) recovered(g *gin.Context, what any) {
	s.Log.Error("panic", "path", g.Request.URL.Path, "what", what)
	writeProblem(g.Writer, errInternal)
	g.Abort()
}

// newAPI makes the typed API on an engine.
func (s *server) newAPI(engine *gin.Engine) huma.API {
	config := huma.DefaultConfig("Uskel", "1")
	config.OpenAPIPath, config.DocsPath, config.SchemasPath = "/openapi", "", ""
	config.CreateHooks = nil
	config.RejectUnknownQueryParameters = true
	config.Components.Schemas = newRegistry()
	config.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		bySession: {Type: "apiKey", In: "cookie", Name: "uskel_session", Description: "of a sign-in; __Host-uskel_session over TLS"},
		bySensor:  {Type: "http", Scheme: "bearer", Description: "a sensor's token"},
	}
	config.Servers = []*huma.Server{{URL: "/api"}}
	return humagin.NewWithGroup(engine, engine.Group("/api"), config)
}

// Description is the OpenAPI 3.1 description, made without a database.
func Description() ([]byte, error) {
	s := newServer(Config{Now: time.Now, Log: slog.Default()})
	gin.SetMode(gin.ReleaseMode)
	api := s.newAPI(gin.New())
	s.register(api)
	return json.MarshalIndent(api.OpenAPI(), "", "  ")
}

// page serves the front end: a file if there is one, else the page that routes in the browser.
func (s *server) page(g *gin.Context) {
	path := strings.TrimPrefix(g.Request.URL.Path, "/")
	if strings.HasPrefix(path, "api/") || s.Dist == nil {
		writeProblem(g.Writer, huma.NewError(http.StatusNotFound, "There is nothing at this address."))
		return
	}
	if g.Request.Method != http.MethodGet && g.Request.Method != http.MethodHead {
		writeProblem(
			g.Writer,
			huma.NewError(http.StatusMethodNotAllowed, "This address does not take "+g.Request.Method+"."),
		)
		return
	}
	if info, err := fs.Stat(s.Dist, path); path == "" || err != nil || info.IsDir() {
		path = "index.html"
	}
	g.Header("Cache-Control", "no-cache")
	if strings.HasPrefix(path, "assets/") { // their names carry a hash of their content
		g.Header("Cache-Control", "public, max-age=31536000, immutable")
	}
	g.Status(http.StatusOK)
	http.ServeFileFS(g.Writer, g.Request, s.Dist, path)
}

// operation registers a typed operation for those who have a right.
func operation[I, O any](
	s *server,
	api huma.API,
	op huma.Operation,
	right shop.Right,
	handle func(context.Context, *I) (*O, error),
) {
	s.routes = append(s.routes, route{op, right})
	op.MaxBodyBytes = maxBody
	if right != nobody {
		op.Security = []map[string][]string{{bySession: {}}}
	}
	op.Middlewares = huma.Middlewares{s.guard(api, op.Path, right), finite(api)}
	huma.Register(api, op, func(ctx context.Context, in *I) (*O, error) {
		out, err := handle(ctx, in)
		if err != nil {
			return nil, s.problem(ctx, op.OperationID, err)
		}
		return out, nil
	})
}

// finite refuses what is no number where a number is asked for: "NaN" can be read as one, and lies below and above no bound. A body
// cannot hold it: JSON has no word for it.
func finite(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		for _, p := range ctx.Operation().Parameters {
			if p.In != "query" || p.Schema == nil || p.Schema.Type != huma.TypeNumber {
				continue
			}
			x, err := strconv.ParseFloat(ctx.Query(p.Name), 64)
			if err == nil && (math.IsNaN(x) || math.IsInf(x, 0)) {
				_ = huma.WriteErr(api, ctx, http.StatusUnprocessableEntity, "validation failed",
					&huma.ErrorDetail{Location: "query." + p.Name, Message: "expected a number", Value: ctx.Query(p.Name)})
				return
			}
		}
		next(ctx)
	}
}

// file describes an operation that answers with a file of one of some kinds.
func file(op huma.Operation, kinds ...string) huma.Operation {
	content := map[string]*huma.MediaType{}
	for _, kind := range kinds {
		content[kind] = &huma.MediaType{Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}}
		if kind == "application/json" {
			content[kind].Schema = &huma.Schema{Type: huma.TypeObject, AdditionalProperties: true}
		}
	}
	op.Responses = map[string]*huma.Response{"200": {Description: "The file", Content: content}}
	return op
}

// How somebody who asks is known: by the cookie of a sign-in, or by a sensor's token.
const (
	bySession = "session"
	bySensor  = "sensor"
)

func get(path, id, summary string) huma.Operation {
	return huma.Operation{Method: http.MethodGet, Path: path, OperationID: id, Summary: summary}
}

func post(path, id, summary string) huma.Operation {
	return huma.Operation{Method: http.MethodPost, Path: path, OperationID: id, Summary: summary}
}

func put(path, id, summary string) huma.Operation {
	return huma.Operation{Method: http.MethodPut, Path: path, OperationID: id, Summary: summary}
}

func remove(path, id, summary string) huma.Operation {
	return huma.Operation{Method: http.MethodDelete, Path: path, OperationID: id, Summary: summary}
}

// Out wraps a body for huma.
type Out[T any] struct{ Body T }

// In wraps a body for huma.
type In[T any] struct{ Body T }

// ID is a path parameter.
type ID struct {
	ID string `path:"id" format:"uuid"`
}

func out[T any](body T) (*Out[T], error) { return &Out[T]{body}, nil }

// nobody is the right of whoever has not signed in.
const nobody shop.Right = ""

func (s *server) register(api huma.API) {
	s.registerSession(api)
	s.registerAuthenticator(api)
	s.registerCalendar(api)
	s.registerSetup(api)
	s.registerStaff(api)
	s.registerTablet(api)
	s.registerReadings(api)
	s.registerExport(api)
	s.registerYard(api)
	s.registerPlan(api)
	s.registerTimeline(api)
	s.registerYours(api)
	s.registerVehicles(api)
	s.registerDay(api)
	s.registerLive(api)
	s.registerProcedures(api)
	s.registerBay(api)
	s.registerTimes(api)
	s.registerAudit(api)
	s.registerTraining(api)
	s.registerCases(api)
	s.registerRuns(api)
	s.registerRubrics(api)
	s.registerChecklists(api)
	s.registerFindings(api)
	s.registerSecond(api)
	s.registerCalibration(api)
	s.registerBlind(api)
	s.registerGrading(api)
	s.registerPhotos(api)
	s.registerDisputes(api)
	s.registerRemedies(api)
	s.registerWatch(api)
	s.registerChanged(api)
	s.registerShop(api)
	s.registerShelf(api)
	standard(api)
}

// standard takes out of the description what JSON Schema has no word for: what a pattern asks for has gone into the messages.
func standard(api huma.API) {
	seen := map[*huma.Schema]bool{}
	var tidy func(s *huma.Schema)
	tidy = func(s *huma.Schema) {
		if s == nil || seen[s] {
			return
		}
		seen[s] = true
		s.PatternDescription = ""
		tidy(s.Items)
		for _, p := range s.Properties {
			tidy(p)
		}
		if more, is := s.AdditionalProperties.(*huma.Schema); is {
			tidy(more)
		}
	}
	for _, s := range api.OpenAPI().Components.Schemas.Map() {
		tidy(s)
	}
	for _, item := range api.OpenAPI().Paths {
		for _, op := range []*huma.Operation{item.Get, item.Put, item.Post, item.Delete} {
			if op == nil {
				continue
			}
			for _, p := range op.Parameters {
				tidy(p.Schema)
			}
			if op.RequestBody != nil {
				for _, sent := range op.RequestBody.Content {
					tidy(sent.Schema)
				}
			}
		}
	}
}
