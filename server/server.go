// Package server answers over HTTP: the API that the interface uses, described
// by its own OpenAPI document, and the interface itself.
package server

import (
	"cmp"
	"context"
	"crypto/rand"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"path"
	"runtime/debug"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"
	"github.com/go-json-experiment/json"
	"github.com/vearutop/statigz"
	"github.com/vearutop/statigz/brotli"

	"idletimber/craft/nest"
	"idletimber/craft/reckon"
	"idletimber/formats"
	"idletimber/store"
)

// Config is what a server is made of.
type Config struct {
	Store *store.Store
	Clock func() time.Time
	Log   *slog.Logger
	Web   fs.FS  // the built interface
	Demo  string // e-mail of the sample shop's account; empty outside demo mode

	// Searches is how many searches this process does at once; 0 where it does no long work, and others do it.
	Searches int

	Cores nest.Cores // that searches move pieces on, all of them together; nil for one each

	Limits Limits // none for the usual

	Seek Seek // nil for reckon.Seek

	Patience time.Duration // for which a search waits for a page that is gone; 0 for the usual
	Look     time.Duration // after which a stream looks again whether it may go on; 0 for the usual

	Address string // under which others reach it, such as http://bench.local:7350; empty for the one a request came to

	// Proxies are the addresses, as CIDR, of proxies before this server, through which
	// the world comes by HTTPS; empty where it is reached itself.
	Proxies []string
}

// Limits is how much one process, or one workshop, may take.
type Limits struct {
	Body    int64 // of a request that brings no file, bytes
	Errands int   // long work of one workshop at once, at most store.MostErrands
	Streams int   // that pages listen to at once
}

// UsualLimits are those where none are set.
var UsualLimits = Limits{Body: usualBody, Errands: store.MostErrands, Streams: 4000}

// usualBody is what an operation takes that sets no limit of its own, bytes.
const usualBody = 1 << 20

// orUsual has the usual limits where none are set.
func (l Limits) orUsual() Limits {
	return Limits{
		Body:    cmp.Or(l.Body, UsualLimits.Body),
		Errands: min(cmp.Or(l.Errands, UsualLimits.Errands), store.MostErrands),
		Streams: cmp.Or(l.Streams, UsualLimits.Streams),
	}
}

// Server answers requests.
type Server struct {
	Config
	sessions *scs.SessionManager
	hashing  hashing
	limits   *limits
	benches  *memory[map[string]work] // of each piece in work, until its stamp changes; it never depends on the hour
	paces    *memory[learned]
	live     *live
	metrics  *metrics
	endWork  func()

	rescues  chan struct{} // held while ways out are looked for: two at a time
	pictures *pictures
	assets   http.Handler // of the interface, compressed when it was built
	api      huma.API
	handler  http.Handler
	draining atomic.Bool  // no more requests are to come
	held     atomic.Int64 // size of all answers that are being read, bytes
}

// JSON is the wire format: lists are never null, maps come in order.
var JSON = huma.Format{
	Marshal: func(w io.Writer, v any) error { return json.MarshalWrite(w, v, json.Deterministic(true)) },
	Unmarshal: func(data []byte, v any) error {
		if _, any := v.(*any); any { // which the schema judges, naming the field
			return json.Unmarshal(data, v)
		}
		return json.Unmarshal(data, v, formats.Numbers)
	},
}

// New makes a server. Close it when it is done with. The error is one of the
// configuration.
func New(c Config) (*Server, error) {
	s := &Server{
		Config:   c,
		hashing:  newHashing(),
		limits:   newLimits(c.Clock),
		benches:  newMemory[map[string]work](),
		paces:    newMemory[learned](),
		live:     newLive(),
		pictures: newPictures(),

		rescues: make(chan struct{}, 2),
	}
	s.sessions = newSessions(c)
	s.Limits = s.Limits.orUsual()
	if s.Seek == nil {
		s.Seek = reckon.Seek
	}
	if files, ok := c.Web.(fs.ReadDirFS); ok {
		s.assets = statigz.FileServer(files, brotli.AddEncoding)
	}
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	if err := engine.SetTrustedProxies(c.Proxies); err != nil {
		return nil, fmt.Errorf("proxies: %w", err)
	}
	s.metrics = newMetrics(s)
	engine.Use(s.observe)
	engine.NoRoute(s.page)
	s.carePages(engine)

	s.api = humagin.New(engine, apiConfig())
	s.routes()

	protection := http.NewCrossOriginProtection()
	protection.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.problem(w, http.StatusForbidden, "this write came from another site; open Idle Timber itself")
	}))
	api, err := newAnswers(s.sessions.LoadAndSave(engine), s)
	if err != nil {
		return nil, err
	}
	asking, err := newAnswers(engine, s)
	if err != nil {
		return nil, err
	}
	mux := http.NewServeMux()
	mux.Handle("/api/", protection.Handler(api))
	mux.Handle("/api/health", asking) // which no session is read for
	mux.Handle("/api/readings", asking)
	mux.Handle("/", engine)
	s.handler = s.headers(mux)
	end, err := s.work(c.Searches)
	if err != nil {
		return nil, err
	}
	s.endWork = sync.OnceFunc(end)
	return s, nil
}

// ServeHTTP answers one request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// Close ends streams, which would otherwise keep a server from shutting down, and hands back the searches that it is
// at.
func (s *Server) Close() {
	s.live.end()
	s.endWork()
}

// OpenAPI is the description of the API.
func (s *Server) OpenAPI() ([]byte, error) {
	return json.Marshal(s.api.OpenAPI(), json.Deterministic(true))
}

func (s *Server) routes() {
	s.health()
	most := func(o *huma.Operation) {
		if o.MaxBodyBytes == usualBody {
			o.MaxBodyBytes = s.Limits.Body
		}
	}
	public := huma.NewGroup(s.api)
	public.UseSimpleModifier(most)
	public.UseMiddleware(notesClient)
	private := huma.NewGroup(s.api)
	private.UseSimpleModifier(most)
	private.UseMiddleware(notesClient, s.tellsTime, s.requireAccount, s.saves)
	s.accountRoutes(public, private)
	s.shopRoutes(private)
	s.timberRoutes(private)
	s.panelRoutes(private)
	s.riverRoutes(private)
	s.boardRoutes(private)
	s.benchRoutes(private)
	s.logRoutes(private)
	s.trialRoutes(private)
	s.shelfRoutes(private)
	s.peopleRoutes(private)
	s.givingRoutes(private)
	s.aftercareRoutes(private)
	s.rescueRoutes(private)
	s.practiceRoutes(private)
	s.moneyRoutes(private)
	s.runRoutes(private)
	s.runLayRoutes(private)
	s.planRoutes(public, private)
	s.fileRoutes(private)
	s.outlineRoutes(private)
	s.shapeRoutes(private)
	s.layoutRoutes(private)
	s.searchRoutes(private)
	s.rackFileRoutes(private)
	s.instrumentRoutes(public, private)
	s.newsRoutes(private)
	boundRequests(s.api.OpenAPI())
}

// health answers whether the server and its database are well.
func (s *Server) health() {
	type out struct {
		Body struct {
			Status string `json:"status"`
			Demo   bool   `json:"demo" doc:"The sample shop can be opened"`
		}
	}
	huma.Get(s.api, "/api/health", func(ctx context.Context, _ *struct{}) (*out, error) {
		if err := s.Store.Health(ctx); err != nil {
			return nil, huma.Error503ServiceUnavailable("the database does not answer; try again in a moment")
		}
		o := &out{}
		o.Body.Status, o.Body.Demo = "ok", s.Demo != ""
		return o, nil
	})
}

// headers sets what every answer carries: a name to report it by, only own files, no
// framing, no guessing of types.
func (s *Server) headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set(requestID, rand.Text()[:12])
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		if !strings.HasPrefix(r.URL.Path, "/assets/") { // which are no documents; there are many
			h.Set(
				"Content-Security-Policy",
				"default-src 'self'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; frame-ancestors "+
					"'none'; form-action 'self'",
			)
			h.Set("X-Frame-Options", "DENY")
			h.Set("Referrer-Policy", "same-origin")
			h.Set("Cross-Origin-Opener-Policy", "same-origin")
		}
		if len(s.Proxies) > 0 {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store") // an answer may say otherwise
		}
		next.ServeHTTP(w, r)
	})
}

// tellsTime tells a maker with every answer what time it is here, by which devices set their clocks right.
func (s *Server) tellsTime(ctx huma.Context, next func(huma.Context)) {
	ctx.SetHeader("X-Now", s.Clock().UTC().Format(time.RFC3339Nano))
	next(ctx)
}

// requestID is the header that names a request.
const requestID = "X-Request-Id"

// observe logs each request when it is answered.
func (s *Server) observe(c *gin.Context) {
	id := c.Writer.Header().Get(requestID)
	start := time.Now()
	status := http.StatusInternalServerError // unless it is answered
	defer func() {
		s.metrics.answered(c, status, time.Since(start))
		level := slog.LevelInfo
		if status >= 500 {
			level = slog.LevelError
		}
		line := []any{
			"id", id, "method", c.Request.Method, "path", c.Request.URL.Path, "status", status,
			"ms", float64(time.Since(start).Microseconds()) / 1000,
		}
		if len(c.Errors) > 0 {
			line = append(line, "error", c.Errors.Errors())
		}
		s.Log.Log(c, level, "request", line...)
	}()
	c.Next()
	status = c.Writer.Status()
}

// broken answers a request that broke off, in the place of what it had answered.
func (s *Server) broken(w http.ResponseWriter, r *http.Request, err any) {
	id := w.Header().Get(requestID)
	if fault, ok := err.(sessionFault); ok && store.Away(fault.error) {
		s.Log.Warn("session out of reach", "id", id, "path", r.URL.Path, "error", fault.Error())
		s.problem(w, http.StatusServiceUnavailable, databaseAway)
		return
	}
	s.Log.Error("panic", "id", id, "path", r.URL.Path, "error", fmt.Sprint(err), "stack", string(debug.Stack()))
	s.problem(w, http.StatusInternalServerError,
		"something went wrong here. Give this number when you report it: "+id)
}

func (s *Server) problem(w http.ResponseWriter, status int, detail string) {
	if status == http.StatusServiceUnavailable {
		w.Header().Set("Retry-After", "2")
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	if err := json.MarshalWrite(w, huma.ErrorModel{Status: status, Title: http.StatusText(status),
		Detail: detail}); err != nil {
		s.Log.Warn("answer lost", "error", err)
	}
}

// page serves the interface: its files, and its first page for every place.
func (s *Server) page(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") ||
		c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		s.problem(c.Writer, http.StatusNotFound, "there is nothing at this address")
		return
	}
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	if info, err := fs.Stat(s.Web, name); name == "" || name == "index.html" || err != nil || info.IsDir() {
		if strings.HasPrefix(name, "assets/") {
			s.problem(c.Writer, http.StatusNotFound, "there is nothing at this address")
			return
		}
		c.Header("Cache-Control", "no-cache")
		c.FileFromFS("/", http.FS(s.Web))
		return
	}
	if strings.HasPrefix(name, "assets/") && s.assets != nil { // named by their content
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
		s.assets.ServeHTTP(c.Writer, c.Request)
		return
	}
	c.Header("Cache-Control", "no-cache") // what keeps the page on a device asks whether it has changed
	if strings.HasSuffix(name, ".js") && s.assets != nil {
		s.assets.ServeHTTP(c.Writer, c.Request)
		return
	}
	c.FileFromFS(name, http.FS(s.Web))
}

// Describe is the OpenAPI document without a running server.
func Describe() ([]byte, error) {
	s := &Server{Config: Config{Demo: "sample"}, live: newLive()}
	gin.SetMode(gin.ReleaseMode)
	s.api = humagin.New(gin.New(), apiConfig())
	s.routes()
	return s.OpenAPI()
}

// apiConfig describes the API: no pages or schemas fetched from elsewhere.
func apiConfig() huma.Config {
	huma.DefaultArrayNullable = false
	huma.NewError, huma.NewErrorWithContext = bounded, faults
	config := huma.DefaultConfig("Idle Timber", "1")
	config.DocsPath, config.SchemasPath, config.CreateHooks = "", "", nil
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", formats.SchemaName)
	config.Formats = map[string]huma.Format{"application/json": JSON, "json": JSON}
	return config
}
