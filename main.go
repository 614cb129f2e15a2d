// Command idletimber serves Idle Timber, a workshop for makers of serving
// boards, and reckons job files on its own.
package main

import (
	"context"
	"net/http"
	"os"
	"os/signal"
	"syscall"
	"time"
	_ "time/tzdata" // the binary needs no files beside it

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/spf13/cobra"

	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/formats"
	"idletimber/instruments"
	"idletimber/server"
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
		serve("demo", "Serve it with the sample shop", true), work(), export(), importing())
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
