package server

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"sync"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"idletimber/store"
)

// sessionSignIn is what a session holds: the id of its sign-in.
const sessionSignIn = "sign-in"

func newSessions(c Config) *scs.SessionManager {
	m := scs.New()
	m.Store = store.Sessions{Store: c.Store}
	m.HashTokenInStore = true
	m.Lifetime = 30 * 24 * time.Hour
	m.Cookie.Name = "idletimber"
	if len(c.Proxies) > 0 { // the world comes by HTTPS
		m.Cookie.Name, m.Cookie.Secure = "__Host-idletimber", true
	}
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteLaxMode
	m.ErrorFunc = func(_ http.ResponseWriter, _ *http.Request, err error) { panic(sessionFault{err}) }
	return m
}

// sessionFault ends a request whose session cannot be read or stored.
type sessionFault struct{ error }

type accountKey struct{}

// signedIn is the maker of a private request and the sign-in that it comes by.
type signedIn struct {
	store.Account
	signIn string
}

// account is the signed-in maker of a private request.
func account(ctx context.Context) store.Account { return ctx.Value(accountKey{}).(signedIn).Account }

// signIn is the id of the sign-in of a private request.
func signIn(ctx context.Context) string { return ctx.Value(accountKey{}).(signedIn).signIn }

// requireAccount lets only signed-in makers through. Nothing of a body is read
// before.
func (s *Server) requireAccount(ctx huma.Context, next func(huma.Context)) {
	id := s.sessions.GetString(ctx.Context(), sessionSignIn)
	a, err := s.Store.AccountBySignIn(ctx.Context(), id)
	if err == nil {
		next(huma.WithValue(ctx, accountKey{}, signedIn{a, id}))
		return
	}
	ctx.SetHeader("Connection", "close")
	ctx.SetReadDeadline(time.Now()) // nor is it waited for after
	if errors.Is(err, store.ErrNotFound) {
		huma.WriteErr(s.api, ctx, http.StatusUnauthorized, "sign in first")
		return
	}
	huma.WriteErr(s.api, ctx, http.StatusInternalServerError, "the account could not be read", err)
}

// client is where a request comes from.
type client struct{ address, agent, reached string } // reached is the address by which it reached the server

type clientKey struct{}

// notesClient tells operations where their request comes from.
func notesClient(ctx huma.Context, next func(huma.Context)) {
	c := humagin.Unwrap(ctx)
	scheme := "http"
	if c.Request.TLS != nil || ctx.Header("X-Forwarded-Proto") == "https" {
		scheme = "https"
	}
	from := client{c.ClientIP(), cut(ctx.Header("User-Agent")), scheme + "://" + c.Request.Host}
	next(huma.WithValue(ctx, clientKey{}, from))
}

func clientOf(ctx context.Context) client { return ctx.Value(clientKey{}).(client) }

// usualLook is how often a stream looks whether it may go on, and tells its page
// that it is alive.
const usualLook = 20 * time.Second

// Alive tells a page that its stream goes on.
type Alive struct{}

// live knows the streams of each sign-in, so that they end with it.
type live struct {
	open  atomic.Int64 // streams
	mu    sync.Mutex
	by    map[string]map[*context.CancelFunc]bool
	ended context.Context // when the server closes
	end   context.CancelFunc
}

func newLive() *live {
	l := &live{by: map[string]map[*context.CancelFunc]bool{}}
	l.ended, l.end = context.WithCancel(context.Background())
	return l
}

// begin is the context of a stream: it ends with its page, its sign-in or the server.
func (l *live) begin(ctx context.Context) (context.Context, func()) {
	id := signIn(ctx)
	ctx, cancel := context.WithCancel(ctx)
	unhook := context.AfterFunc(l.ended, cancel)
	l.open.Add(1)
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.by[id] == nil {
		l.by[id] = map[*context.CancelFunc]bool{}
	}
	l.by[id][&cancel] = true
	return ctx, func() {
		unhook()
		cancel()
		l.mu.Lock()
		defer l.mu.Unlock()
		if !l.by[id][&cancel] {
			return // it was over
		}
		l.open.Add(-1)
		if delete(l.by[id], &cancel); len(l.by[id]) == 0 {
			delete(l.by, id)
		}
	}
}

// close ends the streams of sign-ins.
func (l *live) close(ids ...string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for _, id := range ids {
		for cancel := range l.by[id] {
			(*cancel)()
		}
	}
}

// aboutSignIn is whom the end of a sign-in concerns.
func aboutSignIn(id string) string { return "sign-in " + id }

// endStreams ends the streams of sign-ins that have ended, wherever they are.
func (s *Server) endStreams(ids ...string) {
	s.live.close(ids...)
	for _, id := range ids {
		s.Store.Tell(aboutSignIn(id), "ended", nil)
	}
}

// stream is the context of a stream, which ends with its page, its sign-in or the
// server, and when to tell the page that it is alive.
func (s *Server) stream(ctx context.Context) (_ context.Context, alive <-chan struct{}, over func()) {
	ctx, over = s.live.begin(ctx)
	if s.live.open.Load() > int64(s.Limits.Streams) {
		over() // a stream that ends at once is tried again by its page
	}
	told := make(chan struct{}, 1)
	go func() {
		tick := time.NewTicker(cmp.Or(s.Look, usualLook))
		defer tick.Stop()
		ended, shut := s.Store.Hear(aboutSignIn(signIn(ctx)))
		defer shut()
		for {
			select {
			case <-ctx.Done():
				return
			case <-ended: // elsewhere, or what is told of it was missed
			case <-tick.C:
			}
			if _, err := s.Store.AccountBySignIn(ctx, signIn(ctx)); errors.Is(err, store.ErrNotFound) {
				s.live.close(signIn(ctx)) // it ended elsewhere
			}
			select {
			case told <- struct{}{}:
			default:
			}
		}
	}()
	return ctx, told, over
}
