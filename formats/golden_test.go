package formats

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
)

var update = flag.Bool("update", false, "write what is reckoned now")

// A handful of jobs, written by an earlier version, come to what they came to:
// paddle, plank, free-hand, heart, teardrop and square; both units; flaws, fittings
// and a log; a tray on a chevron of strips. Where a figure is meant to change, run with -update and look at the
// difference.
func TestGolden(t *testing.T) {
	jobs, err := filepath.Glob("testdata/golden/*.job.json")
	require.NoError(t, err)
	require.Len(t, jobs, 6)
	for _, file := range jobs {
		t.Run(filepath.Base(file), func(t *testing.T) {
			data, err := os.ReadFile(file)
			require.NoError(t, err)
			j, err := ReadJob(data)
			require.NoError(t, err)
			got := summary(t, j)
			golden := strings.Replace(file, ".job.json", ".txt", 1)
			if *update {
				require.NoError(t, os.WriteFile(golden, []byte(got), 0o644))
			}
			want, err := os.ReadFile(golden)
			require.NoError(t, err)
			assert.Equal(t, string(want), got)
		})
	}
}

// summary is a line for each figure, verdict and step of a job, and for each verdict
// of its lay-out.
func summary(t *testing.T, j reckon.Scene) string {
	t.Helper()
	var b strings.Builder
	r, err := reckon.Reckon(j, reckon.Request{Weigh: j.First()})
	require.NoError(t, err)
	for _, f := range r.Slab.Figures {
		fmt.Fprintf(&b, "wood %s %.6g %s\n", f.Key, f.Value, f.Unit)
	}
	for _, o := range r.Boards {
		fmt.Fprintln(&b, "board", o.ID, o.Level)
		for _, f := range o.Figures {
			fmt.Fprintf(&b, "  %s %.6g %s\n", f.Key, f.Value, f.Unit)
		}
		for _, v := range o.Verdicts {
			fmt.Fprintf(
				&b,
				"  %s %s: %s, %.6g of %.6g, %d ways out\n",
				v.Check,
				v.Subject,
				v.Level,
				v.Figure.Value,
				v.Limit,
				len(v.Remedies),
			)
		}
		for _, s := range o.Course.Steps {
			fmt.Fprintf(&b, "  %s %.4g min, wait %.4g", s.Key, s.Minutes, s.Wait)
			if s.Starts != nil {
				fmt.Fprint(&b, ", ", s.Starts.Format("2006-01-02 15:04"))
			}
			fmt.Fprintln(&b)
		}
		for _, u := range o.Uses {
			fmt.Fprintf(&b, "  takes %.4g %s %s\n", u.Amount, u.Unit, u.Item)
		}
	}
	l, err := reckon.LayOut(j, reckon.LayOutRequest{Leftovers: true})
	require.NoError(t, err)
	for _, o := range l.Boards {
		for _, v := range o.Verdicts {
			fmt.Fprintf(&b, "lay-out %s %s %s: %s %.6g\n", o.ID, v.Check, v.Subject, v.Level, v.Figure.Value)
		}
	}
	return b.String()
}
