package main

import (
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"text/tabwriter"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/spf13/cobra"

	"idletimber/store"
)

// grown is something of which a database comes to hold more and more, and how that many more are made of what is there,
// for the workshop $1, numbered from $2 to $3.
type grown struct {
	what  string
	fill  []string
	count string
}

// growing are what grows: other makers, and the rack, the boards that were given and the log of one maker.
var growing = []grown{
	{"makers", []string{
		`INSERT INTO accounts (email, password) SELECT 'grown' || n || '@example.org', ''
			FROM generate_series($2::int, $3) n WHERE $1::uuid IS NOT NULL`,
		`INSERT INTO workshops (account_id, doc) SELECT a.id, w.doc FROM accounts a, workshops w
			WHERE w.id = $1 AND a.email LIKE 'grown%'
			AND substr(a.email, 6, strpos(a.email, '@') - 6)::int BETWEEN $2 AND $3`,
	}, `SELECT count(*) FROM workshops WHERE $1::uuid IS NOT NULL`},
	{"pieces", []string{
		`INSERT INTO pieces (workshop_id, name, species, doc, created_at, length, thickness, cents, moisture, ready,
			panel) SELECT $1, 'Grown ' || n, species, doc || jsonb_build_object('name', 'Grown ' || n),
			now() - n * interval '1 hour', length, thickness, cents, moisture, ready, panel
			FROM (SELECT * FROM pieces WHERE workshop_id = $1 ORDER BY created_at, id LIMIT 1) p,
			generate_series($2::int, $3) n`,
	}, `SELECT count(*) FROM pieces WHERE workshop_id = $1`},
	{"boards", []string{ // each on a piece of its own, as they pile up over the years
		`WITH first AS (SELECT p.*, b.doc AS design FROM boards b JOIN pieces p ON p.id = b.piece_id
				WHERE b.workshop_id = $1 ORDER BY b.created_at, b.id LIMIT 1),
			made AS MATERIALIZED (SELECT gen_random_uuid() AS board, gen_random_uuid() AS piece, n
				FROM generate_series($2::int, $3) n),
			cut AS (INSERT INTO pieces (id, workshop_id, name, species, doc, created_at, length, thickness, cents,
				moisture, ready, panel, cut_at) SELECT made.piece, $1, name, species, doc, now(), length, thickness,
				cents, moisture, ready, panel, now() FROM first, made)
			INSERT INTO boards (id, workshop_id, piece_id, name, due, doc, created_at, given_at)
			SELECT board, $1, piece, 'Given ' || n, now(),
			design || jsonb_build_object('id', board, 'name', 'Given ' || n), now() - n * interval '1 day',
			now() - n * interval '1 hour' FROM first, made`,
	}, `SELECT count(*) FROM boards WHERE workshop_id = $1`},
	{"log lines", []string{ // fifty of each of the boards that were made before
		`INSERT INTO log (workshop_id, subject_id, subject_kind, step, event, at, minutes, kind, title, usual)
			SELECT $1, ('00000000-0000-4000-8000-' || lpad((n / 50)::text, 12, '0'))::uuid, 'board',
			'sand-' || n % 50 / 2, CASE n % 2 WHEN 0 THEN 'start' ELSE 'finish' END,
			now() - n * interval '10 minutes', 12, 'sand', 'Sand', 10
			FROM generate_series($2::int, $3) n`,
	}, `SELECT count(*) FROM log WHERE workshop_id = $1`},
}

// measured are what is asked at each size.
var measured = []string{
	"GET bench",
	"GET boards",
	"GET pieces",
	"GET log",
	"GET board",
	"GET plan",
	"POST board/draft",
}

// sizes are how many there come to be.
var sizes = []int{10, 100, 1000, 10_000, 100_000}

// line is how one question was answered at each size of what grows.
type line struct {
	grown, what string
	p95         []time.Duration // of each size
}

func growCommand() *cobra.Command {
	var database, plot string
	var times, most int
	grow := &cobra.Command{Use: "grow URL", Short: "Fill a database and tell how answers grow with it",
		Args: cobra.ExactArgs(1), RunE: func(cmd *cobra.Command, urls []string) error {
			for len(sizes) > 0 && sizes[len(sizes)-1] > most {
				sizes = sizes[:len(sizes)-1]
			}
			lines, err := grownLines(cmd.Context(), urls[0], database, times)
			if err != nil {
				return err
			}
			table(cmd.OutOrStdout(), lines)
			if plot == "" {
				return nil
			}
			if err := os.MkdirAll(filepath.Dir(plot), 0o755); err != nil {
				return err
			}
			return os.WriteFile(plot, []byte(plotted(lines)), 0o644)
		}}
	grow.SetContext(context.Background())
	grow.Flags().StringVar(&database, "database", "", "URL of the database, which is filled")
	grow.Flags().StringVar(&plot, "plot", "", "SVG file to draw the table into")
	grow.Flags().IntVar(&times, "times", 40, "how often each question is asked at each size")
	grow.Flags().IntVar(&most, "most", 100_000, "the largest size")
	return grow
}

// grownLines fills the database and asks.
func grownLines(ctx context.Context, url, database string, times int) (out []line, err error) {
	st, err := store.Open(ctx, store.Config{URL: database}, time.Now)
	if err != nil {
		return nil, err
	}
	defer st.Close()
	c := client(1)
	job, err := sampleJob(ctx, url, c)
	if err != nil {
		return nil, err
	}
	for i, g := range growing {
		m := &maker{url: url, address: fmt.Sprintf("10.255.1.%d", i), http: c, random: rand.New(rand.NewPCG(1, 1))}
		email := fmt.Sprintf("grows%d-%d@example.org", i, time.Now().UnixNano())
		if err := m.arrive(ctx, email, job); err != nil {
			return nil, err
		}
		a, err := st.AccountByEmail(ctx, email)
		if err != nil {
			return nil, err
		}
		lines := make([]line, len(measured))
		for k, what := range measured {
			lines[k] = line{grown: g.what, what: what}
		}
		for _, size := range sizes {
			if err := g.to(ctx, st.DB, a.Workshop, size); err != nil {
				return nil, fmt.Errorf("%d %s: %w", size, g.what, err)
			}
			t := newTally()
			for range times {
				for _, act := range acts {
					begun := time.Now()
					for k := range measured {
						if act.name == measured[k] {
							r, err := act.do(ctx, m)
							t.note(act.name, time.Since(begun), r, err)
						}
					}
				}
			}
			for k, what := range measured {
				if t.wrong[what] > 0 {
					return nil, fmt.Errorf("%d %s, %s: %s", size, g.what, what, t.why[what])
				}
				lines[k].p95 = append(lines[k].p95, at(t.took[what], 95))
			}
		}
		out = append(out, lines...)
	}
	return out, nil
}

// to fills a workshop, or the database, until there are so many.
func (g grown) to(ctx context.Context, db *sqlx.DB, workshop string, size int) error {
	var there int
	if err := db.GetContext(ctx, &there, g.count, workshop); err != nil {
		return err
	}
	if there < size {
		for _, fill := range g.fill {
			if _, err := db.ExecContext(ctx, fill, workshop, there+1, size); err != nil {
				return err
			}
		}
	}
	_, err := db.ExecContext(ctx, `ANALYZE`) // as autovacuum does in time
	return err
}

// table writes the lines as a table in Markdown.
func table(to io.Writer, lines []line) {
	w := tabwriter.NewWriter(to, 0, 0, 1, ' ', 0)
	fmt.Fprint(w, "| what grows\t| question, p95 in ms\t")
	for _, s := range sizes {
		fmt.Fprintf(w, "| %d\t", s)
	}
	fmt.Fprint(w, "|\n|---\t|---\t")
	for range sizes {
		fmt.Fprint(w, "|---\t")
	}
	fmt.Fprintln(w, "|")
	for _, l := range lines {
		fmt.Fprintf(w, "| %s\t| %s\t", l.grown, l.what)
		for _, d := range l.p95 {
			fmt.Fprintf(w, "| %.1f\t", float64(d.Microseconds())/1000)
		}
		fmt.Fprintln(w, "|")
	}
	w.Flush()
}
