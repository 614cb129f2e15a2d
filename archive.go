package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/spf13/cobra"

	"idletimber/archive"
	"idletimber/formats"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
)

// withStore runs something on the database that is named, on the private one that runs, or on the private one, which is
// started for it.
func (s *settings) withStore(c *cobra.Command, do func(context.Context, *store.Store) error) error {
	return s.until(c, func(ctx context.Context, _ *slog.Logger) error {
		if s.database.URL == "" {
			s.database.URL = pgserver.Running(s.data)
		}
		if s.database.URL == "" {
			pg, err := pgserver.Start(ctx, s.data)
			if err != nil {
				return err
			}
			defer pg.Stop()
			s.database.URL = pg.URL
		}
		st, err := store.Open(ctx, s.database, time.Now)
		if err != nil {
			return err
		}
		defer st.Close()
		return do(ctx, st)
	})
}

// export writes workshops into an archive.
func export() *cobra.Command {
	var s settings
	var email string
	c := &cobra.Command{
		Use:   "export FILE.zip",
		Short: "Write a workshop, or all, into one archive",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			return s.withStore(c, func(ctx context.Context, st *store.Store) error {
				m, err := exportTo(ctx, st, args[0], email)
				if err == nil {
					fmt.Fprintf(
						c.OutOrStdout(),
						"%d workshops, %d files in %s\n",
						len(m.Workshops),
						len(m.Files),
						args[0],
					)
				}
				return err
			})
		},
	}
	s.flags(c)
	c.Flags().StringVar(&email, "workshop", "", "address of its maker; empty for all workshops")
	return c
}

// exportTo writes an archive beside its place and moves it there when it is whole. It is for its owner's eyes.
func exportTo(ctx context.Context, st *store.Store, name, email string) (m archive.Manifest, err error) {
	which, err := st.Workshops(ctx)
	if err != nil {
		return m, err
	}
	if email != "" {
		which = slices.DeleteFunc(which, func(o store.Owned) bool { return !strings.EqualFold(o.Email, email) })
	}
	if len(which) == 0 {
		return m, fmt.Errorf("there is no workshop of %s; name the address by which its maker signs in",
			cmp.Or(email, "anybody"))
	}
	srv, err := server.New(server.Config{Store: st, Clock: time.Now, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		return m, err
	}
	defer srv.Close()
	job, err := json.Marshal(formats.JobSchema(), json.Deterministic(true))
	if err != nil {
		return m, err
	}
	api, err := srv.OpenAPI()
	if err != nil {
		return m, err
	}
	to, err := os.CreateTemp(filepath.Dir(name), filepath.Base(name)+".writing-") // readable by its owner alone
	if err != nil {
		return m, err
	}
	defer os.Remove(to.Name()) // it has moved, or is of no use
	m, err = archive.Source{Store: st, Made: time.Now(), Lists: srv.Lists,
		Schemas: map[string][]byte{"job.json": job, "api.json": api}}.Write(ctx, to, which)
	if err := errors.Join(err, to.Sync(), to.Close()); err != nil {
		return m, err
	}
	return m, os.Rename(to.Name(), name)
}

// importing takes the workshops of an archive in.
func importing() *cobra.Command {
	var s settings
	var most int64
	c := &cobra.Command{
		Use:   "import FILE.zip",
		Short: "Take in the workshops of an archive",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			from, err := os.Open(args[0])
			if err != nil {
				return err
			}
			defer from.Close()
			info, err := from.Stat()
			if err != nil {
				return err
			}
			a, err := archive.Read(from, info.Size(), most)
			if err != nil {
				return fmt.Errorf("%s is not taken in: %w", args[0], err)
			}
			return s.withStore(c, func(ctx context.Context, st *store.Store) error {
				if err := a.BringTo(ctx, st); err != nil {
					return fmt.Errorf("%s is not taken in: %w", args[0], err)
				}
				for _, w := range a.Manifest.Workshops {
					fmt.Fprintf(c.OutOrStdout(), "the workshop of %s is taken in\n", w.Email)
				}
				return nil
			})
		},
	}
	s.flags(c)
	c.Flags().Int64Var(&most, "most", archive.MostBytes, "bytes that the archive may unpack to")
	return c
}
