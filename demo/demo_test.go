package demo

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/reckon"
)

// The sample reckons on any day of the year, and shows what the work is like:
// boards that are well, one with something to mind, one that is too late.
func TestSampleReckonsOnAnyDay(t *testing.T) {
	for day := range 12 {
		now := time.Date(2031, time.Month(1+day), 3+2*day, 10, 0, 0, 0, time.UTC)
		late := 0
		for _, p := range slices.Concat(Pieces(now), Panels(now), Finishes(now), ForRuns(now)[:1]) {
			r, err := reckon.Reckon(Job(p, now), reckon.Request{})
			require.NoError(t, err, p.Slab.Name)
			for _, b := range r.Boards {
				for _, v := range b.Verdicts {
					if v.Level == craft.Stop {
						assert.Fail(t, "a stop in the sample", "%s: %s", p.Slab.Name, v.Finding)
					}
				}
				if b.Course.Late {
					late++
				}
			}
		}
		assert.Equal(t, 1, late, now)
	}
}
