package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime"
	"runtime/debug"
	"strconv"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"idletimber/craft/nest"
	"idletimber/demo"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
	"idletimber/web"
)

// settings are what a process that serves or works is told.
type settings struct {
	addr, data string
	database   store.Config
	proxies    []string
	seen       string // address of metrics and health
	profiles   string // address of profiles
	searches   int
	cores      int
	limits     server.Limits
}

// fromEnvironment is the value of an environment variable, or the usual one.
func fromEnvironment(name, usual string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return usual
}

// numberFrom is the number of an environment variable, or the usual one.
func numberFrom(name string, usual int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	return usual
}

// flags are those of every process that uses the database.
func (s *settings) flags(c *cobra.Command) {
	f := c.Flags()
	f.StringVar(&s.data, "data", fromEnvironment("IDLETIMBER_DATA", "data"),
		"folder for the private database (IDLETIMBER_DATA)")
	f.StringVar(&s.database.URL, "database", os.Getenv("IDLETIMBER_DATABASE"),
		"URL of an existing PostgreSQL, or of a pooler in transaction mode before it (IDLETIMBER_DATABASE)")
	f.StringVar(&s.database.Direct, "direct", os.Getenv("IDLETIMBER_DIRECT"),
		"URL of the same PostgreSQL past the pooler; only with one (IDLETIMBER_DIRECT)")
	f.IntVar(
		&s.database.Connections,
		"connections",
		numberFrom("IDLETIMBER_CONNECTIONS", store.UsualConnections),
		fmt.Sprintf(
			"connections to the database at most, %d at least (IDLETIMBER_CONNECTIONS)",
			store.LeastConnections,
		),
	)
}

// process are the flags of a process that goes on, which does so many searches at once, on so many cores.
func (s *settings) process(c *cobra.Command, searches, cores int) {
	f := c.Flags()
	f.IntVar(
		&s.searches,
		"searches",
		searches,
		"long searches at once; 0 leaves all long work to others",
	)
	f.IntVar(&s.cores, "cores", max(1, cores), "cores that searches take, all of them together")
	f.StringVar(&s.seen, "metrics", os.Getenv("IDLETIMBER_METRICS"),
		"address for metrics and health, apart from all else; empty for none (IDLETIMBER_METRICS)")
	f.StringVar(&s.profiles, "profiles", "", "loopback address for profiles, such as 127.0.0.1:6060; empty for none")
	usual := server.UsualLimits
	f.Int64Var(&s.limits.Body, "body", usual.Body, "largest body of a request, bytes, that is no file")
	f.IntVar(&s.limits.Errands, "errands", usual.Errands, "searches and papers of one workshop at once, 1 to 4")
	f.IntVar(&s.limits.Streams, "streams", usual.Streams, "streams that pages listen to at once")
}

func serve(use, short string, sample bool) *cobra.Command {
	var s settings
	c := &cobra.Command{Use: use, Short: short, Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		return s.until(c, func(ctx context.Context, log *slog.Logger) error { return s.serve(ctx, c, log, sample) })
	}}
	s.flags(c)
	s.process(c, 1, runtime.NumCPU()-1) // one is left for those who look on
	c.Flags().StringVar(&s.addr, "addr", fromEnvironment("IDLETIMBER_ADDR", "127.0.0.1:7350"),
		"address to serve on (IDLETIMBER_ADDR)")
	c.Flags().StringSliceVar(&s.proxies, "proxy", nil,
		"addresses, such as 10.0.0.7/32, of proxies that the world reaches this server through, by HTTPS")
	return c
}

// work does long work for processes that serve, on this machine or others.
func work() *cobra.Command {
	var s settings
	c := &cobra.Command{Use: "work", Short: "Do searches and papers for processes that serve", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if s.database.URL == "" {
				return errors.New("name the database that the serving processes use, with --database")
			}
			return s.until(c, func(ctx context.Context, log *slog.Logger) error {
				srv, st, err := s.open(ctx, log, false)
				if err != nil {
					return err
				}
				defer st.Close()
				defer srv.Close()
				if err := s.show(ctx, log, srv); err != nil {
					return err
				}
				fmt.Fprintf(
					c.OutOrStdout(),
					"Idle Timber works, %d searches at once, on %d cores (Ctrl-C stops it)\n",
					s.searches,
					s.cores,
				)
				<-ctx.Done()
				return nil
			})
		}}
	s.flags(c)
	s.process(c, runtime.NumCPU(), runtime.NumCPU())
	return c
}

// until runs a process until it ends or is told to.
func (s *settings) until(c *cobra.Command, run func(context.Context, *slog.Logger) error) error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	log := slog.New(slog.NewJSONHandler(c.ErrOrStderr(), nil))
	if err := run(ctx, log); err != nil && ctx.Err() == nil {
		return err
	}
	return nil // stopped, be it while it began
}

// roomy is by how much the heap may grow before it is cleared, in percent of what lives on it:
// little lives between requests, and a drag asks for a reckoning every few milliseconds.
const roomy = 400

// open opens the database and makes the server on it.
func (s *settings) open(ctx context.Context, log *slog.Logger, sample bool) (*server.Server, *store.Store, error) {
	if s.cores < 1 {
		return nil, nil, fmt.Errorf("%d cores are too few for searches: give them 1 at least", s.cores)
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(roomy)
	}
	st, err := store.Open(ctx, s.database, time.Now)
	if err != nil {
		return nil, nil, err
	}
	config := server.Config{
		Store:    st,
		Clock:    time.Now,
		Log:      log,
		Web:      web.Dist(),
		Address:  os.Getenv("IDLETIMBER_URL"),
		Proxies:  s.proxies,
		Searches: s.searches,
		Cores:    nest.NewCores(s.cores),
		Limits:   s.limits,
	}
	if sample {
		config.Demo = demo.Email
	}
	srv, err := server.New(config)
	if err != nil {
		return nil, nil, errors.Join(err, st.Close())
	}
	log.Info(
		"limits",
		"connections",
		cmp.Or(s.database.Connections, store.UsualConnections),
		"pooled",
		s.database.Direct != "",
		"searches",
		s.searches,
		"cores",
		s.cores,
		"body",
		s.limits.Body,
		"errands",
		s.limits.Errands,
		"streams",
		s.limits.Streams,
	)
	return srv, st, nil
}

func (s *settings) serve(ctx context.Context, c *cobra.Command, log *slog.Logger, sample bool) error {
	listener, err := net.Listen("tcp", s.addr)
	if err != nil {
		return fmt.Errorf("serve on %s: %w; choose another with --addr", s.addr, err)
	}
	defer listener.Close()
	var broken <-chan error // the private database, for good
	if s.database.URL == "" {
		pg, err := pgserver.Start(ctx, s.data)
		if err != nil {
			return err
		}
		defer pg.Stop()
		s.database.URL, broken = pg.URL, pg.Failed
		log.Info("database", "folder", pg.Dir)
	}
	srv, st, err := s.open(ctx, log, sample)
	if err != nil {
		return err
	}
	defer st.Close()
	defer srv.Close()
	if _, err := fs.Stat(web.Dist(), "index.html"); err != nil {
		log.Warn("the interface is not built into this binary; use make build")
	}
	if sample {
		if err := demo.Load(ctx, srv, time.Now()); err != nil {
			return fmt.Errorf("load the sample shop: %w", err)
		}
	}
	if err := s.show(ctx, log, srv); err != nil {
		return err
	}
	site := &http.Server{Handler: srv, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute,
		ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelWarn)}
	site.RegisterOnShutdown(srv.Close)
	failed := make(chan error, 1)
	go func() { failed <- site.Serve(listener) }()
	fmt.Fprintf(c.OutOrStdout(), "Idle Timber is at http://%s/ (Ctrl-C stops it)\n", listener.Addr())
	select {
	case err := <-failed:
		if !errors.Is(err, http.ErrServerClosed) {
			return err
		}
	case err := <-broken:
		return err
	case <-ctx.Done():
	}
	srv.Drain()
	grace, cancel := context.WithTimeout(context.WithoutCancel(ctx), 20*time.Second)
	defer cancel()
	return site.Shutdown(grace) // requests in work are finished; then the database stops
}

// show answers, apart from all else, how the process is, and with profiles of it, where that is wanted.
func (s *settings) show(ctx context.Context, log *slog.Logger, srv *server.Server) error {
	for _, side := range []struct {
		name, addr string
		handler    http.Handler
		inside     bool // only for this machine
	}{{"metrics", s.seen, srv.Metrics(), false}, {"profiles", s.profiles, server.Profiles(), true}} {
		if side.addr == "" {
			continue
		}
		listener, err := net.Listen("tcp", side.addr)
		if err != nil {
			return fmt.Errorf("show %s on %s: %w", side.name, side.addr, err)
		}
		if at, ok := listener.Addr().(*net.TCPAddr); side.inside && (!ok || !at.IP.IsLoopback()) {
			listener.Close()
			return fmt.Errorf("profiles tell what is in memory: %s is not on loopback; use 127.0.0.1", side.addr)
		}
		log.Info(side.name, "address", listener.Addr().String())
		web := &http.Server{Handler: side.handler, ReadHeaderTimeout: 10 * time.Second}
		go web.Serve(listener)
		context.AfterFunc(ctx, func() { listener.Close() })
	}
	return nil
}
