// Command load puts makers to work on running processes and measures how they are answered, and how answers grow with
// what a database holds. It makes workshops of its own: run it on a database that may be thrown away, served by
// processes that were started with demo and with --proxy 127.0.0.1/32, so that each maker has an address.
//
//	load run --makers 1000 --for 1m http://127.0.0.1:7351 http://127.0.0.1:7352
//	load grow --database URL --plot docs/growth.svg http://127.0.0.1:7351
package main

import (
	"context"
	"fmt"
	"os"
	"time"

	"github.com/spf13/cobra"
)

func main() {
	root := &cobra.Command{Use: "load", Short: "Makers at work, measured", SilenceUsage: true}
	root.AddCommand(runCommand(), growCommand())
	if err := root.Execute(); err != nil {
		os.Exit(1)
	}
}

func runCommand() *cobra.Command {
	var c crowd
	run := &cobra.Command{Use: "run URL...", Short: "Let makers work and tell how they were answered",
		Args: cobra.MinimumNArgs(1), RunE: func(cmd *cobra.Command, urls []string) error {
			c.urls = urls
			t, err := c.work(cmd.Context())
			if err != nil {
				return err
			}
			fmt.Fprint(cmd.OutOrStdout(), t)
			return nil
		}}
	run.SetContext(context.Background())
	run.Flags().IntVar(&c.makers, "makers", 1000, "makers at once")
	run.Flags().
		DurationVar(&c.think, "think", time.Second, "time that a maker thinks between two requests, on average")
	run.Flags().DurationVar(&c.lasts, "for", time.Minute, "how long")
	run.Flags().BoolVar(&c.streams, "streams", true, "each maker's page also follows the news")
	return run
}
