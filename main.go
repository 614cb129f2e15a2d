// Command idletimber serves Idle Timber, a workshop for makers of serving
// boards, and reckons job files on its own.
package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"
	"time"
	_ "time/tzdata" // the binary needs no files beside it

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/spf13/cobra"

	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/demo"
	"idletimber/formats"
	"idletimber/instruments"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
	"idletimber/web"
)

func main() {
	if err := command().Execute(); err != nil {
		os.Exit(1)
	}
}

func command() *cobra.Command {
	root := &cobra.Command{Use: "idletimber", Short: "Idle Timber, from a piece of the rack to a wrapped gift",
		SilenceUsage: true}
	root.AddCommand(instrument(), serve("serve", "Serve the application", false),
		serve("demo", "Serve it with the sample shop", true))
	root.AddCommand(&cobra.Command{
		Use: "reckon FILE.json", Short: "Print the reckoning of a job file as JSON", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			j, err := formats.ReadJob(data)
			if err != nil {
				return err
			}
			r, err := reckon.Reckon(j, reckon.Request{Weigh: j.First()})
			if err != nil {
				return err
			}
			return print(c, r)
		},
	}, &cobra.Command{
		Use: "schema", Short: "Print the JSON Schema of a job file", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return print(c, formats.JobSchema()) },
	}, &cobra.Command{
		Use: "openapi", Short: "Print the OpenAPI document of the HTTP interface", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			data, err := server.Describe()
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(append(data, '\n'))
			return err
		},
	})
	return root
}

func print(c *cobra.Command, v any) error {
	return json.MarshalWrite(c.OutOrStdout(), v, json.Deterministic(true), jsontext.WithIndent("  "))
}

// instrument stands in for a device: it pushes readings to a server until it is
// stopped.
func instrument() *cobra.Command {
	var url, key, kind string
	var truth float64
	var every time.Duration
	var count int
	c := &cobra.Command{Use: "instrument", Short: "Push simulated readings to a server with a device key",
		Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
			ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			var device instruments.Instrument = instruments.Room{Air: shop.Usual().Air}
			if kind == instruments.MoistureMeter {
				device = instruments.Meter{Truth: truth, Lowest: 5}
			}
			pusher := instruments.Pusher{Client: &http.Client{Timeout: 10 * time.Second}, URL: url, Key: key}
			tick := time.NewTicker(every)
			defer tick.Stop()
			for n := 1; ; n++ {
				if err := pusher.Push(ctx, device.Read(time.Now())); err != nil || n == count {
					return err
				}
				select {
				case <-ctx.Done():
					return nil
				case <-tick.C:
				}
			}
		}}
	c.Flags().StringVar(&url, "url", "http://127.0.0.1:7350", "address of the server")
	c.Flags().StringVar(&key, "key", "", "key of the device, as Shop shows it once")
	c.Flags().StringVar(&kind, "kind", instruments.RoomSensor, "room sensor or moisture meter")
	c.Flags().Float64Var(&truth, "percent", 10, "moisture of the wood that a meter is pressed into")
	c.Flags().DurationVar(&every, "every", 10*time.Second, "time between readings")
	c.Flags().IntVar(&count, "count", 0, "how many readings; 0 for no end")
	return c
}

// fromEnvironment is the value of an environment variable, or the usual one.
func fromEnvironment(name, usual string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return usual
}

func serve(use, short string, sample bool) *cobra.Command {
	var addr, data, database string
	var proxies []string
	c := &cobra.Command{Use: use, Short: short, Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
		defer stop()
		if err := run(ctx, c, addr, data, database, proxies, sample); err != nil && ctx.Err() == nil {
			return err
		}
		return nil // stopped, be it while it began
	}}
	c.Flags().StringVar(&addr, "addr", fromEnvironment("IDLETIMBER_ADDR", "127.0.0.1:7350"),
		"address to serve on (IDLETIMBER_ADDR)")
	c.Flags().StringVar(&data, "data", fromEnvironment("IDLETIMBER_DATA", "data"),
		"folder for the private database (IDLETIMBER_DATA)")
	c.Flags().StringVar(&database, "database", os.Getenv("IDLETIMBER_DATABASE"),
		"URL of an existing PostgreSQL (IDLETIMBER_DATABASE)")
	c.Flags().StringSliceVar(&proxies, "proxy", nil,
		"addresses, such as 10.0.0.7/32, of proxies that the world reaches this server through, by HTTPS")
	return c
}

// roomy is by how much the heap may grow before it is cleared, in percent of what lives on it:
// little lives between requests, and a drag asks for a reckoning every few milliseconds.
const roomy = 400

func run(ctx context.Context, c *cobra.Command, addr, data, database string, proxies []string, sample bool) error {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(roomy)
	}
	log := slog.New(slog.NewJSONHandler(c.ErrOrStderr(), nil))
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("serve on %s: %w; choose another with --addr", addr, err)
	}
	defer listener.Close()
	var broken <-chan error // the private database, for good
	if database == "" {
		pg, err := pgserver.Start(ctx, data)
		if err != nil {
			return err
		}
		defer pg.Stop()
		database, broken = pg.URL, pg.Failed
		log.Info("database", "folder", pg.Dir)
	}
	st, err := store.Open(ctx, database, time.Now)
	if err != nil {
		return err
	}
	defer st.Close()
	config := server.Config{Store: st, Clock: time.Now, Log: log, Web: web.Dist(), Address: os.Getenv("IDLETIMBER_URL"),
		Proxies: proxies}
	if sample {
		config.Demo = demo.Email
	}
	if _, err := fs.Stat(config.Web, "index.html"); err != nil {
		log.Warn("the interface is not built into this binary; use make build")
	}
	s, err := server.New(config)
	if err != nil {
		return err
	}
	defer s.Close()
	if sample {
		if err := demo.Load(ctx, s, time.Now()); err != nil {
			return fmt.Errorf("load the sample shop: %w", err)
		}
	}
	web := &http.Server{Handler: s, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute,
		ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelWarn)}
	web.RegisterOnShutdown(s.Close)
	failed := make(chan error, 1)
	go func() { failed <- web.Serve(listener) }()
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
	grace, cancel := context.WithTimeout(context.WithoutCancel(ctx), 20*time.Second)
	defer cancel()
	return web.Shutdown(grace) // requests in work are finished; then the database stops
}
